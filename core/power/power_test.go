package power

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"amberkeystone/core/site"
)

// Ohms for 1,000 ft of copper wire as printed in wire tables (from memory); tables round to four digits.
func TestWireTables(t *testing.T) {
	for gauge, printed := range map[int]float64{18: 6.385, 20: 10.15, 22: 16.14, 24: 25.67} {
		assert.InEpsilon(t, printed, OhmsPerMetre(gauge)*304.8, 0.0005, "%d AWG", gauge)
	}
}

// 0.5 A over 60 m one way in 18 AWG drops 1.257 V.
func TestDrop(t *testing.T) {
	c := &site.Config{Doors: []site.Door{
		{ID: 2, Name: "Vault", SupplyID: 1, Cable: site.Cable{Metres: 60, Gauge: 18}, Hardware: site.Hardware{Milliamps: 500, Volts: 12, FailSafe: true}},
		{ID: 3, Name: "Yard", SupplyID: 1, Hardware: site.Hardware{Milliamps: 300}},
		{ID: 4, Name: "Elsewhere", SupplyID: 9},
	}}
	s := &site.Supply{ID: 1, Name: "North", Volts: 12, Milliamps: 1000, Battery: 70}
	r := Check(c, s)
	assert.InDelta(t, 1.257, r.Locks[0].Drop, 0.0005)
	assert.False(t, r.Locks[0].Enough, "10.74 V is less than 12 V − 10 % = 10.8 V")
	assert.False(t, r.Enough)
	assert.Equal(t, "the length of the cable is not entered", r.Locks[1].Words)
	assert.Len(t, r.Locks, 2)
	assert.Equal(t, 800, r.Peak)
	assert.Equal(t, 500, r.Rest)
	assert.InDelta(t, 0.8*7/0.5, r.Hours, 1e-9)
	c.Doors[0].Tolerance = 15
	assert.True(t, Check(c, s).Enough)
	s.Milliamps = 700
	r = Check(c, s)
	assert.False(t, r.Enough)
	assert.Contains(t, r.Words, "100 mA too little")
}

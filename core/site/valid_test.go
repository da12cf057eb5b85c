package site

import (
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
)

func fields(fs Faults) string {
	var out []string
	for _, f := range fs {
		out = append(out, f.Field)
	}
	return strings.Join(out, " ")
}

func TestDoorCheck(t *testing.T) {
	good := Door{Name: "Gate", FloorID: 1, ControllerID: 2, PlanID: 3, Port: 1, Hardware: UsualHardware()}
	assert.Empty(t, good.Check())
	for _, c := range []struct {
		change func(*Door)
		want   string
	}{
		{func(d *Door) { d.Name = " " }, "name name"},
		{func(d *Door) { d.Name = "a\nb" }, "name"},
		{func(d *Door) { d.FloorID, d.ControllerID, d.PlanID, d.Port = 0, 0, 0, 0 }, "floorId controllerId planId port"},
		{func(d *Door) { d.In.Fitted = false }, "in.fitted"},
		{func(d *Door) { d.Lock = Magnetic }, "failSafe"},
		{func(d *Door) { d.Lock, d.FailSafe = Magnetic, true }, ""},
		{func(d *Door) { d.Lock = "glue" }, "lock"},
		{func(d *Door) { d.Contact = NotFitted }, "relock"},
		{func(d *Door) { d.Contact, d.Relock = NotFitted, AtEnd }, ""},
		{func(d *Door) { d.Extended = 4 }, "extended"},
		{func(d *Door) { d.PreAlarm = 60 }, "preAlarm"},
		{func(d *Door) { d.Unlock, d.HeldOpen, d.Forced = 0, 4, 31 }, "unlock heldOpen preAlarm forced"},
	} {
		d := good
		c.change(&d)
		assert.Equal(t, c.want, fields(d.Check()))
	}
}

func TestPersonCheck(t *testing.T) {
	good := Person{Name: "Ada", Credentials: []Credential{NewCard("26-bit", 1, 2)}, Levels: []Grant{{LevelID: 4}}}
	assert.Empty(t, good.Check())
	for _, c := range []struct {
		change func(*Person)
		want   string
	}{
		{func(p *Person) { p.From = "tomorrow" }, "from"},
		{func(p *Person) { p.From, p.Until = "2026-12-02", "2026-12-01" }, "until"},
		{func(p *Person) { p.From, p.Until = "2026-12-01", "2026-12-01" }, ""},
		{func(p *Person) { p.Until = "2026-02-30" }, "until"},
		{func(p *Person) { p.Credentials = []Credential{{Kind: Card, Value: "1", Status: Active}} }, "credentials[0].format"},
		{func(p *Person) {
			p.Credentials = []Credential{{Kind: Card, Format: "26-bit", Value: "0-70000", Status: "gone"}}
		}, "credentials[0].status credentials[0].value"},
		{func(p *Person) { p.Credentials[0].Value = "12345" }, "credentials[0].value"},
		{func(p *Person) { p.Credentials = []Credential{{Kind: "key", Value: "x", Status: Active}} }, "credentials[0].kind"},
		{func(p *Person) { p.Credentials = []Credential{{Kind: Plate, Value: " - ", Status: Active}} }, "credentials[0].value"},
		{func(p *Person) {
			p.Credentials = []Credential{{Kind: Phone, Format: "raw", Value: "x", Status: Active}}
		}, "credentials[0].format"},
		{func(p *Person) { p.Levels = []Grant{{LevelID: 4}, {LevelID: 4}} }, "levels[1].levelId"},
		{func(p *Person) { p.Levels = []Grant{{}} }, "levels[0].levelId"},
	} {
		p := good
		p.Credentials = slices.Clone(good.Credentials)
		c.change(&p)
		assert.Equal(t, c.want, fields(p.Check()))
	}
}

func TestSettingsAndTheRest(t *testing.T) {
	assert.Empty(t, DefaultSettings().Check())
	s := DefaultSettings()
	s.Cards = []CardFormat{{Format: "26-bit", Facilities: []uint64{300}}, {Format: "26-bit"}, {Format: "99-bit"}}
	s.PINLength, s.PINTries = 3, 1
	assert.Equal(t, "cards[0].facilities cards[1].format cards[2].format pinLength pinTries", fields(s.Check()))
	assert.Equal(t, "zone", fields(Site{Name: "Pier"}.Check()))
	assert.Equal(t, "siteId level", fields(Floor{Name: "x", Level: 999}.Check()))
	assert.Equal(t, "entries[1]", fields(Level{Name: "x", Entries: []Entry{At(1, 2), At(1, 2)}}.Check()))
	schedules, plans := Basics()
	for _, b := range schedules {
		assert.Empty(t, b.Check())
	}
	assert.Empty(t, plans[0].Check())
	assert.Contains(t, s.Check().Error(), "pinLength: 3 is outside 4 to 8")
}

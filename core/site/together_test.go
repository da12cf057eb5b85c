package site

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestTogether(t *testing.T) {
	c := &Config{
		Controllers: []Controller{{ID: 1, Name: "Riser", Model: "Stand-in 4", Ports: 4}},
		Floors:      []Floor{{ID: 2, Name: "Level 0"}},
	}
	for i := range 3 {
		c.Doors = append(c.Doors, Door{
			ID: ID(10 + i), Name: "x", ControllerID: 1, FloorID: 2, Port: i + 1, Hardware: UsualHardware(),
		})
	}
	c.Doors[2].Lock, c.Doors[2].FailSafe, c.Doors[2].Unlock = Magnetic, true, 9
	held, off := 90, true
	list, err := (&Together{HeldOpen: &held, OutOfUse: &off, Names: "{c} door {p} on {f}, {n}"}).Apply(c, []ID{11, 10})
	require.NoError(t, err)
	assert.Equal(t, "Riser door 2 on Level 0, 1", list[0].Name)
	assert.Equal(t, "Riser door 1 on Level 0, 2", list[1].Name)
	assert.Equal(t, 60, c.Doors[0].HeldOpen, "the configuration itself stays")
	words := Differences(&c.Doors[0], &list[1], func(ID) string { return "?" })
	assert.Equal(t, []string{"Held open after 60 s → 90 s", "Name x → Riser door 1 on Level 0, 2", "Out of use no → yes"},
		words)

	formats := []string{"raw"}
	list, err = (&Together{Like: 12, Formats: &formats}).Apply(c, []ID{10})
	require.NoError(t, err)
	assert.Equal(t, Magnetic, list[0].Lock)
	assert.Equal(t, 9, list[0].Unlock)
	assert.Equal(t, "x", list[0].Name)
	assert.Equal(t, []string{"raw"}, list[0].In.Formats)
	assert.Contains(t, Differences(&c.Doors[0], &list[0], func(ID) string { return "?" }), "Lock strike → magnetic")

	magnet := Magnetic
	list, err = (&Together{Lock: &magnet}).Apply(c, []ID{10})
	require.NoError(t, err)
	assert.True(t, list[0].FailSafe, "a magnet lets go without power")
	_, err = (&Together{}).Apply(c, []ID{99})
	assert.ErrorContains(t, err, "does not exist")
	_, err = (&Together{Like: 99}).Apply(c, []ID{10})
	assert.ErrorContains(t, err, "no longer there")
}

// What is moved, taken off and put on is where it was said to be, and nowhere twice.
func TestRewire(t *testing.T) {
	c := &Config{
		Controllers: []Controller{{ID: 1, Name: "Riser", Model: "Stand-in 4", Ports: 4}},
		Doors: []Door{
			{ID: 10, Name: "Yard", ControllerID: 1, Port: 1, Hardware: UsualHardware()},
			{ID: 11, Name: "Shop", ControllerID: 1, Port: 2, Hardware: UsualHardware()},
		},
		Inputs: []Input{{ID: 20, Name: "Fire panel", ControllerID: 1, At: PortPoints(4).Exit, Use: InputFire}},
	}
	free := PortPoints(3)
	o, words, err := c.Put(Wish{"door", 10, "contact"}, free.Contact)
	require.NoError(t, err)
	assert.Equal(t, free.Contact, o.(*Door).Fitted().Contact)
	assert.Equal(t, "Move the wires of the contact of Yard from i1 to i5.", words)
	back := Config{Controllers: c.Controllers, Doors: []Door{*o.(*Door), c.Doors[1]}, Inputs: c.Inputs}
	o, _, err = back.Put(Wish{"door", 10, "contact"}, PortPoints(1).Contact)
	require.NoError(t, err)
	assert.Nil(t, o.(*Door).Points, "back at its port, nothing is said")

	_, _, err = c.Put(Wish{"door", 10, "contact"}, PortPoints(2).Contact)
	assert.ErrorContains(t, err, "is the contact of Shop already")
	_, _, err = c.Put(Wish{"door", 10, "lock"}, free.Contact)
	assert.ErrorContains(t, err, "another kind")
	_, _, err = c.Put(Wish{"input", 20, ""}, PortPoints(9).Exit)
	assert.ErrorContains(t, err, "has no terminal i18")
	o, words, err = c.Put(Wish{"door", 11, "reader out"}, free.Out)
	require.NoError(t, err)
	assert.True(t, o.(*Door).Out.Fitted)
	assert.Equal(t, "Wire the reader out of Shop to r6.", words)

	d, err := c.TakeOff(Wish{"door", 10, "contact"})
	require.NoError(t, err)
	assert.Equal(t, NotFitted, d.Contact)
	assert.Equal(t, AtEnd, d.Relock)
	assert.Empty(t, fields(func() Faults {
		x := *d
		x.Name, x.FloorID, x.PlanID = "Yard", 1, 1
		x.FirstCard = UsualFirstCard()
		return x.Check()
	}()))
	_, err = c.TakeOff(Wish{"door", 10, "lock"})
	assert.ErrorContains(t, err, "always has its lock")
	for _, x := range c.Choices(1, free.Exit) {
		assert.NotEqual(t, "lock", x.Role)
		assert.NotEmpty(t, x.Words)
	}
	assert.Len(t, c.Choices(1, free.Exit), 5, "two contacts, two exit requests, the fire panel")
}

package image

import (
	"math/rand/v2"
	"slices"
	"testing"
	"time"
	_ "time/tzdata"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amberkeystone/core/cards"
	"amberkeystone/core/hours"
	"amberkeystone/core/site"
)

func zone(t testing.TB) hours.Zone {
	loc, err := time.LoadLocation("America/St_Johns")
	require.NoError(t, err)
	return hours.ZoneFrom(loc, hours.At(time.Date(2026, 1, 1, 0, 0, 0, 0, time.UTC)),
		hours.At(time.Date(2030, 1, 1, 0, 0, 0, 0, time.UTC)))
}

func config() *site.Config {
	a, b := cards.HashPIN(nil, "4829"), cards.HashPIN(nil, "4820")
	return &site.Config{
		Settings: site.DefaultSettings(),
		Doors: []site.Door{
			{ID: 1, Name: "Gate", Port: 2, ControllerID: 9, PlanID: 20, Hardware: site.UsualHardware()},
			{ID: 2, Name: "Yard", Port: 1, ControllerID: 9, PlanID: 21, Hardware: site.UsualHardware()},
			{ID: 3, Port: 1, ControllerID: 8, PlanID: 22, Hardware: site.UsualHardware()},
		},
		Plans:     []site.Plan{{ID: 20, Name: "Day"}, {ID: 21, Name: "Night"}, {ID: 22}},
		Schedules: []site.Schedule{{ID: 30, Name: "Hours", Week: hours.Always()}, {ID: 31}},
		Levels: []site.Level{
			{ID: 40, Name: "Crew", Entries: []site.Entry{site.At(2, 30), site.At(1, 30)}},
			{ID: 41, Entries: []site.Entry{site.At(3, 31)}},
		},
		People: []*site.Person{
			{ID: 50, Name: "Ada", Credentials: []site.Credential{site.NewCard("26-bit", 1, 2)}, Levels: []site.Grant{{LevelID: 41}, {LevelID: 40}}},
			{ID: 51, Name: "Ben", PIN: &a, Duress: &b}, {ID: 52, Name: "nothing to present"},
		},
	}
}

func build(t testing.TB, c *site.Config) *Image {
	return Build(c, 9, zone(t), Secrets{PINKey: []byte("k")})
}

func TestOnlyWhatItNeeds(t *testing.T) {
	im := build(t, config())
	assert.Equal(t, []int{1, 2}, []int{im.Doors[0].Port, im.Doors[1].Port})
	assert.Len(t, im.Plans, 2)
	assert.Len(t, im.Schedules, 1)
	assert.Len(t, im.Levels, 1)
	require.Len(t, im.People, 1, "only who has something to do here: Ben has no level, and the third nothing to present")
	assert.Equal(t, []site.Grant{{LevelID: 40}}, im.People[0].Levels)
	for _, d := range im.Doors {
		assert.Empty(t, d.Name)
	}
}

func TestCanonical(t *testing.T) {
	want := build(t, config()).Bytes()
	for seed := range uint64(20) {
		c := config()
		r := rand.New(rand.NewPCG(seed, 1))
		r.Shuffle(len(c.Doors), func(i, j int) { c.Doors[i], c.Doors[j] = c.Doors[j], c.Doors[i] })
		slices.Reverse(c.Levels[0].Entries)
		slices.Reverse(c.People[0].Levels)
		c.People[0].Name, c.Doors[0].Name, c.Settings.Name = "another", "name", "changes nothing"
		require.Equal(t, string(want), string(build(t, c).Bytes()))
	}
	im, err := Parse(want)
	require.NoError(t, err)
	assert.Equal(t, string(want), string(im.Bytes()))
	assert.Empty(t, Diff(im, build(t, config()), nil))
	// SHA-256 of "abc", FIPS 180-4 appendix (from memory).
	assert.Equal(t, "ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad", Hash([]byte("abc")))
}

func TestDiffInWords(t *testing.T) {
	names := Names{1: "Gate", 2: "Yard", 20: "Day", 21: "Night", 30: "Hours", 40: "Crew", 50: "Ada", 51: "Ben"}
	for _, c := range []struct {
		change func(*site.Config)
		want   []string
	}{
		{func(c *site.Config) { c.Doors[0].Unlock = 8 }, []string{"Gate: unlock time 8 s, was 5 s"}},
		{func(c *site.Config) { c.Doors[0].PlanID = 21 }, []string{"Gate: follows Night", "Day is no longer needed here"}},
		{func(c *site.Config) { c.People[0].Credentials[0].Status = site.Lost }, []string{"Ada: card 1-00002 is lost"}},
		{func(c *site.Config) { c.People[0].Levels = nil }, []string{"Ada is no longer needed here"}},
		{func(c *site.Config) { c.People = c.People[1:] }, []string{"Ada is no longer needed here"}},
		{func(c *site.Config) { c.Levels[0].Entries = c.Levels[0].Entries[:1] }, []string{"Crew: no longer opens Gate during Hours"}},
		{func(c *site.Config) { c.Settings.PINTries = 3 }, []string{"card formats, facility codes or PIN rules have changed"}},
		{func(c *site.Config) { c.People[0].Name = "Ada Reed" }, nil},
	} {
		changed := config()
		c.change(changed)
		var got []string
		for _, d := range Diff(build(t, config()), build(t, changed), names) {
			got = append(got, d.Words)
		}
		assert.Equal(t, c.want, got)
	}
	first := Diff(nil, build(t, config()), names)
	require.Len(t, first, 1)
	assert.Equal(t, "holds nothing yet: 2 doors and 1 person will be sent", first[0].Words)
}

func TestCapacity(t *testing.T) {
	c := config()
	c.People[1].Levels = c.People[0].Levels
	im := build(t, c)
	assert.Empty(t, OverCapacity(im, site.Controller{Ports: 2, People: 2}))
	assert.Contains(t, OverCapacity(im, site.Controller{Ports: 2, People: 1}), "2 people")
	assert.Contains(t, OverCapacity(im, site.Controller{Ports: 1, People: 9}), "port 2")
}

// Whatever is parsed can be compiled: a controller never falls over a damaged image.
func FuzzParse(f *testing.F) {
	f.Add(build(f, config()).Bytes())
	f.Add([]byte(`{"version":1,"levels":[{"id":1,"entries":[{"doorId":5}]}]}`))
	f.Fuzz(func(t *testing.T, b []byte) {
		im, err := Parse(b)
		if err != nil {
			return
		}
		im.Compile()
	})
}

package site

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amberkeystone/core/hours"
)

// What somebody holds is what they are given, what their departments are given, and what levels contain.
func TestEffective(t *testing.T) {
	vault := Target{Kind: AtDoor, ID: 22}
	dated := Dates{From: "2026-11-23", Until: "2026-11-27"}
	c := &Config{
		Levels: []Level{{ID: 30}, {ID: 31, Includes: []ID{30, 32}}, {ID: 32, Includes: []ID{33}}, {ID: 33}},
		Departments: []Department{
			{ID: 40, Levels: []Grant{{LevelID: 30, Dates: dated}}, AlwaysPIN: true},
			{ID: 41, Levels: []Grant{{Target: vault, ScheduleID: 5}}, ExtendedTime: true},
		},
	}
	for name, x := range map[string]struct {
		person Person
		want   []Grant
	}{
		"nothing":                             {Person{}, nil},
		"a level":                             {Person{Levels: []Grant{{LevelID: 30}}}, []Grant{{LevelID: 30}}},
		"a level that contains others":        {Person{Levels: []Grant{{LevelID: 31, Dates: dated}}}, []Grant{{LevelID: 31, Dates: dated}, {LevelID: 30, Dates: dated}, {LevelID: 32, Dates: dated}, {LevelID: 33, Dates: dated}}},
		"a department":                        {Person{DepartmentIDs: []ID{40}}, []Grant{{LevelID: 30, Dates: dated}}},
		"for good, and by a department dated": {Person{DepartmentIDs: []ID{40}, Levels: []Grant{{LevelID: 30}}}, []Grant{{LevelID: 30}}},
		"a place without a level":             {Person{Levels: []Grant{{Target: vault, ScheduleID: 5}}}, []Grant{{LevelID: OwnLevel(vault, 5)}}},
		"the same by a department":            {Person{DepartmentIDs: []ID{41}, Levels: []Grant{{Target: vault, ScheduleID: 5}}}, []Grant{{LevelID: OwnLevel(vault, 5)}}},
		"two times of one level":              {Person{Levels: []Grant{{LevelID: 30, Dates: Dates{Until: "2026-11-27"}}, {LevelID: 30, Dates: Dates{From: "2026-12-07"}}}}, []Grant{{LevelID: 30, Dates: Dates{Until: "2026-11-27"}}, {LevelID: 30, Dates: Dates{From: "2026-12-07"}}}},
	} {
		t.Run(name, func(t *testing.T) {
			x.person.ID = 100
			c := *c
			c.People = []*Person{&x.person}
			got := c.Effective()
			assert.ElementsMatch(t, x.want, got.People[0].Levels)
			assert.Equal(t, x.person.In(40), got.People[0].AlwaysPIN)
			assert.Equal(t, x.person.In(41), got.People[0].ExtendedTime)
			assert.Same(t, got, got.Effective(), "worked out once")
			for _, g := range got.People[0].Levels {
				assert.NotNil(t, got.Level(g.LevelID), "%d", g.LevelID)
			}
		})
	}
}

// The number of a level of its own tells the place and the schedule, there and back.
func TestOwnLevel(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		target := Target{
			Kind: rapid.SampledFrom(TargetKinds).Draw(t, "kind"), ID: ID(rapid.IntRange(1, ownPlace-1).Draw(t, "place")),
		}
		switch target.Kind {
		case AtReader:
			target.Out = rapid.Bool().Draw(t, "out")
		case Everything:
			target.ID = 0
		}
		schedule := ID(rapid.IntRange(1, ownLast-1).Draw(t, "schedule"))
		id := OwnLevel(target, schedule)
		require.Negative(t, id)
		require.Greater(t, id, ID(-1<<53), "it stays exact where numbers are floating")
		got, s, ok := id.Own()
		require.True(t, ok)
		require.Equal(t, target, got)
		require.Equal(t, schedule, s)
	})
	for _, id := range []ID{0, 7, -16} {
		_, _, ok := id.Own()
		assert.False(t, ok, "%d", id)
	}
}

// A level that would contain itself is found, with the way there; a loop in a file ends.
func TestLoop(t *testing.T) {
	c := &Config{Levels: []Level{{ID: 1, Includes: []ID{2}}, {ID: 2, Includes: []ID{3}}, {ID: 3}}}
	assert.Equal(t, []ID{3, 1, 2, 3}, c.Loop(3, []ID{1}))
	assert.Nil(t, c.Loop(3, nil))
	assert.Nil(t, c.Loop(4, []ID{1}))
	c.Levels[2].Includes = []ID{1}
	c.People = []*Person{{ID: 9, Levels: []Grant{{LevelID: 2}}}}
	assert.Len(t, c.Effective().People[0].Levels, 3)
}

// Keeping up with changes of people is the same as working all out anew, and who holds what they held stays.
func TestEffectiveKeepsUp(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		grants := rapid.SliceOfN(rapid.Custom(func(t *rapid.T) Grant {
			if rapid.IntRange(0, 9).Draw(t, "own") == 0 {
				return Grant{Target: Target{Kind: AtDoor, ID: ID(rapid.IntRange(20, 22).Draw(t, "door"))}, ScheduleID: 5}
			}
			return Grant{LevelID: ID(rapid.IntRange(30, 33).Draw(t, "level"))}
		}), 0, 3)
		person := func(id ID) *Person {
			p := &Person{ID: id, Levels: grants.Draw(t, "levels")}
			if rapid.Bool().Draw(t, "member") {
				p.DepartmentIDs = []ID{40}
			}
			return p
		}
		c := &Config{
			Levels:      []Level{{ID: 30}, {ID: 31, Includes: []ID{30}}, {ID: 32}, {ID: 33}},
			Departments: []Department{{ID: 40, Levels: grants.Draw(t, "department"), AlwaysPIN: rapid.Bool().Draw(t, "pin")}},
		}
		for id := range ID(6) {
			c.People = append(c.People, person(100+id))
		}
		was := c.Effective()
		next := *c
		next.People = slices.Clone(c.People)
		i := rapid.IntRange(0, 5).Draw(t, "who")
		next.People[i] = person(100 + ID(i))
		anew := next.Effective()
		kept := next.EffectiveAfter(was)
		require.Equal(t, anew, kept)
		if got, ok := was.With(&next, []ID{100 + ID(i)}); ok {
			require.Equal(t, anew.People, got.People)
			require.Equal(t, anew.Levels, got.Levels)
		}
		for k := range next.People {
			if k != i {
				require.Same(t, was.People[k], kept.People[k])
			}
		}
	})
}

// A date is all of its day, a moment is itself; the last minute is named. Where the clocks change a bound is the first
// instant whose wall clock is not before it.
func TestDates(t *testing.T) {
	// 8 March 2026, 02:00
	summer := &hours.Zone{Offsets: []hours.Offset{{Seconds: -4 * 3600}, {At: 1_772_949_600_000, Seconds: -3 * 3600}}}
	for name, x := range map[string]struct {
		dates Dates
		words string
		holds map[string]bool
	}{
		"a date is its whole day": {
			Dates{"2026-11-27", "2026-11-27"}, "from Fri 27 Nov 2026, 00:00 until Fri 27 Nov 2026, 23:59",
			map[string]bool{"2026-11-26T23:59": false, "2026-11-27T00:00": true, "2026-11-27T23:59": true,
				"2026-11-28T00:00": false},
		},
		"a moment is itself": {
			Dates{"2026-11-27T09:30", "2026-11-27T17:00"}, "from Fri 27 Nov 2026, 09:30 until Fri 27 Nov 2026, 17:00",
			map[string]bool{"2026-11-27T09:29": false, "2026-11-27T09:30": true, "2026-11-27T16:59": true,
				"2026-11-27T17:00": false},
		},
		"no end":   {Dates{From: "2026-11-27"}, "from Fri 27 Nov 2026, 00:00", map[string]bool{"2026-11-26T23:59": false, "2029-01-01T00:00": true}},
		"no dates": {Dates{}, "", map[string]bool{"1999-01-01T00:00": true}},
		"until a time that the clocks leave out": {
			Dates{Until: "2026-03-08T02:30"}, "until Sun 8 Mar 2026, 02:30",
			map[string]bool{"2026-03-08T01:59": true, "2026-03-08T03:00": false},
		},
	} {
		t.Run(name, func(t *testing.T) {
			assert.Equal(t, x.words, x.dates.Words())
			for wall, want := range x.holds {
				day, minute, err := ParseWall(wall)
				require.NoError(t, err)
				assert.Equal(t, want, x.dates.Holds(summer, summer.Resolve(day, minute)), wall)
			}
		})
	}
	var fs Faults
	fs.dates("", Dates{"2026-11-27T10:00", "2026-11-27T10:00"})
	fs.dates("", Dates{"27.11.2026", ""})
	assert.Equal(t, "until from", fields(fs))
}

// What is left out of a place is not come to by that entry, and may be by another.
func TestExcept(t *testing.T) {
	l := Level{Entries: []Entry{
		{Target: Target{Kind: Everything}, ScheduleID: 5, Except: []Target{{Kind: AtDoor, ID: 21}, {Kind: AtSite, ID: 2}}}, At(21, 6),
	}}
	got := NewPlaces(shore()).Entries(&l)
	assert.Contains(t, got, Covered{DoorID: 21, ScheduleID: 6})
	assert.Contains(t, got, Covered{DoorID: 20, ScheduleID: 5})
	assert.NotContains(t, got, Covered{DoorID: 21, ScheduleID: 5})
}

// A replaced card hands its dates on and is marked; one with dates of its own keeps them; who lacks the old one is let
// be.
func TestReplace(t *testing.T) {
	dated := NewCard("26-bit", 42, 7)
	dated.Dates = Dates{Until: "2026-12-18"}
	p := Person{Credentials: []Credential{dated}}
	assert.False(t, p.Replace("42-00008", NewCard("26-bit", 42, 9), Lost))
	assert.Len(t, p.Credentials, 1)
	assert.True(t, p.Replace("42-00007", NewCard("26-bit", 42, 9), Lost))
	assert.Equal(t, Lost, p.Credentials[0].Status)
	assert.Equal(t, Dates{Until: "2026-12-18"}, p.Credentials[1].Dates)
	assert.Equal(t, Active, p.Credentials[1].Status)
	own := NewCard("26-bit", 42, 10)
	own.Dates = Dates{From: "2027-01-01"}
	assert.True(t, p.Replace("42-00009", own, Stolen))
	assert.Equal(t, Dates{From: "2027-01-01"}, p.Credentials[2].Dates)
}

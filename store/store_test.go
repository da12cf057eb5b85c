package store

import (
	"context"
	"path/filepath"
	"slices"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amberkeystone/core/cards"
	"amberkeystone/core/hours"
	"amberkeystone/core/model"
	"amberkeystone/core/site"
)

var ctx = context.Background()

func open(t *testing.T) *Store {
	s, err := Open(filepath.Join(t.TempDir(), "test.db"))
	require.NoError(t, err)
	t.Cleanup(func() { require.NoError(t, s.Close()) })
	require.NoError(t, s.EnsureBasics(ctx))
	return s
}

// place adds a site with a floor, a controller and a door on port 1, and returns the door.
func place(t *testing.T, s *Store) site.Door {
	where := site.Site{Name: "Pier", Zone: "America/Halifax"}
	add(t, s, &where)
	floor := site.Floor{Name: "Level 0", SiteID: where.ID}
	add(t, s, &floor)
	c := site.Controller{Name: "Riser", SiteID: where.ID, Zone: where.Zone, Ports: 4}
	add(t, s, &c)
	plans, _, err := read[site.Plan](ctx, s, Page{Limit: 1})
	require.NoError(t, err)
	d := site.Door{
		Name: "Gate", FloorID: floor.ID, ControllerID: c.ID, Port: 1, PlanID: plans[0].Value.ID,
		Hardware: site.UsualHardware(),
	}
	add(t, s, &d)
	return d
}

func add[T any](t *testing.T, s *Store, v *T) {
	rev, err := Put(ctx, s, "Robin", v, 0)
	require.NoError(t, err)
	require.Equal(t, int64(1), rev)
}

func held(n uint64) []site.Credential {
	return []site.Credential{site.NewCard("26-bit", 1, n)}
}

// Two editors: the second gets a clear conflict, nothing is overwritten.
func TestConflict(t *testing.T) {
	s := open(t)
	d := place(t, s)
	mine, yours := d, d
	mine.Unlock, yours.Unlock = 8, 12
	rev, err := Put(ctx, s, "Robin", &mine, 1)
	require.NoError(t, err)
	assert.Equal(t, int64(2), rev)
	_, err = Put(ctx, s, "Sam", &yours, 1)
	var c *Conflict
	require.ErrorAs(t, err, &c)
	assert.Equal(t, "Robin", c.By)
	v, err := Get[site.Door](ctx, s, d.ID)
	require.NoError(t, err)
	assert.Equal(t, 8, v.Value.Unlock)
	require.ErrorAs(t, Remove[site.Door](ctx, s, "Sam", d.ID, 1), &c)
}

func TestConcurrentWriters(t *testing.T) {
	s := open(t)
	d := place(t, s)
	var all sync.WaitGroup
	won := make(chan int, 20)
	for i := range 20 {
		all.Go(func() {
			mine := d
			mine.Unlock = 10 + i
			if _, err := Put(ctx, s, "somebody", &mine, 1); err == nil {
				won <- i
			}
		})
	}
	all.Wait()
	require.Len(t, won, 1, "exactly one wins")
	v, err := Get[site.Door](ctx, s, d.ID)
	require.NoError(t, err)
	assert.Equal(t, 10+<-won, v.Value.Unlock)
}

func TestTaken(t *testing.T) {
	s := open(t)
	d := place(t, s)
	var taken *Taken
	second := d
	second.ID, second.Port = 0, 2
	_, err := Put(ctx, s, "Robin", &second, 0)
	require.ErrorAs(t, err, &taken)
	assert.Equal(t, "name", taken.Field)
	second.Name, second.Port = "Yard", 1
	_, err = Put(ctx, s, "Robin", &second, 0)
	require.ErrorAs(t, err, &taken)
	assert.Contains(t, taken.Words, "already drives Gate")

	add(t, s, &site.Person{Name: "Ada", Credentials: held(7)})
	_, err = Put(ctx, s, "Robin", &site.Person{Name: "Ben", Credentials: held(7)}, 0)
	require.ErrorAs(t, err, &taken)
	assert.Equal(t, "credentials[0].value", taken.Field)
	assert.Contains(t, taken.Words, "Ada")
	_, total, err := read[site.Person](ctx, s, Page{Limit: 10})
	require.NoError(t, err)
	assert.Equal(t, 1, total, "a refused write leaves nothing behind")

	_, err = Put(ctx, s, "Robin", &site.Person{Name: "Cy", Levels: []site.Grant{{LevelID: 9999}}}, 0)
	require.ErrorAs(t, err, &taken)
	assert.Contains(t, taken.Words, "does not exist, or no longer")
}

func TestInUse(t *testing.T) {
	s := open(t)
	d := place(t, s)
	var in *InUse
	require.ErrorAs(t, Remove[site.Plan](ctx, s, "Robin", d.PlanID, 1), &in)
	assert.Equal(t, []string{"door Gate"}, in.Places)
	require.NoError(t, Remove[site.Door](ctx, s, "Robin", d.ID, 1))
	require.NoError(t, Remove[site.Plan](ctx, s, "Robin", d.PlanID, 1))
	require.ErrorIs(t, Remove[site.Door](ctx, s, "Robin", d.ID, 1), ErrMissing)
}

func TestHistoryAndUndo(t *testing.T) {
	s := open(t)
	d := place(t, s)
	changed := d
	changed.Unlock = 9
	_, err := Put(ctx, s, "Robin", &changed, 1)
	require.NoError(t, err)
	last := func() HistoryLine {
		lines, err := s.History(ctx, HistoryFilter{Object: d.ID, Limit: 10, Offset: 0})
		require.NoError(t, err)
		return lines[0]
	}
	l := last()
	assert.Equal(t, "changed", l.Action)
	assert.Contains(t, *l.Was, `"unlock":5`)
	assert.Contains(t, *l.Now, `"unlock":9`)
	first, err := s.History(ctx, HistoryFilter{Object: d.ID, Limit: 10, Offset: 1})
	require.NoError(t, err)
	assert.False(t, first[0].Undoable)
	assert.ErrorContains(t, s.Undo(ctx, "Sam", first[0].ID), "changed since")

	require.NoError(t, s.Undo(ctx, "Sam", l.ID))
	v, err := Get[site.Door](ctx, s, d.ID)
	require.NoError(t, err)
	assert.Equal(t, 5, v.Value.Unlock)
	assert.Equal(t, int64(3), v.Rev)

	require.NoError(t, Remove[site.Door](ctx, s, "Robin", d.ID, 3))
	require.NoError(t, s.Undo(ctx, "Sam", last().ID))
	v, err = Get[site.Door](ctx, s, d.ID)
	require.NoError(t, err, "a removed door comes back under its number")
	assert.Equal(t, "Gate", v.Value.Name)
}

func TestSearch(t *testing.T) {
	s := open(t)
	in := departments(t, s, "Crew", "Night watch")
	add(t, s, &site.Person{Name: "Ada Reed", DepartmentIDs: in[:1], Credentials: held(12345)})
	add(t, s, &site.Person{Name: "Ben_Holt", DepartmentIDs: in[1:]})
	add(t, s, &site.Person{Name: "Cy 100%"})
	for q, want := range map[string][]string{
		"": {"Ada Reed", "Ben_Holt", "Cy 100%"}, "reed": {"Ada Reed"}, "crew": {"Ada Reed"}, "234": {"Ada Reed"}, "night": {"Ben_Holt"}, "%": {"Cy 100%"}, "_": {"Ben_Holt"}, "zz": nil, "en_h": {"Ben_Holt"}, "100%": {"Cy 100%"}, `"ada"`: nil, "ada OR ben": nil, "1-123": {"Ada Reed"}, `\`: nil, "'": nil,
	} {
		list, total, err := read[site.Person](ctx, s, Page{Search: q, Limit: 10})
		require.NoError(t, err)
		var names []string
		for _, p := range list {
			names = append(names, p.Value.Name)
		}
		assert.Equal(t, want, names, q)
		assert.Equal(t, len(want), total)
	}
	list, total, err := read[site.Person](ctx, s, Page{Limit: 1, Offset: 1})
	require.NoError(t, err)
	assert.Equal(t, 3, total)
	assert.Equal(t, "Ben_Holt", list[0].Value.Name)
	found, err := s.Find(ctx, "12345", 5)
	require.NoError(t, err)
	assert.Equal(t, "Ada Reed", found[0].Name)
}

func TestPINs(t *testing.T) {
	s := open(t)
	ada, ben := site.Person{Name: "Ada"}, site.Person{Name: "Ben"}
	add(t, s, &ada)
	add(t, s, &ben)
	set := func(p site.ID, pin string) error {
		a, b := cards.HashPIN(nil, pin), cards.HashPIN(nil, cards.DuressPIN(pin))
		return s.SetPIN(ctx, "Robin", p, &a, &b, 4)
	}
	require.NoError(t, set(ada.ID, "4829"))
	var taken *Taken
	require.ErrorAs(t, set(ben.ID, "4829"), &taken)
	require.ErrorAs(t, set(ben.ID, "4820"), &taken, "it is Ada's call for help")
	require.ErrorAs(t, set(ben.ID, "4828"), &taken, "its call for help is Ada's PIN")
	require.NoError(t, set(ben.ID, "7301"))
	c, err := s.Load(ctx)
	require.NoError(t, err)
	require.NotNil(t, c.People[0].PIN)
	assert.Equal(t, cards.HashPIN(nil, "4829"), *c.People[0].PIN)
	assert.Equal(t, cards.HashPIN(nil, "4820"), *c.People[0].Duress)
	require.NoError(t, s.SetPIN(ctx, "Robin", ada.ID, nil, nil, 0))
	require.NoError(t, set(ben.ID, "4829"))
	lines, err := s.History(ctx, HistoryFilter{Object: ben.ID, Limit: 10, Offset: 0})
	require.NoError(t, err)
	for _, l := range lines {
		if l.Action == "PIN set" {
			assert.Nil(t, l.Now, "a PIN is never in the history")
		}
	}
}

// However often an event comes, it is stored once; another log of the same controller is another story.
func TestEventsOnce(t *testing.T) {
	s := open(t)
	e := func(log string, seq uint64, at int64) Event {
		return Event{
			ControllerID: 5, Log: log, Seq: seq, At: at, Kind: "forced", Outcome: "alarm", Alarm: true, Headline: "Door forced",
			DoorID: 9,
		}
	}
	never := func(e Event) Event { t.Fatalf("no clash: %v", e); return e }
	fresh, err := s.AddEvents(ctx, []Event{e("a", 1, 100), e("a", 2, 90), e("a", 1, 100)}, never)
	require.NoError(t, err)
	assert.Len(t, fresh, 2)
	fresh, err = s.AddEvents(ctx, []Event{e("a", 2, 90), e("b", 1, 95)}, never)
	require.NoError(t, err)
	require.Len(t, fresh, 1)
	assert.Equal(t, "b", fresh[0].Log)
	list, err := s.Events(ctx, EventFilter{Limit: 10})
	require.NoError(t, err)
	assert.Equal(t, []int64{100, 95, 90}, []int64{list[0].At, list[1].At, list[2].At}, "newest first by their own clocks")
	next, err := s.Events(ctx, EventFilter{Limit: 10, Before: list[0].At, BeforeID: list[0].ID})
	require.NoError(t, err)
	assert.Len(t, next, 2)
	none, err := s.Events(ctx, EventFilter{Door: 8, Limit: 10})
	require.NoError(t, err)
	assert.Empty(t, none)

	n, err := s.Alarms(ctx)
	require.NoError(t, err)
	assert.Equal(t, 3, n)
	seen, err := s.Acknowledge(ctx, "Robin", list[0].ID)
	require.NoError(t, err)
	again, err := s.Acknowledge(ctx, "Sam", list[0].ID)
	require.NoError(t, err)
	assert.Equal(t, "Robin", *again.AckedBy, "the first stands")
	assert.Equal(t, seen.AckedAt, again.AckedAt)
	_, err = s.Acknowledge(ctx, "Robin", 9999)
	assert.ErrorIs(t, err, ErrMissing)
}

func TestFirstUserOnce(t *testing.T) {
	s := open(t)
	ok, err := s.AddFirstUser(ctx, "Robin", "hash")
	require.NoError(t, err)
	assert.True(t, ok)
	ok, err = s.AddFirstUser(ctx, "Mallory", "hash")
	require.NoError(t, err)
	assert.False(t, ok)
	_, err = s.UserByName(ctx, "Mallory")
	assert.ErrorIs(t, err, ErrMissing)
}

func TestReopened(t *testing.T) {
	path := filepath.Join(t.TempDir(), "again.db")
	s, err := Open(path)
	require.NoError(t, err)
	require.NoError(t, s.EnsureBasics(ctx))
	key, err := s.Secret(ctx, "pin key")
	require.NoError(t, err)
	add(t, s, &site.Person{Name: "Ada"})
	require.NoError(t, s.Close())
	s, err = Open(path)
	require.NoError(t, err)
	defer s.Close()
	require.NoError(t, s.EnsureBasics(ctx))
	same, err := s.Secret(ctx, "pin key")
	require.NoError(t, err)
	assert.Equal(t, key, same)
	c, err := s.Load(ctx)
	require.NoError(t, err)
	assert.Len(t, c.People, 1)
	assert.Len(t, c.Schedules, 2)
}

// A plan limited to a level, the level to the door, the door to the plan: the circle can be imported, and each of them
// is refused to be removed while another points to it.
func TestHoursReferences(t *testing.T) {
	s := open(t)
	d := place(t, s)
	level := site.Level{Name: "Registrars", Entries: []site.Entry{site.At(d.ID, scheduleID(t, s, "Always"))}}
	add(t, s, &level)
	kind := site.HolidayType{Name: "Quiet", Plans: site.DefaultMode, Schedules: site.Closed}
	add(t, s, &kind)
	plan := site.Plan{
		Name: "Noon",
		Holidays: []site.PlanHoliday{
			{TypeID: kind.ID, Do: site.OwnHours, Segments: []hours.Segment{{Period: hours.Period{Start: 0, End: 60}, Levels: []int64{int64(level.ID)}}}},
		},
	}
	add(t, s, &plan)
	v, err := Get[site.Door](ctx, s, d.ID)
	require.NoError(t, err)
	v.Value.PlanID = plan.ID
	_, err = Put(ctx, s, "Robin", &v.Value, v.Rev)
	require.NoError(t, err)
	set := site.DoorSet{Name: "Front", DoorIDs: []site.ID{d.ID}}
	add(t, s, &set)
	change := site.DatedChange{
		Name: "Evening", SetIDs: []site.ID{set.ID}, From: "2026-11-27T17:00", Until: "2026-11-27T21:00",
	}
	add(t, s, &change)
	day := site.Holiday{
		Name: "Day", TypeID: kind.ID, HolidayDates: hours.HolidayDates{Kind: hours.OnDates, Dates: []string{"2026-11-26"}},
		End: 1440,
	}
	add(t, s, &day)
	for _, err := range []error{
		Remove[site.Level](ctx, s, "Robin", level.ID, 1), Remove[site.HolidayType](ctx, s, "Robin", kind.ID, 1),
		Remove[site.Plan](ctx, s, "Robin", plan.ID, 1), Remove[site.DoorSet](ctx, s, "Robin", set.ID, 1),
	} {
		var in *InUse
		require.ErrorAs(t, err, &in)
		assert.NotEmpty(t, in.Places)
	}
	// The same name under another type is another holiday; under the same type it is taken.
	other := site.HolidayType{Name: "Loud", Plans: site.AsWeekday, Schedules: site.AsWeekday}
	add(t, s, &other)
	second := day
	second.ID, second.TypeID = 0, other.ID
	add(t, s, &second)
	third := day
	third.ID = 0
	_, err = Put(ctx, s, "Robin", &third, 0)
	var taken *Taken
	require.ErrorAs(t, err, &taken)

	// All or nothing: of many written at once, one that is taken takes the others back.
	fresh := site.Holiday{Name: "Fresh", TypeID: kind.ID, HolidayDates: day.HolidayDates, End: 1440}
	require.Error(t, PutMany(ctx, s, "Robin", []Versioned[site.Holiday]{{Value: fresh}, {Value: third}}))
	c, err := s.Load(ctx)
	require.NoError(t, err)
	assert.Len(t, c.Holidays, 2)

	// The whole of it into an empty database, circle and all.
	empty, err := Open(filepath.Join(t.TempDir(), "other.db"))
	require.NoError(t, err)
	defer empty.Close()
	require.NoError(t, empty.EnsureBasics(ctx))
	require.NoError(t, empty.Import(ctx, "Robin", c))
	again, err := empty.Load(ctx)
	require.NoError(t, err)
	assert.Equal(t, c.Plans, again.Plans)
	assert.Equal(t, c.Changes, again.Changes)
	places, err := empty.UsedBy(ctx, level.ID)
	require.NoError(t, err)
	require.Len(t, places, 1)
	assert.Equal(t, "Noon", places[0].Name)

	// A removed dated change comes back under its number, so that which was made later stays as it was.
	require.NoError(t, Remove[site.DatedChange](ctx, s, "Robin", change.ID, 1))
	history, err := s.History(ctx, HistoryFilter{Object: change.ID, Limit: 1, Offset: 0})
	require.NoError(t, err)
	require.NoError(t, s.Undo(ctx, "Robin", history[0].ID))
	back, err := Get[site.DatedChange](ctx, s, change.ID)
	require.NoError(t, err)
	assert.Equal(t, change.SetIDs, back.Value.SetIDs)
}

func scheduleID(t *testing.T, s *Store, name string) site.ID {
	list, _, err := read[site.Schedule](ctx, s, Page{Search: name, Limit: 1})
	require.NoError(t, err)
	return list[0].Value.ID
}

// A database from before there were holiday types gets the usual ones; one whose types were removed does not.
func TestUsualTypesOnce(t *testing.T) {
	s := open(t)
	types := func() []Versioned[site.HolidayType] {
		list, _, err := read[site.HolidayType](ctx, s, Page{Limit: 9})
		require.NoError(t, err)
		return list
	}
	require.Len(t, types(), 2)
	_, err := s.db.ExecContext(ctx, `DELETE FROM objects WHERE kind = 'holiday type'`)
	require.NoError(t, err)
	require.NoError(t, s.EnsureBasics(ctx))
	assert.Empty(t, types(), "they were removed on purpose: the history knows them")
	_, err = s.db.ExecContext(ctx, `DELETE FROM audit WHERE kind = 'holiday type'`)
	require.NoError(t, err)
	require.NoError(t, s.EnsureBasics(ctx))
	assert.Len(t, types(), 2)
}

// What is found goes with what is changed: another name, another department, a removal, an undo; accents do not matter.
func TestSearchFollows(t *testing.T) {
	s := open(t)
	in := departments(t, s, "Crew", "Night watch")
	p := &site.Person{Name: "Zoë Abbot", DepartmentIDs: in[:1], Credentials: held(12345)}
	add(t, s, p)
	finds := func(q string) int {
		list, err := s.Find(ctx, q, 10)
		require.NoError(t, err)
		people, total, err := read[site.Person](ctx, s, Page{Search: q, Limit: 10})
		require.NoError(t, err)
		assert.Equal(t, len(people), total)
		list = slices.DeleteFunc(list, func(p Place) bool { return p.Kind != "person" })
		assert.Len(t, list, total)
		return total
	}
	assert.Equal(t, 1, finds("zoe abb"))
	p.Name, p.DepartmentIDs, p.Credentials = "Zoe Harrow", in[1:], held(777)
	rev, err := Put(ctx, s, "Sam", p, 1)
	require.NoError(t, err)
	for q, want := range map[string]int{"abbot": 0, "crew": 0, "12345": 0, "harrow": 1, "night": 1, "777": 1, "77": 1} {
		assert.Equal(t, want, finds(q), q)
	}
	require.NoError(t, Remove[site.Person](ctx, s, "Sam", p.ID, rev))
	assert.Zero(t, finds("harrow"))
	lines, err := s.History(ctx, HistoryFilter{Object: p.ID, Limit: 1, Offset: 0})
	require.NoError(t, err)
	require.NoError(t, s.Undo(ctx, "Sam", lines[0].ID))
	assert.Equal(t, 1, finds("harrow"))
}

// What commits changed, laid over what was, is what a reader of everything finds; PINs too.
func TestCommitsSayWhatChanged(t *testing.T) {
	s := open(t)
	zones := func(site.ID, string) *hours.Zone { return &hours.Zone{Name: "UTC"} }
	v, err := s.Snapshot(ctx)
	require.NoError(t, err)
	m, at := model.New(v.Config, v.Revs, zones), v.Commit
	follow := func() {
		list, ok := s.Since(at)
		require.True(t, ok)
		for _, c := range list {
			m, at = m.Apply(c.Changes), c.To
		}
		v, err := s.Snapshot(ctx)
		require.NoError(t, err)
		require.Equal(t, v.Commit, at)
		require.Equal(t, v.Config, m.Config)
		for id, rev := range v.Revs {
			have, _ := m.Rev(id)
			require.Equal(t, rev, have)
		}
	}
	p := &site.Person{Name: "Ada", Credentials: held(1)}
	add(t, s, p)
	rev := int64(1)
	follow()
	pin, duress := cards.HashPIN(nil, "4829"), cards.HashPIN(nil, "4820")
	require.NoError(t, s.SetPIN(ctx, "Sam", p.ID, &pin, &duress, 4))
	follow()
	p.Name = "Ada Reed"
	rev, err = Put(ctx, s, "Sam", p, rev)
	require.NoError(t, err)
	follow()
	require.NoError(t, Remove[site.Person](ctx, s, "Sam", p.ID, rev))
	follow()
	lines, err := s.History(ctx, HistoryFilter{Object: p.ID, Limit: 1, Offset: 0})
	require.NoError(t, err)
	require.NoError(t, s.Undo(ctx, "Sam", lines[0].ID))
	follow()
	require.NotNil(t, m.Config.Person(p.ID).PIN, "it comes back with its PIN")
	require.NoError(t, PutMany(ctx, s, "Sam", []Versioned[site.Schedule]{
		{Value: site.Schedule{Name: "A"}}, {Value: site.Schedule{Name: "B"}},
	}))
	follow()
	_, err = Put(ctx, s, "Sam", &site.Schedule{Name: "A"}, 0)
	require.Error(t, err, "the name is taken")
	follow()
	_, ok := s.Since(at - 100)
	require.False(t, ok, "too long ago")
}

// read reads a page, and how many there are in all.
func read[T any](ctx context.Context, s *Store, p Page) ([]Versioned[T], int, error) {
	found, err := List[T](ctx, s, p)
	return found.Items, found.Total, err
}

// The settings are kept as any object: they are read again as they were written, and undone.
func TestSettingsAreKept(t *testing.T) {
	ctx := context.Background()
	s := open(t)
	require.NoError(t, s.EnsureBasics(ctx))
	settings := site.DefaultSettings()
	settings.PINTries = 7
	rev, err := Put(ctx, s, "test", &settings, 1)
	require.NoError(t, err)
	read := func() Versioned[site.Settings] {
		list, err := List[site.Settings](ctx, s, Page{Limit: 5})
		require.NoError(t, err)
		require.Len(t, list.Items, 1)
		return list.Items[0]
	}
	assert.Equal(t, rev, read().Rev)
	assert.Equal(t, 7, read().Value.PINTries)
	c, err := s.Load(ctx)
	require.NoError(t, err)
	assert.Equal(t, 7, c.Settings.PINTries)
	_, err = Put(ctx, s, "test", &settings, 1)
	assert.ErrorContains(t, err, "changed by test")
	lines, err := s.History(ctx, HistoryFilter{Limit: 1})
	require.NoError(t, err)
	require.NoError(t, s.Undo(ctx, "test", lines[0].ID))
	assert.Equal(t, 5, read().Value.PINTries)
}

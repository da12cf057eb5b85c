package prove

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amberkeystone/core/cards"
	"amberkeystone/core/hours"
	"amberkeystone/core/panel"
	"amberkeystone/core/pass"
	"amberkeystone/core/point"
	"amberkeystone/core/site"
)

// guarded is a yard with a lockdown of all its doors, which three reads of person 50 start and a button at the first
// controller does too; 51 is screened until they have come in at door 1.
func guarded(t *testing.T) *Book {
	c := *yard(t, site.Area{Mode: site.PassbackOff}).Config
	c.Levels = append(c.Levels, site.Level{
		ID: 41, Name: "Duty", Authorities: site.Authorities{Overrides: true, LocksDown: true}, Entries: c.Levels[0].Entries,
	},
		site.Level{ID: 42, Name: "Lobby", Entries: []site.Entry{site.At(1, 30)}})
	for i, name := range []string{"Quay", "Hall", "Vault"} {
		c.Doors[i].Name, c.Controllers[i].Name = name, "Riser "+name
	}
	c.People[0].Levels, c.People[0].Name = []site.Grant{{LevelID: 41}}, "Ines"
	c.Emergencies = []site.Emergency{
		{ID: 70, Name: "All shut", Does: site.Lockdown, Targets: []site.Target{{Kind: site.Everything}}, Reads: 3,
			CardEnds: true, Overrides: true},
	}
	c.Inputs = []site.Input{
		{ID: 71, Name: "Desk button", ControllerID: 11, At: point.At(point.Input, 40), Use: site.InputLockdown,
			Contact: site.NormallyOpen, EmergencyID: 70},
	}
	c.Screenings = []site.Screening{
		{ID: 72, Name: "Desk", PersonIDs: []site.ID{51}, LevelID: 42, PassIDs: []site.ID{1}, Lasts: site.LastsMidnight},
	}
	return NewBook(&c, map[site.ID]hours.Zone{11: {Name: "UTC"}, 12: {Name: "UTC"}, 13: {Name: "UTC"}})
}

func (w *walker) modes() (out []hours.Mode) {
	for c := site.ID(11); c <= 13; c++ {
		out = append(out, w.Doors(c)[0].Mode)
	}
	return out
}

// A lockdown that a card or a button starts at one controller holds at all; one that is cut off learns of it when it is
// back, unless it has ended.
func TestLockdownOverControllers(t *testing.T) {
	b := guarded(t)
	all := func(m hours.Mode) []hours.Mode { return []hours.Mode{m, m, m} }
	w := walk(t, b)
	for range 3 {
		read, err := cards.Standard26.Encode(42, 50)
		require.NoError(t, err)
		require.NoError(t, w.Do(w.Now()+1000, 11, panel.Input{
			Kind: panel.Read, Point: point.At(point.Reader, 1), Bits: read,
		}))
	}
	assert.Equal(t, all(hours.Barred), w.modes())
	assert.Equal(t, pass.DoorBarred, w.goes(3, 52, false))
	assert.Equal(t, pass.Granted, w.goes(3, 50, false), "their level overrides it")
	require.NoError(t, w.Order(w.Now(), panel.Input{Kind: panel.Lockdown, Rule: 70}))
	assert.Equal(t, all(hours.Card), w.modes())

	w.network(2, false)
	require.NoError(t, w.Do(w.Now()+1000, 11, panel.Input{
		Kind: panel.Reading, Point: point.At(point.Input, 40), Circuit: point.Closed,
	}))
	assert.Equal(t, []hours.Mode{hours.Barred, hours.Card, hours.Barred}, w.modes())
	w.network(2, true)
	assert.Equal(t, all(hours.Barred), w.modes(), "told on its return")
}

// Who is cleared at one controller is at all of them, until midnight by the clock there.
func TestClearedOverControllers(t *testing.T) {
	w := walk(t, guarded(t))
	w.network(3, false)
	assert.Equal(t, pass.NotCleared, w.goes(2, 51, false))
	assert.Equal(t, pass.Granted, w.goes(1, 51, false))
	assert.Equal(t, pass.Granted, w.goes(2, 51, false))
	assert.Equal(t, pass.NotCleared, w.goes(3, 51, false), "cut off, it does not know")
	w.network(3, true)
	assert.Equal(t, pass.Granted, w.goes(3, 51, false))
	w.Run(24 * 3600 * 1000)
	assert.Equal(t, pass.NotCleared, w.goes(2, 51, false))
}

// A rehearsal tells what each door would do, and what is wrong with it.
func TestRehearse(t *testing.T) {
	b := guarded(t)
	r := b.Rehearse(&b.Config.Emergencies[0], 1000)
	require.Len(t, r.Doors, 3)
	assert.Empty(t, r.Wrong)
	for _, d := range r.Doors {
		assert.Equal(t, hours.Card, d.Before)
		assert.Equal(t, hours.Barred, d.After)
		assert.Equal(t, "Ines", d.In)
		assert.Equal(t, "exit request, or a card at the reader out", d.Out)
	}
	assert.Equal(t,
		"Quay, Hall and Vault let in only those whose level overrides it: Duty; ways out always work. Started at the screen, by Desk button at Riser Quay "+
			"or by three reads of a card within 5 s at one of its doors, with Duty. Ended at the screen, or by as many reads.",
		r.Words)
	fire := site.Emergency{Does: site.FireRelease, Targets: []site.Target{{Kind: site.AtDoor, ID: 2}}}
	r = b.Rehearse(&fire, 1000)
	require.Len(t, r.Doors, 1)
	assert.Equal(t, hours.Free, r.Doors[0].After)
	assert.Equal(t, "everybody", r.Doors[0].In)
}

func TestScreeningWords(t *testing.T) {
	b := guarded(t)
	x := b.Config.Screenings[0]
	assert.Contains(t, b.ScreeningWords(&x),
		"must be cleared. Until then only the level Lobby counts. Cleared by a person at the screen or by coming in at ")
	a, err := b.Ask(51, 2, 1000)
	require.NoError(t, err)
	assert.Equal(t, pass.NotCleared, a.Reason)
	assert.Contains(t, a.Mend, "in Rules, Screening, or let them come in at")
	assert.Equal(t,
		Line{"Desk", false, "is not cleared; until then only the level Lobby counts, which does not lead here now"},
		a.Trace[len(a.Trace)-1])
	b.Cleared = func(site.ID) []pass.Clearance {
		return []pass.Clearance{
			{Person: 51, Screening: 72, Until: hours.Instant(23 * time.Hour / time.Millisecond), By: "Keeper"},
		}
	}
	a, err = b.Ask(51, 2, 1000)
	require.NoError(t, err)
	assert.True(t, a.Granted)
	s := b.StandingOf(&x, 51, b.Cleared(51)[0], &hours.Zone{Name: "UTC"}, 1000)
	assert.Equal(t, "cleared until 23:00, by Keeper", s.Words)
	assert.Equal(t, "until 23:59", s.Would)
	x.DeskIDs = []site.ID{2}
	x.LevelID, x.PassIDs = 0, []site.ID{1}
	assert.Equal(t,
		[]string{"Quay clears whoever comes in there, and nobody does: the level that counts until then does not lead there."}, b.ScreeningMeaning(&x).Wrong)
}

// Whatever a sheet holds while it is being filled in has words: nothing that is out of bounds stops them.
func TestWordsOfUnfinishedRules(t *testing.T) {
	b := guarded(t)
	rapid.Check(t, func(t *rapid.T) {
		n := func(label string) int { return rapid.IntRange(-3, 9).Draw(t, label) }
		id := func(label string) site.ID {
			return site.ID(rapid.SampledFrom([]int{-1, 0, 1, 3, 42, 50, 99}).Draw(t, label))
		}
		e := site.Emergency{
			Does: rapid.SampledFrom([]site.EmergencyKind{"", site.Lockdown, site.FireRelease, "x"}).Draw(t, "does"),
			Targets: []site.Target{
				{Kind: rapid.SampledFrom([]site.TargetKind{"", site.AtDoor, site.Everything, site.AtFloor}).Draw(t, "kind"),
					ID: id("target")},
			},
			Reads: n("reads"), Overrides: rapid.Bool().Draw(t, "overrides"), CardEnds: rapid.Bool().Draw(t, "ends"),
		}
		require.NotEmpty(t, b.Rehearse(&e, 1000).Words)
		s := site.Screening{
			PersonIDs: []site.ID{id("person")}, DepartmentIDs: []site.ID{id("department")}, LevelID: id("level"),
			DeskIDs: []site.ID{id("desk")}, PassIDs: []site.ID{id("pass")},
			Lasts: rapid.SampledFrom([]site.Lasting{"", site.LastsHours, site.LastsDays, "x"}).Draw(t, "lasts"),
			Count: n("count"),
		}
		require.NotEmpty(t, b.ScreeningMeaning(&s).Words)
		p := site.Proofs{
			Kind:    rapid.SampledFrom([]site.ProofKind{"", site.Combined, site.Approval}).Draw(t, "proofs"),
			DoorIDs: []site.ID{id("at")}, Window: n("window"),
		}
		for range rapid.IntRange(0, 2).Draw(t, "combinations") {
			c := site.Combination{Total: n("total"), Confirmed: rapid.Bool().Draw(t, "confirmed")}
			for range rapid.IntRange(0, 3).Draw(t, "parts") {
				c.Parts = append(c.Parts, site.Part{GroupID: id("group"), Count: n("of")})
			}
			p.Combinations = append(p.Combinations, c)
		}
		require.NotEmpty(t, b.MeaningOf(&p).Words)
		a := site.AlarmArea{
			DoorIDs: []site.ID{id("door")}, Inputs: []site.Watched{{InputID: id("watched")}}, Reads: n("reads"),
			Single: rapid.Bool().Draw(t, "single"), ScheduleID: id("schedule"), KeyID: id("key"),
			KeyWorks:  rapid.SampledFrom([]site.KeyWorks{"", site.KeyHolds, site.KeyTurns, "x"}).Draw(t, "works"),
			ExitDelay: n("exit"), EntryDelay: n("entry"), Sounds: n("sounds"), AlarmIDs: []site.ID{id("siren")},
		}
		require.NotEmpty(t, b.MeaningOfAlarmArea(&a).Arms)
		r := site.Reaction{
			When: rapid.SampledFrom(site.Happenings).Draw(t, "when").Code, Do: rapid.SampledFrom(site.Doings).Draw(t, "do").Code,
			At: e.Targets, To: e.Targets, InputIDs: []site.ID{id("input")}, SourceIDs: []site.ID{id("source")},
			AlarmIDs: []site.ID{id("area")}, AreaID: id("of people"), Count: n("people"),
			Hour: rapid.SampledFrom([]string{"", "22:00", "x"}).Draw(t, "hour"), ScheduleID: id("during"),
			OutputIDs: []site.ID{id("output")}, ArmIDs: []site.ID{id("arms")}, EmergencyID: id("emergency"),
			Seconds: n("seconds"),
			Mode:    rapid.SampledFrom([]string{"", "card", "x"}).Draw(t, "mode"),
		}
		require.NotEmpty(t, b.MeaningOfReaction(&r).Words)
	})
}

package server

import (
	"encoding/json"
	"fmt"
	"testing"

	"amberkeystone/core/pass"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amberkeystone/core/cards"
	"amberkeystone/core/hours"
	"amberkeystone/core/image"
	"amberkeystone/core/prove"
	"amberkeystone/core/site"
	"amberkeystone/link"
	"amberkeystone/store"
)

func smallBook() *prove.Book {
	return prove.NewBook(&site.Config{
		Settings:    site.DefaultSettings(),
		Controllers: []site.Controller{{ID: 9, Name: "Riser"}},
		Doors:       []site.Door{{ID: 1, Name: "Gate", Port: 1, ControllerID: 9, PlanID: 20, Hardware: site.UsualHardware()}},
		Plans:       []site.Plan{{ID: 20, Name: "Day"}}, Schedules: []site.Schedule{
			{ID: 30, Name: "Hours", Week: hours.Always()},
		},
		People: []*site.Person{{ID: 50, Name: "Ada"}},
	}, map[site.ID]hours.Zone{9: {Name: "UTC"}})
}

// Whatever a controller says, it is put into words or stored as it came; nothing stands in the way of the rest.
func TestToldWhateverItIs(t *testing.T) {
	b := smallBook()
	for name, raw := range map[string]string{
		"not JSON":             `no`,
		"an unknown kind":      `{"kind":"teleported","at":5}`,
		"an unknown reason":    `{"kind":"refused","reason":"moon-phase"}`,
		"an unknown mode":      `{"kind":"mode","mode":"sideways"}`,
		"a list":               `[1,2]`,
		"numbers out of range": `{"kind":"granted","at":99999999999999999999999}`,
	} {
		t.Run(name, func(t *testing.T) {
			e := told(b, b, 9, "log", link.Logged{Seq: 7, Event: json.RawMessage(raw)})
			assert.Equal(t, "unreadable", e.Kind)
			assert.Equal(t, uint64(7), e.Seq)
			assert.Equal(t, raw, e.Raw)
			assert.Equal(t, "Riser", e.Controller)
			assert.NotEmpty(t, e.Headline)
		})
	}
	e := told(b, b, 9, "log", link.Logged{
		Seq: 8, Event: json.RawMessage(`{"seq":8,"kind":"refused","reason":"no-level","door":1,"person":50,"mode":"card"}`),
	})
	assert.Equal(t, "Refused: no access level", e.Headline)
	assert.Equal(t, "Ada", e.Person)
}

func FuzzTold(f *testing.F) {
	seed := func(e pass.Fact) {
		b, err := json.Marshal(e)
		require.NoError(f, err)
		f.Add(b)
	}
	seed(
		pass.Fact{
			Kind:   pass.WasRefused,
			Reason: pass.FacilityWrong,
			Door:   1,
			Bits:   "0101",
			Checks: []pass.Check{{Kind: pass.CheckRead, A: int64(cards.WrongFacility), B: 77}},
		},
	)
	seed(
		pass.Fact{
			Kind:     pass.WasRefused,
			Reason:   pass.OutsideHours,
			Door:     1,
			Person:   50,
			Schedule: 30,
			Next:     5,
			Checks:   []pass.Check{{Kind: pass.CheckHours, A: 30}, {Kind: pass.CheckAsks, A: 250}},
		},
	)
	seed(pass.Fact{Kind: pass.ModeNow, Door: 1, At: hours.Never, Next: 1, Change: 4, Waits: true})
	seed(pass.Fact{Kind: pass.ClockSet, Note: "1h"})
	f.Add([]byte(`{"kind":"refused","reason":"parity","checks":[{"kind":2,"a":99,"b":-1}]}`))
	f.Add([]byte(`{"kind":"refused","door":1,"at":9223372036854775807,"checks":[{"kind":9,"a":30}]}`))
	b := smallBook()
	f.Fuzz(func(t *testing.T, raw []byte) {
		var e pass.Fact
		if json.Unmarshal(raw, &e) == nil {
			if _, err := Stored(b, 9, "log", &e); err != nil {
				t.Fatal(err)
			}
		}
		if out := told(b, b, 9, "log", link.Logged{Seq: 1, Event: raw}); out.Headline == "" {
			t.Fatalf("no words for %q", raw)
		}
	})
}

// Events are told in the words of the image that held when they happened, not in those of a change that was never sent.
func TestWordsOfWhatWasHeld(t *testing.T) {
	s := bare(t, Options{})
	place := site.Site{Name: "Pier", Zone: "UTC"}
	_, err := store.Put(ctx, s.Store, "test", &place, 0)
	require.NoError(t, err)
	c := site.Controller{Name: "Riser", SiteID: place.ID, Zone: "UTC", Ports: 4}
	_, err = s.Store.TakeIntoService(ctx, "test", &c, nil,
		store.Taking{Serial: "S", Address: "127.0.0.1:1", Key: make([]byte, 32)}, false)
	require.NoError(t, err)
	floor := site.Floor{Name: "Level 0", SiteID: place.ID}
	_, err = store.Put(ctx, s.Store, "test", &floor, 0)
	require.NoError(t, err)
	plans, err := store.List[site.Plan](ctx, s.Store, store.Page{Limit: 1})
	require.NoError(t, err)
	d := site.Door{
		Name: "Gate", FloorID: floor.ID, ControllerID: c.ID, Port: 1, PlanID: plans.Items[0].Value.ID,
		Hardware: site.UsualHardware(),
	}
	rev, err := store.Put(ctx, s.Store, "test", &d, 0)
	require.NoError(t, err)
	require.NoError(t, s.settle(ctx))
	f := s.present()
	sent, ok := s.build(f, c.ID)
	require.True(t, ok)
	names, err := json.Marshal(f.NamesOf(sent))
	require.NoError(t, err)
	require.NoError(t, s.Store.SetSent(ctx, "test", c.ID, "Riser", sent.Bytes(), sent.Root(), string(names), 0))
	d.Name = "Harbour gate"
	_, err = store.Put(ctx, s.Store, "test", &d, rev)
	require.NoError(t, err)
	require.NoError(t, s.settle(ctx))

	event := func(seq uint64) link.Logged {
		b, err := json.Marshal(pass.Fact{Kind: pass.Opened, Door: d.ID, At: 5})
		require.NoError(t, err)
		return link.Logged{Seq: seq, Event: b}
	}
	require.NoError(t, s.take(&unit{id: c.ID}, link.Events{Log: "l", Image: sent.Root(), Events: []link.Logged{event(1)}}))
	require.NoError(t, s.take(&unit{id: c.ID}, link.Events{
		Log: "l", Image: image.Hash(nil), Events: []link.Logged{event(2)},
	}))
	list, err := s.Store.Events(ctx, store.EventFilter{Limit: 10})
	require.NoError(t, err)
	require.Len(t, list, 2)
	assert.Equal(t, []string{"Harbour gate", "Gate"}, []string{list[0].Door, list[1].Door})

	// The same place in the log with other contents: both are kept, and it is an alarm, once.
	other := link.Logged{Seq: 1, Event: json.RawMessage(`{"kind":"forced","door":1}`)}
	for range 2 {
		require.NoError(t, s.take(&unit{id: c.ID}, link.Events{
			Log: "l", Image: sent.Root(), Events: []link.Logged{other, event(1)},
		}))
	}
	list, err = s.Store.Events(ctx, store.EventFilter{Limit: 10})
	require.NoError(t, err)
	require.Len(t, list, 4)
	alarms := 0
	for _, e := range list {
		if e.Kind == "log-conflict" {
			alarms++
			assert.True(t, e.Alarm)
			assert.Contains(t, e.Detail, "both are kept")
		}
	}
	assert.Equal(t, 1, alarms)
}

// A card that a controller does not know is told as whose it is, and what is wrong; one that is lost or stolen is an
// alarm.
func TestCardsThatAControllerDoesNotKnow(t *testing.T) {
	held := func(n uint64, s site.CredentialStatus) site.Credential {
		return site.Credential{Kind: site.Card, Format: "26-bit", Value: fmt.Sprintf("42-%05d", n), Status: s}
	}
	b := prove.NewBook(&site.Config{
		Settings:    site.DefaultSettings(),
		Controllers: []site.Controller{{ID: 9, Name: "Riser"}},
		Doors: []site.Door{
			{ID: 1, Name: "Gate", Port: 1, ControllerID: 9, PlanID: 20, Hardware: site.UsualHardware()},
			{ID: 2, Name: "Shed", Port: 2, ControllerID: 9, PlanID: 20, Hardware: site.UsualHardware()},
		},
		Plans: []site.Plan{{ID: 20, Name: "Day"}}, Schedules: []site.Schedule{{ID: 30, Name: "Hours", Week: hours.Always()}},
		Levels: []site.Level{{ID: 40, Name: "Crew", Entries: []site.Entry{site.At(1, 30)}}},
		People: []*site.Person{
			{ID: 50, Name: "Ada", Credentials: []site.Credential{held(1, site.Active), held(2, site.Lost), held(3, site.Stolen)}},
			{ID: 51, Name: "Ben", Credentials: []site.Credential{held(4, site.Active)}, Levels: []site.Grant{{LevelID: 40}}},
			{ID: 52, Name: "Cy", Credentials: []site.Credential{held(5, site.Active)}, Suspended: true},
		},
	}, map[site.ID]hours.Zone{9: {Name: "UTC"}})
	for name, c := range map[string]struct {
		number, door     int
		headline, person string
		detail           string
		alarm            bool
	}{
		"no level anywhere":     {1, 1, "Refused: no access level", "Ada", "", false},
		"lost":                  {2, 1, "Refused: card lost", "Ada", "", true},
		"stolen":                {3, 1, "Refused: card stolen", "Ada", "", true},
		"suspended":             {5, 1, "Refused: person suspended", "Cy", "", false},
		"a level, not for here": {4, 2, "Refused: no access level", "Ben", "", false},
		"not sent yet":          {4, 1, "Refused: card unknown", "Ben", "send to it", false},
		"nobody's":              {6, 1, "Refused: card unknown", "", "card 42-00006", false},
	} {
		t.Run(name, func(t *testing.T) {
			raw := fmt.Sprintf(
				`{"kind":"refused","reason":"card-unknown","door":%d,"mode":"card","format":"26-bit","facility":42,"number":%d,"checks":[{"kind":2,"ok":true},{"kind":3}]}`,
				c.door,
				c.number,
			)
			e := told(b, b, 9, "log", link.Logged{Seq: 1, Event: json.RawMessage(raw)})
			assert.Equal(t, c.headline, e.Headline)
			assert.Equal(t, c.person, e.Person)
			assert.Contains(t, e.Detail, c.detail)
			assert.Equal(t, c.alarm, e.Alarm)
			assert.Equal(t, raw, e.Raw, "as it came")
		})
	}
}

// A send in flight answers only what was asked before it began.
func TestAskedWhileSending(t *testing.T) {
	s := bare(t, Options{})
	place := site.Site{Name: "Pier", Zone: "UTC"}
	_, err := store.Put(ctx, s.Store, "test", &place, 0)
	require.NoError(t, err)
	c := site.Controller{Name: "Riser", SiteID: place.ID, Zone: "UTC", Ports: 4}
	_, err = s.Store.TakeIntoService(ctx, "test", &c, nil,
		store.Taking{Serial: "S", Address: "127.0.0.1:1", Key: make([]byte, 32)}, false)
	require.NoError(t, err)
	require.NoError(t, s.Store.Want(ctx, c.ID))
	begun, err := s.Store.LinkOf(ctx, c.ID)
	require.NoError(t, err)
	require.NoError(t, s.Store.Want(ctx, c.ID)) // pressed again, after another save
	require.NoError(t, s.Store.SetSent(ctx, "test", c.ID, "Riser", []byte("{}"), "h1", "{}", begun.Asked))
	l, err := s.Store.LinkOf(ctx, c.ID)
	require.NoError(t, err)
	assert.True(t, l.Wanted, "the second is still to be sent")
	require.NoError(t, s.Store.SetSent(ctx, "test", c.ID, "Riser", []byte("{}"), "h2", "{}", l.Asked))
	l, err = s.Store.LinkOf(ctx, c.ID)
	require.NoError(t, err)
	assert.False(t, l.Wanted)
}

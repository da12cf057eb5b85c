// Package demo is the Merrow Point Museum: an invented place with invented people, as a site file, and a past
// day of it that the core played through.
package demo

import (
	"cmp"
	"context"
	_ "embed"
	"errors"
	"fmt"
	"math/rand/v2"
	"net"
	"slices"
	"time"

	"amberkeystone/core/cards"
	"amberkeystone/core/hours"
	"amberkeystone/core/image"
	"amberkeystone/core/panel"
	"amberkeystone/core/point"
	"amberkeystone/core/prove"
	"amberkeystone/core/site"
	"amberkeystone/formats/sitefile"
	"amberkeystone/link"
	"amberkeystone/rack"
	"amberkeystone/server"
	"amberkeystone/store"
)

// Site is the demo as a site file.
//
//go:embed site.json
var Site []byte

// SignIn is the demo's sign-in. It is shown on the page, because the data is demo data.
var SignIn = server.DemoSignIn{Name: "Keeper", Password: "tide and lantern"}

// Rack returns the stand-ins of the demo: its controllers, and four that nobody has taken into service.
// Base is the port of the first; 0 lets the machine choose.
func Rack(base int) []rack.Spec {
	models := slices.Repeat([]string{"Stand-in 4"}, 8)
	models[4] = "Stand-in 8" // the lookout cupboard has the elevators too
	var out []rack.Spec
	for i, name := range append(models, "Stand-in 8", "Stand-in 1") {
		port := 0
		if base > 0 {
			port = base + i
		}
		m, _ := site.ModelNamed(name)
		out = append(out, rack.Spec{
			Serial: fmt.Sprintf("AK-%d", 1001+i), Model: m.Name, Ports: m.Doors, People: m.People,
			Address: fmt.Sprintf("127.0.0.1:%d", port),
		})
	}
	return out
}

// Load fills an empty database with the demo and takes its controllers into service. It does nothing where
// the database already holds a configuration.
func Load(ctx context.Context, st *store.Store, standIns rack.Client, now time.Time) error {
	if err := st.EnsureBasics(ctx); err != nil {
		return err
	}
	have, err := st.Load(ctx)
	if err != nil || len(have.Sites) > 0 {
		return err
	}
	key, err := st.Secret(ctx, "pin key")
	if err != nil {
		return err
	}
	c, err := sitefile.Parse(Site, key)
	if err != nil {
		return err
	}
	if err := st.Import(ctx, "demo", c); err != nil {
		return err
	}
	views, err := standIns.List()
	if err != nil {
		return err
	}
	for i := range c.Controllers {
		if err := adopt(ctx, st, standIns, &c.Controllers[i], views); err != nil {
			return err
		}
	}
	return pastDay(ctx, st, c, now)
}

// adopt takes a controller into service as two people would: one reads the code at the stand-in, the other here.
func adopt(ctx context.Context, st *store.Store, standIns rack.Client, c *site.Controller, views []rack.View) error {
	i := slices.IndexFunc(views, func(v rack.View) bool { return v.Serial == c.Serial })
	if i < 0 {
		return fmt.Errorf("the rack has no stand-in %s", c.Serial)
	}
	if views[i].Keyed {
		if _, err := standIns.Do(rack.Hand{Serial: c.Serial, Do: "reset"}); err != nil {
			return err
		}
	}
	seed, err := st.Secret(ctx, "identity")
	if err != nil {
		return err
	}
	identity, err := link.IdentityFrom(seed)
	if err != nil {
		return err
	}
	conn, err := net.Dial("tcp", views[i].Address)
	if err != nil {
		return err
	}
	defer conn.Close()
	got, err := link.Adopt(conn, identity)
	if err != nil {
		return err
	}
	seen, err := standIns.List()
	if err != nil {
		return err
	}
	if shows := seen[i].Code; shows != got.Code {
		return fmt.Errorf("%s shows the code %s, not %s", c.Serial, shows, got.Code)
	}
	_, err = st.TakeIntoService(
		ctx,
		"demo",
		c,
		nil,
		store.Taking{Serial: c.Serial, Address: views[i].Address, Key: got.Key[:], Identity: got.Identity},
		false,
	)
	return err
}

// moment is something that somebody does at a controller.
type moment struct {
	at hours.Instant
	in panel.Input
}

// pastDay plays the day before now at every controller, with the core itself, and stores what it said.
func pastDay(ctx context.Context, st *store.Store, c *site.Config, now time.Time) error {
	zones := map[site.ID]hours.Zone{}
	for _, x := range c.Controllers {
		loc, err := time.LoadLocation(x.Zone)
		if err != nil {
			return err
		}
		zones[x.ID] = hours.ZoneFrom(loc, hours.At(now.AddDate(0, 0, -10)), hours.At(now.AddDate(0, 0, 10)))
	}
	book := prove.NewBook(c, zones)
	var all []store.Event
	for i, x := range c.Controllers {
		z := zones[x.ID]
		day := z.Wall(hours.At(now)).Day - 1
		compiled := image.Build(c, x.ID, z, image.Secrets{}).Compile()
		p := panel.New(compiled, 0)
		keep := func(r panel.Result) error {
			for k := range r.Events {
				book.Recognise(&r.Events[k])
				e, err := server.Stored(book, x.ID, "day before", &r.Events[k])
				if err != nil {
					return err
				}
				e.StoredAt = e.At // it came at once
				all = append(all, e)
			}
			return nil
		}
		err := keep(p.Start(z.Resolve(day, 300)))
		for _, m := range script(c, book.Times(), x.ID, &z, day, rand.New(rand.NewPCG(uint64(i), 42))) {
			err = errors.Join(err, keep(p.Step(m.at, m.in)))
		}
		if err = errors.Join(err, keep(p.Step(z.Resolve(day, 1439), panel.Input{}))); err != nil {
			return err
		}
	}
	slices.SortStableFunc(all, func(a, b store.Event) int { return cmp.Compare(a.At, b.At) })
	_, err := st.AddEvents(ctx, all, func(e store.Event) store.Event { return e })
	return err
}

// script has people come to the doors of their levels, and a few who should not, one door held and one forced.
func script(
	c *site.Config,
	times *site.Timetable,
	controller site.ID,
	z *hours.Zone,
	day hours.Day,
	r *rand.Rand,
) []moment {
	var out []moment
	at := func(minute int) hours.Instant {
		return z.Resolve(day, minute).Add(time.Duration(r.IntN(60)) * time.Second)
	}
	add := func(t hours.Instant, in panel.Input) { out = append(out, moment{t, in}) }
	line := func(t hours.Instant, at point.Address, w point.Wire, active bool) {
		add(t, panel.Input{Kind: panel.Reading, Point: at, Circuit: w.Circuit(active)})
	}
	leaf := func(t hours.Instant, d *site.Door, open bool) { line(t, d.Terminals().Contact, d.ContactWire(), open) }
	busy := map[int][]hours.Instant{}
	through := func(t hours.Instant, d *site.Door, bits cards.Bits, open time.Duration) {
		for _, u := range busy[d.Port] {
			if t.Sub(u).Abs() < 30*time.Second { // somebody else is in the doorway
				return
			}
		}
		busy[d.Port] = append(busy[d.Port], t)
		add(t, panel.Input{Kind: panel.Read, Point: d.Terminals().In, Bits: bits})
		if open == 0 {
			return
		}
		leaf(t.Add(2*time.Second), d, true)
		leaf(t.Add(2*time.Second+open), d, false)
	}
	// ride presents a card in a car and, where its buttons are wired back, presses one of the floors that it may reach.
	ride := func(t hours.Instant, d *site.Door, bits cards.Bits, stops *site.StopSet) {
		add(t, panel.Input{Kind: panel.Read, Point: d.Terminals().In, Bits: bits})
		list := stops.List()
		if len(list) == 0 {
			return
		}
		if at, ok := d.Car.Button(d.Car.Stops[list[r.IntN(len(list))]].Relay); ok {
			line(t.Add(2*time.Second), at, point.Wire{}, true)
			line(t.Add(3*time.Second), at, point.Wire{}, false)
		}
	}
	levels, places, effective := map[site.ID]*site.Level{}, site.NewPlaces(c), c.Effective()
	for i := range effective.Levels {
		levels[effective.Levels[i].ID] = &effective.Levels[i]
	}
	doors := map[site.ID]*site.Door{}
	var mine []*site.Door
	for i := range c.Doors {
		if c.Doors[i].ControllerID == controller {
			doors[c.Doors[i].ID] = &c.Doors[i]
			mine = append(mine, &c.Doors[i])
		}
	}
	for _, p := range effective.People {
		if len(p.Credentials) == 0 || len(p.Levels) == 0 || r.IntN(3) == 0 {
			continue
		}
		facility, number, ok := p.Credentials[0].Card()
		if !ok {
			continue
		}
		bits, err := cards.ByName(p.Credentials[0].Format).Encode(facility, number)
		if err != nil {
			continue
		}
		start := 0
		if len(p.DepartmentIDs) > 0 {
			start = map[string]int{"Night watch": 1270, "Cleaning crew": 1075}[c.Department(p.DepartmentIDs[0]).Name]
		}
		start = cmp.Or(start, 500)
		for i, e := range places.Entries(levels[p.Levels[0].LevelID]) {
			if d := doors[e.DoorID]; d != nil && r.IntN(2) == 0 {
				// A door that stays locked stays shut: nobody but one in the script forces one.
				t := at(min(start+i*7+r.IntN(60), 1430))
				if d.Car != nil {
					ride(t, d, bits, &e.Stops)
					continue
				}
				line := times.Door(d.ID)
				if m := line.At(t); m.Mode == hours.Card && times.Schedules[e.ScheduleID].OpenAt(line.Local, t) &&
					!p.Suspended &&
					p.Credentials[0].Status == site.Active &&
					p.Until == "" &&
					!p.AlwaysPIN {
					through(t, d, bits, 4*time.Second)
				} else {
					through(t, d, bits, 0)
				}
			}
		}
	}
	if bits, err := cards.Standard26.Encode(42, 55001); err == nil {
		through(at(700), mine[0], bits, 0)
		last := slices.IndexFunc(mine, func(d *site.Door) bool { return d.Car != nil })
		if last < 0 {
			last = len(mine)
		}
		through(at(810), mine[last-1], bits.Flip(20), 0)
	}
	for _, d := range mine {
		switch d.Name {
		case "Reading room": // propped open
			t := at(840)
			line(t, d.Terminals().Exit, d.ExitWire(), true)
			line(t.Add(time.Second), d.Terminals().Exit, d.ExitWire(), false)
			leaf(t.Add(2*time.Second), d, true)
			leaf(t.Add(8*time.Minute), d, false)
		case "Sail loft": // forced
			t := at(1190)
			leaf(t, d, true)
			leaf(t.Add(3*time.Minute), d, false)
		}
	}
	slices.SortStableFunc(out, func(a, b moment) int { return cmp.Compare(a.at, b.at) })
	return out
}

// Unsent makes a small change after everything was sent, so that Send has something to show.
func Unsent(ctx context.Context, st *store.Store) error {
	c, err := st.Load(ctx)
	if err != nil {
		return err
	}
	for _, d := range c.Doors {
		if d.Name != "Loading dock" {
			continue
		}
		v, err := store.Get[site.Door](ctx, st, d.ID)
		if err != nil {
			return err
		}
		v.Value.Unlock = 40
		_, err = store.Put(ctx, st, "demo", &v.Value, v.Rev)
		return err
	}
	return nil
}

package image

import (
	"slices"
	"time"

	"amberkeystone/core/access"
	"amberkeystone/core/asks"
	"amberkeystone/core/cards"
	"amberkeystone/core/door"
	"amberkeystone/core/elevator"
	"amberkeystone/core/hours"
	"amberkeystone/core/pass"
	"amberkeystone/core/rules/alarmarea"
	"amberkeystone/core/rules/fire"
	"amberkeystone/core/rules/firstcard"
	"amberkeystone/core/rules/holds"
	"amberkeystone/core/rules/interlock"
	"amberkeystone/core/rules/keypad"
	"amberkeystone/core/rules/lockdown"
	"amberkeystone/core/rules/passback"
	"amberkeystone/core/rules/proofs"
	"amberkeystone/core/rules/screening"
	"amberkeystone/core/rules/toggle"
	"amberkeystone/core/site"
)

// Place is a door at work: the parts that follow its facts, and the gates of each side. A controller has one for each
// of its doors.
type Place struct {
	ID   site.ID
	Door *door.Door
	Asks *asks.Part
	Hold *holds.Hold
	Car  *elevator.Car   // of an elevator; of a door it does nothing
	Keys [2]*keypad.Lock // of the reader in, and of the reader out
	// Parts in the order in which they follow a fact, and are woken where several are due at one instant.
	Parts []Slot
	// Gates of the side of the reader in, and of the reader out, in the order of design 3.5.
	Gates [2]pass.Gates
	down  *lockdown.Lockdown
	fire  *fire.Release
	lock  *interlock.Part
	areas *passback.Part
	clear *screening.Part
	typed *keypad.HolderPart
	alarm *alarmarea.Area // nil: it belongs to none

	together [2]*proofs.Part
}

// Side returns the gates of the reader in, or of the reader out.
func (p *Place) Side(out bool) pass.Gates {
	if out {
		return p.Gates[1]
	}
	return p.Gates[0]
}

// Slot is a part with the name under which what it remembers is kept.
type Slot struct {
	Name string
	pass.Part
}

// Lay lays out all doors of a controller, ties those together that know of each other, and what hears every event.
func (c *Compiled) Lay() (doors []*Place, common []Slot) {
	areas := c.alarmAreas()
	doors = c.places(areas)
	return doors, []Slot{{"alarm areas", c.watch(areas, doors)}, {"reactions", c.reactions()}}
}

func (c *Compiled) places(watched []*alarmarea.Area) []*Place {
	out := make([]*Place, len(c.Doors))
	areas, desk := passback.NewAreas(c.Controller, c.Rules.Areas), screening.NewDesk(c.Controller, c.Rules.Screenings)
	holders := keypad.NewHolders(&c.Settings)
	for i := range out {
		out[i] = c.placeWith(i, holders, areaOf(watched, c.Doors[i].ID))
		out[i].areas.Areas, out[i].areas.First = areas, i == 0
		out[i].clear.Desk, out[i].clear.First = desk, i == 0
	}
	for i := range c.Rules.Interlocks {
		set := &interlock.Set{Rule: &c.Rules.Interlocks[i]}
		for _, p := range out {
			if slices.Contains(set.Rule.DoorIDs, p.ID) {
				p.lock.Join(set)
				p.Door.Bound = p.lock
			}
		}
	}
	for i := range c.Rules.Emergencies {
		e := &c.Rules.Emergencies[i]
		ready := &lockdown.Ready{Emergency: &e.Emergency}
		for k, p := range out {
			if e.Does == site.Lockdown && slices.Contains(e.DoorIDs, p.ID) {
				ready.Places = append(ready.Places, k)
				p.down.Ready = append(p.down.Ready, ready)
			}
		}
	}
	return out
}

// Emergencies lists the lockdowns and fire releases that are on at the door, by the rule that began them; 0: by hand.
func (p *Place) Emergencies() []site.ID { return append(slices.Clone(p.down.By()), p.fire.By()...) }

// Tell lets the door know who is cleared.
func (p *Place) Tell(list []pass.Clearance) {
	for _, c := range list {
		p.clear.Desk.Book.Put(c)
	}
}

// LockedCards lists whose cards wrong PINs locked at the door, and until when.
func (p *Place) LockedCards(now hours.Instant) []keypad.Locked { return p.typed.Holders.At(p.ID, now) }

// Awaiting lists the people who wait at the door for an operator's word, and until when.
func (p *Place) Awaiting() (people []site.ID, until hours.Instant) {
	for _, side := range p.together {
		if people, until = side.Awaiting(); people != nil {
			break
		}
	}
	return people, until
}

// areaOf finds the alarm area of a door, or nil.
func areaOf(areas []*alarmarea.Area, door site.ID) *alarmarea.Area {
	for _, a := range areas {
		if slices.Contains(a.Rule.DoorIDs, door) {
			return a
		}
	}
	return nil
}

// Place lays out door i anew, as nobody has been there yet; its alarm area is as its schedule wants it. A new rule is a
// line in it.
func (c *Compiled) Place(i int) *Place {
	area := c.alarmArea(c.Doors[i].ID)
	if area != nil {
		area.Supposed = true
	}
	return c.placeWith(i, keypad.NewHolders(&c.Settings), area)
}

func (c *Compiled) placeWith(i int, holders *keypad.Holders, area *alarmarea.Area) *Place {
	d := &c.Doors[i]
	table := c.Table
	machine, car := &door.Door{Config: d}, c.car(i)
	first := &firstcard.Part{Line: c.Lines[i], Rule: &d.FirstCard, MayOpen: table.MayOpen}
	in, out := c.keypad(i, false), c.keypad(i, true)
	release, down, hold := fire.New(d.Wired().Lock), lockdown.New(), &holds.Hold{}
	plan := append(asks.Layers{asks.Dated{Line: c.Lines[i]}}, first.Layers()...)
	flip := &toggle.Toggle{
		Rule: d.Toggle, Below: plan, May: func(p *pass.Pass) bool { return table.Holds(p, access.Toggles) },
	}
	down.May = func(p *pass.Pass) bool { return table.Holds(p, access.LocksDown) }
	p := &Place{
		ID: d.ID, down: down, fire: release, Door: machine, Car: car, Hold: hold, Keys: [2]*keypad.Lock{in.lock, out.lock},
		alarm: area,
	}
	below := append(asks.Layers{hold, flip}, plan...)
	p.Asks = &asks.Part{Layers: append(asks.Layers{release, down, alarmarea.Layer{Area: area, Below: below}}, below...)}
	p.lock = &interlock.Part{Place: i, Door: d.ID, Leaf: machine, Fire: release.On}
	p.areas = &passback.Part{
		Areas: passback.NewAreas(c.Controller, c.Rules.Areas), Line: c.Lines[i], Outside: d.OutsideAreaID,
		Inside: d.InsideAreaID,
	}
	p.clear = &screening.Part{
		Desk: screening.NewDesk(c.Controller, c.Rules.Screenings), Zone: c.Zone, Door: d.ID, Rides: d.Car != nil,
		Under: table.Under,
	}
	p.together = [2]*proofs.Part{c.proofs(i, false), c.proofs(i, true)}
	p.typed = &keypad.HolderPart{Holders: holders, Door: d.ID, First: i == 0}
	p.Parts = []Slot{
		{"door", machine}, {"entry in", in.entry}, {"entry out", out.entry}, {"in", in.lock}, {"out", out.lock},
		{"first", first}, {"fire", release}, {"lockdown", down}, {"hold", hold}, {"toggle", flip}, {"asks", p.Asks},
		{"areas", p.areas}, {"interlock", p.lock}, {"together in", p.together[0]}, {"together out", p.together[1]},
		{"screening", p.clear}, {"cards", p.typed}, {"help", &keypad.Help{Calls: table.CallsForHelp}}, {"car", car},
	}
	for side := range p.Gates {
		p.Gates[side] = c.gates(p, i, side, first)
	}
	return p
}

// car lays out the floors of an elevator.
func (c *Compiled) car(i int) *elevator.Car {
	d := &c.Doors[i]
	out := &elevator.Car{Config: d, Local: c.Lines[i].Local}
	if d.Car == nil {
		return out
	}
	out.Free = make([]*hours.Schedule, len(d.Car.Stops))
	for k, s := range d.Car.Stops {
		if s.FreeID != 0 {
			out.Free[k] = c.timetable(s.FreeID)
		}
	}
	return out
}

// gates lists the checks of one side of door i, in the order of design 3.5: those that have something to check there.
func (c *Compiled) gates(p *Place, i, side int, first *firstcard.Part) (list pass.Gates) {
	d, table, lock := &c.Doors[i], c.Table, p.Keys[side]
	add := func(there bool, g pass.Gate) {
		if there {
			list = append(list, g)
		}
	}
	screened := side == 0 && len(c.Rules.Screenings) > 0
	add(true, access.ReaderGate{Table: table})
	add(true, access.CardGate{Table: table})
	add(lock.Keys, keypad.Gate{Lock: lock, Alone: true})
	add(true, access.PersonGate{Table: table})
	add(lock.Keys, keypad.Gate{Lock: lock})
	add(p.typed.Holders != nil, keypad.HolderGate{Holders: p.typed.Holders})
	add(screened, screening.Look{Part: p.clear, Table: table})
	add(true, access.BarredGate{Table: table})
	add(firstcard.Waits(c.Lines[i], &d.FirstCard), firstcard.Gate{Part: first})
	add(screened, screening.Gate{})
	add(true, access.ProofGate{Table: table})
	add(true, access.LevelsGate{Table: table})
	add(p.alarm != nil && side == 0, alarmarea.Gate{
		Area: p.alarm, Disarms: func(p *pass.Pass) bool { return table.Counts(p, access.Disarms) },
	})
	add(d.OutsideAreaID != d.InsideAreaID, passback.Gate{Part: p.areas, Together: p.together[side].SeveralPeople})
	add(c.interlocked(d.ID), interlock.Gate{Part: p.lock})
	add(len(p.together[side].Rules) > 0, proofs.Gate{Part: p.together[side]})
	return list
}

func (c *Compiled) interlocked(door site.ID) bool {
	return slices.ContainsFunc(c.Rules.Interlocks, func(x site.Interlock) bool { return slices.Contains(x.DoorIDs, door) })
}

// proofs lays out where one proof is not enough, at one side of a door.
func (c *Compiled) proofs(i int, out bool) *proofs.Part {
	d, line := &c.Doors[i], c.Lines[i]
	p := &proofs.Part{
		Out: out, Place: i, Local: line.Local,
		Approves: func(p *pass.Pass) bool { return c.Table.Holds(p, access.Approves) },
	}
	for k := range c.Rules.Proofs {
		x := &c.Rules.Proofs[k]
		if !slices.Contains(x.DoorIDs, d.ID) || out && !x.Both {
			continue
		}
		p.Rules = append(p.Rules, proofs.Rule{Proofs: x, Schedule: c.timetable(x.ScheduleID), Groups: c.members})
	}
	return p
}

type keyboard struct {
	entry *keypad.Entry
	lock  *keypad.Lock
}

// keypad lays out one reader and its keys.
func (c *Compiled) keypad(i int, out bool) keyboard {
	reader := c.Doors[i].In
	if out {
		reader = c.Doors[i].Out
	}
	hasKeys := reader.Fitted && reader.Keypad
	return keyboard{
		&keypad.Entry{
			Door: i, Out: out, Fitted: reader.Fitted, Keys: hasKeys, Digits: c.PINDigits,
			Time: time.Duration(c.Settings.CardWithPIN) * time.Second,
			Hash: func(pin string) cards.PINHash { return cards.HashPIN(c.PINKey, pin) },
		},
		&keypad.Lock{
			Out: out, Keys: hasKeys, Tries: c.Settings.PINTries,
			Length: time.Duration(c.Settings.PINLock) * time.Minute, Cards: c.Settings.PINLocks == site.LocksCard,
		},
	}
}

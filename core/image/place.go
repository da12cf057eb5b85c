package image

import (
	"slices"
	"time"

	"amberkeystone/core/access"
	"amberkeystone/core/asks"
	"amberkeystone/core/cards"
	"amberkeystone/core/door"
	"amberkeystone/core/pass"
	"amberkeystone/core/rules/fire"
	"amberkeystone/core/rules/firstcard"
	"amberkeystone/core/rules/holds"
	"amberkeystone/core/rules/interlock"
	"amberkeystone/core/rules/keypad"
	"amberkeystone/core/rules/lockdown"
	"amberkeystone/core/rules/passback"
	"amberkeystone/core/rules/proofs"
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
	Keys [2]*keypad.Lock // of the reader in, and of the reader out
	// Parts in the order in which they follow a fact, and are woken where several are due at one instant.
	Parts []Slot
	// Gates of the side of the reader in, and of the reader out, in the order of design 3.5.
	Gates [2]pass.Gates
	lock  *interlock.Part
	areas *passback.Part
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

// Places lays out all doors of a controller, and ties those together that know of each other.
func (c *Compiled) Places() []*Place {
	out := make([]*Place, len(c.Doors))
	areas := passback.NewAreas(c.Controller, c.Rules.Areas)
	for i := range out {
		out[i] = c.Place(i)
		out[i].areas.Areas, out[i].areas.First = areas, i == 0
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
	return out
}

// Place lays out door i anew, as nobody has been there yet. A new rule is a line in it.
func (c *Compiled) Place(i int) *Place {
	d := &c.Doors[i]
	table := c.Table
	machine := &door.Door{Config: d}
	first := &firstcard.Part{Line: c.Lines[i], Rule: &d.FirstCard, MayOpen: table.MayOpen}
	in, out := c.keypad(i, false), c.keypad(i, true)
	release, down, hold := fire.New(d.Wired().Lock), lockdown.New(), &holds.Hold{}
	plan := append(asks.Layers{asks.Dated{Line: c.Lines[i]}}, first.Layers()...)
	flip := &toggle.Toggle{Rule: d.Toggle, Below: plan, May: func(p *pass.Pass) bool { return table.Holds(p, access.Toggles) }}
	p := &Place{ID: d.ID, Door: machine, Hold: hold, Keys: [2]*keypad.Lock{in.lock, out.lock}, Asks: &asks.Part{Layers: append(asks.Layers{release, down, hold, flip}, plan...)}}
	p.lock = &interlock.Part{Place: i, Door: d.ID, Leaf: machine, Fire: release.On}
	p.areas = &passback.Part{
		Areas: passback.NewAreas(c.Controller, c.Rules.Areas), Line: c.Lines[i], Outside: d.OutsideAreaID, Inside: d.InsideAreaID,
	}
	together := [2]*proofs.Part{c.proofs(i, false), c.proofs(i, true)}
	p.Parts = []Slot{
		{"door", machine}, {"entry in", in.entry}, {"entry out", out.entry}, {"in", in.lock}, {"out", out.lock},
		{"first", first}, {"fire", release}, {"lockdown", down}, {"hold", hold}, {"toggle", flip}, {"asks", p.Asks},
		{"areas", p.areas}, {"interlock", p.lock}, {"together in", together[0]}, {"together out", together[1]},
		{"help", &keypad.Help{Calls: table.CallsForHelp}},
	}
	waits := firstcard.Waits(c.Lines[i], &d.FirstCard)
	for side, lock := range []*keypad.Lock{in.lock, out.lock} {
		gates := pass.Gates{access.ReaderGate{Table: table}, access.CardGate{Table: table}}
		if lock.Keys {
			gates = append(gates, keypad.Gate{Lock: lock, Alone: true})
		}
		gates = append(gates, access.PersonGate{Table: table})
		if lock.Keys {
			gates = append(gates, keypad.Gate{Lock: lock})
		}
		gates = append(gates, access.BarredGate{Table: table})
		if waits {
			gates = append(gates, firstcard.Gate{Part: first})
		}
		gates = append(gates, access.ProofGate{Table: table}, access.LevelsGate{Table: table})
		if d.OutsideAreaID != d.InsideAreaID {
			gates = append(gates, passback.Gate{Part: p.areas, Together: together[side].SeveralPeople})
		}
		if c.interlocked(d.ID) {
			gates = append(gates, interlock.Gate{Part: p.lock})
		}
		if len(together[side].Rules) > 0 {
			gates = append(gates, proofs.Gate{Part: together[side]})
		}
		p.Gates[side] = gates
	}
	return p
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
			Length: time.Duration(c.Settings.PINLock) * time.Minute,
		},
	}
}

// Package panel is one controller: an image, and inputs in the order of time, give outputs and events. It is a kernel
// that knows no rule: a clock, an agenda of who is to be woken when, a queue of facts, and the outputs. What stands at
// each door, its parts and the gates of its sides, is laid out by package image (image.Place).
//
// A step first does whatever fell due before it, each thing at its own instant. Then its input becomes facts; parts
// follow them and tell more, until none is left. A person's attempt is put to the gates of the side; the outcome is a
// fact again. At last every output that a touched place claims is worked out, and differences are given.
//
// Reading order: input.go, panel.go, queue.go, outputs.go.
package panel

import (
	"slices"
	"strconv"
	"time"

	"amberkeystone/core/hours"
	"amberkeystone/core/image"
	"amberkeystone/core/pass"
	"amberkeystone/core/point"
	"amberkeystone/core/site"
)

// Panel is a controller at work. It is not safe for concurrent use.
type Panel struct {
	c      *image.Compiled
	now    hours.Instant
	seq    uint64
	places []*image.Place
	common []image.Slot // that hear every event
	roles  map[point.Address]role
	faults map[point.Address]point.Level // wires that are in trouble
	agenda agenda
	slots  int // parts of each place

	do      pass.Effects // the queue
	touched []int        // places to look at when the queue is empty
	dirty   []bool
	hear    bool // what hears every event has heard one

	passes []*asked // of this step, used anew in the next
	asking int      // how many of them are taken
	due    pass.Fact

	active map[point.Address]bool          // named inputs that are
	pulses map[point.Address]hours.Instant // outputs that are tried, and until when

	claimants [][]pass.Claimant // of each place
	wants     []want            // scratch of settleOutputs
	claim     func(out point.Address, rank point.Rank, on bool)
	wanted    map[point.Address]bool // what is wanted of each output
	told      map[point.Address]bool // what each output was last told
	outputs   []Output
	events    []pass.Fact
}

// role is what a point is for.
type role struct {
	place int
	kind  pass.Kind // CardRead, ContactIs or ExitIs
	out   bool
	wire  point.Wire
	named *site.Input // of InputIs
	stop  int         // of ButtonIs
}

// New returns a controller that holds an image, with its doors closed and locked. Seq is the number of the last event
// it ever gave. Start it before the first step.
func New(c *image.Compiled, seq uint64) *Panel {
	p := &Panel{seq: seq, told: map[point.Address]bool{}, wanted: map[point.Address]bool{},
		faults: map[point.Address]point.Level{}, active: map[point.Address]bool{}, pulses: map[point.Address]hours.Instant{}}
	p.claim = p.takeClaim
	p.lay(c)
	return p
}

// lay lays out the places of an image.
func (p *Panel) lay(c *image.Compiled) {
	p.c = c
	p.places, p.common = c.Lay()
	p.claimants = make([][]pass.Claimant, len(c.Doors))
	p.roles = make(map[point.Address]role, 4*len(c.Doors))
	for i := range c.Doors { // a reader that is there and not in use is refused as that, unless another door has it
		w := c.Doors[i].Terminals()
		p.roles[w.In] = role{place: i, kind: pass.CardRead}
		p.roles[w.Out] = role{place: i, kind: pass.CardRead, out: c.Doors[i].Car == nil}
	}
	for i := range c.Doors {
		p.slots = len(p.places[i].Parts)
		for _, s := range p.places[i].Parts {
			if c, ok := s.Part.(pass.Claimant); ok {
				p.claimants[i] = append(p.claimants[i], c)
			}
		}
		d := &c.Doors[i]
		w := d.Wired()
		p.roles[w.In] = role{place: i, kind: pass.CardRead}
		p.roles[w.Out] = role{place: i, kind: pass.CardRead, out: d.Car == nil}
		p.layButtons(i, d)
		p.roles[w.Contact] = role{place: i, kind: pass.ContactIs, wire: d.ContactWire()}
		p.roles[w.Exit] = role{place: i, kind: pass.ExitIs, wire: d.ExitWire()}
	}
	for i := range c.Inputs {
		in := &c.Inputs[i]
		p.roles[in.At] = role{place: everywhere, kind: pass.InputIs, wire: in.Wire(), named: in}
	}
	delete(p.roles, point.Address{}) // of what is not fitted
	p.agenda = newAgenda(len(p.places)*p.slots + len(p.common))
	p.dirty = make([]bool, len(p.places))
	p.touched = p.touched[:0]
}

// driven tells what somebody wants of named outputs.
func (p *Panel) driven(now hours.Instant, in *Input) {
	for i := range p.c.Outputs {
		o := &p.c.Outputs[i]
		if !slices.Contains(in.Outputs, o.ID) {
			continue
		}
		f := pass.Fact{At: now, Kind: pass.OutputLet, Point: o.At.String(), Rule: in.Rule}
		if in.Kind == Drive {
			f.Kind, f.Active = pass.OutputAsked, in.On
			if in.By > 0 {
				f.Next = now.Add(in.By)
			}
		}
		p.tell(everywhere, f)
	}
}

// layButtons gives the floor buttons of a car their role. A button closes its circuit while it is pressed.
func (p *Panel) layButtons(i int, d *site.Door) {
	if d.Car == nil || d.OutOfUse {
		return
	}
	for k, s := range d.Car.Stops {
		if at, ok := d.Car.Button(s.Relay); ok {
			p.roles[at] = role{place: i, kind: pass.ButtonIs, stop: k}
		}
	}
}

// Start gives the first events after a restart: started, then what each door asks (common practice).
func (p *Panel) Start(now hours.Instant) Result {
	p.begin()
	p.now = now
	p.tell(everywhere, pass.Fact{At: now, Kind: pass.Started})
	p.settle()
	p.advance(now)
	return p.result()
}

// Load takes a new image while at work. Doors that it still has keep their state, whatever terminals they are on now;
// what is under way at the others ends.
func (p *Panel) Load(now hours.Instant, c *image.Compiled, hash string) Result {
	p.begin()
	p.advance(now)
	kept := map[site.ID]bool{}
	for i := range c.Doors {
		kept[c.Doors[i].ID] = true
	}
	was := map[site.ID]*image.Place{}
	for i, old := range p.places {
		if kept[old.ID] {
			was[old.ID] = old
			continue
		}
		p.do.Place = i
		for _, s := range old.Parts {
			s.Retire(now, &p.do)
		}
	}
	p.settle()
	heard := p.common
	p.lay(c)
	for i, place := range p.places {
		old := was[place.ID]
		if old == nil {
			continue
		}
		p.do.Place = i
		for k := range place.Parts {
			place.Parts[k].Take(now, old.Parts[k].Part, &p.do)
		}
		p.settle()
	}
	for k := range p.common {
		p.do.Place = everywhere
		p.common[k].Take(now, heard[k].Part, &p.do)
	}
	p.tell(everywhere, pass.Fact{At: now, Kind: pass.ImageLoaded, Note: hash})
	p.settle()
	p.lockUnused()
	return p.result()
}

// Seq returns the number of the last event.
func (p *Panel) Seq() uint64 { return p.seq }

// Step takes one input at an instant and returns what follows from it. It first does whatever fell due before now. The
// same image and inputs give the same events, to the byte.
func (p *Panel) Step(now hours.Instant, in Input) Result {
	p.begin()
	if in.Kind == ClockMoved {
		p.clockMoved(now, in.By)
		return p.result()
	}
	now = max(now, p.now)
	p.advance(now)
	p.take(now, &in)
	p.settle()
	return p.result()
}

// take turns an input into facts.
func (p *Panel) take(now hours.Instant, in *Input) {
	switch in.Kind {
	case Network:
		kind := pass.NetworkLost
		if in.On {
			kind = pass.NetworkBack
		}
		p.tell(everywhere, pass.Fact{At: now, Kind: kind})
	case LogLost:
		p.tell(everywhere, pass.Fact{At: now, Kind: pass.LogDamaged, Note: strconv.Itoa(in.Lines)})
	case Read, Key:
		r, ok := p.roles[in.Point]
		if !ok || r.kind != pass.CardRead {
			return
		}
		kind := pass.CardRead
		if in.Kind == Key {
			kind = pass.KeyPressed
		}
		p.tell(r.place, pass.Fact{At: now, Kind: kind, Out: r.out, Raw: in.Bits, Read: in.Shown, Key: in.Key})
	case Reading:
		p.reading(now, in)
	case Told:
		place := everywhere
		if r, ok := p.roles[in.Point]; ok && r.kind == pass.CardRead {
			place = r.place
			p.tell(place, pass.Fact{At: now, Kind: in.Tells, Out: r.out, Point: in.Point.String()})
			return
		}
		p.tell(place, pass.Fact{At: now, Kind: in.Tells, Point: in.Point.String()})
	case Pulse:
		p.pulses[in.Point] = now.Add(in.By)
		p.drive(in.Point, p.wanted[in.Point])
	case Whereabouts:
		p.tell(everywhere, pass.Fact{At: now, Kind: pass.PlacesTold, Places: in.Places})
	case Cleared:
		p.tell(everywhere, pass.Fact{At: now, Kind: pass.ClearancesTold, Cleared: in.Clearances})
	case Arm:
		p.tell(everywhere, pass.Fact{
			At: now, Kind: pass.AlarmAsked, Active: in.On, Rule: in.Rule, Left: in.Left, Note: in.Note,
		})
	case Drive, LetGo:
		p.driven(now, in)
	default:
		p.ordered(now, in)
	}
}

// ordered takes what an operator wants of doors.
func (p *Panel) ordered(now hours.Instant, in *Input) {
	switch in.Kind {
	case Lift:
		p.order(in.Doors, pass.Fact{At: now, Kind: pass.LiftAsked, Note: in.Note})
	case Confirm:
		p.order(in.Doors, pass.Fact{At: now, Kind: pass.ConfirmAsked, Active: in.On, Note: in.Note})
	case Release:
		p.order(in.Doors, pass.Fact{At: now, Kind: pass.ReleaseAsked, Note: in.Note, Floors: in.Floors})
	case Louder:
		p.order(in.Doors, pass.Fact{At: now, Kind: pass.LoudAsked, Active: in.On, Next: now.Add(in.By), Note: in.Note})
	case Hold:
		p.order(in.Doors, pass.Fact{
			At: now, Kind: pass.HoldAsked, Active: in.On, Mode: in.Mode, Next: in.Until, Note: in.Note,
		})
	case Lockdown:
		p.order(in.Doors, pass.Fact{At: now, Kind: pass.LockdownAsked, Active: in.On, Note: in.Note, Rule: in.Rule})
	case Fire:
		p.order(in.Doors, pass.Fact{At: now, Kind: pass.FireAsked, Active: in.On, Note: in.Note, Rule: in.Rule})
	}
}

// reading tells what an input's circuit means. Of a wire in trouble only that is told: what it leads to stays as it
// was.
func (p *Panel) reading(now hours.Instant, in *Input) {
	at := in.Point
	r, ok := p.roles[at]
	if !ok || r.kind == pass.CardRead {
		return
	}
	level := r.wire.Level(in.Circuit)
	if was := p.faults[at]; level.Fault() && level != was {
		p.faults[at] = level
		kind := pass.WireCut
		if level == point.Shorted {
			kind = pass.WireShorted
		}
		p.tell(r.place, pass.Fact{At: now, Kind: kind, Point: at.String()})
	} else if was.Fault() && !level.Fault() {
		delete(p.faults, at)
		p.tell(r.place, pass.Fact{At: now, Kind: pass.WireSound, Point: at.String()})
	}
	switch {
	case level.Fault():
	case r.named != nil:
		if in.Found {
			p.tell(everywhere, pass.Fact{At: now, Kind: pass.InputIs, Active: level == point.Active, Input: r.named.ID})
		}
		p.named(now, r.named, level == point.Active)
	default:
		p.tell(r.place, pass.Fact{At: now, Kind: r.kind, Active: level == point.Active, Stop: r.stop})
	}
}

// named tells that a named input has changed, and begins what it is for. That ends on purpose, not when the input is at
// rest again.
func (p *Panel) named(now hours.Instant, in *site.Input, active bool) {
	if p.active[in.At] == active {
		return
	}
	p.active[in.At] = active
	f := pass.Fact{At: now, Kind: pass.InputRest, Point: in.At.String(), Input: in.ID}
	if active {
		f.Kind = pass.InputActive
	}
	p.tell(everywhere, f)
	asked := pass.Fact{At: now, Active: true, Rule: in.EmergencyID, Input: in.ID, Point: f.Point}
	switch {
	case active && in.Use == site.InputFire:
		asked.Kind = pass.FireAsked
	case active && in.Use == site.InputLockdown:
		asked.Kind = pass.LockdownAsked
	default:
		return
	}
	doors := in.DoorIDs
	if in.EmergencyID != 0 {
		if doors = p.c.Rules.EmergencyDoors(in.EmergencyID); len(doors) == 0 {
			return // its doors are at other controllers, whom the server tells
		}
	}
	p.order(doors, asked)
}

// order tells the places of some doors, or of all, what somebody wants of them.
func (p *Panel) order(doors []site.ID, f pass.Fact) {
	chosen := map[site.ID]bool{}
	for _, d := range doors {
		chosen[d] = true
	}
	for i, place := range p.places { // doors of other controllers are theirs
		if len(doors) == 0 || chosen[place.ID] {
			p.tell(i, f)
		}
	}
}

func (p *Panel) clockMoved(now hours.Instant, by time.Duration) {
	p.now = now
	for at := range p.pulses {
		p.pulses[at] += hours.Instant(by / time.Millisecond)
	}
	for _, place := range p.places {
		for _, s := range place.Parts {
			s.Shift(by)
		}
	}
	for _, s := range p.common {
		s.Shift(by)
	}
	p.tell(everywhere, pass.Fact{At: now, Kind: pass.ClockSet, Note: by.Round(time.Second).String()})
	p.settle()
}

func (p *Panel) begin() { p.outputs, p.events, p.asking = p.outputs[:0], p.events[:0], 0 }

func (p *Panel) result() Result {
	_, wake := p.agenda.first()
	for _, until := range p.pulses {
		wake = min(wake, until)
	}
	return Result{p.outputs, p.events, wake}
}

// advance does what falls due up to now, each thing at its own instant.
func (p *Panel) advance(now hours.Instant) {
	for {
		part, at := p.agenda.first()
		if at > now {
			p.now = max(p.now, now)
			p.endPulses()
			return
		}
		p.now = max(at, p.now)
		p.due = pass.Fact{At: p.now, Kind: pass.Due}
		if k := part - len(p.places)*p.slots; k >= 0 {
			p.do.Place = everywhere
			p.common[k].Follow(&p.due, &p.do)
			p.hear = true
			p.settle()
			continue
		}
		i := part / p.slots
		p.do.Place = i
		p.places[i].Parts[part%p.slots].Follow(&p.due, &p.do)
		p.touch(i)
		p.settle()
	}
}

package panel

import (
	"maps"
	"slices"
	"strconv"
	"time"

	"amberkeystone/core/cards"
	"amberkeystone/core/door"
	"amberkeystone/core/hours"
	"amberkeystone/core/image"
	"amberkeystone/core/rules"
	"amberkeystone/core/site"
)

// Input is one thing that reaches a controller. Doors are named by their port.
type Input struct {
	Kind InputKind
	Port int
	Out  bool // at the reader out
	Bits cards.Bits
	Key  byte
	On   bool
	By   time.Duration

	Lines int // of LogLost
}

// Result is what a step gave. Its slices are valid until the next step.
type Result struct {
	Outputs []Output
	Events  []Event
	Wake    hours.Instant // step again then, if nothing happens before
}

// samePresentation is how close two reads of one card are one presentation.
const samePresentation = 800 * time.Millisecond

// Panel is a controller at work. It is not safe for concurrent use.
type Panel struct {
	c       *image.Compiled
	now     hours.Instant
	seq     uint64
	doors   []state
	byPort  map[int]int
	locks   map[int]bool // by port: what the lock was last told; true is released
	wakes   wakes
	outputs []Output
	events  []Event
}

type state struct {
	door.Door
	mode      hours.Mode
	modeUntil hours.Instant
	waits     bool // for its first card
	first     rules.FirstCard
	sides     [2]side
}

// New returns a controller that holds an image, with its doors closed and locked. Seq is the number of the
// last event it ever gave. Start it before the first step.
func New(c *image.Compiled, seq uint64) *Panel {
	p := &Panel{seq: seq, locks: map[int]bool{}}
	p.hold(0, c)
	return p
}

// hold takes an image. Doors that it still has keep their state, whatever port they are on now; what is under way at
// the others ends.
func (p *Panel) hold(now hours.Instant, c *image.Compiled) {
	old := map[site.ID]state{}
	for i := range p.doors {
		old[p.c.Doors[i].ID] = p.doors[i]
	}
	for _, d := range c.Doors {
		delete(old, d.ID)
	}
	for i := range p.doors {
		if _, gone := old[p.c.Doors[i].ID]; gone {
			p.retire(i, now)
		} else {
			old[p.c.Doors[i].ID] = p.doors[i]
		}
	}
	p.c = c
	p.doors = make([]state, len(c.Doors))
	p.byPort = map[int]int{}
	p.wakes = newWakes(len(c.Doors))
	for i := range c.Doors {
		p.doors[i].Config = &c.Doors[i]
		p.byPort[c.Doors[i].Port] = i
		if s, ok := old[c.Doors[i].ID]; ok {
			p.doors[i] = s
			p.configure(i, now)
		}
	}
	p.lockUnused()
}

// configure gives a door that goes on its new configuration.
func (p *Panel) configure(i int, now hours.Instant) {
	d := &p.doors[i]
	d.Configure(now, &p.c.Doors[i])
	p.drain(i)
	for s, reader := range [...]site.Reader{d.Config.In, d.Config.Out} {
		if !reader.Fitted || !reader.Keypad {
			p.timeout(i, now, s == 1, "")
			d.sides[s].keypad = keypad{}
		}
	}
}

// retire ends what is under way at a door that the next image does not have.
func (p *Panel) retire(i int, now hours.Instant) {
	for s := range p.doors[i].sides {
		p.timeout(i, now, s == 1, "")
	}
	p.doors[i].Retire(now)
	p.drain(i)
}

// lockUnused locks the ports that no door is on any more, in their order.
func (p *Panel) lockUnused() {
	for _, port := range slices.Sorted(maps.Keys(p.locks)) {
		if _, used := p.byPort[port]; !used {
			p.lock(port, false)
		}
	}
}

// lock tells the lock of a port what it should do, unless it does already.
func (p *Panel) lock(port int, released bool) {
	if p.locks[port] == released {
		return
	}
	p.locks[port] = released
	o := Output{Port: port, Lock: "locked"}
	if released {
		o.Lock = "released"
	}
	p.outputs = append(p.outputs, o)
}

// Start gives the first events after a restart: started, then what each door asks (common practice).
func (p *Panel) Start(now hours.Instant) Result {
	p.begin()
	p.now = now
	p.emit(Event{At: now, Kind: Started})
	p.resume(now, true)
	return p.result()
}

// Load takes a new image while at work. Doors that it still has keep their state.
func (p *Panel) Load(now hours.Instant, c *image.Compiled, hash string) Result {
	p.begin()
	p.advance(now)
	p.hold(now, c)
	p.emit(Event{At: now, Kind: ImageLoaded, Note: hash})
	p.resume(now, false)
	return p.result()
}

// resume works out what every door asks now.
func (p *Panel) resume(now hours.Instant, say bool) {
	for i := range p.doors {
		p.setMode(i, now, say)
		p.reschedule(i)
	}
}

// Seq returns the number of the last event.
func (p *Panel) Seq() uint64 { return p.seq }

// Step takes one input at an instant and returns what follows from it. It first does whatever fell due
// before now. The same image and inputs give the same events, to the byte.
func (p *Panel) Step(now hours.Instant, in Input) Result {
	p.begin()
	if in.Kind == ClockMoved {
		p.clockMoved(now, in.By)
		return p.result()
	}
	now = max(now, p.now)
	p.advance(now)
	switch {
	case in.Kind == Network && in.On:
		p.emit(Event{At: now, Kind: NetworkBack})
		return p.result()
	case in.Kind == Network:
		p.emit(Event{At: now, Kind: NetworkLost})
		return p.result()
	case in.Kind == LogLost:
		p.emit(Event{At: now, Kind: LogDamaged, Note: strconv.Itoa(in.Lines)})
		return p.result()
	}
	i, ok := p.byPort[in.Port]
	if !ok || in.Kind == Tick {
		return p.result()
	}
	switch d := &p.doors[i]; in.Kind {
	case CardRead:
		p.read(i, now, &in)
	case Key:
		p.key(i, now, &in)
	case Circuit:
		d.Contact(now, in.On != (d.Config.Contact == site.NormallyClosed))
	case ExitLine:
		if d.Config.Exit != site.NotFitted && in.On == (d.Config.Exit == site.NormallyOpen) {
			d.ExitRequest(now)
		}
	}
	p.drain(i)
	p.reschedule(i)
	return p.result()
}

func (p *Panel) begin() { p.outputs, p.events = p.outputs[:0], p.events[:0] }

func (p *Panel) result() Result {
	_, wake := p.wakes.first()
	return Result{p.outputs, p.events, wake}
}

func (p *Panel) emit(e Event) {
	p.seq++
	e.Seq = p.seq
	p.events = append(p.events, e)
}

// advance does what falls due up to now, each thing at its own instant.
func (p *Panel) advance(now hours.Instant) {
	for {
		i, at := p.wakes.first()
		if at > now {
			p.now = now
			return
		}
		at = max(at, p.now)
		p.now = at
		d := &p.doors[i]
		d.Tick(at)
		p.drain(i)
		for s := range d.sides {
			if sd := &d.sides[s]; sd.deadline != 0 && at >= sd.deadline {
				p.timeout(i, at, s == 1, "")
			}
		}
		if at >= d.modeUntil {
			p.setMode(i, at, true)
		}
		p.reschedule(i)
	}
}

func (p *Panel) reschedule(i int) {
	d := &p.doors[i]
	at := min(d.Wake(), d.modeUntil)
	for s := range d.sides {
		if d.sides[s].deadline != 0 {
			at = min(at, d.sides[s].deadline)
		}
	}
	p.wakes.set(i, at)
}

// setMode works out what a door asks and until when.
func (p *Panel) setMode(i int, now hours.Instant, say bool) {
	d := &p.doors[i]
	a := p.asked(i, now)
	say = say || a.Mode != d.mode || a.Waits != d.waits
	d.mode, d.modeUntil, d.waits = a.Mode, a.Until, a.Waits
	if say {
		p.emit(
			Event{
				At:     now,
				Kind:   ModeNow,
				Door:   d.Config.ID,
				Mode:   a.Mode,
				Waits:  a.Waits,
				Layer:  a.Layer,
				Change: site.ID(a.Change),
				Next:   known(d.modeUntil),
			},
		)
	}
	d.SetFree(now, a.Mode == hours.Free)
	p.drain(i)
}

func (p *Panel) asked(i int, now hours.Instant) rules.Asked {
	d := &p.doors[i]
	return d.first.Ask(p.c.Lines[i], &d.Config.FirstCard, now)
}

// firstCard takes note of somebody who may give the first card; the door may go free by it.
func (p *Panel) firstCard(i int, now hours.Instant, who site.ID) {
	d := &p.doors[i]
	if !d.first.Give(p.c.Lines[i], &d.Config.FirstCard, now) {
		return
	}
	p.emit(Event{At: now, Kind: FirstCard, Door: d.Config.ID, Person: who, Mode: d.mode})
	p.setMode(i, now, false)
}

// known writes "never" as 0, which reads as nothing in a log.
func known(t hours.Instant) hours.Instant {
	if t == hours.Never {
		return 0
	}
	return t
}

// drain turns what happened at a door into events and outputs.
func (p *Panel) drain(i int) {
	d := &p.doors[i]
	for _, e := range d.Log {
		if e.Kind == door.LockReleased || e.Kind == door.LockLocked {
			continue
		}
		p.emit(Event{At: e.At, Kind: fromDoor[e.Kind], Door: d.Config.ID, Out: e.Out, Person: e.Person, Mode: d.mode})
	}
	d.Log = d.Log[:0]
	p.lock(d.Config.Port, d.Released())
}

func (p *Panel) clockMoved(now hours.Instant, by time.Duration) {
	p.now = now
	p.emit(Event{At: now, Kind: ClockSet, Note: by.Round(time.Second).String()})
	for i := range p.doors {
		d := &p.doors[i]
		d.Shift(by)
		d.first.Shift(by)
		for s := range d.sides {
			sd := &d.sides[s]
			for _, t := range [...]*hours.Instant{&sd.deadline, &sd.LockedUntil, &sd.lastAt} {
				if *t != 0 {
					*t = t.Add(by)
				}
			}
		}
	}
	p.resume(now, false)
}

// DoorState is what a controller can tell of a door.
type DoorState struct {
	Port     int           `json:"port"`
	Door     site.ID       `json:"door"`
	Mode     hours.Mode    `json:"mode"`
	Until    hours.Instant `json:"until,omitempty"` // when it asks something else; 0: never
	Released bool          `json:"released"`
	Open     bool          `json:"open"`
	Alarm    string        `json:"alarm,omitempty"`
	Waits    bool          `json:"waits,omitempty"` // for its first card
}

// Doors returns the state of every door.
func (p *Panel) Doors() []DoorState {
	out := make([]DoorState, len(p.doors))
	for i := range p.doors {
		d := &p.doors[i]
		out[i] = DoorState{
			Port:     d.Config.Port,
			Door:     d.Config.ID,
			Mode:     d.mode,
			Released: d.Released(),
			Open:     d.Open(),
			Waits:    d.waits,
		}
		out[i].Until = known(d.modeUntil)
		if k := d.Alarm(); k != 0 {
			out[i].Alarm = fromDoor[k].String()
		}
	}
	return out
}

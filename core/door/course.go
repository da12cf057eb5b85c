package door

import (
	"time"

	"amberkeystone/core/hours"
	"amberkeystone/core/pass"
	"amberkeystone/core/site"
)

// Course is what a door does in a while, measured in milliseconds from a grant: when its lock is released, when its
// leaf is open, and what it tells.
type Course struct {
	Name     string  `json:"name"`
	Released []Spell `json:"released"`
	Open     []Spell `json:"open"`
	Told     []Told  `json:"told"`
	Length   int64   `json:"length" doc:"Of the whole, in milliseconds"`
}

// Spell is a stretch of time, in milliseconds.
type Spell struct {
	From int64 `json:"from"`
	To   int64 `json:"to"`
}

// Told is something that the door tells.
type Told struct {
	At    int64     `json:"at" doc:"Milliseconds"`
	Kind  pass.Kind `json:"kind"`
	Alarm bool      `json:"alarm"`
}

// move is a hand on the leaf.
type move struct {
	at   int64
	open bool
}

// Courses plays a door as it is configured: one person goes through, the leaf is pulled open again before it has closed
// for long, and the leaf stays open.
func Courses(d *site.Door) []Course {
	late := int64(max(d.HeldOpen, d.Unlock)+5) * 1000
	out := []Course{
		play("one goes through", d, []move{{1500, true}, {4000, false}}, max(int64(d.Unlock), 8)*1000+2000),
	}
	if d.Contact != site.NotFitted {
		out = append(out,
			play("a second follows", d, []move{{1500, true}, {3000, false}, {3800, true}, {5500, false}},
				max(int64(d.Unlock), 8)*1000+2000),
			play("the leaf stays open", d, []move{{1500, true}, {late, false}}, late+3000))
	}
	return out
}

// play runs the machine of a door from a grant on.
func play(name string, config *site.Door, moves []move, length int64) Course {
	const start = hours.Instant(1_000_000_000_000)
	c := Course{Name: name, Length: length, Released: []Spell{}, Open: []Spell{}, Told: []Told{}}
	d := &Door{Config: config}
	at := func(t hours.Instant) int64 { return int64(t - start) }
	look := func(t hours.Instant) {
		mark(&c.Released, d.Released(), at(t), length)
		if config.Contact == site.NotFitted {
			return
		}
		mark(&c.Open, d.Open(), at(t), length)
	}
	end := start.Add(time.Duration(length) * time.Millisecond)
	ticks := func(until hours.Instant) {
		for w := d.Wake(); w <= until; w = d.Wake() {
			d.Tick(w)
			look(w)
		}
	}
	d.Grant(start, Pass{Number: 1}, false)
	look(start)
	for _, m := range moves {
		t := start + hours.Instant(m.at)
		ticks(t)
		d.Contact(t, m.open)
		look(t)
	}
	ticks(end)
	for _, f := range d.Log {
		if f.Kind.Logged() && f.Kind != pass.WasGranted {
			c.Told = append(c.Told, Told{at(f.At), f.Kind, f.Kind.Alarm()})
		}
	}
	return c
}

// mark begins or ends the last of some spells.
func mark(list *[]Spell, on bool, at, length int64) {
	n := len(*list)
	running := n > 0 && (*list)[n-1].To == length
	switch {
	case on && !running:
		*list = append(*list, Spell{at, length})
	case !on && running:
		(*list)[n-1].To = at
	}
}

package door

import (
	"amberkeystone/core/hours"
	"amberkeystone/core/pass"
	"amberkeystone/core/point"
)

// Follow takes note of what happens at the door.
func (d *Door) Follow(f *pass.Fact, do *pass.Effects) {
	if d.Config.Car != nil {
		return // its floors are package elevator's
	}
	switch f.Kind {
	case pass.WasGranted:
		p := Pass{Number: f.Pass, Person: f.Person, Out: f.Out, With: f.With}
		if p.Number == 0 {
			p.Number = f.Seq
		}
		d.Grant(f.At, p, f.Attempt.Extended)
	case pass.ContactIs:
		d.Contact(f.At, f.Active)
	case pass.ExitIs:
		d.Exit(f.At, f.Active)
	case pass.ExitAgain:
		d.ExitRequest(f.At)
	case pass.ReleaseAsked:
		d.Once(f.At, f.Note)
	case pass.ModeNow:
		d.SetFree(f.At, f.Mode == hours.Free)
	case pass.Due:
		d.Tick(f.At)
	}
	d.tellAll(do)
}

// tellAll tells what happened.
func (d *Door) tellAll(do *pass.Effects) {
	for _, f := range d.Log {
		do.Tell(f)
	}
	d.Log = d.Log[:0]
}

// Claim wants the lock released, or not.
func (d *Door) Claim(say func(out point.Address, rank point.Rank, on bool)) {
	if d.Config.Car == nil {
		say(d.Config.Wired().Lock, point.Door, d.Released())
	}
}

// Save remembers nothing: after a restart the door is closed and locked until its inputs say otherwise.
func (d *Door) Save() ([]byte, error) { return nil, nil }

// Restore does nothing.
func (d *Door) Restore([]byte) error { return nil }

// Take goes on under the new configuration.
func (d *Door) Take(now hours.Instant, was pass.Part, do *pass.Effects) {
	config, bound := d.Config, d.Bound
	*d = *was.(*Door)
	d.Log, d.Bound = nil, bound
	d.Configure(now, config)
	d.tellAll(do)
}

package compare

import (
	"amberkeystone/core/hours"
	"amberkeystone/core/site"
)

// turns is whether there is a time at which somebody comes in who did not, and one at which somebody does not who did.
type turns struct{ gains, loses bool }

func (t turns) and(o turns) turns  { return turns{t.gains && o.gains, t.loses && o.loses} }
func (t turns) or(o turns) turns   { return turns{t.gains || o.gains, t.loses || o.loses} }
func (t turns) less(o turns) turns { return turns{t.gains && !o.gains, t.loses && !o.loses} }

// means is what somebody has to show, as far as it decides.
type means struct {
	card, pin       bool
	always, instead bool       // with PIN whatever is asked; PIN instead of a card
	kinds           site.Kinds // what they can show, where it is not asked yet which reader takes it
}

// meansOf is what somebody can show at some time from an instant on.
func meansOf(p *site.Person, from hours.Instant) means {
	m := means{pin: p.PIN != nil, always: p.AlwaysPIN, instead: p.PINInstead}
	for i := range p.Credentials {
		c := &p.Credentials[i]
		if b := boundsOf(c.Dates); c.Status == site.Active && b.until > int64(from/hours.Minute)-hours.DayMinutes {
			m.kinds |= site.KindsOf(c.Kind)
		}
	}
	return m
}

// before and after.
type both struct{ was, is means }

// bothOf is what somebody can show before and after. Who has nothing at all on both sides counts as if a card were
// given: it is about to be.
func bothOf(was, is *site.Person, from hours.Instant) both {
	out := both{meansOf(was, from), meansOf(is, from)}
	if len(was.Credentials)+len(is.Credentials) == 0 && !out.was.pin && !out.is.pin {
		out.was.kinds, out.is.kinds = site.KindsOf(site.Card), site.KindsOf(site.Card)
	}
	return out
}

// at is what that is at a reader: nobody types at one without keys.
func (m means) at(r *site.Reader) means {
	m.pin = m.pin && r.Keypad
	m.card, m.kinds = m.kinds&r.TakenKinds() != 0, 0
	return m
}

// enough reports whether that is what a door asks for (design 3.3, 3.4).
func (m means) enough(mode hours.Mode) bool {
	card := m.card && (m.pin || !m.always)
	switch mode {
	case hours.Free:
		return true
	case hours.Card:
		return card || m.pin && m.instead
	case hours.PIN:
		return m.pin
	case hours.CardOrPIN:
		return card || m.pin
	case hours.CardAndPIN:
		return m.card && m.pin
	}
	return false
}

// bounds are when something is held, in minutes of the wall clock since 1970: [from, until). The zero value is never.
type bounds struct{ from, until int64 }

// ever is without bounds.
var ever = bounds{-1 << 40, 1 << 40}

func boundsOf(d site.Dates) bounds {
	out := ever
	if d == (site.Dates{}) {
		return out
	}
	from, until, bounded := d.Walls()
	if bounded[0] {
		out.from = from
	}
	if bounded[1] {
		out.until = until
	}
	return out
}

func (b bounds) and(o bounds) bounds {
	b = bounds{max(b.from, o.from), min(b.until, o.until)}
	if b.from >= b.until {
		return bounds{}
	}
	return b
}

// span is when that is by the clock of a zone.
func (b bounds) span(z *hours.Zone) (from, until hours.Instant) {
	from, until = -hours.Never, hours.Never
	if b.from != ever.from {
		from = z.NotBefore(b.from)
	}
	if b.until != ever.until {
		until = z.NotBefore(b.until)
	}
	return from, until
}

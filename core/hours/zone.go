package hours

import (
	"fmt"
	"sort"
	"time"
)

// Offset is one stretch of constant offset: from At on, local time is UTC plus Seconds.
type Offset struct {
	At      Instant `json:"at"`
	Seconds int32   `json:"seconds"`
	Abbrev  string  `json:"abbrev"`
}

// Zone is a time zone as a list of offset changes, so that whoever holds it needs no zone data.
// Offsets are ascending; the first also holds before its own instant, the last for ever after.
type Zone struct {
	Name    string   `json:"name"`
	Offsets []Offset `json:"offsets"`
}

// Wall is what a clock on the wall shows.
type Wall struct {
	Day    Day
	Minute int // of the local day, 0..1439
	Second int
}

// ZoneFrom lists the offset changes of a location between two instants.
// It probes hour by hour and never asks Time.ZoneBounds, which errs past the stored transitions.
func ZoneFrom(loc *time.Location, from, to Instant) Zone {
	const step = Instant(6 * time.Hour / time.Millisecond)
	z := Zone{Name: loc.String()}
	at := func(i Instant) (string, int) { return i.Time().In(loc).Zone() }
	abbrev, offset := at(from)
	z.Offsets = append(z.Offsets, Offset{At: from, Seconds: int32(offset), Abbrev: abbrev})
	for lo := from; lo < to; lo += step {
		hi := min(lo+step, to)
		nextAbbrev, nextOffset := at(hi)
		if nextOffset == offset && nextAbbrev == abbrev {
			continue
		}
		n := sort.Search(int((hi-lo)/1000), func(s int) bool {
			a, o := at(lo + Instant(s)*1000)
			return o != offset || a != abbrev
		})
		abbrev, offset = nextAbbrev, nextOffset
		z.Offsets = append(z.Offsets, Offset{At: lo + Instant(n)*1000, Seconds: int32(offset), Abbrev: abbrev})
	}
	return z
}

// OffsetAt returns the stretch that holds at an instant and the instant at which it ends.
func (z *Zone) OffsetAt(i Instant) (Offset, Instant) {
	if len(z.Offsets) == 0 {
		return Offset{Abbrev: "UTC"}, Never
	}
	k := len(z.Offsets) - 1
	for k > 0 && z.Offsets[k].At > i {
		k--
	}
	end := Never
	if k+1 < len(z.Offsets) {
		end = z.Offsets[k+1].At
	}
	return z.Offsets[k], end
}

// Wall reads the local clock at an instant.
func (z *Zone) Wall(i Instant) Wall {
	o, _ := z.OffsetAt(i)
	return wall(i, o)
}

func wall(i Instant, o Offset) Wall {
	s := floorDiv(int64(i), 1000) + int64(o.Seconds)
	day := floorDiv(s, 86400)
	rest := int(s - day*86400)
	return Wall{Day: Day(day), Minute: rest / 60, Second: rest % 60}
}

// Resolve returns the instant of a wall time. In the hour that does not exist it uses the offset before
// the change; in the hour that comes twice, the first (RFC 5545, 3.3.5).
func (z *Zone) Resolve(d Day, minute int) Instant {
	local := (int64(d)*86400 + int64(minute)*60) * 1000
	before, _ := z.OffsetAt(Instant(local - 24*3600*1000))
	after, _ := z.OffsetAt(Instant(local + 24*3600*1000))
	a := Instant(local - int64(before.Seconds)*1000)
	b := Instant(local - int64(after.Seconds)*1000)
	oa, _ := z.OffsetAt(a)
	ob, _ := z.OffsetAt(b)
	if oa.Seconds != before.Seconds && ob.Seconds == after.Seconds {
		return b
	}
	return a
}

// NotBefore returns the first instant whose wall clock is not before so many minutes after midnight of 1 January 1970.
// Of an hour that comes twice that is in the first; of one that does not occur it is the change of the clocks.
func (z *Zone) NotBefore(minutes int64) Instant {
	day := minutes / DayMinutes
	if minutes%DayMinutes < 0 {
		day--
	}
	at := z.Resolve(Day(day), int(minutes-day*DayMinutes))
	if w := z.Wall(at); int64(w.Day)*DayMinutes+int64(w.Minute) > minutes {
		o, _ := z.OffsetAt(at)
		return o.At
	}
	return at
}

// Between returns the stretches of time whose wall clock is in [from, to), compared as local date and time. An hour
// that does not occur is in none of them; one that comes twice may give two.
func (z *Zone) Between(fromDay Day, fromMinute int, toDay Day, toMinute int) []Stretch {
	local := func(d Day, minute int) Instant { return Instant((int64(d)*86400 + int64(minute)*60) * 1000) }
	from, to := local(fromDay, fromMinute), local(toDay, toMinute)
	const reach = Instant(24 * time.Hour / time.Millisecond) // no clock is further from UTC
	var out []Stretch
	for at := from - reach; at < to+reach; {
		o, end := z.OffsetAt(at)
		shift := Instant(o.Seconds) * 1000
		x := Stretch{From: max(at, from-shift), To: min(end, to-shift)}
		if n := len(out); x.From >= x.To {
			// nothing of it at this offset
		} else if n > 0 && out[n-1].To == x.From {
			out[n-1].To = x.To
		} else {
			out = append(out, x)
		}
		at = end
	}
	return out
}

// Again returns the instant at which a wall time comes a second time after i, as in the hour that comes twice; ok
// is false where it does not.
func (z *Zone) Again(i Instant) (second Instant, ok bool) {
	o, end := z.OffsetAt(i)
	if end == Never {
		return 0, false
	}
	after, _ := z.OffsetAt(end)
	second = i + Instant(o.Seconds-after.Seconds)*1000
	return second, second >= end && z.Wall(second) == z.Wall(i)
}

// Time returns the instant as a time whose location has the offset that holds then.
func (z *Zone) Time(i Instant) time.Time {
	o, _ := z.OffsetAt(i)
	return i.Time().In(time.FixedZone(o.Abbrev, int(o.Seconds)))
}

// NextChange tells in words when the clocks change next after an instant, by the wall clock before it: the clocks go
// back 1 h on Sun 1 Nov 2026 at 02:00.
func (z *Zone) NextChange(after Instant) string {
	for i, o := range z.Offsets {
		if i == 0 || o.At <= after {
			continue
		}
		by := o.Seconds - z.Offsets[i-1].Seconds
		if by == 0 { // only the name changes
			continue
		}
		way, minutes := "forward", int(by)/60
		if by < 0 {
			way, minutes = "back", -int(by)/60
		}
		length := fmt.Sprintf("%d min", minutes)
		if minutes%60 == 0 {
			length = fmt.Sprintf("%d h", minutes/60)
		}
		wall := z.Wall(o.At - 1)
		at := wall.Minute + 1
		return fmt.Sprintf("the clocks go %s %s on %s at %s", way, length, wall.Day.Words(), Clock(at))
	}
	return "the clocks do not change in the next years"
}

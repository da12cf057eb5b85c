// Package hours says what holds at an instant: wall-clock periods, weeks, schedules and passage plans,
// read in the zone of a controller, and when that next changes.
package hours

import "time"

// Instant is a moment as Unix milliseconds, UTC. The zero value is 1970-01-01T00:00:00Z.
type Instant int64

// Never is later than every instant that occurs; it stands for "does not change again".
const Never = Instant(1<<62 - 1)

// Lengths of time, as an Instant counts them. A day on a wall clock may be an hour longer or shorter than FullDay.
const (
	Minute  = Instant(60_000)
	Hour    = 60 * Minute
	FullDay = 24 * Hour
)

// At converts a time to an Instant, dropping what is finer than a millisecond.
func At(t time.Time) Instant { return Instant(t.UnixMilli()) }

// Time returns the instant as a time in UTC.
func (i Instant) Time() time.Time { return time.UnixMilli(int64(i)).UTC() }

// Add returns the instant d later.
func (i Instant) Add(d time.Duration) Instant { return i + Instant(d/time.Millisecond) }

// Sub returns how long i is after j. What no Duration can hold is the longest one, as in time.Time.Sub.
func (i Instant) Sub(j Instant) time.Duration {
	const most = Instant(1<<63-1) / Instant(time.Millisecond)
	switch d := i - j; {
	case d > most:
		return 1<<63 - 1
	case d < -most:
		return -1 << 63
	default:
		return time.Duration(d) * time.Millisecond
	}
}

// OrZero returns the instant, and 0 for Never, which reads as nothing in a log.
func (i Instant) OrZero() Instant {
	if i == Never {
		return 0
	}
	return i
}

// OrNever returns the instant, and Never for 0: of a time where 0 stands for none.
func (i Instant) OrNever() Instant {
	if i == 0 {
		return Never
	}
	return i
}

// Shift returns the instant moved along with a clock that was set; 0 and Never stay, since they are no times.
func (i Instant) Shift(by time.Duration) Instant {
	if i == 0 || i == Never {
		return i
	}
	return i.Add(by)
}

// Day counts local calendar days from 1970-01-01.
type Day int32

// DayOf returns the day of a civil date.
func DayOf(year int, month time.Month, day int) Day {
	return Day(floorDiv(time.Date(year, month, day, 0, 0, 0, 0, time.UTC).Unix(), 86400))
}

// Date returns the civil date of the day.
func (d Day) Date() (year int, month time.Month, day int) {
	return time.Unix(int64(d)*86400, 0).UTC().Date()
}

// String writes the day as 2006-01-02.
func (d Day) String() string { return time.Unix(int64(d)*86400, 0).UTC().Format(time.DateOnly) }

// ParseDay reads 2006-01-02.
func ParseDay(s string) (Day, error) {
	if d, ok := plainDay(s); ok {
		return d, nil
	}
	t, err := time.Parse(time.DateOnly, s)
	if err != nil {
		return 0, err
	}
	return Day(floorDiv(t.Unix(), 86400)), nil
}

// plainDay reads a date whose day every month has: most of them, and there are many.
func plainDay(s string) (Day, bool) {
	if len(s) != len(time.DateOnly) || s[4] != '-' || s[7] != '-' {
		return 0, false
	}
	var n [3]int
	for i, part := range [3]string{s[:4], s[5:7], s[8:]} {
		for _, c := range []byte(part) {
			if c < '0' || c > '9' {
				return 0, false
			}
			n[i] = 10*n[i] + int(c-'0')
		}
	}
	if n[1] < 1 || n[1] > 12 || n[2] < 1 || n[2] > 28 {
		return 0, false
	}
	return DayOf(n[0], time.Month(n[1]), n[2]), true
}

// Weekday counts from Monday = 0 to Sunday = 6 (ISO 8601 order).
func (d Day) Weekday() int { return int(((int64(d)+3)%7 + 7) % 7) }

// Monday returns the first day of the ISO week that d is in.
func (d Day) Monday() Day { return d - Day(d.Weekday()) }

// Sunday returns the first day of the week that d is in, where weeks begin on Sunday.
func (d Day) Sunday() Day { return d - Day((d.Weekday()+1)%7) }

func floorDiv(a, b int64) int64 {
	q := a / b
	if a%b < 0 {
		q--
	}
	return q
}

package pass

import (
	"time"

	"amberkeystone/core/hours"
	"amberkeystone/core/site"
)

// Row counts the reads of one person at one door that come in a row, as two or three within five seconds that arm or
// toggle something (common practice).
type Row struct {
	person, door site.ID
	n            int
	since        hours.Instant // the first of them
}

// Read counts one more, and returns how many have come within a time of the first. Somebody else, another door or a
// read that comes too late begins anew.
func (r *Row) Read(f *Fact, within time.Duration) int {
	if f.Person != r.person || f.Door != r.door || f.At.Sub(r.since) > within {
		*r = Row{person: f.Person, door: f.Door, since: f.At}
	}
	r.n++
	return r.n
}

// Forget begins anew: reads that have done something do not count for the next.
func (r *Row) Forget() { *r = Row{} }

// Shift keeps what is left for the next read when the clock is set.
func (r *Row) Shift(by time.Duration) {
	if r.n > 0 {
		r.since = r.since.Shift(by)
	}
}

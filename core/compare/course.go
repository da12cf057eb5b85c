package compare

import (
	"slices"
	"time"

	"amberkeystone/core/hours"
	"amberkeystone/core/site"
)

// course is a schedule over the span: the instants at which it opens or closes, ascending.
type course struct {
	edges []hours.Instant
	open  bool // before the first of them
}

// cursor is a place in a course; it goes forward, and back only where it is told to seek.
type cursor struct {
	*course
	past int // so many edges are over
}

func (x *cursor) seek(i hours.Instant) { x.past, _ = slices.BinarySearch(x.edges, i+1) }

// at tells whether the schedule is open at an instant, and until when that is so.
func (x *cursor) at(i hours.Instant) (open bool, until hours.Instant) {
	for x.past < len(x.edges) && x.edges[x.past] <= i {
		x.past++
	}
	until = hours.Never
	if x.past < len(x.edges) {
		until = x.edges[x.past]
	}
	return x.open != (x.past%2 == 1), until
}

// run is a schedule of one side by the clock and the holidays of a door.
type run struct {
	schedule *hours.Schedule
	local    hours.Local
}

// course works out a schedule's course once for all doors that share clock and holidays; nil where there is none.
func (c *crowd) course(id site.ID, l hours.Local, side *site.Timetable) *course {
	s := side.Schedules[id]
	if s == nil {
		return nil
	}
	k := run{s, l}
	x, ok := c.courses[k]
	if !ok {
		const slack = 48 * time.Hour // the other side's zone may begin its days sooner, and end them later
		from, to := c.span(l.Zone)
		from, to = from.Add(-slack), to.Add(slack)
		x = &course{open: s.OpenAt(l, from)}
		for at := s.Next(l, from); at < to; at = s.Next(l, at) {
			x.edges = append(x.edges, at)
		}
		c.courses[k] = x
	}
	return x
}

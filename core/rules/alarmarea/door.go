package alarmarea

import (
	"amberkeystone/core/asks"
	"amberkeystone/core/hours"
	"amberkeystone/core/pass"
)

// Gate lets only those in who may disarm the area while it is armed. Whoever is inside gets out.
type Gate struct {
	Area    *Area
	Disarms func(p *pass.Pass) bool
}

// Check reads what the area is in and changes nothing.
func (g Gate) Check(p *pass.Pass) pass.Verdict {
	if p.Out || p.Asks() == hours.Free || !g.Area.Closed(p.At) {
		return pass.Yes
	}
	may := g.Disarms(p)
	p.Trace.Add(pass.CheckArmed, may, int64(g.Area.Rule.ID), 0)
	if !may {
		return pass.No(pass.WhileArmed, 0)
	}
	return pass.Yes
}

// Layer is that of one door of an area: while the area is armed a door that would stand free asks for a card, since
// whoever walked in would raise the alarm.
type Layer struct {
	Area  *Area // nil: the door belongs to none
	Below asks.Layers
}

// Says asks for a card in place of nothing.
func (l Layer) Says(at hours.Instant) (a asks.Answer, ok bool, until hours.Instant) {
	until = hours.Never
	if l.Area == nil {
		return a, false, until
	}
	if l.Area.Supposed && l.Area.Schedule != nil {
		until = l.Area.Schedule.Next(l.Area.Local, at)
	}
	if !l.Area.Closed(at) {
		return a, false, until
	}
	below, next := l.Below.At(at)
	if below.Mode != hours.Free {
		return a, false, min(until, next)
	}
	a.Mode, a.Layer = hours.Card, hours.AlarmArmed
	return a, true, min(until, next)
}

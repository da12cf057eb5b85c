package passback

import (
	"slices"
	"time"

	"amberkeystone/core/hours"
	"amberkeystone/core/pass"
	"amberkeystone/core/site"
)

// Gate stands at one side of a door between areas.
type Gate struct {
	Part *Part
	// Together reports whether several people come in together there now, so that nobody would be alone.
	Together func(at hours.Instant) bool
}

// Check compares where somebody is with where the door leads from and to. It changes nothing but what is forgotten.
func (g Gate) Check(p *pass.Pass) pass.Verdict {
	if p.Asks() == hours.Free || !p.Known {
		return pass.Yes
	}
	a := g.Part.Areas
	a.tidy(g.Part.Line.Zone, p.At)
	from, to := g.Part.ways(p.Out)
	is, known := a.Book.Of(p.Person)
	if v := g.back(p, from, to, is, known); v != pass.Yes {
		return v
	}
	r := a.rule(to)
	if r == nil || known && is.Area == to {
		return pass.Yes
	}
	inside := a.Book.Inside(to)
	switch {
	case r.Most > 0 && inside >= r.Most:
		return refuse(p, pass.AreaFull, to, int64(inside))
	case r.Two && inside == 0 && !g.Together(p.At):
		return refuse(p, pass.AreaNeedsTwo, to, 0)
	}
	return pass.Yes
}

// back is the anti-passback proper.
func (g Gate) back(p *pass.Pass, from, to site.ID, is Place, known bool) pass.Verdict {
	if !known {
		return pass.Yes // they may go anywhere once
	}
	if r := g.Part.Areas.rule(to); r != nil && is.Area == to && g.counts(r, p) {
		switch age := p.At.Sub(is.At); {
		case r.Timed > 0 && age < time.Duration(r.Timed)*time.Minute:
			return g.says(p, r, pass.TooSoon, int64(is.At))
		case r.Timed == 0:
			return g.says(p, r, pass.AlreadyInside, int64(is.At))
		}
		return pass.Yes
	}
	if r := g.Part.Areas.rule(from); r != nil && is.Area != from && r.Timed == 0 && g.counts(r, p) {
		return g.says(p, r, pass.NotInside, int64(is.At))
	}
	return pass.Yes
}

// counts reports whether an area minds somebody's way now. Cut off, a lenient one lets everybody pass: what has
// happened at other controllers is not known.
func (g Gate) counts(r *site.Area, p *pass.Pass) bool {
	return r.Mode != site.PassbackOff && (!g.Part.Areas.Cut || r.Strict) && !slices.Contains(r.ExemptIDs, p.Person)
}

// says refuses, or where an area only logs, remembers what was wrong.
func (g Gate) says(p *pass.Pass, r *site.Area, reason pass.Reason, since int64) pass.Verdict {
	if r.Mode == site.PassbackLog {
		p.Soft = true
		p.Trace.Add(pass.CheckArea, true, int64(r.ID), since)
		return pass.Yes
	}
	return refuse(p, reason, r.ID, since)
}

func refuse(p *pass.Pass, r pass.Reason, area site.ID, b int64) pass.Verdict {
	p.Trace.Add(pass.CheckArea, false, int64(area), b)
	return pass.No(r, 0)
}

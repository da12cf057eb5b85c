package screening

import (
	"amberkeystone/core/access"
	"amberkeystone/core/hours"
	"amberkeystone/core/pass"
	"amberkeystone/core/site"
)

// Desk is the screenings of a controller, and who is cleared: all its doors share it.
type Desk struct {
	Controller site.ID
	Book       *Book
	Rules      map[site.ID]*site.Screening
}

// NewDesk returns the desk of a controller that has heard of nobody yet.
func NewDesk(controller site.ID, rules []site.Screening) *Desk {
	d := &Desk{Controller: controller, Book: NewBook(), Rules: make(map[site.ID]*site.Screening, len(rules))}
	for i := range rules {
		d.Rules[rules[i].ID] = &rules[i]
	}
	return d
}

// Look sees what counts of somebody who is not cleared. It stands before all gates that ask for a level, and refuses
// nobody. Nobody is screened on the way out.
type Look struct {
	Part  *Part
	Table *access.Table
}

// Check writes into the pass by which screening somebody is not cleared, and which level alone counts.
func (g Look) Check(p *pass.Pass) pass.Verdict {
	if p.Out || !p.Known || p.Asks() == hours.Free {
		return pass.Yes
	}
	desk := g.Part.Desk
	for _, id := range g.Table.Screened(p) {
		x := desk.Rules[id]
		if x == nil {
			continue
		}
		if c, ok := desk.Book.Of(p.Person, id, p.At); ok {
			p.Trace.Add(pass.CheckCleared, true, int64(id), int64(c.Until))
			continue
		}
		covered := x.LevelID != 0 && g.Table.Covers(p, x.LevelID)
		switch {
		case x.LogOnly && !covered:
			p.Uncleared = true
			p.Trace.Add(pass.CheckCleared, true, int64(id), Noted)
		case x.LogOnly:
		case covered && (p.Only == 0 || p.Only == x.LevelID):
			p.Only = x.LevelID
			p.Trace.Add(pass.CheckCleared, true, int64(id), Limited)
		case p.Screening == 0:
			p.Screening = id
		}
	}
	return pass.Yes
}

// What the trace says of somebody who is not cleared and goes on, in place of until when they are cleared.
const (
	Limited = -1 // by the level that counts until they are
	Noted   = -2 // it is only noted
)

// Gate refuses whoever is not cleared and comes to a door where their limited level does not lead.
type Gate struct{}

// Check reads what Look found.
func (Gate) Check(p *pass.Pass) pass.Verdict {
	if p.Screening == 0 {
		return pass.Yes
	}
	p.Trace.Add(pass.CheckCleared, false, int64(p.Screening), 0)
	return pass.No(pass.NotCleared, 0)
}

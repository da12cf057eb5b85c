package prove

import (
	"encoding/json"
	"fmt"
	"maps"
	"slices"

	"amberkeystone/core/hours"
	"amberkeystone/core/panel"
	"amberkeystone/core/pass"
	"amberkeystone/core/rules/reactions"
	"amberkeystone/core/site"
)

// light takes note of what a reaction turns on at other controllers, and because of what.
func (r *Relay) light(reaction site.ID, because cause, across map[site.ID]site.Done) {
	if r.lit == nil {
		r.lit = map[site.ID]*lit{}
	}
	l := r.lit[reaction]
	if l == nil {
		l = &lit{At: map[site.ID][]site.ID{}}
		r.lit[reaction] = l
	}
	if !slices.ContainsFunc(l.Causes, because.ends) {
		l.Causes = append(l.Causes, because)
	}
	for id, done := range across {
		for _, out := range done.Outputs {
			if !slices.Contains(l.At[id], out) {
				l.At[id] = append(l.At[id], out)
			}
		}
	}
}

// Ended lets outputs at other controllers go once nothing of what a reaction waits for lasts any more, by an event at a
// controller. One that starts anew tells again of what it measures.
func (r *Relay) Ended(b *Book, controller site.ID, f *pass.Fact) []Deed {
	at := causeOf(controller, f)
	return append(r.settle(b), r.letGo(b, func(x *site.Reaction, c cause) bool {
		if f.Kind == pass.Started {
			return c.Controller == controller && c.Since <= f.At && !reactions.GoesOn(reactions.KindOf(x))
		}
		return x.When.Ends() == f.Kind.String() && at.ends(c)
	})...)
}

// settle lets go what no reaction wants any more since the configuration was changed.
func (r *Relay) settle(b *Book) []Deed {
	if r.book == b {
		return nil
	}
	out := r.turnedByNobody(b)
	r.book = b
	for id, l := range r.lit {
		maps.DeleteFunc(l.At, func(c site.ID, _ []site.ID) bool { return b.Config.Controller(c) == nil })
		if len(l.At) == 0 {
			delete(r.lit, id)
		}
	}
	there := func(id site.ID, is func(site.ID) bool) bool { return id == 0 || is(id) }
	return append(out, r.letGo(b, func(x *site.Reaction, c cause) bool {
		return x.Off || !x.Until || b.Config.Controller(c.Controller) == nil ||
			!there(c.Door, func(id site.ID) bool { return b.Config.Door(id) != nil }) ||
			!there(c.Input, func(id site.ID) bool { return b.Config.Input(id) != nil }) ||
			!there(c.Area, func(id site.ID) bool { return b.Config.AlarmArea(id) != nil })
	})...)
}

// turnedByNobody lets go the outputs at other controllers that reactions turned on or off until told otherwise, and
// that no reaction names any more.
func (r *Relay) turnedByNobody(b *Book) (out []Deed) {
	if r.book == nil {
		return nil
	}
	named := map[site.ID]bool{}
	for i := range b.Config.Reactions {
		for _, id := range b.Config.Reactions[i].OutputIDs {
			named[id] = named[id] || !b.Config.Reactions[i].Off
		}
	}
	places := site.NewPlaces(r.book.Config)
	for i := range r.book.Config.Reactions {
		x := &r.book.Config.Reactions[i]
		if x.Off || x.Until || x.Do != site.DoOn && x.Do != site.DoOff {
			continue
		}
		d := Deed{Reaction: x}
		for _, id := range x.OutputIDs {
			if o := b.Config.Output(id); o != nil && !named[id] && !r.book.Config.BeginsAt(places, x, o.ControllerID) {
				d.Orders = append(d.Orders, Ordering{o.ControllerID, panel.Input{
					Kind: panel.LetGo, Outputs: []site.ID{id}, Note: reactionNote(x),
				}})
			}
		}
		if d.Orders != nil {
			out = append(out, d)
		}
	}
	return out
}

// letGo forgets causes that are over, all of reactions that are no more, and tells what is let go by that.
func (r *Relay) letGo(b *Book, over func(x *site.Reaction, c cause) bool) (out []Deed) {
	for _, id := range slices.Sorted(maps.Keys(r.lit)) {
		l, x := r.lit[id], b.Config.Reaction(id)
		before := len(l.Causes)
		l.Causes = slices.DeleteFunc(l.Causes, func(c cause) bool { return x == nil || over(x, c) })
		if before == 0 || len(l.Causes) > 0 {
			continue
		}
		d := deedOf(id, x)
		for _, c := range slices.Sorted(maps.Keys(l.At)) {
			d.Orders = append(d.Orders, l.order(&d, c))
		}
		out = append(out, d)
	}
	return out
}

// Back tells what a controller that has returned missed of what reactions keep on there, or have let go.
func (r *Relay) Back(b *Book, controller site.ID) (out []Deed) {
	for _, id := range slices.Sorted(maps.Keys(r.lit)) {
		if l := r.lit[id]; l.At[controller] != nil {
			d := deedOf(id, b.Config.Reaction(id))
			d.Orders = []Ordering{l.order(&d, controller)}
			out = append(out, d)
		}
	}
	return out
}

func deedOf(id site.ID, x *site.Reaction) Deed {
	if x == nil {
		x = &site.Reaction{ID: id, Name: "that was removed", Do: site.DoOn}
	}
	return Deed{Reaction: x}
}

// order is what is wanted of a controller now.
func (l *lit) order(d *Deed, controller site.ID) Ordering {
	in := panel.Input{Kind: panel.LetGo, Outputs: l.At[controller], Rule: d.Reaction.ID, Note: reactionNote(d.Reaction)}
	if len(l.Causes) > 0 {
		in.Kind, in.On = panel.Drive, true
	}
	return Ordering{controller, in}
}

// Told takes note that an order has reached its controller: what was let go there is done with.
func (r *Relay) Told(o *Ordering) {
	l := r.lit[o.Input.Rule]
	if o.Input.Kind != panel.LetGo || l == nil || len(l.Causes) > 0 {
		return
	}
	if delete(l.At, o.Controller); len(l.At) == 0 {
		delete(r.lit, o.Input.Rule)
	}
}

// Lasts reports whether something is on at another controller until it ends, or is still to be let go.
func (r *Relay) Lasts() bool { return len(r.lit) > 0 }

// Idle reports whether nothing can follow from anything under a configuration: it has no reactions, and earlier ones
// have left nothing on.
func (r *Relay) Idle(b *Book) bool {
	return len(b.Config.Reactions) == 0 && !r.Lasts() && (r.book == nil || r.book == b)
}

// Since is when the earliest of what lasts began; Never: nothing does.
func (r *Relay) Since() hours.Instant {
	since := hours.Never
	for _, l := range r.lit {
		for _, c := range l.Causes {
			since = min(since, c.Since)
		}
	}
	return since
}

// Save writes what reactions keep on at other controllers; the same gives the same bytes.
func (r *Relay) Save() ([]byte, error) { return json.Marshal(r.lit) }

// Restore takes it back.
func (r *Relay) Restore(b []byte) error {
	if err := json.Unmarshal(b, &r.lit); err != nil {
		return fmt.Errorf("what reactions keep on: %w", err)
	}
	for id, l := range r.lit {
		if l == nil || l.At == nil {
			delete(r.lit, id)
		}
	}
	return nil
}

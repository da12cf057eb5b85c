package prove

import (
	"fmt"
	"maps"
	"slices"
	"time"

	"amberkeystone/core/hours"
	"amberkeystone/core/panel"
	"amberkeystone/core/pass"
	"amberkeystone/core/rules/reactions"
	"amberkeystone/core/site"
)

// Relay carries out what reactions say of other controllers than the one where something happened, and what only a
// server can do: it works out what is to be done, and whoever has it does it. The zero value has heard nothing yet.
type Relay struct {
	limits map[site.ID]*reactions.Limit
	inside map[site.ID]int // people in areas, as last counted
	book   *Book           // that was looked at last
	lit    map[site.ID]*lit
}

// Late reports whether an event is too old for anything to follow from it elsewhere. What it ends ends however late.
func Late(at, now hours.Instant) bool { return now > at.Add(5*time.Minute) }

// lit is what a reaction keeps on at other controllers until something has ended.
type lit struct {
	Causes []cause               `json:"causes,omitempty"` // none: all has ended, and controllers are still to be told
	At     map[site.ID][]site.ID `json:"at"`               // the outputs, by controller
}

// cause is what began at a controller, as it is named when it ends.
type cause struct {
	Controller site.ID `json:"controller"`
	reactions.Cause
	Since hours.Instant `json:"since"` // by the clock of its controller
}

func causeOf(controller site.ID, f *pass.Fact) cause {
	return cause{controller, reactions.CauseOf(0, f), f.At}
}

// ends reports whether what began with another has ended with this.
func (c cause) ends(o cause) bool {
	since := o.Since
	o.Since = c.Since
	return o == c && since <= c.Since
}

// Deed is what follows from one reaction.
type Deed struct {
	Reaction   *site.Reaction
	Controller site.ID    // where it happened
	Fact       *pass.Fact // nil: no controller's log tells of it
	Because    string     // of what no log tells: in words
	Rests      bool       // it was set off too often, and does nothing until the minute is over: told once
	Orders     []Ordering // for other controllers; none where it is the server that does something
}

// Ordering is an order for one controller.
type Ordering struct {
	Controller site.ID
	Input      panel.Input
}

// Hear tells what follows from an event at a controller. At is when it happened, and now what it is, by the clock of
// whoever carries it out.
func (r *Relay) Hear(b *Book, controller site.ID, f *pass.Fact, at, now hours.Instant) []Deed {
	out := r.Ended(b, controller, f)
	if Late(at, now) {
		return out
	}
	for _, x := range b.ReactionsAt(controller, f) {
		out = append(out, r.setOff(b, x, Deed{Reaction: x, Controller: controller, Fact: f}, now)...)
	}
	return out
}

// Lost tells what follows from a controller that is no longer heard of.
func (r *Relay) Lost(b *Book, controller site.ID, now hours.Instant) (out []Deed) {
	for i := range b.Config.Reactions {
		x := &b.Config.Reactions[i]
		if !x.Off && x.When == site.WhenOffline && (len(x.SourceIDs) == 0 || slices.Contains(x.SourceIDs, controller)) {
			out = append(out,
				r.setOff(b, x, Deed{Reaction: x, Controller: controller, Because: b.Name(controller) + " is offline"}, now)...)
		}
	}
	return out
}

// Strike tells what follows from a minute that has begun, of what only a server can do: by the clock of the first
// controller. What an hour does at controllers each does by its own.
func (r *Relay) Strike(b *Book, now hours.Instant) (out []Deed) {
	if len(b.Config.Controllers) == 0 {
		return nil
	}
	out = r.settle(b)
	first := b.Config.Controllers[0].ID
	for i := range b.Config.Reactions {
		x := &b.Config.Reactions[i]
		if !x.Off && x.When == site.WhenHour && x.Do.AtServer() && b.Strikes(x, first, now) {
			out = append(out, r.setOff(b, x, Deed{Reaction: x, Controller: first, Because: "It is " + x.Hour}, now)...)
		}
	}
	return out
}

// Moved tells what follows from somebody's having gone from one area to another at a controller: inside counts the
// people of an area.
func (r *Relay) Moved(b *Book, controller site.ID, inside func(area site.ID) int, now hours.Instant) (out []Deed) {
	for i := range b.Config.Reactions {
		x := &b.Config.Reactions[i]
		if x.Off || x.When != site.WhenOccupied {
			continue
		}
		n, was := inside(x.AreaID), r.inside[x.AreaID]
		if was < x.Count && n >= x.Count && b.ReactionOpen(x, controller, now) {
			because := fmt.Sprintf("%d inside %s now", n, b.Name(x.AreaID))
			out = append(out, r.setOff(b, x, Deed{Reaction: x, Controller: controller, Because: because}, now)...)
		}
	}
	r.Count(b, inside)
	return out
}

// Count takes note of how many people are inside areas, so that only what changes from now on sets something off.
func (r *Relay) Count(b *Book, inside func(area site.ID) int) {
	if r.inside == nil {
		r.inside = map[site.ID]int{}
	}
	for i := range b.Config.Areas {
		id := b.Config.Areas[i].ID
		r.inside[id] = inside(id)
	}
}

// setOff finishes a deed, unless it rests. What the controller where it happened does by itself is left to it.
func (r *Relay) setOff(b *Book, x *site.Reaction, d Deed, now hours.Instant) []Deed {
	across := b.Across(x, d.Controller)
	if !x.Do.AtServer() && len(across) == 0 {
		return nil
	}
	if r.limits == nil {
		r.limits = map[site.ID]*reactions.Limit{}
	}
	if r.limits[x.ID] == nil {
		r.limits[x.ID] = new(reactions.Limit)
	}
	if ok, first := r.limits[x.ID].Take(now); !ok {
		if !first {
			return nil
		}
		d.Rests = true
		return []Deed{d}
	}
	if x.Until && d.Fact != nil {
		r.light(x.ID, causeOf(d.Controller, d.Fact), across)
	}
	for _, id := range slices.Sorted(maps.Keys(across)) {
		for _, in := range reactionInputs(x, across[id], now) {
			d.Orders = append(d.Orders, Ordering{id, in})
		}
	}
	return []Deed{d}
}

func reactionNote(x *site.Reaction) string { return "reaction " + x.Name }

// reactionInputs are what a reaction wants of a controller, given at an instant.
func reactionInputs(x *site.Reaction, done site.Done, now hours.Instant) []panel.Input {
	in := panel.Input{Doors: done.Doors, Outputs: done.Outputs, On: true, Note: reactionNote(x)}
	switch x.Do {
	case site.DoRelease:
		in.Kind = panel.Release
	case site.DoHold:
		in.Kind, in.Until = panel.Hold, ReactionUntil(x, now)
		in.Mode, _ = hours.ParseMode(x.Mode)
	case site.DoBack:
		in.Kind, in.On = panel.Hold, false
	case site.DoLockdown:
		in.Kind, in.Rule = panel.Lockdown, x.EmergencyID
	case site.DoFire:
		in.Kind, in.Rule = panel.Fire, x.EmergencyID
	case site.DoOn, site.DoOff:
		in.Kind, in.On, in.By = panel.Drive, x.Do == site.DoOn, time.Duration(x.Seconds)*time.Second
		if x.Until {
			in.Rule = x.ID
		}
	case site.DoArm, site.DoDisarm:
		var list []panel.Input
		for _, id := range done.Areas {
			list = append(list, panel.Input{Kind: panel.Arm, On: x.Do == site.DoArm, Rule: id, Note: reactionNote(x)})
		}
		return list
	default:
		return nil
	}
	return []panel.Input{in}
}

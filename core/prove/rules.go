package prove

import (
	"fmt"
	"slices"
	"strings"

	"amberkeystone/core/hours"
	"amberkeystone/core/pass"
	"amberkeystone/core/rules/interlock"
	"amberkeystone/core/site"
)

// RuleLine is one rule at a door.
type RuleLine struct {
	Kind  string  `json:"kind" enum:"lockdown and fire,screening,first card,PINs,area,several proofs,interlock,card toggle,alarm area,reaction" doc:"What sort of rule it is"`
	ID    site.ID `json:"id,omitempty" doc:"Of a rule that stands by itself"`
	Name  string  `json:"name"`
	Words string  `json:"words" doc:"What it does, as a sentence"`
	Scope string  `json:"scope" doc:"Where it comes from"`
	Off   bool    `json:"off" doc:"Not in use; its settings are kept"`
}

// RulesAt lists the rules at a door in the order in which they are checked, then those that are not in use with what
// they are for.
func (b *Book) RulesAt(door site.ID) (out []RuleLine) {
	d := b.doors[door]
	if d == nil {
		return nil
	}
	add := func(l RuleLine) { out = append(out, l) }
	out = b.emergenciesAt(door)
	if t := d.Toggle; t != nil {
		add(RuleLine{Kind: "card toggle", Name: "Card toggle", Words: b.ToggleWords(t), Scope: "this door", Off: t.Off})
	}
	if d.In.Keypad || d.Out.Keypad {
		add(RuleLine{Kind: "PINs", Name: "Keypad lock", Scope: "all readers with keys", Words: pinWords(&b.Config.Settings)})
	}
	if p := b.plans[d.PlanID]; p != nil && waits(p) {
		add(RuleLine{Kind: "first card", Name: "First card", Words: firstWords(d, p), Scope: "this door"})
	}
	for i := range b.Config.Screenings {
		x := &b.Config.Screenings[i]
		here := "all doors"
		switch {
		case slices.Contains(x.DeskIDs, door):
			here = "all doors; a card here brings up a record"
		case slices.Contains(x.PassIDs, door):
			here = "all doors; coming in here clears"
		case !b.screenedAt(x, door):
			continue
		}
		add(RuleLine{Kind: "screening", ID: x.ID, Name: x.Name, Words: b.ScreeningWords(x), Scope: here, Off: x.Off})
	}
	out = append(out, b.alarmRule(d)...)
	if d.OutsideAreaID != d.InsideAreaID {
		for i := range b.Config.Areas {
			if a := &b.Config.Areas[i]; a.ID == d.OutsideAreaID || a.ID == d.InsideAreaID {
				add(RuleLine{Kind: "area", ID: a.ID, Name: a.Name, Words: b.AreaWords(a), Scope: b.areaScope(d, a)})
			}
		}
	}
	for i := range b.Config.Interlocks {
		if x := &b.Config.Interlocks[i]; slices.Contains(x.DoorIDs, door) {
			add(RuleLine{
				Kind: "interlock", ID: x.ID, Name: x.Name, Words: b.InterlockWords(x),
				Scope: count(len(x.DoorIDs), "door", "doors"), Off: x.Off,
			})
		}
	}
	for i := range b.Config.Proofs {
		if x := &b.Config.Proofs[i]; slices.Contains(x.DoorIDs, door) {
			add(RuleLine{
				Kind: "several proofs", ID: x.ID, Name: x.Name, Words: b.ProofWords(x),
				Scope: count(len(x.DoorIDs), "door", "doors"), Off: x.Off,
			})
		}
	}
	out = append(out, b.reactionsAt(d)...)
	return append(out, unused(d, out)...)
}

// reactionsAt lists what follows from what happens at a door, then what is done to it; what waits for any door follows
// everywhere.
func (b *Book) reactionsAt(d *site.Door) (out []RuleLine) {
	if len(b.Config.Reactions) == 0 {
		return out
	}
	places := site.NewPlaces(b.Config)
	for i := range b.Config.Reactions {
		r := &b.Config.Reactions[i]
		scope := ""
		switch {
		case places.AtDoors(r)[d.ID]:
			scope = "what happens here"
		case places.ToDoors(b.Config, r)[d.ID]:
			scope = "what is done here"
		default:
			continue
		}
		out = append(out, RuleLine{
			Kind: "reaction", ID: r.ID, Name: r.Name, Words: b.MeaningOfReaction(r).Words, Scope: scope, Off: r.Off,
		})
	}
	return out
}

func pinWords(s *site.Settings) string {
	locks := "lock the keypad"
	if s.PINLocks == site.LocksCard {
		locks = "lock the keypad, or after a card the card at that controller,"
	}
	return fmt.Sprintf("%d wrong PINs in a row %s for %d minutes; a card that needs its PIN waits %d s for it.",
		s.PINTries, locks, s.PINLock, s.CardWithPIN)
}

// unused offers the rules that a door has none of.
func unused(d *site.Door, have []RuleLine) (out []RuleLine) {
	for _, l := range []RuleLine{
		{Kind: "several proofs", Name: "Several people or several proofs",
			Words: "One card is not enough: a second person, people of certain groups, or another proof of the same person."},
		{Kind: "interlock", Name: "Interlock", Words: "Of several doors only one may be open at a time, as in an airlock."},
		{Kind: "card toggle", Name: "Card toggle",
			Words: "Two or three reads in a row by somebody who may set the door free, or end that."},
		{Kind: "alarm area", Name: "Alarm area",
			Words: "While nobody is to be there the door is watched: only those come in who may disarm, and what opens raises an alarm."},
		{Kind: "reaction", Name: "Reaction",
			Words: "When something happens here, something is done there: a door that is held open sounds a siren until it closes."},
	} {
		if !slices.ContainsFunc(have, func(x RuleLine) bool { return x.Kind == l.Kind }) {
			out = append(out, l)
		}
	}
	return out
}

func firstWords(d *site.Door, p *site.Plan) string {
	start := 0
	for _, s := range p.Segments() {
		if s.First {
			start = s.Start
			break
		}
	}
	return d.FirstCard.Words(start)
}

// ToggleWords says what a card toggle does.
func (b *Book) ToggleWords(t *site.Toggle) string {
	var who []string
	for _, l := range b.Config.Levels {
		if l.Toggles {
			who = append(who, l.Name)
		}
	}
	reads, ends := "Two", "the same again"
	if t.Reads == 3 {
		reads = "Three"
	}
	if t.Single {
		ends = "a single read of theirs"
	}
	holders := "whose level toggles, which none does yet,"
	if len(who) > 0 {
		holders = "with " + either(who)
	}
	return fmt.Sprintf("%s reads within %d s by one person %s set the door free, or to card where it is free, until the plan next changes or %s.",
		reads, t.Seconds, holders, ends)
}

// either joins names by or.
func either(names []string) string {
	if len(names) < 2 {
		return strings.Join(names, "")
	}
	return strings.Join(names[:len(names)-1], ", ") + " or " + names[len(names)-1]
}

// InterlockWords says what an interlock does.
func (b *Book) InterlockWords(x *site.Interlock) string {
	var names []string
	for _, d := range x.DoorIDs {
		names = append(names, b.Name(d))
	}
	out := "Of " + both(names) + " at most one is other than closed and locked; a grant "
	if x.Waits {
		out += fmt.Sprintf("waits until the other is, at most %d s", int(interlock.Patience.Seconds()))
	} else {
		out += "is refused meanwhile"
	}
	if x.Exits {
		return out + ". Exit requests are held back too: whoever is inside waits, until fire release."
	}
	return out + "; exit requests always work."
}

func both(names []string) string {
	if len(names) < 2 {
		return strings.Join(names, "")
	}
	return strings.Join(names[:len(names)-1], ", ") + " and " + names[len(names)-1]
}

var small = [...]string{"none", "one", "two", "three", "four", "five"}

// few writes a small number as a word.
func few(n int) string {
	if n > 0 && n < len(small) {
		return small[n]
	}
	return fmt.Sprint(n)
}

// ruleMend says what helps whoever a rule of several people or doors refused.
func (b *Book) ruleMend(e *pass.Fact) string {
	switch e.Reason {
	case pass.AlreadyInside, pass.NotInside:
		return "Let " + b.Name(e.Person) +
			" leave and come in again, or forgive them in Rules, Areas: then they may go anywhere once."
	case pass.TooSoon:
		return "Wait until the time of the area is over, or forgive " + b.Name(e.Person) + "."
	case pass.AreaFull:
		return "Let somebody leave first, or raise the limit of the area."
	case pass.OperatorRefused:
		return "Ask whoever sits at the screen, then begin anew."
	case pass.AreaNeedsTwo:
		return "Come in together: the first two of the area need a rule of several people at this door."
	case pass.Interlocked:
		return "Close the other door of the interlock, and let it lock."
	case pass.WaitingForMore:
		return "Wanted: " + b.moreWords(e) + "."
	case pass.WrongGroup:
		return "Begin anew with the people whom " + b.Name(e.Door) + " wants together, or put " + b.Name(e.Person) +
			" into one of its groups."
	}
	return "Begin anew, and let the next one come sooner."
}

// ruleDetail says what the headline of such an event leaves out.
func (b *Book) ruleDetail(e *pass.Fact, z *hours.Zone) string {
	switch e.Kind {
	case pass.AwaitsMore:
		return b.moreWords(e)
	case pass.WasCleared:
		if e.Next == 0 {
			return b.Name(e.Rule) + ", until that is withdrawn"
		}
		return b.Name(e.Rule) + ", until " + b.lastMinute(z, e.At, e.Next)
	case pass.WasConfirmed:
		return strings.TrimPrefix(byWords(e.Note), ", ")
	case pass.AwaitsDoor:
		return b.blocking(e) + " is not closed and locked"
	case pass.PlaceIs:
		return b.areaName(e.Area)
	case pass.ToggledOn:
		return e.Mode.String() + ", " + untilWords(z, e.At, e.Next)
	case pass.HeldBack:
		if e.Note == pass.ByOperator {
			return "another door of the interlock is open or released; the operator's release was not carried out"
		}
		return "another door of the interlock is open or released"
	}
	return ""
}

// blocking names the door that an interlock waits for.
func (b *Book) blocking(e *pass.Fact) string {
	for _, c := range e.Checks {
		if c.Kind == pass.CheckInterlock && c.A != 0 {
			return b.Name(site.ID(c.A))
		}
	}
	return "another door of the interlock"
}

// waits reports whether a plan has free hours that wait for a first card.
func waits(p *site.Plan) bool {
	return slices.ContainsFunc(p.Segments(), func(s hours.Segment) bool { return s.First })
}

package prove

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"amberkeystone/core/hours"
	"amberkeystone/core/pass"
	"amberkeystone/core/rules/reactions"
	"amberkeystone/core/site"
)

// ReactionMeaning is what a reaction does, in words, and what it needs for it.
type ReactionMeaning struct {
	Words string `json:"words"`
	Needs string `json:"needs" doc:"Whether it works with the server down"`
	Alone bool   `json:"alone" doc:"It works with the server down"`
}

// MeaningOfReaction reads a reaction as a sentence. One that is being filled in is read as far as it goes.
func (b *Book) MeaningOfReaction(r *site.Reaction) ReactionMeaning {
	out := ReactionMeaning{Words: "When " + b.whenWords(r) + b.duringWords(r) + ": " + b.doWords(r) + "."}
	out.Needs, out.Alone = b.needsWords(r)
	return out
}

func (b *Book) whenWords(r *site.Reaction) string {
	words := r.When.Words()
	switch {
	case r.When == site.WhenHour:
		return "it is " + r.Hour
	case r.When == site.WhenOccupied:
		return fmt.Sprintf("%s inside %s", count(r.Count, "person is", "people are"), b.nameOr(r.AreaID, "an area"))
	case words == "":
		return "…"
	}
	if reason, ok := pass.ParseReason(r.Reason); ok && r.Reason != "" {
		words += ", " + reason.Words() + ","
	}
	var where []string
	for _, t := range r.At {
		where = append(where, b.TargetWords(t))
	}
	for _, id := range slices.Concat(r.InputIDs, r.SourceIDs, r.AlarmIDs) {
		where = append(where, b.Name(id))
	}
	if len(where) > 0 {
		words += " at " + listed(where)
	}
	return words
}

func (b *Book) duringWords(r *site.Reaction) string {
	s := b.schedules[r.ScheduleID]
	if s == nil || s.IsAlways() {
		return ""
	}
	return ", during " + s.Name
}

func (b *Book) doWords(r *site.Reaction) string {
	length := ""
	if r.Seconds > 0 {
		length = " for " + secondsWords(r.Seconds)
	}
	var to []string
	for _, t := range r.To {
		to = append(to, b.TargetWords(t))
	}
	var outputs []string
	for _, id := range r.OutputIDs {
		outputs = append(outputs, b.Name(id))
	}
	doors, out := orDots(listed(to)), orDots(listed(outputs))
	switch r.Do {
	case site.DoRelease:
		return "release " + doors + " once"
	case site.DoHold:
		return "hold " + doors + " " + orDots(r.Mode) + orEnded(length)
	case site.DoBack:
		return "let " + doors + " go, back to plan"
	case site.DoLockdown, site.DoFire:
		return "start " + b.nameOr(r.EmergencyID, "…")
	case site.DoOn:
		switch {
		case r.Until:
			return "turn " + out + " on until that has ended"
		case length == "":
			return "turn " + out + " on until it is turned off"
		}
		return "turn " + out + " on" + length
	case site.DoOff:
		if length == "" {
			return "turn " + out + " off until it is turned on"
		}
		return "keep " + out + " off" + length
	case site.DoArm, site.DoDisarm:
		return string(r.Do) + " " + orDots(listed(b.namesOf(r.ArmIDs)))
	case site.DoTell:
		return "tell operators “" + r.Text + "”"
	case site.DoMail:
		return "write “" + r.Text + "” to " + orDots(r.Address) + ", in the stand-in mailbox"
	case site.DoCamera:
		return "mark the recording of the stand-in camera " + orDots(r.Text)
	case site.DoCall:
		return "call out to " + orDots(r.Address)
	}
	return "…"
}

func listed(names []string) string {
	if len(names) > 4 {
		return fmt.Sprintf("%s and %d more", strings.Join(names[:3], ", "), len(names)-3)
	}
	return both(names)
}

func orDots(s string) string {
	if s == "" {
		return "…"
	}
	return s
}

func orEnded(length string) string {
	if length == "" {
		return " until it is let go"
	}
	return length
}

// secondsWords writes a time with its unit: 45 s, 5 min, 2 h.
func secondsWords(n int) string {
	switch {
	case n >= 3600 && n%3600 == 0:
		return fmt.Sprintf("%d h", n/3600)
	case n >= 60 && n%60 == 0:
		return fmt.Sprintf("%d min", n/60)
	}
	return fmt.Sprintf("%d s", n)
}

// needsWords says whether a reaction works with the server down.
func (b *Book) needsWords(r *site.Reaction) (words string, alone bool) {
	switch {
	case r.When.AtServer():
		return "Needs the server: only it knows of that.", false
	case r.Do.AtServer():
		return "Needs the server, which does it.", false
	}
	places := site.NewPlaces(b.Config)
	var here, across []string
	for i := range b.Config.Controllers {
		x := &b.Config.Controllers[i]
		done := b.Config.DoneAt(places, r, x.ID)
		if done.Nothing() {
			continue
		}
		if b.Config.BeginsAt(places, r, x.ID) {
			here = append(here, x.Name)
		}
		if b.beginsElsewhere(places, r, x.ID) {
			across = append(across, x.Name)
		}
	}
	switch {
	case len(here)+len(across) == 0:
		return "Does nothing yet: choose what it is done to.", false
	case len(across) == 0:
		return "Works with the server down: it begins and ends at " + listed(here) + ".", true
	case len(here) == 0:
		return "Needs the server, which tells " + listed(across) + ".", false
	}
	return "What begins and ends at " + listed(here) + " works with the server down; for the rest the server tells " +
		listed(across) + ".", false
}

// beginsElsewhere reports whether what a reaction waits for may happen at another controller than one.
func (b *Book) beginsElsewhere(places *site.Places, r *site.Reaction, controller site.ID) bool {
	return r.When != site.WhenHour && slices.ContainsFunc(b.Config.Controllers, func(x site.Controller) bool {
		return x.ID != controller && b.Config.BeginsAt(places, r, x.ID)
	})
}

// Across lists what a reaction is done to at other controllers than the one where it happened, which does its own part:
// what somebody has to tell them. What an hour does each of them does by its own clock.
func (b *Book) Across(r *site.Reaction, controller site.ID) map[site.ID]site.Done {
	out := map[site.ID]site.Done{}
	if r.Do.AtServer() || r.When == site.WhenHour {
		return out
	}
	places := site.NewPlaces(b.Config)
	own := b.Config.BeginsAt(places, r, controller)
	for i := range b.Config.Controllers {
		id := b.Config.Controllers[i].ID
		done := b.Config.DoneAt(places, r, id)
		if !done.Nothing() && (id != controller || !own) {
			out[id] = done
		}
	}
	return out
}

// Strikes reports whether the hour of a reaction is an instant's, by the clock of a controller, while it is open.
func (b *Book) Strikes(r *site.Reaction, controller site.ID, at hours.Instant) bool {
	minute, ok := r.HourMinute()
	return ok && b.Clock(controller).Wall(at).Minute == minute && b.ReactionOpen(r, controller, at)
}

// ReactionsAt lists the reactions that an event at a controller sets off, in the order of the configuration: those in
// use whose hours it is. It knows nothing of how often they were set off before.
func (b *Book) ReactionsAt(controller site.ID, f *pass.Fact) []*site.Reaction {
	return b.setOff(b.Config.Reactions, controller, f)
}

func (b *Book) setOff(list []site.Reaction, controller site.ID, f *pass.Fact) (out []*site.Reaction) {
	places := (*site.Places)(nil)
	for i := range list {
		r := &list[i]
		if r.Off || string(r.When) != f.Kind.String() || len(r.SourceIDs) > 0 && !slices.Contains(r.SourceIDs, controller) {
			continue
		}
		if places == nil {
			places = site.NewPlaces(b.Config)
		}
		rule := reactions.RuleOf(r, b.times.Schedules[r.ScheduleID], b.localOf(controller))
		rule.Doors = places.AtDoors(r)
		if rule.Matches(f) && rule.Schedule != nil && rule.Schedule.OpenAt(rule.Local, f.At) {
			out = append(out, r)
		}
	}
	return out
}

// ReactionOpen reports whether a reaction's hours are open now, by the clock of a controller.
func (b *Book) ReactionOpen(r *site.Reaction, controller site.ID, at hours.Instant) bool {
	s := b.times.Schedules[r.ScheduleID]
	return s != nil && s.OpenAt(b.localOf(controller), at)
}

// localOf is the clock and the holidays of a controller.
func (b *Book) localOf(controller site.ID) hours.Local {
	local := hours.Local{Zone: b.Clock(controller)}
	if x := b.Config.Controller(controller); x != nil {
		local.Calendar = b.times.Calendar(x.SiteID)
	}
	return local
}

// Followed is a reaction that an event would have set off.
type Followed struct {
	At         hours.Instant `json:"at"`
	Event      string        `json:"event"`
	ReactionID site.ID       `json:"reactionId"`
	Reaction   string        `json:"reaction"`
	Does       string        `json:"does"`
	Rests      bool          `json:"rests" doc:"It would have rested: it was set off too often within a minute"`
}

// Happened is an event of the past, with where it was.
type Happened struct {
	Controller site.ID
	pass.Fact
}

// WouldFollow tells what reactions, which need not be in the configuration, would have done about events, which are in
// the order of time.
func (b *Book) WouldFollow(list []Happened, by []site.Reaction) []Followed {
	out := []Followed{}
	limits := map[site.ID]*reactions.Limit{}
	for i := range list {
		h := &list[i]
		for _, r := range b.setOff(by, h.Controller, &h.Fact) {
			if limits[r.ID] == nil {
				limits[r.ID] = new(reactions.Limit)
			}
			ok, _ := limits[r.ID].Take(h.At)
			where := b.Name(h.Controller)
			if h.Door != 0 {
				where = b.Name(h.Door)
			}
			out = append(out, Followed{h.At, b.Headline(&h.Fact) + ", " + where, r.ID, r.Name, b.doWords(r), !ok})
		}
	}
	return out
}

// LoopWords says how reactions would set each other off for ever.
func (b *Book) LoopWords(loop []site.Reaction) string {
	var parts []string
	for i := range loop {
		name := loop[i].Name
		if name == "" {
			name = "this one"
		}
		parts = append(parts, fmt.Sprintf("%s (%s)", name, b.doWords(&loop[i])))
	}
	if len(parts) == 1 {
		return "it would set itself off for ever: " + parts[0] +
			" is what it waits for; choose another place, or another doing"
	}
	return "these would set each other off for ever: " + strings.Join(parts, " → ") + " → " + parts[0] +
		"; break it at one of them"
}

// ReactionUntil is when an order of a reaction ends that is given at an instant; 0: until it is ended.
func ReactionUntil(r *site.Reaction, at hours.Instant) hours.Instant {
	if r.Seconds == 0 {
		return 0
	}
	return at.Add(time.Duration(r.Seconds) * time.Second)
}

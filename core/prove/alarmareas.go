package prove

import (
	"fmt"
	"slices"
	"strings"

	"amberkeystone/core/hours"
	"amberkeystone/core/pass"
	"amberkeystone/core/rules/alarmarea"
	"amberkeystone/core/site"
)

// AlarmAreaMeaning is what an alarm area does, in sentences.
type AlarmAreaMeaning struct {
	Arms    string   `json:"arms" doc:"Who or what arms and disarms it"`
	Keeps   string   `json:"keeps" doc:"Who comes in while it is armed"`
	Raises  string   `json:"raises" doc:"What raises the alarm, and what follows"`
	StandIn string   `json:"standIn" doc:"What it stands in for, and where it works"`
	Wrong   []string `json:"wrong" doc:"What would not work"`
}

// MeaningOfAlarmArea reads an alarm area, which need not be in the configuration nor be finished.
func (b *Book) MeaningOfAlarmArea(a *site.AlarmArea) AlarmAreaMeaning {
	out := AlarmAreaMeaning{Arms: b.armsWords(a), Keeps: b.keepsWords(a), Raises: b.raisesWords(a), Wrong: []string{}}
	home := "its controller"
	if id := b.Config.AlarmController(a); id != 0 {
		home = b.Name(id)
	}
	out.StandIn = "It stands in for an intrusion panel: " + home +
		" keeps it by itself, with the server down too, and tells others by outputs. It calls no alarm receiving centre."
	if len(a.DoorIDs)+len(a.Inputs) == 0 { // it is only begun
		return out
	}
	disarms := b.levelsAt(a.DoorIDs, func(l site.Authorities) bool { return l.Disarms })
	if len(a.DoorIDs) > 0 && len(disarms) == 0 {
		out.Wrong = append(out.Wrong,
			"No level that leads to its doors may disarm it: while it is armed nobody comes in. Let a level disarm.")
	}
	if a.Reads > 0 && len(disarms) == 0 &&
		len(b.levelsAt(a.DoorIDs, func(l site.Authorities) bool { return l.Arms })) == 0 {
		out.Wrong = append(out.Wrong, "Nobody's reads arm it: no level that leads to its doors may.")
	}
	for _, id := range a.DoorIDs {
		if d := b.doors[id]; d != nil && d.Contact == site.NotFitted {
			out.Wrong = append(out.Wrong,
				b.Name(d.ID)+" has no door contact: nobody sees it open. Fit one, or watch the room by an input.")
		}
	}
	if len(a.AlarmIDs) == 0 && !b.hears(a.ID) {
		out.Wrong = append(out.Wrong,
			"Its alarm turns nothing on: it is an event that operators acknowledge, and nothing more. Choose an output, or make a reaction.")
	}
	return out
}

// hears reports whether a reaction waits for an area's alarm.
func (b *Book) hears(area site.ID) bool {
	return slices.ContainsFunc(b.Config.Reactions, func(r site.Reaction) bool {
		return !r.Off && r.When == site.WhenIntrusion && (len(r.AlarmIDs) == 0 || slices.Contains(r.AlarmIDs, area))
	})
}

// levelsAt names the levels with an authority that lead to one of some doors.
func (b *Book) levelsAt(doors []site.ID, has func(site.Authorities) bool) (names []string) {
	places := site.NewPlaces(b.Effective)
	for i := range b.Effective.Levels {
		l := &b.Effective.Levels[i]
		if has(l.Authorities) &&
			slices.ContainsFunc(places.Entries(l), func(e site.Covered) bool { return slices.Contains(doors, e.DoorID) }) {
			names = append(names, b.Name(l.ID))
		}
	}
	return names
}

func (b *Book) armsWords(a *site.AlarmArea) string {
	ways := []string{"at the screen"}
	if a.Reads > 0 {
		who := append(b.levelsAt(a.DoorIDs, func(l site.Authorities) bool { return l.Arms && !l.Disarms }),
			b.levelsAt(a.DoorIDs, func(l site.Authorities) bool { return l.Disarms })...)
		holders := ""
		if len(who) > 0 {
			holders = " with " + either(who)
		}
		ways = append(ways, fmt.Sprintf("by %s reads of a card within %d s at its doors%s", few(a.Reads), site.ReadsWithin,
			holders))
	}
	if a.KeyID != 0 {
		ways = append(ways, "by "+b.nameOr(a.KeyID, "an input"))
	}
	if a.ScheduleID != 0 {
		ways = append(ways, "when "+b.nameOr(a.ScheduleID, "its schedule")+" opens")
	}
	out := "Armed " + either(ways)
	if a.ExitDelay > 0 {
		out += ", then " + secondsWords(a.ExitDelay) + " to leave"
	}
	out += "; not while something stands open, unless an operator leaves it out on purpose."
	return out + " Disarmed " + either(b.disarmWays(a)) + "."
}

// disarmWays lists how an alarm area is disarmed.
func (b *Book) disarmWays(a *site.AlarmArea) []string {
	ways := []string{"at the screen"}
	if a.Reads > 0 {
		n := few(a.Reads) + " reads"
		if a.Single {
			n = "one read"
		}
		who := ""
		if names := b.levelsAt(a.DoorIDs, func(l site.Authorities) bool { return l.Disarms }); len(names) > 0 {
			who = " with " + either(names)
		}
		ways = append(ways, "by "+n+who)
	}
	switch a.KeyWorks {
	case site.KeyHolds:
		ways = append(ways, "when "+b.nameOr(a.KeyID, "the input")+" is at rest again")
	case site.KeyTurns:
		ways = append(ways, "by "+b.nameOr(a.KeyID, "the input")+" again")
	}
	if a.ScheduleID != 0 {
		ways = append(ways, "when "+b.nameOr(a.ScheduleID, "its schedule")+" closes")
	}
	return ways
}

func (b *Book) keepsWords(a *site.AlarmArea) string {
	if len(a.DoorIDs) == 0 {
		return "It has no door: nobody is kept out."
	}
	who := "those whose level disarms it, which none does yet"
	if names := b.levelsAt(a.DoorIDs, func(l site.Authorities) bool { return l.Disarms }); len(names) > 0 {
		who = "those with " + either(names)
	}
	return "While it is armed only " + who + " come in at " + listed(b.namesOf(a.DoorIDs)) +
		", and no door of it stands free. Whoever is inside gets out."
}

func (b *Book) raisesWords(a *site.AlarmArea) string {
	var by []string
	if len(a.DoorIDs) > 0 {
		after := "a door opens"
		if a.EntryDelay > 0 {
			after = "it is not disarmed within " + secondsWords(a.EntryDelay) + " of a door's opening"
		}
		by = append(by, "a door is forced", after)
	}
	var atOnce, way []string
	for _, w := range a.Inputs {
		if w.OnWay {
			way = append(way, b.nameOr(w.InputID, "an input"))
		} else {
			atOnce = append(atOnce, b.nameOr(w.InputID, "an input"))
		}
	}
	if len(atOnce) > 0 {
		by = append(by, either(atOnce)+" is active")
	}
	if len(way) > 0 {
		by = append(by, either(way)+" is active while no delay runs")
	}
	by = append(by, "a wire, a reader or the controller's box is tampered with")
	out := "The alarm comes when " + either(by) + "."
	if len(a.AlarmIDs) > 0 {
		out += " Then " + listed(b.namesOf(a.AlarmIDs)) + " is on for " + secondsWords(a.Sounds) +
			", or until it is disarmed."
	}
	return out
}

// AlarmStateWords says what an alarm area is in, since when and by whom, by the clock of its controller.
func (b *Book) AlarmStateWords(n *alarmarea.Now, at hours.Instant) string {
	a := b.Config.AlarmArea(n.Area)
	if a == nil {
		return ""
	}
	z := b.Clock(b.Config.AlarmController(a))
	by := b.armedBy(n)
	left := ""
	if len(n.Left) > 0 {
		left = ", without " + listed(b.namesOf(n.Left))
	}
	switch n.State {
	case alarmarea.Leaving:
		return "Armed at " + z.Time(n.Until).Format("15:04:05") + by + left
	case alarmarea.Armed:
		return "Since " + shortPast(z, at, n.Since) + by + left
	case alarmarea.Entering:
		return "Somebody has come in; alarm at " + z.Time(n.Until).Format("15:04:05") + " unless it is disarmed"
	case alarmarea.Alarm:
		return "Raised by " + listed(b.membersOf(n.Raised))
	}
	if len(n.StandOpen) > 0 {
		return b.openWords(n.StandOpen, false)
	}
	return "Nothing stands open"
}

// GuardedWords says at a door of an alarm area what the area does there now, as a sentence to follow that of the door;
// nothing where it is disarmed.
func (b *Book) GuardedWords(n *alarmarea.Now) string {
	who := "nobody comes in"
	if a := b.Config.AlarmArea(n.Area); a != nil &&
		len(b.levelsAt(a.DoorIDs, func(l site.Authorities) bool { return l.Disarms })) > 0 {
		who = "only those come in who may disarm it"
	}
	switch n.State {
	case alarmarea.Disarmed:
		return ""
	case alarmarea.Leaving:
		return " **" + b.Name(n.Area) + " is being armed**: " + who + "."
	case alarmarea.Alarm:
		return " **" + b.Name(n.Area) + " is in alarm**: " + who + "."
	}
	return " **" + b.Name(n.Area) + " is armed**: " + who + "."
}

// shortPast says when something was: 18:02, or with its day.
func shortPast(z *hours.Zone, now, t hours.Instant) string {
	if z.Wall(now).Day == z.Wall(t).Day {
		return clock(z, t)
	}
	return z.Time(t).Format("Mon 2 Jan 15:04")
}

// openWords says of doors that they stand open, and of inputs that they are active, now or then.
func (b *Book) openWords(ids []site.ID, past bool) string {
	var doors, inputs []string
	for _, id := range ids {
		if b.doors[id] != nil {
			doors = append(doors, b.Name(id))
		} else {
			inputs = append(inputs, b.Name(id))
		}
	}
	verb := func(names []string, one, many, then string) string {
		switch {
		case past:
			return both(names) + then
		case len(names) == 1:
			return names[0] + one
		}
		return both(names) + many
	}
	var parts []string
	if len(doors) > 0 {
		parts = append(parts, verb(doors, " stands open", " stand open", " stood open"))
	}
	if len(inputs) > 0 {
		parts = append(parts, verb(inputs, " is active", " are active", " active"))
	}
	return strings.Join(parts, ", ")
}

// membersOf names what has raised an alarm.
func (b *Book) membersOf(ids []site.ID) (out []string) {
	for _, id := range ids {
		if id == 0 {
			out = append(out, "the controller's box")
			continue
		}
		out = append(out, b.Name(id))
	}
	return out
}

func (b *Book) armedBy(n *alarmarea.Now) string {
	switch {
	case n.Person != 0:
		return ", by " + b.Name(n.Person)
	case n.Input != 0:
		return ", by " + b.Name(n.Input)
	case n.Schedule != 0:
		return ", by " + b.Name(n.Schedule)
	}
	return byWords(n.Note)
}

// alarmDetail says what the headline of an event of an alarm area leaves out.
func (b *Book) alarmDetail(e *pass.Fact) string {
	z := b.Zone(e.Door)
	if a := b.Config.AlarmArea(e.Rule); a != nil {
		z = b.Clock(b.Config.AlarmController(a))
	}
	by := b.byAlarm(e)
	left := ""
	if len(e.Left) > 0 {
		left = ", without " + both(b.namesOf(e.Left))
	}
	switch e.Kind {
	case pass.ArmingBegan:
		return b.Name(e.Rule) + " at " + z.Time(e.Next).Format("15:04:05") + left + by
	case pass.NotArmed, pass.ArmingFailed:
		if e.Kind == pass.ArmingFailed && e.Schedule == 0 {
			by = " when the exit delay was over" + by
		}
		return b.Name(e.Rule) + ": " + b.openWords(e.StandOpen, e.Kind == pass.ArmingFailed) + by
	case pass.EntryBegan:
		return b.Name(e.Rule) + ": alarm at " + z.Time(e.Next).Format("15:04:05") + " unless it is disarmed"
	case pass.Intrusion:
		switch {
		case e.Input != 0:
			return b.Name(e.Rule) + ": " + b.Name(e.Input) + " is active"
		case e.Point != "" && e.Door == 0:
			return b.Name(e.Rule) + ": the wire at " + e.Point
		case e.Door == 0:
			return b.Name(e.Rule) + ": the controller's box is open"
		}
		return b.Name(e.Rule)
	}
	return b.Name(e.Rule) + left + by
}

// byAlarm says by whom or what an area is armed or disarmed. A person and a door an event names by itself.
func (b *Book) byAlarm(e *pass.Fact) string {
	switch {
	case e.Person != 0:
		return ", by card"
	case e.Input != 0:
		return ", by " + b.inputNamed(e)
	case e.Schedule != 0:
		return ", by the schedule " + b.Name(e.Schedule)
	}
	return byWords(e.Note)
}

// alarmMend says how somebody gets in who was refused because an area is armed.
func (b *Book) alarmMend(e *pass.Fact) string {
	a := b.Config.AlarmAreaOf(e.Door)
	if a == nil {
		return "Have the alarm area disarmed."
	}
	who := b.levelsAt(a.DoorIDs, func(l site.Authorities) bool { return l.Disarms })
	if len(who) == 0 {
		return "Have " + b.Name(a.ID) + " disarmed at the screen: no level that leads there may."
	}
	return "Have " + b.Name(a.ID) + " disarmed by somebody with " + either(who) + ", or at the screen."
}

// alarmRule is the alarm area among the rules of a door.
func (b *Book) alarmRule(d *site.Door) (out []RuleLine) {
	if a := b.Config.AlarmAreaOf(d.ID); a != nil {
		m := b.MeaningOfAlarmArea(a)
		out = append(out, RuleLine{
			Kind: "alarm area", ID: a.ID, Name: b.Name(a.ID), Words: m.Keeps + " " + strings.TrimSpace(m.Arms),
			Scope: "the door belongs to it", Off: a.Off,
		})
	}
	return out
}

// ArmOrder works out what an operator wants of an alarm area: what is left out must belong to it.
func (b *Book) ArmOrder(id site.ID, left []site.ID) (a *site.AlarmArea, fs site.Faults) {
	if a = b.Config.AlarmArea(id); a == nil || a.Off {
		return nil, site.Faults{{Field: "area", Words: "there is no such alarm area in use; choose another"}}
	}
	for i, m := range left {
		if !a.Watches(m) {
			fs = append(fs, site.Fault{
				Field: fmt.Sprintf("left[%d]", i), Words: b.Name(m) + " does not belong to " + b.Name(a.ID) +
					"; leave out what does",
			})
		}
	}
	return a, fs
}

// GuardWords says which alarm areas are in alarm and which are armed, as briefly as a band wants it; nothing where none
// is.
func GuardWords(armed, alarms []string) string {
	short := func(names []string) string {
		if len(names) == 1 {
			return names[0]
		}
		return fmt.Sprintf("%d areas", len(names))
	}
	switch {
	case len(alarms) > 0:
		return "Alarm: " + short(alarms)
	case len(armed) > 0:
		return short(armed) + " armed"
	}
	return ""
}

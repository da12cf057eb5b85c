package image

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"amberkeystone/core/site"
)

// timed is a setting in seconds, before and after.
type timed struct {
	what string
	a, b int
}

// seconds says which times differ.
func seconds(times ...timed) (w []string) {
	for _, x := range times {
		if x.a != x.b {
			w = append(w, fmt.Sprintf("%s %d s, was %d s", x.what, x.b, x.a))
		}
	}
	return w
}

// keyWords say how an input arms an alarm area.
var keyWords = map[site.KeyWorks]string{
	site.KeyHolds: "armed while %s is active", site.KeyTurns: "armed and disarmed by %s", site.KeyArms: "armed by %s",
}

// alarmAreaWords says what differs in an alarm area.
func alarmAreaWords(names Names) func(a, b site.AlarmArea) string {
	return func(a, b site.AlarmArea) string {
		var w []string
		if !slices.Equal(a.DoorIDs, b.DoorIDs) || !slices.Equal(a.Inputs, b.Inputs) {
			w = append(w, "watches "+listed(
				append(idsOf(b.Inputs, func(x site.Watched) site.ID { return x.InputID }), b.DoorIDs...), "place", names))
		}
		switch {
		case a.ScheduleID != b.ScheduleID && b.ScheduleID == 0:
			w = append(w, "no schedule arms it any more")
		case a.ScheduleID != b.ScheduleID:
			w = append(w, "armed during "+names.of("schedule", b.ScheduleID))
		}
		switch {
		case a.KeyID == b.KeyID && a.KeyWorks == b.KeyWorks:
		case b.KeyID == 0:
			w = append(w, "no input arms it any more")
		default:
			w = append(w, fmt.Sprintf(keyWords[b.KeyWorks], names.of("input", b.KeyID)))
		}
		switch {
		case a.Reads == b.Reads && a.Single == b.Single:
		case b.Reads == 0:
			w = append(w, "no card arms it any more")
		default:
			w = append(w, fmt.Sprintf("%d reads arm it, %s", b.Reads, either(b.Single, "one disarms", "as many disarm")))
		}
		w = append(w, seconds(timed{"exit delay", a.ExitDelay, b.ExitDelay}, timed{"entry delay", a.EntryDelay, b.EntryDelay},
			timed{"sounds for", a.Sounds, b.Sounds})...)
		if !slices.Equal(a.AlarmIDs, b.AlarmIDs) || !slices.Equal(a.ArmedIDs, b.ArmedIDs) ||
			!slices.Equal(a.DelayIDs, b.DelayIDs) {
			w = append(w, "turns other outputs on")
		}
		return strings.Join(w, ", ")
	}
}

// reactionWords says what differs in a reaction.
func reactionWords(names Names) func(a, b Reaction) string {
	return func(a, b Reaction) string {
		var w []string
		if a.When != b.When || a.Reason != b.Reason || a.Count != b.Count || a.Hour != b.Hour {
			w = append(w, "waits for something else: "+b.When.Words())
		}
		if !slices.Equal(a.Doors, b.Doors) || !slices.Equal(a.InputIDs, b.InputIDs) || a.AreaID != b.AreaID ||
			!slices.Equal(a.SourceIDs, b.SourceIDs) || !slices.Equal(a.AlarmIDs, b.AlarmIDs) {
			w = append(w, "waits for it elsewhere")
		}
		if a.ScheduleID != b.ScheduleID {
			w = append(w, "during "+names.of("schedule", b.ScheduleID))
		}
		if a.Do != b.Do || a.Mode != b.Mode || a.Text != b.Text || a.Address != b.Address {
			w = append(w, "does something else")
		}
		if !slices.Equal(a.Done, b.Done) || !slices.Equal(a.OutputIDs, b.OutputIDs) || !slices.Equal(a.ArmIDs, b.ArmIDs) ||
			a.EmergencyID != b.EmergencyID {
			w = append(w, "does it elsewhere")
		}
		if a.Seconds != b.Seconds || a.Until != b.Until {
			w = append(w, "for another time")
		}
		return cmp.Or(strings.Join(w, ", "), "waits for something else, or does something else")
	}
}

// listed names some objects.
func listed(ids []site.ID, kind string, names Names) string {
	var out []string
	for _, id := range ids {
		out = append(out, names.of(kind, id))
	}
	if len(out) > 4 {
		return fmt.Sprintf("%s and %d more", strings.Join(out[:3], ", "), len(out)-3)
	}
	return strings.Join(out, ", ")
}

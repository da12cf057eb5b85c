package sitefile

import (
	"fmt"
	"strings"

	"amberkeystone/core/site"
)

// renames are names that a field of the core has in the file; empty: the file has no name of its own for it, and what
// it stands in is named. Fields that end in Id or Ids are called by what they name, where no other name is here.
type renames map[string]string

var everywhere = renames{
	"personIds": "people", "setIds": "doorSets", "exemptIds": "exempt", "passIds": "passing", "emergencyId": "starts",
	"target": "", "targets": "where", "id": "",
	"week": "hours", "default": "otherwise",
	"car": "elevator", "stops": "floors", "boards": "expanders",
	"entries": "opens", "includes": "contains", "ride": "elevatorFloors", "carIds": "elevators", "allCars": "allElevators",
}

// What two kinds call otherwise than everybody.
var (
	ofAlarmArea = renames{
		"scheduleId": "armedDuring", "inputId": "name", "exit": "exitDelay", "entry": "entryDelay",
		"alarmIds": "onDuringAlarm", "armedIds": "onWhileArmed", "delayIds": "onDuringDelays",
	}
	ofReaction = renames{"sourceIds": "controllers", "alarmIds": "alarmAreas", "armIds": "arms", "until": "untilEnded"}
)

// inFile names a field of the core, as entries[2].scheduleId, as the file has it: opens[2].schedule.
func (r renames) inFile(field string) string {
	var out []string
	for part := range strings.SplitSeq(field, ".") {
		name, index, many := strings.Cut(part, "[")
		if said := r.name(name); said != "" {
			if many {
				said += "[" + index
			}
			out = append(out, said)
		}
	}
	return strings.Join(out, ".")
}

func (r renames) name(core string) string {
	if s, ok := r[core]; ok {
		return s
	}
	if s, ok := everywhere[core]; ok {
		return s
	}
	if s, ok := strings.CutSuffix(core, "Ids"); ok {
		return s + "s"
	}
	return strings.TrimSuffix(core, "Id")
}

// check notes what is wrong with something, at the names of the file.
func (n *naming) check(where string, faults site.Faults) { n.checkAs(where, nil, faults) }

func (n *naming) checkAs(where string, r renames, faults site.Faults) {
	for _, f := range faults {
		n.errs = append(n.errs, fmt.Errorf("%s, %s: %s", where, r.inFile(f.Field), f.Words))
	}
}

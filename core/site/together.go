package site

import (
	"encoding/json"
	"fmt"
	"slices"
	"strconv"
	"strings"
)

// Together is a change of several doors at once; what is not said stays.
type Together struct {
	Unlock    *int      `json:"unlock,omitempty"`
	Extended  *int      `json:"extended,omitempty"`
	ExitTime  *int      `json:"exitTime,omitempty"`
	HeldOpen  *int      `json:"heldOpen,omitempty"`
	PreAlarm  *int      `json:"preAlarm,omitempty"`
	Forced    *int      `json:"forced,omitempty"`
	Relock    *Relock   `json:"relock,omitempty" enum:"opening,closing,end"`
	PlanID    *ID       `json:"planId,omitempty"`
	FloorID   *ID       `json:"floorId,omitempty"`
	Lock      *LockKind `json:"lock,omitempty" enum:"strike,magnetic,motor,bolt,turnstile,barrier,shutter"`
	FailSafe  *bool     `json:"failSafe,omitempty"`
	Volts     *int      `json:"volts,omitempty"`
	Milliamps *int      `json:"milliamps,omitempty"`
	SupplyID  *ID       `json:"supplyId,omitempty"`
	OutOfUse  *bool     `json:"outOfUse,omitempty"`
	Formats   *[]string `json:"formats,omitempty" doc:"Card formats of its readers; an empty list: all that are listed"`
	// Like copies what is fitted and the timings of another door; terminals, addresses and names stay.
	Like ID `json:"like,omitempty"`
	// Names is a pattern: {n} counts from 1, {p} is the port, {c} the controller, {f} the floor.
	Names string `json:"names,omitempty" example:"{c} door {p}"`
}

func put[T any](to *T, v *T) {
	if v != nil {
		*to = *v
	}
}

// Apply returns some doors as the change leaves them, in the order in which they are named.
func (t *Together) Apply(c *Config, ids []ID) ([]Door, error) {
	var like *Door
	if t.Like != 0 {
		if like = c.Door(t.Like); like == nil {
			return nil, Faults{{"like", "the door whose settings are to be copied is no longer there"}}
		}
	}
	out := make([]Door, 0, len(ids))
	for n, id := range ids {
		was := c.Door(id)
		if was == nil {
			return nil, Faults{{"ids", fmt.Sprintf("door %d does not exist, or no longer; load the page again", id)}}
		}
		d := *was
		if like != nil {
			d.copyFrom(like)
		}
		t.set(&d)
		if t.Names != "" {
			d.Name = t.name(c, &d, n+1)
		}
		out = append(out, d)
	}
	return out, nil
}

// copyFrom takes over what is fitted to another door and its timings. Readers keep their addresses on the bus.
func (d *Door) copyFrom(o *Door) {
	in, out := d.In, d.Out
	d.Hardware = o.Hardware
	d.In.Address, d.Out.Address = in.Address, out.Address
	if d.In.Connection != OSDP {
		d.In.Address = 0
	}
	if d.Out.Connection != OSDP {
		d.Out.Address = 0
	}
}

func (t *Together) set(d *Door) {
	put(&d.Unlock, t.Unlock)
	put(&d.Extended, t.Extended)
	put(&d.ExitTime, t.ExitTime)
	put(&d.HeldOpen, t.HeldOpen)
	put(&d.PreAlarm, t.PreAlarm)
	put(&d.Forced, t.Forced)
	put(&d.Relock, t.Relock)
	put(&d.PlanID, t.PlanID)
	put(&d.FloorID, t.FloorID)
	put(&d.Lock, t.Lock)
	put(&d.FailSafe, t.FailSafe)
	put(&d.Volts, t.Volts)
	put(&d.Milliamps, t.Milliamps)
	put(&d.SupplyID, t.SupplyID)
	put(&d.OutOfUse, t.OutOfUse)
	if t.Lock != nil && *t.Lock == Magnetic {
		d.FailSafe = true
	}
	if t.Formats != nil {
		d.In.Formats = slices.Clone(*t.Formats)
		if d.Out.Fitted {
			d.Out.Formats = slices.Clone(*t.Formats)
		}
	}
}

// name fills the pattern for a door.
func (t *Together) name(c *Config, d *Door, n int) string {
	controller, floor := "", ""
	if x := c.Controller(d.ControllerID); x != nil {
		controller = x.Name
	}
	if i := slices.IndexFunc(c.Floors, func(f Floor) bool { return f.ID == d.FloorID }); i >= 0 {
		floor = c.Floors[i].Name
	}
	return strings.TrimSpace(strings.NewReplacer(
		"{n}", strconv.Itoa(n), "{p}", strconv.Itoa(d.Port), "{c}", controller, "{f}", floor,
	).Replace(t.Names))
}

// Differences says field by field what differs between two states of a door; name gives objects their names.
func Differences(was, is *Door, name func(ID) string) []string {
	a, b := plainFields(was), plainFields(is)
	var out []string
	for _, k := range sortedKeys(a, b) {
		if string(a[k]) == string(b[k]) {
			continue
		}
		f := Fields["Door."+k]
		title := f.Title
		if title == "" {
			title = k
		}
		out = append(out, fmt.Sprintf("%s %s → %s", title, valueWords(k, a[k], f.Unit, name),
			valueWords(k, b[k], f.Unit, name)))
	}
	return out
}

func plainFields(d *Door) map[string]json.RawMessage {
	out := map[string]json.RawMessage{}
	b, err := json.Marshal(d)
	if err == nil {
		err = json.Unmarshal(b, &out)
	}
	if err != nil { // plain data
		panic(err)
	}
	return out
}

func sortedKeys(a, b map[string]json.RawMessage) []string {
	var keys []string
	for k := range a {
		keys = append(keys, k)
	}
	for k := range b {
		if _, ok := a[k]; !ok {
			keys = append(keys, k)
		}
	}
	slices.Sort(keys)
	return keys
}

func valueWords(key string, raw json.RawMessage, unit string, name func(ID) string) string {
	if raw == nil || string(raw) == "false" || string(raw) == `""` {
		return "no"
	}
	if strings.HasSuffix(key, "Id") {
		if n, err := strconv.ParseInt(string(raw), 10, 64); err == nil {
			return name(ID(n))
		}
	}
	switch raw[0] {
	case 't':
		return "yes"
	case '"':
		return strings.Trim(string(raw), `"`)
	case '{', '[':
		return readerWords(raw)
	}
	if unit != "" {
		return string(raw) + " " + unit
	}
	return string(raw)
}

// readerWords describes a reader that stands in a document; of anything else only that it differs.
func readerWords(raw json.RawMessage) string {
	var r Reader
	if json.Unmarshal(raw, &r) != nil {
		return "as said"
	}
	w := r.Words()
	if len(r.Formats) > 0 {
		w += ", " + strings.Join(r.Formats, " and ")
	}
	return w
}

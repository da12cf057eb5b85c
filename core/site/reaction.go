package site

import (
	"fmt"
	"net/url"
	"slices"
	"strings"
	"time"
)

// Reaction is: when this happens here, during these hours, do that there, for so long (design 3.13).
type Reaction struct {
	ID         ID        `json:"id"`
	Name       string    `json:"name"`
	When       Happening `json:"when" enum:"granted,refused,entered,not-taken,forced,held-warning,held-open,exit-request,first-card,duress,keypad-locked,hold,hold-ended,released-once,lockdown,lockdown-ended,fire,fire-ended,floor-chosen,reader-lost,reader-tamper,input-active,input-rest,wire-cut,mains-lost,battery-low,tamper,armed,not-armed,arming-failed,disarmed,entering,intrusion,offline,occupied,hour"`
	Reason     string    `json:"reason,omitempty" doc:"Of refused: only for this reason, such as outside-hours; empty: for any"`
	At         []Target  `json:"at" doc:"Of what happens at doors: where; none listed: at any door"`
	InputIDs   []ID      `json:"inputIds" doc:"Of inputs: which; none listed: any"`
	SourceIDs  []ID      `json:"sourceIds" doc:"Of what happens to controllers: which; none listed: any"`
	AlarmIDs   []ID      `json:"alarmIds" required:"false" doc:"Of what happens to alarm areas: which; none listed: any"`
	AreaID     ID        `json:"areaId,omitempty" doc:"Of occupied"`
	Count      int       `json:"count,omitempty" doc:"Of occupied: so many people"`
	Hour       string    `json:"hour,omitempty" doc:"Of hour: a time of the day, such as 22:00, by the clock of each controller"`
	ScheduleID ID        `json:"scheduleId" doc:"Only while it is open"`

	Do          Doing    `json:"do" enum:"release,hold,back,lockdown,fire,output on,output off,arm,disarm,tell,mail,camera,call"`
	To          []Target `json:"to" doc:"Of what is done to doors: which"`
	OutputIDs   []ID     `json:"outputIds" doc:"Of outputs: which"`
	ArmIDs      []ID     `json:"armIds" required:"false" doc:"Of arm and disarm: which alarm areas"`
	EmergencyID ID       `json:"emergencyId,omitempty" doc:"Of lockdown and fire: which that was made ready"`
	Mode        string   `json:"mode,omitempty" doc:"Of hold: the passage mode"`
	Seconds     int      `json:"seconds,omitempty" doc:"Of hold and outputs: for so long; 0: until it is ended"`
	Until       bool     `json:"until,omitempty" doc:"Of output on: until what happened has ended"`
	Text        string   `json:"text,omitempty" doc:"Of tell, mail and camera: what is said; of camera: which camera"`
	Address     string   `json:"address,omitempty" doc:"Of mail: whom to; of call: the allowed address"`
	Off         bool     `json:"off,omitempty" doc:"Not in use; its settings are kept"`
}

// MostInARow is how often one reaction does something within a minute; then it rests until the minute is over.
const MostInARow = 20

// HourMinute is the minute of the day of Hour.
func (r *Reaction) HourMinute() (minute int, ok bool) {
	t, err := time.Parse("15:04", r.Hour)
	return 60*t.Hour() + t.Minute(), err == nil && r.Hour != ""
}

// Check says what is wrong with a reaction by itself.
func (r Reaction) Check() Faults {
	var fs Faults
	fs.name(r.Name)
	x, ok := r.When.info()
	fs.add(!ok, "when", "%q is nothing that a reaction waits for", r.When)
	fs.add(r.ScheduleID == 0, "scheduleId", "choose when it holds; Always is a schedule too")
	fs.targets("at", r.At)
	fs.once("inputIds", r.InputIDs, "input")
	fs.once("sourceIds", r.SourceIDs, "controller")
	fs.once("alarmIds", r.AlarmIDs, "alarm area")
	if ok {
		r.checkWhen(&fs, x)
	}
	r.checkDoing(&fs)
	return fs
}

func (r *Reaction) checkWhen(fs *Faults, x happened) {
	fs.add(len(r.At) > 0 && x.place != atDoors, "at", "%s at no door; list none", x.Words)
	fs.add(len(r.InputIDs) > 0 && x.place != atInputs, "inputIds", "%s at no input; list none", x.Words)
	fs.add(len(r.SourceIDs) > 0 && x.place != atControllers, "sourceIds", "%s at no controller; list none", x.Words)
	fs.add(len(r.AlarmIDs) > 0 && x.place != atAlarmAreas, "alarmIds", "%s at no alarm area; list none", x.Words)
	fs.add(r.Reason != "" && r.When != WhenRefused, "reason", "only a refusal has a reason; leave it out")
	fs.add(r.When == WhenOccupied && r.AreaID == 0, "areaId", "choose the area")
	fs.add(r.When == WhenOccupied && (r.Count < 1 || r.Count > 100_000), "count", "say how many people, 1 to 100000")
	_, hour := r.HourMinute()
	fs.add(r.When == WhenHour && !hour, "hour", "write a time of the day, such as 22:00")
}

func (r *Reaction) checkDoing(fs *Faults) {
	known := slices.ContainsFunc(Doings, func(d struct {
		Code  Doing
		Words string
	}) bool {
		return d.Code == r.Do
	})
	fs.add(!known, "do", "%q is nothing that a reaction does", r.Do)
	fs.targets("to", r.To)
	fs.once("outputIds", r.OutputIDs, "output")
	output := r.Do == DoOn || r.Do == DoOff
	fs.add(r.Do.atDoors() && len(r.To) == 0, "to", "choose the doors")
	fs.add(!r.Do.atDoors() && len(r.To) > 0, "to", "this is done to no door; list none")
	fs.add(output && len(r.OutputIDs) == 0, "outputIds", "choose the outputs")
	fs.add(!output && len(r.OutputIDs) > 0, "outputIds", "this is done to no output; list none")
	arms := r.Do == DoArm || r.Do == DoDisarm
	fs.once("armIds", r.ArmIDs, "alarm area")
	fs.add(arms && len(r.ArmIDs) == 0, "armIds", "choose the alarm areas")
	fs.add(!arms && len(r.ArmIDs) > 0, "armIds", "this is done to no alarm area; list none")
	fs.add((r.Do == DoLockdown || r.Do == DoFire) && r.EmergencyID == 0, "emergencyId",
		"choose which, of those that were made ready")
	fs.add(r.Do == DoHold && !slices.Contains([]string{"free", "card", "PIN", "card or PIN", "card and PIN", "barred"},
		r.Mode), "mode", "choose the passage mode in which the doors are held")
	fs.within("Reaction.seconds", "seconds", r.Seconds)
	fs.add(r.Until && (r.Do != DoOn || r.When.Ends() == ""), "until",
		"only an output that is turned on by something that ends goes off with it")
	fs.add(r.Until && r.Seconds > 0, "seconds", "it goes off when what happened has ended; give no time")
	fs.short("Reaction.text", "text", r.Text)
	fs.short("Reaction.address", "address", r.Address)
	fs.add((r.Do == DoTell || r.Do == DoMail || r.Do == DoCamera) && r.Text == "", "text", "write what is said")
	fs.add((r.Do == DoMail || r.Do == DoCall) && r.Address == "", "address", "say to whom")
}

func (fs *Faults) targets(path string, list []Target) {
	for i, t := range list {
		field := fmt.Sprintf("%s[%d]", path, i)
		t.check(fs, field)
		fs.add(t.Kind == AtReader, field+".kind", "it is about doors as a whole; choose a door")
		fs.add(slices.Contains(list[:i], t), field, "this place is listed twice")
	}
}

// causes lists the happenings that a doing is followed by of itself.
func (r *Reaction) causes() []Happening {
	switch r.Do {
	case DoRelease:
		return []Happening{WhenLetThrough}
	case DoHold:
		if r.Seconds > 0 {
			return []Happening{WhenHoldBegan, WhenHoldEnded}
		}
		return []Happening{WhenHoldBegan}
	case DoBack:
		return []Happening{WhenHoldEnded}
	case DoLockdown:
		return []Happening{WhenLockdown}
	case DoFire:
		return []Happening{WhenFire}
	case DoArm:
		return []Happening{WhenArmed, WhenNotArmed, WhenArmingFails}
	case DoDisarm:
		return []Happening{WhenDisarmed}
	}
	return nil
}

// AtDoors lists the doors at which what a reaction waits for may happen; of what happens elsewhere none.
func (p *Places) AtDoors(r *Reaction) map[ID]bool {
	if x, _ := r.When.info(); x.place != atDoors {
		return nil
	}
	return p.doorsOf(r.At, true)
}

// ToDoors lists the doors to which a reaction does something.
func (p *Places) ToDoors(c *Config, r *Reaction) map[ID]bool {
	switch {
	case r.Do.atDoors():
		return p.doorsOf(r.To, false)
	case r.EmergencyID != 0:
		if e := c.Emergency(r.EmergencyID); e != nil {
			return p.doorsOf(e.Targets, false)
		}
	}
	return nil
}

// doorsOf lists the doors of some targets; none listed means all, or nothing.
func (p *Places) doorsOf(targets []Target, all bool) map[ID]bool {
	out := map[ID]bool{}
	if len(targets) == 0 && all {
		targets = []Target{{Kind: Everything}}
	}
	for _, t := range targets {
		for _, d := range p.Doors(t) {
			out[d] = true
		}
	}
	return out
}

// ReactionLoop returns reactions that would go on setting each other off for ever, were one of them put into the
// configuration: in the order in which each sets off the next, the last the first. Nil: there are none.
func (c *Config) ReactionLoop(next *Reaction) []Reaction {
	list := make([]Reaction, 0, len(c.Reactions)+1)
	for _, r := range c.Reactions {
		if r.ID != next.ID && !r.Off {
			list = append(list, r)
		}
	}
	if next.Off {
		return nil
	}
	list = append(list, *next)
	follows := c.Follows(list)
	from := len(list) - 1
	path, seen := []int{from}, make([]bool, len(list))
	var walk func(at int) bool
	walk = func(at int) bool {
		for _, to := range follows[at] {
			if to == from {
				return true
			}
			if seen[to] {
				continue
			}
			seen[to] = true
			path = append(path, to)
			if walk(to) {
				return true
			}
			path = path[:len(path)-1]
		}
		return false
	}
	if !walk(from) {
		return nil
	}
	out := make([]Reaction, len(path))
	for i, n := range path {
		out[i] = list[n]
	}
	return out
}

// Follows lists for each of some reactions which of them it sets off, by their places.
func (c *Config) Follows(list []Reaction) [][]int {
	places := NewPlaces(c)
	at, to := make([]map[ID]bool, len(list)), make([]map[ID]bool, len(list))
	for i := range list {
		at[i], to[i] = places.AtDoors(&list[i]), places.ToDoors(c, &list[i])
	}
	out := make([][]int, len(list))
	for i := range list {
		for _, h := range list[i].causes() {
			for k := range list {
				if list[k].When == h && (meet(to[i], at[k]) || list[k].hearsOf(list[i].ArmIDs)) && !slices.Contains(out[i], k) {
					out[i] = append(out[i], k)
				}
			}
		}
	}
	return out
}

// hearsOf reports whether it waits for what happens to one of some alarm areas.
func (r *Reaction) hearsOf(areas []ID) bool {
	if x, _ := r.When.info(); x.place != atAlarmAreas {
		return false
	}
	return len(areas) > 0 &&
		(len(r.AlarmIDs) == 0 || slices.ContainsFunc(areas, func(id ID) bool { return slices.Contains(r.AlarmIDs, id) }))
}

func meet(a, b map[ID]bool) bool {
	for id := range a {
		if b[id] {
			return true
		}
	}
	return false
}

// Output finds an output by number, or nil.
func (c *Config) Output(id ID) *Output {
	for i := range c.Outputs {
		if c.Outputs[i].ID == id {
			return &c.Outputs[i]
		}
	}
	return nil
}

// UsualReaction is what most begin with: a held-open door, or any, turns an output on until it closes.
func UsualReaction(door, always ID) Reaction {
	r := Reaction{
		When: WhenHeldOpen, ScheduleID: always, Do: DoOn, Until: true,
		At: []Target{}, To: []Target{}, InputIDs: []ID{}, SourceIDs: []ID{}, OutputIDs: []ID{}, AlarmIDs: []ID{},
		ArmIDs: []ID{},
	}
	if door != 0 {
		r.At = []Target{{Kind: AtDoor, ID: door}}
	}
	return r
}

// Done is what a reaction does something to at one controller.
type Done struct{ Doors, Outputs, Areas []ID }

// Nothing reports whether it is done to nothing there.
func (d *Done) Nothing() bool { return len(d.Doors)+len(d.Outputs)+len(d.Areas) == 0 }

// BeginsAt reports whether what a reaction waits for may happen at a controller, so that it is told of it by itself. An
// hour is struck where something is done.
func (c *Config) BeginsAt(places *Places, r *Reaction, controller ID) bool {
	x, _ := r.When.info()
	switch {
	case r.When.AtServer() || r.Do.AtServer():
		return false
	case x.place == atDoors:
		for id := range places.AtDoors(r) {
			if d := c.Door(id); d != nil && d.ControllerID == controller {
				return true
			}
		}
		return false
	case x.place == atInputs:
		return slices.ContainsFunc(c.Inputs, func(i Input) bool {
			return i.ControllerID == controller && (len(r.InputIDs) == 0 || slices.Contains(r.InputIDs, i.ID))
		})
	case x.place == atAlarmAreas:
		return slices.ContainsFunc(c.AlarmAreas, func(a AlarmArea) bool {
			return !a.Off && (len(r.AlarmIDs) == 0 || slices.Contains(r.AlarmIDs, a.ID)) && c.AlarmController(&a) == controller
		})
	case x.place == atControllers:
		return len(r.SourceIDs) == 0 || slices.Contains(r.SourceIDs, controller)
	}
	return true
}

// DoneAt lists the doors, outputs and alarm areas of a controller to which a reaction does something, by their numbers.
func (c *Config) DoneAt(places *Places, r *Reaction, controller ID) (out Done) {
	to := places.ToDoors(c, r)
	for i := range c.Doors {
		if d := &c.Doors[i]; to[d.ID] && d.ControllerID == controller {
			out.Doors = append(out.Doors, d.ID)
		}
	}
	for i := range c.Outputs {
		if o := &c.Outputs[i]; o.ControllerID == controller && slices.Contains(r.OutputIDs, o.ID) {
			out.Outputs = append(out.Outputs, o.ID)
		}
	}
	slices.Sort(out.Doors)
	for i := range c.AlarmAreas {
		if a := &c.AlarmAreas[i]; !a.Off && slices.Contains(r.ArmIDs, a.ID) && c.AlarmController(a) == controller {
			out.Areas = append(out.Areas, a.ID)
		}
	}
	return out
}

// Callout is an address that reactions may call out to.
type Callout struct {
	Name string `json:"name"`
	URL  string `json:"url" doc:"http:// or https://"`
}

// Callout finds the URL of an allowed address.
func (s *Settings) Callout(name string) (url string, ok bool) {
	for _, c := range s.Callouts {
		if c.Name == name {
			return c.URL, true
		}
	}
	return "", false
}

func (s *Settings) checkCallouts(fs *Faults) {
	fs.add(len(s.Callouts) > 50, "callouts", "at most 50 addresses")
	for i, c := range s.Callouts {
		at := fmt.Sprintf("callouts[%d].", i)
		fs.add(strings.TrimSpace(c.Name) == "", at+"name", "give the address a name")
		fs.short("Callout.name", at+"name", c.Name)
		fs.short("Callout.url", at+"url", c.URL)
		u, err := url.Parse(c.URL)
		fs.add(err != nil || u.Host == "" || u.Scheme != "http" && u.Scheme != "https", at+"url",
			"write a whole address, such as https://example.org/hook")
		fs.add(slices.ContainsFunc(s.Callouts[:i], func(o Callout) bool { return o.Name == c.Name }), at+"name",
			"this name is listed twice")
	}
}

// CheckReaction says what is wrong with a reaction among the rest of a configuration: a loop is the caller's to word.
func (c *Config) CheckReaction(r *Reaction) Faults {
	var fs Faults
	if _, ok := c.Settings.Callout(r.Address); r.Do == DoCall && r.Address != "" && !ok {
		fs.add(true, "address", "%q is no address that is allowed; an administrator adds it under Rules, Reactions",
			r.Address)
	}
	if e := c.Emergency(r.EmergencyID); e != nil {
		fs.add(r.Do == DoLockdown && e.Does != Lockdown, "emergencyId", "%s is a fire release; choose a lockdown", e.Name)
		fs.add(r.Do == DoFire && e.Does != FireRelease, "emergencyId", "%s is a lockdown; choose a fire release", e.Name)
	}
	return fs
}

// Reaction finds a reaction by number, or nil.
func (c *Config) Reaction(id ID) *Reaction {
	for i := range c.Reactions {
		if c.Reactions[i].ID == id {
			return &c.Reactions[i]
		}
	}
	return nil
}

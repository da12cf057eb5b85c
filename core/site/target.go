package site

import (
	"encoding/json"
	"fmt"
	"slices"
)

// TargetKind is what sort of place a target names.
type TargetKind string

// The kinds of target, the narrowest first.
const (
	AtReader   TargetKind = "reader" // one side of a door
	AtDoor     TargetKind = "door"
	AtDoorSet  TargetKind = "door set"
	AtFloor    TargetKind = "floor" // its doors; of levels the elevators' stops there too
	AtSite     TargetKind = "site"
	Everything TargetKind = "everything" // every door, and those that are added later

	AtStops TargetKind = "elevator floors" // of an entry of a level: its Ride
)

// TargetKinds lists the kinds of target.
var TargetKinds = []TargetKind{AtReader, AtDoor, AtDoorSet, AtFloor, AtSite, Everything}

// Target names doors: one of them, one of its readers, those of a set, a floor or a site, or all. What is added to a
// set, a floor or a site later is meant too. It compares with ==.
type Target struct {
	Kind TargetKind `json:"kind" enum:"reader,door,door set,floor,site,everything,elevator floors"`
	ID   ID         `json:"id,omitempty" doc:"Of the door, door set, floor or site; 0 with everything"`
	Out  bool       `json:"out,omitempty" doc:"With reader: the reader out, else the reader in"`
}

// Side is which way through a door is meant. The zero value is both.
type Side uint8

// The sides.
const (
	BothSides Side = iota
	SideIn
	SideOut
	SideNone // of an elevator to none of whose floors an entry comes
)

// Takes reports whether a side is meant.
func (s Side) Takes(out bool) bool { return s == BothSides || s != SideNone && (s == SideOut) == out }

// Check says what is wrong with a target.
func (t Target) check(fs *Faults, field string) {
	fs.add(!slices.Contains(TargetKinds, t.Kind), field+".kind", "%q is not a place; write %s", t.Kind, kindsWords())
	fs.add(t.Kind != Everything && t.ID == 0, field+".id", "choose %s", one(string(t.Kind)))
	fs.add(t.Kind == Everything && t.ID != 0, field+".id", "everything needs no number; leave it out")
	fs.add(t.Kind != AtReader && t.Out, field+".out", "only a reader has a side; leave it out")
}

func kindsWords() string {
	words := ""
	for i, k := range TargetKinds {
		switch i {
		case 0:
		case len(TargetKinds) - 1:
			words += " or "
		default:
			words += ", "
		}
		words += string(k)
	}
	return words
}

// Refers returns what kind of object the target points to, and which; nothing where it means everything.
func (t Target) Refers() (kind string, id ID) {
	switch t.Kind {
	case Everything, AtStops:
		return "", 0
	case AtReader:
		return "door", t.ID
	}
	return string(t.Kind), t.ID
}

// Covered is a door that an entry of a level comes to, with the side that is meant.
type Covered struct {
	DoorID, ScheduleID ID
	Side               Side
	Stops              StopSet // of an elevator
}

// Meets reports whether two entries that come to one door have anything of it in common: of an elevator a floor.
func (c *Covered) Meets(o *Covered) bool {
	return c.DoorID == o.DoorID && (c.Stops == o.Stops || c.Stops[0]&o.Stops[0]|c.Stops[1]&o.Stops[1] != 0)
}

// Doors returns the doors that a target means, in the order of the configuration.
func (p *Places) Doors(t Target) []ID {
	switch t.Kind {
	case AtDoor, AtReader:
		if _, ok := p.floor[t.ID]; ok {
			return []ID{t.ID}
		}
		return nil
	}
	var out []ID
	for _, d := range p.doors {
		if p.Covers(t, d) {
			out = append(out, d)
		}
	}
	return out
}

// Covers reports whether a target means a door.
func (p *Places) Covers(t Target, door ID) bool {
	switch t.Kind {
	case AtDoor, AtReader:
		return t.ID == door
	case AtDoorSet:
		return p.sets[t.ID][door]
	case AtFloor:
		return p.floor[door] == t.ID
	case AtSite:
		return p.site[p.floor[door]] == t.ID
	}
	return t.Kind == Everything
}

// Entries resolves the entries of a level: the doors that each comes to, in their order, and the elevators with the
// stops that are meant. A place stands for what is there: a floor for the stops at it, wider ones for all stops.
func (p *Places) Entries(l *Level) []Covered {
	out := make([]Covered, 0, len(l.Entries))
	for i := range l.Entries {
		e := &l.Entries[i]
		side := BothSides
		if e.Target.Kind == AtReader {
			side = SideIn
			if e.Target.Out {
				side = SideOut
			}
		}
		if e.Target.Kind != AtStops {
			for _, door := range p.Doors(e.Target) {
				if p.cars[door] == nil && !p.leftOut(e.Except, door) {
					out = append(out, Covered{DoorID: door, ScheduleID: e.ScheduleID, Side: side})
				}
			}
		}
		if len(p.cars) > 0 {
			out = p.rides(out, e)
		}
	}
	return out
}

// rides adds the elevators that an entry comes to.
func (p *Places) rides(out []Covered, e *Entry) []Covered {
	for _, id := range p.doors {
		car := p.cars[id]
		if car == nil {
			continue
		}
		x := Covered{DoorID: id, ScheduleID: e.ScheduleID}
		meant := false
		switch {
		case e.Target.Kind == AtStops:
			meant = e.Ride != nil && (e.Ride.AllCars || slices.Contains(e.Ride.CarIDs, id))
			for i := range car.Stops {
				if e.Ride != nil && e.Ride.takes(id, car.Stops[i].FloorID) {
					x.Stops.Add(i)
				}
			}
		case e.Target.Kind == AtFloor:
			if i := car.StopAt(e.Target.ID); i >= 0 {
				meant = true
				x.Stops.Add(i)
			}
		case p.Covers(e.Target, id):
			meant, x.Stops = true, car.All()
		}
		if meant && p.less(&x, car, e.Except) {
			if x.Stops == (StopSet{}) {
				x.Side = SideNone
			}
			out = append(out, x)
		}
	}
	return out
}

// Floors lists the floors of the stops that an entry comes to; nil of a door.
func (p *Places) Floors(e *Covered) []ID {
	if car := p.cars[e.DoorID]; car != nil {
		return car.Floors(&e.Stops)
	}
	return nil
}

// less takes what is left out off the stops of an elevator, and reports whether anything of it is still meant.
func (p *Places) less(x *Covered, car *Car, except []Target) bool {
	for _, t := range except {
		if t.Kind != AtFloor && p.Covers(t, x.DoorID) {
			return false
		}
		if i := car.StopAt(t.ID); t.Kind == AtFloor && i >= 0 {
			x.Stops[i/64] &^= 1 << (i % 64)
		}
	}
	return true
}

func (p *Places) leftOut(except []Target, door ID) bool {
	for _, t := range except {
		if p.Covers(t, door) {
			return true
		}
	}
	return false
}

// Entry lets through the doors of a target while a schedule is open, but for those that are left out.
type Entry struct {
	Target     Target   `json:"target"`
	ScheduleID ID       `json:"scheduleId"`
	Except     []Target `json:"except,omitempty" doc:"Doors of the place that are left out; another entry may come to them all the same"`
	Ride       *Ride    `json:"ride,omitempty" doc:"Of elevator floors: which floors, by which elevators"`
}

// Equal reports whether two entries say the same.
func (e Entry) Equal(o Entry) bool {
	return e.Target == o.Target && e.ScheduleID == o.ScheduleID && slices.Equal(e.Except, o.Except) && e.Ride.Equal(o.Ride)
}

// At is an entry for one door.
func At(door, schedule ID) Entry {
	return Entry{Target: Target{Kind: AtDoor, ID: door}, ScheduleID: schedule}
}

// UnmarshalJSON reads an entry, and those from before there were targets, which named a door.
func (e *Entry) UnmarshalJSON(b []byte) error {
	var v struct {
		Target     Target   `json:"target"`
		ScheduleID ID       `json:"scheduleId"`
		Except     []Target `json:"except"`
		Ride       *Ride    `json:"ride"`
		DoorID     ID       `json:"doorId"`
	}
	if err := json.Unmarshal(b, &v); err != nil {
		return fmt.Errorf("entry: %w", err)
	}
	if v.DoorID != 0 && v.Target == (Target{}) {
		v.Target = Target{Kind: AtDoor, ID: v.DoorID}
	}
	*e = Entry{v.Target, v.ScheduleID, v.Except, v.Ride}
	return nil
}

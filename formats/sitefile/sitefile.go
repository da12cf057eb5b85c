// Package sitefile reads and writes the site file: a whole configuration as one JSON document, keyed by
// names so that a person can write it and a difference can be read. schema.json beside this file describes it.
package sitefile

import (
	"bytes"
	_ "embed"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"strings"

	"amberkeystone/core/hours"
	"amberkeystone/core/site"
	"amberkeystone/formats/openinghours"
)

// Schema is the JSON Schema (2020-12) of the site file.
//
//go:embed schema.json
var Schema []byte

type file struct {
	Schema      string        `json:"$schema,omitempty"`
	Settings    site.Settings `json:"settings"`
	Sites       []place       `json:"sites"`
	Controllers []controller  `json:"controllers"`
	Types       []holidayType `json:"holidayTypes"`
	Holidays    []holiday     `json:"holidays"`
	Schedules   []schedule    `json:"schedules"`
	Plans       []plan        `json:"plans"`
	Supplies    []supply      `json:"supplies,omitempty"`
	Doors       []door        `json:"doors"`
	Inputs      []input       `json:"inputs,omitempty"`
	Outputs     []output      `json:"outputs,omitempty"`
	Facilities  []facility    `json:"facilities,omitempty"`
	Sets        []doorSet     `json:"doorSets"`
	Changes     []change      `json:"datedChanges"`
	Levels      []level       `json:"levels"`
	Departments []department  `json:"departments,omitempty"`
	People      []person      `json:"people"`

	FreeCards []site.Credential `json:"freeCards,omitempty"`

	Interlocks []interlock `json:"interlocks,omitempty"`
	Areas      []area      `json:"areas,omitempty"`
	Groups     []group     `json:"groups,omitempty"`
	Proofs     []proofs    `json:"severalProofs,omitempty"`
	Screenings []screening `json:"screenings,omitempty"`

	Emergencies []emergency `json:"emergencies,omitempty"`
	AlarmAreas  []alarmArea `json:"alarmAreas,omitempty"`
	Reactions   []reaction  `json:"reactions,omitempty"`
}

type place struct {
	Name   string  `json:"name"`
	Zone   string  `json:"zone"`
	Twelve bool    `json:"twelveHour,omitempty"`
	Sunday bool    `json:"fromSunday,omitempty"`
	Floors []floor `json:"floors"`
}

type floor struct {
	Name  string `json:"name"`
	Level int    `json:"level"`
}

type controller struct {
	Name   string `json:"name"`
	Site   string `json:"site"`
	Zone   string `json:"zone,omitempty"`
	Serial string `json:"serial"`
	Model  string `json:"model"`
	Ports  int    `json:"ports"`
	People int    `json:"people"`

	Place     string          `json:"place,omitempty"`
	Resistor  int             `json:"resistor,omitempty"`
	Expanders []site.Expander `json:"expanders,omitempty"`
	Network   site.Network    `json:"network,omitzero"`
}

type schedule struct {
	Name     string   `json:"name"`
	Hours    string   `json:"hours"`
	Holidays []answer `json:"holidays,omitempty"`
}

type plan struct {
	Name     string     `json:"name"`
	Default  hours.Mode `json:"otherwise"`
	Hours    string     `json:"hours,omitempty"`
	Holidays []answer   `json:"holidays,omitempty"`
}

type door struct {
	Name       string `json:"name"`
	Site       string `json:"site"`
	Floor      string `json:"floor"`
	Controller string `json:"controller"`
	Port       int    `json:"port"`
	Plan       string `json:"plan"`
	Outside    string `json:"outside,omitempty"`
	Inside     string `json:"inside,omitempty"`

	FirstCard *site.FirstCard `json:"firstCard,omitempty"`
	Toggle    *site.Toggle    `json:"toggle,omitempty"`
	From      string          `json:"outsideArea,omitempty"`
	To        string          `json:"insideArea,omitempty"`
	Points    *site.Points    `json:"points,omitempty"`
	OutOfUse  bool            `json:"outOfUse,omitempty"`
	NotFar    bool            `json:"notFromAfar,omitempty"`
	Order     int             `json:"order,omitempty"`
	Supply    string          `json:"supply,omitempty"`
	Car       *car            `json:"elevator,omitempty"`
	site.Cable
	site.Hardware
}

// UnmarshalJSON reads a door over the usual hardware, so that a file says only what is special.
func (d *door) UnmarshalJSON(b []byte) error {
	type plainDoor door
	v := plainDoor{Hardware: usual(b)}
	dec := json.NewDecoder(bytes.NewReader(b))
	dec.DisallowUnknownFields()
	err := dec.Decode(&v)
	*d = door(v)
	return err
}

type level struct {
	Name string `json:"name"`
	site.Authorities
	Contains []string `json:"contains,omitempty"` // other levels
	Entries  []entry  `json:"opens"`
}

// where names one place: a door, or one side of it, a door set, a floor, a site, or everything.
type where struct {
	Door       string     `json:"door,omitempty"`
	Side       string     `json:"side,omitempty"` // of the door: in or out
	DoorSet    string     `json:"doorSet,omitempty"`
	Floor      *floorName `json:"floor,omitempty"`
	Site       string     `json:"site,omitempty"`
	Everything bool       `json:"everything,omitempty"`
}

type entry struct {
	where
	Schedule string  `json:"schedule"`
	Except   []where `json:"except,omitempty"`
	Ride     *ride   `json:"elevatorFloors,omitempty"` // in place of where
}

// naming finds IDs by name and remembers what was not found.
type naming struct {
	ids  map[string]site.ID
	next site.ID
	errs []error

	notices []string // of what counts for nothing
}

func key(kind string, names ...string) string { return kind + "\x00" + strings.Join(names, "\x00") }

func (n *naming) add(kind string, names ...string) site.ID {
	k := key(kind, names...)
	if _, ok := n.ids[k]; ok {
		n.errs = append(n.errs, fmt.Errorf("%s %q is there twice", kind, names[len(names)-1]))
	}
	n.next++
	n.ids[k] = n.next
	return n.next
}

// number gives a number to what nobody names.
func (n *naming) number() site.ID {
	n.next++
	return n.next
}

func (n *naming) find(where, kind string, names ...string) site.ID {
	id, ok := n.ids[key(kind, names...)]
	if !ok {
		n.errs = append(n.errs, fmt.Errorf("%s: there is no %s %q", where, kind, strings.Join(names, ", ")))
		return n.number() // so that it is not said to be missing too
	}
	return id
}

func (n *naming) note(where string, err error) {
	if err != nil {
		n.errs = append(n.errs, fmt.Errorf("%s: %w", where, err))
	}
}

// Parse reads a site file. PINs are hashed with the key. IDs are given in the order of the file, the basics
// first. The error tells everything that is wrong, each with its place.
func Parse(b []byte, pinKey []byte) (*site.Config, error) {
	c, _, err := ParseNoting(b, pinKey)
	return c, err
}

// ParseNoting is Parse that also points out what stands in the file and counts for nothing.
func ParseNoting(b []byte, pinKey []byte) (*site.Config, []string, error) {
	f := file{Settings: site.DefaultSettings()}
	dec := json.NewDecoder(bytes.NewReader(b))
	dec.DisallowUnknownFields()
	if err := dec.Decode(&f); err != nil {
		return nil, nil, explain(b, err)
	}
	if _, err := dec.Token(); !errors.Is(err, io.EOF) {
		return nil, nil, errors.New("site file: something follows after its end")
	}
	n := &naming{ids: map[string]site.ID{}}
	c := &site.Config{Settings: f.Settings}
	n.check("settings", c.Settings.Check())
	n.places(&f, c)
	n.holidays(&f, c)
	n.weeks(&f, c)
	n.supplies(&f, c)
	n.doors(&f, c)
	n.wired(&f, c)
	n.planHours(&f, c)
	n.changes(&f, c)
	n.levels(&f, c)
	n.departments(&f, c)
	n.people(&f, c, pinKey)
	n.rules(&f, c)
	return c, n.notices, errors.Join(n.errs...)
}

func (n *naming) places(f *file, c *site.Config) {
	for _, p := range f.Sites {
		s := site.Site{ID: n.add("site", p.Name), Name: p.Name, Zone: p.Zone, TwelveHour: p.Twelve, FromSunday: p.Sunday}
		n.check("site "+p.Name, s.Check())
		c.Sites = append(c.Sites, s)
		for _, fl := range p.Floors {
			v := site.Floor{ID: n.add("floor", p.Name, fl.Name), Name: fl.Name, SiteID: s.ID, Level: fl.Level}
			n.check("floor "+fl.Name, v.Check())
			c.Floors = append(c.Floors, v)
		}
	}
	for _, x := range f.Controllers {
		v := site.Controller{
			ID:     n.add("controller", x.Name),
			Name:   x.Name,
			SiteID: n.find("controller "+x.Name, "site", x.Site),
			Zone:   x.Zone,
			Serial: x.Serial,
			Model:  x.Model,
			Ports:  x.Ports,
			People: x.People,

			Place: x.Place, Resistor: x.Resistor, Expanders: x.Expanders, Network: x.Network,
		}
		for _, s := range c.Sites {
			if v.Zone == "" && s.ID == v.SiteID {
				v.Zone = s.Zone
			}
		}
		n.check("controller "+x.Name, v.Check())
		c.Controllers = append(c.Controllers, v)
	}
}

func (n *naming) weeks(f *file, c *site.Config) {
	schedules, plans := site.Basics()
	for _, s := range schedules {
		s.ID = n.add("schedule", s.Name)
		c.Schedules = append(c.Schedules, s)
	}
	for _, x := range f.Schedules {
		text, err := openinghours.ParseWeek(x.Hours)
		n.note("schedule "+x.Name, err)
		s := site.Schedule{ID: n.add("schedule", x.Name), Name: x.Name, Week: text.Week, Holidays: n.scheduleRows(x)}
		if text.SaysPH {
			n.hidden("schedule "+x.Name, s.AnswerPH(text.Holidays, c.Types))
		}
		n.check("schedule "+x.Name, s.Check())
		c.Schedules = append(c.Schedules, s)
	}
	for _, p := range plans {
		p.ID = n.add("plan", p.Name)
		c.Plans = append(c.Plans, p)
	}
	for _, x := range f.Plans {
		if x.Name == plans[0].Name { // the basic plan may be said anew
			continue
		}
		c.Plans = append(c.Plans, site.Plan{ID: n.add("plan", x.Name), Name: x.Name})
	}
}

func (n *naming) doors(f *file, c *site.Config) {
	for _, x := range f.Areas { // who is exempt is read once people are known
		c.Areas = append(c.Areas, site.Area{ID: n.add("area", x.Name), Name: x.Name, Mode: x.Mode, Timed: x.Timed,
			Forget: x.Forget,
			Most:   x.Most, Two: x.Two, Strict: x.Strict, ExemptIDs: []site.ID{}})
	}
	ports := map[string]string{}
	for _, x := range f.Doors {
		where := "door " + x.Name
		d := site.Door{ID: n.add("door", x.Name), Name: x.Name, FloorID: n.find(where, "floor", x.Site, x.Floor),
			ControllerID: n.find(
				where,
				"controller",
				x.Controller,
			), Port: x.Port, PlanID: n.find(where, "plan", x.Plan),
			Outside: x.Outside, Inside: x.Inside, FirstCard: site.UsualFirstCard(), Toggle: x.Toggle, NotFromAfar: x.NotFar,
			Points: x.Points, OutOfUse: x.OutOfUse,
			Order: x.Order, Cable: x.Cable, Hardware: x.Hardware, Car: n.car(where, x.Site, x.Car)}
		if x.Supply != "" {
			d.SupplyID = n.find(where, "supply", x.Supply)
		}
		if x.From != "" {
			d.OutsideAreaID = n.find(where, "area", x.From)
		}
		if x.To != "" {
			d.InsideAreaID = n.find(where, "area", x.To)
		}
		if x.FirstCard != nil {
			d.FirstCard = *x.FirstCard
		}
		n.check(where, d.Check())
		at := fmt.Sprintf("%s port %d", x.Controller, x.Port)
		if other, ok := ports[at]; ok {
			n.note(where, fmt.Errorf("%s already drives %s", at, other))
		}
		ports[at] = x.Name
		c.Doors = append(c.Doors, d)
	}
	for _, x := range f.Levels {
		c.Levels = append(c.Levels, site.Level{ID: n.add("level", x.Name), Name: x.Name, Authorities: x.Authorities})
	}
}

// levels reads where levels lead, once all that they may name is known.
func (n *naming) levels(f *file, c *site.Config) {
	for i, x := range f.Levels {
		l, at := &c.Levels[i], "level "+x.Name
		for _, e := range x.Entries {
			out := n.entry(at, &e)
			for _, w := range e.Except {
				out.Except = append(out.Except, n.target(at, w))
			}
			l.Entries = append(l.Entries, out)
		}
		for _, name := range x.Contains {
			l.Includes = append(l.Includes, n.find(at, "level", name))
		}
		n.check(at, l.Check())
	}
	for i := range c.Levels {
		if l := &c.Levels[i]; c.Loop(l.ID, l.Includes) != nil {
			n.note("level "+l.Name, errors.New("it contains itself through others; take one of them out"))
		}
	}
}

// entry reads where an entry leads, and when.
func (n *naming) entry(at string, e *entry) site.Entry {
	if e.Ride == nil {
		return site.Entry{Target: n.target(at, e.where), ScheduleID: n.find(at, "schedule", e.Schedule)}
	}
	if e.where != (where{}) {
		n.note(at, errors.New("an entry names elevator floors and a place; write one of them"))
	}
	return site.Entry{
		Target: site.Target{Kind: site.AtStops}, Ride: n.ride(at, e.Ride), ScheduleID: n.find(at, "schedule", e.Schedule),
	}
}

// target reads the one place that something names.
func (n *naming) target(at string, e where) (t site.Target) {
	var named []site.Target
	if e.Door != "" {
		t = site.Target{Kind: site.AtDoor, ID: n.find(at, "door", e.Door)}
		if e.Side != "" {
			t.Kind, t.Out = site.AtReader, e.Side == "out"
		}
		named = append(named, t)
	}
	if e.DoorSet != "" {
		named = append(named, site.Target{Kind: site.AtDoorSet, ID: n.find(at, "door set", e.DoorSet)})
	}
	if e.Floor != nil {
		named = append(named, site.Target{Kind: site.AtFloor, ID: n.find(at, "floor", e.Floor.Site, e.Floor.Floor)})
	}
	if e.Site != "" {
		named = append(named, site.Target{Kind: site.AtSite, ID: n.find(at, "site", e.Site)})
	}
	if e.Everything {
		named = append(named, site.Target{Kind: site.Everything})
	}
	if len(named) != 1 {
		n.note(
			at,
			fmt.Errorf("an entry names %d places; write one of door, doorSet, floor, site, everything, elevatorFloors",
				len(named)),
		)
		return site.Target{Kind: site.Everything}
	}
	if e.Side != "" && (e.Door == "" || e.Side != "in" && e.Side != "out") {
		n.note(at, fmt.Errorf("side %q: write in or out, beside a door", e.Side))
	}
	return named[0]
}

// Package image builds what one controller needs to decide alone, as canonical bytes with a hash, and says in words how
// two images differ. An image names nothing and holds nothing that its controller does not need; people who hold the
// same are told apart by their numbers alone.
//
// Reading order: image.go, rules.go, check.go, compile.go (an image laid out to be asked), place.go; diff.go and
// rulewords.go have the words, sections.go the bytes.
package image

import (
	"bytes"
	"cmp"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"slices"

	"amberkeystone/core/cards"
	"amberkeystone/core/hours"
	"amberkeystone/core/site"
)

// Version is the layout of an image; a controller refuses one it does not know. Layout 2, one document without
// sections, is still read, so that what was sent before can be compared.
const Version = 3

// Image is what one controller holds. It names nobody: people are numbers, so a change of name changes
// nothing. Lists are sorted, so equal images have equal bytes.
type Image struct {
	Version    int                `json:"version"`
	Controller site.ID            `json:"controller"`
	Zone       hours.Zone         `json:"zone"`
	Settings   site.Settings      `json:"settings"`
	PINKey     []byte             `json:"pinKey"`
	Floors     []site.Floor       `json:"floors"` // only which site each is in
	Doors      []site.Door        `json:"doors"`  // by port
	Inputs     []site.Input       `json:"inputs"` // without names, as the outputs
	Outputs    []site.Output      `json:"outputs"`
	Expanders  []site.Expander    `json:"expanders"` // on its bus
	Types      []site.HolidayType `json:"types"`
	Holidays   []site.Holiday     `json:"holidays"`
	Plans      []site.Plan        `json:"plans"`
	Schedules  []site.Schedule    `json:"schedules"`
	Changes    []site.DatedChange `json:"changes"` // for its own doors only
	Levels     []Level            `json:"levels"`
	Rules      Rules              `json:"rules"`
	People     []Person           `json:"people"`
}

// Level is what a controller knows of an access level: the doors of its own that the level comes to.
type Level struct {
	ID      site.ID `json:"id"`
	Name    string  `json:"name"` // empty
	Entries []Entry `json:"entries"`
	site.Authorities
}

// Entry lets through a door, or one side of it, while a schedule is open.
type Entry struct {
	DoorID     site.ID      `json:"doorId"`
	ScheduleID site.ID      `json:"scheduleId"`
	Side       site.Side    `json:"side,omitempty"`
	Stops      site.StopSet `json:"stops,omitzero"` // of an elevator
}

func (e Entry) compare(o Entry) int {
	return cmp.Or(cmp.Compare(e.DoorID, o.DoorID), cmp.Compare(e.ScheduleID, o.ScheduleID), cmp.Compare(e.Side, o.Side),
		cmp.Compare(e.Stops[1], o.Stops[1]), cmp.Compare(e.Stops[0], o.Stops[0]))
}

// Site is what a controller holds as a configuration, without its people, inputs and outputs. It shares the image's
// lists.
func (im *Image) Site() *site.Config {
	return &site.Config{
		Settings: im.Settings, Floors: im.Floors, Doors: im.Doors, Types: im.Types, Holidays: im.Holidays, Plans: im.Plans,
		Schedules: im.Schedules, Changes: im.Changes, Levels: im.siteLevels(),
		Interlocks: im.Rules.Interlocks, Areas: im.Rules.Areas, Proofs: im.Rules.Proofs, Groups: im.Rules.siteGroups(),
		Screenings: im.siteScreenings(), Emergencies: im.Rules.siteEmergencies(), Reactions: im.Rules.siteReactions(),
		AlarmAreas: im.Rules.AlarmAreas,
	}
}

// siteLevels returns the levels as a configuration has them, of the controller's own doors.
func (im *Image) siteLevels() []site.Level {
	var out []site.Level
	for _, l := range im.Levels {
		x := site.Level{ID: l.ID, Authorities: l.Authorities}
		for _, e := range l.Entries {
			if car := im.car(e.DoorID); car != nil {
				ride := &site.Ride{CarIDs: []site.ID{e.DoorID}, FloorIDs: car.Floors(&e.Stops)}
				x.Entries = append(x.Entries, site.Entry{
					Target: site.Target{Kind: site.AtStops}, ScheduleID: e.ScheduleID, Ride: ride,
				})
				continue
			}
			t := site.Target{Kind: site.AtDoor, ID: e.DoorID}
			if e.Side != site.BothSides {
				t.Kind, t.Out = site.AtReader, e.Side == site.SideOut
			}
			x.Entries = append(x.Entries, site.Entry{Target: t, ScheduleID: e.ScheduleID})
		}
		out = append(out, x)
	}
	return out
}

// car returns the floors of a door of the image; nil where it is none of its elevators.
func (im *Image) car(door site.ID) *site.Car {
	for i := range im.Doors {
		if im.Doors[i].ID == door {
			return im.Doors[i].Car
		}
	}
	return nil
}

// cars are the elevators of the image.
func (im *Image) cars() map[site.ID]*site.Car {
	out := map[site.ID]*site.Car{}
	for i := range im.Doors {
		if c := im.Doors[i].Car; c != nil {
			out[im.Doors[i].ID] = c
		}
	}
	return out
}

// Card is a card of a person.
type Card struct {
	Format   string                `json:"format"`
	Facility uint64                `json:"facility"`
	Number   uint64                `json:"number"`
	Status   site.CredentialStatus `json:"status"`
	site.Dates
}

// Shown is a credential of another kind.
type Shown struct {
	Kind   site.CredentialKind   `json:"kind"`
	Value  string                `json:"value"`
	Status site.CredentialStatus `json:"status"`
	site.Dates
}

// Person is what a controller knows of a person.
type Person struct {
	ID         site.ID        `json:"id"`
	Suspended  bool           `json:"suspended,omitempty"`
	Extended   bool           `json:"extended,omitempty"`
	AlwaysPIN  bool           `json:"alwaysPin,omitempty"`
	PINInstead bool           `json:"pinInstead,omitempty"`
	PIN        *cards.PINHash `json:"pin,omitempty"`
	Duress     *cards.PINHash `json:"duress,omitempty"`
	PINLength  int            `json:"pinLength,omitempty"` // of the PIN, in digits; 0 is Settings.PINLength
	Cards      []Card         `json:"cards"`
	Shown      []Shown        `json:"shown,omitempty"`    // what is no card
	Screened   []site.ID      `json:"screened,omitempty"` // the screenings that they are under
	Levels     []site.Grant   `json:"levels"`
	site.Dates
}

// Secrets are the keys that go into an image and nowhere else.
type Secrets struct{ PINKey []byte }

// Build selects what a controller needs from the configuration: its doors, what they follow, the levels that open them,
// and the people who have a credential and one of those levels. A card of anybody else it does not know; the server,
// which knows everybody, says whose it is (prove.Book.Recognise). The zone is the controller's.
func Build(c *site.Config, controller site.ID, zone hours.Zone, secrets Secrets) *Image {
	c = c.Effective()
	im, levels := withoutPeople(c, controller, zone, secrets)
	leads := func(l site.ID) bool { return levels[l] }
	for i := range c.People {
		p := person(c.People[i], c.Settings.PINLength, leads)
		if len(p.Levels) > 0 && (len(p.Cards)+len(p.Shown) > 0 || p.PIN != nil) {
			im.People = append(im.People, p)
		}
	}
	return im
}

// WithoutPeople is Build without anybody, to be asked about one person at a time (Compiled.Alone).
func WithoutPeople(c *site.Config, controller site.ID, zone hours.Zone) *Image {
	im, _ := withoutPeople(c.Effective(), controller, zone, Secrets{})
	return im
}

// withoutPeople selects all but the people, and says which levels lead through the controller's doors.
func withoutPeople(c *site.Config, controller site.ID, zone hours.Zone, secrets Secrets) (*Image, map[site.ID]bool) {
	im := &Image{Version: Version, Controller: controller, Zone: zone, Settings: c.Settings, PINKey: secrets.PINKey}
	im.Settings.Name, im.Settings.Callouts = "", nil
	doors, plans, schedules, levels := map[site.ID]bool{}, map[site.ID]bool{}, map[site.ID]bool{}, map[site.ID]bool{}
	for _, d := range c.Doors {
		if d.ControllerID != controller {
			continue
		}
		doors[d.ID], plans[d.PlanID] = true, true
		for _, id := range d.Schedules() {
			schedules[id] = true
		}
		d = d.DecidingOnly()
		if d.Points != nil { // those of its port are not said, nor are those of what is not fitted
			plain, own := d, d.Fitted()
			if plain.Points = nil; plain.Fitted() == own {
				d.Points = nil
			} else {
				d.Points = &own
			}
		}
		im.Doors = append(im.Doors, d)
	}
	slices.SortFunc(im.Doors, func(a, b site.Door) int { return a.Port - b.Port })
	im.wired(c)
	places := site.NewPlaces(c)
	im.times(c, places)
	for i := range c.Levels {
		l := &c.Levels[i]
		kept := Level{ID: l.ID, Authorities: l.Authorities}
		for _, e := range places.Entries(l) {
			if doors[e.DoorID] {
				kept.Entries = append(kept.Entries, Entry(e))
				schedules[e.ScheduleID] = true
			}
		}
		if len(kept.Entries) == 0 {
			continue
		}
		slices.SortFunc(kept.Entries, Entry.compare)
		kept.Entries = slices.Compact(kept.Entries) // as where a floor and one of its doors are listed
		levels[l.ID] = true
		im.Levels = append(im.Levels, kept)
	}
	im.Rules = rulesOf(c, controller, doors)
	for _, id := range im.Rules.schedules() {
		schedules[id] = true
	}
	for _, p := range c.Plans {
		if plans[p.ID] {
			im.Plans = append(im.Plans, normalPlan(p))
		}
	}
	for _, s := range c.Schedules {
		if schedules[s.ID] {
			im.Schedules = append(im.Schedules, normalSchedule(s))
		}
	}
	return im, levels
}

// wired selects the inputs and outputs that belong to no door, with the doors that are theirs and the controller's.
func (im *Image) wired(c *site.Config) {
	here := func(ids []site.ID) []site.ID {
		ids = slices.Clone(ids)
		slices.Sort(ids)
		return ids
	}
	if x := c.Controller(im.Controller); x != nil {
		for _, e := range x.Expanders {
			e.Name = ""
			im.Expanders = append(im.Expanders, e)
		}
		slices.SortFunc(im.Expanders,
			func(a, b site.Expander) int { return cmp.Or(a.Address-b.Address, cmp.Compare(a.Kind, b.Kind)) })
	}
	for _, x := range c.Inputs {
		if x.ControllerID == im.Controller {
			x.Name, x.ControllerID, x.DoorIDs = "", 0, here(x.DoorIDs)
			im.Inputs = append(im.Inputs, x)
		}
	}
	for _, x := range c.Outputs {
		if x.ControllerID == im.Controller {
			x.Name, x.ControllerID, x.DoorIDs = "", 0, here(x.DoorIDs)
			im.Outputs = append(im.Outputs, x)
		}
	}
}

// times selects the holidays of the sites that the doors are in, and the dated changes for the doors. Of the floors
// only the site counts: one stands for all of a site, with the site's own number, so that it is the same whichever
// floors there are.
func (im *Image) times(c *site.Config, places *site.Places) {
	changes := make([][]site.ID, len(c.Changes)) // asked of the floors that the doors are on, before these are left out
	for i := range c.Changes {
		changes[i] = c.Changes[i].DoorsAmong(places, im.Doors)
	}
	sites := map[site.ID]bool{}
	for i := range im.Doors {
		d := &im.Doors[i]
		d.FloorID = places.Site(d.FloorID)
		if s := d.FloorID; !sites[s] && s != 0 {
			sites[s] = true
			im.Floors = append(im.Floors, site.Floor{ID: s, SiteID: s})
		}
	}
	slices.SortFunc(im.Floors, func(a, b site.Floor) int { return cmp.Compare(a.ID, b.ID) })
	types := map[site.ID]bool{}
	for _, h := range c.Holidays {
		if len(h.SiteIDs) > 0 {
			h.SiteIDs = slices.DeleteFunc(slices.Clone(h.SiteIDs), func(s site.ID) bool { return !sites[s] })
			if len(h.SiteIDs) == 0 {
				continue
			}
			slices.Sort(h.SiteIDs)
		}
		h.Name = ""
		im.Holidays = append(im.Holidays, h)
		types[h.TypeID] = true
	}
	for _, t := range c.Types {
		if types[t.ID] { // one that no day here has means nothing here
			t.Name = ""
			im.Types = append(im.Types, t)
		}
	}
	for i, kept := range c.Changes {
		if len(changes[i]) == 0 {
			continue
		}
		kept.Name, kept.FloorIDs, kept.SiteIDs, kept.SetIDs, kept.DoorIDs = "", nil, nil, nil, changes[i]
		slices.Sort(kept.DoorIDs)
		im.Changes = append(im.Changes, kept)
	}
}

func normalPlan(p site.Plan) site.Plan {
	p = p.Normal()
	p.Name = ""
	slices.SortFunc(p.Holidays, func(a, b site.PlanHoliday) int { return cmp.Compare(a.TypeID, b.TypeID) })
	return p
}

func normalSchedule(s site.Schedule) site.Schedule {
	s.Name, s.Week = "", s.Week.Normal()
	s.Holidays = slices.Clone(s.Holidays)
	for i := range s.Holidays {
		s.Holidays[i].Periods = hours.Week{s.Holidays[i].Periods}.Normal()[0]
	}
	slices.SortFunc(s.Holidays, func(a, b site.ScheduleHoliday) int { return cmp.Compare(a.TypeID, b.TypeID) })
	return s
}

// person is what a controller knows of somebody, with those of their levels that lead through its doors.
func person(p *site.Person, length int, leads func(level site.ID) bool) Person {
	out := Person{
		ID: p.ID, Suspended: p.Suspended, Extended: p.ExtendedTime, AlwaysPIN: p.AlwaysPIN, PINInstead: p.PINInstead,
		PIN: p.PIN, Duress: p.Duress, Cards: []Card{}, Dates: p.Dates, Screened: p.Screened(),
	}
	for _, c := range p.Credentials {
		if facility, number, ok := c.Card(); ok {
			out.Cards = append(out.Cards, Card{c.Format, facility, number, c.Status, c.Dates})
		} else if c.Kind != site.Card {
			out.Shown = append(out.Shown, Shown{c.Kind, c.Value, c.Status, c.Dates})
		}
	}
	if p.PIN != nil && p.PINLength != length {
		out.PINLength = p.PINLength
	}
	for _, g := range p.Levels {
		if leads(g.LevelID) {
			out.Levels = append(out.Levels, site.Grant{LevelID: g.LevelID, Dates: g.Dates})
		}
	}
	slices.SortFunc(out.Levels, compareGrants)
	return out
}

// Site is a person as a configuration has them: without a name, and with what leads through the controller's doors.
func (p *Person) Site() *site.Person {
	out := &site.Person{
		ID: p.ID, Suspended: p.Suspended, ExtendedTime: p.Extended, AlwaysPIN: p.AlwaysPIN, PINInstead: p.PINInstead,
		PIN: p.PIN, Duress: p.Duress, PINLength: p.PINLength, Levels: p.Levels, Dates: p.Dates,
	}
	for _, c := range p.Cards {
		h := site.NewCard(c.Format, c.Facility, c.Number)
		h.Status, h.Dates = c.Status, c.Dates
		out.Credentials = append(out.Credentials, h)
	}
	for _, c := range p.Shown {
		out.Credentials = append(out.Credentials, site.Credential{
			Kind: c.Kind, Value: c.Value, Status: c.Status, Dates: c.Dates,
		})
	}
	return out
}

func compareGrants(a, b site.Grant) int {
	return cmp.Or(cmp.Compare(a.LevelID, b.LevelID), cmp.Compare(a.From, b.From), cmp.Compare(a.Until, b.Until))
}

// Bytes returns the canonical form, its sections packed: the same image always gives the same bytes.
func (im *Image) Bytes() []byte { return Pack(im.Sections()) }

// Root returns the hash that names the image.
func (im *Image) Root() string { return Root(Heads(im.Sections())) }

// Parse reads the canonical form, and layout 2.
func Parse(b []byte) (*Image, error) {
	if !bytes.HasPrefix(b, []byte("{")) {
		list, err := Unpack(b)
		if err != nil {
			return nil, err
		}
		return Join(list)
	}
	im := new(Image)
	if err := json.Unmarshal(b, im); err != nil {
		return nil, fmt.Errorf("image: %w", err)
	}
	if im.Version != 2 {
		return nil, fmt.Errorf("image: layout %d, this controller knows %d", im.Version, Version)
	}
	im.Version = Version
	return im, im.check()
}

// NameOf returns the hash that names the image of some bytes: its root, or of layout 2 the hash of them all.
func NameOf(b []byte) string {
	if bytes.HasPrefix(b, []byte("{")) {
		return Hash(b)
	}
	list, err := Unpack(b)
	if err != nil {
		return ""
	}
	return Root(Heads(list))
}

// Hash returns the SHA-256 of canonical bytes (FIPS 180-4), in hexadecimal.
func Hash(b []byte) string {
	sum := sha256.Sum256(b)
	return hex.EncodeToString(sum[:])
}

// OverCapacity says in words what does not fit into a controller, or nothing.
func OverCapacity(im *Image, c site.Controller) string {
	for _, d := range im.Doors {
		if d.Port > c.Doors() {
			return fmt.Sprintf("a door is on port %d, the controller has %d", d.Port, c.Doors())
		}
	}
	if c.People > 0 && len(im.People) > c.People {
		return fmt.Sprintf(
			"%d people have a credential and a level here, the controller holds %d",
			len(im.People),
			c.People,
		)
	}
	return ""
}

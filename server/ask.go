package server

import (
	"context"
	"net/http"
	"slices"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/gin-gonic/gin"

	"amberkeystone/core/hours"
	"amberkeystone/core/image"
	"amberkeystone/core/prove"
	"amberkeystone/core/review"
	"amberkeystone/core/site"
	"amberkeystone/formats/sitefile"
	"amberkeystone/store"
)

// Overview is what the frame shows: the places with what each door asks now, and what waits at the stations.
type Overview struct {
	Name    string        `json:"name"`
	Now     hours.Instant `json:"now" doc:"The server's clock, Unix milliseconds"`
	Seq     int64         `json:"seq" doc:"The last patch of the live state that is in it"`
	Sites   []SitePlace   `json:"sites"`
	Units   []Unit        `json:"units" doc:"The controllers in service"`
	ZoneVer string        `json:"zoneData" doc:"Version of the time zone data"`
	Demo    bool          `json:"demo"`
	Counts
}

// SitePlace is a site in the spine.
type SitePlace struct {
	ID     site.ID      `json:"id"`
	Name   string       `json:"name"`
	Zone   string       `json:"zone"`
	Twelve bool         `json:"twelveHour" doc:"Times are shown as 6:30 pm there"`
	Sunday bool         `json:"fromSunday" doc:"Calendars begin their weeks on Sunday there"`
	Floors []FloorPlace `json:"floors"`
}

// FloorPlace is a floor in the spine.
type FloorPlace struct {
	ID    site.ID     `json:"id"`
	Name  string      `json:"name"`
	Level int         `json:"level"`
	Doors []DoorPlace `json:"doors"`
}

// DoorPlace is a door in the spine.
type DoorPlace struct {
	ID      site.ID    `json:"id"`
	Name    string     `json:"name"`
	Mode    hours.Mode `json:"mode" doc:"What it asks now: as its controller says, else as its plan says"`
	Waits   bool       `json:"waits" doc:"It waits for its first card"`
	Live    bool       `json:"live" doc:"The controller said so"`
	Open    bool       `json:"open"`
	Alarm   string     `json:"alarm"`
	Offline bool       `json:"offline"`
	// OutOfUse: its readers are off and its lock is not driven.
	OutOfUse bool `json:"outOfUse"`
	Order    int  `json:"order" doc:"Its place on its floor"`
	// By hand: what an operator or a lockdown does with it now.
	Hand string `json:"hand,omitempty" enum:"held free,held barred,held,lockdown,fire release" doc:"What an operator does with it now; none: nothing"`
	// Awaits says that people are all there and wait for an operator's word.
	Awaits bool `json:"awaits,omitempty" doc:"People wait here for an operator's word"`
	// Of an elevator.
	Elevator bool   `json:"elevator,omitempty"`
	Released string `json:"released,omitempty" doc:"Of an elevator: the floors that are released, by their place from below, such as 0 2 5"`
}

// overview is the frame at the last patch: what comes later has a higher number.
func (s *Server) overview(ctx context.Context) (Overview, error) {
	if err := s.lookAtStates(ctx); err != nil {
		return Overview{}, err
	}
	b := s.current()
	o := Overview{
		Name:    b.Config.Settings.Name,
		Now:     s.now(),
		Sites:   []SitePlace{},
		Units:   []Unit{},
		ZoneVer: zoneVersion(),
		Demo:    s.DemoSignIn != nil,
	}
	s.states.mu.Lock()
	o.Seq, o.Counts = s.states.seq, s.states.counts
	floors := map[site.ID][]DoorPlace{}
	for _, d := range b.Config.Doors {
		p, ok := s.states.doors[d.ID]
		if !ok { // it came this moment, and is told in the next patch
			p = DoorPlace{ID: d.ID, Offline: true, Elevator: d.Car != nil}
		}
		p.Name, p.Order = d.Name, d.Order
		floors[d.FloorID] = append(floors[d.FloorID], p)
	}
	for _, list := range floors { // those that were given an order, by it; else as they were made
		slices.SortStableFunc(list, func(a, b DoorPlace) int { return a.Order - b.Order })
	}
	for _, c := range b.Config.Controllers {
		if u, ok := s.states.units[c.ID]; ok {
			o.Units = append(o.Units, u)
		}
	}
	s.states.mu.Unlock()
	for _, x := range b.Config.Sites {
		place := SitePlace{
			ID: x.ID, Name: x.Name, Zone: x.Zone, Twelve: x.TwelveHour, Sunday: x.FromSunday, Floors: []FloorPlace{},
		}
		for _, f := range b.Config.Floors {
			if f.SiteID == x.ID {
				place.Floors = append(place.Floors, FloorPlace{f.ID, f.Name, f.Level, orNone(floors[f.ID])})
			}
		}
		o.Sites = append(o.Sites, place)
	}
	return o, nil
}

// Sheet is what a door's sheet shows besides its configuration.
type Sheet struct {
	prove.Now
	Ways     []prove.Way      `json:"ways"`
	Week     []prove.RealDay  `json:"week"`
	Offset   string           `json:"offset" doc:"The controller's zone now, such as UTC-4"`
	Today    string           `json:"today" doc:"The date there"`
	Minute   int              `json:"minute" doc:"The minute of the day there"`
	Findings []review.Finding `json:"findings" doc:"That concern this door"`
	At       string           `json:"at" doc:"The moment that is looked at, by the door's clock"`
	Odd      string           `json:"odd" doc:"What is odd about that moment: it does not exist, or comes twice"`
	Unsent   []image.Change   `json:"unsent" doc:"What its controller lacks"`
	Released bool             `json:"released"`
	Open     bool             `json:"open"`
	Online   bool             `json:"online"`
	Alarm    string           `json:"alarm"`
}

func (s *Server) sheet(ctx context.Context, door site.ID, from, at string) (Sheet, error) {
	b := s.current()
	d := b.Door(door)
	if d == nil {
		return Sheet{}, huma.Error404NotFound("This door does not exist, or no longer.")
	}
	z := b.Zone(door)
	now := s.now()
	wall := z.Wall(now)
	first, err := weekFrom(from, wall.Day, b.Config.SiteOf(d).FromSunday)
	if err != nil {
		return Sheet{}, err
	}
	moment, live, odd := now, s.liveDoor(d), ""
	if at != "" {
		day, minute, err := site.ParseWall(at)
		if err != nil {
			return Sheet{}, say(&store.Taken{Field: "at", Words: err.Error()})
		}
		moment, odd = b.Moment(door, day, minute)
		live = nil
	}
	seen := z.Wall(moment)
	out := Sheet{
		Now:      b.Now(door, moment, live),
		Ways:     b.Ways(door),
		Week:     b.RealWeek(door, first),
		Offset:   z.Time(moment).Format("MST"),
		Today:    wall.Day.String(),
		Minute:   wall.Minute,
		At:       seen.Day.String() + "T" + hours.Clock(seen.Minute),
		Odd:      odd,
		Findings: s.aboutDoor(door),
		Unsent:   []image.Change{},
	}
	if a := b.Config.AlarmAreaOf(door); a != nil && live != nil {
		if n, _, ok := s.areaState(a); ok {
			out.Sentence += b.GuardedWords(&n)
		}
	}
	s.mu.RLock()
	if u := s.units[d.ControllerID]; u != nil && u.online {
		out.Online = true
		for _, st := range u.status.Doors {
			if st.Door == door {
				out.Released, out.Open, out.Alarm = st.Released, st.Open, st.Alarm
			}
		}
	}
	s.mu.RUnlock()
	pending, err := s.pending(ctx, d.ControllerID)
	for _, p := range pending {
		out.Unsent = p.Changes
	}
	return out, err
}

// weekFrom is the first day of the week of a date, of today where none is said.
func weekFrom(date string, today hours.Day, fromSunday bool) (hours.Day, error) {
	begin := hours.Day.Monday
	if fromSunday {
		begin = hours.Day.Sunday
	}
	if date == "" {
		return begin(today), nil
	}
	day, err := hours.ParseDay(date)
	if err != nil {
		return 0, huma.Error422UnprocessableEntity(
			"The week begins on a date such as 2026-11-23, not "+date+".",
			&huma.ErrorDetail{Location: "week", Message: "write a date such as 2026-11-23"},
		)
	}
	return begin(day), nil
}

// liveDoor returns what the controller of a door says of it, or nil where it does not answer or holds something else.
func (s *Server) liveDoor(d *site.Door) *prove.Live {
	s.mu.RLock()
	defer s.mu.RUnlock()
	if u := s.units[d.ControllerID]; u != nil && u.online {
		for _, st := range u.status.Doors {
			if st.Door == d.ID {
				return &prove.Live{Mode: st.Mode, Waits: st.Waits, Until: st.Until, Layer: st.Layer}
			}
		}
	}
	return nil
}

func (s *Server) askRoutes(api huma.API) {
	huma.Get(
		api,
		"/api/overview",
		func(ctx context.Context, _ *struct{}) (*output[Overview], error) { return give(s.overview(ctx)) },
	)
	huma.Get(api, "/api/doors/{id}/sheet", func(ctx context.Context, in *struct {
		ID   site.ID `path:"id"`
		Week string  `query:"week" doc:"A date in the week to show"`
		At   string  `query:"at" doc:"The moment to look at, by the door's clock: 2006-01-02T15:04; empty: now"`
	}) (*output[Sheet], error) {
		return give(s.sheet(ctx, in.ID, in.Week, in.At))
	})
	huma.Get(api, "/api/ask", func(_ context.Context, in *struct {
		Person site.ID `query:"person" required:"true"`
		Door   site.ID `query:"door" required:"true"`
		At     string  `query:"at" doc:"RFC 3339, or the door's wall clock as 2026-11-28T16:59; empty: now"`
	}) (*output[prove.Answer], error) {
		b := s.current()
		at := s.now()
		if in.At != "" {
			t, err := time.Parse(time.RFC3339, in.At)
			wall, wallErr := time.Parse("2006-01-02T15:04", in.At)
			switch {
			case err == nil:
				at = hours.At(t)
			case wallErr == nil:
				at = b.Zone(in.Door).Resolve(hours.DayOf(wall.Date()), wall.Hour()*60+wall.Minute())
			default:
				return nil, huma.Error422UnprocessableEntity(
					"Write the moment as 2026-11-28T16:59.",
					&huma.ErrorDetail{Location: "at", Message: "write it as 2026-11-28T16:59"},
				)
			}
		}
		a, err := b.Ask(in.Person, in.Door, at)
		if err != nil {
			return nil, huma.Error404NotFound(err.Error())
		}
		return give(a, nil)
	})
	huma.Get(api, "/api/usual-door", func(_ context.Context, in *struct {
		Controller site.ID `query:"controller" doc:"That is to drive it; none: the first with a port that is free"`
	}) (*output[site.Door], error) {
		return give(s.usualDoor(in.Controller), nil)
	})
	huma.Get(api, "/api/controllers/{id}/ports", func(_ context.Context, in *idInput) (*output[[]Port], error) {
		return give(s.portsOf(in.ID))
	})
}

// Port is a port of a controller, and the door that it drives.
type Port struct {
	Port  int     `json:"port"`
	Door  site.ID `json:"door" doc:"0: it is free"`
	Name  string  `json:"name"`
	Floor string  `json:"floor"`
}

func (s *Server) portsOf(id site.ID) ([]Port, error) {
	b := s.current()
	i := slices.IndexFunc(b.Config.Controllers, func(c site.Controller) bool { return c.ID == id })
	if i < 0 {
		return nil, store.ErrMissing
	}
	out := make([]Port, b.Config.Controllers[i].Doors())
	for i := range out {
		out[i].Port = i + 1
	}
	for _, d := range b.Config.Doors {
		if d.ControllerID == id && 1 <= d.Port && d.Port <= len(out) {
			out[d.Port-1] = Port{d.Port, d.ID, d.Name, b.Name(d.FloorID)}
		}
	}
	return out, nil
}

// usualDoor is a new door with the usual hardware, on the next free port of a controller, on the floor and with the
// plan of the door that was added last.
func (s *Server) usualDoor(controller site.ID) site.Door {
	c := s.current().Config
	d := site.Door{FirstCard: site.UsualFirstCard(), Hardware: site.UsualHardware()}
	used := map[site.ID]map[int]bool{}
	for _, x := range c.Doors { // by number: the last is the newest
		if used[x.ControllerID] == nil {
			used[x.ControllerID] = map[int]bool{}
		}
		used[x.ControllerID][x.Port] = true
		d.FloorID, d.PlanID = x.FloorID, x.PlanID
	}
	for _, x := range c.Controllers {
		if controller != 0 && x.ID != controller {
			continue
		}
		for port := 1; port <= x.Doors(); port++ {
			if used[x.ID][port] {
				continue
			}
			d.ControllerID, d.Port = x.ID, port
			d.FloorID = floorFor(c, x.SiteID, d.FloorID)
			if d.PlanID == 0 && len(c.Plans) > 0 {
				d.PlanID = c.Plans[0].ID
			}
			return d
		}
	}
	d.ControllerID = controller
	return d
}

// floorFor is a floor where it is of a site, else the site's first.
func floorFor(c *site.Config, at, floor site.ID) site.ID {
	first := site.ID(0)
	for _, f := range c.Floors {
		if f.SiteID != at {
			continue
		}
		if f.ID == floor {
			return floor
		}
		if first == 0 {
			first = f.ID
		}
	}
	return first
}

// siteFile sends the whole configuration as a site file to save.
func (s *Server) siteFile(c *gin.Context) {
	b, err := sitefile.Write(s.current().Config)
	if err != nil {
		c.JSON(http.StatusInternalServerError, gin.H{"title": err.Error()})
		return
	}
	c.Header("Content-Disposition", `attachment; filename="site.json"`)
	c.Data(http.StatusOK, "application/json; charset=utf-8", b)
}

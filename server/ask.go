package server

import (
	"context"
	"net/http"
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
	Sites   []SitePlace   `json:"sites"`
	Lacking int           `json:"lacking" doc:"Controllers that lack something"`
	Alarms  int           `json:"alarms" doc:"Alarms that nobody has acknowledged"`
	Found   int           `json:"found" doc:"Controllers that answer and are not in service anywhere"`
	ZoneVer string        `json:"zoneData" doc:"Version of the time zone data"`
	Demo    bool          `json:"demo"`
	Finds   int           `json:"findings" doc:"Findings that are wrong or risky"`
}

// SitePlace is a site in the spine.
type SitePlace struct {
	ID     site.ID      `json:"id"`
	Name   string       `json:"name"`
	Zone   string       `json:"zone"`
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
}

func (s *Server) overview(ctx context.Context) (Overview, error) {
	b := s.current()
	o := Overview{
		Name:    b.Config.Settings.Name,
		Now:     s.now(),
		Sites:   []SitePlace{},
		ZoneVer: zoneVersion(),
		Demo:    s.DemoSignIn != nil,
	}
	var err error
	if o.Alarms, err = s.Store.Alarms(ctx); err != nil {
		return o, err
	}
	if o.Lacking, err = s.lacking(ctx); err != nil {
		return o, err
	}
	for _, f := range s.findings() {
		if f.Severity != review.Untidy {
			o.Finds++
		}
	}
	doors := map[site.ID][]DoorPlace{}
	s.mu.RLock()
	for _, d := range b.Config.Doors {
		p := DoorPlace{ID: d.ID, Name: d.Name, Mode: b.ModeAt(d.ID, o.Now), Offline: true}
		if u := s.units[d.ControllerID]; u != nil {
			p.Offline = !u.online
			for _, st := range u.status.Doors {
				if st.Door == d.ID && u.online {
					p.Mode, p.Waits, p.Live, p.Open, p.Alarm = st.Mode, st.Waits, true, st.Open, st.Alarm
				}
			}
		}
		doors[d.FloorID] = append(doors[d.FloorID], p)
	}
	keyed := map[string]bool{}
	for _, c := range b.Config.Controllers {
		keyed[c.Serial] = true
	}
	for _, v := range s.racks {
		if !v.Keyed && !keyed[v.Serial] {
			o.Found++
		}
	}
	s.mu.RUnlock()
	for _, x := range b.Config.Sites {
		place := SitePlace{ID: x.ID, Name: x.Name, Zone: x.Zone, Floors: []FloorPlace{}}
		for _, f := range b.Config.Floors {
			if f.SiteID == x.ID {
				list := doors[f.ID]
				if list == nil {
					list = []DoorPlace{}
				}
				place.Floors = append(place.Floors, FloorPlace{f.ID, f.Name, f.Level, list})
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
	first := wall.Day.Monday()
	if from != "" {
		day, err := hours.ParseDay(from)
		if err != nil {
			return Sheet{}, huma.Error422UnprocessableEntity(
				"The week begins on a date such as 2026-11-23, not "+from+".",
				&huma.ErrorDetail{Location: "week", Message: "write a date such as 2026-11-23"},
			)
		}
		first = day.Monday()
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
		Now:    b.Now(door, moment, live),
		Ways:   b.Ways(door),
		Week:   b.RealWeek(door, first),
		Offset: z.Time(moment).Format("MST"),
		Today:  wall.Day.String(),
		Minute: wall.Minute,
		At: seen.Day.String() + "T" + hours.Clock(
			seen.Minute,
		),
		Odd:      odd,
		Findings: s.aboutDoor(door),
		Unsent:   []image.Change{},
	}
	if out.Ways == nil {
		out.Ways = []prove.Way{}
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

// liveDoor returns what the controller of a door says of it, or nil where it does not answer or holds something else.
func (s *Server) liveDoor(d *site.Door) *prove.Live {
	s.mu.RLock()
	defer s.mu.RUnlock()
	if u := s.units[d.ControllerID]; u != nil && u.online {
		for _, st := range u.status.Doors {
			if st.Door == d.ID {
				return &prove.Live{Mode: st.Mode, Waits: st.Waits, Until: st.Until}
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
	huma.Get(api, "/api/usual-door", func(context.Context, *struct{}) (*output[site.Door], error) {
		return give(site.Door{FirstCard: site.UsualFirstCard(), Hardware: site.UsualHardware()}, nil)
	})
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

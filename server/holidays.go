package server

import (
	"cmp"
	"context"
	"fmt"
	"net/http"
	"slices"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"amberkeystone/core/compare"
	"amberkeystone/core/hours"
	"amberkeystone/core/prove"
	"amberkeystone/core/site"
	"amberkeystone/formats/icalendar"
	"amberkeystone/formats/publicholidays"
	"amberkeystone/store"
)

// YearDay is a day of a year that has holidays.
type YearDay struct {
	Date     string             `json:"date"`
	SiteID   site.ID            `json:"siteId"`
	Holidays []prove.DayHoliday `json:"holidays" doc:"The highest rank first"`
}

// HolidayYear is the holidays of a year, by site.
type HolidayYear struct {
	Days []YearDay     `json:"days"`
	List []HolidayLine `json:"list" doc:"Every holiday, by its next date"`
}

// HolidayLine is a holiday in a list.
type HolidayLine struct {
	ID     site.ID `json:"id"`
	Name   string  `json:"name"`
	TypeID site.ID `json:"typeId"`
	When   string  `json:"when" doc:"Its rule in words"`
	Dates  string  `json:"dates" doc:"Its dates in the year"`
	Sites  string  `json:"sites" doc:"Where it holds, unless everywhere"`
	Part   string  `json:"part" doc:"The part of the day that it takes, unless all of it"`
}

func (s *Server) holidayYear(year int) HolidayYear {
	b := s.current()
	out := HolidayYear{Days: []YearDay{}, List: []HolidayLine{}}
	from, to := hours.DayOf(year, time.January, 1), hours.DayOf(year+1, time.January, 1)
	for _, place := range b.Config.Sites {
		for d := from; d < to; d++ {
			list := b.Times().Holidays(place.ID, d)
			if len(list) == 0 {
				continue
			}
			day := YearDay{Date: d.String(), SiteID: place.ID}
			for _, h := range list {
				day.Holidays = append(
					day.Holidays,
					prove.DayHoliday{ID: h.ID, Name: h.Name, TypeID: h.TypeID, Type: b.Name(h.TypeID)},
				)
			}
			out.Days = append(out.Days, day)
		}
	}
	type dated struct {
		HolidayLine
		first hours.Day
	}
	var list []dated
	for i := range b.Config.Holidays {
		h := &b.Config.Holidays[i]
		line := HolidayLine{ID: h.ID, Name: h.Name, TypeID: h.TypeID, When: h.HolidayDates.String()}
		on := h.Between(from, to)
		for k, d := range on {
			if k == 4 {
				line.Dates += fmt.Sprintf(" and %d more", len(on)-k)
				break
			}
			if k > 0 {
				line.Dates += ", "
			}
			line.Dates += time.Unix(int64(d)*86400, 0).UTC().Format("Mon 2 Jan")
		}
		first := to + hours.Day(i)
		if len(on) > 0 {
			first = on[0]
		}
		for k, id := range h.SiteIDs {
			if k > 0 {
				line.Sites += ", "
			}
			line.Sites += b.Name(id)
		}
		if !h.Whole() {
			line.Part = hours.Period{Start: h.Start, End: h.End}.String()
		}
		list = append(list, dated{line, first})
	}
	slices.SortStableFunc(list, func(a, b dated) int { return cmp.Compare(a.first, b.first) })
	for _, l := range list {
		out.List = append(out.List, l.HolidayLine)
	}
	return out
}

// HolidayEffect is what a holiday does on its next date.
type HolidayEffect struct {
	Date      string       `json:"date" doc:"In words; empty: no date to come in 13 months"`
	Day       string       `json:"day" doc:"2006-01-02"`
	Next      []string     `json:"next" doc:"The dates after that, in words, at most 4"`
	Doors     []DoorOn     `json:"doors" doc:"That ask something else for it, at most 40"`
	Count     int          `json:"count" doc:"How many doors do"`
	Schedules []ScheduleOn `json:"schedules" doc:"That are open at other hours for it"`
	Running   []string     `json:"running" doc:"Schedules in use that run on as on a weekday"`
	Lose      int          `json:"lose" doc:"People who may come in at fewer hours"`
	Losers    []string     `json:"losers" doc:"Their names, at most 12"`
	Gain      int          `json:"gain"`
}

// DoorOn is what a door does on a date.
type DoorOn struct {
	ID    site.ID `json:"id"`
	Name  string  `json:"name"`
	Words string  `json:"words"`
}

// ScheduleOn is what a schedule does on a date.
type ScheduleOn struct {
	ID    site.ID `json:"id"`
	Name  string  `json:"name"`
	Words string  `json:"words"`
	Sign  int     `json:"sign"`
}

// holidayEffect compares the configuration with a holiday to the same without it, on a date of the holiday or, where
// that is none of its dates, on its next.
func (s *Server) holidayEffect(h site.Holiday, date string) (HolidayEffect, error) {
	b := s.current()
	out := HolidayEffect{
		Doors:     []DoorOn{},
		Schedules: []ScheduleOn{},
		Running:   []string{},
		Losers:    []string{},
		Next:      []string{},
	}
	if faults := (compare.Edit{Holiday: &h}).Check(); len(faults) > 0 {
		return out, say(faults)
	}
	today := s.today(b, nil)
	dates := h.Between(today, today+396)
	if day, err := hours.ParseDay(date); err == nil && len(h.Between(day, day+1)) > 0 && day >= hours.FirstDay &&
		day < hours.LastDay {
		dates = []hours.Day{day}
	}
	if len(dates) == 0 {
		return out, nil
	}
	day := dates[0]
	out.Date, out.Day = day.Words(), day.String()
	for _, d := range h.Between(day+1, hours.LastDay) {
		if out.Next = append(out.Next, d.Words()); len(out.Next) == 4 {
			break
		}
	}
	with := compare.Edit{Holiday: &h}.Apply(b.Config)
	id := h.ID
	if id == 0 {
		id = compare.Fresh
	}
	without := compare.Edit{Remove: id}.Apply(with)
	hoursOf := func(c *site.Config) *site.Timetable { return site.NewTimetableFor(c, b.Clock, day-2, day+3) }
	x := compare.Day(with, hoursOf(without), hoursOf(with), day)
	out.Lose, out.Gain, out.Count = len(x.Losers), len(x.Gainers), len(x.Doors)
	out.Losers = someNames(naming(b), x.Losers)
	for _, d := range x.Doors[:min(len(x.Doors), 40)] {
		out.Doors = append(out.Doors, DoorOn{d.ID, b.Name(d.ID), d.Words})
	}
	for _, d := range x.Schedules {
		out.Schedules = append(out.Schedules, scheduleOn(b, d.ID, d.Was, d.Is))
	}
	for _, id := range x.Running {
		out.Running = append(out.Running, b.Name(id))
	}
	return out, nil
}

// scheduleOn says how long a schedule is open on the date, and how long it would be; in minutes.
func scheduleOn(b *prove.Book, id site.ID, was, is int) ScheduleOn {
	on := ScheduleOn{
		ID:    id,
		Name:  b.Name(id),
		Sign:  -1,
		Words: fmt.Sprintf("%d h %02d instead of %d h %02d", is/60, is%60, was/60, was%60),
	}
	switch {
	case is > was:
		on.Sign = 1
	case is == was:
		on.Sign, on.Words = 0, "as long, at other hours"
	case is == 0:
		on.Words = "stops"
	}
	return on
}

// Offered is a day that may become a holiday.
type Offered struct {
	Date       string `json:"date"`
	Words      string `json:"words" doc:"The date in words"`
	Name       string `json:"name"`
	Substitute bool   `json:"substitute" doc:"A day off in place of another date"`
	Start      int    `json:"start"`
	End        int    `json:"end"`
	Known      string `json:"known" doc:"The holiday that already has this date and name, or date; empty: none"`
	Same       bool   `json:"same" doc:"The same name is already entered on this date, so it would be added twice"`
}

// Offer is the days of a region or a file.
type Offer struct {
	Title    string    `json:"title"`
	Days     []Offered `json:"days"`
	Problems []string  `json:"problems" doc:"What could not be read"`
	First    int       `json:"first" doc:"The years that there are"`
	Last     int       `json:"last"`
}

// known marks days that are entered already at all of some sites.
func (s *Server) known(days []Offered, sites []site.ID) {
	b := s.current()
	if len(sites) == 0 {
		for _, x := range b.Config.Sites {
			sites = append(sites, x.ID)
		}
	}
	for i := range days {
		o := &days[i]
		d, err := hours.ParseDay(o.Date)
		if err != nil {
			continue
		}
		o.Words = d.Words()
		same := len(sites) > 0
		for _, id := range sites {
			here := false
			for _, h := range b.Times().Holidays(id, d) {
				o.Known = h.Name
				here = here || plainName(h.Name) == plainName(loadedName(o.Name, o.Substitute))
			}
			same = same && here
		}
		o.Same = same
	}
}

// loadedName is what a loaded day is called; a substitute day says so.
func loadedName(name string, substitute bool) string {
	if substitute {
		return name + " (substitute day)"
	}
	return name
}

// plainName lets names meet that differ only in the kind of their apostrophes.
func plainName(s string) string { return strings.ReplaceAll(s, "’", "'") }

// Loading is what to add of an offer.
type Loading struct {
	SiteIDs []site.ID `json:"siteIds" doc:"None listed: all sites"`
	Days    []struct {
		Date       string  `json:"date"`
		Name       string  `json:"name"`
		Substitute bool    `json:"substitute"`
		Start      int     `json:"start"`
		End        int     `json:"end"`
		TypeID     site.ID `json:"typeId"`
	} `json:"days"`
}

// Loaded is what was added.
type Loaded struct {
	Added   int `json:"added" doc:"Dates"`
	Already int `json:"already" doc:"Dates that were there"`
}

// load adds days: those of one name, type and part of a day become one holiday, or join the one that is there.
func (s *Server) load(ctx context.Context, in Loading) (Loaded, error) {
	var out Loaded
	b := s.current()
	sites := slices.Clone(in.SiteIDs)
	slices.Sort(sites)
	var list []store.Versioned[site.Holiday]
	for _, d := range in.Days {
		name := loadedName(d.Name, d.Substitute)
		probe := []Offered{{Date: d.Date, Name: d.Name, Substitute: d.Substitute}}
		if s.known(probe, sites); probe[0].Same {
			out.Already++
			continue
		}
		same := func(h *site.Holiday) bool {
			return h.Name == name && h.TypeID == d.TypeID && h.Kind == hours.OnDates && h.Start == d.Start &&
				h.End == d.End &&
				h.Days <= 1 &&
				sameSites(h.SiteIDs, sites)
		}
		i := slices.IndexFunc(list, func(v store.Versioned[site.Holiday]) bool { return same(&v.Value) })
		if i < 0 {
			v, err := s.heldOrNew(ctx, b, name, d.TypeID, sites, same)
			if err != nil {
				return out, err
			}
			if v.Rev == 0 {
				v.Value.Start, v.Value.End = d.Start, cmp.Or(d.End, hours.DayMinutes)
			}
			list = append(list, v)
			i = len(list) - 1
		}
		h := &list[i].Value
		if !slices.Contains(h.Dates, d.Date) {
			h.Dates = append(h.Dates, d.Date)
			slices.Sort(h.Dates)
			out.Added++
		}
	}
	for i := range list {
		if faults := list[i].Value.Check(); len(faults) > 0 {
			return out, say(faults)
		}
	}
	if err := store.PutMany(ctx, s.Store, s.who(ctx), list); err != nil {
		return out, say(err)
	}
	return out, s.settle(ctx)
}

func sameSites(a, b []site.ID) bool {
	a = slices.Clone(a)
	slices.Sort(a)
	return slices.Equal(a, b)
}

// heldOrNew finds the holiday that loaded dates join, or makes one under a name that is not taken.
func (s *Server) heldOrNew(
	ctx context.Context,
	b *prove.Book,
	name string,
	kind site.ID,
	sites []site.ID,
	same func(*site.Holiday) bool,
) (store.Versioned[site.Holiday], error) {
	taken := false
	for i := range b.Config.Holidays {
		h := &b.Config.Holidays[i]
		if same(h) {
			return store.Get[site.Holiday](ctx, s.Store, h.ID)
		}
		taken = taken || h.Name == name && h.TypeID == kind
	}
	if taken && len(sites) > 0 {
		name += " (" + b.Name(sites[0]) + ")"
	} else if taken {
		name += " (loaded)"
	}
	v := site.Holiday{
		Name:         name,
		TypeID:       kind,
		SiteIDs:      orNone(sites),
		HolidayDates: hours.HolidayDates{Kind: hours.OnDates},
	}
	return store.Versioned[site.Holiday]{Value: v}, nil
}

func (s *Server) holidayRoutes(api huma.API) {
	huma.Get(api, "/api/holiday-year", func(_ context.Context, in *struct {
		Year int `query:"year" minimum:"2020" maximum:"2049" required:"true"`
	}) (*output[HolidayYear], error) {
		return give(s.holidayYear(in.Year), nil)
	})
	huma.Post(api, "/api/holiday-effect", func(_ context.Context, in *struct {
		Date string `query:"date" doc:"A date of the holiday, 2006-01-02; empty: its next"`
		Body site.Holiday
	}) (*output[HolidayEffect], error) {
		return give(s.holidayEffect(in.Body, in.Date))
	})
	huma.Get(api, "/api/regions", func(_ context.Context, in *struct {
		Q string `query:"q"`
	}) (*output[[]publicholidays.Region], error) {
		list := publicholidays.Find(in.Q)
		return give(orNone(list[:min(len(list), 60)]), nil)
	})
	huma.Get(api, "/api/regions/{code}", func(_ context.Context, in *struct {
		Code  string  `path:"code"`
		From  int     `query:"from" required:"true"`
		To    int     `query:"to" required:"true"`
		Sites []int64 `query:"sites" doc:"None listed: all sites"`
	}) (*output[Offer], error) {
		sites := make([]site.ID, len(in.Sites))
		for i, id := range in.Sites {
			sites[i] = site.ID(id)
		}
		return give(s.offerRegion(in.Code, in.From, in.To, sites))
	})
	huma.Post(api, "/api/holidays/read-calendar", func(ctx context.Context, in *struct {
		Body struct {
			Text    string    `json:"text" doc:"An iCalendar file"`
			From    int       `json:"from" doc:"First year"`
			To      int       `json:"to" doc:"Last year"`
			SiteIDs []site.ID `json:"siteIds"`
		}
	}) (*output[Offer], error) {
		return give(s.offerCalendar(ctx, in.Body.Text, in.Body.From, in.Body.To, in.Body.SiteIDs))
	})
	huma.Register(
		api,
		huma.Operation{
			OperationID:  "loadHolidays",
			Method:       http.MethodPost,
			Path:         "/api/holidays/load",
			MaxBodyBytes: 4 << 20,
		},
		func(ctx context.Context, in *struct{ Body Loading }) (*output[Loaded], error) {
			return give(s.load(ctx, in.Body))
		},
	)
}

func (s *Server) offerRegion(code string, from, to int, sites []site.ID) (Offer, error) {
	first, last, _ := publicholidays.Years()
	out := Offer{Days: []Offered{}, Problems: []string{}, First: first, Last: last}
	region, days, err := publicholidays.Days(code, from, to)
	if err != nil {
		return out, say(&store.Taken{Field: "from", Words: err.Error()})
	}
	out.Title = region.Name
	for _, d := range days {
		out.Days = append(
			out.Days,
			Offered{Date: d.Date, Name: d.Name, Substitute: d.Substitute, End: hours.DayMinutes},
		)
	}
	s.known(out.Days, sites)
	return out, nil
}

func (s *Server) offerCalendar(ctx context.Context, text string, from, to int, sites []site.ID) (Offer, error) {
	out := Offer{Title: "iCalendar file", Days: []Offered{}, Problems: []string{}, First: 2020, Last: 2049}
	if from < 2020 || to > 2049 || from > to {
		return out, say(&store.Taken{Field: "from", Words: "choose years from 2020 to 2049"})
	}
	days, problems, err := icalendar.Read(
		ctx,
		text,
		hours.DayOf(from, time.January, 1),
		hours.DayOf(to+1, time.January, 1),
	)
	if err != nil {
		return out, say(&store.Taken{Field: "text", Words: err.Error()})
	}
	for _, d := range days {
		name := []rune(d.Name)
		out.Days = append(
			out.Days,
			Offered{Date: d.Date.String(), Name: string(name[:min(len(name), 60)]), Start: d.Start, End: d.End},
		)
	}
	for _, p := range problems {
		out.Problems = append(out.Problems, p.Event+": "+p.Words)
	}
	s.known(out.Days, sites)
	return out, nil
}

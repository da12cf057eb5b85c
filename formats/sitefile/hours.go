package sitefile

import (
	"fmt"

	"amberkeystone/core/hours"
	"amberkeystone/core/site"
	"amberkeystone/formats/openinghours"
)

type holidayType struct {
	Name      string         `json:"name"`
	Rank      int            `json:"rank"`
	Plans     site.OnHoliday `json:"plans"`
	Schedules site.OnHoliday `json:"schedules"`
}

type holiday struct {
	Name  string   `json:"name"`
	Type  string   `json:"type"`
	Sites []string `json:"sites,omitempty"`
	hours.HolidayDates
	Start int `json:"start,omitempty"`
	End   int `json:"end,omitempty"`
}

// answer is what a schedule or plan does on holidays of a type; hours are its own, as a rule for PH.
type answer struct {
	Type  string         `json:"type"`
	Do    site.OnHoliday `json:"do"`
	Hours string         `json:"hours,omitempty"`
}

type doorSet struct {
	Name  string   `json:"name"`
	Doors []string `json:"doors"`
}

type floorName struct {
	Site  string `json:"site"`
	Floor string `json:"floor"`
}

type change struct {
	Name   string      `json:"name"`
	Mode   hours.Mode  `json:"mode"`
	Doors  []string    `json:"doors,omitempty"`
	Floors []floorName `json:"floors,omitempty"`
	Sites  []string    `json:"sites,omitempty"`
	Sets   []string    `json:"doorSets,omitempty"`
	From   string      `json:"from"`
	Until  string      `json:"until"`
	Recurs string      `json:"recurs,omitempty"`
	Except []string    `json:"except,omitempty"`
	Ended  string      `json:"ended,omitempty"`
}

func (n *naming) holidays(f *file, c *site.Config) {
	for _, x := range f.Types {
		t := site.HolidayType{
			ID:        n.add("holiday type", x.Name),
			Name:      x.Name,
			Rank:      x.Rank,
			Plans:     x.Plans,
			Schedules: x.Schedules,
		}
		n.check("holiday type "+x.Name, t.Check())
		c.Types = append(c.Types, t)
	}
	for _, x := range f.Holidays {
		where := "holiday " + x.Name
		h := site.Holiday{
			ID:           n.add("holiday", x.Type, x.Name),
			Name:         x.Name,
			TypeID:       n.find(where, "holiday type", x.Type),
			HolidayDates: x.HolidayDates,
			Start:        x.Start,
			End:          x.End,
		}
		if h.End == 0 {
			h.End = hours.DayMinutes
		}
		for _, s := range x.Sites {
			h.SiteIDs = append(h.SiteIDs, n.find(where, "site", s))
		}
		n.check(where, h.Check())
		c.Holidays = append(c.Holidays, h)
	}
}

func (n *naming) scheduleRows(x schedule) []site.ScheduleHoliday {
	var out []site.ScheduleHoliday
	for _, a := range x.Holidays {
		where := "schedule " + x.Name + ", " + a.Type
		h := site.ScheduleHoliday{TypeID: n.find(where, "holiday type", a.Type), Do: a.Do}
		if a.Hours != "" {
			var err error
			h.Periods, err = openinghours.ParseWeekRow(a.Hours)
			n.note(where, err)
			n.unused(where, a)
		}
		out = append(out, h)
	}
	return out
}

// unused points out hours of a row that does not follow them.
func (n *naming) unused(where string, a answer) {
	if a.Do != site.OwnHours {
		n.notices = append(
			n.notices,
			fmt.Sprintf("%s: its hours count only with \"do\": \"own\"; as it is, the answer is %q", where, a.Do),
		)
	}
}

// hidden points out rules for PH that rows win over.
func (n *naming) hidden(where string, types []site.HolidayType) {
	for _, words := range site.HiddenWords(types) {
		n.notices = append(n.notices, where+": "+words)
	}
}

// planHours reads the texts of plans, which may name levels.
func (n *naming) planHours(f *file, c *site.Config) {
	levels := openinghours.Levels{ID: func(name string) (int64, bool) {
		id, ok := n.ids[key("level", name)]
		return int64(id), ok
	}}
	for _, x := range f.Plans {
		where := "plan " + x.Name
		text, err := openinghours.ParsePlan(x.Hours, x.Default, levels)
		n.note(where, err)
		p := site.Plan{ID: n.ids[key("plan", x.Name)], Name: x.Name, Pattern: text.Pattern}
		p.Default = x.Default
		for _, a := range x.Holidays {
			h := site.PlanHoliday{TypeID: n.find(where, "holiday type", a.Type), Do: a.Do}
			if a.Hours != "" {
				var err error
				h.Segments, err = openinghours.ParsePlanRow(a.Hours, x.Default, levels)
				n.note(where+", "+a.Type, err)
				n.unused(where+", "+a.Type, a)
			}
			p.Holidays = append(p.Holidays, h)
		}
		if text.SaysPH {
			n.hidden(where, p.AnswerPH(text.Holidays, c.Types))
		}
		n.check(where, p.Check())
		for i := range c.Plans {
			if c.Plans[i].ID == p.ID {
				c.Plans[i] = p
			}
		}
	}
}

func (n *naming) changes(f *file, c *site.Config) {
	for _, x := range f.Sets {
		s := site.DoorSet{ID: n.add("door set", x.Name), Name: x.Name}
		for _, d := range x.Doors {
			s.DoorIDs = append(s.DoorIDs, n.find("door set "+x.Name, "door", d))
		}
		n.check("door set "+x.Name, s.Check())
		c.Sets = append(c.Sets, s)
	}
	for _, x := range f.Changes {
		where := "dated change " + x.Name
		v := site.DatedChange{
			ID:     n.add("dated change", x.Name),
			Name:   x.Name,
			Mode:   x.Mode,
			From:   x.From,
			Until:  x.Until,
			Recurs: x.Recurs,
			Except: x.Except,
			Ended:  x.Ended,
		}
		for _, d := range x.Doors {
			v.DoorIDs = append(v.DoorIDs, n.find(where, "door", d))
		}
		for _, fl := range x.Floors {
			v.FloorIDs = append(v.FloorIDs, n.find(where, "floor", fl.Site, fl.Floor))
		}
		for _, s := range x.Sites {
			v.SiteIDs = append(v.SiteIDs, n.find(where, "site", s))
		}
		for _, s := range x.Sets {
			v.SetIDs = append(v.SetIDs, n.find(where, "door set", s))
		}
		n.check(where, v.Check())
		c.Changes = append(c.Changes, v)
	}
}

func namesOf(ids []site.ID, name map[site.ID]string) []string {
	var out []string
	for _, id := range ids {
		out = append(out, name[id])
	}
	return out
}

func writeHours(f *file, c *site.Config, name map[site.ID]string) {
	levels := openinghours.Levels{Name: func(id int64) string { return name[site.ID(id)] }}
	for _, t := range c.Types {
		name[t.ID] = t.Name
		f.Types = append(f.Types, holidayType{t.Name, t.Rank, t.Plans, t.Schedules})
	}
	for _, h := range c.Holidays {
		out := holiday{
			Name:         h.Name,
			Type:         name[h.TypeID],
			Sites:        namesOf(h.SiteIDs, name),
			HolidayDates: h.HolidayDates,
		}
		if !h.Whole() {
			out.Start, out.End = h.Start, h.End
		}
		f.Holidays = append(f.Holidays, out)
	}
	for _, s := range c.Schedules {
		name[s.ID] = s.Name
		if s.Fixed {
			continue
		}
		out := schedule{Name: s.Name, Hours: openinghours.FormatWeek(s.Week)}
		for _, h := range s.Holidays {
			a := answer{Type: name[h.TypeID], Do: h.Do}
			if h.Do == site.OwnHours {
				a.Hours = openinghours.FormatHolidays(h.Periods)
			}
			out.Holidays = append(out.Holidays, a)
		}
		f.Schedules = append(f.Schedules, out)
	}
	for _, p := range c.Plans {
		name[p.ID] = p.Name
		out := plan{Name: p.Name, Default: p.Default, Hours: openinghours.FormatPlan(p.Pattern, levels)}
		for _, h := range p.Holidays {
			a := answer{Type: name[h.TypeID], Do: h.Do}
			if h.Do == site.OwnHours {
				a.Hours = openinghours.FormatPlanHolidays(h.Segments, levels)
			}
			out.Holidays = append(out.Holidays, a)
		}
		f.Plans = append(f.Plans, out)
	}
}

func writeChanges(f *file, c *site.Config, name map[site.ID]string, floors map[site.ID]site.Floor) {
	for _, s := range c.Sets {
		name[s.ID] = s.Name
		f.Sets = append(f.Sets, doorSet{s.Name, namesOf(s.DoorIDs, name)})
	}
	for _, x := range c.Changes {
		out := change{
			Name:   x.Name,
			Mode:   x.Mode,
			Doors:  namesOf(x.DoorIDs, name),
			Sites:  namesOf(x.SiteIDs, name),
			Sets:   namesOf(x.SetIDs, name),
			From:   x.From,
			Until:  x.Until,
			Recurs: x.Recurs,
			Except: x.Except,
			Ended:  x.Ended,
		}
		for _, id := range x.FloorIDs {
			out.Floors = append(out.Floors, floorName{name[floors[id].SiteID], floors[id].Name})
		}
		f.Changes = append(f.Changes, out)
	}
}

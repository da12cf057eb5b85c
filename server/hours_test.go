package server_test

import (
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// evening is a Monday evening of 2026 at the museum.
func evening() time.Time { return time.Date(2026, 11, 23, 22, 0, 0, 0, time.UTC) }

// ask posts a value and reads the answer.
func (c *client) ask(path string, in, out any) {
	b, err := json.Marshal(in)
	require.NoError(c.t, err)
	status, body := c.call("POST", path, string(b))
	require.Equal(c.t, 200, status, "%s: %s", path, body)
	require.NoError(c.t, json.Unmarshal([]byte(body), out))
}

type object = map[string]any

// read returns an object with its revision.
func (c *client) read(kind, name string) (rev int64, value object) {
	var doc struct {
		Rev   int64
		Value object
	}
	c.get(fmt.Sprintf("/api/%s/%d", kind, c.idOf(kind, name)), &doc)
	return doc.Rev, doc.Value
}

// site finds a site, whose name a controller may have too.
func (c *client) site(name string) int64 {
	var o struct {
		Sites []struct {
			ID   int64
			Name string
		}
	}
	c.get("/api/overview", &o)
	for _, s := range o.Sites {
		if s.Name == name {
			return s.ID
		}
	}
	c.t.Fatalf("no site %s", name)
	return 0
}

type effect struct {
	Lines                           []struct{ Words string }
	Count, People, Gain, Lose, Days int
	First                           string
}

func TestLoadingHolidays(t *testing.T) {
	c := openAt(t, evening)
	var regions []struct{ Code, Name string }
	c.get("/api/regions?q=nova", &regions)
	require.Equal(t, "CA-NS", regions[0].Code)
	type offer struct {
		Days []struct {
			Date, Name, Known string
			Same, Substitute  bool
			Start, End        int
		}
		Problems []string
	}
	var o offer
	c.get("/api/regions/CA-NS?from=2026&to=2028", &o)
	nobody := c.id("Nobody")
	var days []object
	for _, d := range o.Days {
		days = append(days, object{"date": d.Date, "name": d.Name, "substitute": d.Substitute, "start": d.Start, "end": d.End,
			"typeId": nobody})
	}
	var done struct{ Added, Already int }
	c.ask("/api/holidays/load", object{"siteIds": []int64{}, "days": days}, &done)
	assert.Equal(t, len(days), done.Added+done.Already)
	assert.Positive(t, done.Added)
	assert.Positive(t, done.Already, "Good Friday is entered by its rule")
	first := done
	c.ask("/api/holidays/load", object{"siteIds": []int64{}, "days": days}, &done)
	assert.Zero(t, done.Added, "loading twice adds nothing")
	assert.Equal(t, first.Added+first.Already, done.Already)

	// One holiday holds all years of a name, and a further year joins it.
	_, remembrance := c.read("holidays", "Remembrance Day")
	assert.Len(t, remembrance["dates"], 3)
	c.get("/api/regions/CA-NS?from=2029&to=2029", &o)
	for _, d := range o.Days {
		if d.Name == "Remembrance Day" {
			c.ask(
				"/api/holidays/load",
				object{
					"siteIds": []int64{},
					"days": []object{
						{"date": d.Date, "name": d.Name, "substitute": false, "start": 0, "end": 1440, "typeId": nobody},
					},
				},
				&done,
			)
			assert.Equal(t, 1, done.Added)
		}
	}
	_, remembrance = c.read("holidays", "Remembrance Day")
	assert.Len(t, remembrance["dates"], 4)

	// The same from an iCalendar file, with one event that cannot be read.
	ics := "BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:x\r\nBEGIN:VEVENT\r\nUID:1\r\nSUMMARY:Regatta\r\nDTSTART;VALUE=DATE:20270807\r\nEND:VEVENT\r\n" +
		"BEGIN:VEVENT\r\nUID:2\r\nSUMMARY:Odd\r\nDTSTART;VALUE=DATE:20270101\r\nRRULE:FREQ=HOURLY\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n"
	c.ask("/api/holidays/read-calendar", object{"text": ics, "from": 2027, "to": 2027, "siteIds": []int64{}}, &o)
	require.Len(t, o.Days, 1)
	assert.Equal(t, "2027-08-07", o.Days[0].Date)
	require.Len(t, o.Problems, 1)
	assert.Contains(t, o.Problems[0], "Odd: FREQ=HOURLY is outside the subset")

	status, body := c.call("GET", "/api/regions/XX?from=2026&to=2026", "")
	assert.Equal(t, 422, status, body)
	status, body = c.call(
		"POST",
		"/api/holidays/load",
		fmt.Sprintf(`{"siteIds":[],"days":[{"date":"soon","name":"x","substitute":false,"start":0,"end":1440,"typeId":%d}]}`,
			nobody),
	)
	assert.Equal(t, 422, status, body)
	assert.Contains(t, body, "is not a date")
}

func TestYearAndHolidayEffect(t *testing.T) {
	c := openAt(t, evening)
	var year struct {
		Days []struct {
			Date     string
			SiteID   int64
			Holidays []struct{ Name, Type string }
		}
		List []struct{ Name, When, Dates, Sites, Part string }
	}
	c.get("/api/holiday-year?year=2026", &year)
	byDate := map[string]string{}
	boathouse := c.site("Boathouse")
	for _, d := range year.Days {
		byDate[fmt.Sprint(d.Date, d.SiteID == boathouse)] = d.Holidays[0].Name
	}
	assert.Equal(t, "Founders’ Day", byDate["2026-11-26false"])
	assert.Equal(t, "Good Friday", byDate["2026-04-03true"])
	assert.Equal(t, "Heritage Day", byDate["2026-02-16false"])
	assert.Empty(t, byDate["2026-02-16true"], "only at the main house")
	for _, h := range year.List {
		if h.Name == "New Year’s Eve" {
			assert.Equal(t, "14:00-24:00", h.Part)
			assert.Equal(t, "every year on 31 December", h.When)
			assert.Equal(t, "Thu 31 Dec", h.Dates)
		}
	}

	_, christmas := c.read("holidays", "Christmas")
	var e struct {
		Day, Date  string
		Next       []string
		Doors      []struct{ Name, Words string }
		Schedules  []struct{ Name, Words string }
		Running    []string
		Lose, Gain int
	}
	// "Christmas" is found first as the whole of its name.
	c.ask("/api/holiday-effect", christmas, &e)
	assert.Equal(t, "2026-12-25", e.Day)
	assert.Equal(t, []string{"Sat 26 Dec 2026", "Sat 25 Dec 2027", "Sun 26 Dec 2027", "Mon 25 Dec 2028"}, e.Next)
	assert.Contains(t, e.Running, "Cleaning evenings")
	assert.Contains(t, e.Running, "Always")
	var stops []string
	for _, s := range e.Schedules {
		stops = append(stops, s.Name+" "+s.Words)
	}
	assert.Contains(t, stops, "Office hours stops")
	assert.Positive(t, e.Lose)
	assert.Equal(t, 7, e.Gain,
		"the four duty managers and three of the night watch, whose cards work on: doors that would be barred at night stay on card")

	c.ask("/api/holiday-effect?date=2027-12-26", christmas, &e)
	assert.Equal(t, "2027-12-26", e.Day, "on a date that is asked for")
	c.ask("/api/holiday-effect?date=2027-12-27", christmas, &e)
	assert.Equal(t, "2026-12-25", e.Day, "on its next where that is none of its dates")

	var list struct {
		Plans []struct {
			Name  string
			Doors int
		}
		Schedules []struct {
			Name   string
			Levels int
			Fixed  bool
		}
	}
	c.get("/api/hours/list", &list)
	assert.Equal(t, "Boathouse yard", list.Plans[0].Name)
	assert.Equal(t, 2, list.Plans[0].Doors)
	assert.Equal(t, "Always", list.Schedules[0].Name)
	assert.True(t, list.Schedules[0].Fixed)

	christmas["kind"], christmas["dates"] = "dates", []string{"2020-01-01"}
	c.ask("/api/holiday-effect", christmas, &e)
	assert.Empty(t, e.Date, "no date to come")
}

func TestEffectOfEdits(t *testing.T) {
	c := openAt(t, evening)
	var e effect
	_, plan := c.read("plans", "Public galleries")
	var shown struct {
		Plan    object
		Text    string
		Minutes []struct{ Mode string }
	}
	c.ask(
		"/api/hours/plan",
		object{"plan": plan, "do": "paint", "rows": []object{{"day": 4, "typeId": 0}},
			"segment": object{"start": 1020, "end": 1140, "mode": "free"}},
		&shown,
	)
	assert.Contains(t, shown.Text, `Fr 17:00-19:00 "free"`)
	c.ask("/api/hours/effect", object{"plan": shown.Plan}, &e)
	assert.Equal(t, "+2 h 00 free a week", e.Lines[0].Words)
	assert.Equal(t, 5, e.Count)
	assert.Equal(t, "Fri 27 Nov 2026 17:00", e.First)

	_, level := c.read("levels", "Gallery staff")
	quay := float64(c.id("Quay entrance"))
	level["entries"] = slices.DeleteFunc(level["entries"].([]any),
		func(v any) bool { return v.(object)["target"].(object)["id"] == quay })
	c.ask("/api/hours/effect", object{"level": level}, &e)
	assert.Equal(t, "No longer leads through Quay entrance", e.Lines[0].Words)
	assert.Zero(t, e.Count, "no door asks anything else")
	assert.Equal(t, 13, e.Lose, "of 14 who have it, one is suspended")
	assert.Zero(t, e.Gain)

	_, schedule := c.read("schedules", "Staff day")
	var week struct {
		Schedule object
		Text     string
	}
	c.ask("/api/hours/schedule", object{"schedule": schedule, "do": "text", "text": "Mo-Sa 07:00-22:00; PH off"}, &week)
	assert.Len(t, week.Schedule["holidays"], 3)
	c.ask("/api/hours/schedule", object{"schedule": week.Schedule, "do": "show"}, &week)
	assert.Equal(t, "Mo-Sa 07:00-22:00; PH off", week.Text)
	c.ask("/api/hours/effect", object{"schedule": week.Schedule}, &e)
	assert.Equal(t, "−15 h 00 open a week", e.Lines[0].Words)
	assert.Positive(t, e.Lose)
	assert.Zero(t, e.Gain)
	assert.Equal(t, "Thu 26 Nov 2026 07:00", e.First)

	_, kind := c.read("holiday-types", "Short day")
	kind["schedules"] = "closed"
	c.ask("/api/hours/effect", object{"type": kind}, &e)
	assert.Equal(t, "Thu 24 Dec 2026 07:00", e.First)
	assert.Positive(t, e.Lose)

	status, body := c.call("POST", "/api/hours/effect",
		`{"holiday":{"id":0,"name":"","typeId":0,"siteIds":[],"kind":"dates","dates":[],"start":0,"end":1440}}`)
	assert.Equal(t, 422, status)
	assert.Contains(t, body, "choose what type")
	var words string
	c.ask(
		"/api/hours/first-card",
		object{
			"rule": object{"who": "anybody", "counts": "midnight", "before": 0, "untilThen": "nobody", "often": "day",
				"length": "minutes", "minutes": 20},
			"start": 600,
		},
		&words,
	)
	assert.Equal(
		t,
		"Free from 10:00 once anybody with access here has come in; a card counts from midnight, and until then nobody else enters. Free for 20 minutes, outside free hours too. Once a day is enough. Forgotten at midnight.",
		words,
	)
	rule := object{"who": "anybody", "counts": "start", "before": 0, "untilThen": "card", "often": "segment",
		"length": "end", "minutes": 10}
	c.ask("/api/hours/first-card", object{"rule": rule, "planId": c.id("Public galleries")}, &words)
	assert.Contains(t, words, "Free from 10:00", "where the plan waits")
	c.ask("/api/hours/first-card", object{"rule": rule, "planId": c.id("Card at all hours")}, &words)
	assert.Contains(t, words, "Free from 09:00", "the plan never goes free")
	status, _ = c.call("POST", "/api/hours/first-card",
		`{"rule":{"who":"anybody","counts":"start","before":0,"untilThen":"card","often":"segment","length":"end","minutes":10},"planId":9999}`)
	assert.Equal(t, 404, status)
}

func TestDatedChanges(t *testing.T) {
	c := openAt(t, evening)
	tide := c.id("Tide hall")
	change := object{
		"id":       0,
		"name":     "Choir",
		"mode":     "free",
		"doorIds":  []int64{tide},
		"floorIds": []int64{},
		"siteIds":  []int64{},
		"setIds":   []int64{},
		"from":     "2026-11-23T17:30",
		"until":    "2026-11-23T19:00",
		"recurs":   "",
	}
	var p struct {
		Recurs, Words, Week string
		Next                []string
		Count               int
		Doors               []struct {
			Name string
			Week []struct {
				Date  string
				Marks []struct{ Name, Mode string }
			}
		}
		Parts object
	}
	parts := object{
		"every":      "week",
		"interval":   2,
		"byDay":      []object{{"n": 0, "weekday": 0}},
		"byMonthDay": []int{},
		"byMonth":    []int{},
		"bySetPos":   []int{},
		"count":      3,
		"until":      "",
	}
	c.ask("/api/dated-changes/preview", object{"change": change, "parts": parts}, &p)
	assert.Equal(t, "FREQ=WEEKLY;INTERVAL=2;BYDAY=MO;COUNT=3", p.Recurs)
	assert.Equal(t, "every 2 weeks on Monday, 3 times", p.Words)
	assert.Equal(t, []string{"Mon 23 Nov 2026", "Mon 7 Dec 2026", "Mon 21 Dec 2026"}, p.Next)
	change["except"] = []string{"2026-12-07"}
	c.ask("/api/dated-changes/preview", object{"change": change, "parts": parts}, &p)
	assert.Equal(t, []string{"Mon 23 Nov 2026", "Mon 21 Dec 2026"}, p.Next, "one is left out")
	delete(change, "except")
	require.Len(t, p.Doors, 1)
	var modes []string
	for _, m := range p.Doors[0].Week[0].Marks {
		if m.Name != "" {
			modes = append(modes, m.Mode)
		}
	}
	assert.Equal(t, []string{"free"}, modes)

	change["recurs"] = p.Recurs
	var added struct {
		Rev   int64
		Value struct {
			ID    int64
			Ended string
		}
	}
	c.ask("/api/dated-changes", change, &added)
	// At 18:00 in Halifax the choir sings.
	var sheet struct {
		Sentence string
		Layers   []struct {
			Name, Words string
			Decides     bool
		}
		Findings []struct{ Code string }
	}
	c.get(fmt.Sprintf("/api/doors/%d/sheet?at=2026-11-23T18:00", tide), &sheet)
	assert.Contains(t, sheet.Sentence, "The door is **free** now for **Choir**, until **19:00**")
	assert.True(t, sheet.Layers[0].Decides)
	var lines []struct{ Name, State, When, Next string }
	c.get("/api/change-lines", &lines)
	states := map[string]string{}
	for _, l := range lines {
		states[l.Name] = l.State
	}
	assert.Equal(
		t,
		map[string]string{"Autumn fair": "past", "Choir": "now", "Lantern evening": "coming", "Members’ night": "coming",
			"Quay paving": "coming"},
		states,
	)

	status, body := c.call("POST", fmt.Sprintf("/api/dated-changes/%d/end", added.Value.ID), "")
	require.Equal(t, 200, status, body)
	require.NoError(t, json.Unmarshal([]byte(body), &added))
	assert.Equal(t, "2026-11-23T18:00", added.Value.Ended)
	c.get(fmt.Sprintf("/api/doors/%d/sheet?at=2026-11-23T18:00", tide), &sheet)
	assert.NotContains(t, sheet.Sentence, "Choir")
	assert.False(t, sheet.Layers[0].Decides)

	status, body = c.call("GET", fmt.Sprintf("/api/doors/%d/sheet?at=noon", tide), "")
	assert.Equal(t, 422, status)
	assert.Contains(t, body, "2026-11-27T17:00")
	// A floor cannot go while a dated change points to it.
	status, body = c.call("DELETE", fmt.Sprintf("/api/doors/%d?rev=1", tide), "")
	assert.Equal(t, 409, status)
	assert.Contains(t, body, "Choir")
}

func TestFindingsAndTheirClicks(t *testing.T) {
	c := openAt(t, evening)
	type finding struct {
		Code, Severity, Kind, Name, Click string
		ID                                int64
	}
	read := func() map[string]finding {
		var list []finding
		c.get("/api/findings", &list)
		out := map[string]finding{}
		for _, f := range list {
			out[f.Code+" "+f.Name] = f
		}
		return out
	}
	before := read()
	for _, want := range []string{"plan-silent Loading dock", "changes-overlap Members’ night",
		"schedule-unused Summer lectures", "change-past Autumn fair"} {
		assert.Contains(t, before, want)
	}
	for _, key := range []string{"plan-silent Loading dock", "change-on-holiday Lantern evening",
		"schedule-unused Summer lectures", "change-past Autumn fair"} {
		f := before[key]
		status, body := c.call("POST", "/api/findings/mend", fmt.Sprintf(`{"code":%q,"id":%d}`, f.Code, f.ID))
		assert.Equal(t, 204, status, body)
		assert.NotContains(t, read(), key)
		status, _ = c.call("POST", "/api/findings/mend", fmt.Sprintf(`{"code":%q,"id":%d}`, f.Code, f.ID))
		assert.Equal(t, 404, status, "it is mended")
	}
	f := before["changes-overlap Members’ night"]
	status, _ := c.call("POST", "/api/findings/mend", fmt.Sprintf(`{"code":%q,"id":%d}`, f.Code, f.ID))
	assert.Equal(t, 404, status, "nothing can be done about it by one click")
	// What a click did can be turned back.
	var history []struct {
		ID       int64
		Name     string
		Undoable bool
	}
	c.get("/api/history", &history)
	require.Equal(t, "Autumn fair", history[0].Name)
	status, body := c.call("POST", fmt.Sprintf("/api/history/%d/undo", history[0].ID), "")
	require.Equal(t, 204, status, body)
	assert.Contains(t, read(), "change-past Autumn fair")
}

func TestCalendars(t *testing.T) {
	c := openAt(t, evening)
	for path, says := range map[string]string{
		fmt.Sprintf("schedule-%d.ics", c.id("Office hours")): "SUMMARY:Office hours",
		fmt.Sprintf("plan-%d.ics", c.id("Public galleries")): "SUMMARY:Public galleries: free after a first card",
		"changes.ics":  "RRULE:FREQ=MONTHLY;BYDAY=-1FR",
		"holidays.ics": "SUMMARY:Founders’ Day",
		fmt.Sprintf("holidays.ics?site=%d", c.site("Boathouse")): "TZID:America/St_Johns",
	} {
		status, body := c.call("GET", "/api/calendars/"+path, "")
		assert.Equal(t, 200, status, path)
		assert.Contains(t, strings.ReplaceAll(body, "\r\n ", ""), says, path)
		assert.Contains(t, body, "BEGIN:VTIMEZONE", path)
	}
	for _, path := range []string{"schedule-9999.ics", "nothing.ics", "plan-x.ics", "holidays.ics?site=99999"} {
		status, _ := c.call("GET", "/api/calendars/"+path, "")
		assert.Equal(t, 404, status, path)
	}
}

// At ten in the evening in Halifax it is tomorrow by UTC; tonight and today still come next.
func TestTodayIsTheDoorsDay(t *testing.T) {
	c := openAt(t, func() time.Time { return time.Date(2026, 11, 27, 1, 0, 0, 0, time.UTC) })
	change := object{
		"id":       0,
		"name":     "Tonight",
		"mode":     "free",
		"doorIds":  []int64{c.id("Tide hall")},
		"floorIds": []int64{},
		"siteIds":  []int64{},
		"setIds":   []int64{},
		"from":     "2026-11-26T17:00",
		"until":    "2026-11-26T23:00",
		"recurs":   "",
	}
	var p struct{ Next []string }
	c.ask("/api/dated-changes/preview", object{"change": change}, &p)
	assert.Equal(t, []string{"Thu 26 Nov 2026"}, p.Next)
	_, founders := c.read("holidays", "Founders’ Day")
	var e struct{ Day string }
	c.ask("/api/holiday-effect", founders, &e)
	assert.Equal(t, "2026-11-26", e.Day)
}

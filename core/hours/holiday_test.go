package hours

import (
	"encoding/json"
	"fmt"
	"os"
	"os/exec"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"github.com/teambition/rrule-go"
	"pgregory.net/rapid"
)

func load(t *testing.T, file string, v any) {
	b, err := os.ReadFile("testdata/" + file)
	require.NoError(t, err)
	require.NoError(t, json.Unmarshal(b, v))
}

func day(t require.TestingT, s string) Day {
	d, err := ParseDay(s)
	require.NoError(t, err)
	return d
}

// Easter 1900 to 2199 against dateutil, and the extremes of the published tables (from memory).
func TestEaster(t *testing.T) {
	var v struct{ Days map[int]string }
	load(t, "easter.json", &v)
	require.Len(t, v.Days, 300)
	for year, want := range v.Days {
		assert.Equal(t, want, Easter(year).String(), year)
	}
	for year, want := range map[int]string{1818: "1818-03-22", 2285: "2285-03-22", 1943: "1943-04-25", 2038: "2038-04-25",
		2026: "2026-04-05"} {
		assert.Equal(t, want, Easter(year).String())
	}
}

// Recurrence against dateutil (testdata/make-vectors.py), the worked examples of RFC 5545 3.8.5.3 among them.
func TestRecurrenceAgainstDateutil(t *testing.T) {
	var v struct {
		Rules []struct {
			Start, Rule, Until string
			Days               []string
		}
	}
	load(t, "recurrences.json", &v)
	require.Greater(t, len(v.Rules), 35)
	for _, c := range v.Rules {
		r, err := ParseRecurrence(c.Rule)
		require.NoError(t, err, c.Rule)
		got := []string{}
		for _, d := range r.Between(day(t, c.Start), day(t, c.Start), day(t, c.Until)) {
			got = append(got, d.String())
		}
		assert.Equal(t, c.Days, got, "%s from %s", c.Rule, c.Start)
		assert.NotEmpty(t, r.Words(day(t, c.Start)))
	}
}

func drawRule(t *rapid.T) Recurrence {
	r := Recurrence{
		Freq:      Freq(rapid.IntRange(1, 4).Draw(t, "freq")),
		Interval:  rapid.IntRange(0, 4).Draw(t, "interval"),
		WeekStart: rapid.SampledFrom([]int{0, 6}).Draw(t, "wkst"),
	}
	if rapid.Bool().Draw(t, "byday") {
		// The reference takes WE,1MO as both at once; RFC 5545 lets each add its days, as ours does. So no mixing here.
		numbered := r.Freq >= Monthly && rapid.Bool().Draw(t, "numbered")
		for _, d := range rapid.SliceOfNDistinct(rapid.IntRange(0, 6), 1, 3, rapid.ID).Draw(t, "days") {
			n := 0
			if numbered {
				n = rapid.SampledFrom([]int{1, 2, -1, 5}).Draw(t, "n")
			}
			r.ByDay = append(r.ByDay, NthDay{n, d})
		}
	}
	nth := false
	for _, d := range r.ByDay {
		nth = nth || d.N != 0
	}
	if r.Freq != Weekly && !nth && rapid.Bool().Draw(t, "bymonthday") {
		r.ByMonthDay = rapid.SliceOfNDistinct(rapid.SampledFrom([]int{1, 13, 29, 31, -1, -30}), 1, 3, rapid.ID).Draw(t,
			"monthdays")
	}
	if rapid.Bool().Draw(t, "bymonth") {
		r.ByMonth = rapid.SliceOfNDistinct(rapid.IntRange(1, 12), 1, 3, rapid.ID).Draw(t, "months")
	}
	// The reference counts positions in the first week from its start on, ours in the whole week; so none here.
	if r.Freq != Weekly && len(r.ByDay)+len(r.ByMonthDay)+len(r.ByMonth) > 0 && rapid.Bool().Draw(t, "setpos") {
		r.BySetPos = rapid.SliceOfNDistinct(rapid.SampledFrom([]int{1, 2, -1, -2}), 1, 2, rapid.ID).Draw(t, "positions")
	}
	if rapid.Bool().Draw(t, "counted") {
		r.Count = rapid.IntRange(1, 40).Draw(t, "count")
	}
	return r
}

// Any rule of the subset against github.com/teambition/rrule-go, and its text read again.
func TestRecurrenceAgainstRRule(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		r := drawRule(t)
		require.NoError(t, r.Valid())
		start := DayOf(2026, 1, 1) + Day(rapid.IntRange(0, 800).Draw(t, "start"))
		o, err := rrule.StrToROption(r.String())
		require.NoError(t, err)
		o.Dtstart = time.Unix(int64(start)*86400, 0).UTC()
		reference, err := rrule.NewRRule(*o)
		require.NoError(t, err)
		from := start + Day(rapid.IntRange(0, 500).Draw(t, "from"))
		to := from + 1500
		want := []Day{}
		for _, x := range reference.Between(time.Unix(int64(from)*86400, 0).UTC(), time.Unix(int64(to-1)*86400, 0).UTC(),
			true) {
			want = append(want, Day(x.Unix()/86400))
		}
		require.Equal(t, fmt.Sprint(want), fmt.Sprint(append([]Day{}, r.Between(start, from, to)...)), "%s from %s", r, start)
		again, err := ParseRecurrence(r.String())
		require.NoError(t, err)
		require.Equal(t, r.String(), again.String())
	})
}

func TestRecurrenceRefusals(t *testing.T) {
	for text, says := range map[string]string{
		"FREQ=HOURLY": "outside the subset", "FREQ=WEEKLY;BYDAY=2MO": "nth weekday",
		"FREQ=DAILY;BYWEEKNO=3": "BYWEEKNO is outside", "BYDAY=MO": "FREQ is missing",
		"FREQ=DAILY;COUNT=2;UNTIL=20270101": "exclude each other", "FREQ=DAILY;INTERVAL=0": "not a number",
		"FREQ=WEEKLY;BYMONTHDAY=1": "BYMONTHDAY does not go", "FREQ=MONTHLY;BYDAY=XX": "not a weekday", "FREQ": "not a part",
		"FREQ=DAILY;BYSETPOS=1": "BYSETPOS needs", "FREQ=MONTHLY;BYMONTHDAY=32": "out of range",
	} {
		_, err := ParseRecurrence(text)
		assert.ErrorContains(t, err, says, text)
	}
	r, err := ParseRecurrence("")
	require.NoError(t, err)
	assert.Equal(t, []Day{5}, r.Between(5, 0, 10))
	assert.Equal(t, "once", r.Words(5))
}

func FuzzParseRecurrence(f *testing.F) {
	for _, s := range []string{"FREQ=MONTHLY;BYDAY=-1FR", "FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=30",
		"FREQ=DAILY;COUNT=5000;INTERVAL=1000", "RRULE:FREQ=WEEKLY;UNTIL=20261231T235959Z", "FREQ=;"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, s string) {
		r, err := ParseRecurrence(s)
		if err != nil {
			return
		}
		again, err := ParseRecurrence(r.String())
		require.NoError(t, err, r.String())
		require.Equal(t, r.String(), again.String())
		last := Day(-1)
		for _, d := range r.Between(DayOf(2026, 1, 31), DayOf(2026, 1, 1), DayOf(2030, 1, 1)) {
			require.Greater(t, d, last)
			last = d
		}
	})
}

func TestHolidayDates(t *testing.T) {
	from, to := DayOf(2026, 1, 1), DayOf(2029, 1, 1)
	for _, c := range []struct {
		h    HolidayDates
		want string
		says string
	}{
		{HolidayDates{Kind: OnDates, Dates: []string{"2026-12-25", "2027-12-27"}}, "2026-12-25 2027-12-27", "Fri 25 Dec 2026, Mon 27 Dec 2027"},
		{HolidayDates{Kind: EveryYear, Month: 12, Day: 31, Days: 2}, "2026-01-01 2026-12-31 2027-01-01 2027-12-31 2028-01-01 2028-12-31", "every year on 31 December, for 2 days"},
		{HolidayDates{Kind: EveryYear, Month: 2, Day: 29}, "2028-02-29", "every year on 29 February"},
		{HolidayDates{Kind: NthWeekday, Month: 11, Nth: 4, Weekday: 3}, "2026-11-26 2027-11-25 2028-11-23", "the fourth Thursday of November"},
		{HolidayDates{Kind: NthWeekday, Month: 5, Nth: -1, Weekday: 0}, "2026-05-25 2027-05-31 2028-05-29", "the last Monday of May"},
		{HolidayDates{Kind: NthWeekday, Month: 2, Nth: 5, Weekday: 1}, "2028-02-29", "the fifth Tuesday of February"},
		{HolidayDates{Kind: FromEaster, Offset: -2}, "2026-04-03 2027-03-26 2028-04-14", "2 days before Easter Sunday"},
		{HolidayDates{Kind: FromEaster, Offset: 50}, "2026-05-25 2027-05-17 2028-06-05", "50 days after Easter Sunday"},
	} {
		field, _ := c.h.Valid()
		assert.Empty(t, field)
		var got []string
		for _, d := range c.h.Between(from, to) {
			got = append(got, d.String())
		}
		assert.Equal(t, c.want, strings.Join(got, " "), c.h.String())
		assert.Equal(t, c.says, c.h.String())
	}
	for field, h := range map[string]HolidayDates{
		"day": {Kind: EveryYear, Month: 4, Day: 31}, "month": {Kind: NthWeekday, Month: 13, Nth: 1}, "nth": {Kind: NthWeekday, Month: 1}, "weekday": {Kind: NthWeekday, Month: 1, Nth: 1, Weekday: 7},
		"dates": {Kind: OnDates, Dates: []string{"25 Dec"}}, "offset": {Kind: FromEaster, Offset: 400}, "kind": {Kind: "sometimes"}, "days": {Kind: OnDates, Dates: []string{"2026-01-01"}, Days: 90},
	} {
		got, words := h.Valid()
		assert.Equal(t, field, got)
		assert.NotEmpty(t, words)
	}
}

func TestConstants(t *testing.T) {
	assert.Equal(t, DayOf(2020, 1, 1), FirstDay)
	assert.Equal(t, DayOf(2050, 1, 1), LastDay)
}

// year is a schedule with holidays as the property test draws it, and asked by hand, minute by minute.
type year struct {
	week     Week
	rows     []Row[Period]
	holidays []Holiday
	ranks    []int
	on       map[Day][]int // the holidays of each day
}

func drawYear(t *rapid.T, first Day) year {
	y := year{
		week: drawWeek(t), on: map[Day][]int{},
		ranks: []int{rapid.IntRange(0, 2).Draw(t, "rank"), rapid.IntRange(0, 2).Draw(t, "rank"), 1},
	}
	for range rapid.IntRange(0, 3).Draw(t, "rows") { // a type past the end of the rows is as weekday
		row := Row[Period]{Answer: Answer(rapid.IntRange(0, 2).Draw(t, "answer"))}
		if row.Answer == Own {
			row.Own = drawWeek(t)[0]
		}
		y.rows = append(y.rows, row)
	}
	for range rapid.IntRange(0, 5).Draw(t, "holidays") {
		h := Holiday{Type: rapid.IntRange(0, 2).Draw(t, "type"), End: DayMinutes}
		d := first + Day(rapid.IntRange(-2, 20).Draw(t, "date"))
		h.Dates = HolidayDates{Kind: OnDates, Dates: []string{d.String()}, Days: rapid.IntRange(0, 3).Draw(t, "days")}
		if rapid.Bool().Draw(t, "part") {
			h.Start = rapid.IntRange(0, DayMinutes-2).Draw(t, "from")
			h.End = rapid.IntRange(h.Start+1, DayMinutes).Draw(t, "to")
		}
		for k := range max(h.Dates.Days, 1) {
			y.on[d+Day(k)] = append(y.on[d+Day(k)], len(y.holidays))
		}
		y.holidays = append(y.holidays, h)
	}
	return y
}

// periods returns what counts at a minute of a day, by the rules as they are written (design 3.2).
func (y year) periods(d Day, minute int) []Period {
	best := -1
	for _, i := range y.on[d] {
		h := y.holidays[i]
		if h.Start <= minute && minute < h.End && (best < 0 || y.ranks[h.Type] > y.ranks[y.holidays[best].Type]) {
			best = i
		}
	}
	if best >= 0 && y.holidays[best].Type < len(y.rows) && y.rows[y.holidays[best].Type].Answer != AsWeekday {
		return y.rows[y.holidays[best].Type].Own
	}
	return y.week[d.Weekday()]
}

func (y year) open(d Day, minute int) bool {
	for _, p := range y.periods(d, minute) {
		if p.Start <= minute && minute < p.End {
			return true
		}
	}
	for _, p := range y.periods(d-1, DayMinutes-1) {
		if minute < p.End-DayMinutes {
			return true
		}
	}
	return false
}

// A schedule with holidays, whole days and parts, of several ranks, is open exactly when the rules say so, and
// its next change is the first that comes, across midnights, holidays and clock changes.
func TestHolidaysByHand(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		z, _ := zone(t, rapid.SampledFrom(zones).Draw(t, "zone"))
		at := drawInstant(t)
		first := z.Wall(at).Day
		y := drawYear(t, first)
		s := CompileWeek(y.week, y.rows...)
		l := Local{Zone: &z, Calendar: NewCalendar(y.holidays, y.ranks, first-10, first+60)}
		now := func(i Instant) bool { w := z.Wall(i); return y.open(w.Day, w.Minute) }
		require.Equal(t, now(at), s.OpenAt(l, at))
		got := s.Next(l, at)
		const step = Instant(60000)
		for m, k := at/step*step+step, 0; k < 16*1440; m, k = m+step, k+1 {
			if now(m) != now(at) {
				require.Equal(t, m, got)
				return
			}
		}
		require.GreaterOrEqual(t, got, at.Add(15*24*time.Hour))
	})
}

// A plan with holiday rows is the same as a schedule of each of its modes.
func TestPlanHolidaysMatchSchedule(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		first := DayOf(2026, 6, 1)
		y := drawYear(t, first)
		p := Pattern{Default: Barred}
		for d, periods := range y.week.Normal() {
			for _, x := range periods {
				p.Paint(d, Segment{Period: x, Mode: Free})
			}
			y.week[d] = nil
		}
		for d, segments := range p.Week { // what a plan holds never overlaps, so take the schedule from it
			for _, x := range segments {
				y.week[d] = append(y.week[d], x.Period)
			}
		}
		var rows []Row[Segment]
		for i, r := range y.rows {
			row := Row[Segment]{Answer: r.Answer}
			for _, x := range r.Own {
				row.Own = PaintRow(Barred, row.Own, Segment{Period: x, Mode: Free})
			}
			require.NoError(t, ValidRow(Barred, row.Own))
			rows = append(rows, row)
			y.rows[i].Own = nil
			for _, x := range row.Own {
				y.rows[i].Own = append(y.rows[i].Own, x.Period)
			}
		}
		c := NewCalendar(y.holidays, y.ranks, first-10, first+60)
		plan, schedule := CompilePlan(p, rows...), CompileWeek(y.week, y.rows...)
		for m := range 21 * DayMinutes {
			a, _ := plan.Ask(c, first+Day(m/DayMinutes), m%DayMinutes)
			require.Equal(t, schedule.Open(c, first+Day(m/DayMinutes), m%DayMinutes), a.Mode == Free, "%s %s",
				first+Day(m/DayMinutes), Clock(m%DayMinutes))
		}
	})
}

// Of dated changes that meet, the later made decides; a timeline is its plan wherever none does.
func TestTimelineByHand(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		z, _ := zone(t, rapid.SampledFrom(zones).Draw(t, "zone"))
		at := drawInstant(t) / 60000 * 60000
		p := Pattern{Default: rapid.SampledFrom(Modes).Draw(t, "default")}
		for range rapid.IntRange(0, 4).Draw(t, "strokes") {
			p.Paint(rapid.IntRange(0, 6).Draw(t, "day"), drawSegment(t))
		}
		plan := CompilePlan(p)
		var all []Window
		for i := range rapid.IntRange(0, 6).Draw(t, "windows") {
			from := at + Instant(rapid.IntRange(-600, 4000).Draw(t, "from"))*60000
			all = append(
				all,
				Window{
					From:   from,
					Until:  from + Instant(rapid.IntRange(1, 2000).Draw(t, "length"))*60000,
					Mode:   rapid.SampledFrom(Modes).Draw(t, "mode"),
					Change: int64(i / 2),
				},
			)
			all[i].Mode = all[i/2*2].Mode // one mode to a change
		}
		line := Timeline{Plan: &plan, Local: Local{Zone: &z}, Windows: Flatten(all)}
		for i := 1; i < len(line.Windows); i++ {
			require.LessOrEqual(t, line.Windows[i-1].Until, line.Windows[i].From)
		}
		byHand := func(i Instant) Mode {
			best := int64(-1)
			a, _ := plan.AskAt(line.Local, i)
			mode := a.Mode
			for _, w := range all {
				if w.From <= i && i < w.Until && w.Change > best {
					best, mode = w.Change, w.Mode
				}
			}
			return mode
		}
		next := line.Next(at)
		for i := at; i < at+5000*60000; i += 60000 {
			require.Equal(t, byHand(i), line.At(i).Mode)
			if i < next {
				require.Equal(t, byHand(at), byHand(i))
			}
		}
		if next < at+5000*60000 {
			require.NotEqual(t, byHand(at), byHand(next))
		}
	})
}

// What does not change in any week changes on the next holiday, however far it is.
func TestNextHolidayFarAway(t *testing.T) {
	z, _ := zone(t, "America/Halifax")
	c := NewCalendar([]Holiday{{Dates: HolidayDates{Kind: EveryYear, Month: 2, Day: 29}, End: DayMinutes}}, []int{0},
		FirstDay, LastDay)
	s := CompileWeek(Always(), Row[Period]{Answer: Resting})
	l := Local{Zone: &z, Calendar: c}
	got := s.Next(l, At(time.Date(2026, 3, 1, 12, 0, 0, 0, time.UTC)))
	assert.Equal(t, "2028-02-29T00:00:00-04:00", z.Time(got).Format(time.RFC3339))
	assert.Equal(t, "2028-03-01T00:00:00-04:00", z.Time(s.Next(l, got)).Format(time.RFC3339))
	// Only on Fridays, and the next Friday is a holiday: the one after it.
	var w Week
	w[4] = []Period{{600, 660}}
	friday := NewCalendar([]Holiday{{Dates: HolidayDates{Kind: OnDates, Dates: []string{"2026-06-05"}}, End: DayMinutes}},
		[]int{0}, FirstDay, LastDay)
	f := CompileWeek(w, Row[Period]{Answer: Resting})
	got = f.Next(Local{Zone: &z, Calendar: friday}, At(time.Date(2026, 6, 1, 12, 0, 0, 0, time.UTC)))
	assert.Equal(t, "2026-06-12T10:00:00-03:00", z.Time(got).Format(time.RFC3339))
}

// The offset changes of zones against zdump, which reads the same system data without Go.
func TestZonesAgainstZdump(t *testing.T) {
	if _, err := exec.LookPath("zdump"); err != nil {
		t.Skip("no zdump on this machine")
	}
	for _, name := range zones {
		out, err := exec.Command("zdump", "-v", "-c", "2025,2030", name).Output()
		require.NoError(t, err)
		var want []string
		lines := strings.Split(strings.TrimSpace(string(out)), "\n")
		for i, l := range lines { // changes come in pairs: the last second before, and the first of
			f := strings.Fields(l)
			if i == 0 || len(f) < 16 {
				continue
			}
			before := strings.Fields(lines[i-1])
			at, err := time.Parse("Jan 2 15:04:05 2006", strings.Join(f[2:6], " "))
			require.NoError(t, err)
			if len(before) == len(f) && before[len(before)-1] != f[len(f)-1] && at.Year() >= 2025 {
				want = append(want, at.Format(time.RFC3339)+" "+f[len(f)-1])
			}
		}
		z, _ := zone(t, name)
		var got []string
		for _, o := range z.Offsets[1:] {
			got = append(got, fmt.Sprintf("%s gmtoff=%d", o.At.Time().Format(time.RFC3339), o.Seconds))
		}
		assert.Equal(t, want, got, name)
	}
}

// The next change of a door with 40 holidays a year and a dated change every month.
func BenchmarkTimelineNext(b *testing.B) {
	z, _ := zone(b, "America/Halifax")
	p := Pattern{}
	for d := range 5 {
		p.Paint(d, Segment{Period: Period{600, 1020}, Mode: Free})
	}
	plan := CompilePlan(p, Row[Segment]{Answer: Resting})
	var holidays []Holiday
	for i := range 40 {
		holidays = append(holidays, Holiday{
			Dates: HolidayDates{Kind: EveryYear, Month: 1 + i%12, Day: 1 + i/2}, End: DayMinutes,
		})
	}
	line := Timeline{Plan: &plan, Local: Local{Zone: &z, Calendar: NewCalendar(holidays, []int{0}, FirstDay, LastDay)}}
	rule, err := ParseRecurrence("FREQ=MONTHLY;BYDAY=1FR")
	require.NoError(b, err)
	for _, d := range rule.Between(DayOf(2026, 1, 2), FirstDay, LastDay) {
		line.Windows = append(line.Windows, Window{From: z.Resolve(d, 1080), Until: z.Resolve(d, 1320), Mode: Free})
	}
	at := At(time.Date(2026, 11, 26, 18, 0, 0, 0, time.UTC))
	b.ReportAllocs()
	for i := 0; b.Loop(); i++ {
		line.Next(at + Instant(i%400)*86400000)
	}
}

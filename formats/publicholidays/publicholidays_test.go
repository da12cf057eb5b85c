package publicholidays

import (
	"fmt"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/rickar/cal/v2"
	"github.com/rickar/cal/v2/at"
	"github.com/rickar/cal/v2/be"
	"github.com/rickar/cal/v2/cz"
	"github.com/rickar/cal/v2/de"
	"github.com/rickar/cal/v2/es"
	"github.com/rickar/cal/v2/fr"
	"github.com/rickar/cal/v2/gb"
	"github.com/rickar/cal/v2/ie"
	"github.com/rickar/cal/v2/jp"
	"github.com/rickar/cal/v2/nl"
	"github.com/rickar/cal/v2/nz"
	"github.com/rickar/cal/v2/pl"
	"github.com/rickar/cal/v2/us"
	"github.com/rickar/cal/v2/za"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Working days of 2024 to 2030 that one source takes as holidays and the other does not, explained. What is
// not explained fails. The explanations are judgements from memory, but for the dates.
var explained = map[string]string{
	"US only-rickar 2028-11-10": "Veterans Day observed: the source counts it as a day of banks, and marks no substitute",
	"US only-rickar 2029-11-12": "the same",
	"IE only-ours":              "the Monday in place of St Patrick's or St Stephen's Day on a weekend: of type bank, which the shipped data takes where it is a substitute",
	"NZ only-ours":              "Matariki is missing in rickar of 2023",
	"ZA only-ours 2024-05-29":   "a day off for an election",
	"NL only-rickar":            "Good Friday, and 5 May of every year, are not days off by law",
	"PL only-ours":              "Christmas Eve is a day off since 2025",
}

func excuse(region, side, date string) bool {
	_, day := explained[fmt.Sprintf("%s %s %s", region, side, date)]
	_, all := explained[region+" "+side]
	return day || all
}

// The shipped data against github.com/rickar/cal/v2 v2.1.13, by region and year, on working days.
func TestAgainstRickar(t *testing.T) {
	regions := map[string][]*cal.Holiday{
		"US": us.Holidays, "GB-ENG": gb.Holidays, "IE": ie.Holidays, "NZ": nz.Holidays, "ZA": za.Holidays,
		"DE-BY": de.HolidaysBY, "FR": fr.Holidays, "NL": nl.Holidays, "PL": pl.Holidays, "AT": at.Holidays,
		"BE": be.Holidays, "CZ": cz.Holidays, "ES": es.Holidays, "JP": jp.Holidays,
	}
	for code, list := range regions {
		c := &cal.Calendar{}
		c.AddHoliday(list...)
		_, days, err := Days(code, 2024, 2030)
		require.NoError(t, err, code)
		ours := map[string]string{}
		for _, d := range days {
			ours[d.Date] = d.Name
		}
		both := 0
		for d := time.Date(2024, 1, 1, 12, 0, 0, 0, time.UTC); d.Year() < 2031; d = d.AddDate(0, 0, 1) {
			if w := d.Weekday(); w == time.Saturday || w == time.Sunday {
				continue
			}
			actual, observed, h := c.IsHoliday(d)
			date := d.Format(time.DateOnly)
			_, here := ours[date]
			switch {
			case here && (actual || observed):
				both++
			case here:
				assert.True(t, excuse(code, "only-ours", date), "%s: only ours has %s, %s", code, date, ours[date])
			case actual || observed:
				assert.True(t, excuse(code, "only-rickar", date), "%s: only rickar has %s, %s", code, date, h.Name)
			}
		}
		assert.Greater(t, both, 40, code)
		t.Logf("%s: %d working days in both", code, both)
	}
}

// Days of 2026 and 2027 that calendars on the wall name (from memory).
func TestKnownDays(t *testing.T) {
	for _, c := range []struct {
		code, date, name string
		substitute       bool
	}{
		{"CA-NS", "2026-02-16", "Heritage Day", false}, {"GB-ENG", "2027-12-27", "Christmas Day", true}, {"PT", "2026-04-25", "Liberty Day", false},
		{"US", "2027-12-31", "New Year's Day", true}, {"DE-BY", "2026-06-04", "Corpus Christi", false},
	} {
		_, days, err := Days(c.code, 2026, 2027)
		require.NoError(t, err)
		found := ""
		for _, d := range days {
			if d.Date == c.date {
				found = d.Name
				assert.Equal(t, c.substitute, d.Substitute, c.date)
			}
		}
		if c.name != "Liberty Day" && c.name != "Corpus Christi" { // names in English differ between sources
			assert.Contains(t, found, strings.Split(c.name, " (")[0], c.date)
		} else {
			assert.NotEmpty(t, found, c.date)
		}
	}
}

func TestData(t *testing.T) {
	first, last, with := Years()
	assert.LessOrEqual(t, first, 2024)
	assert.GreaterOrEqual(t, last, 2035)
	assert.Contains(t, with, "date-holidays")
	all := Find("")
	assert.Greater(t, len(all), 600)
	for _, r := range all {
		_, days, err := Days(r.Code, first, last)
		require.NoError(t, err, r.Code)
		for _, d := range days {
			_, err := time.Parse(time.DateOnly, d.Date)
			require.NoError(t, err, r.Code)
			require.NotEmpty(t, d.Name, r.Code)
		}
	}
	assert.Equal(t, "Canada, Nova Scotia", Find("nova")[0].Name)
	assert.Equal(t, "PT", Find("pt")[0].Code)
	assert.Empty(t, Find("atlantis"))
	for search, code := range map[string]string{"bavaria": "DE-BY", "sao paulo": "BR-SP", "ZURICH": "CH-ZH", "italy": "IT",
		"usa hawaii": "US-HI", "bayern augsburg": "DE-BY-A", "new south": "AU-NSW"} {
		found := Find(search)
		if assert.NotEmpty(t, found, search) {
			assert.Equal(t, code, found[0].Code, search)
		}
	}
	for code := range also {
		assert.True(t, slices.ContainsFunc(all, func(r Region) bool { return r.Code == code }), "%s is no region", code)
	}
	_, _, err := Days("PT", 1990, 1991)
	assert.ErrorContains(t, err, "the data covers")
	_, _, err = Days("XX", 2026, 2026)
	assert.ErrorContains(t, err, "no region")
}

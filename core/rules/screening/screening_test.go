package screening

import (
	"encoding/json"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amberkeystone/core/hours"
	"amberkeystone/core/internal/partsuite"
	"amberkeystone/core/pass"
	"amberkeystone/core/site"
)

var rule = site.Screening{ID: 7, PassIDs: []site.ID{4}, Lasts: site.LastsHours, Count: 2}

func TestPart(t *testing.T) {
	partsuite.Suite{
		New: func() pass.Part {
			return &Part{
				Desk: NewDesk(9, []site.Screening{rule}), Zone: &hours.Zone{Name: "UTC"}, Door: 4, First: true,
				Under: func(p site.ID) []site.ID { return map[site.ID][]site.ID{1: {7}, 2: {7, 8}}[p] },
			}
		},
		Draw: func(t *rapid.T) pass.Fact {
			if rapid.Bool().Draw(t, "told") {
				return pass.Fact{Kind: pass.ClearancesTold, Cleared: said(t)}
			}
			return pass.Fact{
				Kind: pass.Entered, Person: site.ID(rapid.IntRange(0, 3).Draw(t, "who")), Out: rapid.Bool().Draw(t, "out"),
			}
		},
		Walls: true,
	}.Run(t)
}

func said(t *rapid.T) []Clearance {
	list := make([]Clearance, rapid.IntRange(0, 12).Draw(t, "words"))
	for i := range list {
		list[i] = Clearance{
			Person:     site.ID(rapid.IntRange(1, 3).Draw(t, "person")),
			Screening:  site.ID(rapid.IntRange(7, 8).Draw(t, "screening")),
			At:         hours.Instant(rapid.IntRange(1, 6).Draw(t, "at")),
			Until:      hours.Instant(rapid.SampledFrom([]int{0, 3, 9}).Draw(t, "until")),
			Controller: site.ID(rapid.IntRange(0, 2).Draw(t, "controller")), Seq: uint64(i + 1),
		}
	}
	return list
}

func bookOf(lists ...[]Clearance) *Book {
	b := NewBook()
	for _, list := range lists {
		for _, c := range list {
			b.Put(c)
		}
	}
	return b
}

// Words in any order, said again, or by way of another book come to the same: commutative, associative, idempotent.
func TestMergedInAnyOrder(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		all := said(t)
		want := bookOf(all).All()
		k := rapid.IntRange(0, len(all)).Draw(t, "cut")
		for _, got := range []*Book{
			bookOf(rapid.Permutation(all).Draw(t, "order")), bookOf(all, all), bookOf(all[k:], all[:k]),
			bookOf(bookOf(all[:k]).All(), bookOf(all[k:]).All()),
		} {
			require.Equal(t, want, got.All())
		}
		text, err := json.Marshal(bookOf(all))
		require.NoError(t, err)
		var again Book
		require.NoError(t, json.Unmarshal(text, &again))
		require.Equal(t, want, again.All())
	})
}

// How long a clearing lasts, by the wall clock where it counts, over the nights on which clocks change (2026: 8 March
// and 1 November, America/Halifax).
func TestHowLong(t *testing.T) {
	loc, err := time.LoadLocation("America/Halifax")
	require.NoError(t, err)
	from := hours.At(time.Date(2026, 1, 1, 0, 0, 0, 0, time.UTC))
	z := hours.ZoneFrom(loc, from, from+400*hours.FullDay)
	at := func(s string) hours.Instant {
		x, err := time.ParseInLocation("2006-01-02 15:04", s, loc)
		require.NoError(t, err)
		return hours.At(x)
	}
	for _, x := range []struct {
		lasts      site.Lasting
		count      int
		now, until string
	}{
		{site.LastsMidnight, 0, "2026-11-26 10:00", "2026-11-27 00:00"},
		{site.LastsMidnight, 0, "2026-11-26 00:00", "2026-11-27 00:00"},
		{site.LastsDays, 1, "2026-11-26 23:59", "2026-11-27 00:00"},
		{site.LastsDays, 3, "2026-10-31 10:00", "2026-11-03 00:00"},
		{site.LastsHours, 4, "2026-11-26 22:00", "2026-11-27 02:00"},
		{site.LastsHours, 24, "2026-03-07 12:00", "2026-03-08 13:00"},
		{site.LastsMidnight, 0, "2026-03-08 01:30", "2026-03-09 00:00"},
	} {
		s := site.Screening{Lasts: x.lasts, Count: x.count}
		assert.Equal(t, at(x.until), s.Until(&z, at(x.now)), "%s %d from %s", x.lasts, x.count, x.now)
	}
	s := site.Screening{Lasts: site.LastsWithdrawn}
	assert.Equal(t, hours.Never, s.Until(&z, at("2026-11-26 10:00")))
}

// A controller whose clock is wrong is told in its own time, until its own midnight; one that is nearly right exactly.
// When its clock is set, what it was told later than now is forgotten.
func TestByClock(t *testing.T) {
	z := &hours.Zone{Name: "UTC"}
	x := &site.Screening{ID: 7, Lasts: site.LastsMidnight}
	noon := 12 * 60 * hours.Minute
	c := Clear(x, 1, z, noon, "Keeper")
	assert.Equal(t, hours.FullDay, c.Until)
	near := ByClock(c, x, z, 900)
	assert.Equal(t, noon+900, near.At)
	assert.Equal(t, hours.FullDay, near.Until)
	ahead := ByClock(c, x, z, 3*hours.FullDay)
	assert.Equal(t, 4*hours.FullDay, ahead.Until)
	assert.Zero(t, ByClock(Withdraw(x, 1, noon, "Keeper"), x, z, 3*hours.FullDay).Until)
	b := bookOf([]Clearance{ahead})
	b.Unsay(noon)
	assert.Empty(t, b.All())
}

package passback

import (
	"encoding/json"
	"runtime"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amberkeystone/core/hours"
	"amberkeystone/core/site"
)

// seen is what controllers saw of a few people, each line once: no two lines of a controller have one number.
func seen(t *rapid.T) []Place {
	list := make([]Place, rapid.IntRange(0, 20).Draw(t, "places"))
	for i := range list {
		list[i] = Place{
			Person: site.ID(rapid.IntRange(1, 4).Draw(t, "person")), Area: site.ID(rapid.IntRange(0, 3).Draw(t, "area")),
			Unknown: rapid.IntRange(0, 5).Draw(t, "forgiven") == 0, At: hours.Instant(rapid.IntRange(1, 6).Draw(t, "at")),
			Controller: site.ID(rapid.IntRange(1, 3).Draw(t, "controller")), Seq: uint64(i + 1),
		}
	}
	return list
}

func bookOf(lists ...[]Place) *Book {
	b := NewBook()
	for _, list := range lists {
		for _, p := range list {
			b.Put(p)
		}
	}
	return b
}

// What controllers saw comes together to one book in whatever order it is told, and told again: commutative,
// associative, idempotent. Nobody is counted twice.
func TestMergedInAnyOrder(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		all := seen(t)
		want := bookOf(all)
		k := rapid.IntRange(0, len(all)).Draw(t, "cut")
		for _, got := range []*Book{
			bookOf(rapid.Permutation(all).Draw(t, "order")), bookOf(all, all), bookOf(all[k:], all[:k]),
			bookOf(bookOf(all[:k]).Places(), bookOf(all[k:]).Places()), bookOf(bookOf(all[k:]).Places(), all[:k]),
		} {
			require.Equal(t, want.Places(), got.Places())
			for area := range site.ID(4) {
				require.Equal(t, want.Inside(area), got.Inside(area))
			}
		}
		inside := map[site.ID]int{}
		for _, p := range want.Places() {
			if !p.Unknown {
				inside[p.Area]++
			}
		}
		for area := range site.ID(4) {
			require.Equal(t, inside[area], want.Inside(area))
		}
		text, err := json.Marshal(want)
		require.NoError(t, err)
		var again Book
		require.NoError(t, json.Unmarshal(text, &again))
		require.Equal(t, want.Places(), again.Places())
	})
}

// What a controller keeps of 100,000 people in 50 areas.
func BenchmarkBook(b *testing.B) {
	for b.Loop() {
		var before, after runtime.MemStats
		runtime.GC()
		runtime.ReadMemStats(&before)
		book := NewBook()
		for p := range site.ID(100_000) {
			book.Put(Place{Person: p, Area: 1 + p%50, At: hours.Instant(p), Controller: 7, Seq: uint64(p)})
		}
		runtime.GC()
		runtime.ReadMemStats(&after)
		b.ReportMetric(float64(after.HeapAlloc-before.HeapAlloc)/1e6, "MB")
		runtime.KeepAlive(book)
	}
}

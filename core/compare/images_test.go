package compare

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amberkeystone/core/hours"
	"amberkeystone/core/image"
	"amberkeystone/core/site"
)

// What sending does is what the edit does: two images differ for the same people as the configurations that they were
// built from, and so where people who stand in both alike are folded and left out of the images.
func TestImagesAsConfigurations(t *testing.T) {
	z := halifax(t)
	from := z.Resolve(hours.DayOf(2026, 10, 31), 0)
	zone := func(site.ID) *hours.Zone { return z }
	build := func(c *site.Config) *image.Image {
		b := image.Build(c, 3, *z, image.Secrets{}).Bytes()
		im, err := image.Parse(b)
		require.NoError(t, err)
		return im
	}
	rapid.Check(t, func(t *rapid.T) {
		said := drawSite(t)
		was := said.Effective()
		edit := drawEdit(t, said)
		is := edit.Apply(said).EffectiveAfter(was)
		want := Hours(was, is, Timetable(was, zone, from), Timetable(is, zone, from), from)
		first := hours.Never
		for _, id := range slices.Concat(want.Gainers, want.Losers) {
			for _, turn := range want.Turns(id) {
				first = min(first, turn.First)
			}
		}
		if len(want.Doors) == 0 && want.Open == 0 {
			require.LessOrEqual(t, want.First, first, "the first time that anybody gains or loses")
		}
		if edit.AlarmArea != nil { // no door asks anything else, and no level leads elsewhere
			require.Equal(t, first, want.First)
		}
		a, b := build(was), build(is)
		got := Images(a, b, nil, from)
		require.Equal(t, want.Who, got.Who)
		require.Equal(t, want.Doors, got.Doors)
		same := func(p image.Person) bool {
			i := slices.IndexFunc(was.People, func(x *site.Person) bool { return x.ID == p.ID })
			return i >= 0 && slices.Contains(is.People, was.People[i])
		}
		var alike []*site.Person
		for _, p := range is.People {
			if slices.Contains(was.People, p) {
				alike = append(alike, p)
			}
		}
		a.People, b.People = slices.DeleteFunc(a.People, same), slices.DeleteFunc(b.People, same)
		folded := Images(a, b, Fold(alike), from)
		require.Equal(t, want.Who, folded.Who)
		for _, id := range slices.Concat(want.Gainers, want.Losers) {
			require.Len(t, folded.Turns(id), len(want.Turns(id)), "person %d", id)
		}
	})
}

package image

import (
	"testing"

	"amberkeystone/core/pass"

	"github.com/stretchr/testify/require"

	"amberkeystone/core/hours"
)

// Whatever bytes a controller is given, it refuses them or can be asked: it never falls over.
func FuzzHours(f *testing.F) {
	f.Add(imageOf(twoSites(), 8).Bytes())
	f.Add(imageOf(twoSites(), 9).Bytes())
	f.Add(
		[]byte(
			`{"version":2,"doors":[{"id":1,"planId":2,"port":1}],"plans":[{"id":2,"default":"card","week":[[],[],[],[],[],[],[]]}],"holidays":[{"kind":"dates","dates":["2026-01-01"],"typeId":9}]}`,
		),
	)
	f.Fuzz(func(t *testing.T, b []byte) {
		im, err := Parse(b)
		if err != nil {
			return
		}
		c := im.Compile()
		for i, line := range c.Lines {
			at := hours.Instant(int64(hours.DayOf(2026, 12, 25)) * 86400000)
			require.Greater(t, line.Next(at), at)
			c.Decide(&pass.Request{At: at, Door: i, Mode: line.At(at).Mode, HasPIN: true})
		}
		again, err := Parse(im.Bytes())
		require.NoError(t, err)
		require.Equal(t, Hash(im.Bytes()), Hash(again.Bytes()))
	})
}

// Whatever stands in sections whose hashes are right, they are refused or make a controller that can be asked.
func FuzzSections(f *testing.F) {
	for _, im := range []*Image{imageOf(twoSites(), 8), build(f, throng(3))} {
		list := im.Sections()
		people := []byte(`{"people":[]}`)
		if len(list) > 3 {
			people = list[3].Bytes
		}
		f.Add(list[0].Bytes, list[1].Bytes, list[2].Bytes, people)
	}
	f.Add([]byte(`{"version":3}`), []byte(`{}`), []byte(`{"levels":[{"id":1,"entries":[{"doorId":5}]}]}`),
		[]byte(`{"people":[{"id":1000}]}`))
	f.Fuzz(func(t *testing.T, hardware, hoursBytes, rules, people []byte) {
		var list []Section
		for i, b := range [][]byte{hardware, hoursBytes, rules, people} {
			name := []string{"hardware", "hours", "rules", "people e8"}[i]
			list = append(list, Section{Head{name, Hash(b), len(b)}, b})
		}
		im, err := Join(list)
		if err != nil {
			return
		}
		c := im.Compile()
		for i, line := range c.Lines {
			at := hours.Instant(int64(hours.DayOf(2026, 12, 25)) * 86400000)
			c.Decide(&pass.Request{At: at, Door: i, Mode: line.At(at).Mode, HasPIN: true})
		}
		again, err := Parse(im.Bytes())
		require.NoError(t, err)
		require.Equal(t, im.Root(), again.Root())
	})
}

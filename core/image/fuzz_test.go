package image

import (
	"testing"

	"github.com/stretchr/testify/require"

	"amberkeystone/core/access"
	"amberkeystone/core/hours"
)

// Whatever bytes a controller is given, it refuses them or can be asked: it never falls over.
func FuzzHours(f *testing.F) {
	f.Add(imageOf(twoSites(), 8).Bytes())
	f.Add(imageOf(twoSites(), 9).Bytes())
	f.Add([]byte(`{"version":2,"doors":[{"id":1,"planId":2,"port":1}],"plans":[{"id":2,"default":"card","week":[[],[],[],[],[],[],[]]}],"holidays":[{"kind":"dates","dates":["2026-01-01"],"typeId":9}]}`))
	f.Fuzz(func(t *testing.T, b []byte) {
		im, err := Parse(b)
		if err != nil {
			return
		}
		c := im.Compile()
		for i, line := range c.Lines {
			at := hours.Instant(int64(hours.DayOf(2026, 12, 25)) * 86400000)
			require.Greater(t, line.Next(at), at)
			c.Decide(&access.Request{At: at, Door: i, Mode: line.At(at).Mode, HasPIN: true})
		}
		again, err := Parse(im.Bytes())
		require.NoError(t, err)
		require.Equal(t, Hash(im.Bytes()), Hash(again.Bytes()))
	})
}

package panel

import (
	"math/rand/v2"
	"slices"
	"testing"
	"time"

	"amberkeystone/core/access"
	"amberkeystone/core/cards"
	"amberkeystone/core/hours"
	"amberkeystone/core/image"
	"amberkeystone/core/internal/largesite"
	"amberkeystone/core/site"
)

func halifax(b *testing.B) hours.Zone {
	loc, err := time.LoadLocation("America/Halifax")
	if err != nil {
		b.Fatal(err)
	}
	return hours.ZoneFrom(loc, instant(b, "2026-01-01T00:00:00Z"), instant(b, "2030-01-01T00:00:00Z"))
}

func BenchmarkLargeSite(b *testing.B) { controller(b, largesite.Config()) }

// The same where hardly two people hold the same levels.
func BenchmarkScatteredSite(b *testing.B) { controller(b, largesite.Scattered()) }

func controller(b *testing.B, config *site.Config) {
	zone := halifax(b)
	var im *image.Image
	b.Run("build", func(b *testing.B) {
		for b.Loop() {
			im = image.Build(config, 9, zone, image.Secrets{})
		}
	})
	var bytes []byte
	b.Run("bytes and hash", func(b *testing.B) {
		for b.Loop() {
			bytes = im.Bytes()
		}
		b.ReportMetric(float64(len(bytes))/1e6, "MB")
	})
	var c *image.Compiled
	b.Run("compile", func(b *testing.B) {
		for b.Loop() {
			c = im.Compile()
		}
	})
	if c == nil {
		im = image.Build(config, 9, zone, image.Secrets{})
		c = im.Compile()
	}
	requests := make([]access.Request, 4096)
	r := rand.New(rand.NewPCG(3, 4))
	for i := range requests {
		p := r.IntN(100000)
		read, err := cards.Standard26.Encode(uint64(p>>16), uint64(p&0xffff))
		if err != nil {
			b.Fatal(err)
		}
		// Half aim at a door of the person's, half at any.
		level := c.People[p].Levels[0].Level
		door := r.IntN(2000)
		for k := 0; i%2 == 0 && k < 2000; k++ {
			if slices.ContainsFunc(c.Ways[c.WayStart[k]:c.WayStart[k+1]], func(w access.Way) bool { return w.Level == level }) {
				door = k
				break
			}
		}
		requests[i] = access.Request{At: instant(b, "2026-11-26T14:07:00-04:00").Add(time.Duration(r.IntN(600000)) * time.Second), Door: door, Mode: hours.Card, HasCard: true, Bits: read}
	}
	b.Run("decide", func(b *testing.B) {
		b.ReportAllocs()
		for i := 0; b.Loop(); i++ {
			c.Decide(&requests[i&4095])
		}
	})
	b.Run("step", func(b *testing.B) {
		b.ReportAllocs()
		p := New(c, 0)
		now := instant(b, "2026-11-26T14:07:00-04:00")
		p.Start(now)
		for i := 0; b.Loop(); i++ {
			q := &requests[i&4095]
			now += 20
			p.Step(now, Input{Kind: CardRead, Port: q.Door + 1, Bits: q.Bits})
		}
	})
	b.Run("year of 1000 doors", func(b *testing.B) {
		from, to := instant(b, "2026-01-01T04:00:00Z"), instant(b, "2027-01-01T04:00:00Z")
		for b.Loop() {
			n := 0
			for i := range 1000 {
				n += len(c.Lines[i].Stretches(from, to))
			}
			if n == 0 {
				b.Fatal("nothing")
			}
		}
	})
}

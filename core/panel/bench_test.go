package panel

import (
	"math/rand/v2"
	"testing"
	"time"

	"amberkeystone/core/pass"

	"amberkeystone/core/cards"
	"amberkeystone/core/hours"
	"amberkeystone/core/image"
	"amberkeystone/core/site"
	"amberkeystone/internal/largesite"
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
	im := image.Build(config, 9, zone, image.Secrets{})
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
	c := im.Compile()
	b.Run("compile", func(b *testing.B) {
		for b.Loop() {
			c = im.Compile()
		}
	})
	requests := make([]pass.Request, 4096)
	leads := map[site.ID][]int{} // the doors of each level
	for _, l := range config.Levels {
		for _, e := range l.Entries {
			leads[l.ID] = append(leads[l.ID], int(e.Target.ID-1000))
		}
	}
	r := rand.New(rand.NewPCG(3, 4))
	for i := range requests {
		p := r.IntN(100000)
		read, err := cards.Standard26.Encode(uint64(p>>16), uint64(p&0xffff))
		if err != nil {
			b.Fatal(err)
		}
		door := r.IntN(2000)
		if i%2 == 0 { // half aim at a door of the person's, half at any
			list := leads[config.People[p].Levels[0].LevelID]
			door = list[r.IntN(len(list))]
		}
		requests[i] = pass.Request{
			At:      instant(b, "2026-11-26T14:07:00-04:00").Add(time.Duration(r.IntN(600000)) * time.Second),
			Door:    door,
			Mode:    hours.Card,
			HasCard: true,
			Bits:    read,
		}
	}
	b.Run("decide", func(b *testing.B) {
		b.ReportAllocs()
		gates := c.Gates()
		var p pass.Pass
		for i := 0; b.Loop(); i++ {
			p.Request = requests[i&4095]
			gates.Decide(&p)
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
			p.Step(now, Input{Kind: Read, Point: c.Doors[q.Door].Wired().In, Bits: q.Bits})
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

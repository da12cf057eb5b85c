package panel

import (
	"math/rand/v2"
	"testing"
	"time"

	"amberkeystone/core/access"
	"amberkeystone/core/cards"
	"amberkeystone/core/hours"
	"amberkeystone/core/image"
	"amberkeystone/core/site"
)

// large is the site of the design's section 8: 2,000 doors × 100,000 people × 500 levels on one controller.
func large() *site.Config {
	r := rand.New(rand.NewPCG(1, 2))
	c := &site.Config{Settings: site.DefaultSettings()}
	for i := range 30 {
		var w hours.Week
		for d := range w {
			start := r.IntN(1200)
			w[d] = []hours.Period{{Start: start, End: start + 300 + r.IntN(600)}}
		}
		c.Schedules = append(c.Schedules, site.Schedule{ID: site.ID(100 + i), Week: w})
	}
	for i := range 20 {
		p := hours.Pattern{}
		for d := range 7 {
			p.Paint(d, hours.Segment{Period: hours.Period{Start: 420 + i, End: 1080 + i}, Mode: hours.Modes[1+i%5]})
		}
		c.Plans = append(c.Plans, site.Plan{ID: site.ID(200 + i), Pattern: p})
	}
	for i := range 2000 {
		d := site.Door{ID: site.ID(1000 + i), Port: i + 1, ControllerID: 9, PlanID: site.ID(200 + i%20), Hardware: site.UsualHardware()}
		d.In.Keypad = true
		c.Doors = append(c.Doors, d)
	}
	for i := range 500 {
		l := site.Level{ID: site.ID(10000 + i)}
		for range 40 {
			l.Entries = append(l.Entries, site.Entry{DoorID: site.ID(1000 + r.IntN(2000)), ScheduleID: site.ID(100 + r.IntN(30))})
		}
		c.Levels = append(c.Levels, l)
	}
	for i := range 100000 {
		p := site.Person{ID: site.ID(100000 + i), Cards: []site.CardHeld{{Format: "26-bit", Facility: uint64(i >> 16), Number: uint64(i & 0xffff), Status: site.Active}}}
		for range 3 {
			p.Levels = append(p.Levels, site.Grant{LevelID: site.ID(10000 + r.IntN(500))})
		}
		c.People = append(c.People, p)
	}
	return c
}

func halifax(b *testing.B) hours.Zone {
	loc, err := time.LoadLocation("America/Halifax")
	if err != nil {
		b.Fatal(err)
	}
	return hours.ZoneFrom(loc, instant(b, "2026-01-01T00:00:00Z"), instant(b, "2030-01-01T00:00:00Z"))
}

func BenchmarkLargeSite(b *testing.B) {
	config, zone := large(), halifax(b)
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
			image.Hash(bytes)
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
		level := c.Levels[c.People[p].Levels[0].Level]
		door := r.IntN(2000)
		for k := 0; i%2 == 0 && k < 2000; k++ {
			if level.Start[k+1] > level.Start[k] {
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
				n += len(c.Plans[i].Stretches(&c.Zone, from, to))
			}
			if n == 0 {
				b.Fatal("nothing")
			}
		}
	})
}

package demo

import (
	"context"
	"fmt"
	"io"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"path/filepath"
	"strings"
	"testing"
	"testing/fstest"
	"time"

	"github.com/stretchr/testify/require"

	"amberkeystone/core/cards"
	"amberkeystone/core/hours"
	"amberkeystone/core/point"
	"amberkeystone/core/site"
	"amberkeystone/rack"
	"amberkeystone/server"
	"amberkeystone/store"
)

// manyControllers is so many stand-ins of 8 doors, one area inside all of them, and a server that they answer to.
func manyControllers(b *testing.B, n int) (standIns rack.Client, order func(body string) string) {
	ctx, dir := context.Background(), b.TempDir()
	model, _ := site.ModelNamed("Stand-in 8")
	c := &site.Config{
		Settings: site.DefaultSettings(), Sites: []site.Site{{ID: 1, Name: "House", Zone: "UTC"}},
		Floors: []site.Floor{{ID: 2, Name: "All", SiteID: 1}},
		Plans:  []site.Plan{{ID: 3, Name: "Cards", Pattern: hours.Pattern{Default: hours.Card}}}, Areas: []site.Area{
			{ID: 4, Name: "Inside", Mode: site.PassbackRefuse},
		},
		Levels: []site.Level{
			{ID: 5, Name: "Everywhere", Entries: []site.Entry{{Target: site.Target{Kind: site.Everything}, ScheduleID: 6}}},
		},
		Emergencies: []site.Emergency{
			{ID: 7, Name: "All shut", Does: site.Lockdown, Targets: []site.Target{{Kind: site.Everything}}},
		},
	}
	always, _ := site.Basics()
	always[0].ID, always[1].ID = 6, 8
	c.Schedules = always
	var specs []rack.Spec
	for i := range n {
		x := site.Controller{
			ID: site.ID(100 + i), Name: fmt.Sprint("Riser ", i), SiteID: 1, Zone: "UTC", Serial: fmt.Sprintf("B-%04d", i),
			Model: model.Name, Ports: model.Doors, People: model.People,
		}
		c.Controllers = append(c.Controllers, x)
		specs = append(specs, rack.Spec{
			Serial: x.Serial, Model: x.Model, Ports: x.Ports, People: x.People, Address: "127.0.0.1:0",
		})
		for k := range 8 {
			d := site.Door{ID: site.ID(1000 + 8*i + k), Name: fmt.Sprintf("Door %d.%d", i, k), FloorID: 2, ControllerID: x.ID,
				Port: k + 1, PlanID: 3, Hardware: site.UsualHardware(),
				FirstCard: site.UsualFirstCard(), InsideAreaID: 4}
			c.Doors = append(c.Doors, d)
		}
	}
	for i := range 100 {
		c.People = append(c.People, &site.Person{ID: site.ID(9000 + i), Name: fmt.Sprint("Person ", i),
			DepartmentIDs: []site.ID{}, Levels: []site.Grant{{LevelID: 5}},
			Credentials: []site.Credential{site.NewCard("26-bit", 42, uint64(1+i))}})
	}
	r, err := rack.Open(filepath.Join(dir, "rack"), "127.0.0.1:0", specs)
	require.NoError(b, err)
	b.Cleanup(func() { _ = r.Close() })
	st, err := store.Open(filepath.Join(dir, "keystone.db"))
	require.NoError(b, err)
	standIns = rack.Client{Address: r.Address()}
	require.NoError(b, st.Import(ctx, "bench", c))
	views, err := standIns.List()
	require.NoError(b, err)
	for i := range c.Controllers {
		require.NoError(b, adopt(ctx, st, standIns, &c.Controllers[i], views))
	}
	s, err := server.New(ctx, server.Options{
		Store: st, Rack: r.Address(), Web: fstest.MapFS{"index.html": {Data: []byte("the page")}},
	})
	require.NoError(b, err)
	b.Cleanup(func() { s.Close(); _ = st.Close() })
	require.NoError(b, s.SendAll(ctx, "bench"))
	h, err := s.Handler()
	require.NoError(b, err)
	web := httptest.NewServer(h)
	b.Cleanup(web.Close)
	jar, err := cookiejar.New(nil)
	require.NoError(b, err)
	client := &http.Client{Jar: jar}
	post := func(path, body string) string {
		res, err := client.Post(web.URL+path, "application/json", strings.NewReader(body))
		require.NoError(b, err)
		defer res.Body.Close()
		text, err := io.ReadAll(res.Body)
		require.NoError(b, err)
		require.Equal(b, 200, res.StatusCode, string(text))
		return string(text)
	}
	post("/api/first-administrator", `{"name":"Robin","password":"low tide at noon"}`)
	return standIns, func(body string) string { return post("/api/orders", body) }
}

// BenchmarkLockdown is how long it takes until every controller has answered that all of its doors are barred: 1,000
// doors on 125 stand-ins. Afterwards it lets people in at one controller and tries them a moment later at another: the
// share of whom that one knew already.
func BenchmarkLockdown(b *testing.B) {
	standIns, order := manyControllers(b, 125)
	for b.Loop() {
		text := order(`{"what":"lockdown","emergency":7}`)
		b.StopTimer()
		require.Equal(b, 125, strings.Count(text, `"reached":true`))
		order(`{"what":"end lockdown","emergency":7}`)
		b.StartTimer()
	}
	const patience = 250 * time.Millisecond
	known, tried := 0, 40
	do := func(h rack.Hand) rack.View {
		v, err := standIns.Do(h)
		require.NoError(b, err)
		return v
	}
	for i := range tried {
		read, err := cards.Standard26.Encode(42, uint64(1+i))
		require.NoError(b, err)
		do(rack.Hand{Serial: "B-0000", Do: "present", Point: point.At(point.Reader, 1), Bits: read})
		do(rack.Hand{Serial: "B-0000", Do: "open", Point: site.PortPoints(1).Contact})
		do(rack.Hand{Serial: "B-0000", Do: "close", Point: site.PortPoints(1).Contact})
		time.Sleep(patience)
		v := do(rack.Hand{Serial: "B-0077", Do: "present", Point: point.At(point.Reader, 1), Bits: read})
		for _, e := range v.Recent {
			if e.Person == site.ID(9000+i) && e.Reason.String() == "already-inside" {
				known++
			}
		}
	}
	b.ReportMetric(float64(known)/float64(tried), fmt.Sprintf("known_after_%dms", patience.Milliseconds()))
}

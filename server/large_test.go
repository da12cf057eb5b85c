package server

import (
	"bytes"
	"encoding/base64"
	"fmt"
	"path/filepath"
	"runtime"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"amberkeystone/core/compare"
	"amberkeystone/core/image"
	"amberkeystone/core/site"
	"amberkeystone/internal/largesite"
	"amberkeystone/store"
)

// large is a database with the large site on 250 controllers, made once for all benchmarks of a run.
var large = sync.OnceValues(func() (string, error) {
	dir, err := filepath.Abs(filepath.Join("..", "bin"))
	if err != nil {
		return "", err
	}
	path := filepath.Join(dir, "large-site.db")
	st, err := store.Open(path)
	if err != nil {
		return "", err
	}
	defer st.Close()
	c, err := st.Load(ctx)
	if err == nil && len(c.People) == 0 {
		err = st.Import(ctx, "bench", largesite.Spread(250))
	}
	return path, err
})

// BenchmarkLarge is the server on the large site: 2,000 doors on 250 controllers, 100,000 people, 500 levels.
func BenchmarkLarge(b *testing.B) {
	path, err := large()
	require.NoError(b, err)
	st, err := store.Open(path)
	require.NoError(b, err)
	defer st.Close()
	begin := time.Now()
	s, err := New(ctx, Options{Store: st})
	require.NoError(b, err)
	defer s.Close()
	start := time.Since(begin)
	b.Run("start", func(b *testing.B) {
		for b.Loop() {
			runtime.GC()
		}
		var m runtime.MemStats
		runtime.ReadMemStats(&m)
		b.ReportMetric(start.Seconds(), "s")
		b.ReportMetric(float64(m.HeapAlloc)/1e6, "MB")
	})
	b.Run("images from nothing", func(b *testing.B) {
		for b.Loop() {
			f := s.present()
			f.outlineAll()
		}
	})
	_, err = s.overview(ctx)
	require.NoError(b, err)
	saves[site.Person](b, s, "person", func(p *site.Person) { p.Suspended = !p.Suspended })
	saves[site.Plan](b, s, "plan", func(p *site.Plan) { p.Default = (p.Default + 1) % 6 })
	saves[site.Level](b, s, "level", func(l *site.Level) { l.OpensDay = !l.OpensDay })
	b.Run("search", func(b *testing.B) {
		for b.Loop() {
			found, err := store.List[site.Person](ctx, st, store.Page{Search: "fathom 01", Limit: 50})
			require.NoError(b, err)
			require.NotEmpty(b, found.Items)
		}
	})
	edits(b, s)
	sends(b, s)
	var m runtime.MemStats
	runtime.GC()
	runtime.ReadMemStats(&m)
	b.Logf("heap %d MB", m.HeapAlloc/1e6)
}

// edits are what an edit does, worked out before it is saved.
func edits(b *testing.B, s *Server) {
	c := s.current().Config
	level, plan, schedule, person := c.Levels[3], c.Plans[1], c.Schedules[5], *c.People[700]
	level.Entries = level.Entries[1:]
	plan.Default = (plan.Default + 1) % 6
	schedule.Week[2] = nil
	person.Levels = nil
	for name, e := range map[string]compare.Edit{
		"level": {Level: &level}, "plan": {Plan: &plan}, "schedule": {Schedule: &schedule}, "person": {Person: &person},
	} {
		b.Run("what an edit does: "+name, func(b *testing.B) {
			for b.Loop() {
				x, err := s.effect(e)
				require.NoError(b, err)
				require.NotEmpty(b, x.Sentence)
			}
		})
	}
}

// sends are what sending does to all controllers, after one level and after one person, and what is sent then.
func sends(b *testing.B, s *Server) {
	f := s.present()
	f.outlineAll()
	for _, c := range f.Config.Controllers {
		im, ok := s.build(f, c.ID)
		require.True(b, ok)
		sections := im.Sections()
		require.NoError(b, s.Store.SetSent(ctx, "bench", c.ID, c.Name, image.Pack(sections),
			image.Root(image.Heads(sections)), "{}", 1))
	}
	level, err := store.Get[site.Level](ctx, s.Store, f.Config.Levels[3].ID)
	require.NoError(b, err)
	level.Value.Entries = level.Value.Entries[1:]
	_, err = store.Put(ctx, s.Store, "bench", &level.Value, level.Rev)
	require.NoError(b, err)
	person, err := store.Get[site.Person](ctx, s.Store, f.Config.People[700].ID)
	require.NoError(b, err)
	person.Value.Suspended = !person.Value.Suspended
	_, err = store.Put(ctx, s.Store, "bench", &person.Value, person.Rev)
	require.NoError(b, err)
	require.NoError(b, s.settle(ctx))
	b.Run("impact over all controllers", func(b *testing.B) {
		for b.Loop() {
			x, err := s.impact(ctx, nil)
			require.NoError(b, err)
			require.NotEmpty(b, x.Controllers)
		}
	})
	b.Run("bytes after one person", func(b *testing.B) {
		most := 0
		for _, c := range f.Config.Controllers[:20] {
			was, ok := s.build(f, c.ID)
			require.True(b, ok)
			is, ok := s.build(s.present(), c.ID)
			require.True(b, ok)
			heads, moved := image.Heads(was.Sections()), 0
			for _, x := range is.Sections() {
				if strings.HasPrefix(x.Name, "people") && !slices.Contains(heads, x.Head) {
					moved += len(x.Bytes)
				}
			}
			most = max(most, moved)
		}
		for b.Loop() {
		}
		b.ReportMetric(float64(most), "bytes")
	})
}

// BenchmarkImport is a list of 100,000 people with cards and levels, looked at and written.
func BenchmarkImport(b *testing.B) {
	st, err := store.Open(filepath.Join(b.TempDir(), "import.db"))
	require.NoError(b, err)
	defer st.Close()
	require.NoError(b, st.EnsureBasics(ctx))
	_, err = store.Put(ctx, st, "bench", &site.Level{Name: "Staff"}, 0)
	require.NoError(b, err)
	s, err := New(ctx, Options{Store: st})
	require.NoError(b, err)
	defer s.Close()
	var list bytes.Buffer
	list.WriteString("Number;Name;Department;Cards;Levels\r\n")
	for i := range 100_000 {
		fmt.Fprintf(&list, "%d;Person %d;Team %d;%d-%d;Staff\r\n", i+1, i+1, i%50, i/60_000+1, i%60_000+1)
	}
	b.Run("100,000 people", func(b *testing.B) {
		for b.Loop() {
			p, err := s.previewImport(ctx, &ImportAsked{Data: base64.StdEncoding.EncodeToString(list.Bytes())})
			require.NoError(b, err)
			require.Zero(b, p.Wrong)
			_, err = s.startImport(ctx, "bench", p.Token, false)
			require.NoError(b, err)
			for running := true; running; time.Sleep(10 * time.Millisecond) {
				s.imports.mu.Lock()
				running = s.imports.state.Running
				require.False(b, s.imports.state.Failed, s.imports.state.Words)
				s.imports.mu.Unlock()
			}
			b.ReportMetric(float64(len(s.current().Config.People)), "people")
		}
	})
}

// saves is a save until it is in force, and then what the pages ask first.
func saves[T any](b *testing.B, s *Server, name string, edit func(*T)) {
	found, err := store.List[T](ctx, s.Store, store.Page{Limit: 1, Offset: 3})
	require.NoError(b, err)
	v := found.Items[0]
	put := func() {
		edit(&v.Value)
		v.Rev, err = store.Put(ctx, s.Store, "bench", &v.Value, v.Rev)
		require.NoError(b, err)
		require.NoError(b, s.settle(ctx))
	}
	b.Run("save of a "+name, func(b *testing.B) {
		for b.Loop() {
			put()
		}
	})
	for what, ask := range map[string]func(){
		"what controllers lack": func() { _, err = s.lacking(ctx) },
		"overview":              func() { _, err = s.overview(ctx) },
	} {
		b.Run(what+" after a "+name, func(b *testing.B) {
			for b.Loop() {
				b.StopTimer()
				put()
				b.StartTimer()
				ask()
				require.NoError(b, err)
			}
		})
	}
}

package server

import (
	"path/filepath"
	"runtime"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

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
	var m runtime.MemStats
	runtime.GC()
	runtime.ReadMemStats(&m)
	b.Logf("heap %d MB", m.HeapAlloc/1e6)
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

package attack

import (
	"context"
	"net/http/httptest"
	"path/filepath"
	"runtime"
	"runtime/debug"
	"testing"
	"testing/fstest"
	"time"

	"github.com/alexedwards/argon2id"
	"github.com/stretchr/testify/require"

	"amberkeystone/demo"
	"amberkeystone/rack"
	"amberkeystone/server"
	"amberkeystone/store"
)

// A short form; make attack sends 30,000 requests to the program itself.
func TestShort(t *testing.T) {
	dir := t.TempDir()
	r, err := rack.Open(filepath.Join(dir, "rack"), "127.0.0.1:0", demo.Rack(0))
	require.NoError(t, err)
	defer r.Close()
	st, err := store.Open(filepath.Join(dir, "keystone.db"))
	require.NoError(t, err)
	defer st.Close()
	require.NoError(t, demo.Load(context.Background(), st, rack.Client{Address: r.Address()}, time.Now()))
	hash, err := argon2id.CreateHash(demo.SignIn.Password, argon2id.DefaultParams)
	require.NoError(t, err)
	_, err = st.AddFirstUser(context.Background(), demo.SignIn.Name, hash)
	require.NoError(t, err)
	s, err := server.New(context.Background(), server.Options{
		Store: st, Rack: r.Address(), Web: fstest.MapFS{"index.html": {Data: []byte("the page")}},
	})
	require.NoError(t, err)
	h, err := s.Handler()
	require.NoError(t, err)
	web := httptest.NewUnstartedServer(h)
	web.Config.ReadHeaderTimeout, web.Config.ReadTimeout = 5*time.Second, 10*time.Second
	web.Start()
	defer func() { s.Close(); web.CloseClientConnections(); web.Close() }()
	memory := func() (int64, error) {
		debug.FreeOSMemory()
		var m runtime.MemStats
		runtime.ReadMemStats(&m)
		return int64(m.HeapInuse + m.StackInuse), nil
	}
	report, err := Run(context.Background(), Target{
		URL: web.URL, Name: demo.SignIn.Name, Password: demo.SignIn.Password, Memory: memory,
	},
		Options{Requests: 1500, Slow: 40, Wait: 30 * time.Second, Seed: uint64(time.Now().UnixNano()), Log: t.Output()})
	require.NoError(t, err)
	t.Log(report)
	require.Empty(t, report.Findings)
	require.Greater(t, report.ByStatus[200], 100)
	require.Greater(t, report.ByStatus[422], 100)
}

package server

import (
	"context"
	"fmt"
	"path/filepath"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amberkeystone/core/site"
	"amberkeystone/store"
)

var ctx = context.Background()

// bare is a server without pages, rack or anybody in it.
func bare(t *testing.T, o Options) *Server {
	st, err := store.Open(filepath.Join(t.TempDir(), "keystone.db"))
	require.NoError(t, err)
	t.Cleanup(func() { require.NoError(t, st.Close()) })
	o.Store = st
	s, err := New(ctx, o)
	require.NoError(t, err)
	t.Cleanup(s.Close)
	return s
}

func people(t *testing.T, s *Server, n int) []store.Versioned[site.Person] {
	var list []store.Versioned[site.Person]
	for i := range n {
		list = append(list, store.Versioned[site.Person]{Value: site.Person{Name: fmt.Sprintf("P%05d", i)}})
	}
	require.NoError(t, store.PutMany(ctx, s.Store, "test", list))
	require.NoError(t, s.settle(ctx))
	return list
}

// After many saves at once what is in memory is what is on disk, and each save is in force when it is answered.
func TestSavesAtOnceAreInForce(t *testing.T) {
	s := bare(t, Options{})
	const rounds, saves = 20, 8
	list := people(t, s, rounds*saves)
	for round := range rounds {
		var all sync.WaitGroup
		for k := range saves {
			all.Go(func() {
				v := &list[round*saves+k]
				v.Value.Suspended = true
				rev, err := store.Put(ctx, s.Store, "test", &v.Value, v.Rev)
				assert.NoError(t, err)
				assert.NoError(t, s.settle(ctx))
				f := s.present()
				have, ok := f.Rev(v.Value.ID)
				assert.True(t, ok && rev == have, "its own save is in force")
			})
		}
		all.Wait()
		disk, err := s.Store.Snapshot(ctx)
		require.NoError(t, err)
		f := s.present()
		require.Equal(t, disk.Commit, f.commit)
		require.Equal(t, disk.Config.People, f.Config.People)
	}
}

// Whoever goes away after a save leaves it in force all the same.
func TestClientGoesAwayAfterItsSave(t *testing.T) {
	s := bare(t, Options{})
	gone, cancel := context.WithCancel(ctx)
	p := site.Person{Name: "Ada"}
	_, err := store.Put(gone, s.Store, "test", &p, 0)
	require.NoError(t, err)
	cancel()
	if s.settle(gone) == nil { // it was in force before anybody looked
		assert.Len(t, s.current().Config.People, 1)
	}
	require.Eventually(t, func() bool { return len(s.current().Config.People) == 1 }, 10*time.Second, time.Millisecond)
}

// What cannot be applied is tried again; meanwhile nobody is told that it is in force, and nothing is sent.
func TestTroubleIsTriedAgain(t *testing.T) {
	s := bare(t, Options{})
	list := people(t, s, 2)
	_, err := s.Store.DB().Exec(`UPDATE objects SET body = 'broken' WHERE id = ?`, list[0].Value.ID)
	require.NoError(t, err)
	v := &list[1]
	v.Value.Suspended = true
	s.mu.Lock()
	s.force.year = 0 // all is read again, as at new year
	s.mu.Unlock()
	_, err = store.Put(ctx, s.Store, "test", &v.Value, v.Rev)
	require.NoError(t, err)
	assert.ErrorContains(t, s.settle(ctx), "It is saved, but not in force yet")
	_, err = s.pending(ctx, 0)
	assert.ErrorContains(t, err, "sends nothing to controllers before")
	assert.ErrorContains(t, s.sendAs(ctx, "test", "asked for", SendWish{}), "not in force yet")
	_, err = s.Store.DB().Exec(`UPDATE objects SET body = '{"name":"P00000"}' WHERE id = ?`, list[0].Value.ID)
	require.NoError(t, err)
	require.Eventually(t, func() bool { return s.settle(ctx) == nil }, 20*time.Second, 10*time.Millisecond)
	assert.True(t, s.current().Config.People[1].Suspended)
}

// The click of a finding never writes over what somebody has changed since it was found.
func TestMendKeepsWhatChangedSince(t *testing.T) {
	s := bare(t, Options{})
	c := site.DatedChange{Name: "Evening", DoorIDs: []site.ID{}, From: "2026-11-27T17:00", Until: "2026-11-27T21:00"}
	_, err := store.Put(ctx, s.Store, "test", &c, 0)
	require.NoError(t, err)
	require.NoError(t, s.settle(ctx))
	f := s.present()
	later := c
	later.Until = "2026-11-27T22:00"
	_, err = store.Put(ctx, s.Store, "somebody else", &later, 1)
	require.NoError(t, err)
	ctx, err := s.sessions.Load(ctx, "")
	require.NoError(t, err)
	err = over(ctx, s, f, c.ID, c)
	var conflict *store.Conflict
	require.ErrorAs(t, err, &conflict)
	assert.Equal(t, "somebody else", conflict.By)
}

// A device that says a known serial and has another identity is refused, unless it is said that it was replaced.
func TestAnotherDeviceUnderAKnownSerial(t *testing.T) {
	s := bare(t, Options{})
	place := site.Site{Name: "Pier", Zone: "UTC"}
	c := site.Controller{Name: "Riser", Zone: "UTC", Serial: "S", Ports: 4}
	known := []byte("the one that was taken into service")
	_, err := s.Store.TakeIntoService(ctx, "test", &c, &place,
		store.Taking{Serial: "S", Address: "127.0.0.1:1", Key: make([]byte, 32), Identity: known}, false)
	require.NoError(t, err)
	assert.NoError(t, s.sameDevice(ctx, c, known, false))
	assert.ErrorContains(t, s.sameDevice(ctx, c, []byte("another"), false),
		"This is not the device that was in service as Riser")
	assert.NoError(t, s.sameDevice(ctx, c, []byte("another"), true))
	assert.NoError(t, s.sameDevice(ctx, site.Controller{}, []byte("a new one"), false))
}

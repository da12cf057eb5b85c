package store

import (
	"encoding/json"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amberkeystone/core/cards"
	"amberkeystone/core/site"
)

// A copy is complete, PINs and all, says what it is, and opens as a database; the newest 20 stay.
func TestCopies(t *testing.T) {
	s := open(t)
	ada := site.Person{Name: "Ada", Credentials: held(7)}
	add(t, s, &ada)
	a, b := cards.HashPIN(nil, "4829"), cards.HashPIN(nil, "4820")
	require.NoError(t, s.SetPIN(ctx, "Robin", ada.ID, &a, &b, 4))
	m, err := s.Copy(ctx, "Robin", "before a test")
	require.NoError(t, err)
	assert.Equal(t, 1, m.Counts["person"])
	assert.Equal(t, 1, m.Counts["PIN"])
	assert.Equal(t, s.Commit(), m.Commit)
	path := filepath.Join(s.copies(), m.File)
	info, err := os.Stat(path)
	require.NoError(t, err)
	assert.Equal(t, os.FileMode(0o600), info.Mode().Perm())
	again, err := Open(path)
	require.NoError(t, err)
	c, err := again.Load(ctx)
	require.NoError(t, err)
	assert.Equal(t, a, *c.People[0].PIN)
	require.NoError(t, again.Close())

	require.NoError(t, os.WriteFile(filepath.Join(s.copies(), "2026-01-01T00-00-00.000000000Z.db"), []byte("interrupted"),
		0o600))
	for i := range copiesKept + 3 {
		_, err := s.Copy(ctx, "Robin", fmt.Sprint(i))
		require.NoError(t, err)
	}
	list, err := s.Copies()
	require.NoError(t, err)
	require.Len(t, list, copiesKept)
	assert.Equal(t, fmt.Sprint(copiesKept+2), list[0].Why, "newest first")
	files, err := filepath.Glob(filepath.Join(s.copies(), "*"))
	require.NoError(t, err)
	for _, f := range files {
		assert.True(t, strings.HasSuffix(f, ".json") || strings.Contains(f, ".db"), f)
		assert.NotContains(t, f, "2026-01-01", "what was interrupted is gone")
	}
	var onDisk Manifest
	text, err := os.ReadFile(strings.TrimSuffix(filepath.Join(s.copies(), list[0].File), ".db") + ".json")
	require.NoError(t, err)
	require.NoError(t, json.Unmarshal(text, &onDisk))
	assert.Equal(t, "Robin", onDisk.Who)
}

// Undoing the removal of a person brings the PIN back; where somebody has it since, nothing is done and it is said.
func TestUndoBringsThePINBack(t *testing.T) {
	s := open(t)
	ada := site.Person{Name: "Ada"}
	add(t, s, &ada)
	a, b := cards.HashPIN(nil, "4829"), cards.HashPIN(nil, "4820")
	require.NoError(t, s.SetPIN(ctx, "Robin", ada.ID, &a, &b, 6))
	require.NoError(t, Remove[site.Person](ctx, s, "Robin", ada.ID, 1))
	lines, err := s.History(ctx, HistoryFilter{Object: ada.ID, Limit: 1, Offset: 0})
	require.NoError(t, err)
	text, err := json.Marshal(lines)
	require.NoError(t, err)
	hash, err := a.MarshalText()
	require.NoError(t, err)
	assert.NotContains(t, string(text), string(hash), "nobody reads it in the history")

	ben := site.Person{Name: "Ben"}
	add(t, s, &ben)
	require.NoError(t, s.SetPIN(ctx, "Robin", ben.ID, &a, &b, 4))
	assert.ErrorContains(t, s.Undo(ctx, "Robin", lines[0].ID), "the same PIN since")
	require.NoError(t, s.SetPIN(ctx, "Robin", ben.ID, nil, nil, 0))
	require.NoError(t, s.Undo(ctx, "Robin", lines[0].ID))
	c, err := s.Load(ctx)
	require.NoError(t, err)
	require.Equal(t, "Ada", c.People[0].Name)
	assert.Equal(t, &a, c.People[0].PIN)
	assert.Equal(t, &b, c.People[0].Duress)
	assert.Equal(t, 6, c.People[0].PINLength)
}

// Commits are counted by what changes the configuration, and by nothing else; one value waits for however many.
func TestCommits(t *testing.T) {
	s := open(t)
	<-s.Changed()
	n := s.Commit()
	ada := site.Person{Name: "Ada"}
	add(t, s, &ada)
	assert.Greater(t, s.Commit(), n)
	n = s.Commit()
	require.NoError(t, s.Note(ctx, "Robin", "sent", "controller", 0, "Riser"))
	_, err := s.AddEvents(ctx, []Event{{ControllerID: 1, Log: "l", Seq: 1}}, nil)
	require.NoError(t, err)
	_, err = Put(ctx, s, "Robin", &ada, 7)
	require.Error(t, err)
	assert.Equal(t, n, s.Commit())
	add(t, s, &site.Person{Name: "Ben"})
	<-s.Changed()
	select {
	case <-s.Changed():
		t.Fatal("one value for both")
	default:
	}
	v, err := s.Snapshot(ctx)
	require.NoError(t, err)
	assert.Equal(t, s.Commit(), v.Commit)
	assert.Equal(t, int64(1), v.Revs[ada.ID])
}

// Everything that is made is for its owner alone, in a folder that others can read.
func TestFilesArePrivate(t *testing.T) {
	dir := t.TempDir()
	require.NoError(t, os.Chmod(dir, 0o755))
	path := filepath.Join(dir, "keystone.db")
	assert.False(t, Empty(path))
	require.NoError(t, os.WriteFile(path, nil, 0o644))
	assert.True(t, Empty(path), "worth a word")
	s, err := Open(path)
	require.NoError(t, err)
	require.NoError(t, s.EnsureBasics(ctx))
	files, err := filepath.Glob(path + "*")
	require.NoError(t, err)
	for _, f := range files {
		info, err := os.Stat(f)
		require.NoError(t, err)
		assert.Zero(t, info.Mode().Perm()&0o077, f)
	}
	require.NoError(t, s.Close())
	assert.False(t, Empty(path))
}

package store

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"github.com/jmoiron/sqlx"
)

// Manifest says what a copy of the database is.
type Manifest struct {
	File    string         `json:"file"`
	At      time.Time      `json:"at"`
	Why     string         `json:"why"`
	Who     string         `json:"who"`
	Version int64          `json:"version" doc:"Of the database's layout"`
	Commit  int64          `json:"commit" doc:"Number of the newest commit in it"`
	Counts  map[string]int `json:"counts" doc:"How many there are of each kind, events and PINs among them"`
	Bytes   int64          `json:"bytes"`
}

const copiesKept = 20

// Copy keeps a complete copy of the database beside it, in copies/, with a manifest of the same name: the newest 20
// stay. A copy without a manifest was interrupted and is as good as none. The memory database has no place for one.
func (s *Store) Copy(ctx context.Context, who, why string) (Manifest, error) {
	m := Manifest{At: time.Now().UTC(), Why: why, Who: who, Counts: map[string]int{}}
	if s.path == ":memory:" {
		return m, nil
	}
	s.copying.Lock() // of two at once one would take the other for interrupted
	defer s.copying.Unlock()
	dir := s.copies()
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return m, full(err)
	}
	m.File = m.At.Format("2006-01-02T15-04-05.000000000Z") + ".db"
	path := filepath.Join(dir, m.File)
	if err := s.copyTo(ctx, path, &m); err != nil {
		return m, errors.Join(fmt.Errorf("no copy could be kept: %w", full(err)), os.RemoveAll(path))
	}
	b, err := json.MarshalIndent(m, "", "  ")
	if err != nil {
		return m, err
	}
	if err := writeSynced(strings.TrimSuffix(path, ".db")+".json", b); err != nil {
		return m, fmt.Errorf("no copy could be kept: %w", full(err))
	}
	return m, prune(dir)
}

func (s *Store) copies() string { return filepath.Join(filepath.Dir(s.path), "copies") }

// copyTo writes the copy and reads it back: what it says of itself is what is in it.
func (s *Store) copyTo(ctx context.Context, path string, m *Manifest) error {
	if _, err := s.db.ExecContext(context.WithoutCancel(ctx), `VACUUM INTO ?`, path); err != nil {
		return err
	}
	if err := os.Chmod(path, 0o600); err != nil {
		return err
	}
	if err := syncPath(path); err != nil {
		return err
	}
	db, err := sqlx.Open("sqlite", "file:"+path+"?mode=ro")
	if err != nil {
		return err
	}
	defer db.Close()
	if err := db.Get(&m.Commit, `SELECT n FROM commits`); err != nil {
		return err
	}
	if err := db.Get(&m.Version, `SELECT max(version_id) FROM goose_db_version`); err != nil {
		return err
	}
	var kinds []struct {
		Kind string `db:"kind"`
		N    int    `db:"n"`
	}
	if err := db.Select(&kinds, `SELECT kind, count(*) AS n FROM objects GROUP BY kind
		UNION ALL SELECT 'event', count(*) FROM events UNION ALL SELECT 'PIN', count(*) FROM codes WHERE NOT duress`); err != nil {
		return err
	}
	for _, k := range kinds {
		m.Counts[k.Kind] = k.N
	}
	info, err := os.Stat(path)
	if err == nil {
		m.Bytes = info.Size()
	}
	return err
}

// Copies lists the copies that are kept, newest first.
func (s *Store) Copies() ([]Manifest, error) {
	out := []Manifest{}
	names, err := filepath.Glob(filepath.Join(s.copies(), "*.json"))
	if err != nil {
		return out, err
	}
	slices.Sort(names)
	for _, name := range slices.Backward(names) {
		b, err := os.ReadFile(name)
		if errors.Is(err, fs.ErrNotExist) { // a newer copy has pushed it out meanwhile
			continue
		}
		if err != nil {
			return out, err
		}
		var m Manifest
		if err := json.Unmarshal(b, &m); err != nil {
			return out, fmt.Errorf("%s: %w", name, err)
		}
		out = append(out, m)
	}
	return out, nil
}

// prune removes what is beyond the newest 20, and what an interrupted copy left.
func prune(dir string) error {
	done, err := filepath.Glob(filepath.Join(dir, "*.json"))
	if err != nil {
		return err
	}
	slices.Sort(done)
	kept := map[string]bool{}
	for _, name := range done[max(0, len(done)-copiesKept):] {
		kept[strings.TrimSuffix(name, ".json")] = true
	}
	all, err := filepath.Glob(filepath.Join(dir, "*"))
	if err != nil {
		return err
	}
	for _, name := range all {
		if stem := strings.TrimSuffix(strings.TrimSuffix(name, ".json"), ".db"); !kept[stem] {
			if gone := os.Remove(name); !errors.Is(gone, fs.ErrNotExist) {
				err = errors.Join(err, gone)
			}
		}
	}
	return err
}

// writeSynced writes a file that is there whole or not at all, and on disk, with its name, when it returns.
func writeSynced(path string, b []byte) error {
	if err := os.WriteFile(path+".new", b, 0o600); err != nil {
		return err
	}
	if err := errors.Join(syncPath(path+".new"), os.Rename(path+".new", path)); err != nil {
		return err
	}
	return syncPath(filepath.Dir(path))
}

func syncPath(path string) error {
	f, err := os.Open(path)
	if err != nil {
		return err
	}
	return errors.Join(f.Sync(), f.Close())
}

package crash

import (
	"context"
	"encoding/json"
	"fmt"
	"os"
	"path/filepath"
	"reflect"
	"slices"
	"strings"

	"amberkeystone/core/site"
	"amberkeystone/store"
)

func path(id int64) string { return fmt.Sprintf("/api/people/%d", id) }

// check looks at all that must hold, once everything runs again.
func (w *world) check(ctx context.Context) error {
	if err := w.checkSaves(); err != nil {
		return err
	}
	if err := w.online(ctx); err != nil {
		return err
	}
	if err := w.checkSent(ctx); err != nil {
		return err
	}
	return w.checkEvents(ctx)
}

// checkSaves: every acknowledged save is there, and in force: the running server is asked.
func (w *world) checkSaves() error {
	var whole any
	if err := w.get("/api/site-file", &whole); err != nil {
		return fmt.Errorf("the configuration as a whole: %w", err)
	}
	for _, id := range w.people {
		s := w.saved[id]
		var is versioned
		if err := w.get(path(id), &is); err != nil {
			return err
		}
		suspended, _ := is.Value["suspended"].(bool)
		was, _ := s.acked.Value["suspended"].(bool)
		if is.Rev < s.acked.Rev || suspended != was && !slices.Contains(s.maybe, suspended) {
			w.report.find(
				"person %d: revision %d, suspended %v was acknowledged; there is revision %d, suspended %v",
				id,
				s.acked.Rev,
				was,
				is.Rev,
				suspended,
			)
		}
		s.acked, s.maybe = is, nil
		var answer struct{ Reason string }
		if err := w.get(fmt.Sprintf("/api/ask?person=%d&door=%d", id, w.doors[0].ID), &answer); err != nil {
			return err
		}
		cards, _ := is.Value["credentials"].([]any)
		active := slices.ContainsFunc(cards, func(c any) bool {
			return c.(map[string]any)["status"] == "active" && c.(map[string]any)["until"] == nil
		})
		if active && suspended != (answer.Reason == "person-suspended") {
			w.report.find("person %d is suspended: %v, and the server answers %s", id, suspended, answer.Reason)
		}
	}
	return nil
}

// checkSent: after a send every controller holds what it is said to hold.
func (w *world) checkSent(ctx context.Context) error {
	if err := w.call("POST", "/api/send", map[string]any{"controllers": []int64{}}, nil); err != nil {
		return err
	}
	return w.until(ctx, "every controller holds what it should", func() bool {
		var units []unit
		var pending []struct {
			ID      int64
			Hash    string
			Lacks   bool
			Drifted bool
			Changes []any
		}
		if w.get("/api/units", &units) != nil || w.get("/api/pending", &pending) != nil {
			return false
		}
		for _, p := range pending {
			i := slices.IndexFunc(units, func(u unit) bool { return u.ID == p.ID })
			if p.Lacks || p.Drifted || len(p.Changes) > 0 || i < 0 || units[i].Hash != p.Hash {
				return false
			}
		}
		return len(pending) > 0
	})
}

// readLogs remembers what stands on the controllers' disks, before anybody can cut it.
func (w *world) readLogs() error {
	names, err := filepath.Glob(filepath.Join(w.data, "rack", "*.log"))
	if err != nil {
		return err
	}
	for _, name := range names {
		b, err := os.ReadFile(name)
		if err != nil {
			return err
		}
		stem := strings.TrimSuffix(filepath.Base(name), ".log")
		at := strings.LastIndexByte(stem, '-')
		for l := range strings.Lines(string(b)) {
			_, body, _ := strings.Cut(strings.TrimSuffix(l, "\n"), " ")
			_, event, _ := strings.Cut(body, " ")
			var e struct {
				Seq  uint64
				Kind string
				Note string
			}
			if !strings.HasSuffix(l, "\n") || json.Unmarshal([]byte(event), &e) != nil {
				w.report.find("%s has a line that cannot be read: %q", filepath.Base(name), l)
				continue
			}
			if e.Kind == "log-damaged" {
				w.report.find("%s: damaged, %s lines", stem, e.Note)
			}
			w.seen[place{stem[:at], stem[at+1:], e.Seq}] = event
		}
	}
	return nil
}

// acked reads up to which number a controller was told that the server has its log.
func (w *world) acked(serial string) (log string, seq uint64, err error) {
	b, err := os.ReadFile(filepath.Join(w.data, "rack", serial+".json"))
	if err != nil {
		return "", 0, err
	}
	var state struct {
		Kept struct {
			Log   string
			Acked uint64
		}
	}
	err = json.Unmarshal(b, &state)
	return state.Kept.Log, state.Kept.Acked, err
}

// checkEvents: what stood in the logs is stored, once, in order, and no number is missing.
func (w *world) checkEvents(ctx context.Context) error {
	err := w.until(ctx, "every event is handed over", func() bool {
		views, err := w.hands.List()
		for _, v := range views {
			if _, ours := w.serials[v.Serial]; ours && v.Kept > 0 {
				return false
			}
		}
		return err == nil
	})
	if err != nil {
		return err
	}
	st, err := store.Open(filepath.Join(w.data, "keystone.db"))
	if err != nil {
		return err
	}
	defer st.Close()
	logs := map[place]bool{}
	for p := range w.seen {
		logs[place{p.serial, p.log, 0}] = true
	}
	w.report.Events = len(w.seen)
	for l := range logs {
		stored, err := st.LogOf(ctx, site.ID(w.serials[l.serial]), l.log)
		if err != nil {
			return err
		}
		for i, e := range stored {
			if e.Seq != uint64(i+1) {
				w.report.find("%s, log %s: event %d is stored where %d was expected", l.serial, l.log, e.Seq, i+1)
				break
			}
		}
		log, acked, err := w.acked(l.serial)
		if err != nil {
			return err
		}
		if log == l.log && acked > uint64(len(stored)) {
			w.report.find(
				"%s, log %s: %d events were acknowledged and %d are stored",
				l.serial,
				l.log,
				acked,
				len(stored),
			)
		}
		for p, raw := range w.seen {
			if p.serial != l.serial || p.log != l.log {
				continue
			}
			if p.seq > uint64(len(stored)) || !same(stored[p.seq-1].Raw, raw) {
				w.report.find("%s, log %s: event %d is not stored as it was written: %s", l.serial, l.log, p.seq, raw)
			}
		}
	}
	clashes, err := st.Events(ctx, store.EventFilter{Search: "contradicts itself", Limit: 10})
	if err != nil {
		return err
	}
	for _, e := range clashes {
		w.report.find("%s: %s", e.Controller, e.Detail)
	}
	return nil
}

func same(a, b string) bool {
	var x, y any
	return json.Unmarshal([]byte(a), &x) == nil && json.Unmarshal([]byte(b), &y) == nil && reflect.DeepEqual(x, y)
}

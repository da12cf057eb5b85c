package server

import (
	"context"
	"encoding/json"
	"maps"
	"slices"
	"sync"
	"time"

	"github.com/coder/websocket"
	"github.com/gin-gonic/gin"

	"amberkeystone/core/site"
	"amberkeystone/store"
)

// note is what a screen hears: which objects changed, what of the live state did, which events came.
type note struct {
	Type    string       `json:"type"` // changed, state, found, event, acknowledged, bench
	Changes []Changed    `json:"changes,omitempty"`
	State   *Patch       `json:"state,omitempty"`
	Event   *store.Event `json:"event,omitempty"`
	Quiet   bool         `json:"quiet,omitempty"` // of an event: long lists may leave it out
	Bench   *Bench       `json:"bench,omitempty"`
}

// Changed is an object that a commit wrote. Number 0 is any of its kind, and no kind everything.
type Changed struct {
	Kind string  `json:"kind,omitempty"`
	ID   site.ID `json:"id,omitempty"`
	Rev  int64   `json:"rev,omitempty"` // 0: it is no more
}

// mostNamed is how many changed objects of a kind are named one by one; of more, the kind is.
const mostNamed = 50

// changedBy are the objects that commits wrote, each once with its last revision.
func changedBy(list []store.Commit) []Changed {
	revs := map[string]map[site.ID]int64{}
	var kinds []string
	for _, c := range list {
		for _, x := range c.Changes {
			word := x.Kind.Word()
			if revs[word] == nil {
				revs[word] = map[site.ID]int64{}
				kinds = append(kinds, word)
			}
			revs[word][x.ID] = x.Rev
		}
	}
	var out []Changed
	for _, word := range kinds {
		if len(revs[word]) > mostNamed {
			out = append(out, Changed{Kind: word})
			continue
		}
		for _, id := range slices.Sorted(maps.Keys(revs[word])) {
			out = append(out, Changed{Kind: word, ID: id, Rev: revs[word][id]})
		}
	}
	return out
}

// hub tells every open screen. Notices of one kind that wait are one; events never get lost in it, since a
// screen that cannot keep up is cut off and reads the list again when it comes back.
type hub struct {
	mu      sync.Mutex
	screens map[*screen]bool
	closed  bool
}

type screen struct {
	events  chan note
	dirty   chan struct{}
	mu      sync.Mutex
	kinds   map[string]bool
	changes []Changed
	state   *Patch
	benches []site.ID
	of      string // the session that it belongs to
	cut     context.CancelFunc
}

func newHub() *hub { return &hub{screens: map[*screen]bool{}} }

func (h *hub) send(n note) {
	h.mu.Lock()
	defer h.mu.Unlock()
	for sc := range h.screens {
		if n.Event != nil {
			select {
			case sc.events <- n:
			default:
				sc.cut()
			}
			continue
		}
		sc.mu.Lock()
		switch {
		case n.State != nil:
			sc.state = sc.state.and(n.State)
		case n.Type == "changed":
			sc.changes = append(sc.changes, n.Changes...)
			if len(sc.changes) > 4*mostNamed {
				sc.changes = []Changed{{}}
			}
		default:
			sc.kinds[n.Type] = true
		}
		sc.mu.Unlock()
		sc.wake()
	}
}

// and is a patch with what a later one changes; neither is written.
func (p *Patch) and(later *Patch) *Patch {
	if p == nil {
		return later
	}
	out := Patch{Seq: later.Seq, Counts: later.Counts}
	out.Doors = laid(p.Doors, later.Doors, func(d DoorPlace) site.ID { return d.ID })
	out.Units = laid(p.Units, later.Units, func(u Unit) site.ID { return u.ID })
	return &out
}

// laid is a list with another laid over it, by number.
func laid[T any](under, over []T, id func(T) site.ID) []T {
	at := map[site.ID]int{}
	out := slices.Clone(under)
	for i, x := range out {
		at[id(x)] = i
	}
	for _, x := range over {
		if i, ok := at[id(x)]; ok {
			out[i] = x
		} else {
			out = append(out, x)
		}
	}
	return out
}

// empty reports whether nobody looks.
func (h *hub) empty() bool {
	h.mu.Lock()
	defer h.mu.Unlock()
	return len(h.screens) == 0
}

// wake makes the screen's loop look at what waits for it; once is enough however many wait.
func (sc *screen) wake() {
	select {
	case sc.dirty <- struct{}{}:
	default:
	}
}

func (h *hub) add(sc *screen) bool {
	h.mu.Lock()
	defer h.mu.Unlock()
	if h.closed {
		return false
	}
	h.screens[sc] = true
	return true
}

func (h *hub) remove(sc *screen) {
	h.mu.Lock()
	defer h.mu.Unlock()
	delete(h.screens, sc)
}

func (h *hub) close() {
	h.mu.Lock()
	defer h.mu.Unlock()
	h.closed = true
	for sc := range h.screens {
		sc.cut()
	}
}

// cut ends the screens of a session that has ended.
func (h *hub) cut(session string) {
	h.mu.Lock()
	defer h.mu.Unlock()
	for sc := range h.screens {
		if sc.of == session {
			sc.cut()
		}
	}
}

// live is the WebSocket of a screen, for as long as the session lasts that it belongs to. A screen may say which door
// it plays: {"benches": [12, 13]}, or one: {"bench": 12}.
func (s *Server) live(c *gin.Context) {
	conn, err := websocket.Accept(c.Writer, c.Request, nil) // same origin only
	if err != nil {
		return
	}
	defer conn.CloseNow()
	ctx, cancel := context.WithDeadline(s.ctx, s.sessions.Deadline(c.Request.Context()))
	defer cancel()
	sc := &screen{
		of:     s.sessions.GetString(c.Request.Context(), "id"),
		events: make(chan note, 256),
		dirty:  make(chan struct{}, 1),
		kinds:  map[string]bool{},
		cut:    cancel,
	}
	if !s.hub.add(sc) {
		return
	}
	defer s.hub.remove(sc)
	if token := s.sessions.Token(c.Request.Context()); !s.stillSignedIn(token) { // it ended while this one was opened
		return
	}
	go func() {
		defer cancel()
		sc.listen(ctx, conn)
	}()
	// The screen hears that it is heard from now on; what it reads after this misses nothing.
	if write(ctx, conn, note{Type: "hello"}) != nil {
		return
	}
	sc.wake()
	for {
		select {
		case <-ctx.Done():
			_ = conn.Close(websocket.StatusGoingAway, "")
			return
		case n := <-sc.events:
			if write(ctx, conn, n) != nil {
				return
			}
		case <-sc.dirty:
			for _, n := range s.notes(sc) {
				if write(ctx, conn, n) != nil {
					return
				}
			}
		}
	}
}

// listen takes what the screen says, which doors it plays, until it goes.
func (sc *screen) listen(ctx context.Context, conn *websocket.Conn) {
	for {
		_, b, err := conn.Read(ctx)
		if err != nil {
			return
		}
		var said struct {
			Bench   site.ID   `json:"bench"`
			Benches []site.ID `json:"benches"`
		}
		if json.Unmarshal(b, &said) != nil {
			return
		}
		sc.mu.Lock()
		sc.benches = said.Benches[:min(len(said.Benches), mostPlayed)]
		if said.Bench != 0 {
			sc.benches = []site.ID{said.Bench}
		}
		sc.kinds["rack"] = true
		sc.mu.Unlock()
		sc.wake()
	}
}

func (s *Server) stillSignedIn(token string) bool {
	ctx, err := s.sessions.Load(s.ctx, token)
	return err == nil && s.who(ctx) != ""
}

// mostPlayed is how many doors a screen plays at once.
const mostPlayed = 8

// notes are the notices that wait for a screen.
func (s *Server) notes(sc *screen) []note {
	sc.mu.Lock()
	kinds, benches, changes, state := sc.kinds, sc.benches, sc.changes, sc.state
	sc.kinds, sc.changes, sc.state = map[string]bool{}, nil, nil
	sc.mu.Unlock()
	var out []note
	if len(changes) > 0 {
		out = append(out, note{Type: "changed", Changes: changes})
	}
	if state != nil {
		out = append(out, note{Type: "state", State: state})
	}
	for k := range kinds {
		if k != "rack" {
			out = append(out, note{Type: k})
			continue
		}
		for _, door := range benches {
			if b, err := s.bench(door); err == nil {
				out = append(out, note{Type: "bench", Bench: &b})
			}
		}
	}
	return out
}

func write(ctx context.Context, conn *websocket.Conn, n note) error {
	b, err := json.Marshal(n)
	if err != nil {
		return err
	}
	ctx, cancel := context.WithTimeout(ctx, 5*time.Second)
	defer cancel()
	return conn.Write(ctx, websocket.MessageText, b)
}

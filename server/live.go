package server

import (
	"context"
	"encoding/json"
	"sync"
	"time"

	"github.com/coder/websocket"
	"github.com/gin-gonic/gin"

	"amberkeystone/core/site"
	"amberkeystone/store"
)

// note is what a screen hears: that something changed, and for events what came.
type note struct {
	Type  string       `json:"type"` // config, units, rack, minute, event, acknowledged, bench
	Event *store.Event `json:"event,omitempty"`
	Bench *Bench       `json:"bench,omitempty"`
}

// hub tells every open screen. Notices of one kind that wait are one; events never get lost in it, since a
// screen that cannot keep up is cut off and reads the list again when it comes back.
type hub struct {
	mu      sync.Mutex
	screens map[*screen]bool
	closed  bool
}

type screen struct {
	events chan note
	dirty  chan struct{}
	mu     sync.Mutex
	kinds  map[string]bool
	bench  site.ID
	of     string // the session that it belongs to
	cut    context.CancelFunc
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
		sc.kinds[n.Type] = true
		sc.mu.Unlock()
		sc.wake()
	}
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
// it plays: {"bench": 12}.
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
		kinds:  map[string]bool{"config": true, "units": true},
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
		for {
			_, b, err := conn.Read(ctx)
			if err != nil {
				return
			}
			var said struct {
				Bench site.ID `json:"bench"`
			}
			if json.Unmarshal(b, &said) != nil {
				return
			}
			sc.mu.Lock()
			sc.bench = said.Bench
			sc.kinds["rack"] = true
			sc.mu.Unlock()
			sc.wake()
		}
	}()
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

func (s *Server) stillSignedIn(token string) bool {
	ctx, err := s.sessions.Load(s.ctx, token)
	return err == nil && s.who(ctx) != ""
}

// notes are the notices that wait for a screen.
func (s *Server) notes(sc *screen) []note {
	sc.mu.Lock()
	kinds, bench := sc.kinds, sc.bench
	sc.kinds = map[string]bool{}
	sc.mu.Unlock()
	var out []note
	for k := range kinds {
		if k != "rack" {
			out = append(out, note{Type: k})
			continue
		}
		if bench == 0 {
			continue
		}
		if b, err := s.bench(bench); err == nil {
			out = append(out, note{Type: "bench", Bench: &b})
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

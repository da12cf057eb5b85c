package rack

import (
	"encoding/json"
	"errors"
	"fmt"
	"net"
	"slices"
	"time"

	"amberkeystone/core/panel"
	"amberkeystone/link"
)

// serve answers on the unit's own address until the listener closes.
func (u *unit) serve(l net.Listener) {
	for turn := 1; ; turn++ {
		c, err := l.Accept()
		if err != nil {
			return
		}
		go u.accept(c, turn)
	}
}

func (u *unit) accept(c net.Conn, turn int) {
	defer c.Close()
	if !u.up() {
		return
	}
	conn, err := link.Answer(c, u.side())
	if err != nil || conn == nil || !u.connected(conn, turn) {
		return
	}
	done := make(chan struct{})
	go u.upload(conn, done)
	defer close(done)
	for {
		m, err := conn.Receive()
		if err != nil {
			return
		}
		body, err := u.answer(m)
		if m.ID == 0 {
			continue
		}
		reply := link.Message{ID: m.ID}
		if err != nil {
			reply.Error = err.Error()
		} else if body != nil {
			reply.Body, _ = json.Marshal(body)
		}
		if conn.Send(reply) != nil {
			return
		}
	}
}

func (u *unit) up() bool {
	u.mu.Lock()
	defer u.mu.Unlock()
	return u.network && !u.closed && !u.dark && u.fault == ""
}

// connected makes a link the one that is used, and cuts the one before. Of two that greeted at once the one that came
// last is used.
func (u *unit) connected(conn *link.Conn, turn int) bool {
	u.mu.Lock()
	defer u.mu.Unlock()
	if !u.network || u.closed || u.dark || u.fault != "" || turn < u.turn {
		return false
	}
	u.turn = turn
	if u.conn != nil {
		u.conn.Close()
	}
	u.conn = conn
	return true
}

// upload sends what is not acknowledged, oldest first, and the state whenever it changes. A stretch that
// stays unacknowledged is sent again.
func (u *unit) upload(conn *link.Conn, done chan struct{}) {
	const again = link.StateEvery
	var sent uint64
	var sentAt time.Time
	for {
		if time.Since(sentAt) > again {
			sent = 0
		}
		batch, more, state := u.toTell(sent)
		if len(batch.Events) > 0 {
			if post(conn, link.NoticeEvents, batch) != nil {
				return
			}
			sent, sentAt = batch.Events[len(batch.Events)-1].Seq, time.Now()
		}
		if post(conn, link.NoticeState, state) != nil {
			return
		}
		if more {
			continue
		}
		select {
		case <-done:
			return
		case <-u.notify:
		case <-time.After(again):
		}
	}
}

// toTell returns the next events after a number, of one image, whether more wait, and the state.
func (u *unit) toTell(sent uint64) (batch link.Events, more bool, state link.Status) {
	const most = 200
	u.mu.Lock()
	defer u.mu.Unlock()
	batch.Log = u.kept.Log
	from := max(sent, u.kept.Acked)
	for _, e := range u.pending {
		if e.seq <= from {
			continue
		}
		if len(batch.Events) == most || len(batch.Events) > 0 && e.held != batch.Image {
			more = true
			break
		}
		batch.Image = e.held
		batch.Events = append(batch.Events, link.Logged{Seq: e.seq, Event: e.event})
	}
	return batch, more, u.status()
}

func post(conn *link.Conn, op string, body any) error {
	b, err := json.Marshal(body)
	if err != nil {
		return err
	}
	return conn.Send(link.Message{Op: op, Body: b})
}

func (u *unit) answer(m link.Message) (any, error) {
	u.mu.Lock()
	defer u.mu.Unlock()
	defer u.alone()
	switch m.Op {
	case link.OpStatus:
		return u.status(), nil
	case link.OpSetClock:
		return with(m, func(c link.Clock) (any, error) {
			if err := u.moveClock(c.Now.Sub(u.now())); err != nil {
				return nil, err
			}
			return u.status(), nil
		})
	case link.OpBlink:
		u.blink = time.Now().Add(10 * time.Second)
		u.signal()
		return nil, nil
	case link.OpPulse, link.OpReader, link.OpBeep:
		return with(m, func(t link.Terminal) (any, error) { return nil, u.atTerminal(m.Op, t) })
	case link.OpRestart:
		time.AfterFunc(100*time.Millisecond, u.restartSoon) // once the answer is on its way
		return nil, nil
	case link.OpEnd, link.OpPlaces, link.OpCleared, link.OpOrder:
		return u.told(m)
	case link.OpUpdate:
		return with(m, func(x link.Update) (any, error) { return nil, u.beginUpdate(x.Version) })
	case link.OpAddress:
		return with(m, func(a link.Address) (any, error) { return nil, u.setAddress(a) })
	case link.OpAck:
		return with(m, func(a link.Ack) (any, error) { return nil, u.acked(a) })
	case link.OpLoadBegin:
		return with(m, func(b link.LoadBegin) (any, error) { return u.loadBegin(b) })
	case link.OpLoadPart:
		return with(m, func(p link.LoadPart) (any, error) { return nil, u.loadPart(p) })
	case link.OpLoadEnd:
		return u.loadEnd()
	}
	return nil, fmt.Errorf("a stand-in does not know %q", m.Op)
}

// with reads what a message carries, and does with it what is to be done.
func with[T any](m link.Message, do func(T) (any, error)) (any, error) {
	var body T
	if err := json.Unmarshal(m.Body, &body); err != nil {
		return nil, err
	}
	return do(body)
}

// told takes what an operator wants of doors, and what other controllers know.
func (u *unit) told(m link.Message) (any, error) {
	switch m.Op {
	case link.OpEnd:
		return with(m, func(e link.End) (any, error) {
			kind := panel.Fire
			if e.What == "lockdown" {
				kind = panel.Lockdown
			}
			u.step(panel.Input{Kind: kind})
			return nil, nil
		})
	case link.OpPlaces:
		return with(m, func(x link.Places) (any, error) {
			if u.panel != nil {
				u.step(panel.Input{Kind: panel.Whereabouts, Places: x.Places})
			}
			return nil, nil
		})
	case link.OpCleared:
		return with(m, func(x link.Cleared) (any, error) {
			if u.panel != nil {
				u.step(panel.Input{Kind: panel.Cleared, Clearances: x.Cleared})
			}
			return nil, nil
		})
	}
	return with(m, func(o link.Order) (any, error) {
		in, ok := o.Input()
		if !ok {
			return nil, fmt.Errorf("a stand-in does not know the order %q", o.What)
		}
		if u.panel == nil {
			return nil, errors.New("it holds no configuration yet; send first")
		}
		u.step(in)
		return u.status(), nil
	})
}

// atTerminal tries an output, cuts a reader's power or lets it beep.
func (u *unit) atTerminal(op string, t link.Terminal) error {
	r := u.world.readers[t.Point]
	_, output := u.world.on[t.Point]
	if op == link.OpPulse && !output || op != link.OpPulse && r == nil {
		return fmt.Errorf("%s has no terminal %s for that", u.Serial, t.Point)
	}
	switch op {
	case link.OpPulse:
		if u.panel == nil {
			return errors.New("it holds no configuration yet; send first")
		}
		u.step(panel.Input{Kind: panel.Pulse, Point: t.Point, By: min(time.Duration(t.Ms)*time.Millisecond, time.Minute)})
	case link.OpReader:
		for _, in := range u.world.setReader(t.Point, func(r *readerThere) { r.powered = t.On }) {
			u.step(in)
		}
	case link.OpBeep:
		r.beeps = time.Now().Add(4 * time.Second)
	}
	u.signal()
	return nil
}

func (u *unit) restartSoon() {
	u.mu.Lock()
	defer u.mu.Unlock()
	defer u.alone()
	if !u.closed && !u.dark && u.fault == "" {
		u.restart()
	}
}

// setAddress moves to a fixed address, or back to the one that the network gives.
func (u *unit) setAddress(a link.Address) error {
	ip, port, err := net.SplitHostPort(u.given)
	if err != nil {
		return err
	}
	if a.Fixed {
		ip = a.IP
	}
	to := net.JoinHostPort(ip, port)
	if to == u.Address {
		return nil
	}
	if err := u.listen(to); err != nil {
		return fmt.Errorf("it cannot take the address %s: %w", ip, err)
	}
	u.Address, u.kept.Address = to, ""
	if a.Fixed {
		u.kept.Address = to
	}
	u.signal()
	return u.save()
}

// acked forgets what the server has stored. The state goes to disk before the log is cut: whenever the power goes, no
// number that the server has is used again. An acknowledgement of what was never told is not believed.
func (u *unit) acked(a link.Ack) error {
	if a.Log != u.kept.Log || a.Seq <= u.kept.Acked || len(u.pending) == 0 {
		return nil
	}
	u.kept.Acked = min(a.Seq, u.pending[len(u.pending)-1].seq)
	u.kept.Seq = max(u.kept.Seq, u.kept.Acked)
	u.pending = slices.DeleteFunc(u.pending, func(e entry) bool { return e.seq <= u.kept.Acked })
	if err := u.save(); err != nil {
		return err
	}
	if len(u.pending) > 0 {
		return nil
	}
	return u.log.Truncate(0)
}

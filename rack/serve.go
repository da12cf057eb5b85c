package rack

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"os"
	"slices"
	"sync"
	"time"

	"amberkeystone/core/cards"
	"amberkeystone/core/hours"
	"amberkeystone/core/panel"
	"amberkeystone/core/pass"
	"amberkeystone/core/point"
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
		var c link.Clock
		if err := json.Unmarshal(m.Body, &c); err != nil {
			return nil, err
		}
		if err := u.moveClock(c.Now.Sub(u.now())); err != nil {
			return nil, err
		}
		return u.status(), nil
	case link.OpBlink:
		u.blink = time.Now().Add(10 * time.Second)
		u.signal()
		return nil, nil
	case link.OpPulse, link.OpReader, link.OpBeep:
		var t link.Terminal
		if err := json.Unmarshal(m.Body, &t); err != nil {
			return nil, err
		}
		return nil, u.atTerminal(m.Op, t)
	case link.OpRestart:
		time.AfterFunc(100*time.Millisecond, u.restartSoon) // once the answer is on its way
		return nil, nil
	case link.OpEnd:
		var e link.End
		if err := json.Unmarshal(m.Body, &e); err != nil {
			return nil, err
		}
		kind := panel.Fire
		if e.What == "lockdown" {
			kind = panel.Lockdown
		}
		u.step(panel.Input{Kind: kind})
		return nil, nil
	case link.OpUpdate:
		var x link.Update
		if err := json.Unmarshal(m.Body, &x); err != nil {
			return nil, err
		}
		return nil, u.beginUpdate(x.Version)
	case link.OpAddress:
		var a link.Address
		if err := json.Unmarshal(m.Body, &a); err != nil {
			return nil, err
		}
		return nil, u.setAddress(a)
	case link.OpAck:
		var a link.Ack
		if err := json.Unmarshal(m.Body, &a); err != nil {
			return nil, err
		}
		return nil, u.acked(a)
	case link.OpLoadBegin:
		var b link.LoadBegin
		if err := json.Unmarshal(m.Body, &b); err != nil {
			return nil, err
		}
		return u.loadBegin(b)
	case link.OpLoadPart:
		var p link.LoadPart
		if err := json.Unmarshal(m.Body, &p); err != nil {
			return nil, err
		}
		return nil, u.loadPart(p)
	case link.OpLoadEnd:
		return u.loadEnd()
	}
	return nil, fmt.Errorf("a stand-in does not know %q", m.Op)
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

// Rack is a set of stand-in controllers that answer on loopback.
type Rack struct {
	Releases  []link.Release
	units     []*unit
	listeners []net.Listener
	mu        sync.Mutex
	watchers  map[chan struct{}]bool
}

// Open starts the stand-ins, each on its own address, and the rack's list at address.
func Open(dir, address string, specs []Spec) (*Rack, error) {
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return nil, err
	}
	releases, err := Releases(dir)
	if err != nil {
		return nil, err
	}
	r := &Rack{watchers: map[chan struct{}]bool{}, Releases: releases}
	l, err := net.Listen("tcp", address)
	if err != nil {
		return nil, err
	}
	r.listeners = append(r.listeners, l)
	for _, s := range specs {
		if err := r.open(dir, s); err != nil {
			return nil, errors.Join(err, r.Close())
		}
	}
	go r.serve(l)
	return r, nil
}

// open starts a stand-in where it was last, else where its spec says.
func (r *Rack) open(dir string, s Spec) error {
	l, err := net.Listen("tcp", s.Address)
	if err != nil {
		return err
	}
	s.Address = l.Addr().String()
	u, err := openUnit(dir, s, r.changed)
	if err != nil {
		return errors.Join(err, l.Close())
	}
	u.mu.Lock()
	defer u.mu.Unlock()
	u.releases, u.given, u.at = r.Releases, s.Address, l
	u.listen = func(address string) error {
		next, err := net.Listen("tcp", address)
		if err != nil {
			return err
		}
		was := u.at
		u.at = next
		go u.serve(next)
		time.AfterFunc(200*time.Millisecond, func() { was.Close() }) // the answer goes by the old one
		return nil
	}
	r.units = append(r.units, u)
	go u.serve(l)
	if to := u.kept.Address; to != "" {
		if err := u.listen(to); err != nil { // the address is gone: it can still be found where it was
			slog.Warn("a stand-in cannot take its address again", "serial", u.Serial, "err", err)
			return nil
		}
		u.Address = to
	}
	return nil
}

// Address is where the rack's list is.
func (r *Rack) Address() string { return r.listeners[0].Addr().String() }

// Close stops the stand-ins.
func (r *Rack) Close() error {
	var err error
	for _, l := range r.listeners {
		err = errors.Join(err, l.Close())
	}
	for _, u := range r.units {
		err = errors.Join(err, u.close())
	}
	return err
}

func (r *Rack) changed() {
	r.mu.Lock()
	defer r.mu.Unlock()
	for ch := range r.watchers {
		select {
		case ch <- struct{}{}:
		default:
		}
	}
}

// View is what a person sees who stands before a stand-in.
type View struct {
	Spec
	Firmware string            `json:"firmware"`
	Power    bool              `json:"power"`
	Mains    bool              `json:"mains"`
	Battery  bool              `json:"battery"` // is good
	Lid      bool              `json:"lid"`     // is closed
	Keyed    bool              `json:"keyed"`
	Code     string            `json:"code"`  // what it shows to be compared
	Fault    string            `json:"fault"` // why it has stopped
	Network  bool              `json:"network"`
	Blinking bool              `json:"blinking"`
	Clock    hours.Instant     `json:"clock"`
	Hash     string            `json:"hash"`
	Kept     int               `json:"kept"`
	Readers  []ReaderView      `json:"readers"`
	Inputs   []InputView       `json:"inputs"`
	Outputs  []OutputView      `json:"outputs"`
	Doors    []panel.DoorState `json:"doors"` // as the controller tells them
	Recent   []pass.Fact       `json:"recent"`
	Reads    []RawRead         `json:"reads,omitempty"` // while it holds nothing
}

// RawRead is a read of a controller that holds nothing yet: it only repeats what its readers send.
type RawRead struct {
	At    hours.Instant `json:"at"`
	Point point.Address `json:"point"`
	Bits  cards.Bits    `json:"bits"`
}

// ReaderView is a reader: whether it is plugged in, and what it shows.
type ReaderView struct {
	At      point.Address `json:"at"`
	Plugged bool          `json:"plugged"`
	Shows   string        `json:"shows"`
	Powered bool          `json:"powered"`
	Opened  bool          `json:"opened"`
	Beeps   bool          `json:"beeps"`
}

// InputView is an input and the circuit that it measures.
type InputView struct {
	At      point.Address `json:"at"`
	Circuit point.Circuit `json:"circuit"`
	Closed  bool          `json:"closed"`            // the switch itself
	Trouble string        `json:"trouble,omitempty"` // cut or short
}

// Input finds an input.
func (v *View) Input(at point.Address) (InputView, bool) {
	i := slices.IndexFunc(v.Inputs, func(x InputView) bool { return x.At == at })
	if i < 0 {
		return InputView{}, false
	}
	return v.Inputs[i], true
}

// OutputView is an output.
type OutputView struct {
	At point.Address `json:"at"`
	On bool          `json:"on"`
}

// Reader finds a reader.
func (v *View) Reader(at point.Address) (ReaderView, bool) {
	i := slices.IndexFunc(v.Readers, func(r ReaderView) bool { return r.At == at })
	if i < 0 {
		return ReaderView{}, false
	}
	return v.Readers[i], true
}

// Circuit returns what an input measures.
func (v *View) Circuit(at point.Address) point.Circuit {
	if i := slices.IndexFunc(v.Inputs, func(x InputView) bool { return x.At == at }); i >= 0 {
		return v.Inputs[i].Circuit
	}
	return point.Open
}

// On reports whether an output is on.
func (v *View) On(at point.Address) bool { return slices.Contains(v.Outputs, OutputView{at, true}) }

func (u *unit) view() View {
	u.mu.Lock()
	defer u.mu.Unlock()
	v := View{Spec: u.Spec, Keyed: u.kept.Key != nil, Network: u.network, Blinking: time.Now().Before(u.blink),
		Clock: u.now(), Hash: u.kept.Hash, Fault: u.fault, Kept: len(u.pending), Recent: slices.Clone(u.recent), Reads: slices.Clone(u.reads)}
	v.Firmware, v.Power, v.Mains, v.Battery, v.Lid = u.kept.Firmware, !u.dark, u.world.mains, u.world.battery, u.world.lid
	if u.kept.Maybe != nil && u.kept.Key == nil {
		v.Code = u.kept.Maybe.Code
	}
	if u.panel != nil {
		v.Doors = u.panel.Doors()
	}
	for _, at := range u.world.order {
		switch at.Kind {
		case point.Reader:
			x := u.world.readers[at]
			v.Readers = append(v.Readers, ReaderView{at, x.plugged, x.shown.text(), x.powered, x.opened, time.Now().Before(x.beeps)})
		case point.Input:
			x := u.world.switches[at]
			v.Inputs = append(v.Inputs, InputView{at, x.circuit(), x.closed, x.trouble})
		case point.Output:
			v.Outputs = append(v.Outputs, OutputView{at, u.world.on[at]})
		}
	}
	return v
}

// request is what the rack's own socket takes: a list, a hand, or a watch.
type request struct {
	Op   string `json:"op"`
	Hand Hand   `json:"hand,omitzero"`
}

type response struct {
	Views    []View         `json:"views,omitempty"`
	Releases []link.Release `json:"releases,omitempty"`
	Error    string         `json:"error,omitempty"`
}

func (r *Rack) serve(l net.Listener) {
	for {
		c, err := l.Accept()
		if err != nil {
			return
		}
		go func() {
			defer c.Close()
			dec, enc := json.NewDecoder(c), json.NewEncoder(c)
			for {
				var q request
				if dec.Decode(&q) != nil {
					return
				}
				if q.Op == "watch" {
					r.watch(c, enc)
					return
				}
				if enc.Encode(r.do(q)) != nil {
					return
				}
			}
		}()
	}
}

func (r *Rack) views() []View {
	var out []View
	for _, u := range r.units {
		out = append(out, u.view())
	}
	return out
}

func (r *Rack) do(q request) response {
	switch q.Op {
	case "list":
		return response{Views: r.views()}
	case "releases":
		return response{Releases: r.Releases}
	}
	for _, u := range r.units {
		if u.Serial != q.Hand.Serial {
			continue
		}
		if err := u.hand(q.Hand); err != nil {
			return response{Error: err.Error()}
		}
		return response{Views: []View{u.view()}}
	}
	return response{Error: fmt.Sprintf("no stand-in has serial %q", q.Hand.Serial)}
}

// watch sends everything once and again whenever something changes, at most 20 times a second.
func (r *Rack) watch(c net.Conn, enc *json.Encoder) {
	ch := make(chan struct{}, 1)
	r.mu.Lock()
	r.watchers[ch] = true
	r.mu.Unlock()
	defer func() {
		r.mu.Lock()
		delete(r.watchers, ch)
		r.mu.Unlock()
	}()
	for {
		c.SetWriteDeadline(time.Now().Add(5 * time.Second))
		if enc.Encode(response{Views: r.views()}) != nil {
			return
		}
		time.Sleep(50 * time.Millisecond)
		select {
		case <-ch:
		case <-time.After(time.Second): // feedback and blinking end by themselves
		}
	}
}

// Client speaks to a rack's own socket: what is there, and the hands.
type Client struct{ Address string }

func (c Client) ask(q request) (response, error) {
	conn, err := net.DialTimeout("tcp", c.Address, time.Second)
	if err != nil {
		return response{}, fmt.Errorf("the rack does not answer at %s", c.Address)
	}
	defer conn.Close()
	conn.SetDeadline(time.Now().Add(5 * time.Second))
	if err := json.NewEncoder(conn).Encode(q); err != nil {
		return response{}, err
	}
	var r response
	if err := json.NewDecoder(conn).Decode(&r); err != nil {
		return response{}, err
	}
	if r.Error != "" {
		return response{}, errors.New(r.Error)
	}
	return r, nil
}

// List returns every stand-in.
func (c Client) List() ([]View, error) {
	r, err := c.ask(request{Op: "list"})
	return r.Views, err
}

// Releases lists the firmware that lies in the rack's folder, oldest first.
func (c Client) Releases() ([]link.Release, error) {
	r, err := c.ask(request{Op: "releases"})
	return r.Releases, err
}

// Do carries out a hand and returns what is seen afterwards.
func (c Client) Do(h Hand) (View, error) {
	r, err := c.ask(request{Op: "hand", Hand: h})
	if err != nil || len(r.Views) == 0 {
		return View{}, err
	}
	return r.Views[0], nil
}

// Watch calls seen with every stand-in whenever something changes, until the context ends.
func (c Client) Watch(ctx context.Context, seen func([]View)) {
	for ctx.Err() == nil {
		if err := c.watch(ctx, seen); err != nil && ctx.Err() == nil {
			slog.Debug("rack watch ended", "err", err)
		}
		select {
		case <-ctx.Done():
		case <-time.After(time.Second):
		}
	}
}

func (c Client) watch(ctx context.Context, seen func([]View)) error {
	conn, err := net.DialTimeout("tcp", c.Address, time.Second)
	if err != nil {
		return err
	}
	defer conn.Close()
	defer context.AfterFunc(ctx, func() { conn.Close() })()
	if err := json.NewEncoder(conn).Encode(request{Op: "watch"}); err != nil {
		return err
	}
	dec := json.NewDecoder(conn)
	for {
		var r response
		if err := dec.Decode(&r); err != nil {
			return err
		}
		seen(r.Views)
	}
}

// Package rack is the stand-in controllers: the core's panel with a clock, a link and a small file each.
// They decide alone, survive restarts, and have hands that play the world around them.
package rack

import (
	"bufio"
	"bytes"
	"crypto/rand"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"log/slog"
	"os"
	"path/filepath"
	"sync"
	"time"

	"amberkeystone/core/cards"
	"amberkeystone/core/hours"
	"amberkeystone/core/image"
	"amberkeystone/core/panel"
	"amberkeystone/link"
)

// Firmware is the version that the stand-ins report.
const Firmware = "stand-in 1.0"

// Spec describes a stand-in controller.
type Spec struct {
	Serial  string `json:"serial"`
	Model   string `json:"model"`
	Ports   int    `json:"ports"`
	People  int    `json:"people"`
	Address string `json:"address"`
}

// kept is what a unit keeps in its file besides its log.
type kept struct {
	Key    *link.Key     `json:"key,omitempty"`
	Image  []byte        `json:"image,omitempty"`
	Offset time.Duration `json:"offset"` // of its clock to the machine's
	Log    string        `json:"log"`
	Acked  uint64        `json:"acked"`
	Seq    uint64        `json:"seq"` // never less than the last acknowledged event
}

// port is the world at one door: leaf, exit button, readers, and what they show.
type port struct {
	open, exit        bool
	readerIn, readerO bool // plugged in
	released          bool
	showIn, showOut   shown
}

type shown struct {
	what  panel.Feedback
	until time.Time
}

// unit is one stand-in controller.
type unit struct {
	Spec
	dir string

	mu      sync.Mutex
	kept    kept
	hash    string
	panel   *panel.Panel
	ports   []port
	network bool
	blink   time.Time
	timer   *time.Timer
	log     *os.File
	pending []panel.Event // not acknowledged
	recent  []panel.Event // for the bench
	loading []byte
	loadSum string
	conn    *link.Conn
	notify  chan struct{} // something to upload
	changed func()        // something to see
	closed  bool
}

func (u *unit) statePath() string { return filepath.Join(u.dir, u.Serial+".json") }
func (u *unit) logPath() string   { return filepath.Join(u.dir, u.Serial+".log") }

// openUnit reads a unit's file and starts it.
func openUnit(dir string, s Spec, changed func()) (*unit, error) {
	u := &unit{Spec: s, dir: dir, network: true, notify: make(chan struct{}, 1), changed: changed, ports: make([]port, s.Ports)}
	for i := range u.ports {
		u.ports[i].readerIn, u.ports[i].readerO = true, true
	}
	b, err := os.ReadFile(u.statePath())
	switch {
	case err == nil:
		if err := json.Unmarshal(b, &u.kept); err != nil {
			return nil, fmt.Errorf("%s: %w", u.statePath(), err)
		}
	case !errors.Is(err, os.ErrNotExist):
		return nil, err
	}
	if u.kept.Log == "" {
		u.newLog()
	}
	if err := u.openLog(); err != nil {
		return nil, err
	}
	u.timer = time.AfterFunc(time.Hour, u.wake)
	if u.kept.Image != nil {
		im, err := image.Parse(u.kept.Image)
		if err != nil { // of another version: as if it held nothing, until it is sent anew
			slog.Warn("what this stand-in holds cannot be read; send it anew", "serial", u.Serial, "err", err)
			u.kept.Image = nil
			return u, u.save()
		}
		u.hash = image.Hash(u.kept.Image)
		u.panel = panel.New(im.Compile(), u.kept.Seq)
		u.mu.Lock()
		u.take(u.panel.Start(u.now()))
		u.mu.Unlock()
	}
	return u, u.save()
}

func (u *unit) newLog() {
	var id [8]byte
	rand.Read(id[:])
	u.kept.Log, u.kept.Acked, u.kept.Seq = hex.EncodeToString(id[:]), 0, 0
}

// openLog reads the events that are kept and drops those acknowledged; a torn last line is left out.
func (u *unit) openLog() error {
	b, err := os.ReadFile(u.logPath())
	if err != nil && !errors.Is(err, os.ErrNotExist) {
		return err
	}
	u.pending = nil
	var keep bytes.Buffer
	sc := bufio.NewScanner(bytes.NewReader(b))
	sc.Buffer(nil, 1<<20)
	for sc.Scan() {
		var e panel.Event
		if json.Unmarshal(sc.Bytes(), &e) != nil || e.Seq <= u.kept.Acked {
			continue
		}
		u.pending = append(u.pending, e)
		u.kept.Seq = max(u.kept.Seq, e.Seq)
		keep.Write(sc.Bytes())
		keep.WriteByte('\n')
	}
	if err := writeFile(u.logPath(), keep.Bytes()); err != nil {
		return err
	}
	u.log, err = os.OpenFile(u.logPath(), os.O_APPEND|os.O_WRONLY, 0o600)
	return err
}

// writeFile replaces a file whole: after a power cut it is the old one or the new one.
func writeFile(path string, b []byte) error {
	f, err := os.OpenFile(path+".new", os.O_CREATE|os.O_TRUNC|os.O_WRONLY, 0o600)
	if err != nil {
		return err
	}
	_, err = f.Write(b)
	err = errors.Join(err, f.Sync(), f.Close())
	if err != nil {
		return err
	}
	return os.Rename(path+".new", path)
}

func (u *unit) save() error {
	b, err := json.Marshal(u.kept)
	if err != nil {
		return err
	}
	return writeFile(u.statePath(), b)
}

func (u *unit) now() hours.Instant { return hours.At(time.Now().Add(u.kept.Offset)) }

func (u *unit) wake() {
	u.mu.Lock()
	defer u.mu.Unlock()
	if u.panel == nil || u.closed {
		return
	}
	u.take(u.panel.Step(u.now(), panel.Input{Kind: panel.Tick}))
}

// take carries out what a step gave: events go to the file before anybody hears of them.
func (u *unit) take(r panel.Result) {
	if len(r.Events) > 0 {
		var b bytes.Buffer
		enc := json.NewEncoder(&b)
		for i := range r.Events {
			if err := enc.Encode(&r.Events[i]); err != nil {
				slog.Error("event not encoded", "unit", u.Serial, "err", err)
			}
		}
		if _, err := u.log.Write(b.Bytes()); err != nil {
			slog.Error("event not written", "unit", u.Serial, "err", err)
		}
		if err := u.log.Sync(); err != nil {
			slog.Error("log not synced", "unit", u.Serial, "err", err)
		}
		u.pending = append(u.pending, r.Events...)
		u.recent = append(u.recent, r.Events...)
		if n := len(u.recent); n > 100 {
			u.recent = append(u.recent[:0], u.recent[n-100:]...)
		}
	}
	for _, o := range r.Outputs {
		if o.Port < 1 || o.Port > len(u.ports) {
			continue
		}
		p := &u.ports[o.Port-1]
		if o.Lock != "" {
			p.released = o.Lock == "released"
		}
		if o.Feedback != "" {
			s := shown{o.Feedback, time.Now().Add(feedbackTime(o.Feedback))}
			if o.Out {
				p.showOut = s
			} else {
				p.showIn = s
			}
		}
	}
	wait := min(time.Hour, r.Wake.Sub(u.now()))
	u.timer.Reset(max(wait, time.Millisecond))
	u.signal()
}

func feedbackTime(f panel.Feedback) time.Duration {
	if f == panel.ShowPIN {
		return 10 * time.Second
	}
	return 2500 * time.Millisecond
}

func (u *unit) signal() {
	select {
	case u.notify <- struct{}{}:
	default:
	}
	if u.changed != nil {
		u.changed()
	}
}

func (u *unit) step(in panel.Input) {
	if u.panel != nil {
		u.take(u.panel.Step(u.now(), in))
	}
}

// setClock moves the clock by a distance.
func (u *unit) moveClock(by time.Duration) error {
	u.kept.Offset += by
	if err := u.save(); err != nil {
		return err
	}
	u.step(panel.Input{Kind: panel.ClockMoved, By: by})
	u.signal()
	return nil
}

// erase forgets everything, the key included.
func (u *unit) erase() error {
	u.kept = kept{Offset: u.kept.Offset}
	u.newLog()
	u.panel, u.hash, u.pending, u.recent = nil, "", nil, nil
	for i := range u.ports {
		u.ports[i].released = false
	}
	if err := errors.Join(u.log.Close(), os.Truncate(u.logPath(), 0), u.save()); err != nil {
		return err
	}
	return u.openLog()
}

func (u *unit) adopt(k link.Key) error {
	u.mu.Lock()
	defer u.mu.Unlock()
	if u.kept.Key != nil {
		return link.ErrTaken
	}
	if err := u.erase(); err != nil {
		return err
	}
	u.kept.Key = &k
	u.signal()
	return u.save()
}

// hold puts an image into force.
func (u *unit) hold(b []byte) error {
	im, err := image.Parse(b)
	if err != nil {
		return err
	}
	u.kept.Image = b
	if err := u.save(); err != nil {
		return err
	}
	u.hash = image.Hash(b)
	c := im.Compile()
	if u.panel == nil {
		u.panel = panel.New(c, u.kept.Seq)
		u.take(u.panel.Start(u.now()))
	}
	u.take(u.panel.Load(u.now(), c, u.hash))
	for i := range u.ports { // the lines are as they are
		u.circuits(i + 1)
	}
	return nil
}

// circuits reports the lines of a port: the contact is normally closed, the button normally open.
func (u *unit) circuits(number int) {
	p := u.ports[number-1]
	u.step(panel.Input{Kind: panel.Circuit, Port: number, On: !p.open})
	if p.exit {
		u.step(panel.Input{Kind: panel.ExitLine, Port: number, On: true})
	}
}

func (u *unit) status() link.Status {
	s := link.Status{Serial: u.Serial, Model: u.Model, Firmware: Firmware, Clock: u.now(), Hash: u.hash, Kept: len(u.pending)}
	for i, p := range u.ports {
		s.Ports = append(s.Ports, link.PortStatus{Port: i + 1, ReaderIn: p.readerIn, ReaderOut: p.readerO, ContactClosed: !p.open, ExitClosed: p.exit})
	}
	if u.panel != nil {
		s.Doors = u.panel.Doors()
	}
	return s
}

func (u *unit) close() error {
	u.mu.Lock()
	defer u.mu.Unlock()
	u.closed = true
	u.timer.Stop()
	if u.conn != nil {
		u.conn.Close()
	}
	return errors.Join(u.save(), u.log.Close())
}

// Hand is something that a person does at a stand-in.
type Hand struct {
	Serial string     `json:"serial"`
	Do     string     `json:"do"` // present, key, open, close, exit, network, clock, reset, reader
	Port   int        `json:"port,omitempty"`
	Out    bool       `json:"out,omitempty"`
	Bits   cards.Bits `json:"bits,omitzero"`
	Keys   string     `json:"keys,omitempty"`
	On     bool       `json:"on,omitempty"`
	ByMs   int64      `json:"byMs,omitempty"` // clock: how far to move it
}

func (u *unit) hand(h Hand) error {
	u.mu.Lock()
	defer u.mu.Unlock()
	defer u.signal()
	switch h.Do {
	case "network":
		u.network = h.On
		if !h.On && u.conn != nil {
			u.conn.Close()
		}
		u.step(panel.Input{Kind: panel.Network, On: h.On})
		return nil
	case "clock":
		return u.moveClock(time.Duration(h.ByMs) * time.Millisecond)
	case "reset":
		if u.conn != nil {
			u.conn.Close()
		}
		return u.erase()
	}
	if h.Port < 1 || h.Port > len(u.ports) {
		return fmt.Errorf("%s has no port %d", u.Serial, h.Port)
	}
	p := &u.ports[h.Port-1]
	plugged := p.readerIn
	if h.Out {
		plugged = p.readerO
	}
	switch h.Do {
	case "present":
		if plugged {
			u.step(panel.Input{Kind: panel.CardRead, Port: h.Port, Out: h.Out, Bits: h.Bits})
		}
	case "key":
		for i := range len(h.Keys) {
			if plugged {
				u.step(panel.Input{Kind: panel.Key, Port: h.Port, Out: h.Out, Key: h.Keys[i]})
			}
		}
	case "open", "close":
		p.open = h.Do == "open"
		u.step(panel.Input{Kind: panel.Circuit, Port: h.Port, On: !p.open})
	case "exit":
		p.exit = h.On
		u.step(panel.Input{Kind: panel.ExitLine, Port: h.Port, On: h.On})
	case "reader":
		if h.Out {
			p.readerO = h.On
		} else {
			p.readerIn = h.On
		}
	default:
		return fmt.Errorf("a stand-in has no hand for %q", h.Do)
	}
	return nil
}

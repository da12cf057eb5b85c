// Package rack is the stand-in controllers: the core's panel with a clock, a link and a small file each.
// They decide alone, survive restarts, and have hands that play the world around them.
package rack

import (
	"bytes"
	"crypto/rand"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"log/slog"
	"maps"
	"net"
	"os"
	"runtime/debug"
	"slices"
	"sync"
	"time"

	"amberkeystone/core/hours"
	"amberkeystone/core/image"
	"amberkeystone/core/panel"
	"amberkeystone/core/pass"
	"amberkeystone/core/point"
	"amberkeystone/link"
)

// Spec describes a stand-in controller.
type Spec struct {
	Serial  string `json:"serial"`
	Model   string `json:"model"`
	Ports   int    `json:"ports"`
	People  int    `json:"people"`
	Address string `json:"address"`
}

// unit is one stand-in controller.
type unit struct {
	Spec
	dir string

	mu       sync.Mutex
	identity link.Identity
	fault    string // why it has stopped; empty: it has not
	kept     kept
	panel    *panel.Panel
	world    *world
	network  bool
	dark     bool // it has no power at all
	update   *updating
	releases []link.Release
	listen   func(address string) error // moves it to another address
	given    string                     // the address that the network gives it
	at       net.Listener               // where it answers
	blink    time.Time
	timer    *time.Timer
	log      *os.File
	pending  []entry     // not acknowledged
	recent   []pass.Fact // for the bench
	loading  *loading
	reads    []RawRead // while nothing is held: what was presented
	conn     *link.Conn
	turn     int           // which of the connections conn was
	notify   chan struct{} // something to upload
	changed  func()        // something to see
	closed   bool
}

// openUnit reads a unit's files and starts it. One whose state cannot be believed is there all the same, says so, and
// does nothing until it is reset.
func openUnit(dir string, s Spec, changed func()) (*unit, error) {
	u := &unit{
		Spec:    s,
		dir:     dir,
		network: true,
		notify:  make(chan struct{}, 1),
		changed: changed,
		world:   newWorld(s),
	}
	u.timer = time.AfterFunc(time.Hour, u.wake)
	if err := u.readIdentity(); err != nil {
		return nil, fmt.Errorf("stand-in %s: %w", s.Serial, err)
	}
	u.mu.Lock()
	defer u.mu.Unlock()
	if err := u.start(); err != nil {
		u.fail(err)
	}
	return u, nil
}

// start reads the files and lets the panel begin.
func (u *unit) start() error {
	if err := u.readState(); err != nil {
		return err
	}
	if u.kept.Log == "" {
		u.newLog()
	}
	if err := u.openLog(); err != nil {
		return err
	}
	if u.kept.Firmware == "" {
		u.kept.Firmware = FirstFirmware
	}
	u.boot()
	return errors.Join(u.save(), u.tidy())
}

// boot lets the panel begin with what is held.
func (u *unit) boot() {
	u.panel = nil
	if u.kept.Hash == "" {
		return
	}
	im, err := u.readImage()
	if err != nil { // of another version, or damaged: as if it held nothing, until it is sent anew
		slog.Warn("what this stand-in holds cannot be read; send it anew", "serial", u.Serial, "err", err)
		u.kept.Hash, u.kept.Memory = "", nil
		return
	}
	u.world.fit(im)
	u.panel = panel.New(im.Compile(), u.lastSeq())
	u.restore()
	u.take(u.panel.Start(u.now()))
	u.measure(true)
	u.tellLost()
}

// lastSeq is the number of the last event that it ever gave.
func (u *unit) lastSeq() uint64 {
	if n := len(u.pending); n > 0 {
		return max(u.kept.Seq, u.pending[n-1].seq)
	}
	return u.kept.Seq
}

// restart begins anew, as after a loss of power: whoever is connected has to come again, and the doors decide from the
// first moment on.
func (u *unit) restart() {
	if u.conn != nil {
		u.conn.Close()
	}
	u.world.powerless()
	u.boot()
	u.signal()
}

// setPower turns the whole controller off and on, as where mains and battery are gone.
func (u *unit) setPower(on bool) {
	switch {
	case !on && !u.dark:
		u.dark, u.panel = true, nil
		u.world.powerless()
		u.timer.Stop()
		if u.conn != nil {
			u.conn.Close()
		}
	case on && u.dark:
		u.dark = false
		u.restart()
	}
}

// restore lets the panel remember what it knew before the power went.
func (u *unit) restore() {
	if u.kept.Memory == nil {
		return
	}
	if err := u.panel.Restore(u.kept.Memory); err != nil {
		slog.Warn("what this stand-in's rules remembered cannot be read", "serial", u.Serial, "err", err)
	}
}

// tellLost reports damaged lines of the log, once there is a panel to number the event.
func (u *unit) tellLost() {
	if u.kept.Lost == 0 || u.panel == nil {
		return
	}
	lines := u.kept.Lost
	u.kept.Lost = 0
	u.step(panel.Input{Kind: panel.LogLost, Lines: lines})
}

// fail stops the unit: it says why, and answers nobody.
func (u *unit) fail(err error) {
	slog.Error("a stand-in has stopped; reset it", "serial", u.Serial, "err", err)
	u.fault = err.Error()
	if u.conn != nil {
		u.conn.Close()
	}
}

func (u *unit) newLog() {
	var id [8]byte
	rand.Read(id[:])
	u.kept.Log, u.kept.Acked, u.kept.Seq = hex.EncodeToString(id[:]), 0, 0
}

func (u *unit) now() hours.Instant { return hours.At(time.Now().Add(u.kept.Offset)) }

func (u *unit) wake() {
	u.mu.Lock()
	defer u.mu.Unlock()
	defer u.alone()
	u.step(panel.Input{Kind: panel.Tick})
}

// alone is deferred where a unit works: if it panics it stops by itself, and the others go on. Unit.mu is held.
func (u *unit) alone() {
	if r := recover(); r != nil {
		u.fail(fmt.Errorf("%v\n%s", r, debug.Stack()))
	}
}

// take carries out what a step gave: events go to the file before anybody hears of them.
func (u *unit) take(r panel.Result) {
	if len(r.Events) > 0 {
		u.write(r.Events)
	}
	if memory, err := u.panel.Save(); err != nil {
		slog.Error("what the rules remember is not kept", "unit", u.Serial, "err", err)
	} else if !bytes.Equal(memory, u.kept.Memory) {
		u.kept.Memory = memory
		if err := u.save(); err != nil {
			slog.Error("what the rules remember is not kept", "unit", u.Serial, "err", err)
		}
	}
	for _, o := range r.Outputs {
		u.world.take(o)
	}
	wait := min(time.Hour, r.Wake.Sub(u.now()))
	u.timer.Reset(max(wait, time.Millisecond))
	u.signal()
}

// write puts events into the log.
func (u *unit) write(events []pass.Fact) {
	var b bytes.Buffer
	for i := range events {
		event, err := json.Marshal(&events[i])
		if err != nil {
			slog.Error("event not encoded", "unit", u.Serial, "err", err)
			continue
		}
		b.Write(line(u.kept.Hash, event))
		u.pending = append(u.pending, entry{events[i].Seq, u.kept.Hash, event})
	}
	if _, err := u.log.Write(b.Bytes()); err != nil {
		slog.Error("event not written", "unit", u.Serial, "err", err)
	}
	if err := u.log.Sync(); err != nil {
		slog.Error("log not synced", "unit", u.Serial, "err", err)
	}
	u.recent = append(u.recent, events...)
	if n := len(u.recent); n > 100 {
		u.recent = append(u.recent[:0], u.recent[n-100:]...)
	}
}

func feedbackTime(f pass.Feedback) time.Duration {
	if f == pass.ShowPIN {
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
	if u.panel != nil && u.fault == "" && !u.closed {
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

// erase forgets everything, the key included, but not who it is.
func (u *unit) erase() error {
	u.kept = kept{Offset: u.kept.Offset, Firmware: u.kept.Firmware, Address: u.kept.Address}
	u.newLog()
	u.panel, u.pending, u.recent, u.fault = nil, nil, nil, ""
	u.world.powerless()
	if u.log != nil {
		if err := u.log.Close(); err != nil {
			return err
		}
		u.log = nil
	}
	// The new log has another name, so that whenever the power goes no number of the old one is used again.
	return errors.Join(u.save(), u.openLog(), u.tidy())
}

// keep remembers a new key until somebody proves to have it; the zero value asks whether it would.
func (u *unit) keep(a link.Adopted) error {
	u.mu.Lock()
	defer u.mu.Unlock()
	if u.kept.Key != nil || u.fault != "" {
		return link.ErrTaken
	}
	if a.Code == "" {
		return nil
	}
	u.kept.Maybe = &provisional{a.Key, a.Code}
	slog.Info("a stand-in shows a code to compare", "serial", u.Serial, "code", a.Code)
	u.signal()
	return u.save()
}

// side is the unit's side of the link as it is now.
func (u *unit) side() link.Side {
	u.mu.Lock()
	defer u.mu.Unlock()
	s := link.Side{Identity: u.identity, Key: u.kept.Key, Keep: u.keep, Greeted: func() error { return nil }}
	s.Who = link.Who{Serial: u.Serial, Model: u.Model, Firmware: u.kept.Firmware, Doors: u.Ports, People: u.People,
		Keyed: u.kept.Key != nil, Holds: u.kept.Hash != ""}
	if m := u.kept.Maybe; s.Key == nil && m != nil {
		key := m.Key
		s.Key, s.Greeted = &key, func() error { return u.greeted(key) }
	}
	return s
}

// greeted takes a provisional key for good, and forgets whatever the unit held.
func (u *unit) greeted(key link.Key) error {
	u.mu.Lock()
	defer u.mu.Unlock()
	if u.kept.Maybe == nil || u.kept.Maybe.Key != key {
		return link.ErrKey // taken anew in the meantime
	}
	if err := u.erase(); err != nil {
		return err
	}
	u.kept.Key = &key
	u.signal()
	return u.save()
}

// hold puts an image into force.
func (u *unit) hold(b []byte) error {
	im, err := image.Parse(b)
	if err != nil {
		return err
	}
	root := image.NameOf(b)
	if err := writeFile(u.imagePath(root), b); err != nil {
		return err
	}
	u.kept.Hash = root
	if err := u.save(); err != nil {
		return err
	}
	u.world.fit(im)
	c := im.Compile()
	first := u.panel == nil
	if first {
		u.panel = panel.New(c, u.kept.Seq)
		u.take(u.panel.Start(u.now()))
	}
	u.take(u.panel.Load(u.now(), c, root))
	u.measure(first)
	u.tellLost()
	return u.tidy()
}

// measure tells the panel what the inputs measure: they are as they are, or are found so at a start, as is all that is
// wrong then.
func (u *unit) measure(found bool) {
	list := u.world.readings()
	if found {
		list = append(list, u.world.troubles()...)
	}
	for _, in := range list {
		in.Found = found
		u.step(in)
	}
}

// heard remembers a read of a controller that holds nothing yet, so that the first cards can be taken in.
func (u *unit) heard(in panel.Input) {
	const most = 50
	u.reads = append(u.reads, RawRead{hours.At(time.Now()), in.Point, in.Bits})
	if n := len(u.reads); n > most {
		u.reads = u.reads[n-most:]
	}
}

func (u *unit) status() link.Status {
	s := link.Status{
		Serial:   u.Serial,
		Model:    u.Model,
		Firmware: u.kept.Firmware,
		Clock:    u.now(),
		Hash:     u.kept.Hash,
		Kept:     len(u.pending),
	}
	s.Readers, s.Inputs, s.Outputs = u.world.answers(), u.world.circuits(), maps.Clone(u.world.on)
	s.Opened, s.Interrupted = u.world.opened(), u.kept.Interrupted
	for at, r := range u.world.readers {
		if !r.powered {
			s.Unpowered = append(s.Unpowered, at)
		}
	}
	slices.SortFunc(s.Unpowered, point.Address.Compare)
	s.MainsLost, s.BatteryLow, s.LidOpen = !u.world.mains, !u.world.battery, !u.world.lid
	s.Millivolts = 13_400
	if s.BatteryLow {
		s.Millivolts = 11_200
	} else if s.MainsLost {
		s.Millivolts = 12_600
	}
	if u.update != nil {
		s.Updating, s.Percent, s.Interrupted = u.update.release.Version, u.update.percent, ""
	}
	if u.panel != nil {
		s.Doors, s.Areas = u.panel.Doors(), u.panel.AlarmAreas()
	}
	return s
}

func (u *unit) close() error {
	u.mu.Lock()
	defer u.mu.Unlock()
	u.closed = true
	u.timer.Stop()
	if u.at != nil {
		u.at.Close()
	}
	if u.conn != nil {
		u.conn.Close()
	}
	if u.log == nil || u.fault != "" { // what stands in its files is kept for whoever looks into it
		return nil
	}
	return errors.Join(u.save(), u.log.Close())
}

func (u *unit) hand(h Hand) error {
	u.mu.Lock()
	defer u.mu.Unlock()
	defer u.alone()
	defer u.signal()
	if u.fault != "" && h.Do != "reset" {
		return fmt.Errorf("%s has stopped: %s; reset it, then take it into service again", u.Serial, u.fault)
	}
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
	case "blink": // its own button, before anybody has its key
		u.blink = time.Now().Add(10 * time.Second)
		return nil
	case "power":
		u.setPower(h.On)
		return nil
	case "reset":
		if u.conn != nil {
			u.conn.Close()
		}
		return u.erase()
	}
	if h.Do == "beep" {
		r := u.world.readers[h.Point]
		if r == nil {
			return fmt.Errorf("%s has no reader %s", u.Serial, h.Point)
		}
		r.beeps = time.Now().Add(4 * time.Second)
		return nil
	}
	inputs, err := u.world.play(u.Serial, &h)
	for _, in := range inputs {
		if in.Kind == panel.Read && u.panel == nil && u.fault == "" {
			u.heard(in)
		}
	}
	for _, in := range inputs {
		u.step(in)
	}
	return err
}

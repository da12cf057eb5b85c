package server

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"amberkeystone/core/cards"
	"amberkeystone/core/hours"
	"amberkeystone/core/panel"
	"amberkeystone/core/pass"
	"amberkeystone/core/point"
	"amberkeystone/core/prove"
	"amberkeystone/core/rules/alarmarea"
	"amberkeystone/core/site"
	"amberkeystone/rack"
	"amberkeystone/store"
)

// Bench is a door of a stand-in as somebody sees it who stands before it.
type Bench struct {
	DoorID   site.ID          `json:"doorId"`
	Unit     string           `json:"unit"`
	Network  bool             `json:"network"`
	Clock    hours.Instant    `json:"clock" doc:"The controller's own clock, Unix milliseconds"`
	Shifted  bool             `json:"shifted" doc:"Its clock is not the true time"`
	Kept     int              `json:"kept" doc:"Events that wait for the network"`
	InForce  bool             `json:"inForce" doc:"The controller holds this door"`
	Mode     hours.Mode       `json:"mode"`
	Until    hours.Instant    `json:"until"`
	Waits    bool             `json:"waits" doc:"It waits for its first card"`
	Layer    hours.Layer      `json:"-"`
	Sentence string           `json:"sentence" doc:"What the door does by its controller's clock, why, and what is next; words in **stars** matter most"`
	Released bool             `json:"released"`
	Open     bool             `json:"open"`
	Alarm    string           `json:"alarm"`
	Readers  [2]bool          `json:"readers" doc:"Whether the readers in and out are plugged in"`
	Shows    [2]string        `json:"shows" doc:"What the readers in and out show now"`
	Power    bool             `json:"power" doc:"The controller has power; without it the lock does what its kind does"`
	Fallen   string           `json:"fallen" doc:"Without power: what the lock does, in words"`
	Wire     string           `json:"wire" doc:"What somebody did to the wire of the contact: cut, short, or nothing"`
	Floors   []prove.FloorNow `json:"floors,omitempty" doc:"Of an elevator, the lowest first"`
	Rode     site.ID          `json:"rode,omitempty" doc:"Of a floor button that was pressed just now: the floor that the car goes to; 0: it stays"`
	Area     *BenchArea       `json:"area,omitempty" doc:"The alarm area that it belongs to, as its controller tells"`
	Said     []Said           `json:"said" doc:"What the controller said of this door, newest first"`
}

// Said is an event of the bench in words.
type Said struct {
	Seq      uint64        `json:"seq"`
	At       hours.Instant `json:"at"`
	Kind     string        `json:"kind"`
	Outcome  string        `json:"outcome"`
	Headline string        `json:"headline"`
	Detail   string        `json:"detail"`
	Person   string        `json:"person"`
	Bits     string        `json:"bits,omitempty" doc:"Of a read that fits no format"`
	Trace    []prove.Line  `json:"trace"`
	Mend     string        `json:"mend"`
}

// place finds a door's stand-in.
func (s *Server) place(door site.ID) (d *site.Door, serial string, err error) {
	b := s.current()
	d = b.Door(door)
	if d == nil {
		return nil, "", huma.Error404NotFound("This door does not exist, or no longer.")
	}
	for _, c := range b.Config.Controllers {
		if c.ID == d.ControllerID {
			serial = c.Serial
		}
	}
	return d, serial, nil
}

func (s *Server) bench(door site.ID) (Bench, error) {
	d, serial, err := s.place(door)
	if err != nil {
		return Bench{}, err
	}
	s.mu.RLock()
	v, ok := s.racks[serial]
	s.mu.RUnlock()
	if _, there := v.Reader(d.Terminals().In); !ok || !there {
		return Bench{}, huma.Error503ServiceUnavailable(
			"This door's controller is not a stand-in of the rack that answers here, so it cannot be played.",
		)
	}
	return s.seen(d, v), nil
}

func (s *Server) seen(d *site.Door, v rack.View) Bench {
	at := d.Terminals()
	in, _ := v.Reader(at.In)
	way, _ := v.Reader(at.Out)
	contact, _ := v.Input(at.Contact)
	out := Bench{
		DoorID:   d.ID,
		Unit:     s.current().Name(d.ControllerID),
		Network:  v.Network,
		Clock:    v.Clock,
		Kept:     v.Kept,
		Released: v.On(at.Lock),
		Open:     !contact.Closed, // the stand-in's contact is closed at rest
		Power:    v.Power,
		Wire:     contact.Trouble,
		Readers:  [2]bool{in.Plugged, way.Plugged},
		Shows:    [2]string{in.Shows, way.Shows},
		Said:     []Said{},
	}
	if !v.Power {
		out.Released, out.Fallen = d.FailSafe, d.PowerWords()
	}
	out.Shifted = v.Clock.Sub(s.now()).Abs() > 2*time.Second
	if i := slices.IndexFunc(v.Doors, func(x panel.DoorState) bool { return x.Door == d.ID }); i >= 0 {
		x := v.Doors[i]
		out.Layer = x.Layer
		out.InForce, out.Mode, out.Until, out.Waits, out.Alarm = true, x.Mode, x.Until, x.Waits, x.Alarm
		out.Floors = s.bookOf(d.ControllerID, v.Hash).Floors(d.ID, v.Clock, x.Floors)
		for i := range out.Floors { // an image does not say how high they are
			out.Floors[i].Level = s.current().LevelAt(out.Floors[i].FloorID)
		}
	}
	b, all := s.bookOf(d.ControllerID, v.Hash), s.current()
	if out.InForce {
		out.Sentence = b.Now(
			d.ID,
			v.Clock,
			&prove.Live{Mode: out.Mode, Waits: out.Waits, Until: out.Until, Layer: out.Layer},
		).Sentence
	}
	if a := b.Config.AlarmAreaOf(d.ID); a != nil && out.InForce {
		if i := slices.IndexFunc(v.Areas, func(x alarmarea.Now) bool { return x.Area == a.ID }); i >= 0 {
			out.Sentence += b.GuardedWords(&v.Areas[i])
			out.Area = benchArea(b, all, a, &v.Areas[i], &v)
		}
	}
	for i := len(v.Recent) - 1; i >= 0 && len(out.Said) < 24; i-- {
		if e := &v.Recent[i]; e.Door == d.ID || e.Door == 0 {
			out.Said = append(out.Said, saidOf(b, all, e))
		}
	}
	return out
}

// saidOf is an event in words, by the book of what its controller holds; all names people whom that does not hold.
func saidOf(b, all *prove.Book, e *pass.Fact) Said {
	all.Recognise(e)
	if e.Person != 0 && !b.Knows(e.Person) {
		b = all
	}
	said := Said{
		Seq:      e.Seq,
		At:       e.At,
		Kind:     e.Kind.String(),
		Outcome:  outcome(e),
		Headline: b.Headline(e),
		Detail:   b.Detail(e),
		Trace:    b.Trace(e),
		Mend:     b.Mend(e),
		Bits:     e.Bits,
	}
	if said.Trace == nil {
		said.Trace = []prove.Line{}
	}
	if e.Person != 0 {
		said.Person = all.Name(e.Person)
	}
	return said
}

// BenchHand is something that a person does at the door.
type BenchHand struct {
	Do       string  `json:"do" enum:"floor,input-active,input-rest,present,keys,open,close,press,release,plug,unplug,reader-plug,reader-unplug,power-cut,power-back,wire-cut,wire-mend,clock"`
	Out      bool    `json:"out,omitempty" doc:"At the reader on the way out"`
	Bits     string  `json:"bits,omitempty" doc:"The read, as ones and zeros"`
	Format   string  `json:"format,omitempty" doc:"Instead of bits: a card's format, with facility and number"`
	Facility uint64  `json:"facility,omitempty"`
	Number   uint64  `json:"number,omitempty"`
	FloorID  site.ID `json:"floorId,omitempty" doc:"Of floor: the button that is pressed in the car"`
	InputID  site.ID `json:"inputId,omitempty" doc:"Of input-active and input-rest: an input of the door's alarm area"`
	Keys     string  `json:"keys,omitempty" doc:"0-9, * clears, # ends"`
	Clock    string  `json:"clock,omitempty" doc:"now, a weekday with a time (Sat 16:59:50), or a date with a time (2026-11-28 16:59:50)"`
}

func (s *Server) benchRoutes(api huma.API) {
	huma.Get(
		api,
		"/api/bench/{id}",
		func(_ context.Context, in *idInput) (*output[Bench], error) { return give(s.bench(in.ID)) },
	)
	huma.Post(api, "/api/bench/{id}", func(_ context.Context, in *struct {
		ID   site.ID `path:"id"`
		Body BenchHand
	}) (*output[Bench], error) {
		return give(s.play(in.ID, in.Body))
	})
	huma.Get(api, "/api/bench/{id}/wallet", func(_ context.Context, in *struct {
		ID site.ID `path:"id"`
		Q  string  `query:"q"`
	}) (*output[[]WalletCard], error) {
		return give(s.wallet(in.ID, in.Q))
	})
}

func (s *Server) play(door site.ID, h BenchHand) (Bench, error) {
	d, serial, err := s.place(door)
	if err != nil {
		return Bench{}, err
	}
	at := d.Terminals()
	r := rack.Hand{Serial: serial, Point: at.In}
	if h.Out {
		r.Point = at.Out
	}
	switch h.Do {
	case "floor":
		return s.pressFloor(d, serial, h.FloorID)
	case "input-active", "input-rest":
		if r.Do, r.Point, err = s.moveInput(d, h); err != nil {
			return Bench{}, err
		}
	case "present":
		r.Do = "present"
		if r.Bits, err = readBits(h); err != nil {
			return Bench{}, say(&store.Taken{Field: "number", Words: err.Error()})
		}
	case "keys":
		if h.Keys == "" || strings.Trim(h.Keys, "0123456789*#") != "" {
			return Bench{}, say(&store.Taken{Field: "keys", Words: "a keypad has the keys 0 to 9, * and #"})
		}
		r.Do, r.Keys = "key", h.Keys
	case "open", "close":
		r.Do, r.Point = h.Do, at.Contact
	case "press": // the stand-in's button closes its circuit
		r.Do, r.Point = "close", at.Exit
	case "release":
		r.Do, r.Point = "open", at.Exit
	case "plug", "unplug":
		r.Do, r.On = "network", h.Do == "plug"
	case "reader-plug", "reader-unplug":
		r.Do, r.On = "reader", h.Do == "reader-plug"
	case "power-cut", "power-back":
		r.Do, r.On = "power", h.Do == "power-back"
	case "wire-cut", "wire-mend":
		r.Do, r.Point = strings.TrimPrefix(h.Do, "wire-"), at.Contact
	case "clock":
		by, err := s.clockShift(d, serial, h.Clock)
		if err != nil {
			return Bench{}, say(&store.Taken{Field: "clock", Words: err.Error()})
		}
		r.Do, r.ByMs = "clock", by.Milliseconds()
	}
	v, err := s.lay(r)
	if err != nil {
		return Bench{}, err
	}
	return s.seen(d, v), nil
}

// moveInput finds the terminal of an input at the controller of a door, and what makes it active or lets it rest.
func (s *Server) moveInput(d *site.Door, h BenchHand) (do string, at point.Address, err error) {
	x := s.current().Config.Input(h.InputID)
	if x == nil || x.ControllerID != d.ControllerID {
		return "", at, say(&store.Taken{
			Field: "inputId", Words: "there is no such input at the controller of this door; choose one of its alarm area",
		})
	}
	if (h.Do == "input-active") != (x.Contact == site.NormallyClosed) {
		return "close", x.At, nil
	}
	return "open", x.At, nil
}

// lay lays a hand on a stand-in, and takes what is seen of it then.
func (s *Server) lay(r rack.Hand) (rack.View, error) {
	v, err := s.rack.Do(r)
	if err != nil {
		return v, huma.Error503ServiceUnavailable(err.Error())
	}
	s.mu.Lock()
	s.racks[r.Serial] = v
	s.mu.Unlock()
	return v, nil
}

// pressFloor presses a button in a car: where it is wired back the controller hears of it, and the car goes where the
// floor's relay is on, which is what the elevator's own service looks at.
func (s *Server) pressFloor(d *site.Door, serial string, floor site.ID) (Bench, error) {
	if d.Car == nil || d.Car.StopAt(floor) < 0 {
		return Bench{}, say(&store.Taken{Field: "floorId", Words: "this car does not stop there; choose one of its floors"})
	}
	relay := d.Car.Stops[d.Car.StopAt(floor)].Relay
	at, _ := d.Car.Relay(relay)
	s.mu.RLock()
	v := s.racks[serial]
	s.mu.RUnlock()
	if button, wired := d.Car.Button(relay); wired {
		for _, do := range []string{"close", "open"} {
			var err error
			if v, err = s.lay(rack.Hand{Serial: serial, Do: do, Point: button}); err != nil {
				return Bench{}, err
			}
		}
	}
	out := s.seen(d, v)
	if v.On(at) {
		out.Rode = floor
	}
	return out, nil
}

func readBits(h BenchHand) (cards.Bits, error) {
	if h.Bits != "" {
		return cards.ParseBits(h.Bits)
	}
	f := cards.ByName(cmp.Or(h.Format, cards.Standard26.Name))
	if f == nil {
		return cards.Bits{}, fmt.Errorf("there is no card format %q", h.Format)
	}
	return f.Encode(h.Facility, h.Number)
}

// clockShift works out how far to move a controller's clock. A weekday is the next one by its own calendar.
func (s *Server) clockShift(d *site.Door, serial, text string) (time.Duration, error) {
	by, err := s.clockMove(d, serial, text)
	if err != nil {
		return 0, err
	}
	s.mu.RLock()
	now := s.racks[serial].Clock
	s.mu.RUnlock()
	if year := now.Add(by).Time().Year(); year < 2000 || year > 2099 {
		return 0, fmt.Errorf("a controller's clock runs from 2000 to 2099; %d is outside", year)
	}
	return by, nil
}

func (s *Server) clockMove(d *site.Door, serial, text string) (time.Duration, error) {
	s.mu.RLock()
	now := s.racks[serial].Clock
	s.mu.RUnlock()
	z := s.current().Zone(d.ID)
	text = strings.TrimSpace(text)
	if text == "now" {
		return s.now().Sub(now), nil
	}
	for _, layout := range []string{"2006-01-02 15:04:05", "2006-01-02 15:04", "2006-01-02T15:04:05", "2006-01-02T15:04"} {
		if t, err := time.Parse(layout, text); err == nil {
			to := z.Resolve(hours.DayOf(t.Date()), t.Hour()*60+t.Minute()).Add(time.Duration(t.Second()) * time.Second)
			return to.Sub(now), nil
		}
	}
	words := strings.Fields(text)
	clock := words[max(len(words)-1, 0):]
	var t time.Time
	var err error = fmt.Errorf("no time")
	if len(clock) == 1 {
		if t, err = time.Parse("15:04:05", clock[0]); err != nil {
			t, err = time.Parse("15:04", clock[0])
		}
	}
	if err != nil || len(words) > 2 {
		return 0, fmt.Errorf("%q is not a time; write Sat 16:59:50, 16:59:50, or 2026-11-28 16:59:50", text)
	}
	day := z.Wall(now).Day
	if len(words) == 2 {
		names := []string{"mon", "tue", "wed", "thu", "fri", "sat", "sun"}
		want := slices.IndexFunc(names, func(n string) bool { return strings.HasPrefix(strings.ToLower(words[0]), n) })
		if want < 0 {
			return 0, fmt.Errorf("%q is not a weekday; write Mon, Tue, Wed, Thu, Fri, Sat or Sun", words[0])
		}
		for day.Weekday() != want {
			day++
		}
	}
	to := z.Resolve(day, t.Hour()*60+t.Minute()).Add(time.Duration(t.Second()) * time.Second)
	return to.Sub(now), nil
}

package server

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"amberkeystone/core/point"
	"amberkeystone/core/site"
	"amberkeystone/link"
	"amberkeystone/store"
)

// Terminals are a controller and its expanders, terminal by terminal: what is on each, and what it says now.
type Terminals struct {
	Controller site.ID         `json:"controller"`
	Name       string          `json:"name"`
	Words      string          `json:"words" doc:"How many are in use, and what is in trouble"`
	Online     bool            `json:"online"`
	Boards     []BoardShown    `json:"boards"`
	Power      []TerminalShown `json:"power" doc:"Mains, battery and the lid"`
	FreeBus    int             `json:"freeBus" doc:"The lowest address of its bus that no expander has; 0: none"`
	StandIn    bool            `json:"standIn" doc:"Hands can be laid on it from here"`
}

// BoardShown is the controller itself, or an expander.
type BoardShown struct {
	Number    int               `json:"number" doc:"0: the controller; else the address of an expander"`
	Kind      site.ExpanderKind `json:"kind,omitempty"`
	Title     string            `json:"title"`
	Note      string            `json:"note"`
	Terminals []TerminalShown   `json:"terminals"`
}

// TerminalShown is a terminal.
type TerminalShown struct {
	At    string    `json:"at" doc:"Such as i4, or 1/o16"`
	Label string    `json:"label" doc:"As it stands at the place: I4, 1.16"`
	Kind  string    `json:"kind" enum:"reader,input,output,power"`
	Use   *site.Use `json:"use,omitempty" doc:"What it is for; none: it is free"`
	site.Said
	Measures string `json:"measures,omitempty" doc:"Of an input"`
	Normal   string `json:"normal,omitempty" doc:"Of an input: the circuit at rest"`
	Detail   string `json:"detail,omitempty" doc:"What that means, where it is in trouble"`
	// Of a reader: how it is connected, and whether its power is on.
	Wiring  string `json:"wiring,omitempty"`
	Powered bool   `json:"powered,omitempty"`
}

func (s *Server) terminals(id site.ID) (Terminals, error) {
	b := s.current()
	c := b.Config.Controller(id)
	if c == nil {
		return Terminals{}, store.ErrMissing
	}
	st, online := s.lastStatus(id)
	uses := map[point.Address]site.Use{}
	for _, u := range b.Config.Uses(id) {
		if _, twice := uses[u.At]; !twice {
			uses[u.At] = u
		}
	}
	s.mu.RLock()
	_, standIn := s.racks[c.Serial]
	s.mu.RUnlock()
	out := Terminals{Controller: id, Name: c.Name, Online: online, FreeBus: c.FreeAddress(), StandIn: standIn}
	boards := map[uint8]int{}
	used, all := 0, 0
	var trouble []string
	for _, at := range c.Terminals() {
		i, ok := boards[at.Board]
		if !ok {
			i = len(out.Boards)
			boards[at.Board] = i
			out.Boards = append(out.Boards, boardOf(c, at.Board, uses))
		}
		t := terminalShown(b.Config, c, at, uses, &st, online)
		all++
		if t.Use != nil {
			used++
			if t.State == "fault" {
				trouble = append(trouble, fmt.Sprintf("the %s of %s %s", t.Use.Words(), t.Use.Name, isWords(t.Words)))
			}
		}
		out.Boards[i].Terminals = append(out.Boards[i].Terminals, t)
	}
	out.Power = powerShown(&st, online)
	for _, t := range out.Power {
		if t.State == "fault" {
			trouble = append(trouble, t.Detail)
		}
	}
	out.Words = fmt.Sprintf("%d of %d terminals are in use.", used, all)
	switch {
	case !online:
		out.Words += " **The controller does not answer**: what its terminals say is not known."
	case len(trouble) > 0:
		out.Words += " **In trouble**: " + strings.Join(trouble, "; ") + "."
	default:
		out.Words += " Everything that is wired answers."
	}
	return out, nil
}

func isWords(said string) string {
	if said == "no answer" {
		return "does not answer"
	}
	return "is " + said
}

// lastStatus is what a controller last said, and whether it is online.
func (s *Server) lastStatus(id site.ID) (link.Status, bool) {
	s.mu.RLock()
	defer s.mu.RUnlock()
	u := s.units[id]
	if u == nil {
		return link.Status{}, false
	}
	return u.status, u.online
}

// boardOf is the head of a board: what it is, and how many doors it drives.
func boardOf(c *site.Controller, n uint8, uses map[point.Address]site.Use) BoardShown {
	if n == 0 {
		doors := map[site.ID]bool{}
		for _, u := range uses {
			if u.Kind == "door" {
				doors[u.ID] = true
			}
		}
		return BoardShown{Title: "Controller", Note: fmt.Sprintf("%s · %d doors of %d", c.Model, len(doors), c.Doors())}
	}
	i := slices.IndexFunc(c.Expanders, func(e site.Expander) bool { return e.Address == int(n) })
	e := c.Expanders[i]
	return BoardShown{
		Number: int(n), Kind: e.Kind, Title: fmt.Sprintf("Expander · %s · address %d", expanderWords[e.Kind], n),
		Note: e.Name,
	}
}

var expanderWords = map[site.ExpanderKind]string{
	site.ReaderExpander: "readers", site.InputExpander: "16 inputs", site.OutputExpander: "16 outputs",
}

var kindNames = map[point.Kind]string{point.Reader: "reader", point.Input: "input", point.Output: "output"}

func label(at point.Address) string {
	if at.Board == 0 {
		return strings.ToUpper(at.String())
	}
	return fmt.Sprintf("%d.%d", at.Board, at.Number)
}

// terminalShown says what is on a terminal and what it says now.
func terminalShown(c *site.Config, x *site.Controller, at point.Address, uses map[point.Address]site.Use,
	st *link.Status,
	online bool) TerminalShown {
	t := TerminalShown{
		At: at.String(), Label: label(at), Kind: kindNames[at.Kind], Said: site.Said{State: "unknown", Words: ""},
	}
	u, used := uses[at]
	if used {
		t.Use = &u
	}
	var d *site.Door
	if u.Kind == "door" {
		d = c.Door(u.ID)
	}
	switch at.Kind {
	case point.Reader:
		readerShown(&t, d, at, st, online)
	case point.Input:
		inputShown(&t, c, x, d, at, st, online)
	case point.Output:
		if on, known := st.Outputs[at]; online && known {
			t.Said = outputSays(used, d, on)
		}
	}
	return t
}

func outputSays(used bool, d *site.Door, on bool) site.Said {
	words := [2]string{"off", "on"}
	if d != nil {
		words = [2]string{"held", "released"}
	}
	if on {
		return site.Said{State: "active", Words: words[1]}
	}
	if !used {
		return site.Said{State: "rest", Words: ""}
	}
	return site.Said{State: "rest", Words: words[0]}
}

func readerShown(t *TerminalShown, d *site.Door, at point.Address, st *link.Status, online bool) {
	answers, known := st.Readers[at]
	t.Powered = !slices.Contains(st.Unpowered, at)
	if online && known && t.Use != nil {
		switch {
		case !t.Powered:
			t.Said, t.Detail = site.Said{State: "fault", Words: "no power"}, "Its power was cut from here. Give it back below."
		case !answers:
			t.Said, t.Detail = site.Said{State: "fault", Words: "no answer"},
				"Look at its cable and power. Until it answers, nobody passes by it."
		case slices.Contains(st.Opened, at):
			t.Said, t.Detail = site.Said{State: "fault", Words: "cover open"}, "Somebody has opened its cover. Go and look."
		default:
			t.Said = site.Said{State: "rest", Words: "answers"}
		}
	}
	if d == nil {
		return
	}
	r := &d.In
	if t.Use.Role == "reader out" {
		r = &d.Out
	}
	t.Wiring = "Wiegand"
	if r.Connection == site.OSDP {
		t.Wiring = fmt.Sprintf("OSDP, address %d, %d baud", r.Address, cmp.Or(r.Baud, 9600))
	}
}

func inputShown(
	t *TerminalShown, c *site.Config, x *site.Controller, d *site.Door, at point.Address, st *link.Status, online bool,
) {
	var wire point.Wire
	role := ""
	if t.Use != nil {
		role = t.Use.Role
	}
	switch {
	case role == site.FloorButton:
		wire, t.Normal = point.Wire{}, site.NormallyOpen.Words()
	case d != nil && role == "contact":
		wire, t.Normal = d.ContactWire(), d.Contact.Words()
	case d != nil:
		wire, t.Normal = d.ExitWire(), d.Exit.Words()
	case role != "":
		i := slices.IndexFunc(c.Inputs, func(i site.Input) bool { return i.ID == t.Use.ID })
		wire, t.Normal = c.Inputs[i].Wire(), c.Inputs[i].Contact.Words()
	}
	circuit, known := st.Inputs[at]
	if !online || !known {
		return
	}
	if t.Use == nil {
		t.Said, t.Measures = site.Said{State: "rest", Words: ""}, site.Ohms(circuit, x.Resistor)
		return
	}
	t.Said, t.Measures = site.SaysInput(role, wire, circuit), site.Ohms(circuit, x.Resistor)
	if t.State == "fault" {
		t.Detail = "A wire that is " + t.Words +
			" is a fault, not a door that opens or a button that is pressed. Until it is mended nothing is known of what it leads to."
		if role == "contact" {
			t.Detail = "A wire that is " + t.Words +
				" is a fault, not an open door. The door cannot be forced or held open until it is mended."
		}
	}
}

// powerShown are the controller's own inputs.
func powerShown(st *link.Status, online bool) []TerminalShown {
	if !online {
		return []TerminalShown{}
	}
	one := func(name string, bad bool, words [2]string, detail string) TerminalShown {
		t := TerminalShown{
			At: strings.ToLower(name), Label: name, Kind: "power", Said: site.Said{State: "rest", Words: words[0]},
		}
		if bad {
			t.Said, t.Detail = site.Said{State: "fault", Words: words[1]}, detail
		}
		return t
	}
	battery := one("Battery", st.BatteryLow, [2]string{"good", "low"}, "the battery is low")
	battery.Measures = fmt.Sprintf("%.1f V", float64(st.Millivolts)/1000)
	return []TerminalShown{
		one("Mains", st.MainsLost, [2]string{"good", "lost"}, "it is on its battery"), battery,
		one("Lid", st.LidOpen, [2]string{"closed", "open"}, "its box is open"),
	}
}

// MoveTerminal puts a role on a terminal.
type MoveTerminal struct {
	site.Wish
	To point.Address `json:"to" doc:"The terminal"`
}

// Moved says what was done, and what has to be done at the place itself.
type Moved struct {
	Words string `json:"words"`
}

// moveTerminal puts a role on a terminal, over the revision that is in force.
func (s *Server) moveTerminal(ctx context.Context, m MoveTerminal) (Moved, error) {
	f, err := s.settled(ctx)
	if err != nil {
		return Moved{}, err
	}
	o, words, err := f.Config.Put(m.Wish, m.To)
	if err != nil {
		return Moved{}, err
	}
	switch o := o.(type) {
	case *site.Door:
		if faults := o.Check(); len(faults) > 0 {
			return Moved{}, faults
		}
		err = over(ctx, s, f, o.ID, *o)
	case *site.Input:
		err = over(ctx, s, f, o.ID, *o)
	case *site.Output:
		err = over(ctx, s, f, o.ID, *o)
	}
	if err != nil {
		return Moved{}, err
	}
	return Moved{words + " Then send."}, s.settle(ctx)
}

// takeOff takes a role off its terminal.
func (s *Server) takeOff(ctx context.Context, w site.Wish) (Moved, error) {
	f, err := s.settled(ctx)
	if err != nil {
		return Moved{}, err
	}
	switch w.Kind {
	case "input", "output":
		rev, err := f.revOf(w.ID)
		if err != nil {
			return Moved{}, err
		}
		if w.Kind == "input" {
			err = store.Remove[site.Input](ctx, s.Store, s.who(ctx), w.ID, rev)
		} else {
			err = store.Remove[site.Output](ctx, s.Store, s.who(ctx), w.ID, rev)
		}
		if err != nil {
			return Moved{}, err
		}
	default:
		d, err := f.Config.TakeOff(w)
		if err != nil {
			return Moved{}, err
		}
		if err := over(ctx, s, f, d.ID, *d); err != nil {
			return Moved{}, err
		}
	}
	return Moved{"It is off. Take its wires off the terminal, then send."}, s.settle(ctx)
}

// tryTime is how long an output is on when it is tried.
const tryTime = 3 * time.Second

func (s *Server) terminalRoutes(api huma.API) {
	huma.Get(api, "/api/controllers/{id}/terminals", func(_ context.Context, in *idInput) (*output[Terminals], error) {
		return give(s.terminals(in.ID))
	})
	huma.Get(api, "/api/controllers/{id}/choices", func(_ context.Context, in *struct {
		ID site.ID `path:"id"`
		At string  `query:"at" required:"true" doc:"A terminal, such as i4"`
	}) (*output[[]site.Choice], error) {
		at, err := point.Parse(in.At)
		if err != nil {
			return nil, say(&store.Taken{Field: "at", Words: err.Error()})
		}
		return give(s.current().Config.Choices(in.ID, at), nil)
	})
	huma.Post(api, "/api/terminals/move", func(ctx context.Context, in *struct{ Body MoveTerminal }) (*output[Moved],
		error) {
		return give(s.moveTerminal(ctx, in.Body))
	})
	huma.Post(api, "/api/terminals/take-off", func(ctx context.Context, in *struct{ Body site.Wish }) (*output[Moved],
		error) {
		return give(s.takeOff(ctx, in.Body))
	})
	atTerminal := func(path, op string, words string, fill func(t *link.Terminal, on bool)) {
		huma.Post(api, "/api/controllers/{id}/"+path, func(ctx context.Context, in *struct {
			ID   site.ID `path:"id"`
			Body struct {
				At point.Address `json:"at" doc:"A terminal, such as o5"`
				On bool          `json:"on,omitempty" doc:"Of a reader's power"`
			}
		}) (*struct{}, error) {
			t := link.Terminal{Point: in.Body.At}
			fill(&t, in.Body.On)
			if err := s.call(ctx, in.ID, op, t, nil); err != nil {
				return nil, err
			}
			what := words
			if op == link.OpReader && in.Body.On {
				what = "reader's power restored"
			}
			return nil, s.Store.Note(ctx, s.who(ctx), what, "controller", in.ID, s.current().Name(in.ID)+" "+in.Body.At.String())
		})
	}
	atTerminal("try", link.OpPulse, "output tried", func(t *link.Terminal, _ bool) { t.Ms = tryTime.Milliseconds() })
	atTerminal("reader-power", link.OpReader, "reader's power cut", func(t *link.Terminal, on bool) { t.On = on })
	atTerminal("beep", link.OpBeep, "reader beeped", func(*link.Terminal, bool) {})
	huma.Post(api, "/api/controllers/{id}/end", func(ctx context.Context, in *struct {
		ID   site.ID `path:"id"`
		Body struct {
			What string `json:"what" enum:"fire,lockdown"`
		}
	}) (*struct{}, error) {
		if err := s.endRelease(ctx, in.ID, in.Body.What); err != nil {
			return nil, say(err)
		}
		words := map[string]string{"fire": "fire release ended", "lockdown": "lockdown ended"}[in.Body.What]
		return nil, s.Store.Note(ctx, s.who(ctx), words, "controller", in.ID, s.current().Name(in.ID))
	})
}

// endRelease ends a fire release or a lockdown, unless the input that began it is still active.
func (s *Server) endRelease(ctx context.Context, id site.ID, what string) error {
	st, _ := s.lastStatus(id)
	c := s.current().Config
	for i := range c.Inputs {
		x := &c.Inputs[i]
		if x.ControllerID == id && string(x.Use) == what && x.Wire().Level(st.Inputs[x.At]) == point.Active {
			return &store.Taken{Field: "what", Words: x.Name + " is still active; it has to be at rest first"}
		}
	}
	return s.call(ctx, id, link.OpEnd, link.End{What: what}, nil)
}

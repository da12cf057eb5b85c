package server

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"sync"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"amberkeystone/core/hours"
	"amberkeystone/core/point"
	"amberkeystone/core/power"
	"amberkeystone/core/review"
	"amberkeystone/core/site"
	"amberkeystone/link"
	"amberkeystone/store"
)

// Kept is how all controllers are.
type Kept struct {
	Words string       `json:"words" doc:"One sentence of health"`
	Todo  []Todo       `json:"todo" doc:"What is not well, and what to do"`
	Rows  []KeptRow    `json:"rows"`
	Zones []ZoneChange `json:"zones" doc:"When the clocks of each zone change next"`
}

// Todo is one thing that is not well.
type Todo struct {
	ID    site.ID `json:"id" doc:"The controller"`
	Words string  `json:"words"`
	Mend  string  `json:"mend"`
	Fix   string  `json:"fix,omitempty" enum:"set-clock,send,update" doc:"What a click can do about it"`
}

// KeptRow is one controller: what it holds, and of how much.
type KeptRow struct {
	ID       site.ID `json:"id"`
	Name     string  `json:"name"`
	Model    string  `json:"model"`
	Place    string  `json:"place"`
	People   [2]int  `json:"people" doc:"Who have something to do there, of how many it holds"`
	Doors    [2]int  `json:"doors"`
	Readers  [2]int  `json:"readers" doc:"Terminals in use, of how many"`
	Inputs   [2]int  `json:"inputs"`
	Outputs  [2]int  `json:"outputs"`
	Lacks    bool    `json:"lacks" doc:"It lacks something that was saved"`
	Newest   string  `json:"newest" doc:"A newer firmware that lies ready; empty: none"`
	Restart  string  `json:"restart" doc:"What a restart stops, in words"`
	HasEvent int     `json:"events" doc:"How many events it can keep"`
}

// ZoneChange is the next change of the clocks of a zone.
type ZoneChange struct {
	Zone  string `json:"zone"`
	Words string `json:"words"`
}

func (s *Server) kept(ctx context.Context) (Kept, error) {
	f, err := s.settled(ctx)
	if err != nil {
		return Kept{}, err
	}
	lacks := map[site.ID]bool{}
	err = s.linked(ctx, f, func(c site.Controller, l store.Link, u Unit) error {
		lacks[c.ID] = s.lack(f, c, l, u).Lacks
		return nil
	})
	if err != nil {
		return Kept{}, err
	}
	newest := ""
	if list := s.newest.list(); len(list) > 0 {
		newest = list[len(list)-1].Version
	}
	out := Kept{Rows: []KeptRow{}, Todo: []Todo{}, Zones: s.zoneChanges(f)}
	units := s.unitsNow()
	for i := range f.Config.Controllers {
		c := &f.Config.Controllers[i]
		row := s.keptRow(f, c)
		row.Lacks = lacks[c.ID]
		if link.CompareVersions(units[i].Firmware, newest) < 0 && units[i].Firmware != "" {
			row.Newest = newest
		}
		out.Rows = append(out.Rows, row)
		out.Todo = append(out.Todo, s.todo(units[i], row)...)
	}
	out.Words = healthWords(units, out.Todo)
	return out, nil
}

func (s *Server) keptRow(f inForce, c *site.Controller) KeptRow {
	row := KeptRow{ID: c.ID, Name: c.Name, Model: c.Model, Place: c.Place, HasEvent: c.Events()}
	row.People = [2]int{f.outlines.Of(c.ID).People, c.People}
	used := map[point.Address]bool{}
	for _, u := range f.Config.Uses(c.ID) {
		used[u.At] = true
	}
	for _, at := range c.Terminals() {
		of := map[point.Kind]*[2]int{point.Reader: &row.Readers, point.Input: &row.Inputs,
			point.Output: &row.Outputs}[at.Kind]
		of[1]++
		if used[at] {
			of[0]++
		}
	}
	row.Doors[1] = c.Doors()
	var drops []string
	for i := range f.Config.Doors {
		d := &f.Config.Doors[i]
		if d.ControllerID != c.ID {
			continue
		}
		row.Doors[0]++
		if d.FailSafe && !d.OutOfUse {
			drops = append(drops, d.Name)
		}
	}
	row.Restart = fmt.Sprintf("For about two seconds %s decides nothing: nobody passes its %s. What they hold for an operator or a lockdown goes on afterwards.",
		c.Name, counted(row.Doors[0], "door", "doors"))
	if len(drops) > 0 {
		row.Restart += " Fail-safe locks may let go for a moment: " + strings.Join(drops, ", ") + "."
	}
	return row
}

// driftSaid is how far off a clock may be before the table says so.
const driftSaid = 5000

// todo lists what is not well with one controller.
func (s *Server) todo(u Unit, row KeptRow) (out []Todo) {
	add := func(words, mend, fix string) { out = append(out, Todo{u.ID, words, mend, fix}) }
	if !u.Online {
		add(u.Name+" does not answer: "+u.Trouble,
			"Look at its power and its network. Its doors go on deciding by what they hold.", "")
		return out
	}
	if u.MainsLost {
		add(u.Name+" is on its battery", "Look at the mains fuse of its supply; the battery lasts some hours.", "")
	}
	if u.BatteryLow {
		add("The battery of "+u.Name+" is low", "Change it: without mains its doors decide no longer.", "")
	}
	if u.LidOpen {
		add("The box of "+u.Name+" is open", "Go and look who opened it, and close it.", "")
	}
	if u.Drift() > driftSaid {
		add(fmt.Sprintf("The clock of %s is %d s off", u.Name, u.Drift()/1000), "Set it.", "set-clock")
	}
	if u.Silent > 0 {
		add(fmt.Sprintf("%s at %s not answer", counted(u.Silent, "reader", "readers"), u.Name),
			"Open its terminals to see which; look at cable and power.", "")
	}
	if u.Interrupted != "" {
		add(fmt.Sprintf("The update of %s to %s was interrupted; it goes on with %s", u.Name, u.Interrupted, u.Firmware),
			"Update it again.", "update")
	}
	if row.Lacks {
		add(u.Name+" lacks something that was saved", "Send it.", "send")
	}
	return out
}

// Drift is how far the clock is off, either way, in milliseconds.
func (u Unit) Drift() int64 { return max(u.DriftMs, -u.DriftMs) }

func healthWords(units []Unit, todo []Todo) string {
	if len(units) == 0 {
		return "No controller is in service yet."
	}
	ill := map[site.ID]bool{}
	for _, t := range todo {
		ill[t.ID] = true
	}
	if len(ill) == 0 {
		return fmt.Sprintf("**All %s are well**: they answer, their clocks are right, nothing waits to be sent.",
			counted(len(units), "controller", "controllers"))
	}
	return fmt.Sprintf("**%d of %s %s attention**; the others are well.", len(ill),
		counted(len(units), "controller", "controllers"),
		map[bool]string{true: "needs", false: "need"}[len(ill) == 1])
}

// zoneChanges tells when the clocks change next where controllers are.
func (s *Server) zoneChanges(f inForce) []ZoneChange {
	out := []ZoneChange{}
	seen := map[string]bool{}
	for i := range f.Config.Controllers {
		z := f.Clock(f.Config.Controllers[i].ID)
		if seen[z.Name] {
			continue
		}
		seen[z.Name] = true
		out = append(out, ZoneChange{z.Name, z.NextChange(s.now())})
	}
	return out
}

// newest remembers the firmware that lies in the rack's folder: it is asked for now and then, not with every look.
type newest struct {
	mu    sync.Mutex
	ask   func() ([]link.Release, error)
	known []link.Release
	at    time.Time
}

// releasesAge is how old what is known of the releases may be.
const releasesAge = 30 * time.Second

// list returns the releases, oldest first; none where nobody knows of any.
func (n *newest) list() []link.Release {
	n.mu.Lock()
	defer n.mu.Unlock()
	if n.ask == nil || time.Since(n.at) < releasesAge {
		return n.known
	}
	n.at = time.Now()
	if list, err := n.ask(); err == nil {
		n.known = list
	}
	return n.known
}

// setClocks sets the clocks of some controllers, or of all that answer.
func (s *Server) setClocks(ctx context.Context, ids []site.ID) (Moved, error) {
	if len(ids) == 0 {
		for _, u := range s.unitsNow() {
			if u.Online {
				ids = append(ids, u.ID)
			}
		}
	}
	set := 0
	var silent []string
	for _, id := range ids {
		if err := s.setClock(ctx, id); err != nil {
			silent = append(silent, s.current().Name(id))
			continue
		}
		set++
	}
	words := counted(set, "clock is", "clocks are") + " set."
	if len(silent) > 0 {
		words += " Not reached: " + strings.Join(silent, ", ") + "."
	}
	return Moved{words}, nil
}

func (s *Server) setClock(ctx context.Context, id site.ID) error {
	u, err := s.unit(id)
	if err != nil {
		return err
	}
	var st link.Status
	if err := s.call(ctx, id, link.OpSetClock, link.Clock{Now: s.now()}, &st); err != nil {
		return err
	}
	s.heard(u, st)
	return s.Store.Note(ctx, s.who(ctx), "clock set", "controller", id, s.current().Name(id))
}

// liveUnits is what findings are told of controllers at work.
func (s *Server) liveUnits() map[site.ID]review.Unit {
	out := map[site.ID]review.Unit{}
	lacking, unreachable := s.lackingFeatures(), s.unreachable()
	s.mu.RLock()
	defer s.mu.RUnlock()
	for id, u := range s.units {
		x := review.Unit{Online: u.online, Trouble: u.trouble, Readers: u.status.Readers, Unreachable: unreachable[id]}
		if u.heardAt != 0 {
			x.Lacks = lacking[id]
			x.Since, x.DriftMs = u.since, int64(u.status.Clock-u.heardAt)
		}
		out[id] = x
	}
	return out
}

// lackingFeatures says what the firmware of each controller has not yet, by the releases that lie ready.
func (s *Server) lackingFeatures() map[site.ID]map[string]string {
	out := map[site.ID]map[string]string{}
	list := s.newest.list()
	for _, u := range s.unitsNow() {
		if u.Firmware == "" {
			continue
		}
		m := map[string]string{}
		for _, r := range list {
			for _, f := range r.Provides {
				if m[f] == "" && link.CompareVersions(u.Firmware, r.Version) < 0 && !providedBefore(list, f, u.Firmware) {
					m[f] = fmt.Sprintf("%s need %s; %s has %s", f, r.Version, u.Name, u.Firmware)
				}
			}
		}
		if len(m) > 0 {
			out[u.ID] = m
		}
	}
	return out
}

// providedBefore reports whether a firmware, or one before it, has a feature already.
func providedBefore(list []link.Release, feature, version string) bool {
	return slices.ContainsFunc(list, func(r link.Release) bool {
		return link.CompareVersions(r.Version, version) <= 0 && slices.Contains(r.Provides, feature)
	})
}

// stirring is what of a live unit findings depend on, so that they are worked out again when it changes.
func stirring(units map[site.ID]review.Unit, now hours.Instant) string {
	ids := make([]site.ID, 0, len(units))
	for id := range units {
		ids = append(ids, id)
	}
	slices.Sort(ids)
	var b strings.Builder
	for _, id := range ids {
		u := units[id]
		silent := 0
		for _, answers := range u.Readers {
			if !answers {
				silent++
			}
		}
		long := !u.Online && u.Since != 0 && now-u.Since > hours.FullDay
		fmt.Fprintf(&b, "%d %t %t %d %t %d;", id, u.Online, long, silent, u.DriftMs > 10_000 || u.DriftMs < -10_000,
			len(u.Lacks))
	}
	return b.String()
}

func (s *Server) keepRoutes(api huma.API) {
	huma.Get(api, "/api/keep", func(ctx context.Context, _ *struct{}) (*output[Kept], error) { return give(s.kept(ctx)) })
	huma.Get(api, "/api/releases", func(context.Context, *struct{}) (*output[[]link.Release], error) {
		return give(orNone(s.newest.list()), nil)
	})
	huma.Get(api, "/api/models",
		func(context.Context, *struct{}) (*output[[]site.Model], error) { return give(site.Models, nil) })
	huma.Get(api, "/api/power", func(context.Context, *struct{}) (*output[[]power.Report], error) {
		c := s.current().Config
		out := []power.Report{}
		for i := range c.Supplies {
			out = append(out, power.Check(c, &c.Supplies[i]))
		}
		return give(out, nil)
	})
	huma.Post(api, "/api/set-clocks", func(ctx context.Context, in *struct {
		Body struct {
			IDs []site.ID `json:"ids" doc:"Of controllers; none listed: all that answer"`
		}
	}) (*output[Moved], error) {
		return give(s.setClocks(ctx, in.Body.IDs))
	})
	huma.Post(api, "/api/controllers/{id}/restart", func(ctx context.Context, in *idInput) (*struct{}, error) {
		if err := s.call(ctx, in.ID, link.OpRestart, nil, nil); err != nil {
			return nil, err
		}
		return nil, s.Store.Note(ctx, s.who(ctx), "restarted", "controller", in.ID, s.current().Name(in.ID))
	})
	huma.Post(api, "/api/controllers/{id}/update", func(ctx context.Context, in *struct {
		ID   site.ID `path:"id"`
		Body link.Update
	}) (*struct{}, error) {
		if err := s.call(ctx, in.ID, link.OpUpdate, in.Body, nil); err != nil {
			return nil, err
		}
		return nil, s.Store.Note(ctx, s.who(ctx), "update to "+in.Body.Version+" begun", "controller", in.ID,
			s.current().Name(in.ID))
	})
	s.addressRoutes(api)
	s.handRoutes(api)
}

// handRoutes lay hands on a stand-in itself: its power, its box, its wires.
func (s *Server) handRoutes(api huma.API) {
	huma.Post(api, "/api/controllers/{id}/hand", func(_ context.Context, in *struct {
		ID   site.ID `path:"id"`
		Body struct {
			Do string        `json:"do" enum:"mains,battery,lid,power,network,open,close,cut,short,mend,reader,cover"`
			On bool          `json:"on,omitempty" doc:"Mains are there, the battery is good, the lid is closed, the reader is plugged in"`
			At point.Address `json:"at,omitempty" doc:"Of a wire or a reader: its terminal"`
		}
	}) (*struct{}, error) {
		c := s.current().Config.Controller(in.ID)
		if c == nil {
			return nil, say(store.ErrMissing)
		}
		return nil, s.layHand(c.Serial, in.Body.Do, in.Body.At, in.Body.On)
	})
}

// notOnline reports whether a call failed because nobody answered.
func notOnline(err error) bool {
	return errors.Is(err, link.ErrOffline) || errors.Is(err, context.DeadlineExceeded) || errors.Is(err, context.Canceled)
}

// callTime is how long a controller may take to answer.
const callTime = 5 * time.Second

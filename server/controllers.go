package server

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"maps"
	"slices"
	"strings"

	"github.com/danielgtaylor/huma/v2"

	"amberkeystone/core/hours"
	"amberkeystone/core/point"
	"amberkeystone/core/site"
	"amberkeystone/link"
	"amberkeystone/rack"
	"amberkeystone/store"
)

// unit is a controller in service: its link and what it last said. Guarded by Server.mu.
type unit struct {
	id      site.ID
	link    store.Link
	keeper  *link.Keeper
	online  bool
	since   hours.Instant // online or offline since then
	status  link.Status
	heardAt hours.Instant
	wires   int // how often its terminals said something else
	trouble string
	sending *Progress
	stop    context.CancelFunc // of what is being sent
	failed  string             // why the last send did not end
}

// Unit is the live state of a controller in service.
type Unit struct {
	ID       site.ID       `json:"id"`
	SiteID   site.ID       `json:"siteId"`
	Name     string        `json:"name"`
	Address  string        `json:"address"`
	Online   bool          `json:"online"`
	Since    hours.Instant `json:"since" doc:"Unix milliseconds"`
	Trouble  string        `json:"trouble" doc:"Why it is offline, in words"`
	DriftMs  int64         `json:"driftMs" doc:"How far its clock is ahead of the server's when last heard"`
	Firmware string        `json:"firmware"`
	Hash     string        `json:"hash" doc:"SHA-256 of the image it holds"`
	Blinking bool          `json:"blinking"`
	Sending  *Progress     `json:"sending,omitempty"`
	Failed   string        `json:"failed,omitempty" doc:"Why the last send to it did not end"`

	Kept        int    `json:"kept" doc:"Events that wait to be fetched"`
	MainsLost   bool   `json:"mainsLost" doc:"It is on its battery"`
	BatteryLow  bool   `json:"batteryLow"`
	Millivolts  int    `json:"millivolts" doc:"Of its battery; 0: not known"`
	LidOpen     bool   `json:"lidOpen" doc:"Its box is open"`
	Silent      int    `json:"silent" doc:"Readers of its doors that do not answer"`
	Updating    string `json:"updating" doc:"The firmware that it is taking"`
	Percent     int    `json:"percent" doc:"How much of that is there"`
	Wires       int    `json:"wires" doc:"Grows when its terminals say something else"`
	Interrupted string `json:"interrupted" doc:"A firmware that did not arrive whole; the old one goes on"`
}

// Progress is how far a send is.
type Progress struct {
	Sent int `json:"sent"`
	Size int `json:"size"`
}

// keep begins to hold the link to a controller.
func (s *Server) keep(l store.Link) {
	u := &unit{id: l.ControllerID, link: l, since: s.now(), trouble: "not reached yet"}
	s.mu.Lock()
	old := s.units[l.ControllerID]
	s.units[l.ControllerID] = u
	u.keeper = link.Keep(l.Address, link.Key(l.Key), l.Identity, link.Hooks{
		Known: func(identity []byte) {
			if err := s.Store.SetIdentity(s.ctx, u.id, identity); err != nil {
				slog.Error("the identity of a controller was not kept", "controller", u.id, "err", err)
			}
		},
		Online:  func(st link.Status) { s.heard(u, st); s.resend(u.id); go s.settleAddress(u) },
		State:   func(st link.Status) { s.heard(u, st) },
		Events:  func(e link.Events) error { return s.take(u, e) },
		Offline: func(err error) { s.lost(u, err) },
	})
	s.mu.Unlock()
	if old != nil {
		old.keeper.Close()
	}
}

func (s *Server) heard(u *unit, st link.Status) {
	s.mu.Lock()
	if !u.online {
		u.online, u.since, u.trouble = true, s.now(), ""
	}
	if was := &u.status; !maps.Equal(was.Readers, st.Readers) || !maps.Equal(was.Inputs, st.Inputs) ||
		!maps.Equal(was.Outputs, st.Outputs) || !slices.Equal(was.Opened, st.Opened) {
		u.wires++
	}
	u.status, u.heardAt = st, s.now()
	s.mu.Unlock()
	s.poke()
}

func (s *Server) lost(u *unit, err error) {
	words := "it does not answer at " + u.link.Address
	switch {
	case errors.Is(err, link.ErrKey):
		words = "something answers at " + u.link.Address + ", but it does not have this controller's key"
	case errors.Is(err, link.ErrIdentity):
		words = "another controller answers at " + u.link.Address +
			" with this one's key: it was copied. Look at the place itself; if the device was replaced, reset it and take it into service again"
	case errors.Is(err, link.ErrSilent):
		words = "it is connected at " + u.link.Address + " and says nothing any more"
	}
	s.mu.Lock()
	changed := u.online || u.trouble != words
	if u.online {
		u.online, u.since = false, s.now()
	}
	u.trouble = words
	s.mu.Unlock()
	if changed {
		slog.Info("controller offline", "controller", u.id, "err", err)
		s.poke()
		s.reactTo(happened{controller: u.id, offline: true})
	}
}

// rackSeen takes what the stand-ins show. A unit that answers at a new address is followed there.
func (s *Server) rackSeen(views []rack.View) {
	var moved []store.Link
	s.mu.Lock()
	for _, v := range views {
		s.racks[v.Serial] = v
		for _, c := range s.force.Config.Controllers {
			if u := s.units[c.ID]; u != nil && c.Serial == v.Serial && u.link.Address != v.Address {
				l := u.link
				l.Address = v.Address
				moved = append(moved, l)
			}
		}
	}
	s.mu.Unlock()
	for _, l := range moved {
		s.keep(l)
	}
	s.hub.send(note{Type: "rack"})
	if digest := foundDigest(views); digest != s.foundAs {
		s.foundAs = digest
		s.hub.send(note{Type: "found"})
	}
	s.poke()
}

// foundDigest is what lists of found controllers and first doors show of the rack: while it is the same nobody needs to
// ask again.
func foundDigest(views []rack.View) string {
	var b strings.Builder
	for _, v := range views {
		last := hours.Instant(0)
		if n := len(v.Reads); n > 0 {
			last = v.Reads[n-1].At
		}
		fmt.Fprintf(&b, "%s %s %t %s %t %s %s %d %d;", v.Serial, v.Address, v.Keyed, v.Code, v.Blinking, v.Fault, v.Firmware,
			len(v.Reads), last)
	}
	return b.String()
}

func (s *Server) controllerRemoved(id site.ID) {
	s.mu.Lock()
	u := s.units[id]
	delete(s.units, id)
	s.mu.Unlock()
	if u != nil {
		u.keeper.Close()
	}
}

func (s *Server) unit(id site.ID) (*unit, error) {
	s.mu.RLock()
	defer s.mu.RUnlock()
	u := s.units[id]
	if u == nil {
		return nil, huma.Error404NotFound(
			"This controller has not been taken into service here. Build, Found: take it into service.",
		)
	}
	return u, nil
}

// call asks a controller and says in words when it does not answer.
func (s *Server) call(ctx context.Context, id site.ID, op string, in, out any) error {
	u, err := s.unit(id)
	if err != nil {
		return err
	}
	ctx, cancel := context.WithTimeout(ctx, callTime)
	defer cancel()
	if err := u.keeper.Call(ctx, op, in, out); err != nil {
		if !notOnline(err) {
			return huma.Error409Conflict(s.current().Name(id) + " refuses: " + err.Error() + ".")
		}
		return huma.Error503ServiceUnavailable(
			s.current().Name(id) + " does not answer; look at its power and network, then try again.",
		)
	}
	return nil
}

func (s *Server) unitsNow() []Unit {
	s.mu.RLock()
	defer s.mu.RUnlock()
	out := []Unit{}
	silent := s.silentReaders()
	for _, c := range s.force.Config.Controllers {
		u := s.units[c.ID]
		if u == nil {
			out = append(out, Unit{ID: c.ID, SiteID: c.SiteID, Name: c.Name, Trouble: "no key yet: take it into service again"})
			continue
		}
		x := Unit{ID: c.ID, SiteID: c.SiteID, Name: c.Name, Address: u.link.Address, Online: u.online, Since: u.since,
			Trouble:  u.trouble,
			Firmware: u.status.Firmware, Hash: u.status.Hash, Blinking: s.racks[c.Serial].Blinking}
		if u.sending != nil {
			p := *u.sending
			x.Sending = &p
		}
		x.Failed = u.failed
		if u.heardAt != 0 {
			x.DriftMs = int64(u.status.Clock - u.heardAt)
		}
		st := &u.status
		x.Kept, x.MainsLost, x.BatteryLow, x.Millivolts, x.LidOpen = st.Kept, st.MainsLost, st.BatteryLow, st.Millivolts,
			st.LidOpen
		x.Updating, x.Percent, x.Interrupted = st.Updating, st.Percent, st.Interrupted
		x.Silent, x.Wires = silent[c.ID], u.wires
		out = append(out, x)
	}
	return out
}

// silentReaders counts, for each controller, the readers of its doors that do not answer. Server.mu is held.
func (s *Server) silentReaders() map[site.ID]int {
	out := map[site.ID]int{}
	for i := range s.force.Config.Doors {
		d := &s.force.Config.Doors[i]
		u := s.units[d.ControllerID]
		if u == nil {
			continue
		}
		p := d.Wired()
		for _, at := range []point.Address{p.In, p.Out} {
			if answers, there := u.status.Readers[at]; there && !answers {
				out[d.ControllerID]++
			}
		}
	}
	return out
}

// Found is a controller that answers on the network.
type Found struct {
	Serial    string `json:"serial"`
	Model     string `json:"model"`
	Address   string `json:"address"`
	Ports     int    `json:"ports"`
	People    int    `json:"people"`
	State     string `json:"state" enum:"new,here,elsewhere" doc:"Without a key, in service here, or in service with another key"`
	Name      string `json:"name" doc:"Its name, where it is in service here"`
	Network   bool   `json:"network"`
	Blinking  bool   `json:"blinking"`
	HasImage  bool   `json:"hasImage"`
	Firmware  string `json:"firmware"`
	Holds     string `json:"holds" doc:"What it holds, in words, as far as anybody without its key can tell"`
	StandIn   bool   `json:"standIn"`
	Forgotten bool   `json:"forgotten" doc:"In service here, but it has lost its key"`
	Code      string `json:"code" doc:"It is being taken into service: the code that this server shows"`
	Shows     string `json:"shows" doc:"The code that the controller itself shows; it is read there, by a person"`
	Fault     string `json:"fault" doc:"Why it has stopped; empty: it has not"`
}

func (s *Server) found(ctx context.Context) ([]Found, error) {
	views, err := s.reachable()
	if err != nil {
		return nil, err
	}
	takings, err := s.Store.Takings(ctx)
	if err != nil {
		return nil, err
	}
	code := map[string]string{}
	for _, t := range takings {
		code[t.Serial] = t.Code
	}
	out := make([]Found, 0, len(views))
	here := map[string]*site.Controller{}
	c := s.current().Config
	for i := range c.Controllers {
		here[c.Controllers[i].Serial] = &c.Controllers[i]
	}
	for _, v := range views {
		f := Found{
			Serial:   v.Serial,
			Model:    v.Model,
			Address:  v.Address,
			Ports:    v.Ports,
			People:   v.People,
			Network:  v.Network,
			Blinking: v.Blinking,
			HasImage: v.Hash != "",
			StandIn:  !s.probed(v.Serial),
			Firmware: v.Firmware,
			State:    "new",
			Fault:    v.Fault,
		}
		if v.Code != "" && code[v.Serial] != "" {
			f.Code, f.Shows = code[v.Serial], v.Code
		}
		f.Holds = "nothing"
		if f.HasImage {
			f.Holds = "a configuration"
			if n := len(v.Doors); n > 0 {
				f.Holds = "a configuration of " + counted(n, "door", "doors")
			}
		}
		if v.Kept > 0 {
			f.Holds += fmt.Sprintf(", %d events not handed over", v.Kept)
		}
		switch x := here[v.Serial]; {
		case x != nil:
			f.State, f.Name, f.Forgotten = "here", x.Name, !v.Keyed
		case v.Keyed:
			f.State = "elsewhere"
		}
		out = append(out, f)
	}
	return out, nil
}

func (s *Server) controllerRoutes(api huma.API) {
	huma.Get(
		api,
		"/api/units",
		func(context.Context, *struct{}) (*output[[]Unit], error) { return give(s.unitsNow(), nil) },
	)
	huma.Get(
		api,
		"/api/found",
		func(ctx context.Context, _ *struct{}) (*output[[]Found], error) { return give(s.found(ctx)) },
	)
	huma.Get(
		api,
		"/api/zones",
		func(context.Context, *struct{}) (*output[[]string], error) { return give(zoneNames(), nil) },
	)
	s.takingRoutes(api)
	s.terminalRoutes(api)
	s.keepRoutes(api)
	s.findRoutes(api)
	s.togetherRoutes(api)
	s.firstRoutes(api)
	s.formatRoutes(api)
	huma.Post(api, "/api/controllers/{id}/blink", func(ctx context.Context, in *idInput) (*struct{}, error) {
		return nil, s.call(ctx, in.ID, link.OpBlink, nil, nil)
	})
	huma.Post(api, "/api/controllers/{id}/set-clock", func(ctx context.Context, in *idInput) (*struct{}, error) {
		return nil, s.setClock(ctx, in.ID)
	})
	huma.Post(
		api,
		"/api/controllers/{id}/self-test",
		func(ctx context.Context, in *idInput) (*output[[]TestLine], error) {
			return give(s.selfTest(ctx, in.ID))
		},
	)
}

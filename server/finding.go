package server

import (
	"context"
	"net"
	"net/netip"
	"slices"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"amberkeystone/core/point"
	"amberkeystone/link"
	"amberkeystone/rack"
	"amberkeystone/store"
)

// reachable lists the controllers that are known on the network: those of the rack, and those that were asked by
// address.
func (s *Server) reachable() ([]rack.View, error) {
	var views []rack.View
	if s.Rack != "" {
		var err error
		if views, err = s.rack.List(); err != nil {
			return nil, huma.Error503ServiceUnavailable(
				"The stand-in rack does not answer at " + s.Rack + "; start it with: amber-keystone rack",
			)
		}
	}
	s.mu.RLock()
	defer s.mu.RUnlock()
	for serial, v := range s.asked {
		if !slices.ContainsFunc(views, func(x rack.View) bool { return x.Serial == serial }) {
			views = append(views, v)
		}
	}
	return views, nil
}

// probed reports whether a controller is known only because it was asked by its address.
func (s *Server) probed(serial string) bool {
	s.mu.RLock()
	defer s.mu.RUnlock()
	_, standIn := s.racks[serial]
	return !standIn
}

// usualPort is where a controller answers unless somebody says another.
const usualPort = "27901"

// findTime is how long an address may take to answer.
const findTime = 3 * time.Second

// find asks an address who answers there. A serial number is looked for among those that are known.
func (s *Server) find(ctx context.Context, text string) ([]Found, error) {
	text = strings.TrimSpace(text)
	all, err := s.found(ctx)
	if err != nil || text == "" {
		return all, err
	}
	matches := func(f Found) bool {
		return strings.Contains(strings.ToLower(f.Serial), strings.ToLower(text)) || strings.HasPrefix(f.Address, text)
	}
	if here := slices.DeleteFunc(slices.Clone(all), func(f Found) bool { return !matches(f) }); len(here) > 0 {
		return here, nil
	}
	at := text
	if _, _, err := net.SplitHostPort(text); err != nil {
		at = net.JoinHostPort(text, usualPort)
	}
	if _, err := netip.ParseAddrPort(at); err != nil {
		return nil, say(&store.Taken{Field: "at", Words: "no controller that is known here has “" + text +
			"” in its serial number; to ask an address write it in numbers, such as 10.20.0.31"})
	}
	who, err := s.askAddress(ctx, at)
	if err != nil {
		return nil, err
	}
	if all, err = s.found(ctx); err != nil {
		return nil, err
	}
	return slices.DeleteFunc(all, func(f Found) bool { return f.Serial != who.Serial }), nil
}

// askAddress asks who answers at an address, and remembers them.
func (s *Server) askAddress(ctx context.Context, at string) (link.Who, error) {
	dialer := net.Dialer{Timeout: findTime}
	c, err := dialer.DialContext(ctx, "tcp", at)
	if err != nil {
		return link.Who{},
			huma.Error404NotFound("Nobody answers at " + at + ". Look at the address, the power and the network.")
	}
	defer c.Close()
	who, err := link.Ask(c)
	if err != nil {
		return link.Who{}, huma.Error404NotFound("Something answers at " + at + " that is no controller of this kind.")
	}
	v := rack.View{Firmware: who.Firmware, Keyed: who.Keyed, Network: true}
	v.Serial, v.Model, v.Ports, v.People, v.Address = who.Serial, who.Model, who.Doors, who.People, at
	if who.Holds {
		v.Hash = "held"
	}
	s.mu.Lock()
	defer s.mu.Unlock()
	if s.asked == nil {
		s.asked = map[string]rack.View{}
	}
	if len(s.asked) < 1000 {
		s.asked[who.Serial] = v
	}
	return who, nil
}

// settleAddress gives a controller the fixed address that the configuration says, where it is at another.
func (s *Server) settleAddress(u *unit) {
	c := s.current().Config.Controller(u.id)
	if c == nil || !c.Network.Fixed {
		return
	}
	p, err := netip.ParsePrefix(c.Network.Address)
	host, _, err2 := net.SplitHostPort(u.link.Address)
	if err != nil || err2 != nil || host == p.Addr().String() {
		return
	}
	// it is tried again with the next greeting
	_ = s.call(s.ctx, u.id, link.OpAddress, link.Address{Fixed: true, IP: p.Addr().String()}, nil)
}

func (s *Server) findRoutes(api huma.API) {
	huma.Post(api, "/api/find-controllers", func(ctx context.Context, in *struct {
		Body struct {
			At string `json:"at" maxLength:"100" doc:"An address, or part of a serial number; empty: all that are known"`
		}
	}) (*output[[]Found], error) {
		return give(s.find(ctx, in.Body.At))
	})
	huma.Post(api, "/api/found/{serial}/blink", func(_ context.Context, in *struct {
		Serial string `path:"serial"`
	}) (*struct{}, error) {
		return nil, s.layHand(in.Serial, "blink", point.Address{}, true)
	})
}

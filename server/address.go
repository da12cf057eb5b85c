package server

import (
	"context"
	"net/netip"

	"github.com/danielgtaylor/huma/v2"

	"amberkeystone/core/site"
	"amberkeystone/link"
	"amberkeystone/store"
)

// AddressSums is what is worked out for an address before it is given.
type AddressSums struct {
	Hosts    []string `json:"hosts" doc:"The subnets that this computer is in"`
	Proposed string   `json:"proposed" doc:"A free address; empty: none is known"`
}

// takenAddress tells who has an address, as far as is known here.
func (s *Server) takenAddress(but site.ID) func(netip.Addr) string {
	by := map[netip.Addr]string{}
	c := s.current().Config
	for i := range c.Controllers {
		x := &c.Controllers[i]
		if p, err := netip.ParsePrefix(x.Network.Address); err == nil && x.Network.Fixed && x.ID != but {
			by[p.Addr()] = x.Name
		}
	}
	for _, h := range interfaces() {
		by[h.Prefix.Addr()] = "this computer"
	}
	return func(a netip.Addr) string { return by[a] }
}

func (s *Server) addressSums(id site.ID) AddressSums {
	out := AddressSums{Hosts: []string{}}
	taken := s.takenAddress(id)
	var after netip.Prefix
	for _, h := range interfaces() {
		out.Hosts = append(out.Hosts, h.Prefix.Masked().String()+" ("+h.Name+")")
		if !after.IsValid() || h.Prefix.Addr().IsLoopback() && s.Rack != "" { // the stand-ins live on this computer
			after = h.Prefix
		}
	}
	if after.IsValid() {
		if after.Addr().IsLoopback() { // a subnet of its own, so that nobody else's address is proposed
			after = netip.PrefixFrom(netip.MustParseAddr("127.20.0.30"), 24)
		}
		out.Proposed, _ = site.Propose(after, func(a netip.Addr) bool { return taken(a) != "" })
	}
	return out
}

// setAddress gives a controller its address at the place itself, then keeps it here.
func (s *Server) setAddress(ctx context.Context, id site.ID, n site.Network) (Moved, error) {
	f, err := s.settled(ctx)
	if err != nil {
		return Moved{}, err
	}
	c := f.Config.Controller(id)
	if c == nil {
		return Moved{}, store.ErrMissing
	}
	if faults := n.Placed(interfaces(), s.takenAddress(id)); len(faults) > 0 {
		return Moved{}, faults
	}
	a := link.Address{Fixed: n.Fixed}
	words := c.Name + " takes the address that the network gives it."
	if n.Fixed {
		a.IP = netip.MustParsePrefix(n.Address).Addr().String()
		words = c.Name + " is at " + a.IP + " now; it comes back there in a moment."
	}
	if err := s.call(ctx, id, link.OpAddress, a, nil); err != nil {
		return Moved{}, err
	}
	next := *c
	next.Network = n
	if err := over(ctx, s, f, id, next); err != nil {
		return Moved{}, err
	}
	return Moved{words}, s.settle(ctx)
}

// unreachable says which fixed addresses are in no subnet of this computer, and have no gateway.
func (s *Server) unreachable() map[site.ID]string {
	out := map[site.ID]string{}
	var here []site.Host
	c := s.current().Config
	for i := range c.Controllers {
		x := &c.Controllers[i]
		if !x.Network.Fixed {
			continue
		}
		if here == nil {
			here = interfaces()
		}
		for _, f := range x.Network.Placed(here, func(netip.Addr) string { return "" }) {
			out[x.ID] = f.Words
		}
	}
	return out
}

func (s *Server) addressRoutes(api huma.API) {
	huma.Get(api, "/api/controllers/{id}/address", func(_ context.Context, in *idInput) (*output[AddressSums], error) {
		return give(s.addressSums(in.ID), nil)
	})
	huma.Put(api, "/api/controllers/{id}/address", func(ctx context.Context, in *struct {
		ID   site.ID `path:"id"`
		Body site.Network
	}) (*output[Moved], error) {
		return give(s.setAddress(ctx, in.ID, in.Body))
	})
}

package server

import (
	"net"
	"net/netip"

	"github.com/danielgtaylor/huma/v2"

	"amberkeystone/core/point"
	"amberkeystone/core/site"
	"amberkeystone/rack"
)

// interfaces lists the IPv4 networks that this computer is in, as its system tells.
func interfaces() (out []site.Host) {
	list, err := net.Interfaces()
	if err != nil {
		return nil
	}
	for _, i := range list {
		addrs, err := i.Addrs()
		if err != nil || i.Flags&net.FlagUp == 0 {
			continue
		}
		for _, a := range addrs {
			if p, err := netip.ParsePrefix(a.String()); err == nil && p.Addr().Is4() {
				out = append(out, site.Host{Name: i.Name, Prefix: p})
			}
		}
	}
	return out
}

// layHand does something at a stand-in, as a person does who stands before it.
func (s *Server) layHand(serial, do string, at point.Address, on bool) error {
	v, err := s.rack.Do(rack.Hand{Serial: serial, Do: do, Point: at, On: on})
	if err != nil {
		return huma.Error503ServiceUnavailable(err.Error())
	}
	s.mu.Lock()
	s.racks[serial] = v
	s.mu.Unlock()
	return nil
}

package site

import (
	"fmt"
	"net/netip"
)

// Network is how a controller gets its address. The zero value is automatic (DHCP).
type Network struct {
	Fixed   bool   `json:"fixed,omitempty" doc:"It keeps the address that it is given here; else it gets one by DHCP"`
	Address string `json:"address,omitempty" doc:"With the length of the subnet's prefix" example:"10.20.0.31/24"`
	Gateway string `json:"gateway,omitempty" example:"10.20.0.1"`
	VLAN    int    `json:"vlan,omitempty" doc:"The VLAN of its socket, for whoever looks after the network; 0: not known"`
}

func (n *Network) check(fs *Faults) {
	fs.within("Network.vlan", "network.vlan", n.VLAN)
	if !n.Fixed {
		return
	}
	if f, bad := n.wrong(); bad {
		*fs = append(*fs, f)
	}
}

// wrong does the sums of a fixed address: IPv4 (RFC 791) with a prefix length (RFC 4632), an address of a host, and a
// gateway in the same subnet.
func (n *Network) wrong() (Fault, bool) {
	p, err := netip.ParsePrefix(n.Address)
	if err != nil || !p.Addr().Is4() {
		return Fault{"network.address", fmt.Sprintf("%q is no address with a prefix; write one such as 10.20.0.31/24",
			n.Address)}, true
	}
	a, net := p.Addr(), p.Masked()
	switch {
	case a.IsUnspecified() || a.IsMulticast() || a == netip.AddrFrom4([4]byte{255, 255, 255, 255}):
		return Fault{"network.address", a.String() + " is no address of one device; choose another"}, true
	case p.Bits() <= 30 && a == net.Addr():
		return Fault{"network.address", fmt.Sprintf("%s is the address of the subnet %s itself; choose another", a,
			net)}, true
	case p.Bits() <= 30 && a == broadcast(net):
		return Fault{"network.address", fmt.Sprintf("%s is the broadcast address of %s; choose another", a, net)}, true
	}
	if n.Gateway == "" {
		return Fault{}, false
	}
	g, err := netip.ParseAddr(n.Gateway)
	switch {
	case err != nil || !g.Is4():
		return Fault{"network.gateway", fmt.Sprintf("%q is no address; write one such as 10.20.0.1", n.Gateway)}, true
	case !net.Contains(g):
		return Fault{"network.gateway", fmt.Sprintf("%s is outside the subnet %s; the gateway is inside it", g, net)}, true
	case g == a:
		return Fault{"network.gateway", "the gateway has the controller's own address; choose another"}, true
	case p.Bits() <= 30 && (g == net.Addr() || g == broadcast(net)):
		return Fault{"network.gateway", fmt.Sprintf("%s is no address of a device in %s; choose another", g, net)}, true
	}
	return Fault{}, false
}

// broadcast returns the last address of an IPv4 subnet.
func broadcast(p netip.Prefix) netip.Addr {
	a := p.Masked().Addr().As4()
	for bit := p.Bits(); bit < 32; bit++ {
		a[bit/8] |= 1 << (7 - bit%8)
	}
	return netip.AddrFrom4(a)
}

// Host is a network that this host is in: its own address, with the prefix.
type Host struct {
	Name   string
	Prefix netip.Prefix
}

// Placed says what is wrong with a fixed address where it is to be used: one that somebody has, or that this host
// cannot reach. Taken tells who has an address; empty: nobody.
func (n *Network) Placed(hosts []Host, taken func(netip.Addr) string) Faults {
	var fs Faults
	if n.check(&fs); len(fs) > 0 || !n.Fixed {
		return fs
	}
	p := netip.MustParsePrefix(n.Address)
	near := false
	for _, h := range hosts {
		fs.add(h.Prefix.Addr() == p.Addr(), "network.address", "%s is this computer's own address (%s); choose another",
			p.Addr(), h.Name)
		near = near || h.Prefix.Masked().Contains(p.Addr())
	}
	if by := taken(p.Addr()); by != "" {
		fs.add(true, "network.address", "%s is the address of %s already; choose another", p.Addr(), by)
	}
	fs.add(!near && n.Gateway == "", "network.gateway",
		"%s is in none of this computer's subnets: without a gateway it cannot be reached", p.Masked())
	return fs
}

// Propose returns the lowest address after one in its subnet that nobody has, as a Network writes it; false where the
// subnet is full.
func Propose(after netip.Prefix, taken func(netip.Addr) bool) (string, bool) {
	last := broadcast(after)
	for a := after.Addr().Next(); after.Masked().Contains(a) && a != last; a = a.Next() {
		if !taken(a) {
			return netip.PrefixFrom(a, after.Bits()).String(), true
		}
	}
	for a := after.Masked().Addr().Next(); a.Less(after.Addr()); a = a.Next() {
		if !taken(a) {
			return netip.PrefixFrom(a, after.Bits()).String(), true
		}
	}
	return "", false
}

package site

import (
	"net/netip"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amberkeystone/core/point"
)

// The terminals that a port stands for are among those of every model that has the port.
func TestModelsHaveTheirPorts(t *testing.T) {
	for _, m := range Models {
		c := Controller{Model: m.Name, Ports: m.Doors}
		for port := 1; port <= m.Doors; port++ {
			p := PortPoints(port)
			for _, r := range p.List() {
				assert.True(t, c.Has(r.At), "%s %s", m.Name, r.At)
			}
		}
		assert.False(t, c.Has(point.At(point.Input, m.Board.Inputs+1)))
		assert.False(t, c.Has(point.Address{Board: 1, Kind: point.Output, Number: 1}))
	}
}

func TestExpanders(t *testing.T) {
	c := Controller{
		Name: "Riser", Zone: "UTC", Model: "Stand-in 1", Ports: 1,
		Expanders: []Expander{{1, OutputExpander, ""}, {3, InputExpander, "north"}},
	}
	assert.Empty(t, c.Check())
	assert.Equal(t, 2, c.FreeAddress())
	assert.True(t, c.Has(point.Address{Board: 1, Kind: point.Output, Number: 16}),
		"a relay expander has 16 outputs (common practice)")
	assert.False(t, c.Has(point.Address{Board: 1, Kind: point.Output, Number: 17}))
	assert.False(t, c.Has(point.Address{Board: 3, Kind: point.Output, Number: 1}))
	assert.Len(t, c.Terminals(), 2+4+2+16+16)
	c.Expanders = append(c.Expanders, Expander{0, "magnets", ""})
	assert.Equal(t, "expanders expanders[2].address expanders[2].kind", fields(c.Check()))
	c.Expanders = []Expander{{1, ReaderExpander, ""}}
	assert.Equal(t, 3, c.Doors())
}

// A door that is fitted to a controller never has a terminal that somebody else has, nor one that is not there.
func TestFit(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		c := &Config{Controllers: []Controller{{ID: 1, Name: "Riser", Model: "Stand-in 4", Ports: 4}}}
		if rapid.Bool().Draw(t, "expander") {
			c.Controllers[0].Expanders = []Expander{{2, ReaderExpander, ""}}
		}
		x := &c.Controllers[0]
		all := x.Terminals()
		for i := range rapid.IntRange(1, 9).Draw(t, "doors") {
			d := Door{ID: ID(10 + i), ControllerID: 1, Port: i + 1, Hardware: UsualHardware()}
			d.Out.Fitted = rapid.Bool().Draw(t, "both ways")
			if rapid.Bool().Draw(t, "odd") {
				d.Points = &Points{Lock: point.At(point.Output, rapid.IntRange(1, 7).Draw(t, "lock"))}
			}
			if err := c.Fit(&d); err != nil {
				return // it is full
			}
			c.Doors = append(c.Doors, d)
		}
		seen := map[point.Address]bool{}
		for _, u := range c.Uses(1) {
			require.False(t, seen[u.At], u.At.String())
			require.True(t, x.Has(u.At), u.At.String())
			require.Contains(t, all, u.At)
			seen[u.At] = true
		}
	})
}

func TestFitWords(t *testing.T) {
	c := &Config{
		Controllers: []Controller{{ID: 1, Name: "Riser", Model: "Stand-in 1", Ports: 1}},
		Inputs:      []Input{{ID: 5, ControllerID: 1, At: point.At(point.Input, 1), Use: InputFire}},
		Outputs:     []Output{{ID: 6, ControllerID: 1, At: point.At(point.Output, 2), Use: Siren}},
	}
	d := Door{ID: 9, ControllerID: 1, Port: 1, Hardware: UsualHardware()}
	require.NoError(t, c.Fit(&d))
	assert.Equal(t, point.At(point.Input, 2), d.Fitted().Exit)
	assert.Equal(t, point.At(point.Input, 3), d.Fitted().Contact, "the first that is free, as the port's own is taken")
	c.Doors = []Door{d}
	e := Door{ID: 10, ControllerID: 1, Port: 2, Hardware: UsualHardware()}
	assert.ErrorContains(t, c.Fit(&e), "no terminal left for the contact")
	assert.Contains(t, c.Uses(1), Use{point.At(point.Input, 1), "fire release", "input", 5, "", ""})
	d.OutOfUse = true
	assert.Equal(t, Points{}, d.Wired())
	assert.Equal(t, d.Fitted(), d.Terminals().keep(d.Fitted()))
}

// keep is p without what q does not have.
func (p Points) keep(q Points) Points {
	from := q.List()
	for i, to := range p.refs() {
		if from[i].At == (point.Address{}) {
			*to = point.Address{}
		}
	}
	return p
}

// The sums of a subnet against net/netip: an address that is accepted is one of its hosts, and so is a gateway.
func TestNetworkSums(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		bits := rapid.IntRange(8, 30).Draw(t, "bits")
		a := netip.AddrFrom4([4]byte{10, rapid.Byte().Draw(t, "b"), rapid.Byte().Draw(t, "c"), rapid.Byte().Draw(t, "d")})
		p := netip.PrefixFrom(a, bits)
		n := Network{Fixed: true, Address: p.String()}
		fs := n.Placed([]Host{{"eth0", p.Masked()}}, func(netip.Addr) string { return "" })
		inside := a != p.Masked().Addr() && p.Masked().Contains(a.Next())
		require.Equal(t, inside, len(fs) == 0, "%s %v", p, fs)
		if !inside {
			return
		}
		free, ok := Propose(p, func(x netip.Addr) bool { return x == a })
		if ok {
			q := netip.MustParsePrefix(free)
			require.True(t, p.Masked().Contains(q.Addr()))
			require.NotEqual(t, a, q.Addr())
			require.NotEqual(t, broadcast(p), q.Addr())
		}
	})
}

func TestNetworkWords(t *testing.T) {
	host := []Host{{"eth0", netip.MustParsePrefix("10.20.0.5/24")}}
	taken := func(a netip.Addr) string {
		if a.String() == "10.20.0.9" {
			return "North riser"
		}
		return ""
	}
	for _, c := range []struct{ address, gateway, want string }{
		{"10.20.0.31/24", "10.20.0.1", ""},
		{"10.20.0.31", "", "no address with a prefix"},
		{"10.20.0.0/24", "", "of the subnet"},
		{"10.20.0.255/24", "", "broadcast"},
		{"10.20.0.5/24", "", "this computer's own"},
		{"10.20.0.9/24", "", "North riser"},
		{"10.20.0.31/24", "10.20.1.1", "outside the subnet"},
		{"10.20.0.31/24", "10.20.0.31", "own address"},
		{"10.20.0.31/24", "10.20.0.255", "no address of a device"},
		{"10.21.0.31/24", "", "without a gateway"},
		{"10.21.0.31/24", "10.21.0.1", ""},
		{"224.0.0.1/24", "", "no address of one device"},
		{"fe80::1/64", "", "no address with a prefix"},
	} {
		n := Network{Fixed: true, Address: c.address, Gateway: c.gateway}
		fs := n.Placed(host, taken)
		if c.want == "" {
			assert.Empty(t, fs, c.address)
			continue
		}
		require.NotEmpty(t, fs, c.address)
		assert.Contains(t, fs[0].Words, c.want)
	}
	_, ok := Propose(netip.MustParsePrefix("10.0.0.1/30"), func(netip.Addr) bool { return true })
	assert.False(t, ok)
	assert.Empty(t, (&Network{Address: "nonsense"}).Placed(host, taken), "an automatic one needs none")
}

func TestOwnFormats(t *testing.T) {
	s := DefaultSettings()
	s.Formats = []OwnFormat{{
		Name: "Quay 37", Bits: 37, Facility: BitField{2, 12}, Number: BitField{14, 23},
		Parity: []BitParity{{1, "2-19", false}, {37, "19-36", true}}, Fixed: nil,
	}}
	s.Cards = append(s.Cards, CardFormat{Format: "Quay 37", Facilities: []uint64{7}})
	assert.Empty(t, s.Check())
	f := s.Format("Quay 37")
	require.NotNil(t, f)
	b, err := f.Encode(7, 123456)
	require.NoError(t, err)
	assert.Equal(t, 37, b.N)
	assert.Len(t, s.Accepts(nil), 3)
	assert.Len(t, s.Accepts(&Reader{Formats: []string{"Quay 37"}}), 1)
	p := Person{Name: "Ada", Credentials: []Credential{NewCard("Quay 37", 7, 99)}}
	assert.Empty(t, s.CheckCards(&p))
	p.Credentials = []Credential{NewCard("Quay 37", 4096, 99), NewCard("gone", 1, 1)}
	assert.Equal(t, "credentials[0].value credentials[1].format", fields(s.CheckCards(&p)))
	for _, c := range []struct {
		change func(*OwnFormat)
		want   string
	}{
		{func(o *OwnFormat) { o.Name = "26-bit" }, "formats[0].name"},
		{func(o *OwnFormat) { o.Bits = 4 }, "formats[0].bits"},
		{func(o *OwnFormat) { o.Number = BitField{} }, "formats[0].number"},
		{func(o *OwnFormat) { o.Number.First = 13 }, "formats[0].number"},
		{func(o *OwnFormat) { o.Parity[0].Over = "3-1" }, "formats[0].parity[0].over"},
		{func(o *OwnFormat) { o.Parity[0].Over = "1-4" }, "formats[0].parity[0].over"},
		{func(o *OwnFormat) { o.Parity[0].Over = "2-300" }, "formats[0].parity[0].over"},
		{func(o *OwnFormat) { o.Fixed = []FixedBit{{Bit: 5, One: true}} }, "formats[0].fixed[0]"},
	} {
		bad := s
		o := s.Formats[0]
		o.Parity = append([]BitParity(nil), o.Parity...)
		c.change(&o)
		bad.Formats = []OwnFormat{o}
		assert.Contains(t, fields(bad.Check()), c.want)
	}
}

func FuzzBitSet(f *testing.F) {
	f.Add("2-13", 26)
	f.Add("2-3, 5-6", 40)
	f.Fuzz(func(t *testing.T, text string, most int) {
		m, err := bitSet(text, most)
		if err != nil {
			return
		}
		for i := max(most, 0); i < 256; i++ {
			require.False(t, m.Has(i))
		}
	})
}

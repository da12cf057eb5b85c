package site

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

	"amberkeystone/core/cards"
)

// OwnFormat is a card format that the site defines. Bits are counted from 1, as people count them.
type OwnFormat struct {
	Name     string      `json:"name"`
	Bits     int         `json:"bits" doc:"Length of a read"`
	Facility BitField    `json:"facility,omitzero" doc:"Where the facility code is; none: the card has no such code"`
	Number   BitField    `json:"number" doc:"Where the card number is"`
	Parity   []BitParity `json:"parity,omitempty"`
	Fixed    []FixedBit  `json:"fixed,omitempty" doc:"Bits that are always the same"`
}

// BitField is a range of bits, the first the most significant.
type BitField struct {
	First int `json:"first" doc:"Its first bit, counted from 1"`
	Bits  int `json:"bits"`
}

// BitParity is a parity bit over others.
type BitParity struct {
	Bit  int    `json:"bit" doc:"The parity bit, counted from 1"`
	Over string `json:"over" doc:"The bits that it watches, such as 2-13 or 2-3,5-6"`
	Odd  bool   `json:"odd,omitempty" doc:"Odd parity; else even"`
}

// FixedBit is a bit that is always the same.
type FixedBit struct {
	Bit int  `json:"bit" doc:"Counted from 1"`
	One bool `json:"one,omitempty"`
}

// Facility gives a facility code a name.
type Facility struct {
	Code   uint64 `json:"code"`
	Name   string `json:"name"`
	SiteID ID     `json:"siteId,omitempty" doc:"The site whose cards carry it; 0: any"`
}

// Compile turns the definition into a format, or says what is wrong with it.
func (o *OwnFormat) Compile() (cards.Format, Faults) {
	var fs Faults
	f := cards.Format{Name: o.Name, Len: o.Bits, Number: o.Number.field(), Facility: o.Facility.field()}
	fs.add(o.Bits < 8 || o.Bits > cards.MaxBits, "bits", "a read has 8 to %d bits", cards.MaxBits)
	fs.add(o.Number.Bits < 1 || o.Number.Bits > 64, "number", "the card number has 1 to 64 bits")
	fs.add(o.Facility.Bits < 0 || o.Facility.Bits > 64, "facility", "a facility code has at most 64 bits")
	used := map[int]string{}
	claim := func(bit int, what, field string) {
		fs.add(bit < 1 || bit > o.Bits, field, "bit %d is outside the %d bits of the read", bit, o.Bits)
		fs.add(used[bit] != "" && used[bit] != what, field, "bit %d is in the %s already", bit, used[bit])
		used[bit] = what
	}
	for _, x := range []struct {
		what, field string
		BitField
	}{{"facility code", "facility", o.Facility}, {"card number", "number", o.Number}} {
		for bit := x.First; bit < x.First+min(x.Bits, cards.MaxBits); bit++ {
			claim(bit, x.what, x.field)
		}
	}
	for i, p := range o.Parity {
		field := fmt.Sprintf("parity[%d]", i)
		claim(p.Bit, fmt.Sprintf("parity bit %d", i+1), field+".bit")
		over, err := bitSet(p.Over, o.Bits)
		if err != nil {
			fs.add(true, field+".over", "%s", err)
			continue
		}
		fs.add(p.Bit >= 1 && p.Bit <= cards.MaxBits && over.Has(p.Bit-1), field+".over", "a parity bit does not watch itself")
		f.Parity = append(f.Parity, cards.Parity{Bit: p.Bit - 1, Over: over, Odd: p.Odd})
	}
	for i, x := range o.Fixed {
		claim(x.Bit, fmt.Sprintf("fixed bit %d", i+1), fmt.Sprintf("fixed[%d]", i))
		if x.Bit >= 1 && x.Bit <= cards.MaxBits {
			f.Fixed.Set(x.Bit - 1)
			if x.One {
				f.Ones.Set(x.Bit - 1)
			}
		}
	}
	if len(fs) > 0 {
		return cards.Format{}, fs
	}
	return cards.New(f), nil
}

func (b BitField) field() cards.Field { return cards.Field{From: b.First - 1, Len: b.Bits} }

// bitSet reads ranges of bits, such as 2-13 or 2-3,5-6.
func bitSet(text string, most int) (m cards.Mask, err error) {
	wrong := fmt.Errorf("%q is no set of bits; write it as 2-13, or 2-3,5-6", text)
	for part := range strings.SplitSeq(text, ",") {
		from, to, ranged := strings.Cut(strings.TrimSpace(part), "-")
		a, err := strconv.Atoi(strings.TrimSpace(from))
		b := a
		if err == nil && ranged {
			b, err = strconv.Atoi(strings.TrimSpace(to))
		}
		if err != nil || a > b {
			return m, wrong
		}
		if a < 1 || b > min(most, cards.MaxBits) {
			return m, fmt.Errorf("bits %d to %d are not all among the %d of the read", a, b, most)
		}
		for i := a; i <= b; i++ {
			m.Set(i - 1)
		}
	}
	return m, nil
}

// AllFormats lists every format that may be named: the built-in ones, then the site's own.
func (s *Settings) AllFormats() []*cards.Format {
	out := slices.Clone(cards.BuiltIn)
	for i := range s.Formats {
		if f, faults := s.Formats[i].Compile(); len(faults) == 0 {
			out = append(out, &f)
		}
	}
	return out
}

// Format finds a format by its name, or nil.
func (s *Settings) Format(name string) *cards.Format {
	if f := cards.ByName(name); f != nil {
		return f
	}
	for i := range s.Formats {
		if s.Formats[i].Name == name {
			if f, faults := s.Formats[i].Compile(); len(faults) == 0 {
				return &f
			}
		}
	}
	return nil
}

// Accepts returns what a reader takes, in the order in which it is tried; nil asks for one that takes all.
func (s *Settings) Accepts(r *Reader) (out []cards.Accepts) {
	list := s.Cards
	if r != nil {
		list = s.Takes(r)
	}
	for _, c := range list {
		if f := s.Format(c.Format); f != nil {
			out = append(out, cards.Accepts{Format: f, Facilities: c.Facilities})
		}
	}
	return out
}

// checkFormats says what is wrong with the site's own formats and the names of facility codes.
func (s *Settings) checkFormats(fs *Faults) {
	for i := range s.Formats {
		o, field := &s.Formats[i], fmt.Sprintf("formats[%d].", i)
		var own Faults
		own.name(o.Name)
		own.add(cards.ByName(o.Name) != nil, "name", "%s is built in; choose another name", o.Name)
		for _, other := range s.Formats[:i] {
			own.add(other.Name == o.Name, "name", "there already is a format named %s; choose another name", o.Name)
		}
		_, wrong := o.Compile()
		for _, f := range append(own, wrong...) {
			*fs = append(*fs, Fault{field + f.Field, f.Words})
		}
	}
	for i, x := range s.Facilities {
		field := fmt.Sprintf("facilities[%d].", i)
		fs.add(strings.TrimSpace(x.Name) == "", field+"name", "give the code a name")
		fs.short("Facility.name", field+"name", x.Name)
		for _, other := range s.Facilities[:i] {
			fs.add(other.Code == x.Code && other.SiteID == x.SiteID, field+"code", "%d has a name already: %s", x.Code,
				other.Name)
		}
	}
}

// CheckCards says which cards of a person are of no format that there is, or do not fit into theirs.
func (s *Settings) CheckCards(p *Person) (fs Faults) {
	for i, c := range p.Credentials {
		if c.Kind != Card || cards.ByName(c.Format) != nil {
			continue
		}
		field := fmt.Sprintf("credentials[%d].", i)
		f := s.Format(c.Format)
		if f == nil {
			fs.add(true, field+"format", "there is no card format %q; make it in Build, Card formats", c.Format)
			continue
		}
		if facility, number, ok := c.Card(); ok {
			if err := f.Check(facility, number); err != nil {
				fs.add(true, field+"value", "%s", err)
			}
		}
	}
	return fs
}

// LayoutOf writes a format as a definition; nothing of one that is not laid out in bits.
func LayoutOf(f *cards.Format) OwnFormat {
	o := OwnFormat{Name: f.Name, Bits: f.Len}
	if f.Len == 0 || f.BCD {
		return o
	}
	o.Number = BitField{f.Number.From + 1, f.Number.Len}
	if f.Facility.Len > 0 {
		o.Facility = BitField{f.Facility.From + 1, f.Facility.Len}
	}
	for _, p := range f.Parity {
		o.Parity = append(o.Parity, BitParity{p.Bit + 1, ranges(&p.Over, f.Len), p.Odd})
	}
	for i := range f.Len {
		if f.Fixed.Has(i) {
			o.Fixed = append(o.Fixed, FixedBit{i + 1, f.Ones.Has(i)})
		}
	}
	return o
}

// ranges writes a set of bits as bitSet reads it.
func ranges(m *cards.Mask, n int) string {
	var out []string
	for i := 0; i < n; i++ {
		if !m.Has(i) {
			continue
		}
		k := i
		for k+1 < n && m.Has(k+1) {
			k++
		}
		if k == i {
			out = append(out, strconv.Itoa(i+1))
		} else {
			out = append(out, fmt.Sprintf("%d-%d", i+1, k+1))
		}
		i = k
	}
	return strings.Join(out, ",")
}

// ProposeFormat returns a format of a length to begin with, in the way of the common ones: even parity over the first
// half, odd over the second, a facility code of 8 to 16 bits, and the rest the number.
func ProposeFormat(bits int) OwnFormat {
	bits = min(max(bits, 8), cards.MaxBits)
	o := OwnFormat{Name: fmt.Sprintf("Own %d-bit", bits), Bits: bits}
	half := (bits-2)/2 + (bits-2)%2
	o.Parity = []BitParity{{1, fmt.Sprintf("2-%d", 1+half), false}, {bits, fmt.Sprintf("%d-%d", bits-half, bits-1), true}}
	facility := min(max((bits-2)/3, 0), 16)
	o.Facility = BitField{2, facility}
	o.Number = BitField{2 + facility, min(bits-2-facility, 64)}
	return o
}

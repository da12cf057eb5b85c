package cards

import (
	"encoding/binary"
	"fmt"
	"math/bits"
)

// Field is a range of bits that holds a number, most significant first; Len 0 is no field. Of a BCD format the range
// holds characters of five bits.
type Field struct{ From, Len int }

// Mask is a set of bits of a read.
type Mask [MaxBits / 64]uint64

// Range returns the set of n bits from one on, counted from 0.
func Range(from, n int) (m Mask) {
	for i := from; i < from+n; i++ {
		m.Set(i)
	}
	return m
}

// Set puts a bit into the set.
func (m *Mask) Set(i int) { m[i>>6] |= 1 << (63 - i&63) }

// Has reports whether a bit is in the set.
func (m *Mask) Has(i int) bool { return m[i>>6]>>(63-i&63)&1 != 0 }

// word returns 64 bits of the read.
func (b *Bits) word(i int) uint64 { return binary.BigEndian.Uint64(b.data[8*i:]) }

// Parity is one parity bit over a set of bits; the bit itself is not in the set.
type Parity struct {
	Bit  int // counted from 0
	Over Mask
	Odd  bool
}

// over returns what the parity bit must be.
func (p *Parity) over(b *Bits) bool {
	var x uint64
	for i, m := range p.Over {
		x ^= b.word(i) & m
	}
	return p.Odd != (bits.OnesCount64(x)&1 != 0)
}

// Format says where the fields and parity bits of a read are. Len 0 means any length up to 64, all of it
// the number. Make one with New.
type Format struct {
	Name             string
	ID               ID
	Len              int
	Facility, Number Field
	Parity           []Parity
	Fixed, Ones      Mask // bits that are always the same, and which of those are 1
	BCD              bool // FASC-N: see fascn.go
}

// ID tells formats apart by their names, as a number that is the same everywhere.
type ID uint64

// IDOf returns the number of a name (FNV-1a, 64 bits).
func IDOf(name string) ID {
	h := ID(0xcbf29ce484222325)
	for i := range len(name) {
		h = (h ^ ID(name[i])) * 0x100000001b3
	}
	return h
}

// New completes a format.
func New(f Format) Format {
	f.ID = IDOf(f.Name)
	return f
}

// The built-in formats.
var (
	// Standard26 is the 26-bit format: even parity over bits 2–13, 8 bits of facility code, 16 of number,
	// odd parity over bits 14–25 (SIA AC-01; the rule is quoted from memory).
	Standard26 = New(Format{
		Name: "26-bit", Len: 26, Facility: Field{1, 8}, Number: Field{9, 16},
		Parity: []Parity{{Bit: 0, Over: Range(1, 12)}, {Bit: 25, Over: Range(13, 12), Odd: true}},
	})
	// Common34 is a 34-bit pattern: 16 bits of facility code, 16 of number, even parity over the first half, odd over
	// the second (common practice).
	Common34 = New(Format{
		Name: "34-bit", Len: 34, Facility: Field{1, 16}, Number: Field{17, 16},
		Parity: []Parity{{Bit: 0, Over: Range(1, 16)}, {Bit: 33, Over: Range(17, 16), Odd: true}},
	})
	// Common37 is a 37-bit pattern: 16 bits of facility code, 19 of number; the middle bit stands in both parity groups
	// (common practice).
	Common37 = New(Format{
		Name: "37-bit", Len: 37, Facility: Field{1, 16}, Number: Field{17, 19},
		Parity: []Parity{{Bit: 0, Over: Range(1, 18)}, {Bit: 36, Over: Range(18, 18), Odd: true}},
	})
	// Raw takes the whole read as one number.
	Raw = New(Format{Name: "raw"})
)

// BuiltIn lists the built-in formats in the order in which a reader tries them.
var BuiltIn = []*Format{&Standard26, &Common34, &Common37, &FASCN, &Raw}

// ByName finds a built-in format, or nil.
func ByName(name string) *Format {
	for _, f := range BuiltIn {
		if f.Name == name {
			return f
		}
	}
	return nil
}

// Most returns the largest number that a field holds.
func (f *Format) Most(x Field) uint64 {
	switch {
	case f.BCD:
		return tens(x.Len/5) - 1
	case x.Len >= 64:
		return 1<<64 - 1
	}
	return 1<<x.Len - 1
}

// Check says whether a facility code and a number fit into the format.
func (f *Format) Check(facility, number uint64) error {
	if f.Len == 0 || f.Facility.Len == 0 {
		if facility != 0 {
			return fmt.Errorf("facility code: a %s card has none", f.Name)
		}
		if f.Len == 0 {
			return nil
		}
	}
	if most := f.Most(f.Facility); facility > most {
		return fmt.Errorf("facility code %d is more than %d, the most a %s card holds", facility, most, f.Name)
	}
	if most := f.MostNumber(); number > most {
		return fmt.Errorf("card number %d is more than %d, the most a %s card holds", number, most, f.Name)
	}
	return nil
}

// MostNumber returns the largest card number; of a raw one the largest of 64 bits.
func (f *Format) MostNumber() uint64 {
	if f.Len == 0 {
		return 1<<64 - 1
	}
	if f.BCD {
		return tens(10) - 1
	}
	return f.Most(f.Number)
}

// Encode returns the read of a card. A raw number is written with as many bits as it needs in whole bytes, 32 at least.
func (f *Format) Encode(facility, number uint64) (Bits, error) {
	if err := f.Check(facility, number); err != nil {
		return Bits{}, err
	}
	var b Bits
	switch {
	case f.BCD:
		return encodeFASCN(facility, number), nil
	case f.Len == 0:
		b.N = max(32, (bits.Len64(number)+7)/8*8)
		b.setField(0, b.N, number)
		return b, nil
	}
	b.N = f.Len
	for i := range f.Len {
		if f.Ones.Has(i) {
			b.set(i, true)
		}
	}
	b.setField(f.Facility.From, f.Facility.Len, facility)
	b.setField(f.Number.From, f.Number.Len, number)
	for _, p := range f.Parity {
		b.set(p.Bit, p.over(&b))
	}
	return b, nil
}

// damage says what is wrong with a read of the format's length: a fixed bit, or a parity group.
func (f *Format) damage(b *Bits) (Fault, uint64) {
	if f.BCD {
		return damageFASCN(b)
	}
	for i, m := range f.Fixed {
		if bad := (b.word(i) ^ f.Ones[i]) & m; bad != 0 {
			return WrongFixed, uint64(64*i + bits.LeadingZeros64(bad) + 1)
		}
	}
	for i := range f.Parity {
		if p := &f.Parity[i]; b.At(p.Bit) != p.over(b) {
			return WrongParity, uint64(i + 1)
		}
	}
	return Fits, 0
}

// fields returns what stands in a sound read.
func (f *Format) fields(b *Bits) (facility, number uint64) {
	if f.BCD {
		return fieldsFASCN(b)
	}
	if f.Facility.Len > 0 {
		facility = b.Field(f.Facility.From, f.Facility.Len)
	}
	return facility, b.Field(f.Number.From, f.Number.Len)
}

func tens(n int) uint64 {
	v := uint64(1)
	for range n {
		v *= 10
	}
	return v
}

// Package cards turns the bits of a read into the fields of a card format, and back, and says exactly why
// a read fits no format.
package cards

import (
	"encoding/binary"
	"errors"
	"fmt"
	"slices"
	"strings"
)

// MaxBits is the longest read that is understood.
const MaxBits = 256

// Bits is a read as it came from the reader, first bit first.
type Bits struct {
	N    int
	data [MaxBits / 8]byte
}

// At returns bit i, counted from 0.
func (b *Bits) At(i int) bool { return b.data[i>>3]>>(7-i&7)&1 != 0 }

func (b *Bits) set(i int, on bool) {
	b.data[i>>3] &^= 1 << (7 - i&7)
	if on {
		b.data[i>>3] |= 1 << (7 - i&7)
	}
}

// Flip returns the read with bit i turned over, as a damaged line would.
func (b Bits) Flip(i int) Bits {
	b.set(i, !b.At(i))
	return b
}

// Field reads bits [from, from+n) as a number, most significant first; n is at most 64.
func (b *Bits) Field(from, n int) uint64 {
	if from>>3 <= len(b.data)-8 && from&7+n <= 64 { // within eight bytes
		v := binary.BigEndian.Uint64(b.data[from>>3:])
		return v << (from & 7) >> (64 - n)
	}
	var v uint64
	for i := from; i < from+n; i++ {
		v <<= 1
		if b.At(i) {
			v |= 1
		}
	}
	return v
}

func (b *Bits) setField(from, n int, v uint64) {
	for i := 0; i < n; i++ {
		b.set(from+i, v>>(n-1-i)&1 != 0)
	}
}

// String writes the read as ones and zeros.
func (b Bits) String() string {
	out := make([]byte, b.N)
	for i := range out {
		out[i] = '0'
		if b.At(i) {
			out[i] = '1'
		}
	}
	return string(out)
}

// ParseBits reads ones and zeros; spaces are skipped.
func ParseBits(s string) (Bits, error) {
	var b Bits
	for i, r := range s {
		switch r {
		case ' ':
		case '0', '1':
			if b.N == MaxBits {
				return Bits{}, fmt.Errorf("a read has at most %d bits", MaxBits)
			}
			b.N++
			b.set(b.N-1, r == '1')
		default:
			return Bits{}, fmt.Errorf("position %d: a read is written with 0 and 1, not %q", i+1, r)
		}
	}
	if b.N == 0 {
		return Bits{}, errors.New("a read has at least one bit")
	}
	return b, nil
}

// MarshalText writes the read as ones and zeros.
func (b Bits) MarshalText() ([]byte, error) { return []byte(b.String()), nil }

// UnmarshalText reads ones and zeros; nothing is an empty read.
func (b *Bits) UnmarshalText(text []byte) error {
	if len(text) == 0 {
		*b = Bits{}
		return nil
	}
	v, err := ParseBits(string(text))
	*b = v
	return err
}

// Fault is why a read fits no format.
type Fault uint8

// The faults, in the order in which they are looked for; a later one got further.
const (
	Fits          Fault = iota
	WrongLength         // no format has this many bits; Detail is the number of bits
	WrongFixed          // a bit that is always the same is another; Detail is the bit, counted from 1
	WrongParity         // Detail is the parity group, counted from 1
	WrongFacility       // Detail is the facility code
)

// Accepts is a format a reader takes, with the facility codes it accepts; none listed means all.
type Accepts struct {
	Format     *Format
	Facilities []uint64
}

// Read is a decoded read, or the fault of the format that came nearest.
type Read struct {
	Format           *Format
	Facility, Number uint64
	Fault            Fault
	Detail           uint64
}

// Decode tries the formats in order and returns the first that fits. Where none does, the result carries
// the fault of the format that came nearest. It does not allocate.
func Decode(b *Bits, accepts []Accepts) (best Read) {
	best.Fault, best.Detail = WrongLength, uint64(b.N)
	for i := range accepts {
		f := accepts[i].Format
		if f.Len != 0 && f.Len != b.N {
			continue // the commonest, and it cannot come nearer than any other
		}
		if f.Len == 0 && claimed(accepts, b.N) {
			continue // a damaged read of that format is not a number
		}
		r := accepts[i].decode(b)
		if r.Fault == Fits {
			return r
		}
		if r.Fault > best.Fault {
			best = r
		}
	}
	return best
}

// claimed reports whether one of the formats is of that length.
func claimed(accepts []Accepts, n int) bool {
	for i := range accepts {
		if accepts[i].Format.Len == n {
			return true
		}
	}
	return false
}

// decode reads bits of the length of the format.
func (a *Accepts) decode(b *Bits) (r Read) {
	f := a.Format
	r.Format = f
	if f.Len == 0 {
		// A length that a format with parity claims is that format's; a damaged 26-bit read is not a number.
		if b.N == 0 || b.N > 64 || b.N == Standard26.Len {
			r.Fault, r.Detail = WrongLength, uint64(b.N)
			return r
		}
		r.Number = b.Field(0, b.N)
		return r
	}
	if r.Fault, r.Detail = f.damage(b); r.Fault != Fits {
		return r
	}
	r.Facility, r.Number = f.fields(b)
	if len(a.Facilities) > 0 && !slices.Contains(a.Facilities, r.Facility) {
		r.Fault, r.Detail = WrongFacility, r.Facility
	}
	return r
}

// Number writes a card's number as people say it: 42-12345, or the bare number where there is no facility code. The
// 26-bit format always has one.
func Number(format string, facility, number uint64) string {
	if format == Raw.Name || facility == 0 && format != Standard26.Name {
		return fmt.Sprint(number)
	}
	return fmt.Sprintf("%d-%05d", facility, number)
}

// Explain says in words why a read fits none of the formats. It has words for every read, also for one that no Decode
// gives.
func (r Read) Explain(accepts []Accepts) string {
	switch r.Fault {
	case WrongFixed:
		return fmt.Sprintf("bit %d is always the other one in this format: the card is of another, or the read is damaged",
			r.Detail)
	case WrongParity:
		return fmt.Sprintf("parity of group %d is wrong: the read is damaged", r.Detail)
	case WrongFacility:
		return fmt.Sprintf("facility code %d is not accepted here", r.Detail)
	case WrongLength:
		var names []string
		for _, a := range accepts {
			names = append(names, a.Format.Name)
		}
		return fmt.Sprintf("%d bits fit no format of this reader (%s)", r.Detail, strings.Join(names, ", "))
	}
	if r.Format == nil {
		return "the read is of no kind that is known here"
	}
	return fmt.Sprintf("%s, %s", r.Format.Name, Number(r.Format.Name, r.Facility, r.Number))
}

// Package point is where things are wired to a controller: the terminals of the controller itself and of its
// expanders. A terminal is a reader, an input or an output, each counted from 1 on its board; doors, and later cars and
// sirens, hold roles that name them. Read address.go's Address first, then Input: what a measured circuit means.
package point

import (
	"fmt"
	"strconv"
	"strings"
)

// Kind is what a terminal is for.
type Kind uint8

// The kinds of terminal. The zero value is no terminal.
const (
	None Kind = iota
	Reader
	Input
	Output
)

const letters = " rio"

// Address names one terminal of a controller. It compares with ==; the zero value is no terminal.
type Address struct {
	Board  uint8 // 0: the controller itself; expanders count from 1
	Kind   Kind
	Number uint16 // from 1
}

// At returns the address of a terminal of the controller itself.
func At(k Kind, number int) Address { return Address{Kind: k, Number: uint16(number)} }

// String writes the address: i3 is the controller's third input, 2/o7 the seventh output of its second expander. No
// terminal is an empty text.
func (a Address) String() string {
	if a.Kind == None || a.Kind > Output {
		return ""
	}
	s := letters[a.Kind:a.Kind+1] + strconv.Itoa(int(a.Number))
	if a.Board == 0 {
		return s
	}
	return strconv.Itoa(int(a.Board)) + "/" + s
}

// Parse reads what String writes.
func Parse(s string) (Address, error) {
	if s == "" {
		return Address{}, nil
	}
	board, rest, ok := strings.Cut(s, "/")
	if !ok {
		board, rest = "0", s
	}
	b, err := strconv.ParseUint(board, 10, 8)
	k := 0
	if len(rest) > 1 {
		k = strings.IndexByte(letters[1:], rest[0]) + 1
	}
	if err != nil || ok && b == 0 || k == 0 {
		return Address{}, wrong(s)
	}
	n, err := strconv.ParseUint(rest[1:], 10, 16)
	if err != nil || n == 0 || rest[1] == '0' {
		return Address{}, wrong(s)
	}
	return Address{uint8(b), Kind(k), uint16(n)}, nil
}

func wrong(s string) error {
	return fmt.Errorf(
		"%q is no terminal; write r1 for a reader, i3 for an input, o2 for an output, 2/o7 for one of the second expander",
		s,
	)
}

// MarshalText writes what String does.
func (a Address) MarshalText() ([]byte, error) { return []byte(a.String()), nil }

// UnmarshalText reads what Parse does.
func (a *Address) UnmarshalText(text []byte) error {
	v, err := Parse(string(text))
	if err == nil {
		*a = v
	}
	return err
}

// Compare orders by board, then kind, then number.
func (a Address) Compare(b Address) int {
	if c := int(a.Board) - int(b.Board); c != 0 {
		return c
	}
	if c := int(a.Kind) - int(b.Kind); c != 0 {
		return c
	}
	return int(a.Number) - int(b.Number)
}

// Package enum gives small enumerations their text forms, from one keyed table each:
//
//	var levels = enum.Table[Level]{Normal: {"normal", "at rest"}, Active: {"active", "in use"}}
//
// A value that has no row is written with its number, so that what is newer than the reader stays readable.
package enum

import (
	"fmt"
	"strings"
)

// Row is one value: its code, which files and interfaces write, and how people say it.
type Row struct{ Code, Words string }

// Table is an enumeration by value. A value whose code is empty stands for nothing said.
type Table[T ~uint8] []Row

// Code returns the code of a value.
func (t Table[T]) Code(v T) string {
	if int(v) >= len(t) {
		return fmt.Sprintf("%d", uint8(v))
	}
	return t[v].Code
}

// Words returns a value as people say it; its code where there are no words.
func (t Table[T]) Words(v T) string {
	if int(v) >= len(t) || t[v].Words == "" {
		return t.Code(v)
	}
	return t[v].Words
}

// Parse finds a value by its code.
func (t Table[T]) Parse(code string) (T, bool) {
	for v, row := range t {
		if row.Code == code {
			return T(v), true
		}
	}
	return 0, false
}

// Marshal writes the code.
func (t Table[T]) Marshal(v T) ([]byte, error) { return []byte(t.Code(v)), nil }

// Unmarshal reads a code; the error lists those that there are.
func (t Table[T]) Unmarshal(text []byte, v *T) error {
	x, ok := t.Parse(string(text))
	if !ok {
		return fmt.Errorf("%q is none of %s", text, strings.Join(t.Codes(), ", "))
	}
	*v = x
	return nil
}

// Codes lists the codes, in the order of the values.
func (t Table[T]) Codes() []string {
	var out []string
	for _, row := range t {
		if row.Code != "" {
			out = append(out, row.Code)
		}
	}
	return out
}

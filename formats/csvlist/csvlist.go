// Package csvlist reads and writes lists as CSV (RFC 4180): as people's programs write it, with a byte-order mark or
// without, with commas, semicolons or tabs, in UTF-8, UTF-16 or Latin-1.
package csvlist

import (
	"bytes"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"iter"
	"slices"
	"strings"
	"unicode/utf16"
	"unicode/utf8"
)

// Table is a list as it was read: its headings, and its rows with the line on which each begins.
type Table struct {
	Heads     []string
	Rows      [][]string
	Lines     []int
	Separator string // , or ; or tab, in words
	Encoding  string // UTF-8, UTF-16 or Latin-1
}

// MostRows is how many rows a list may have.
const MostRows = 250_000

// Read reads a list. The error says where it cannot be read.
func Read(b []byte) (*Table, error) {
	text, encoding := decode(b)
	comma, name := separator(text)
	r := csv.NewReader(strings.NewReader(text))
	r.Comma, r.FieldsPerRecord, r.TrimLeadingSpace = comma, -1, false
	t := &Table{Separator: name, Encoding: encoding}
	for {
		row, err := r.Read()
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			var bad *csv.ParseError
			if errors.As(err, &bad) {
				return nil, fmt.Errorf("line %d: %w; a quote inside a quoted cell is written twice", bad.Line, bad.Err)
			}
			return nil, err
		}
		line, _ := r.FieldPos(0)
		switch {
		case blank(row):
		case t.Heads == nil:
			t.Heads = row
		case len(t.Rows) == MostRows:
			return nil, fmt.Errorf("the list has more than %d rows; cut it into parts", MostRows)
		default:
			t.Rows, t.Lines = append(t.Rows, row), append(t.Lines, line)
		}
	}
	if t.Heads == nil {
		return nil, errors.New("the list is empty: its first line names the columns, such as name, department, card number")
	}
	for i := range t.Heads {
		t.Heads[i] = strings.TrimSpace(t.Heads[i])
	}
	return t, nil
}

func blank(row []string) bool {
	for _, s := range row {
		if strings.TrimSpace(s) != "" {
			return false
		}
	}
	return true
}

// decode turns bytes into text: by their byte-order mark, as UTF-8 where they are that, else as Latin-1.
func decode(b []byte) (text, encoding string) {
	if rest, ok := bytes.CutPrefix(b, []byte("\xef\xbb\xbf")); ok {
		b = rest
	}
	for mark, big := range map[string]bool{"\xfe\xff": true, "\xff\xfe": false} {
		if rest, ok := bytes.CutPrefix(b, []byte(mark)); ok {
			units := make([]uint16, len(rest)/2)
			for i := range units {
				x, y := uint16(rest[2*i]), uint16(rest[2*i+1])
				if big {
					x, y = y, x
				}
				units[i] = y<<8 | x
			}
			return string(utf16.Decode(units)), "UTF-16"
		}
	}
	if utf8.Valid(b) {
		return string(b), "UTF-8"
	}
	runes := make([]rune, len(b))
	for i, c := range b {
		runes[i] = rune(c)
	}
	return string(runes), "Latin-1"
}

// separator finds what stands between the cells of the first line, outside of quotes.
func separator(text string) (rune, string) {
	count := map[rune]int{}
	quoted, begun := false, false
	for _, r := range text {
		if r == '"' {
			quoted = !quoted
		}
		if r == '\n' && !quoted && begun {
			break
		}
		begun = begun || !strings.ContainsRune(" ,;\t\r\n", r)
		if !quoted && strings.ContainsRune(",;\t", r) {
			count[r]++
		}
	}
	switch {
	case count[';'] > count[','] && count[';'] >= count['\t']:
		return ';', "semicolons"
	case count['\t'] > count[',']:
		return '\t', "tabs"
	}
	return ',', "commas"
}

// Harmless writes a cell so that no spreadsheet takes it for a formula: with ' before it (OWASP, CSV injection).
func Harmless(s string) string {
	if s != "" && strings.ContainsRune("=+-@\t\r", rune(s[0])) {
		return "'" + s
	}
	return s
}

// Plain reads what Harmless wrote.
func Plain(s string) string {
	if len(s) > 1 && s[0] == '\'' && strings.ContainsRune("=+-@\t\r", rune(s[1])) {
		return s[1:]
	}
	return s
}

// Write writes rows, every cell harmless, lines ended as RFC 4180 has it.
func Write(w io.Writer, rows [][]string) error { return WriteEach(w, slices.Values(rows)) }

// WriteEach is Write of rows that come one after another.
func WriteEach(w io.Writer, rows iter.Seq[[]string]) error {
	c := csv.NewWriter(w)
	c.UseCRLF = true
	for row := range rows {
		out := make([]string, len(row))
		for i, s := range row {
			out[i] = Harmless(s)
		}
		if err := c.Write(out); err != nil {
			return err
		}
	}
	c.Flush()
	return c.Error()
}

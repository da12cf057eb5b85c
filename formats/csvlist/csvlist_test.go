package csvlist

import (
	"bytes"
	"encoding/csv"
	"encoding/json"
	"os/exec"
	"strings"
	"testing"
	"unicode/utf16"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

func TestRead(t *testing.T) {
	utf16le := func(s string) []byte {
		out := []byte{0xff, 0xfe}
		for _, u := range utf16.Encode([]rune(s)) {
			out = append(out, byte(u), byte(u>>8))
		}
		return out
	}
	for name, x := range map[string]struct {
		data          []byte
		heads, row    []string
		encoding, sep string
	}{
		"plain":                   {[]byte("name,card\nZoë,42-7\n"), []string{"name", "card"}, []string{"Zoë", "42-7"}, "UTF-8", "commas"},
		"with a byte-order mark":  {[]byte("\xef\xbb\xbfname,card\r\nZoë,42-7\r\n"), []string{"name", "card"}, []string{"Zoë", "42-7"}, "UTF-8", "commas"},
		"semicolons and Latin-1":  {[]byte("name;card\nZo\xeb;42-7"), []string{"name", "card"}, []string{"Zoë", "42-7"}, "Latin-1", "semicolons"},
		"tabs in UTF-16":          {utf16le("name\tcard\nZoë\t42-7\n"), []string{"name", "card"}, []string{"Zoë", "42-7"}, "UTF-16", "tabs"},
		"quoted, with a new line": {[]byte("name,note\n\"Ada \"\"A\"\"\",\"one\ntwo; three\"\n"), []string{"name", "note"}, []string{`Ada "A"`, "one\ntwo; three"}, "UTF-8", "commas"},
		"empty lines before":      {[]byte("\n,,\nname,card\nAda,1\n"), []string{"name", "card"}, []string{"Ada", "1"}, "UTF-8", "commas"},
		"a comma in the headings": {[]byte("\"last, first\";card\nReed;1"), []string{"last, first", "card"}, []string{"Reed", "1"}, "UTF-8", "semicolons"},
	} {
		t.Run(name, func(t *testing.T) {
			got, err := Read(x.data)
			require.NoError(t, err)
			assert.Equal(t, x.heads, got.Heads)
			assert.Equal(t, x.row, got.Rows[0])
			assert.Equal(t, x.encoding, got.Encoding)
			assert.Equal(t, x.sep, got.Separator)
		})
	}
	for name, data := range map[string]string{"empty": "", "blank": " \n,\n", "a quote left open": "name\n\"Ada\n"} {
		_, err := Read([]byte(data))
		assert.Error(t, err, name)
	}
	got, err := Read([]byte("name\nAda\n\nBen\n"))
	require.NoError(t, err)
	assert.Equal(t, []int{2, 4}, got.Lines, "a row is told by its line in the file")
}

// What is written is read back the same, by this package, by encoding/csv and by the reader of Python 3, and no cell is
// a formula.
func TestThereAndBack(t *testing.T) {
	cell := rapid.StringMatching(`[=+\-@]?[a-zé ,;"'\n0-9]{0,8}`)
	python, _ := exec.LookPath("python3")
	runs := 0
	rapid.Check(t, func(t *rapid.T) {
		width := rapid.IntRange(1, 4).Draw(t, "width")
		rows := [][]string{make([]string, width)}
		for i := range width {
			rows[0][i] = "h" + string(rune('a'+i))
		}
		for range rapid.IntRange(1, 5).Draw(t, "rows") {
			row := rapid.SliceOfN(cell, width, width).Draw(t, "row")
			row[0] = "x" + row[0]
			rows = append(rows, row)
		}
		var b bytes.Buffer
		require.NoError(t, Write(&b, rows))
		plain := func(row []string) (out []string) {
			for _, s := range row {
				require.False(t, s != "" && strings.ContainsRune("=+-@", rune(s[0])), "%q is a formula", s)
				out = append(out, Plain(s))
			}
			return out
		}
		got, err := Read(b.Bytes())
		require.NoError(t, err)
		for i, row := range got.Rows {
			require.Equal(t, rows[i+1], plain(row))
		}
		other, err := csv.NewReader(bytes.NewReader(b.Bytes())).ReadAll()
		require.NoError(t, err)
		require.Len(t, other, len(rows))
		if python == "" || runs >= 20 { // a process each time
			return
		}
		runs++
		cmd := exec.Command(python, "-c",
			"import csv,io,json,sys\nprint(json.dumps(list(csv.reader(io.StringIO(sys.stdin.buffer.read().decode('utf-8'), newline='')))))")
		cmd.Stdin = bytes.NewReader(b.Bytes())
		out, err := cmd.Output()
		require.NoError(t, err)
		var theirs [][]string
		require.NoError(t, json.Unmarshal(out, &theirs))
		for i, row := range theirs {
			for k := range row { // a new line inside a cell is written as RFC 4180 has it
				row[k] = strings.ReplaceAll(row[k], "\r\n", "\n")
			}
			require.Equal(t, rows[i], plain(row))
		}
	})
}

func FuzzRead(f *testing.F) {
	for _, s := range []string{"a,b\n1,2", "\xff\xfea\x00", "a;b\n\"", "\xef\xbb\xbf"} {
		f.Add([]byte(s))
	}
	f.Fuzz(func(t *testing.T, b []byte) {
		if got, err := Read(b); err == nil && len(got.Rows) != len(got.Lines) {
			t.Fatal("rows without lines")
		}
	})
}

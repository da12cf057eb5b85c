package cards

import (
	"encoding/hex"
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

// hexBits writes bytes as ones and zeros.
func hexBits(t *testing.T, text string) string {
	b, err := hex.DecodeString(text)
	require.NoError(t, err)
	var out strings.Builder
	for _, x := range b {
		fmt.Fprintf(&out, "%08b", x)
	}
	return out.String()
}

// Sample cards of the FASC-N guidance (SEIWG-012; from memory, made again from their fields by an independent encoder):
// 0032/0001/092446 and 9999/9999/999999.
func TestSampleFASCN(t *testing.T) {
	accepts := []Accepts{{Format: &Standard26}, {Format: &FASCN}, {Format: &Raw}}
	for _, c := range []struct {
		hex              string
		facility, number uint64
		fault            Fault
	}{
		{"D0439458210C2C19A0846D83685A1082108CE73984108CA3FC", 32, 1092446, Fits},
		{"D4E739DA739CED39CE739D836858210842108421C84210C3EB", 9999, 9999999999, Fits},
		{"D4E739DA739CED39CE739D836858210842108421384210C3F5", 0, 0, WrongFixed},  // 12 where a digit belongs
		{"D0439458210C2C19A0846D83685A1082108CE73984108CA3F5", 0, 0, WrongParity}, // the longitudinal check alone
	} {
		bits, err := ParseBits(hexBits(t, c.hex))
		require.NoError(t, err)
		r := Decode(&bits, accepts)
		assert.Equal(t, c.fault, r.Fault, c.hex)
		assert.Equal(t, c.facility, r.Facility)
		assert.Equal(t, c.number, r.Number)
		for bit := range bits.N { // odd parity of every character notices each single flip
			bad := bits.Flip(bit)
			assert.NotEqual(t, Fits, Decode(&bad, accepts).Fault, bit)
		}
	}
	assert.Equal(t, "32-1092446", Number("FASC-N", 32, 1092446))
}

// The longitudinal check notices what the parity of the characters does not: two bits of one.
func TestFASCNChecksAcross(t *testing.T) {
	b, err := FASCN.Encode(9999, 9999_999999)
	require.NoError(t, err)
	bad := b.Flip(26).Flip(27)
	r := Decode(&bad, []Accepts{{Format: &FASCN}})
	assert.NotEqual(t, Fits, r.Fault)
	_, err = FASCN.Encode(10_000, 0)
	assert.ErrorContains(t, err, "9999")
	_, err = FASCN.Encode(1, 10_000_000_000)
	assert.ErrorContains(t, err, "9999999999")
}

// What is encoded is read as what it is, by every format and whichever others the reader takes.
func TestEveryFormatReadsItsOwn(t *testing.T) {
	all := []Accepts{}
	for _, f := range BuiltIn {
		all = append(all, Accepts{Format: f})
	}
	rapid.Check(t, func(t *rapid.T) {
		f := BuiltIn[rapid.IntRange(0, len(BuiltIn)-1).Draw(t, "format")]
		facility, number := uint64(0), rapid.Uint64().Draw(t, "number")
		if f.Len > 0 {
			facility = rapid.Uint64Range(0, f.Most(f.Facility)).Draw(t, "facility")
			number %= f.MostNumber() + 1
		}
		b, err := f.Encode(facility, number)
		require.NoError(t, err)
		if f.Len == 0 && claimed(all, b.N) {
			return
		}
		require.Equal(t, Read{Format: f, Facility: facility, Number: number}, Decode(&b, all))
	})
}

// The 34- and the 37-bit patterns by a second way of counting: the sum of the watched bits with the parity bit itself.
func TestCommonPatterns(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		for _, c := range []struct {
			f                     *Format
			even, odd             [2]int // first and last bit of the groups with their parity bits, from 1
			facility, first, last int
		}{
			{&Common34, [2]int{1, 17}, [2]int{18, 34}, 17, 18, 33},
			{&Common37, [2]int{1, 19}, [2]int{19, 37}, 17, 18, 36},
		} {
			facility := rapid.Uint64Range(0, 65535).Draw(t, "facility")
			number := rapid.Uint64Range(0, 1<<(c.last-c.first+1)-1).Draw(t, "number")
			b, err := c.f.Encode(facility, number)
			require.NoError(t, err)
			text := b.String()
			ones := func(g [2]int) int { return strings.Count(text[g[0]-1:g[1]], "1") }
			require.Equal(t, 0, ones(c.even)%2, text)
			require.Equal(t, 1, ones(c.odd)%2, text)
			require.Equal(t, fmt.Sprintf("%016b", facility), text[1:c.facility])
			require.Equal(t, fmt.Sprintf("%0*b", c.last-c.first+1, number), text[c.first-1:c.last])
		}
	})
}

func TestFixedBits(t *testing.T) {
	f := New(Format{Name: "own", Len: 12, Number: Field{4, 8}, Fixed: Range(0, 3), Ones: Range(1, 1)})
	b, err := f.Encode(0, 200)
	require.NoError(t, err)
	assert.Equal(t, "010011001000", b.String())
	bad := b.Flip(2)
	r := Decode(&bad, []Accepts{{Format: &f}})
	assert.Equal(t, WrongFixed, r.Fault)
	assert.EqualValues(t, 3, r.Detail)
	assert.Contains(t, r.Explain(nil), "bit 3")
	_, err = f.Encode(1, 1)
	assert.ErrorContains(t, err, "has none")
}

func TestMask(t *testing.T) {
	m := Range(60, 8)
	for i := range MaxBits {
		assert.Equal(t, i >= 60 && i < 68, m.Has(i), i)
	}
	assert.NotEqual(t, IDOf("26-bit"), IDOf("raw"))
}

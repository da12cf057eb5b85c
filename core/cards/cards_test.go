package cards

import (
	"strconv"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

// The 26-bit rule of SIA AC-01 (from memory): bit 1 even over bits 2–13, bit 26 odd over bits 14–25. The
// values were computed by a second implementation of that rule, not by this one.
func TestStandard26(t *testing.T) {
	for _, c := range []struct {
		facility, number uint64
		hex              string
	}{
		{0, 0, "0000001"}, {1, 1, "2020002"}, {255, 65535, "1FFFFFF"}, {42, 12345, "2546073"}, {123, 45678, "2F764DD"},
	} {
		b, err := Standard26.Encode(c.facility, c.number)
		require.NoError(t, err)
		want, err := strconv.ParseUint(c.hex, 16, 64)
		require.NoError(t, err)
		assert.Equal(t, want, b.Field(0, 26), "%d-%d", c.facility, c.number)
		r := Decode(&b, []Accepts{{Format: &Standard26}})
		assert.Equal(t, Read{Format: &Standard26, Facility: c.facility, Number: c.number}, r)
	}
}

func TestFaults(t *testing.T) {
	both := []Accepts{{Format: &Standard26, Facilities: []uint64{42}}, {Format: &Raw}}
	only := both[:1]
	good, err := Standard26.Encode(42, 12345)
	require.NoError(t, err)
	foreign, err := Standard26.Encode(77, 12345)
	require.NoError(t, err)
	short, err := ParseBits("1011")
	require.NoError(t, err)
	for _, c := range []struct {
		name    string
		bits    Bits
		accepts []Accepts
		fault   Fault
		detail  uint64
		says    string
	}{
		{"good", good, both, Fits, 0, "26-bit, 42-12345"},
		{"first group", good.Flip(3), both, WrongParity, 1, "parity of group 1"},
		{"second group", good.Flip(20), both, WrongParity, 2, "parity of group 2"},
		{"parity bit itself", good.Flip(25), both, WrongParity, 2, "damaged"},
		{"foreign", foreign, both, WrongFacility, 77, "facility code 77 is not accepted"},
		{"short", short, only, WrongLength, 4, "4 bits fit no format of this reader (26-bit)"},
		{"short raw", short, both, Fits, 0, "raw, 11"},
		{"empty", Bits{}, both, WrongLength, 0, "0 bits"},
	} {
		r := Decode(&c.bits, c.accepts)
		assert.Equal(t, c.fault, r.Fault, c.name)
		assert.Equal(t, c.detail, r.Detail, c.name)
		assert.Contains(t, r.Explain(c.accepts), c.says, c.name)
	}
}

// One flipped bit is always noticed; two in one group never are, which is why parity is not proof.
func TestOneFlippedBitIsNoticed(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		b, err := Standard26.Encode(rapid.Uint64Range(0, 255).Draw(t, "facility"),
			rapid.Uint64Range(0, 65535).Draw(t, "number"))
		require.NoError(t, err)
		bad := b.Flip(rapid.IntRange(0, 25).Draw(t, "bit"))
		r := Decode(&bad, []Accepts{{Format: &Standard26}, {Format: &Raw}})
		require.Equal(t, WrongParity, r.Fault)
		again, err := ParseBits(b.String())
		require.NoError(t, err)
		require.Equal(t, b, again)
	})
}

func TestTooLarge(t *testing.T) {
	_, err := Standard26.Encode(256, 1)
	assert.ErrorContains(t, err, "255")
	_, err = Standard26.Encode(1, 65536)
	assert.ErrorContains(t, err, "65535")
	_, err = Raw.Encode(1, 1)
	assert.ErrorContains(t, err, "has none")
}

func TestPIN(t *testing.T) {
	assert.Equal(t, "1235", DuressPIN("1234"))
	assert.Equal(t, "4820", DuressPIN("4829"))
	for _, bad := range []string{"1111", "1234", "9876", "8901", "12a4", "123", "12345", "", "0123", "3210"} {
		assert.Error(t, CheckPIN(bad, 4), bad)
	}
	for _, good := range []string{"4829", "1357", "1122", "0042"} {
		assert.NoError(t, CheckPIN(good, 4), good)
	}
	h := HashPIN([]byte("key"), "4829")
	text, err := h.MarshalText()
	require.NoError(t, err)
	var again PINHash
	require.NoError(t, again.UnmarshalText(text))
	assert.Equal(t, h, again)
	assert.NotEqual(t, h, HashPIN([]byte("another"), "4829"))
	assert.Error(t, again.UnmarshalText([]byte("zz")))
}

func FuzzParseBits(f *testing.F) {
	f.Add("0101 1100")
	f.Add("2")
	f.Fuzz(func(t *testing.T, s string) {
		b, err := ParseBits(s)
		if err != nil {
			return
		}
		again, err := ParseBits(b.String())
		require.NoError(t, err)
		require.Equal(t, b, again)
		Decode(&b, []Accepts{{Format: &Standard26, Facilities: []uint64{1}}, {Format: &Raw}})
	})
}

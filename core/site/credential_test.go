package site

import (
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

// Cards from before there were other kinds are read; equal values have one form.
func TestCredentialText(t *testing.T) {
	for text, want := range map[string]Credential{
		`{"format":"26-bit","facility":42,"number":7,"status":"lost","until":"2026-12-01"}`: {Card, "26-bit", "42-00007", Lost, Dates{Until: "2026-12-01"}},
		`{"format":"raw","facility":0,"number":123456,"status":"active"}`:                   {Kind: Card, Format: "raw", Value: "123456", Status: Active},
		`{"kind":"card","format":"26-bit","value":"42-7","status":"active"}`:                {Kind: Card, Format: "26-bit", Value: "42-00007", Status: Active},
		`{"kind":"plate","value":" ab-12 cd ","status":"active"}`:                           {Kind: Plate, Value: "AB12CD", Status: Active},
		`{"kind":"QR pass","value":" Tide 7 ","status":"active"}`:                           {Kind: QRPass, Value: "Tide 7", Status: Active},
		`{"kind":"card","format":"26-bit","value":"seven","status":"active"}`:               {Kind: Card, Format: "26-bit", Value: "seven", Status: Active},
	} {
		var c Credential
		require.NoError(t, json.Unmarshal([]byte(text), &c), text)
		assert.Equal(t, want, c)
		b, err := json.Marshal(c)
		require.NoError(t, err)
		var again Credential
		require.NoError(t, json.Unmarshal(b, &again))
		assert.Equal(t, c, again)
	}
}

func TestPersonFromBefore(t *testing.T) {
	var p Person
	require.NoError(
		t,
		json.Unmarshal(
			[]byte(`{"name":"Ada","cards":[{"format":"26-bit","facility":1,"number":2,"status":"active"}],"levels":[{"levelId":4}],"from":"2026-01-01"}`),
			&p,
		),
	)
	assert.Equal(t, []Credential{NewCard("26-bit", 1, 2)}, p.Credentials)
	assert.Equal(t, "2026-01-01", p.From)
	b, err := json.Marshal(p)
	require.NoError(t, err)
	assert.NotContains(t, string(b), `"cards"`)
	var again Person
	require.NoError(t, json.Unmarshal(b, &again))
	assert.Equal(t, p, again)
}

// A card's fields come back from its value, and no value of another form has any.
func TestCardFields(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		f, n := rapid.Uint64Range(0, 255).Draw(t, "facility"), rapid.Uint64Range(0, 65535).Draw(t, "number")
		c := NewCard("26-bit", f, n)
		facility, number, ok := c.Card()
		require.True(t, ok)
		require.Equal(t, []uint64{f, n}, []uint64{facility, number})
		require.Equal(t, c, c.Normal())
		require.Empty(t, Person{Name: "x", Credentials: []Credential{c}}.Check())
	})
	for _, c := range []Credential{
		{Kind: Card, Format: "26-bit", Value: "12"}, {Kind: Card, Format: "raw", Value: "1-2"}, {Kind: Card, Format: "raw"}, {Kind: Phone, Value: "1-2"},
		{Kind: Card, Format: "26-bit", Value: "1-2-3"}, {Kind: Card, Format: "26-bit", Value: "-1-2"},
	} {
		_, _, ok := c.Card()
		assert.False(t, ok, c)
	}
}

func FuzzCredential(f *testing.F) {
	f.Add([]byte(`{"kind":"card","format":"26-bit","value":"42-7"}`))
	f.Add([]byte(`{"format":"raw","number":5}`))
	f.Fuzz(func(t *testing.T, b []byte) {
		var c Credential
		if json.Unmarshal(b, &c) == nil {
			assert.Equal(t, c, c.Normal())
			c.Card()
			Person{Credentials: []Credential{c}}.Check()
		}
	})
}

package enum

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

type colour uint8

func TestTable(t *testing.T) {
	colours := Table[colour]{{}, {"red", "red as wine"}, {"blue", ""}}
	for v, want := range []string{"", "red", "blue", "3"} {
		assert.Equal(t, want, colours.Code(colour(v)))
	}
	assert.Equal(t, "red as wine", colours.Words(1))
	assert.Equal(t, "blue", colours.Words(2), "the code stands in for words")
	assert.Equal(t, "9", colours.Words(9))
	var c colour
	require.NoError(t, colours.Unmarshal([]byte("blue"), &c))
	assert.Equal(t, colour(2), c)
	assert.EqualError(t, colours.Unmarshal([]byte("green"), &c), `"green" is none of red, blue`)
	assert.Equal(t, colour(2), c, "left as it was")
}

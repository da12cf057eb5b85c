package link

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"amberkeystone/core/site"
)

// Every order is an input to a panel, and that input is the order again.
func TestOrdersAreInputs(t *testing.T) {
	for _, what := range []string{
		"release", "hold", "back", "lift", "confirm", "refuse", "lockdown", "end lockdown", "fire", "end fire", "louder",
		"end louder", "output on", "output off", "output back", "arm", "disarm",
	} {
		o := Order{What: what, Doors: []site.ID{1}, Rule: 2, Note: "Ines", Left: []site.ID{3}}
		in, ok := o.Input()
		assert.True(t, ok, what)
		again, ok := OrderOf(&in)
		assert.True(t, ok)
		assert.Equal(t, o, again)
	}
	_, ok := (&Order{What: "dance"}).Input()
	assert.False(t, ok)
}

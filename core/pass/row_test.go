package pass_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"amberkeystone/core/hours"
	"amberkeystone/core/pass"
	"amberkeystone/core/site"
)

// Reads count in a row while they are of one person, at one door, and within the time of the first.
func TestRow(t *testing.T) {
	const within = 5 * time.Second
	var r pass.Row
	at := hours.Instant(1)
	read := func(after time.Duration, who, door site.ID) int {
		at = at.Add(after)
		return r.Read(&pass.Fact{At: at, Person: who, Door: door}, within)
	}
	assert.Equal(t, 1, read(0, 7, 1))
	assert.Equal(t, 2, read(2*time.Second, 7, 1))
	assert.Equal(t, 3, read(3*time.Second, 7, 1), "at the last moment")
	assert.Equal(t, 1, read(time.Millisecond, 7, 1), "too long after the first")
	assert.Equal(t, 1, read(time.Second, 8, 1), "somebody else")
	assert.Equal(t, 1, read(time.Second, 8, 2), "another door")
	r.Forget()
	assert.Equal(t, 1, read(time.Second, 8, 2), "what did something")
	r.Shift(time.Hour)
	at = at.Add(time.Hour)
	assert.Equal(t, 2, read(time.Second, 8, 2), "the clock was set in between")
}

package server

import (
	"fmt"
	"strings"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestLimits(t *testing.T) {
	tries := func(l *limits, name, address string) (n int) {
		for n < 1000 && l.allow(name, address) {
			n++
		}
		return n
	}
	t.Run("a stranger elsewhere never locks the owner out", func(t *testing.T) {
		l := newLimits()
		for i := range 50 {
			tries(l, "Robin", fmt.Sprintf("203.0.113.%d", i))
		}
		assert.Positive(t, tries(l, "robin", "198.51.100.7"))
	})
	t.Run("one name from one address", func(t *testing.T) {
		assert.Equal(t, pairTries, tries(newLimits(), "Robin", "203.0.113.1"))
	})
	t.Run("many names from one address", func(t *testing.T) {
		l, n := newLimits(), 0
		for i := range 1000 {
			if l.allow(fmt.Sprint("name", i), "203.0.113.1") {
				n++
			}
		}
		assert.Equal(t, addressTries, n)
	})
	t.Run("made-up names and addresses never empty it", func(t *testing.T) {
		l := newLimits()
		require.Equal(t, pairTries, tries(l, "Robin", "203.0.113.1"))
		for i := range mostLimits / 4 {
			l.allow(fmt.Sprint("name", i), fmt.Sprintf("10.%d.%d.1", i/256, i%256))
			l.allow("Robin", "203.0.113.1")
		}
		assert.Zero(t, tries(l, "Robin", "203.0.113.1"))
	})
	t.Run("it stays small, whatever the names are", func(t *testing.T) {
		l := newLimits()
		for i := range 2 * mostLimits {
			l.allow(fmt.Sprint(i), fmt.Sprintf("10.%d.%d.%d", i/65536, i/256%256, i%256))
		}
		assert.LessOrEqual(t, len(l.at), mostLimits)
		assert.Equal(t, len(l.at), l.old.Len())
		long := strings.Repeat("x", 1<<20)
		l.allow(long, "203.0.113.9")
		for key := range l.at {
			assert.Len(t, key, 16)
			break
		}
	})
	t.Run("one customer's addresses are one", func(t *testing.T) {
		assert.Equal(t, network("2001:db8:1:2::1"), network("2001:db8:1:2:ffff::9"))
		assert.NotEqual(t, network("2001:db8:1:2::1"), network("2001:db8:1:3::1"))
		assert.Equal(t, "192.0.2.1", network("::ffff:192.0.2.1"))
		assert.Equal(t, "somewhere", network("somewhere"))
	})
	t.Run("signing in gives the tries back", func(t *testing.T) {
		l := newLimits()
		tries(l, "Robin", "203.0.113.1")
		l.forget("robin", "203.0.113.1")
		assert.Equal(t, pairTries, tries(l, "Robin", "203.0.113.1"))
	})
}

// However many come at once, two passwords are hashed at a time, and none where it is known before.
func TestHashesAtATime(t *testing.T) {
	h := make(hashing, hashesAtOnce)
	var mu sync.Mutex
	var now, most int
	var all sync.WaitGroup
	for range 20 {
		all.Go(func() {
			assert.NoError(t, h.do(ctx, func() error {
				mu.Lock()
				now++
				most = max(most, now)
				mu.Unlock()
				mu.Lock()
				defer mu.Unlock()
				now--
				return nil
			}))
		})
	}
	all.Wait()
	assert.LessOrEqual(t, most, hashesAtOnce)
}

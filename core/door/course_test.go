package door

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"amberkeystone/core/pass"
	"amberkeystone/core/site"
)

// Re-lock on opening stops a second person; on closing it stops a leaf that is pulled open again.
func TestCourses(t *testing.T) {
	d := &site.Door{ID: 1, Hardware: site.UsualHardware()}
	kinds := func(c Course) (out []pass.Kind) {
		for _, x := range c.Told {
			out = append(out, x.Kind)
		}
		return out
	}
	for _, c := range []struct {
		relock site.Relock
		until  int64 // the lock is released until then while one goes through
		forced bool  // the second one is
	}{
		{site.OnOpening, 1500, true}, {site.OnClosing, 4000, true}, {site.AtEnd, 5000, false},
	} {
		d.Relock = c.relock
		list := Courses(d)
		assert.Equal(t, []Spell{{0, c.until}}, list[0].Released, c.relock)
		assert.Equal(t, []Spell{{1500, 4000}}, list[0].Open)
		assert.Len(t, list[1].Open, 2)
		assert.Equal(t, c.forced, contains(kinds(list[1]), pass.OpenedAlone), c.relock)
		assert.Contains(t, kinds(list[2]), pass.HeldWarning)
		assert.Contains(t, kinds(list[2]), pass.HeldOpen)
	}
	d.Contact, d.Relock = site.NotFitted, site.AtEnd
	list := Courses(d)
	assert.Len(t, list, 1)
	assert.Empty(t, list[0].Open)
}

func contains(list []pass.Kind, k pass.Kind) bool {
	for _, x := range list {
		if x == k {
			return true
		}
	}
	return false
}

package largesite

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"

	"amberkeystone/core/model"
	"amberkeystone/core/site"
)

// Every object of the large place is in order, its numbers are its own, and whatever is pointed to is there.
func TestDemoIsInOrder(t *testing.T) {
	c := Demo()
	kinds, places := map[site.ID]string{}, map[string]bool{}
	for _, k := range model.Kinds {
		for _, o := range k.Objects(c) {
			if k.Word() == "settings" {
				continue
			}
			id := *k.ID(o)
			assert.Empty(t, kinds[id], "%s %d", k.Word(), id)
			kinds[id] = k.Word()
			if check, ok := o.(interface{ Check() site.Faults }); assert.True(t, ok) {
				assert.Empty(t, check.Check(), "%s %d", k.Word(), id)
			}
			name := k.Word() + "\n" + k.Name(o) + "\n" + fmt.Sprint(k.Scope(o))
			assert.False(t, places[name], name)
			places[name] = true
		}
	}
	for _, k := range model.Kinds {
		for _, o := range k.Objects(c) {
			for _, r := range k.Refs(o) {
				assert.True(t, r.ID == 0 || kinds[r.ID] == r.Kind, "%s points to %s %d", k.Name(o), r.Kind, r.ID)
			}
		}
	}
	assert.Len(t, c.Doors, 2000)
	assert.Len(t, c.Schedules, 1000)
	assert.Len(t, c.People, 20_000)
	assert.Len(t, c.Levels, 500)
	assert.Len(t, c.Levels[0].Entries, 400)
}

package prove

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amberkeystone/core/panel"
	"amberkeystone/core/pass"
	"amberkeystone/core/site"
)

// leak has water at South keep the siren of North on until the floor is dry.
func leak(when site.Happening) site.Reaction {
	return site.Reaction{When: when, Do: site.DoOn, OutputIDs: []site.ID{41}, Until: true}
}

// orders are what deeds want of North's siren: true on, false let go.
func orders(t *testing.T, deeds []Deed) (out []bool) {
	for _, d := range deeds {
		for _, o := range d.Orders {
			assert.Equal(t, site.ID(11), o.Controller)
			assert.Equal(t, []site.ID{41}, o.Input.Outputs)
			assert.Equal(t, site.ID(101), o.Input.Rule)
			out = append(out, o.Input.Kind == panel.Drive)
		}
	}
	return out
}

// What lasts survives whoever carries it out, is said again to a controller that returns, and let go there once.
func TestLastingReactions(t *testing.T) {
	b := play(t, leak(site.WhenInputActive)).book
	var r Relay
	wet, dry := pass.Fact{Kind: pass.InputActive, Input: 31, At: 5}, pass.Fact{Kind: pass.InputRest, Input: 31, At: 9}
	assert.Equal(t, []bool{true}, orders(t, r.Hear(b, 12, &wet, 5, 5)))
	kept, err := r.Save()
	require.NoError(t, err)

	var again Relay
	require.NoError(t, again.Restore(kept))
	assert.Equal(t, wet.At, again.Since())
	assert.Equal(t, []bool{true}, orders(t, again.Back(b, 11)))
	assert.Empty(t, again.Back(b, 12))
	before := dry
	before.At = 4
	assert.Empty(t, again.Ended(b, 12, &before), "what ended before it began")
	list := again.Ended(b, 12, &dry)
	assert.Equal(t, []bool{false}, orders(t, list))
	assert.Equal(t, []bool{false}, orders(t, again.Back(b, 11)), "nobody was told yet")
	again.Told(&list[0].Orders[0])
	assert.Empty(t, again.Back(b, 11))
	assert.False(t, again.Lasts())
	assert.Error(t, again.Restore([]byte("[]")))
}

// What a controller measures it tells again when it starts anew; what it remembers goes on.
func TestLastingOverARestart(t *testing.T) {
	for when, want := range map[site.Happening][]bool{
		site.WhenHeldOpen: {false}, site.WhenFire: nil, site.WhenHoldBegan: nil,
	} {
		b := play(t, leak(when)).book
		var r Relay
		var kind pass.Kind
		require.NoError(t, kind.UnmarshalText([]byte(when)))
		assert.Equal(t, []bool{true}, orders(t, r.Hear(b, 12, &pass.Fact{Kind: kind, Door: 22, At: 5}, 5, 5)), when)
		assert.Empty(t, r.Hear(b, 11, &pass.Fact{Kind: pass.Started, At: 6}, 6, 6), "%s: another controller", when)
		assert.Equal(t, want, orders(t, r.Hear(b, 12, &pass.Fact{Kind: pass.Started, At: 7}, 7, 7)), when)
	}
}

// What was kept on is let go where its reaction, or the place where it began, is no more.
func TestLastingOfWhatIsNoMore(t *testing.T) {
	for name, take := range map[string]func(c *site.Config){
		"the reaction":         func(c *site.Config) { c.Reactions = nil },
		"its use":              func(c *site.Config) { c.Reactions[0].Off = true },
		"the end that it has":  func(c *site.Config) { c.Reactions[0].Until = false },
		"the input":            func(c *site.Config) { c.Inputs = nil },
		"nothing that matters": func(c *site.Config) { c.People = nil },
	} {
		p := play(t, leak(site.WhenInputActive))
		var r Relay
		r.Hear(p.book, 12, &pass.Fact{Kind: pass.InputActive, Input: 31}, 1, 1)
		c := *p.book.Config
		c.Reactions = append([]site.Reaction{}, c.Reactions...)
		take(&c)
		got := orders(t, r.Hear(NewBook(&c, nil), 12, &pass.Fact{Kind: pass.Due}, 2, 2))
		assert.Equal(t, name != "nothing that matters", len(got) == 1 && !got[0], name)
	}
}

// What was turned on until told otherwise is let go once no reaction names it, since nobody would turn it off.
func TestTurnedByNobody(t *testing.T) {
	on := site.Reaction{When: site.WhenInputActive, Do: site.DoOn, OutputIDs: []site.ID{41}}
	p := play(t, on, site.Reaction{When: site.WhenInputRest, Do: site.DoOff, OutputIDs: []site.ID{41}})
	var r Relay
	r.Hear(p.book, 12, &pass.Fact{Kind: pass.InputActive, Input: 31}, 1, 1)
	c := *p.book.Config
	c.Reactions = c.Reactions[1:]
	assert.Empty(t, r.Hear(NewBook(&c, nil), 12, &pass.Fact{Kind: pass.Due}, 2, 2), "another one names it")
	none := c
	none.Reactions = nil
	list := r.Hear(NewBook(&none, nil), 12, &pass.Fact{Kind: pass.Due}, 3, 3)
	require.Len(t, list, 1)
	assert.Equal(t, panel.LetGo, list[0].Orders[0].Input.Kind)
	assert.Equal(t, site.ID(11), list[0].Orders[0].Controller)
	assert.Empty(t, r.Hear(r.book, 12, &pass.Fact{Kind: pass.Due}, 4, 4))
	assert.True(t, r.Idle(r.book))
	assert.False(t, r.Idle(p.book))
}

// In simulated time too: what a controller that is cut off keeps on is let go when it is back.
func TestLetGoOnReturn(t *testing.T) {
	p := play(t, leak(site.WhenInputActive))
	p.step(time.Second, 12, water(true))
	assert.True(t, p.reacts.Lasts())
	p.step(time.Second, 11, panel.Input{Kind: panel.Network})
	p.step(time.Second, 12, water(false))
	assert.True(t, p.reacts.Lasts(), "it knows nothing of that")
	p.step(time.Hour, 11, panel.Input{Kind: panel.Network, On: true})
	assert.False(t, p.reacts.Lasts())
}

package proofs

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amberkeystone/core/pass"
	"amberkeystone/core/site"
)

// draw makes a combination of parts of three groups, and up to five people, each in some of them.
func draw(t *rapid.T) (site.Combination, []map[site.ID]bool) {
	c := site.Combination{Total: rapid.IntRange(2, 5).Draw(t, "total")}
	sum := 0
	for g := site.ID(1); g <= 3; g++ {
		if n := rapid.IntRange(0, c.Total-sum).Draw(t, "count"); n > 0 {
			c.Parts = append(c.Parts, site.Part{GroupID: g, Count: n})
			sum += n
		}
	}
	people := make([]map[site.ID]bool, rapid.IntRange(1, 5).Draw(t, "people"))
	for i := range people {
		people[i] = map[site.ID]bool{}
		for g := site.ID(1); g <= 3; g++ {
			people[i][g] = rapid.Bool().Draw(t, "in")
		}
	}
	return c, people
}

// try is whether people fit, and what is left.
func try(c *site.Combination, people []map[site.ID]bool) (left []pass.Wanted, ok bool) {
	f := fill{groups: map[site.ID]map[site.ID]bool{}}
	for i, in := range people {
		f.people = append(f.people, site.ID(i))
		for g, yes := range in {
			if f.groups[g] == nil {
				f.groups[g] = map[site.ID]bool{}
			}
			f.groups[g][site.ID(i)] = yes
		}
	}
	if ok = f.fits(c); !ok {
		return nil, false
	}
	var m pass.More
	f.left(&m)
	return append(left, m.Wanted()...), true
}

// byHand tries every way of giving people a place.
func byHand(slots []site.ID, people []map[site.ID]bool, taken int) bool {
	if len(people) == 0 {
		return true
	}
	for s, g := range slots {
		if taken>>s&1 == 0 && (g == 0 || people[0][g]) && byHand(slots, people[1:], taken|1<<s) {
			return true
		}
	}
	return false
}

// People fit exactly where some assignment exists, whatever the order in which they come.
func TestFitsWhereAnAssignmentExists(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		c, people := draw(t)
		left, ok := try(&c, people)
		var places fill
		places.lay(&c)
		require.Equal(t, byHand(places.slots[:places.n], people, 0), ok)
		sum := 0
		for _, w := range left {
			sum += w.Count
		}
		if ok {
			require.Equal(t, c.Total, len(people)+sum)
		}
		order := rapid.Permutation(people).Draw(t, "order")
		_, again := try(&c, order)
		require.Equal(t, ok, again)
	})
}

// common practice: of two people, one each of {A, B} and {C, D}, AC, AD, BC and BD open, AB and CD do not.
func TestPairsOfTwoGroups(t *testing.T) {
	c := site.Combination{Total: 2, Parts: []site.Part{{GroupID: 1, Count: 1}, {GroupID: 2, Count: 1}}}
	group := map[byte]site.ID{'A': 1, 'B': 1, 'C': 2, 'D': 2}
	for pair, want := range map[string]bool{"AC": true, "AD": true, "BC": true, "BD": true, "CA": true, "AB": false,
		"CD": false} {
		_, ok := try(&c, []map[site.ID]bool{{group[pair[0]]: true}, {group[pair[1]]: true}})
		assert.Equal(t, want, ok, pair)
	}
}

func TestFits(t *testing.T) {
	two, one := map[site.ID]bool{1: true, 2: true}, map[site.ID]bool{1: true}
	for name, c := range map[string]struct {
		c      site.Combination
		people []map[site.ID]bool
		left   []pass.Wanted
		ok     bool
	}{
		"three of one group":                  {site.Combination{Total: 3, Parts: []site.Part{{GroupID: 1, Count: 3}}}, []map[site.ID]bool{one, two}, []pass.Wanted{{Group: 1, Count: 1}}, true},
		"who could do both moves over":        {site.Combination{Total: 2, Parts: []site.Part{{GroupID: 1, Count: 1}, {GroupID: 2, Count: 1}}}, []map[site.ID]bool{two, one}, nil, true},
		"nobody fills two places":             {site.Combination{Total: 2, Parts: []site.Part{{GroupID: 1, Count: 1}, {GroupID: 2, Count: 1}}}, []map[site.ID]bool{two}, []pass.Wanted{{Group: 2, Count: 1}}, true},
		"the rest is anybody who may come in": {site.Combination{Total: 3, Parts: []site.Part{{GroupID: 1, Count: 1}}}, []map[site.ID]bool{one}, []pass.Wanted{{Count: 2}}, true},
		"as listed, the other way round":      {site.Combination{Total: 2, Listed: true, Parts: []site.Part{{GroupID: 2, Count: 1}, {GroupID: 1, Count: 1}}}, []map[site.ID]bool{one, two}, nil, false},
		"as listed":                           {site.Combination{Total: 2, Listed: true, Parts: []site.Part{{GroupID: 2, Count: 1}, {GroupID: 1, Count: 1}}}, []map[site.ID]bool{two, one}, nil, true},
		"one too many":                        {site.Combination{Total: 2}, []map[site.ID]bool{one, one, one}, nil, false},
	} {
		t.Run(name, func(t *testing.T) {
			left, ok := try(&c.c, c.people)
			assert.Equal(t, c.ok, ok)
			assert.Equal(t, c.left, left)
		})
	}
}

// Some people can fill a combination exactly where a set of them does.
func TestPossibleWhereASetIs(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		c, people := draw(t)
		may := func(p int, g site.ID) bool { return people[p][g] }
		n, list, known := Sets(&c, len(people), 3, may)
		require.True(t, known)
		require.Equal(t, n > 0, Possible(&c, len(people), may))
		require.LessOrEqual(t, len(list), n)
	})
}

package access

import (
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amberkeystone/core/cards"
	"amberkeystone/core/pass"
	"amberkeystone/core/site"
)

// A directory knows just the cards that were put into it, whoever had them last, however they are packed.
func TestDirectoryIsAMap(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		draw := func(name string) CardKey {
			k := CardKey{Format: cards.BuiltIn[rapid.IntRange(0, 1).Draw(t, name+" format")].ID}
			k.Number = rapid.OneOf(rapid.Uint64Range(0, 300), rapid.Uint64Range(0, 1<<41), rapid.Uint64()).Draw(t, name)
			if k.Format == cards.Standard26.ID {
				k.Facility = rapid.Uint64Range(0, 3).Draw(t, name+" facility")
			}
			return k
		}
		d, want := NewDirectory(10), map[CardKey]site.ID{}
		d.AddSet(nil)
		for range rapid.IntRange(0, 60).Draw(t, "people") {
			p := Person{ID: site.ID(rapid.OneOf(rapid.Int64Range(0, 90), rapid.Int64Range(0, 1<<40)).Draw(t, "id")), Span: Ever}
			for range rapid.IntRange(0, 3).Draw(t, "cards") {
				k := draw("card")
				p.Cards = append(p.Cards, Card{Key: k, Span: Ever})
				want[k] = p.ID
			}
			d.Add(&p)
		}
		for k, id := range want {
			o, ok := d.card(&k)
			require.True(t, ok)
			require.Equal(t, id, o.id)
		}
		for range 20 {
			k := draw("other")
			_, known := want[k]
			_, ok := d.card(&k)
			require.Equal(t, known, ok)
		}
	})
}

// What a set says is what was put into it, with its dates.
func TestSets(t *testing.T) {
	d := NewDirectory(0)
	plain := d.AddSet([]Held{{Level: 3, Span: Ever}, {Level: 70, Span: Ever}})
	dated := d.AddSet([]Held{{Level: 1, Span: Span{5, 9}}, {Level: 2, Span: Ever}})
	none := d.AddSet(nil)
	require.Equal(t, []int32{3, 70}, d.levelsOf(uint32(plain)))
	require.Equal(t, []int32{1, 2}, d.levelsOf(uint32(dated)))
	require.Empty(t, d.levelsOf(uint32(none)))
	require.Equal(t, Ever, d.spanOf(uint32(plain), 1))
	require.Equal(t, Span{5, 9}, d.spanOf(uint32(dated), 0))
	require.Equal(t, Ever, d.spanOf(uint32(dated), 1))
}

// The ways of a level through a door are those that were laid out, in their order.
func TestThrough(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		levels, doors := rapid.IntRange(1, 200).Draw(t, "levels"), rapid.IntRange(1, 4).Draw(t, "doors")
		table := &Table{Levels: make([]Level, levels), Doors: make([]site.Door, doors)}
		list := make([][]Way, doors)
		want := map[[2]int][]Way{}
		for d := range list {
			for l := range levels {
				for range rapid.SampledFrom([]int{0, 0, 0, 1, 1, 2}).Draw(t, "ways") {
					w := Way{Level: int32(l), Schedule: int32(rapid.IntRange(0, 9).Draw(t, "schedule"))}
					list[d] = append(list[d], w)
					want[[2]int{d, l}] = append(want[[2]int{d, l}], w)
				}
			}
		}
		table.SetWays(list)
		for d := range doors {
			for l := range levels {
				require.Equal(t, want[[2]int{d, l}], append([]Way(nil), table.through(d, int32(l))...))
			}
		}
	})
}

func TestBadCard(t *testing.T) {
	for status, want := range map[site.CredentialStatus]pass.Reason{
		site.Active: pass.NoReason, site.Lost: pass.CardLost, site.Stolen: pass.CardStolen,
		site.Suspended: pass.CardSuspended,
		"":             pass.CardSuspended,
	} {
		t.Run(string(status), func(t *testing.T) { require.Equal(t, want, BadCard(status)) })
	}
}

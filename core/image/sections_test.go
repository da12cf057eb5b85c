package image

import (
	"fmt"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amberkeystone/core/cards"
	"amberkeystone/core/hours"
	"amberkeystone/core/site"
	"amberkeystone/internal/largesite"
)

func names(list []Section) (out []string) {
	for _, s := range list {
		out = append(out, s.Name)
	}
	return out
}

// differ lists the sections that another image does not have in the same form.
func differ(was, is []Section) (out []string) {
	for _, s := range is {
		if !slices.ContainsFunc(was, func(x Section) bool { return x.Head == s.Head }) {
			out = append(out, s.Name)
		}
	}
	return out
}

// throng is config with people whose numbers fall into several shards.
func throng(n int) *site.Config {
	c := config()
	for i := range n {
		p := &site.Person{ID: site.ID(1000 + 37*i), Levels: []site.Grant{{LevelID: 40}}}
		p.Credentials = []site.Credential{site.NewCard("26-bit", 1, uint64(100+i))}
		c.People = append(c.People, p)
	}
	return c
}

// A change is sent as the sections that it touches.
func TestAChangeTouchesItsSection(t *testing.T) {
	was := build(t, throng(40)).Sections()
	assert.Equal(t, []string{"hardware", "hours", "rules"}, names(was)[:3])
	for name, c := range map[string]struct {
		change func(c *site.Config)
		want   []string
	}{
		"a lock's time":    {func(c *site.Config) { c.Doors[0].Unlock = 9 }, []string{"hardware"}},
		"PIN rules":        {func(c *site.Config) { c.Settings.PINTries = 9 }, []string{"hardware"}},
		"a plan":           {func(c *site.Config) { c.Plans[0].Default = hours.Barred }, []string{"hours"}},
		"a level":          {func(c *site.Config) { c.Levels[0].OpensDay = true }, []string{"rules"}},
		"a person":         {func(c *site.Config) { c.People[10].Suspended = true }, []string{fmt.Sprintf("people %02x", (1000+37*7)%256)}},
		"somebody's name":  {func(c *site.Config) { c.People[10].Name = "Another" }, nil},
		"somebody of none": {func(c *site.Config) { c.People[1].Suspended = true }, nil},
	} {
		t.Run(name, func(t *testing.T) {
			is := throng(40)
			c.change(is)
			assert.Equal(t, c.want, differ(was, build(t, is).Sections()))
		})
	}
}

// However a configuration comes about, its sections are those of a fresh build, and they come back as the same image.
func TestSectionsEqualAFreshBuild(t *testing.T) {
	z := zone(t)
	rapid.Check(t, func(t *rapid.T) {
		c := throng(rapid.IntRange(0, 30).Draw(t, "people"))
		was := Build(c, 9, z, Secrets{PINKey: []byte("k")})
		had := was.Sections()
		for range rapid.IntRange(0, 5).Draw(t, "edits") {
			i := rapid.IntRange(0, len(c.People)-1).Draw(t, "person")
			switch rapid.IntRange(0, 4).Draw(t, "edit") {
			case 0:
				c.People[i].Suspended = !c.People[i].Suspended
			case 1:
				c.People[i].Levels = nil
			case 2:
				c.Doors[0].Unlock++
			case 3:
				c.Levels[0].OpensDay = !c.Levels[0].OpensDay
			case 4:
				a, b := cards.HashPIN(nil, fmt.Sprint(i)), cards.HashPIN(nil, fmt.Sprint(i, "x"))
				c.People[i].PIN, c.People[i].Duress = &a, &b
			}
		}
		is := Build(c, 9, z, Secrets{PINKey: []byte("k")})
		fresh := is.Sections()
		again, err := Parse(Pack(fresh))
		require.NoError(t, err)
		require.Equal(t, fresh, again.Sections())
		require.Equal(t, is.Root(), NameOf(Pack(fresh)))
		require.Equal(t, len(differ(had, fresh)) == 0 && len(had) == len(fresh), Root(Heads(had)) == Root(Heads(fresh)))
	})
}

// What was bent is refused: a byte of a section, the order, a shard in a wrong place, a section that nobody knows.
func TestBentSections(t *testing.T) {
	list := build(t, throng(10)).Sections()
	packed := Pack(list)
	for i := range packed {
		b := slices.Clone(packed)
		b[i] ^= 1
		_, err := Unpack(b)
		if err == nil { // a head that says something else: then the name is another
			require.NotEqual(t, NameOf(packed), NameOf(b), "byte %d", i)
		}
	}
	_, err := Unpack(packed[:len(packed)-1])
	assert.ErrorContains(t, err, "cut off")
	_, err = Unpack(append(slices.Clone(packed), 'x'))
	assert.ErrorContains(t, err, "something follows")
	turned := slices.Clone(list)
	turned[0], turned[1] = turned[1], turned[0]
	_, err = Join(turned)
	assert.ErrorContains(t, err, "out of order")
	moved := slices.Clone(list)
	moved[3].Name = "people ff"
	_, err = Join(append(slices.Clone(moved[:3]), moved[3]))
	assert.ErrorContains(t, err, "does not belong")
	_, err = Join([]Section{{Head: Head{Name: "people 1"}}})
	assert.ErrorContains(t, err, "none of that name")
	assert.Empty(t, NameOf([]byte("nonsense")))
}

// What was sent in the layout before is read, for comparing.
func TestLayoutBefore(t *testing.T) {
	im, err := Parse([]byte(`{"version":2,"controller":9,"settings":{"pinLength":4},"doors":[],"plans":[]}`))
	require.NoError(t, err)
	assert.Equal(t, site.ID(9), im.Controller)
	_, err = Parse([]byte(`{"version":1}`))
	assert.ErrorContains(t, err, "layout 1")
}

// Suspending somebody in an image changes their section and nothing else; what is not in it, or suspended already, is
// not found.
func TestWithSuspended(t *testing.T) {
	c := largesite.Config()
	c.People = c.People[:2000]
	im := Build(c, c.Controllers[0].ID, hours.Zone{Name: "UTC"}, Secrets{})
	packed := im.Bytes()
	who := im.People[7].ID
	sections, found, err := WithSuspended(packed, who)
	require.NoError(t, err)
	require.True(t, found)
	before, err := Unpack(packed)
	require.NoError(t, err)
	differ := 0
	for i := range before {
		if before[i].Hash != sections[i].Hash {
			differ++
		}
	}
	assert.Equal(t, 1, differ)
	got, err := Parse(Pack(sections))
	require.NoError(t, err)
	for i := range got.People {
		assert.Equal(t, im.People[i].Suspended || got.People[i].ID == who, got.People[i].Suspended)
	}
	_, found, err = WithSuspended(Pack(sections), who)
	require.NoError(t, err)
	assert.False(t, found, "they are suspended already")
	_, found, err = WithSuspended(packed, 1)
	require.NoError(t, err)
	assert.False(t, found, "they are not in it")
	_, _, err = WithSuspended([]byte("no image"), who)
	assert.Error(t, err)
}

// An image whose rule follows a schedule that is not in it is refused: a controller could not stand on it.
func TestRuleWithoutItsSchedule(t *testing.T) {
	im := &Image{Version: Version}
	im.Rules.Proofs = []site.Proofs{{ID: 7, ScheduleID: 99}}
	_, err := Join(im.Sections())
	assert.ErrorContains(t, err, "rule 7 follows schedule 99, which is not in it")
}

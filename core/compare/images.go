package compare

import (
	"cmp"
	"encoding/binary"
	"slices"
	"strconv"

	"amberkeystone/core/hours"
	"amberkeystone/core/image"
	"amberkeystone/core/site"
)

// Alike are people who hold the same and can show the same: what an effect is to one it is to all.
type Alike struct {
	*site.Person           // one of them
	Members      []site.ID // all of them
}

// Fold finds who is alike among effective people.
func Fold(people []*site.Person) []Alike {
	at := map[string]int{}
	var out []Alike
	var key []byte
	for _, p := range people {
		key = alikeKey(key[:0], p)
		i, ok := at[string(key)]
		if !ok {
			i = len(out)
			at[string(key)] = i
			out = append(out, Alike{Person: p})
		}
		out[i].Members = append(out[i].Members, p.ID)
	}
	return out
}

// alikeKey writes all by which an effect is decided.
func alikeKey(key []byte, p *site.Person) []byte {
	for _, b := range []bool{p.Suspended, p.AlwaysPIN, p.PINInstead, p.PIN != nil} {
		key = strconv.AppendBool(key, b)
	}
	date := func(d site.Dates) { key = append(append(append(append(key, d.From...), '/'), d.Until...), ';') }
	date(p.Dates)
	kinds := site.Kinds(0)
	for _, c := range p.Credentials {
		switch {
		case c.Status != site.Active:
		case c.Dates == (site.Dates{}):
			kinds |= site.KindsOf(c.Kind)
		default:
			key = append(key, c.Kind...)
			date(c.Dates)
		}
	}
	key = append(key, byte(kinds), '|')
	for _, g := range p.Levels {
		key = binary.AppendVarint(key, int64(g.LevelID))
		date(g.Dates)
	}
	return key
}

// Images compares what a controller holds with what it should: what its doors ask, and who comes in when, from a moment
// on. Others are people who stand in both images alike and are left out of them; they are asked too, since their levels
// may lead elsewhere.
func Images(was, is *image.Image, others []Alike, from hours.Instant) Effect {
	a, b := configOf(was, others), configOf(is, others)
	e := Hours(a, b, Timetable(a, clockOf(was), from), Timetable(b, clockOf(is), from), from)
	e.spread(others)
	return e
}

// spread lets what is told of one be told of all who are alike.
func (e *Effect) spread(others []Alike) {
	members := make(map[site.ID][]site.ID, len(others))
	e.alike = map[site.ID]site.ID{}
	for _, o := range others {
		members[o.ID] = o.Members
		for _, id := range o.Members {
			e.alike[id] = o.ID
		}
	}
	all := map[site.ID]bool{}
	for _, list := range []*[]site.ID{&e.Gainers, &e.Losers} {
		var out []site.ID
		for _, id := range *list {
			if m, ok := members[id]; ok {
				out = append(out, m...)
			} else {
				out = append(out, id)
			}
		}
		slices.Sort(out)
		*list = out
		for _, id := range out {
			all[id] = true
		}
	}
	e.People = len(all)
}

func clockOf(im *image.Image) func(site.ID) *hours.Zone {
	z := &im.Zone
	return func(site.ID) *hours.Zone { return z }
}

// configOf is an image as a configuration, which is effective already: everybody holds all that they hold.
func configOf(im *image.Image, others []Alike) *site.Config {
	c := im.Site()
	here := make(map[site.ID]bool, len(im.People))
	for i := range im.People {
		p := im.People[i].Site()
		here[p.ID] = true
		c.People = append(c.People, p)
	}
	for _, o := range others {
		if !here[o.ID] {
			c.People = append(c.People, o.Person)
		}
	}
	slices.SortFunc(c.People, func(x, y *site.Person) int { return cmp.Compare(x.ID, y.ID) })
	return c.Effective()
}

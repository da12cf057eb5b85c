package access

import (
	"slices"

	"amberkeystone/core/cards"
	"amberkeystone/core/hours"
	"amberkeystone/core/pass"
	"amberkeystone/core/site"
)

// CardKey finds a card.
type CardKey struct {
	Format           cards.ID
	Facility, Number uint64
}

// Span is a stretch of time, [From, Until). Ever is all of it.
type Span struct{ From, Until hours.Instant }

// Ever is the span without bounds.
var Ever = Span{-hours.Never, hours.Never}

func (s Span) holds(t hours.Instant) bool { return s.From <= t && t < s.Until }

// Card is what is to be known of a card.
type Card struct {
	Key  CardKey
	Bad  pass.Reason // why it opens nothing; NoReason where it is in use
	Span Span
}

// Shown is what is to be known of a credential that is no card.
type Shown struct {
	Key  pass.Shown
	Bad  pass.Reason
	Span Span
}

// BadCard is the reason for which a card of a status opens nothing, NoReason where it does.
func BadCard(s site.CredentialStatus) pass.Reason {
	switch s {
	case site.Active:
		return pass.NoReason
	case site.Lost:
		return pass.CardLost
	case site.Stolen:
		return pass.CardStolen
	case site.Expired:
		return pass.CardExpired
	}
	return pass.CardSuspended
}

// Person is what is to be known of a person.
type Person struct {
	ID                  site.ID
	Suspended, Extended bool
	AlwaysPIN           bool // whatever the door asks
	PINInstead          bool // of a card, where there are keys
	Span                Span
	Set                 int // of levels, as Directory.AddSet gave it
	Cards               []Card
	Shown               []Shown
	PIN, Duress         *cards.PINHash // both or none
	Screened            []site.ID      // the screenings that they are under
}

// Held is a level that somebody holds, and when.
type Held struct {
	Level int32 // index into Table.Levels
	Span  Span
}

// Directory is whom a controller knows: their cards, their PINs, and which levels they hold. People who hold the same
// levels on the same dates share one set, and are decided alike. It is packed for one question, whose card is this and
// what may they do, which one entry answers for nearly everybody; what is out of the ordinary stands apart.
//
// Card numbers come in runs, as they are bought in boxes: entries stand in pages of 32 neighbouring numbers, so that a
// card costs 8 bytes, and what is asked together lies together.
type Directory struct {
	index   []page // of pages, by their key, with linear probing; a power of two, at most two thirds full
	pages   [][pageSize]entry
	formats []cards.ID
	base    site.ID           // entries count people from here
	wide    map[CardKey]owner // cards or people that no entry can hold
	shown   map[pass.Shown]shown
	cards   map[CardKey]Card // those that are bad or dated
	people  map[site.ID]unusual
	pins    map[cards.PINHash]pinOwner
	under   map[site.ID][]site.ID // the screenings of those who are under any
	sets    []set
	levels  []int32 // of all sets, one after another
	spans   []Span  // of the levels of dated sets
}

const pageSize = 32

// page is where a page of entries stands: its key, and one more than its place; 0 is an empty one.
type page struct {
	key   uint64
	place uint32
}

// entry is a card: its person, counted from the base, and the word about them. Word 0 is no card.
type entry struct {
	id   uint32
	word uint32
}

// owner is a person, and the word: flags, and the set of levels.
type owner struct {
	id   site.ID
	word uint32
}

// The flags of a word; what is left is the set.
const (
	isCard      = 1 << 31
	cardApart   = 1 << 30 // the card is bad or dated
	personApart = 1 << 29 // the person is suspended or dated
	alwaysPIN   = 1 << 28
	extended    = 1 << 27
	pinInstead  = 1 << 26
	screened    = 1 << 25
	setBits     = screened - 1
)

type unusual struct {
	suspended bool
	span      Span
}

type shown struct {
	owner
	bad  pass.Reason
	span Span
}

type pinOwner struct {
	owner
	duress bool
}

// set is the levels that somebody holds: n from first. Those of a dated set have spans, in the same order.
type set struct {
	first, n int32
	spans    int32 // −1: all hold at any time
}

// NewDirectory returns an empty directory of people whose numbers are not below base.
func NewDirectory(base site.ID) *Directory {
	return &Directory{
		index: make([]page, 8), base: base, wide: map[CardKey]owner{}, cards: map[CardKey]Card{},
		shown: map[pass.Shown]shown{}, under: map[site.ID][]site.ID{},
		people: map[site.ID]unusual{}, pins: map[cards.PINHash]pinOwner{},
	}
}

// AddSet takes in a set of levels, in ascending order, and returns its number.
func (d *Directory) AddSet(list []Held) int {
	s := set{first: int32(len(d.levels)), n: int32(len(list)), spans: -1}
	for _, h := range list {
		d.levels = append(d.levels, h.Level)
		if h.Span != Ever {
			s.spans = int32(len(d.spans))
		}
	}
	if s.spans >= 0 {
		for _, h := range list {
			d.spans = append(d.spans, h.Span)
		}
	}
	d.sets = append(d.sets, s)
	return len(d.sets) - 1
}

// Add takes in a person. A card that somebody has already becomes theirs.
func (d *Directory) Add(p *Person) {
	o := owner{p.ID, isCard | uint32(p.Set)}
	if p.AlwaysPIN {
		o.word |= alwaysPIN
	}
	if p.Extended {
		o.word |= extended
	}
	if p.PINInstead {
		o.word |= pinInstead
	}
	if p.Suspended || p.Span != Ever {
		o.word |= personApart
		d.people[p.ID] = unusual{p.Suspended, p.Span}
	}
	if len(p.Screened) > 0 {
		o.word |= screened
		d.under[p.ID] = p.Screened
	}
	if p.PIN != nil && p.Duress != nil {
		d.pins[*p.PIN] = pinOwner{owner: o}
		d.pins[*p.Duress] = pinOwner{o, true}
	}
	for _, c := range p.Shown {
		d.shown[c.Key] = shown{o, c.Bad, c.Span}
	}
	for _, c := range p.Cards {
		mine := o
		if c.Bad != pass.NoReason || c.Span != Ever {
			mine.word |= cardApart
			d.cards[c.Key] = c
		}
		d.put(c.Key, mine)
	}
}

// key packs a card into a number that no other card of the directory has: the format in the top bits, counted from 1.
// Ok is false where the card is too large for it.
func (d *Directory) key(c *CardKey) (key uint64, ok bool) {
	for i, f := range d.formats {
		if f == c.Format {
			return uint64(i+1)<<56 | c.Facility<<40 | c.Number, c.Facility < 1<<16 && c.Number < 1<<40
		}
	}
	return 0, false
}

func (d *Directory) put(c CardKey, o owner) {
	if _, ok := d.key(&c); !ok && !slices.Contains(d.formats, c.Format) && len(d.formats) < 200 {
		d.formats = append(d.formats, c.Format)
	}
	key, ok := d.key(&c)
	at := d.find(key / pageSize)
	if id := o.id - d.base; !ok || id < 0 || id >= 1<<32 {
		d.wide[c] = o
		if ok && d.index[at].place != 0 {
			d.pages[d.index[at].place-1][key%pageSize] = entry{} // whoever had it before
		}
		return
	}
	delete(d.wide, c)
	if d.index[at].place == 0 {
		if 3*(len(d.pages)+1) > 2*len(d.index) {
			d.grow()
			at = d.find(key / pageSize)
		}
		d.pages = append(d.pages, [pageSize]entry{})
		d.index[at] = page{key / pageSize, uint32(len(d.pages))}
	}
	d.pages[d.index[at].place-1][key%pageSize] = entry{uint32(o.id - d.base), o.word}
}

// grow doubles the index of pages.
func (d *Directory) grow() {
	old := d.index
	d.index = make([]page, 2*len(old))
	for _, x := range old {
		if x.place != 0 {
			d.index[d.find(x.key)] = x
		}
	}
}

// find returns where a page stands in the index, or would.
func (d *Directory) find(key uint64) int {
	mask := uint64(len(d.index) - 1)
	at := key * 0x9e3779b97f4a7c15 >> 32 & mask
	for d.index[at].key != key && d.index[at].place != 0 {
		at = (at + 1) & mask
	}
	return int(at)
}

// card finds whose card it is.
func (d *Directory) card(c *CardKey) (o owner, ok bool) {
	if key, packs := d.key(c); packs {
		if x := d.index[d.find(key/pageSize)]; x.place != 0 {
			if e := d.pages[x.place-1][key%pageSize]; e.word != 0 {
				return owner{d.base + site.ID(e.id), e.word}, true
			}
		}
	}
	if len(d.wide) == 0 {
		return owner{}, false
	}
	o, ok = d.wide[*c]
	return o, ok
}

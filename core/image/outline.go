package image

import (
	"bytes"
	"cmp"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"maps"
	"slices"
	"sync"

	"amberkeystone/core/hours"
	"amberkeystone/core/site"
)

// Outline is an image without its bytes: what its sections are, and so its root. It is enough to tell whether a
// controller holds what it should.
type Outline struct {
	Heads  []Head
	Root   string
	People int // how many are in it
	Port   int // the highest port that a door is on
}

// Outlines are those of all controllers of a configuration. What a change does not touch is taken over from the
// outlines before; the rest is worked out when it is asked for. It is safe for concurrent use.
type Outlines struct {
	config *site.Config
	clock  func(controller site.ID) *hours.Zone
	pinKey []byte
	crowd  *crowd

	mu sync.Mutex
	of map[site.ID]*sketch
}

// sketch is one outline, drawn once.
type sketch struct {
	mu     sync.Mutex
	drawn  bool
	before *sketch      // of the configuration before, drawn, where some of it still holds
	stale  [Shards]bool // what does not
	hours  bool         // all but the people is to be looked at

	fixed  [3]Head
	levels map[site.ID]bool // that lead through a door here
	length int              // of PINs, which people who have it do not repeat
	shards [Shards]shard
	port   int
	Outline
}

// shard is a section of people.
type shard struct {
	sum  [sha256.Size]byte
	size int
	n    int // people in it
}

// NewOutlines returns the outlines of a configuration. Clock gives the zone of a controller.
func NewOutlines(c *site.Config, clock func(controller site.ID) *hours.Zone, secrets Secrets) *Outlines {
	c = c.Effective()
	return &Outlines{config: c, clock: clock, pinKey: secrets.PINKey, crowd: newCrowd(c), of: map[site.ID]*sketch{}}
}

// After returns the outlines of a configuration that follows this one's: people who differ are listed, and others says
// whether anything but people does. One at a time may follow.
func (o *Outlines) After(c *site.Config, clock func(site.ID) *hours.Zone, people []site.ID, others bool) *Outlines {
	c = c.Effective()
	next := &Outlines{
		config: c,
		clock:  clock,
		pinKey: o.pinKey,
		crowd:  o.crowd.after(o.config, c, people),
		of:     map[site.ID]*sketch{},
	}
	o.mu.Lock()
	defer o.mu.Unlock()
	var differ []differing
	for _, p := range people {
		d := differing{shard: int(uint64(p) % Shards)}
		for _, w := range []*crowd{o.crowd, next.crowd} {
			if m, ok := w.find(p); ok {
				d.held = append(d.held, m.held.list...)
			}
		}
		differ = append(differ, d)
	}
	for id, was := range o.of {
		if s := was.after(differ, others); s != nil {
			next.of[id] = s
		}
	}
	return next
}

// differing is somebody who differs: their shard, and the levels that they held or hold.
type differing struct {
	shard int
	held  []site.Grant
}

func (d *differing) at(leads map[site.ID]bool) bool {
	return slices.ContainsFunc(d.held, func(g site.Grant) bool { return leads[g.LevelID] })
}

// after begins the sketch that follows one: the same, where nobody differs who has something to do there; nil where
// nothing of it is to be had, as while it is being drawn.
func (s *sketch) after(differ []differing, others bool) *sketch {
	if !s.mu.TryLock() {
		return nil
	}
	defer s.mu.Unlock()
	next := &sketch{before: s, hours: others}
	switch {
	case s.drawn:
	case s.before != nil:
		next = &sketch{before: s.before, stale: s.stale, hours: s.hours || others}
	default:
		return nil
	}
	same := s.drawn && !others
	for i := range differ {
		if differ[i].at(next.before.levels) { // where levels lead elsewhere by now, all is drawn anew
			next.stale[differ[i].shard] = true
			same = false
		}
	}
	if same {
		return s
	}
	return next
}

// Of returns the outline of a controller's image.
func (o *Outlines) Of(controller site.ID) *Outline {
	o.mu.Lock()
	s := o.of[controller]
	if s == nil {
		s = &sketch{}
		o.of[controller] = s
	}
	o.mu.Unlock()
	s.mu.Lock()
	defer s.mu.Unlock()
	if !s.drawn {
		o.draw(s, controller)
		s.drawn = true
	}
	return &s.Outline
}

// Drawn is Of where the outline is known already; it works nothing out.
func (o *Outlines) Drawn(controller site.ID) (*Outline, bool) {
	o.mu.Lock()
	s := o.of[controller]
	o.mu.Unlock()
	if s == nil || !s.mu.TryLock() {
		return nil, false
	}
	defer s.mu.Unlock()
	return &s.Outline, s.drawn
}

// draw works an outline out.
func (o *Outlines) draw(s *sketch, controller site.ID) {
	was := s.before
	s.before = nil // so that those before can be forgotten
	if was != nil {
		s.fixed, s.levels, s.length, s.shards, s.port = was.fixed, was.levels, was.length, was.shards, was.port
	}
	if was == nil || s.hours {
		o.drawFixed(s, controller)
	}
	keep := was != nil && was.length == s.length && maps.Equal(was.levels, s.levels)
	bound := newBinding(s.levels)
	for n := range Shards {
		if !keep || s.stale[n] {
			s.shards[n] = bound.shard(o.crowd.shards[n])
		}
	}
	s.finish()
}

// drawFixed works out the sections of hardware, hours and rules.
func (o *Outlines) drawFixed(s *sketch, controller site.ID) {
	im, levels := withoutPeople(o.config, controller, *o.clock(controller), Secrets{o.pinKey})
	s.levels, s.length, s.port = levels, im.Settings.PINLength, 0
	for _, d := range im.Doors {
		s.port = max(s.port, d.Port)
	}
	for i, p := range im.parts() {
		b := p.bytes()
		s.fixed[i] = Head{p.name, Hash(b), len(b)}
	}
}

// finish lists the heads and takes the root over them.
func (s *sketch) finish() {
	s.Outline = Outline{Heads: append(make([]Head, 0, 3+Shards), s.fixed[:]...), Port: s.port}
	for n := range s.shards {
		if x := &s.shards[n]; x.n > 0 {
			s.Heads = append(s.Heads, Head{shardName(n), hex.EncodeToString(x.sum[:]), x.size})
			s.People += x.n
		}
	}
	s.Root = Root(s.Heads)
}

// ShardName names the nth section of people.
func ShardName(n int) string { return shardName(n) }

func shardName(n int) string { return fmt.Sprintf("people %02x", n) }

// OverCapacity says in words what does not fit into a controller, or nothing.
func (o *Outline) OverCapacity(c site.Controller) string {
	if o.Port > c.Doors() {
		return fmt.Sprintf("a door is on port %d, the controller has %d", o.Port, c.Doors())
	}
	if c.People > 0 && o.People > c.People {
		return fmt.Sprintf("%d people have a credential and a level here, the controller holds %d", o.People, c.People)
	}
	return ""
}

// crowd is all people as they stand in images, by shard: what is the same at every controller is written once.
type crowd struct {
	shards [Shards][]member // by number
	sets   map[string]*grants
}

// member is a person: what stands before their levels and after, as JSON, and the levels that they hold, which equal
// sets share. One without a card or a PIN is in no image.
type member struct {
	id         site.ID
	head, tail string
	held       *grants
}

// grants are the levels that somebody holds, in the order of their numbers.
type grants struct{ list []site.Grant }

func newCrowd(c *site.Config) *crowd {
	w := &crowd{sets: map[string]*grants{}}
	for _, p := range c.People {
		w.add(p, c.Settings.PINLength)
	}
	return w
}

// after is the crowd once some people differ.
func (w *crowd) after(was, c *site.Config, people []site.ID) *crowd {
	if was.Settings.PINLength != c.Settings.PINLength {
		return newCrowd(c)
	}
	next := *w
	copied := map[uint64]bool{}
	for _, id := range people {
		n := uint64(id) % Shards
		if !copied[n] {
			copied[n] = true
			next.shards[n] = slices.Clone(next.shards[n])
		}
		list := &next.shards[n]
		i, there := slices.BinarySearchFunc(*list, id, func(m member, id site.ID) int { return cmp.Compare(m.id, id) })
		if there {
			*list = slices.Delete(*list, i, i+1)
		}
		if p := c.Person(id); p != nil {
			if m, ok := next.member(p, c.Settings.PINLength); ok {
				*list = slices.Insert(*list, i, m)
			}
		}
	}
	return &next
}

func (w *crowd) find(id site.ID) (member, bool) {
	list := w.shards[uint64(id)%Shards]
	i, ok := slices.BinarySearchFunc(list, id, func(m member, id site.ID) int { return cmp.Compare(m.id, id) })
	if !ok {
		return member{}, false
	}
	return list[i], true
}

func (w *crowd) add(p *site.Person, length int) {
	if m, ok := w.member(p, length); ok {
		n := uint64(p.ID) % Shards
		w.shards[n] = append(w.shards[n], m)
	}
}

const noLevels = `"levels":null`

// member writes a person once for all controllers.
func (w *crowd) member(p *site.Person, length int) (m member, ok bool) {
	if len(p.Credentials) == 0 && p.PIN == nil || len(p.Levels) == 0 {
		return m, false
	}
	x := person(p, length, func(site.ID) bool { return true })
	key := grantsKey(nil, x.Levels)
	held := w.sets[string(key)]
	if held == nil {
		held = &grants{x.Levels}
		w.sets[string(key)] = held
	}
	x.Levels = nil
	b, err := json.Marshal(x)
	if err != nil { // numbers, text, and hashes
		panic(fmt.Sprintf("image: %v", err))
	}
	i := bytes.LastIndex(b, []byte(noLevels)) // after it only dates, whose form Check has seen
	return member{p.ID, string(b[:i]) + `"levels":`, string(b[i+len(noLevels):]), held}, true
}

// binding writes shards for one controller: of each set of levels only those that lead through its doors.
type binding struct {
	leads map[site.ID]bool
	here  map[*grants]string // as JSON; empty where none does
	buf   []byte
}

func newBinding(leads map[site.ID]bool) *binding {
	return &binding{leads: leads, here: map[*grants]string{}}
}

func (b *binding) levels(g *grants) string {
	s, ok := b.here[g]
	if !ok {
		list := slices.DeleteFunc(slices.Clone(g.list), func(x site.Grant) bool { return !b.leads[x.LevelID] })
		if len(list) > 0 {
			text, err := json.Marshal(list)
			if err != nil {
				panic(fmt.Sprintf("image: %v", err))
			}
			s = string(text)
		}
		b.here[g] = s
	}
	return s
}

// shard writes the people of a shard and takes their hash.
func (b *binding) shard(list []member) shard {
	n := b.write(list)
	if n == 0 {
		return shard{}
	}
	return shard{sha256.Sum256(b.buf), len(b.buf), n}
}

// write fills the buffer with the bytes of a section of people, and returns how many they are.
func (b *binding) write(list []member) (n int) {
	b.buf = append(b.buf[:0], `{"people":[`...)
	for i := range list {
		levels := b.levels(list[i].held)
		if levels == "" {
			continue
		}
		if n++; n > 1 {
			b.buf = append(b.buf, ',')
		}
		b.buf = append(append(append(b.buf, list[i].head...), levels...), list[i].tail...)
	}
	b.buf = append(b.buf, `]}`...)
	return n
}

// Section writes one section of a controller's image; one without bytes where there is none of that name.
func (o *Outlines) Section(controller site.ID, name string) Section {
	n := rank(name)
	if n < 3 {
		im, _ := withoutPeople(o.config, controller, *o.clock(controller), Secrets{o.pinKey})
		for _, p := range im.parts() {
			if p.name == name {
				b := p.bytes()
				return Section{Head{name, Hash(b), len(b)}, b}
			}
		}
		return Section{}
	}
	_, levels := withoutPeople(o.config, controller, *o.clock(controller), Secrets{})
	bound := newBinding(levels)
	if bound.write(o.crowd.shards[n-3]) == 0 {
		return Section{}
	}
	return Section{Head{name, Hash(bound.buf), len(bound.buf)}, bound.buf}
}

// Differing compares an image that was sent with what its controller should hold: both without the people of the
// sections that are the same. They are enough for Diff.
func (o *Outlines) Differing(controller site.ID, sent []byte) (was, is *Image, err error) {
	if bytes.HasPrefix(sent, []byte("{")) { // layout 2 has no sections
		was, err = Parse(sent)
		return was, Build(o.config, controller, *o.clock(controller), Secrets{o.pinKey}), err
	}
	want := o.Of(controller).Heads
	had := map[string]Head{}
	list, err := unpack(sent, func(h Head) bool {
		had[h.Name] = h
		return rank(h.Name) < 3 || !slices.Contains(want, h)
	})
	if err != nil {
		return nil, nil, err
	}
	if was, err = Join(list); err != nil {
		return nil, nil, err
	}
	im, levels := withoutPeople(o.config, controller, *o.clock(controller), Secrets{o.pinKey})
	bound := newBinding(levels)
	for _, h := range want[3:] {
		if had[h.Name] == h {
			continue
		}
		bound.write(o.crowd.shards[rank(h.Name)-3])
		if err := im.take(Section{h, bound.buf}); err != nil {
			return nil, nil, err
		}
	}
	slices.SortFunc(im.People, func(a, b Person) int { return cmp.Compare(a.ID, b.ID) })
	return was, im, nil
}

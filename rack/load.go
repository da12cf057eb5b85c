package rack

import (
	"errors"
	"fmt"
	"os"

	"amberkeystone/core/image"
	"amberkeystone/link"
)

// loading is an image on its way: what is held of it already, and what comes.
type loading struct {
	root  string
	list  []image.Section // in their order
	place map[string]int  // of each name
	come  map[string]bool // those that have to come
}

// mostSections is how many sections an image has at the most: three, and the shards of people.
const mostSections = 3 + image.Shards

// loadBegin looks which sections of an image are held already, and answers which are not.
func (u *unit) loadBegin(b link.LoadBegin) (link.LoadNeeds, error) {
	needs := link.LoadNeeds{Sections: []string{}}
	u.loading = nil
	size := 0
	for _, h := range b.Sections {
		if h.Size < 0 || h.Size > link.MostImage-size {
			return needs, fmt.Errorf("an image of that size does not fit; at most %d bytes", link.MostImage)
		}
		size += h.Size
	}
	if len(b.Sections) == 0 || len(b.Sections) > mostSections || image.Root(b.Sections) != b.Root {
		return needs, errors.New("the root is not that of the sections")
	}
	l := &loading{root: b.Root, place: map[string]int{}, come: map[string]bool{}}
	held := map[string][]byte{}
	if !b.Whole {
		held = u.sections()
	}
	for i, h := range b.Sections {
		if _, twice := l.place[h.Name]; twice {
			return needs, fmt.Errorf("section %q is announced twice", h.Name)
		}
		l.place[h.Name] = i
		if s, ok := held[h.Hash]; ok && len(s) == h.Size {
			l.list = append(l.list, image.Section{Head: h, Bytes: s})
			continue
		}
		l.list = append(l.list, image.Section{Head: h})
		l.come[h.Name] = true
		needs.Sections = append(needs.Sections, h.Name)
	}
	u.loading = l
	return needs, nil
}

// sections returns the sections that are held, by their hashes. None where the image is of a layout without.
func (u *unit) sections() map[string][]byte {
	out := map[string][]byte{}
	if u.kept.Hash == "" {
		return out
	}
	b, err := os.ReadFile(u.imagePath(u.kept.Hash))
	if err != nil {
		return out
	}
	list, err := image.Unpack(b)
	if err != nil {
		return out
	}
	for _, s := range list {
		out[s.Hash] = s.Bytes
	}
	return out
}

// loadPart takes part of a section.
func (u *unit) loadPart(p link.LoadPart) error {
	if u.loading == nil || !u.loading.come[p.Section] {
		return fmt.Errorf("section %q is not on its way", p.Section)
	}
	s := &u.loading.list[u.loading.place[p.Section]]
	if p.Offset != len(s.Bytes) {
		return fmt.Errorf("part at %d, expected %d", p.Offset, len(s.Bytes))
	}
	if len(p.Data) > s.Size-len(s.Bytes) {
		return fmt.Errorf("more than the %d bytes that were announced", s.Size)
	}
	s.Bytes = append(s.Bytes, p.Data...)
	return nil
}

// loadEnd verifies every section and puts the whole into force.
func (u *unit) loadEnd() (link.Loaded, error) {
	l := u.loading
	u.loading = nil
	if l == nil {
		return link.Loaded{}, errors.New("no image is on its way")
	}
	for i := range l.list {
		if err := l.list[i].Verify(); err != nil {
			return link.Loaded{}, fmt.Errorf("%w; it was not put into force", err)
		}
	}
	if err := u.hold(image.Pack(l.list)); err != nil {
		return link.Loaded{}, err
	}
	return link.Loaded{Hash: u.kept.Hash}, nil
}

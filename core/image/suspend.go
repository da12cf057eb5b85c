package image

import (
	"bytes"
	"encoding/json"
	"fmt"

	"amberkeystone/core/site"
)

// WithSuspended returns the sections of an image in which a person is suspended, and whether they stand in it and were
// not suspended before. Nothing else differs: what else has changed since the image was made stays as it was. Only the
// section in which they are is read.
func WithSuspended(packed []byte, person site.ID) (sections []Section, found bool, err error) {
	if bytes.HasPrefix(packed, []byte("{")) { // layout 2 has no sections
		im, err := Parse(packed)
		if err != nil {
			return nil, false, err
		}
		for i := range im.People {
			if p := &im.People[i]; p.ID == person && !p.Suspended {
				p.Suspended, found = true, true
			}
		}
		return im.Sections(), found, nil
	}
	sections, err = Unpack(packed)
	if err != nil {
		return nil, false, err
	}
	name := shardName(int(uint64(person) % Shards))
	for i := range sections {
		s := &sections[i]
		if s.Name != name {
			continue
		}
		var p peoplePart
		if err := json.Unmarshal(s.Bytes, &p); err != nil {
			return nil, false, fmt.Errorf("image: %s: %w", name, err)
		}
		for k := range p.People {
			if x := &p.People[k]; x.ID == person && !x.Suspended {
				x.Suspended, found = true, true
			}
		}
		if found {
			b := (&part{name, p}).bytes()
			*s = Section{Head{name, Hash(b), len(b)}, b}
		}
	}
	return sections, found, nil
}

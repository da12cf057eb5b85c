package image

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"

	"amberkeystone/core/hours"
	"amberkeystone/core/site"
)

// An image is cut into sections, so that a change sends what it touches: hardware, hours, rules, and the people in up
// to 256 shards by the low byte of their number. Each section has canonical bytes and a SHA-256; the root is the
// SHA-256 of all names and hashes, and names the image. See docs/decisions/0012.

// Shards is into how many sections people are cut at the most.
const Shards = 256

// Head says what a section is.
type Head struct {
	Name string `json:"name"` // hardware, hours, rules, or people 00 to people ff
	Hash string `json:"hash"` // SHA-256 of its bytes, in hexadecimal
	Size int    `json:"size"` // in bytes
}

// Section is a part of an image as canonical bytes.
type Section struct {
	Head
	Bytes []byte
}

// What stands in the sections, part by part.
type (
	hardwarePart struct {
		Version    int             `json:"version"`
		Controller site.ID         `json:"controller"`
		Zone       hours.Zone      `json:"zone"`
		Settings   site.Settings   `json:"settings"`
		PINKey     []byte          `json:"pinKey"`
		Doors      []site.Door     `json:"doors"`
		Inputs     []site.Input    `json:"inputs,omitempty"`
		Outputs    []site.Output   `json:"outputs,omitempty"`
		Expanders  []site.Expander `json:"expanders,omitempty"`
	}
	hoursPart struct {
		Floors    []site.Floor       `json:"floors"`
		Types     []site.HolidayType `json:"types"`
		Holidays  []site.Holiday     `json:"holidays"`
		Plans     []site.Plan        `json:"plans"`
		Schedules []site.Schedule    `json:"schedules"`
		Changes   []site.DatedChange `json:"changes"`
	}
	rulesPart struct {
		Levels []Level `json:"levels"`
		Rules
	}
	peoplePart struct {
		People []Person `json:"people"`
	}
)

// part is one section of an image before it is written.
type part struct {
	name string
	body any
}

// parts cuts an image; shards without people are left out.
func (im *Image) parts() []part {
	out := []part{
		{"hardware", hardwarePart{im.Version, im.Controller, im.Zone, im.Settings, im.PINKey, im.Doors, im.Inputs, im.Outputs,
			im.Expanders}},
		{"hours", hoursPart{im.Floors, im.Types, im.Holidays, im.Plans, im.Schedules, im.Changes}},
		{"rules", rulesPart{im.Levels, im.Rules}},
	}
	var shards [Shards][]Person
	for _, p := range im.People {
		n := uint64(p.ID) % Shards
		shards[n] = append(shards[n], p)
	}
	for n, people := range shards {
		if len(people) > 0 {
			out = append(out, part{shardName(n), peoplePart{people}})
		}
	}
	return out
}

// bytes writes a part.
func (p *part) bytes() []byte {
	b, err := json.Marshal(p.body)
	if err != nil { // every field is plain data; only a passage mode out of range gets here, and Check refuses those
		panic(fmt.Sprintf("image: %v", err))
	}
	return b
}

// Sections returns the sections of an image in their order: the same image always gives the same bytes.
func (im *Image) Sections() []Section {
	var out []Section
	for _, p := range im.parts() {
		b := p.bytes()
		out = append(out, Section{Head{p.name, Hash(b), len(b)}, b})
	}
	return out
}

// Heads returns what sections are.
func Heads(list []Section) []Head {
	out := make([]Head, len(list))
	for i, s := range list {
		out[i] = s.Head
	}
	return out
}

// Root returns the SHA-256 over the names, sizes and hashes of sections, which names the image.
func Root(heads []Head) string {
	var b strings.Builder
	for _, h := range heads {
		fmt.Fprintf(&b, "%s %d %s\n", h.Name, h.Size, h.Hash)
	}
	return Hash([]byte(b.String()))
}

// Pack puts sections into one file: their heads as a line of JSON, then their bytes.
func Pack(list []Section) []byte {
	head, err := json.Marshal(Heads(list))
	if err != nil { // names and numbers
		panic(fmt.Sprintf("image: %v", err))
	}
	out := append(head, '\n')
	for _, s := range list {
		out = append(out, s.Bytes...)
	}
	return out
}

// HeadsOf reads what the sections are of what Pack wrote, without looking at them.
func HeadsOf(b []byte) ([]Head, error) {
	line, _, ok := bytes.Cut(b, []byte("\n"))
	var heads []Head
	if !ok || json.Unmarshal(line, &heads) != nil {
		return nil, errors.New("image: it does not begin with the heads of its sections")
	}
	return heads, nil
}

// Unpack reads what Pack wrote, and verifies every section.
func Unpack(b []byte) ([]Section, error) {
	return unpack(b, func(Head) bool { return true })
}

// unpack reads and verifies some sections of what Pack wrote.
func unpack(b []byte, wanted func(Head) bool) ([]Section, error) {
	line, rest, ok := bytes.Cut(b, []byte("\n"))
	var heads []Head
	if !ok || json.Unmarshal(line, &heads) != nil {
		return nil, errors.New("image: it does not begin with the heads of its sections")
	}
	out := make([]Section, 0, len(heads))
	for _, h := range heads {
		if h.Size < 0 || h.Size > len(rest) {
			return nil, fmt.Errorf("image: section %q is cut off", h.Name)
		}
		s := Section{h, rest[:h.Size:h.Size]}
		rest = rest[h.Size:]
		if !wanted(h) {
			continue
		}
		if err := s.Verify(); err != nil {
			return nil, err
		}
		out = append(out, s)
	}
	if len(rest) > 0 {
		return nil, errors.New("image: something follows its sections")
	}
	return out, nil
}

// Verify says whether the bytes of a section are those of its head.
func (s *Section) Verify() error {
	if len(s.Bytes) != s.Size || Hash(s.Bytes) != s.Hash {
		return fmt.Errorf("image: section %q is damaged", s.Name)
	}
	return nil
}

// Join puts sections together that were verified, and refuses what a controller could not stand on.
func Join(list []Section) (*Image, error) {
	im := &Image{}
	for i, s := range list {
		if i > 0 && rank(list[i-1].Name) >= rank(s.Name) {
			return nil, fmt.Errorf("image: section %q is out of order", s.Name)
		}
		if err := im.take(s); err != nil {
			return nil, fmt.Errorf("image: section %q: %w", s.Name, err)
		}
	}
	if im.Version != Version {
		return nil, fmt.Errorf("image: layout %d, this controller knows %d", im.Version, Version)
	}
	slices.SortFunc(im.People, func(a, b Person) int { return int(a.ID - b.ID) })
	return im, im.check()
}

// rank is the place of a section among the others; −1 for a name that none has.
func rank(name string) int {
	var n int
	switch name {
	case "hardware":
		return 0
	case "hours":
		return 1
	case "rules":
		return 2
	}
	if _, err := fmt.Sscanf(name, "people %x", &n); err != nil || n < 0 || n >= Shards ||
		fmt.Sprintf("people %02x", n) != name {
		return -1
	}
	return 3 + n
}

// take reads a section into the image.
func (im *Image) take(s Section) error {
	switch n := rank(s.Name); n {
	case -1:
		return errors.New("there is none of that name")
	case 0:
		var p hardwarePart
		err := json.Unmarshal(s.Bytes, &p)
		im.Version, im.Controller, im.Zone, im.Settings, im.PINKey, im.Doors = p.Version, p.Controller, p.Zone, p.Settings,
			p.PINKey, p.Doors
		im.Inputs, im.Outputs, im.Expanders = p.Inputs, p.Outputs, p.Expanders
		return err
	case 1:
		var p hoursPart
		err := json.Unmarshal(s.Bytes, &p)
		im.Floors, im.Types, im.Holidays, im.Plans, im.Schedules, im.Changes = p.Floors, p.Types, p.Holidays, p.Plans,
			p.Schedules, p.Changes
		return err
	case 2:
		var p rulesPart
		err := json.Unmarshal(s.Bytes, &p)
		im.Levels, im.Rules = p.Levels, p.Rules
		return err
	default:
		var p peoplePart
		err := json.Unmarshal(s.Bytes, &p)
		for _, x := range p.People {
			if uint64(x.ID)%Shards != uint64(n-3) {
				return fmt.Errorf("person %d does not belong into it", x.ID)
			}
		}
		im.People = append(im.People, p.People...)
		return err
	}
}

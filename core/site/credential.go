package site

import (
	"encoding/json"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"unicode"

	"amberkeystone/core/cards"
)

// CredentialKind is what somebody shows at a reader.
type CredentialKind string

// The kinds of credential. A PIN is none of these: its value is never written, and it is typed.
const (
	Card   CredentialKind = "card" // or a fob
	Phone  CredentialKind = "phone"
	QRPass CredentialKind = "QR pass"
	Plate  CredentialKind = "plate" // of a vehicle
)

// CredentialKinds lists the kinds of credential.
var CredentialKinds = []CredentialKind{Card, Phone, QRPass, Plate}

// CredentialStatus is the state of a credential.
type CredentialStatus string

// The states of a credential.
const (
	Active    CredentialStatus = "active"
	Lost      CredentialStatus = "lost"
	Stolen    CredentialStatus = "stolen"
	Suspended CredentialStatus = "suspended"
	Expired   CredentialStatus = "expired" // withdrawn for good, as after its time
)

// CredentialStatuses lists the states of a credential.
var CredentialStatuses = []CredentialStatus{Active, Lost, Stolen, Suspended, Expired}

// Credential is what a person can show.
type Credential struct {
	Kind   CredentialKind   `json:"kind" enum:"card,phone,QR pass,plate"`
	Format string           `json:"format,omitempty" doc:"Of a card: the name of its format"`
	Value  string           `json:"value" doc:"A card's number as people say it, 42-12345; a phone's or a pass's own text; a plate"`
	Status CredentialStatus `json:"status" enum:"active,lost,stolen,suspended,expired"`
	Dates
}

// NewCard returns a card that is in use.
func NewCard(format string, facility, number uint64) Credential {
	return Credential{Kind: Card, Format: format, Value: cards.Number(format, facility, number), Status: Active}
}

// String writes the value as people say it.
func (c Credential) String() string { return c.Value }

// Words names the credential with its kind: card 42-12345.
func (c Credential) Words() string { return string(c.Kind) + " " + c.Value }

// Card returns the fields of a card; ok is false of another kind, and where the value is no card number.
func (c Credential) Card() (facility, number uint64, ok bool) {
	if c.Kind != Card {
		return 0, 0, false
	}
	fac, num, two := strings.Cut(c.Value, "-")
	if !two {
		fac, num = "0", c.Value
	}
	f, err := strconv.ParseUint(fac, 10, 64)
	n, err2 := strconv.ParseUint(num, 10, 64)
	switch c.Format {
	case cards.Standard26.Name: // always with its facility code
		ok = two
	case cards.Raw.Name:
		ok = !two
	default:
		ok = true
	}
	return f, n, ok && err == nil && err2 == nil
}

// Normal returns the credential with its value in the one form in which equal ones are equal: a card's number with all
// its digits, a plate in capitals without gaps.
func (c Credential) Normal() Credential {
	c.Value = strings.TrimSpace(c.Value)
	switch c.Kind {
	case Card:
		if f, n, ok := c.Card(); ok {
			c.Value = cards.Number(c.Format, f, n)
		}
	case Plate:
		c.Value = strings.Map(func(r rune) rune {
			if unicode.IsLetter(r) || unicode.IsDigit(r) {
				return unicode.ToUpper(r)
			}
			return -1
		}, c.Value)
	}
	return c
}

// UnmarshalJSON reads a credential, and cards from before there were other kinds, which had their fields apart.
func (c *Credential) UnmarshalJSON(b []byte) error {
	type plain Credential
	var v struct {
		plain
		Facility uint64 `json:"facility"`
		Number   uint64 `json:"number"`
	}
	if err := json.Unmarshal(b, &v); err != nil {
		return fmt.Errorf("credential: %w", err)
	}
	*c = Credential(v.plain)
	if c.Kind == "" && c.Value == "" {
		c.Kind, c.Value = Card, cards.Number(c.Format, v.Facility, v.Number)
	}
	*c = c.Normal()
	return nil
}

// check says what is wrong with a credential.
func (c Credential) check(fs *Faults, field string) {
	fs.add(!oneOf(c.Kind, CredentialKinds...), field+"kind", "%q is not a kind of credential", c.Kind)
	fs.add(!oneOf(c.Status, CredentialStatuses...), field+"status", "%q is not a state of a credential", c.Status)
	fs.dates(field, c.Dates)
	if c.Kind != Card {
		fs.add(c.Format != "", field+"format", "only a card has a format; leave it out")
		fs.add(c.Normal().Value == "", field+"value", "write what is shown")
		fs.add(len(c.Value) > 200, field+"value", "at most 200 letters")
		fs.add(strings.ContainsAny(c.Value, "\n\r\t"), field+"value", "it is one line")
		return
	}
	fs.add(c.Format == "", field+"format", "choose the format of the card")
	facility, number, ok := c.Card()
	if !ok {
		example := "42-12345"
		if c.Format == cards.Raw.Name {
			example = "1234567"
		}
		fs.add(true, field+"value", "%q is not a number of a %s card; write it as %s", c.Value, c.Format, example)
	} else if f := cards.ByName(c.Format); f != nil { // of a format of the site's own, see Settings.CheckCards
		if err := f.Check(facility, number); err != nil {
			fs.add(true, field+"value", "%s", err)
		}
	}
}

// Kinds is a set of kinds of credential.
type Kinds uint8

// KindsOf returns the set of some kinds; what is no kind is not in it.
func KindsOf(list ...CredentialKind) (out Kinds) {
	for _, k := range list {
		if i := slices.Index(CredentialKinds, k); i >= 0 {
			out |= 1 << i
		}
	}
	return out
}

// TakenKinds returns what a reader takes: cards, and what else is said.
func (r *Reader) TakenKinds() Kinds { return KindsOf(Card) | KindsOf(r.Takes...) }

// TakesKind reports whether a reader takes credentials of a kind. Every reader takes cards.
func (r *Reader) TakesKind(k CredentialKind) bool { return r.TakenKinds()&KindsOf(k) != 0 }

// Kinds returns the kinds of credential that a person has.
func (p *Person) Kinds() (out Kinds) {
	for i := range p.Credentials {
		out |= KindsOf(p.Credentials[i].Kind)
	}
	return out
}

// UnmarshalJSON reads a person, and those from before, who had cards and nothing else.
func (p *Person) UnmarshalJSON(b []byte) error {
	type plain Person
	v := struct {
		plain
		Cards []Credential `json:"cards"`
	}{plain: plain(*p)}
	if err := json.Unmarshal(b, &v); err != nil {
		return err
	}
	*p = Person(v.plain)
	p.Credentials = append(p.Credentials, v.Cards...)
	return nil
}

package roster

import (
	"cmp"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"amberkeystone/core/cards"
	"amberkeystone/core/site"
)

// book finds what rows name.
type book struct {
	config      *site.Config
	byNumber    map[string]*site.Person
	byName      map[string][]*site.Person
	byCard      map[string]*site.Person
	departments map[string]site.ID
	levels      map[string]site.ID
	missing     []string
	mine        map[*site.Person]bool // those that rows have made or changed
}

// NewDepartment is the number under which the nth missing department stands in what is planned.
func NewDepartment(n int) site.ID { return -site.ID(n) - 1 }

// Plan says what becomes of each row, one after the other: a later row of the same person goes on from the earlier.
// Departments that there are not are named in missing; planned people have NewDepartment in their place.
func Plan(c *site.Config, rows []Row) (planned []Planned, missing []string) {
	b := &book{
		config: c, byNumber: map[string]*site.Person{}, byName: map[string][]*site.Person{},
		byCard: map[string]*site.Person{}, departments: map[string]site.ID{}, levels: map[string]site.ID{},
		mine: map[*site.Person]bool{},
	}
	for _, p := range c.People {
		b.note(p)
	}
	for _, d := range c.Departments {
		b.departments[strings.ToLower(d.Name)] = d.ID
	}
	for _, l := range c.Levels {
		b.levels[strings.ToLower(l.Name)] = l.ID
	}
	planned = make([]Planned, 0, len(rows))
	for _, r := range rows {
		planned = append(planned, b.plan(r))
	}
	return planned, b.missing
}

func cardKey(c site.Credential) string { return string(c.Kind) + " " + c.Format + " " + c.Value }

func (b *book) note(p *site.Person) {
	if p.Number != "" {
		b.byNumber[p.Number] = p
	}
	b.byName[strings.ToLower(p.Name)] = append(b.byName[strings.ToLower(p.Name)], p)
	for _, c := range p.Credentials {
		b.byCard[cardKey(c)] = p
	}
}

// reading is one row while it is read.
type reading struct {
	*book
	values map[Field]string
	Planned
}

func (r *reading) wrong(f Field, format string, args ...any) {
	r.Faults = append(r.Faults, Fault{f, fmt.Sprintf(format, args...)})
}

func (r *reading) says(format string, args ...any) {
	r.Words = append(r.Words, fmt.Sprintf(format, args...))
}

func (b *book) plan(row Row) Planned {
	r := &reading{book: b, values: map[Field]string{}, Planned: Planned{Line: row.Line}}
	for f, v := range row.Values {
		if v = strings.TrimSpace(v); v != "" {
			r.values[f] = v
		}
	}
	r.Name = cmp.Or(r.values[Name], strings.TrimSpace(r.values[FirstName]+" "+r.values[LastName]))
	held := r.cards()
	was := r.find(held)
	if was == nil && r.Name == "" && len(r.Faults) == 0 {
		r.wrong(Name, "give a name, or a number or a card of somebody who is known")
	}
	if len(r.Faults) > 0 {
		r.Fate = Wrong
		return r.Planned
	}
	p := &site.Person{DepartmentIDs: []site.ID{}, Credentials: []site.Credential{}, Levels: []site.Grant{}}
	if was != nil {
		copied := *was
		p = &copied
		p.DepartmentIDs, p.Credentials, p.Levels = slices.Clone(p.DepartmentIDs), slices.Clone(p.Credentials),
			slices.Clone(p.Levels)
	}
	r.fill(p, held)
	r.check(p)
	switch {
	case len(r.Faults) > 0:
		r.Fate = Wrong
		return r.Planned
	case was == nil:
		r.Fate = New
	case len(r.Words) > 0:
		r.Fate = Changed
	default:
		r.Fate = Unchanged
	}
	r.Person, r.Name = r.keep(was, p), p.Name
	return r.Planned
}

// keep lets later rows find somebody as this one leaves them. Who stands in several rows is one and the same in all.
func (r *reading) keep(was, p *site.Person) *site.Person {
	if was != nil {
		name := strings.ToLower(was.Name)
		r.byName[name] = slices.DeleteFunc(r.byName[name], func(x *site.Person) bool { return x == was })
	}
	if r.mine[was] {
		*was = *p
		p = was
	}
	r.mine[p] = true
	r.note(p)
	return p
}

// find finds who a row is about: by number, by a card, else by a name that only one has. Nil is somebody new.
func (r *reading) find(held []site.Credential) *site.Person {
	if n := r.values[Number]; n != "" {
		if p := r.byNumber[n]; p != nil {
			return p
		}
	}
	for _, c := range held {
		if p := r.byCard[cardKey(c)]; p != nil && (r.Name == "" || strings.EqualFold(p.Name, r.Name)) {
			return p
		}
	}
	list := r.byName[strings.ToLower(r.Name)]
	if n := r.values[Number]; n != "" { // somebody of that name with another number is another
		list = slices.DeleteFunc(slices.Clone(list), func(p *site.Person) bool { return p.Number != "" && p.Number != n })
	}
	switch len(list) {
	case 0:
		return nil
	case 1:
		return list[0]
	}
	r.wrong(Name, "%d people are called %s; add a column with their numbers", len(list), r.Name)
	return nil
}

func parts(cell string) (out []string) {
	for _, s := range strings.Split(cell, "|") {
		if s = strings.TrimSpace(s); s != "" {
			out = append(out, s)
		}
	}
	return out
}

// cards reads the credentials of a row.
func (r *reading) cards() (out []site.Credential) {
	format := r.values[Format]
	for _, s := range parts(r.values[Cards]) {
		c := site.Credential{Kind: site.Card, Format: format, Status: site.Active}
		for _, status := range site.CredentialStatuses {
			if rest, ok := strings.CutSuffix(s, " "+string(status)); ok {
				s, c.Status = rest, status
			}
		}
		for _, k := range site.CredentialKinds[1:] {
			if rest, ok := strings.CutPrefix(s, string(k)+" "); ok {
				s, c.Kind, c.Format = rest, k, ""
			}
		}
		for i := range r.config.Settings.Cards {
			if rest, ok := strings.CutPrefix(s, r.config.Settings.Cards[i].Format+" "); ok {
				s, c.Format = rest, r.config.Settings.Cards[i].Format
			}
		}
		if f := r.values[Facility]; f != "" && c.Kind == site.Card && !strings.Contains(s, "-") {
			s = f + "-" + s
		}
		if c.Kind == site.Card && c.Format == "" {
			c.Format = cards.Raw.Name
			if strings.Contains(s, "-") || len(r.config.Settings.Cards) == 0 {
				c.Format = r.usualFormat()
			}
		}
		c.Value = strings.TrimSpace(s)
		out = append(out, c.Normal())
	}
	return out
}

// usualFormat is the first that readers take and that has a facility code.
func (r *reading) usualFormat() string {
	for _, f := range r.config.Settings.Cards {
		if f.Format != cards.Raw.Name {
			return f.Format
		}
	}
	return cards.Standard26.Name
}

// fill lays a row over somebody, and says what changes.
func (r *reading) fill(p *site.Person, held []site.Credential) {
	text := func(f Field, to *string, v string) {
		if v != "" && *to != v {
			if *to != "" {
				r.says("%s %s, was %s", f, v, *to)
			} else if f != Name {
				r.says("%s %s", f, v)
			}
			*to = v
		}
	}
	text(Name, &p.Name, r.Name)
	text(Number, &p.Number, r.values[Number])
	text(Phone, &p.Phone, r.values[Phone])
	text(Email, &p.Email, r.values[Email])
	text(Note, &p.Note, r.values[Note])
	text(From, &p.From, date(r.values[From]))
	text(Until, &p.Until, date(r.values[Until]))
	for _, name := range parts(r.values[Department]) {
		id, ok := r.departments[strings.ToLower(name)]
		if !ok {
			id = NewDepartment(len(r.missing))
			r.departments[strings.ToLower(name)] = id
			r.missing = append(r.missing, name)
		}
		if !p.In(id) {
			p.DepartmentIDs = append(p.DepartmentIDs, id)
			r.says("in %s", name)
		}
	}
	r.fillCards(p, held)
	for _, s := range parts(r.values[Levels]) {
		r.fillLevel(p, s)
	}
}

func (r *reading) fillCards(p *site.Person, held []site.Credential) {
	for _, c := range held {
		if other := r.byCard[cardKey(c)]; other != nil &&
			(other.ID != p.ID || p.ID == 0 &&
				!slices.ContainsFunc(p.Credentials, func(x site.Credential) bool { return cardKey(x) == cardKey(c) })) {
			r.wrong(Cards, "%s already belongs to %s", c.Words(), other.Name)
			continue
		}
		i := slices.IndexFunc(p.Credentials, func(x site.Credential) bool { return cardKey(x) == cardKey(c) })
		switch {
		case i < 0:
			p.Credentials = append(p.Credentials, c)
			r.says("%s", c.Words())
		case p.Credentials[i].Status != c.Status:
			p.Credentials[i].Status = c.Status
			r.says("%s is %s", c.Words(), c.Status)
		}
	}
}

// fillLevel reads a level, with or without dates.
func (r *reading) fillLevel(p *site.Person, s string) {
	var d site.Dates
	name := s
	if i := strings.LastIndex(name, " until "); i > 0 && isDate(name[i+7:]) {
		d.Until, name = name[i+7:], name[:i]
	}
	if i := strings.LastIndex(name, " from "); i > 0 && isDate(name[i+6:]) {
		d.From, name = name[i+6:], name[:i]
	}
	id, ok := r.levels[strings.ToLower(strings.TrimSpace(name))]
	if !ok {
		r.wrong(Levels, "there is no access level %q; make it first, or correct the name", name)
		return
	}
	g := site.Grant{LevelID: id, Dates: d}
	if slices.Contains(p.Levels, g) {
		return
	}
	p.Levels = append(p.Levels, g)
	r.says("level %s", s)
}

func isDate(s string) bool { return (site.Dates{From: s}).Words() != "" }

// date reads 2026-11-27 and 27.11.2026; anything else stays as it is, to be refused with its own words.
func date(s string) string {
	day, rest, _ := strings.Cut(s, ".")
	month, year, ok := strings.Cut(rest, ".")
	d, err1 := strconv.Atoi(day)
	m, err2 := strconv.Atoi(month)
	y, err3 := strconv.Atoi(year)
	if !ok || err1 != nil || err2 != nil || err3 != nil {
		return s
	}
	return fmt.Sprintf("%04d-%02d-%02d", y, m, d)
}

// check says what is wrong with what came about, by the column that it came from.
func (r *reading) check(p *site.Person) {
	faults := append(p.Check(), r.config.Settings.CheckCards(p)...)
	for _, f := range faults {
		field := Name
		switch head, _, _ := strings.Cut(f.Field, "["); head {
		case "credentials":
			field = Cards
		case "levels":
			field = Levels
		case "departmentIds":
			field = Department
		case "from":
			field = From
		case "until":
			field = Until
		case "number":
			field = Number
		case "phone":
			field = Phone
		case "email":
			field = Email
		case "note":
			field = Note
		}
		r.wrong(field, "%s", f.Words)
	}
}

// Export writes people as rows that Plan reads as unchanged, in the order of Columns.
func Export(c *site.Config, people []*site.Person, name func(site.ID) string) [][]string {
	out := [][]string{{}}
	for _, f := range Columns {
		out[0] = append(out[0], string(f))
	}
	for _, p := range people {
		var departments, held, levels []string
		for _, id := range p.DepartmentIDs {
			departments = append(departments, name(id))
		}
		for _, h := range p.Credentials {
			s := h.Value
			if h.Kind != site.Card {
				s = string(h.Kind) + " " + s
			} else {
				s = h.Format + " " + s
			}
			if h.Status != site.Active {
				s += " " + string(h.Status)
			}
			held = append(held, s)
		}
		for _, g := range p.Levels {
			if g.LevelID == 0 { // a place without a level has no word that a list could hold
				continue
			}
			s := name(g.LevelID)
			if g.From != "" {
				s += " from " + g.From
			}
			if g.Until != "" {
				s += " until " + g.Until
			}
			levels = append(levels, s)
		}
		out = append(out, []string{
			p.Number, p.Name, strings.Join(departments, " | "), strings.Join(held, " | "), strings.Join(levels, " | "), p.From,
			p.Until, p.Phone, p.Email, p.Note,
		})
	}
	return out
}

// Columns are the fields of an export.
var Columns = []Field{Number, Name, Department, Cards, Levels, From, Until, Phone, Email, Note}

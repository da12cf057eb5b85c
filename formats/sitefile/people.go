package sitefile

import (
	_ "embed"
	"errors"
	"fmt"
	"strings"

	"amberkeystone/core/cards"
	"amberkeystone/core/site"
)

type department struct {
	Name      string  `json:"name"`
	AlwaysPIN bool    `json:"alwaysPin,omitempty"`
	Extended  bool    `json:"extendedTime,omitempty"`
	Levels    []grant `json:"levels,omitempty"`
}

type person struct {
	Name        string            `json:"name"`
	Department  string            `json:"department,omitempty"` // as files said it before somebody could be in several
	Departments []string          `json:"departments,omitempty"`
	Suspended   bool              `json:"suspended,omitempty"`
	Extended    bool              `json:"extendedTime,omitempty"`
	AlwaysPIN   bool              `json:"alwaysPin,omitempty"`
	PINInstead  bool              `json:"pinInstead,omitempty"`
	Credentials []site.Credential `json:"credentials,omitempty"`
	Cards       []site.Credential `json:"cards,omitempty"` // as files said it before there were other kinds
	PIN         string            `json:"pin,omitempty"`
	Levels      []grant           `json:"levels,omitempty"`
	site.Dates
	site.Record
}

// grant gives a level, or a place during a schedule.
type grant struct {
	Level string `json:"level,omitempty"`
	where
	Schedule string `json:"schedule,omitempty"`
	site.Dates
}

// grants reads what somebody is given.
func (n *naming) grants(at string, list []grant) []site.Grant {
	var out []site.Grant
	for _, g := range list {
		x := site.Grant{Dates: g.Dates}
		if g.Level != "" {
			x.LevelID = n.find(at, "level", g.Level)
			if g.where != (where{}) || g.Schedule != "" {
				n.note(at, errors.New("a grant names a level and a place; write one of them"))
			}
		} else {
			x.Target, x.ScheduleID = n.target(at, g.where), n.find(at, "schedule", g.Schedule)
		}
		out = append(out, x)
	}
	return out
}

// credentialsOf names credentials by the list of the file that they come from: there is an older one for cards.
func credentialsOf(x *person, faults site.Faults) site.Faults {
	for i, f := range faults {
		var k int
		if _, err := fmt.Sscanf(f.Field, "credentials[%d]", &k); err == nil && k >= len(x.Credentials) {
			_, rest, _ := strings.Cut(f.Field, "]")
			rest = strings.Replace(rest, ".value", ".number", 1)
			faults[i].Field = fmt.Sprintf("cards[%d]%s", k-len(x.Credentials), rest)
		}
	}
	return faults
}

func (n *naming) departments(f *file, c *site.Config) {
	for _, x := range f.Departments {
		at := "department " + x.Name
		d := site.Department{
			ID: n.add("department", x.Name), Name: x.Name, AlwaysPIN: x.AlwaysPIN, ExtendedTime: x.Extended,
			Levels: n.grants(at, x.Levels),
		}
		n.check(at, d.Check())
		c.Departments = append(c.Departments, d)
	}
	for _, x := range f.People { // those that only people name, as in files from before they stood for themselves
		if name := strings.TrimSpace(x.Department); name != "" && n.ids[key("department", name)] == 0 {
			d := site.Department{ID: n.add("department", name), Name: name}
			n.check("department "+name, d.Check())
			c.Departments = append(c.Departments, d)
		}
	}
}

func (n *naming) people(f *file, c *site.Config, pinKey []byte) {
	owner := map[string]string{}
	own := func(at string, h *site.Credential, name string) {
		if h.Status == "" {
			h.Status = site.Active
		}
		k := h.Format + " " + h.Words()
		if owner[k] != "" {
			n.note(at, fmt.Errorf("%s already belongs to %s", h.Words(), owner[k]))
		}
		owner[k] = name
	}
	for _, x := range f.People {
		at := "person " + x.Name
		p := site.Person{ID: n.number(), Name: x.Name, Suspended: x.Suspended,
			ExtendedTime: x.Extended, AlwaysPIN: x.AlwaysPIN, PINInstead: x.PINInstead,
			Credentials: append(x.Credentials, x.Cards...), Levels: n.grants(at, x.Levels), Dates: x.Dates, Record: x.Record}
		for _, name := range append(x.Departments, strings.TrimSpace(x.Department)) {
			if name != "" {
				p.DepartmentIDs = append(p.DepartmentIDs, n.find(at, "department", name))
			}
		}
		for i := range p.Credentials {
			own(at, &p.Credentials[i], x.Name)
		}
		n.check(at, credentialsOf(&x, p.Check()))
		n.check(at, credentialsOf(&x, c.Settings.CheckCards(&p)))
		if x.PIN != "" {
			n.note(at, cards.CheckPIN(x.PIN, f.Settings.PINLength))
			pin, duress := cards.HashPIN(pinKey, x.PIN), cards.HashPIN(pinKey, cards.DuressPIN(x.PIN))
			p.PIN, p.Duress, p.PINLength = &pin, &duress, len(x.PIN)
		}
		c.People = append(c.People, &p)
	}
	for _, h := range f.FreeCards {
		own("free cards", &h, "the free cards")
		x := site.FreeCard{ID: n.number(), Credential: h}
		n.check("free "+h.Words(), x.Check())
		c.FreeCards = append(c.FreeCards, x)
	}
}

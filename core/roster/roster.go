// Package roster brings lists of people from elsewhere into a configuration: which rows are new, which change somebody,
// which say what is known already, and what is wrong with the rest. An empty cell leaves what it would fill as it is,
// and nothing is ever taken away, so that the same list a second time changes nothing. Plan in plan.go is where to
// begin.
package roster

import (
	"strings"

	"amberkeystone/core/site"
)

// Field is what a column of a list can hold.
type Field string

// The fields. Several departments, cards or levels stand in one cell with | between them.
const (
	Name       Field = "name"
	FirstName  Field = "first name"
	LastName   Field = "last name"
	Number     Field = "number" // personnel number, by which somebody is found again
	Department Field = "department"
	Cards      Field = "cards" // 42-12345, or 42-12401 lost
	Facility   Field = "facility code"
	Format     Field = "card format"
	Levels     Field = "levels" // Staff, or Staff from 2026-11-02 until 2026-12-18
	From       Field = "from"
	Until      Field = "until"
	Phone      Field = "phone"
	Email      Field = "e-mail"
	Note       Field = "note"
)

// Fields lists what a column can hold, in the order of an export.
var Fields = []Field{Number, Name, FirstName, LastName, Department, Cards, Facility, Format, Levels, From, Until, Phone,
	Email, Note}

// headings are what columns are called that hold a field, in small letters.
var headings = map[Field][]string{
	Name:      {"name", "full name", "person", "holder", "cardholder"},
	FirstName: {"first name", "firstname", "given name", "forename"},
	LastName:  {"last name", "lastname", "surname", "family name"},
	Number: {"number", "personnel number", "employee number", "employee id", "staff no", "staff number", "id", "no",
		"no."},
	Department: {"department", "departments", "dept", "team", "group"},
	Cards:      {"cards", "card", "card number", "cardnumber", "badge", "badge number", "fob"},
	Facility:   {"facility code", "facility", "site code"},
	Format:     {"card format", "format"},
	Levels:     {"levels", "level", "access level", "access levels", "access"},
	From:       {"from", "valid from", "start", "start date"},
	Until:      {"until", "valid until", "valid to", "to", "end", "end date", "expires"},
	Phone:      {"phone", "telephone", "mobile"},
	Email:      {"e-mail", "email", "mail"},
	Note:       {"note", "notes", "remark", "comment"},
}

// Guess says what each of some headings holds; empty where it is not known. No field is guessed twice.
func Guess(heads []string) []Field {
	out := make([]Field, len(heads))
	taken := map[Field]bool{}
	for i, h := range heads {
		plain := strings.ToLower(strings.TrimSpace(strings.NewReplacer("_", " ", "-", " ").Replace(h)))
		for _, f := range Fields {
			for _, word := range headings[f] {
				if !taken[f] && out[i] == "" && (plain == word || plain == strings.ReplaceAll(word, "-", " ")) {
					out[i], taken[f] = f, true
				}
			}
		}
	}
	return out
}

// Row is one person of a list.
type Row struct {
	Line   int // in the file, from 1
	Values map[Field]string
}

// Fate is what becomes of a row.
type Fate string

// The fates.
const (
	New       Fate = "new"
	Changed   Fate = "changed"
	Unchanged Fate = "unchanged"
	Wrong     Fate = "wrong"
)

// Fault is what is wrong with one cell, with the mend.
type Fault struct {
	Field Field  `json:"field"`
	Words string `json:"words"`
}

// Planned is what a row would do.
type Planned struct {
	Line   int
	Fate   Fate
	Name   string
	Person *site.Person // as they would be; an ID of 0 is somebody new
	Words  []string     // what changes
	Faults []Fault
}

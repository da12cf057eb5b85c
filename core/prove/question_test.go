package prove

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amberkeystone/core/hours"
	"amberkeystone/core/site"
)

func museumNames(t testing.TB) *Book {
	loc, err := time.LoadLocation("America/Halifax")
	require.NoError(t, err)
	year := func(y int) hours.Instant { return hours.At(time.Date(y, 1, 1, 0, 0, 0, 0, time.UTC)) }
	z := hours.ZoneFrom(loc, year(2026), year(2028))
	c := &site.Config{
		Plans: []site.Plan{{ID: 1, Pattern: hours.Pattern{Default: hours.Card}}}, Controllers: []site.Controller{{ID: 9}},
	}
	for i, name := range []string{"Specimen vault", "Lab, outer door", "Lab, inner door", "Staff entrance",
		"Registrars' office", "Sail loft"} {
		c.Doors = append(c.Doors, site.Door{ID: site.ID(10 + i), Name: name, ControllerID: 9, PlanID: 1, Port: i + 1})
	}
	for i, name := range []string{"Ines Alder", "Noor Pell", "Zoë Sailmaker", "May Vault"} {
		c.People = append(c.People, &site.Person{ID: site.ID(100 + i), Name: name})
	}
	return NewBook(c, map[site.ID]hours.Zone{9: z})
}

// What people type is understood as they mean it; the moment is Wednesday 25 November 2026, 11:00 in Halifax.
func TestUnderstand(t *testing.T) {
	b := museumNames(t)
	now := hours.At(time.Date(2026, 11, 25, 15, 0, 0, 0, time.UTC))
	for text, want := range map[string]string{
		"Ines at Specimen vault Sat 16:30":      "May Ines Alder pass Specimen vault, Sat 28 Nov 2026, 16:30?",
		"who can enter the vault tonight":       "Who can come in through Specimen vault, Wed 25 Nov 2026 20:00 to Thu 26 Nov 2026 06:00?",
		"when Ines Lab":                         "When can Ines Alder come in through Lab, outer door, in the next seven days?",
		"when ines inner lab":                   "When can Ines Alder come in through Lab, inner door, in the next seven days?",
		"noor staff entrance":                   "May Noor Pell pass Staff entrance, now?",
		"Where can Noor go Saturday":            "Where can Noor Pell go, on Sat 28 Nov 2026?",
		"who can come in at sail loft at 03:00": "Who can come in through Sail loft, Wed 25 Nov 2026, 03:00?",
		"zoe sail loft 4pm tomorrow":            "May Zoë Sailmaker pass Sail loft, Thu 26 Nov 2026, 16:00?",
		"ines vault 28 nov 9:05":                "May Ines Alder pass Specimen vault, Sat 28 Nov 2026, 09:05?",
		"ines vault 2026-12-24":                 "When can Ines Alder come in through Specimen vault, on Thu 24 Dec 2026?",
		"Registrars office":                     "Who can come in through Registrars' office, now?",
		"Noor":                                  "Where can Noor Pell go, now?",
		"":                                      "Name a person, a door, or both, and perhaps a time.",
		"why 25:99 ??":                          "Name a person, a door, or both, and perhaps a time.",
	} {
		assert.Equal(t, want, b.Understand(text, now).Words, text)
	}
	q := b.Understand("ines lab flurble", now)
	assert.Equal(t, []string{"flurble"}, q.Unread)
	assert.Equal(t, []site.ID{11, 12}, q.Doors, "both labs are offered")
}

// No text stops the reading, and what is understood names what there is.
func FuzzUnderstand(f *testing.F) {
	for _, s := range []string{"Ines at Specimen vault Sat 16:30", "who 28 nov", "when nov", "99h 24:00 12am", "é’ß ,;?"} {
		f.Add(s)
	}
	b := museumNames(f)
	now := hours.At(time.Date(2026, 11, 25, 15, 0, 0, 0, time.UTC))
	f.Fuzz(func(t *testing.T, text string) {
		q := b.Understand(text, now)
		if q.From > q.To || q.Words == "" {
			t.Fatalf("%q: %+v", text, q)
		}
		for _, id := range append(q.People, q.Doors...) {
			if !b.Knows(id) {
				t.Fatalf("%q names %d", text, id)
			}
		}
	})
}

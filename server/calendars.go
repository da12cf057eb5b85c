package server

import (
	"fmt"
	"net/http"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"amberkeystone/core/hours"
	"amberkeystone/core/prove"
	"amberkeystone/core/site"
	"amberkeystone/formats/icalendar"
)

// calendarFile sends a schedule, a plan, the dated changes or the holidays as iCalendar, by the clock of a
// site (?site=, else the first).
func (s *Server) calendarFile(c *gin.Context) {
	b := s.current()
	place, local := s.placeOf(b, c.Query("site"))
	if place == nil {
		c.JSON(http.StatusNotFound, gin.H{"title": "There is no such site, so no clock to write the calendar by."})
		return
	}
	today := local.Wall(s.now()).Day
	kind, number, _ := strings.Cut(strings.TrimSuffix(c.Param("name"), ".ics"), "-")
	id, _ := strconv.ParseInt(number, 10, 64)
	name := b.Name(site.ID(id))
	w := icalendar.New(name+", "+place.Name, local.Zone, s.now())
	found := true
	switch kind {
	case "schedule":
		schedule, ok := b.Times().Schedules[site.ID(id)]
		if found = ok; ok {
			w.Schedule(site.ID(id), name, schedule, local, today)
		}
	case "plan":
		plan, ok := b.Times().Plans[site.ID(id)]
		if found = ok; ok {
			w.Plan(site.ID(id), name, plan, local, today)
		}
	case "changes":
		w, name = icalendar.New("Dated changes, "+place.Name, local.Zone, s.now()), "dated-changes"
		for i := range b.Config.Changes {
			w.Change(&b.Config.Changes[i], where(b, &b.Config.Changes[i]))
		}
	case "holidays":
		w, name = icalendar.New("Holidays, "+place.Name, local.Zone, s.now()), "holidays"
		for i := range b.Config.Holidays {
			if h := &b.Config.Holidays[i]; h.At(place.ID) {
				w.Holiday(h, b.Name(h.TypeID), today.Monday())
			}
		}
	default:
		found = false
	}
	if !found {
		c.JSON(http.StatusNotFound, gin.H{"title": "There is no such calendar."})
		return
	}
	c.Header("Content-Disposition", fmt.Sprintf(`attachment; filename="%s.ics"`, fileName(name)))
	c.Data(http.StatusOK, "text/calendar; charset=utf-8", []byte(w.String()))
}

// fileName keeps letters, digits and hyphens of a name.
func fileName(s string) string {
	return strings.Map(func(r rune) rune {
		switch {
		case r >= 'a' && r <= 'z', r >= 'A' && r <= 'Z', r >= '0' && r <= '9', r == '-':
			return r
		}
		return '-'
	}, s)
}

// placeOf finds a site with its clock and its holidays.
func (s *Server) placeOf(b *prove.Book, text string) (*site.Site, hours.Local) {
	id, _ := strconv.ParseInt(text, 10, 64)
	for i := range b.Config.Sites {
		if x := &b.Config.Sites[i]; text == "" || int64(x.ID) == id {
			z := s.zone(x.Zone)
			return x, hours.Local{Zone: z, Calendar: b.Times().Calendar(x.ID)}
		}
	}
	return nil, hours.Local{}
}

package server

import (
	"bytes"
	"cmp"
	"context"
	"fmt"
	"image/jpeg"
	"image/png"
	"io"
	"net/http"
	"slices"
	"strings"

	"github.com/danielgtaylor/huma/v2"
	"github.com/gin-gonic/gin"

	"amberkeystone/core/compare"
	"amberkeystone/core/hours"
	"amberkeystone/core/prove"
	"amberkeystone/core/site"
	"amberkeystone/store"
)

// WhereAsked is who goes where on which day: somebody or a level, as they are or as they would be.
type WhereAsked struct {
	Person site.ID      `json:"person,omitempty" doc:"Where this person may go"`
	Level  site.ID      `json:"level,omitempty" doc:"Where this level leads"`
	Edit   compare.Edit `json:"edit,omitzero" doc:"Not saved yet; its person or level is asked about where none is named"`
	Day    string       `json:"day,omitempty" doc:"2006-01-02; empty: today"`
}

// where answers for what is in force, or with an edit laid over it.
func (s *Server) where(q WhereAsked) (prove.Where, error) {
	b, now := s.current(), s.now()
	var day hours.Day
	if q.Day != "" {
		var err error
		if day, err = hours.ParseDay(q.Day); err != nil {
			return prove.Where{}, say(&store.Taken{
				Field: "day", Words: fmt.Sprintf("%q is not a date; write it as 2026-11-27", q.Day),
			})
		}
	}
	if q.Edit != (compare.Edit{}) {
		if faults := q.Edit.Check(); len(faults) > 0 {
			return prove.Where{}, say(faults)
		}
		first := hours.Day(now / hours.FullDay)
		last := first + 12
		if day != 0 {
			first, last = min(first, day), max(last, day+2)
		}
		b = b.With(q.Edit.Apply(b.Config), first-3, last+2)
	}
	switch {
	case q.Level != 0 || q.Person == 0 && q.Edit.Level != nil:
		id := cmp.Or(q.Level, idOr(q.Edit.Level))
		if b.Config.Level(id) == nil {
			return prove.Where{}, say(store.ErrMissing)
		}
		return b.WhereLevels(day, now, id), nil
	default:
		id := q.Person
		if id == 0 && q.Edit.Person != nil {
			id = cmp.Or(q.Edit.Person.ID, compare.Fresh)
		}
		p := b.Config.Person(id)
		if p == nil {
			return prove.Where{}, say(store.ErrMissing)
		}
		return b.Where(p, day, now), nil
	}
}

func idOr(l *site.Level) site.ID {
	if l == nil {
		return 0
	}
	return cmp.Or(l.ID, compare.Fresh)
}

// Holder is somebody who holds a level, and why.
type Holder struct {
	ID    site.ID `json:"id"`
	Name  string  `json:"name"`
	By    string  `json:"by" doc:"The department or the level through which; empty: themselves"`
	Dates string  `json:"dates" doc:"From when and until when"`
}

// Holders is who holds a level.
type Holders struct {
	Count int      `json:"count"`
	List  []Holder `json:"list" doc:"At most 200"`
}

func (s *Server) holders(level site.ID) (Holders, error) {
	b := s.current()
	out := Holders{List: []Holder{}}
	if b.Config.Level(level) == nil {
		return out, say(store.ErrMissing)
	}
	for _, p := range b.Effective.People {
		if !slices.ContainsFunc(p.Levels, func(g site.Grant) bool { return g.LevelID == level }) {
			continue
		}
		if out.Count++; len(out.List) >= 200 {
			continue
		}
		x := Holder{ID: p.ID, Name: p.Name}
		for _, h := range b.Config.Holdings(b.Config.Person(p.ID)) {
			if h.LevelID != level {
				continue
			}
			var by []string
			if h.OuterID != 0 {
				by = append(by, b.Name(h.OuterID))
			}
			if h.DepartmentID != 0 {
				by = append(by, b.Name(h.DepartmentID))
			}
			x.By, x.Dates = strings.Join(by, ", "), h.Dates.Words()
			break
		}
		out.List = append(out.List, x)
	}
	slices.SortStableFunc(out.List, func(a, b Holder) int { return strings.Compare(a.Name, b.Name) })
	return out, nil
}

// Suspension is what was done about somebody at once.
type Suspension struct {
	Rev   int64  `json:"rev"`
	Words string `json:"words" doc:"Which controllers know it, and which are told on their return"`
}

// suspendNow suspends somebody, and tells controllers of it before anything else and without what else is unsent.
func (s *Server) suspendNow(ctx context.Context, id site.ID) (Suspension, error) {
	v, err := store.Get[site.Person](ctx, s.Store, id)
	if err != nil {
		return Suspension{}, err
	}
	out := Suspension{Rev: v.Rev}
	if !v.Value.Suspended {
		v.Value.Suspended = true
		saved, err := save(ctx, s, &v.Value, v.Rev)
		if err != nil {
			return out, err
		}
		out.Rev = saved.Body.Rev
	}
	told, later, err := s.suspendAhead(ctx, s.who(ctx), id)
	if err != nil {
		return out, err
	}
	out.Words = v.Value.Name + " is suspended"
	switch {
	case len(told) == 0 && len(later) == 0:
		out.Words += "; no controller knew them, so no door opened to them."
	case len(told) > 0:
		out.Words += ": told " + strings.Join(told, ", ") + " at once."
	default:
		out.Words += "."
	}
	if len(later) > 0 {
		out.Words += " Not reached now, told on their return: " + strings.Join(later, ", ") + "."
	}
	return out, nil
}

// Replacement is one card in the place of another.
type Replacement struct {
	Rev    int64           `json:"rev" doc:"Of the person"`
	Old    string          `json:"old" doc:"The value of the credential that is replaced"`
	Status string          `json:"status" enum:"lost,stolen,suspended,expired" doc:"What becomes of the old one"`
	New    site.Credential `json:"new"`
}

// replaceCard gives somebody a new card in the place of one: it takes over the dates, the old one is marked.
func (s *Server) replaceCard(ctx context.Context, id site.ID, r Replacement) (*output[Versioned[site.Person]], error) {
	v, err := store.Get[site.Person](ctx, s.Store, id)
	if err != nil {
		return nil, say(err)
	}
	if !v.Value.Replace(r.Old, r.New, site.CredentialStatus(r.Status)) {
		return nil, say(&store.Taken{Field: "old", Words: v.Value.Name + " has no credential " + r.Old})
	}
	return save(ctx, s, &v.Value, r.Rev)
}

// SeenAt is when and where somebody was let in last.
type SeenAt struct {
	store.Seen
	DoorName string `json:"doorName"`
	Zone     string `json:"zone" doc:"IANA zone of the door"`
}

func (s *Server) lastSeen(ctx context.Context, ids []site.ID) ([]SeenAt, error) {
	out := []SeenAt{}
	if len(ids) == 0 {
		return out, nil
	}
	list, err := s.Store.LastSeen(ctx, ids...)
	b := s.current()
	for _, x := range list {
		out = append(out, SeenAt{x, b.Name(x.Door), b.Zone(x.Door).Name})
	}
	return out, err
}

func (s *Server) peopleRoutes(api huma.API) {
	op := func(id, method, path, words string) huma.Operation {
		return huma.Operation{OperationID: id, Method: method, Path: path, Summary: words, Tags: []string{"people"}}
	}
	huma.Register(api, op("where", http.MethodPost, "/api/where", "Where somebody may go, or a level leads, on a day"),
		func(_ context.Context, in *struct{ Body WhereAsked }) (*output[prove.Where], error) {
			return give(s.where(in.Body))
		})
	huma.Get(api, "/api/levels/{id}/holders", func(_ context.Context, in *idInput) (*output[Holders], error) {
		return give(s.holders(in.ID))
	})
	huma.Get(api, "/api/coming", func(_ context.Context, in *struct {
		Days int `query:"days" default:"42" minimum:"1" maximum:"400"`
	}) (*output[[]prove.Coming], error) {
		return give(s.current().Coming(s.firstZone(), s.now(), in.Days), nil)
	})
	huma.Register(api,
		op("suspendNow", http.MethodPost, "/api/people/{id}/suspend", "Suspend somebody ahead of everything else"),
		func(ctx context.Context, in *idInput) (*output[Suspension], error) {
			return give(s.suspendNow(ctx, in.ID))
		})
	huma.Register(api, op("replaceCard", http.MethodPost, "/api/people/{id}/replace",
		"A new card in the place of another"),
		func(ctx context.Context, in *struct {
			ID   site.ID `path:"id"`
			Body Replacement
		}) (*output[Versioned[site.Person]], error) {
			return s.replaceCard(ctx, in.ID, in.Body)
		})
	huma.Get(api, "/api/seen", func(ctx context.Context, in *struct {
		IDs []int64 `query:"ids,explode" maxItems:"500"`
	}) (*output[[]SeenAt], error) {
		ids := make([]site.ID, len(in.IDs))
		for i, id := range in.IDs {
			ids[i] = site.ID(id)
		}
		return give(s.lastSeen(ctx, ids))
	})
}

// mostPhoto is the most that a picture may weigh.
const mostPhoto = 400_000

// photoKinds are what a picture may be, each with what looks whether it is one.
var photoKinds = map[string]func(io.Reader) error{
	"image/jpeg": func(r io.Reader) error { _, err := jpeg.DecodeConfig(r); return err },
	"image/png":  func(r io.Reader) error { _, err := png.DecodeConfig(r); return err },
}

// photo gives, takes or removes somebody's picture.
func (s *Server) photo(c *gin.Context) {
	var id site.ID
	if _, err := fmt.Sscan(c.Param("id"), &id); err != nil {
		c.JSON(http.StatusNotFound, gin.H{"detail": "It does not exist, or no longer."})
		return
	}
	ctx := c.Request.Context()
	var p store.Photo
	switch c.Request.Method {
	case http.MethodGet:
		p, err := s.Store.PhotoOf(ctx, id)
		if err != nil {
			c.JSON(http.StatusNotFound, gin.H{"detail": "There is no picture of them."})
			return
		}
		c.Data(http.StatusOK, p.Kind, p.Bytes)
		return
	case http.MethodPut:
		b, err := io.ReadAll(io.LimitReader(c.Request.Body, mostPhoto+1))
		p = store.Photo{Kind: c.ContentType(), Bytes: b}
		check := photoKinds[p.Kind]
		if err != nil || len(b) > mostPhoto || check == nil || check(bytes.NewReader(b)) != nil {
			c.JSON(http.StatusUnprocessableEntity, gin.H{"detail": "Not saved: choose a JPEG or PNG picture of at most 400 kB."})
			return
		}
	}
	if err := s.Store.SetPhoto(ctx, s.who(ctx), id, p); err != nil {
		c.JSON(http.StatusNotFound, gin.H{"detail": "It does not exist, or no longer."})
		return
	}
	c.Status(http.StatusNoContent)
}

// Overlap is a door of a level that people with the level reach through another level too.
type Overlap struct {
	Door    site.ID `json:"door"`
	Name    string  `json:"name"`
	LevelID site.ID `json:"levelId"`
	Level   string  `json:"level"`
	Words   string  `json:"words" doc:"The two schedules, and how many people have both"`
}

// overlaps lists the doors of a level that its people reach through another level too.
func (s *Server) overlaps(level site.ID) ([]Overlap, error) {
	b := s.current()
	out := []Overlap{}
	if b.Config.Level(level) == nil {
		return out, say(store.ErrMissing)
	}
	places, both := site.NewPlaces(b.Config), map[site.ID]int{}
	for _, p := range b.Effective.People {
		if !slices.ContainsFunc(p.Levels, func(g site.Grant) bool { return g.LevelID == level }) {
			continue
		}
		for _, g := range p.Levels {
			if g.LevelID != level {
				both[g.LevelID]++
			}
		}
	}
	mine := map[site.ID][]site.Covered{}
	for _, e := range places.Entries(b.Effective.Level(level)) {
		mine[e.DoorID] = append(mine[e.DoorID], e)
	}
	for i := range b.Effective.Levels {
		l := &b.Effective.Levels[i]
		if both[l.ID] == 0 {
			continue
		}
		for _, e := range places.Entries(l) {
			var list []site.ID // the schedules of what both come to
			for _, m := range mine[e.DoorID] {
				if m.Meets(&e) {
					list = append(list, m.ScheduleID)
				}
			}
			if len(list) > 0 {
				words := fmt.Sprintf("%s here, %s there; %s", b.Name(list[0]), b.Name(e.ScheduleID),
					counted(both[l.ID], "person has both", "people have both"))
				if slices.Contains(list, e.ScheduleID) {
					words = "at the same hours; " + counted(both[l.ID], "person has both", "people have both")
				}
				out = append(out, Overlap{e.DoorID, b.Name(e.DoorID), l.ID, b.LevelWords(l.ID), words})
			}
		}
	}
	return out[:min(len(out), 200)], nil
}

// LevelCount is how many people hold a level.
type LevelCount struct {
	ID    site.ID `json:"id"`
	Count int     `json:"count"`
}

func (s *Server) levelRoutes(api huma.API) {
	huma.Get(api, "/api/levels/{id}/overlap", func(_ context.Context, in *idInput) (*output[[]Overlap], error) {
		return give(s.overlaps(in.ID))
	})
	huma.Get(api, "/api/floors/{id}/ways", func(_ context.Context, in *idInput) (*output[[]prove.Way], error) {
		return give(s.current().WaysAdded(in.ID), nil)
	})
	huma.Get(api, "/api/holders", func(context.Context, *struct{}) (*output[[]LevelCount], error) {
		out, held := []LevelCount{}, s.current().Holders()
		for _, l := range s.current().Config.Levels {
			out = append(out, LevelCount{l.ID, held[l.ID]})
		}
		return give(out, nil)
	})
}

package server

import (
	"cmp"
	"context"
	"log/slog"
	"slices"
	"strings"

	"github.com/danielgtaylor/huma/v2"
	"github.com/gin-gonic/gin"

	"amberkeystone/core/prove"
	"amberkeystone/core/site"
	"amberkeystone/formats/csvlist"
	"amberkeystone/store"
)

// RightsInput is which list of rights, and which part of it.
type RightsInput struct {
	By     string `query:"by" default:"door" enum:"door,person" doc:"What the list is ordered by"`
	Who    string `query:"who" doc:"Only people with this in their name or number"`
	Door   string `query:"door" doc:"Only doors with this in their name, or that of their floor or site"`
	Offset int    `query:"offset" minimum:"0" doc:"Doors or people to leave out"`
	Limit  int    `query:"limit" default:"20" minimum:"1" maximum:"100" doc:"How many doors or people"`
}

// RightsShown is part of a list of rights.
type RightsShown struct {
	Groups      []RightsGroup `json:"groups"`
	Total       int           `json:"total" doc:"How many doors or people there are in all"`
	Controllers []store.Place `json:"controllers" doc:"That decide about what is shown"`
}

// RightsGroup is a door with who may pass it, or a person with the doors that they may pass.
type RightsGroup struct {
	store.Place
	Floor string      `json:"floor" doc:"Of a door"`
	Count int         `json:"count" doc:"How many people or doors"`
	Lines []RightLine `json:"lines" doc:"At most 200"`
}

// RightLine is one of them, with by what and when.
type RightLine struct {
	store.Place
	Floor    string `json:"floor" doc:"Of a door"`
	Schedule string `json:"schedule"`
	Level    string `json:"level"`
	By       string `json:"by" doc:"The department or the level by which they hold it; empty: themselves"`
	Dates    string `json:"dates"`
}

// mostRightLines is how many lines of a group are shown.
const mostRightLines = 200

// rightsOf are the people and doors that a list of rights is about, in its order.
func (s *Server) rightsOf(b *prove.Book, in *RightsInput) (people []*site.Person, doors []*site.Door) {
	folded := strings.ToLower(strings.TrimSpace(in.Who))
	for _, p := range b.Config.People {
		if folded == "" || strings.Contains(strings.ToLower(p.Name+"\n"+p.Number), folded) {
			people = append(people, p)
		}
	}
	slices.SortStableFunc(people,
		func(a, b *site.Person) int { return cmp.Compare(strings.ToLower(a.Name), strings.ToLower(b.Name)) })
	return people, s.matrixDoors(b, &MatrixInput{Door: in.Door})
}

func (s *Server) rights(in *RightsInput) RightsShown {
	b := s.current()
	people, doors := s.rightsOf(b, in)
	out := RightsShown{Groups: []RightsGroup{}, Controllers: []store.Place{}}
	at := map[site.ID]int{}
	begin := func(id site.ID, g RightsGroup) { at[id], out.Groups = len(out.Groups), append(out.Groups, g) }
	if in.By == "person" {
		out.Total = len(people)
		people = part(people, in.Offset, in.Limit)
		for _, p := range people {
			begin(p.ID, RightsGroup{Place: s.placeOfPerson(b, p.ID), Lines: []RightLine{}})
		}
	} else {
		out.Total = len(doors)
		doors = part(doors, in.Offset, in.Limit)
		for _, d := range doors {
			begin(d.ID, RightsGroup{
				Place: store.Place{ID: d.ID, Kind: "door", Name: d.Name}, Floor: floorWords(b, d), Lines: []RightLine{},
			})
		}
	}
	controllers, last := map[site.ID]bool{}, map[site.ID]site.ID{}
	for r := range b.Rights(people, doors) {
		line := RightLine{Schedule: r.Schedule, Level: r.Level, By: r.By, Dates: r.Dates}
		group, other := r.Door.ID, r.Person.ID
		if in.By == "person" {
			group, other = r.Person.ID, r.Door.ID
		}
		g := &out.Groups[at[group]]
		if last[group] != other {
			g.Count++
			last[group] = other
		}
		controllers[r.Door.ControllerID] = true
		if len(g.Lines) >= mostRightLines {
			continue
		}
		if in.By == "person" {
			line.Place, line.Floor = store.Place{ID: r.Door.ID, Kind: "door", Name: r.Door.Name}, floorWords(b, r.Door)
		} else {
			line.Place = s.placeOfPerson(b, r.Person.ID)
		}
		g.Lines = append(g.Lines, line)
	}
	for _, c := range b.Config.Controllers {
		if controllers[c.ID] {
			out.Controllers = append(out.Controllers, store.Place{ID: c.ID, Kind: "controller", Name: c.Name})
		}
	}
	return out
}

func floorWords(b *prove.Book, d *site.Door) string {
	return b.TargetWords(site.Target{Kind: site.AtFloor, ID: d.FloorID})
}

func (s *Server) rightsRoutes(api huma.API) {
	huma.Get(api, "/api/rights", func(_ context.Context, in *RightsInput) (*output[RightsShown], error) {
		return give(s.rights(in), nil)
	})
}

// rightsCSV sends a whole list of rights, a line for each.
func (s *Server) rightsCSV(c *gin.Context) {
	in := RightsInput{By: cmp.Or(c.Query("by"), "door"), Who: c.Query("who"), Door: c.Query("door")}
	b := s.current()
	people, doors := s.rightsOf(b, &in)
	c.Header("Content-Disposition", `attachment; filename="rights-by-`+map[bool]string{true: "person",
		false: "door"}[in.By == "person"]+`.csv"`)
	c.Header("Content-Type", "text/csv; charset=utf-8")
	list := b.RightsByDoor
	if in.By == "person" {
		list = b.Rights
	}
	rows := func(yield func([]string) bool) {
		if !yield([]string{"Door", "Place", "Person", "Number", "Hours", "Through", "By", "Dates"}) {
			return
		}
		for r := range list(people, doors) {
			if !yield([]string{r.Door.Name, floorWords(b, r.Door), r.Person.Name, r.Person.Number, r.Schedule, r.Level, r.By,
				r.Dates}) {
				return
			}
		}
	}
	if err := csvlist.WriteEach(c.Writer, rows); err != nil {
		slog.Info("a list of rights was not read to its end", "err", err)
	}
}

// part is so many of a list after those that are left out, however many these are.
func part[T any](list []T, offset, limit int) []T {
	list = list[min(offset, len(list)):]
	return list[:min(limit, len(list))]
}

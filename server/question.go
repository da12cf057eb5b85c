package server

import (
	"cmp"
	"context"
	"fmt"
	"log/slog"
	"net/http"
	"slices"
	"strings"

	"github.com/danielgtaylor/huma/v2"
	"github.com/gin-gonic/gin"

	"amberkeystone/core/hours"
	"amberkeystone/core/prove"
	"amberkeystone/core/site"
	"amberkeystone/formats/csvlist"
	"amberkeystone/store"
)

// QuestionInput is a question in words, or its parts corrected.
type QuestionInput struct {
	Q      string  `query:"q" maxLength:"300" doc:"Such as Ines at Specimen vault Sat 16:30"`
	Kind   string  `query:"kind" enum:"may,who,where,when," doc:"In place of what was understood"`
	Person site.ID `query:"person" doc:"In place of what was understood"`
	Door   site.ID `query:"door" doc:"In place of what was understood"`
	From   string  `query:"from" doc:"In place of what was understood: wall clock of the door, 2006-01-02T15:04"`
	To     string  `query:"to" doc:"Where the time ends; empty: a moment"`
}

// Answered is a question as it was understood, and its answer.
type Answered struct {
	prove.Question
	Named    []store.Place `json:"peopleNamed" doc:"Who the words may mean"`
	Places   []store.Place `json:"doorsNamed"`
	FromWall string        `json:"fromWall" doc:"2006-01-02T15:04 by the clock of the door"`
	ToWall   string        `json:"toWall"`
	May      *prove.Answer `json:"may,omitempty"`
	Where    *prove.Where  `json:"where,omitempty"`
	Spells   []SpellLine   `json:"whenOpen" doc:"When they may come in"`
	Who      *WhoCan       `json:"who,omitempty"`
}

// SpellLine is a time in which somebody may come in.
type SpellLine struct {
	From  hours.Instant `json:"from"`
	To    hours.Instant `json:"to"`
	Words string        `json:"words"`
}

// WhoCan is who can come in through a door.
type WhoCan struct {
	Free  bool          `json:"free" doc:"The door is free: everybody"`
	Count int           `json:"count"`
	List  []store.Place `json:"list" doc:"At most 200, by name"`
}

func (s *Server) question(in *QuestionInput) (Answered, error) {
	b, now := s.current(), s.now()
	out := Answered{
		Question: b.Understand(in.Q, now), Named: []store.Place{}, Places: []store.Place{}, Spells: []SpellLine{},
	}
	q := &out.Question
	corrected := in.Kind != "" || in.Person != 0 || in.Door != 0 || in.From != ""
	if in.Kind != "" {
		q.Kind = prove.QuestionKind(in.Kind)
	}
	if in.Person != 0 {
		q.Person = in.Person
	}
	if in.Door != 0 {
		q.Door = in.Door
	}
	z := s.firstZone()
	if q.Door != 0 {
		if b.Door(q.Door) == nil {
			return out, say(store.ErrMissing)
		}
		z = b.Zone(q.Door)
	}
	if q.Person != 0 && b.Config.Person(q.Person) == nil {
		return out, say(store.ErrMissing)
	}
	if in.From != "" {
		var err error
		if q.From, q.To, err = window(z, in.From, in.To); err != nil {
			return out, say(err)
		}
	}
	if q.Kind == prove.AskNone && q.Person != 0 {
		q.Kind = prove.AskWhere
	}
	if corrected {
		b.Say(q, z, now)
	}
	for _, id := range q.People {
		out.Named = append(out.Named, s.placeOfPerson(b, id))
	}
	for _, id := range q.Doors {
		out.Places = append(out.Places, store.Place{ID: id, Kind: "door", Name: b.Name(id)})
	}
	out.FromWall, out.ToWall = wallText(z, q.From), wallText(z, q.To)
	return out, s.answer(b, &out, z, now)
}

func wallText(z *hours.Zone, at hours.Instant) string { return z.Time(at).Format("2006-01-02T15:04") }

// window reads a time by a clock: a moment where it has no end.
func window(z *hours.Zone, from, to string) (a, b hours.Instant, err error) {
	at := func(field, text string) (hours.Instant, error) {
		day, minute, err := site.ParseWall(text)
		if err != nil {
			return 0, &store.Taken{Field: field, Words: err.Error()}
		}
		return z.Resolve(day, minute), nil
	}
	if a, err = at("from", from); err != nil {
		return 0, 0, err
	}
	if to == "" || to == from {
		return a, a, nil
	}
	if b, err = at("to", to); err != nil {
		return 0, 0, err
	}
	switch {
	case b <= a:
		return 0, 0, &store.Taken{Field: "to", Words: "that is before the beginning; choose a later time"}
	case b-a > 400*hours.FullDay:
		return 0, 0, &store.Taken{Field: "to", Words: "that is more than 400 days; ask for a shorter time"}
	}
	return a, b, nil
}

// placeOfPerson names somebody so that they are told from others of that name.
func (s *Server) placeOfPerson(b *prove.Book, id site.ID) store.Place {
	p := b.Config.Person(id)
	out := store.Place{ID: id, Kind: "person", Name: b.Name(id)}
	if p == nil {
		return out
	}
	var hint []string
	for _, d := range p.DepartmentIDs {
		hint = append(hint, b.Name(d))
	}
	if p.Number != "" {
		hint = append(hint, "no. "+p.Number)
	}
	out.Hint = strings.Join(hint, ", ")
	return out
}

// answer answers what was understood, as far as enough is said.
func (s *Server) answer(b *prove.Book, out *Answered, z *hours.Zone, now hours.Instant) error {
	q := &out.Question
	switch {
	case q.Kind == prove.AskMay && q.Person != 0 && q.Door != 0:
		a, err := b.Ask(q.Person, q.Door, q.From)
		if err != nil {
			return say(store.ErrMissing)
		}
		out.May = &a
	case q.Kind == prove.AskWhere && q.Person != 0:
		day := hours.Day(0)
		if q.From != now {
			day = z.Wall(q.From).Day
		}
		at := now
		if q.From == q.To {
			at = q.From
		}
		w := b.Where(b.Config.Person(q.Person), day, at)
		out.Where = &w
	case q.Kind == prove.AskWhen && q.Person != 0 && q.Door != 0:
		for _, x := range b.Spells(q.Person, q.Door, q.From, q.To) {
			if len(out.Spells) == 60 {
				break
			}
			out.Spells = append(out.Spells, SpellLine{x.From, x.To, spellWords(z, x)})
		}
	case q.Kind == prove.AskWho && q.Door != 0:
		w := s.whoCan(b, q.Door, q.From, max(q.To, q.From+1))
		out.Who = &w
	}
	return nil
}

func spellWords(z *hours.Zone, x hours.Stretch) string {
	from, to := z.Time(x.From), z.Time(x.To)
	if z.Wall(x.From).Day == z.Wall(x.To-1).Day {
		end := to.Format("15:04")
		if end == "00:00" {
			end = "24:00"
		}
		return from.Format("Mon 2 Jan, 15:04") + "–" + end
	}
	return from.Format("Mon 2 Jan, 15:04") + " – " + to.Format("Mon 2 Jan, 15:04")
}

// whoCan lists who can come in through a door at some time in a window.
func (s *Server) whoCan(b *prove.Book, door site.ID, from, to hours.Instant) WhoCan {
	out := WhoCan{List: []store.Place{}, Free: b.Line(door).At(from).Mode == hours.Free && !b.Line(door).At(from).First}
	m := b.MatrixOf(b.Effective.People, []*site.Door{b.Door(door)}, from, to)
	for _, r := range m.Rows {
		if r.Cells[0] < prove.Opens {
			continue
		}
		out.Count += len(r.People)
		for _, p := range r.People {
			out.List = append(out.List, s.placeOfPerson(b, p.ID))
		}
	}
	slices.SortStableFunc(out.List, func(a, b store.Place) int { return strings.Compare(a.Name, b.Name) })
	out.List = out.List[:min(len(out.List), 200)]
	return out
}

// MatrixInput is who and where of a matrix, when, and which part of it.
type MatrixInput struct {
	Rows   string  `query:"rows" default:"people" enum:"people,levels,departments" doc:"What stands in the rows"`
	From   string  `query:"from" doc:"Wall clock of the first site, 2006-01-02T15:04; empty: now"`
	Span   string  `query:"span" default:"moment" enum:"moment,week,ever" doc:"A moment, a week from then, or at any time in 13 months"`
	Who    string  `query:"who" doc:"Only rows with this in their name"`
	Door   string  `query:"door" doc:"Only doors with this in their name, or that of their floor or site"`
	DoorID site.ID `query:"doorId" doc:"Only this door"`
	Person site.ID `query:"person" doc:"Only this person"`
	Sort   string  `query:"sort" default:"doors" enum:"doors,name" doc:"By how many doors, or by name"`
	Offset int     `query:"offset" minimum:"0" doc:"Rows to leave out"`
	Limit  int     `query:"limit" default:"100" minimum:"1" maximum:"500"`
	Column int     `query:"column" minimum:"0" doc:"Doors to leave out"`
	Doors  int     `query:"doors" default:"60" minimum:"1" maximum:"400" doc:"How many doors"`
}

// MatrixShown is part of a matrix: rows of those who are alike, columns of doors.
type MatrixShown struct {
	When      string          `json:"when"`
	Columns   []MatrixDoor    `json:"columns"`
	DoorCount int             `json:"doorCount" doc:"How many doors there are in all"`
	Rows      []MatrixRowLine `json:"rows"`
	RowCount  int             `json:"rowCount" doc:"How many rows there are in all"`
	People    int             `json:"people" doc:"How many people, levels or departments they are"`
}

// MatrixDoor is a column.
type MatrixDoor struct {
	ID    site.ID `json:"id"`
	Name  string  `json:"name"`
	Floor string  `json:"floor"`
	Count int     `json:"count" doc:"How many people, levels or departments come in"`
}

// MatrixRowLine is a row: who may do the same at each of the doors.
type MatrixRowLine struct {
	Members []store.Place `json:"members" doc:"At most 12"`
	Count   int           `json:"count"`
	Cells   string        `json:"cells" doc:"A letter for each column: o comes in, m comes in with others, another proof or once they are cleared, c not in this time, - nothing leads there"`
	Open    int           `json:"open" doc:"Through how many doors, of all"`
}

// matrix works out who can go where, and gives a part of it.
func (s *Server) matrix(in *MatrixInput) (MatrixShown, error) {
	m, when, names, err := s.matrixOf(in)
	if err != nil {
		return MatrixShown{}, err
	}
	b := s.current()
	out := MatrixShown{
		When: when, Columns: []MatrixDoor{}, DoorCount: len(m.Doors), Rows: []MatrixRowLine{}, RowCount: len(m.Rows),
	}
	first := min(in.Column, len(m.Doors))
	last := min(first+in.Doors, len(m.Doors))
	count := make([]int, len(m.Doors))
	for _, r := range m.Rows {
		out.People += len(r.People)
		for i, c := range r.Cells {
			if c >= prove.Opens {
				count[i] += len(r.People)
			}
		}
	}
	for i := first; i < last; i++ {
		d := m.Doors[i]
		out.Columns = append(out.Columns,
			MatrixDoor{d.ID, d.Name, b.TargetWords(site.Target{Kind: site.AtFloor, ID: d.FloorID}), count[i]})
	}
	for _, r := range part(m.Rows, in.Offset, in.Limit) {
		line := MatrixRowLine{
			Members: []store.Place{}, Count: len(r.People), Cells: cellText(r.Cells[first:last]), Open: r.Open,
		}
		for _, p := range r.People[:min(len(r.People), 12)] {
			line.Members = append(line.Members, names(p))
		}
		out.Rows = append(out.Rows, line)
	}
	return out, nil
}

func cellText(cells []prove.Cell) string {
	out := make([]byte, len(cells))
	for i, c := range cells {
		out[i] = "-com"[c]
	}
	return string(out)
}

// matrixOf works out a whole matrix; names gives what stands for a row's people.
func (s *Server) matrixOf(
	in *MatrixInput,
) (m *prove.Matrix, when string, names func(*site.Person) store.Place, err error) {
	b, z := s.current(), s.firstZone()
	from := s.now()
	if in.From != "" {
		if from, _, err = window(z, in.From, ""); err != nil {
			return nil, "", nil, say(err)
		}
	}
	to := from + 1
	when = "at " + z.Time(from).Format("Mon 2 Jan 2006, 15:04")
	switch in.Span {
	case "week":
		to, when = from+7*hours.FullDay, "in the week from "+z.Time(from).Format("Mon 2 Jan 2006, 15:04")
	case "ever":
		to, when = from+396*hours.FullDay, "at any time in the next 13 months"
	}
	doors := s.matrixDoors(b, in)
	var who []*site.Person
	switch in.Rows {
	case "levels":
		who, names = s.levelRows(b, in.Who)
	case "departments":
		who, names = s.departmentRows(b, in.Who)
	default:
		folded := strings.ToLower(strings.TrimSpace(in.Who))
		for _, p := range b.Effective.People {
			if (folded == "" || strings.Contains(strings.ToLower(p.Name), folded)) && (in.Person == 0 || p.ID == in.Person) {
				who = append(who, p)
			}
		}
		names = func(p *site.Person) store.Place { return s.placeOfPerson(b, p.ID) }
	}
	m = b.MatrixOf(who, doors, from, to)
	if in.Sort == "name" {
		slices.SortStableFunc(m.Rows,
			func(a, b prove.MatrixRow) int { return cmp.Compare(names(a.People[0]).Name, names(b.People[0]).Name) })
	}
	return m, when, names, nil
}

func (s *Server) matrixDoors(b *prove.Book, in *MatrixInput) []*site.Door {
	folded := strings.ToLower(strings.TrimSpace(in.Door))
	var out []*site.Door
	for _, d := range b.InOrder() {
		place := b.TargetWords(site.Target{Kind: site.AtFloor, ID: d.FloorID})
		if in.DoorID != 0 && d.ID != in.DoorID || folded != "" &&
			!strings.Contains(strings.ToLower(d.Name+"\n"+place), folded) {
			continue
		}
		out = append(out, d)
	}
	return out
}

// levelRows are levels as people who hold one each and can show anything.
func (s *Server) levelRows(b *prove.Book, who string) ([]*site.Person, func(*site.Person) store.Place) {
	var out []*site.Person
	inside := b.Config.Containment()
	for _, l := range b.Config.Levels {
		if strings.Contains(strings.ToLower(l.Name), strings.ToLower(strings.TrimSpace(who))) {
			out = append(out, b.Anybody(l.ID, inside.Of(l.ID)...))
		}
	}
	return out, func(p *site.Person) store.Place { return store.Place{ID: p.ID, Kind: "level", Name: b.Name(p.ID)} }
}

// departmentRows are departments as somebody in one who can show anything.
func (s *Server) departmentRows(b *prove.Book, who string) ([]*site.Person, func(*site.Person) store.Place) {
	var out []*site.Person
	for _, d := range b.Config.Departments {
		if !strings.Contains(strings.ToLower(d.Name), strings.ToLower(strings.TrimSpace(who))) {
			continue
		}
		p := b.Anybody(d.ID)
		p.DepartmentIDs = []site.ID{d.ID}
		p = b.Config.Whole(p)
		p.AlwaysPIN = false // they can show whatever is asked
		out = append(out, p)
	}
	return out, func(p *site.Person) store.Place { return store.Place{ID: p.ID, Kind: "department", Name: b.Name(p.ID)} }
}

func (s *Server) questionRoutes(api huma.API) {
	huma.Get(api, "/api/question", func(_ context.Context, in *QuestionInput) (*output[Answered], error) {
		return give(s.question(in))
	})
	huma.Get(api, "/api/matrix", func(_ context.Context, in *MatrixInput) (*output[MatrixShown], error) {
		return give(s.matrix(in))
	})
}

// matrixCSV sends a whole matrix, every member on a line of their own.
func (s *Server) matrixCSV(c *gin.Context) {
	in := MatrixInput{
		Rows: cmp.Or(c.Query("rows"), "people"), From: c.Query("from"), Span: cmp.Or(c.Query("span"), "moment"),
		Who:  c.Query("who"),
		Door: c.Query("door"), Sort: cmp.Or(c.Query("sort"), "doors"),
	}
	m, when, names, err := s.matrixOf(&in)
	if err != nil {
		c.JSON(http.StatusUnprocessableEntity, gin.H{"detail": err.Error()})
		return
	}
	c.Header("Content-Disposition", `attachment; filename="who-can-go-where.csv"`)
	c.Header("Content-Type", "text/csv; charset=utf-8")
	head := []string{in.Rows + ", " + when}
	for _, d := range m.Doors {
		head = append(head, d.Name)
	}
	rows := [][]string{head}
	for _, r := range m.Rows {
		for _, p := range r.People {
			n := names(p)
			row := []string{n.Name + hintText(n.Hint)}
			for _, cell := range r.Cells {
				row = append(row, [...]string{"", "not then", "yes", "not alone"}[cell])
			}
			rows = append(rows, row)
		}
	}
	if err := csvlist.Write(c.Writer, rows); err != nil {
		slog.Info("a matrix was not read to its end", "err", err)
	}
}

func hintText(hint string) string {
	if hint == "" {
		return ""
	}
	return fmt.Sprintf(" (%s)", hint)
}

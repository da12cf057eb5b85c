package server

import (
	"cmp"
	"context"
	"encoding/base64"
	"fmt"
	"log/slog"
	"net/http"
	"slices"
	"strings"
	"sync"

	"github.com/danielgtaylor/huma/v2"
	"github.com/gin-gonic/gin"

	"amberkeystone/core/image"
	"amberkeystone/core/roster"
	"amberkeystone/core/site"
	"amberkeystone/formats/csvlist"
	"amberkeystone/store"
)

// ImportAsked is a list of people to be looked at.
type ImportAsked struct {
	Data    string   `json:"data,omitempty" doc:"The file, base64; empty: the one that was given last under the token"`
	Token   string   `json:"token,omitempty" doc:"Of a file that was given before"`
	Columns []string `json:"columns,omitempty" doc:"What each column holds; empty where nothing; none listed: as its headings say, or as was chosen for such headings before"`
	Show    string   `json:"show,omitempty" enum:"new,changed,unchanged,wrong," doc:"Only such rows"`
	Offset  int      `json:"offset,omitempty" minimum:"0"`
}

// ImportPreview is what a list would do.
type ImportPreview struct {
	Token       string         `json:"token"`
	Heads       []string       `json:"heads"`
	Columns     []roster.Field `json:"columns" doc:"What each holds; empty: it is left out"`
	Fields      []roster.Field `json:"fields" doc:"What a column can hold"`
	Read        string         `json:"read" doc:"How the file was read"`
	Example     []string       `json:"example" doc:"The first row"`
	New         int            `json:"new"`
	Changed     int            `json:"changed"`
	Unchanged   int            `json:"unchanged"`
	Wrong       int            `json:"wrong"`
	Departments []string       `json:"departments" doc:"That there are not yet, and that are made"`
	Rows        []ImportRow    `json:"rows" doc:"At most 100 from the offset"`
	Total       int            `json:"total" doc:"How many rows there are of those that are shown"`
}

// ImportRow is one row of a list.
type ImportRow struct {
	Line   int            `json:"line"`
	Fate   roster.Fate    `json:"fate" enum:"new,changed,unchanged,wrong"`
	Name   string         `json:"name"`
	Words  string         `json:"words" doc:"What changes"`
	Faults []roster.Fault `json:"faults"`
}

// ImportState is how far an import has come.
type ImportState struct {
	Running bool   `json:"running"`
	Done    int    `json:"done"`
	Total   int    `json:"total"`
	Words   string `json:"words" doc:"How it ended"`
	Failed  bool   `json:"failed"`
}

// imports are the list that was given last, and the import that runs.
type imports struct {
	mu    sync.Mutex
	token string
	table *csvlist.Table
	state ImportState
	stop  context.CancelFunc
}

const mostImport = 64 << 20

// given takes a file, or finds the one that was given before.
func (s *Server) given(in *ImportAsked) (*csvlist.Table, string, error) {
	s.imports.mu.Lock()
	defer s.imports.mu.Unlock()
	if in.Data == "" {
		if in.Token == "" || in.Token != s.imports.token {
			return nil, "", &store.Taken{Field: "data", Words: "choose the file again: another was looked at in the meantime"}
		}
		return s.imports.table, in.Token, nil
	}
	b, err := base64.StdEncoding.DecodeString(in.Data)
	if err != nil {
		return nil, "", &store.Taken{Field: "data", Words: "the file did not arrive whole; choose it again"}
	}
	t, err := csvlist.Read(b)
	if err != nil {
		return nil, "", &store.Taken{Field: "data", Words: err.Error()}
	}
	s.imports.table, s.imports.token = t, image.Hash(b)
	return t, s.imports.token, nil
}

// columnsFor are what the columns of a list hold: as somebody says, as was chosen for such headings before, or as they
// are called.
func (s *Server) columnsFor(ctx context.Context, t *csvlist.Table, said []string) ([]roster.Field, error) {
	key := "import columns " + strings.Join(t.Heads, "|")
	if len(said) == 0 {
		var kept []roster.Field
		if ok, err := s.Store.Recall(ctx, key, &kept); err != nil || ok && len(kept) == len(t.Heads) {
			return kept, err
		}
		return roster.Guess(t.Heads), nil
	}
	if len(said) != len(t.Heads) {
		return nil, &store.Taken{
			Field: "columns", Words: fmt.Sprintf("the list has %d columns, not %d", len(t.Heads), len(said)),
		}
	}
	out := make([]roster.Field, len(said))
	for i, f := range said {
		if f != "" && !slices.Contains(roster.Fields, roster.Field(f)) {
			return nil, &store.Taken{Field: "columns", Words: fmt.Sprintf("%q is nothing that a column can hold", f)}
		}
		if f != "" && slices.Contains(out[:i], roster.Field(f)) {
			return nil, &store.Taken{Field: "columns", Words: fmt.Sprintf("two columns hold %s; leave one of them out", f)}
		}
		out[i] = roster.Field(f)
	}
	return out, s.Store.Remember(ctx, key, out)
}

// rowsOf reads the rows of a list by what its columns hold.
func rowsOf(t *csvlist.Table, columns []roster.Field) []roster.Row {
	out := make([]roster.Row, len(t.Rows))
	for i, cells := range t.Rows {
		out[i] = roster.Row{Line: t.Lines[i], Values: map[roster.Field]string{}}
		for k, cell := range cells {
			if k < len(columns) && columns[k] != "" {
				out[i].Values[columns[k]] = csvlist.Plain(strings.TrimSpace(cell))
			}
		}
	}
	return out
}

func (s *Server) previewImport(ctx context.Context, in *ImportAsked) (ImportPreview, error) {
	t, token, err := s.given(in)
	if err != nil {
		return ImportPreview{}, err
	}
	columns, err := s.columnsFor(ctx, t, in.Columns)
	if err != nil {
		return ImportPreview{}, err
	}
	planned, missing := roster.Plan(s.current().Config, rowsOf(t, columns))
	out := ImportPreview{
		Token: token, Heads: t.Heads, Columns: columns, Fields: roster.Fields, Rows: []ImportRow{},
		Departments: orNone(missing),
		Read:        fmt.Sprintf("%s, %s, cells apart by %s", counted(len(t.Rows), "row", "rows"), t.Encoding, t.Separator),
		Example:     []string{},
	}
	if len(t.Rows) > 0 {
		out.Example = t.Rows[0]
	}
	count := map[roster.Fate]*int{roster.New: &out.New, roster.Changed: &out.Changed, roster.Unchanged: &out.Unchanged,
		roster.Wrong: &out.Wrong}
	for _, p := range planned {
		*count[p.Fate]++
		if in.Show != "" && in.Show != string(p.Fate) {
			continue
		}
		if out.Total++; out.Total > in.Offset && len(out.Rows) < 100 {
			out.Rows = append(out.Rows, ImportRow{p.Line, p.Fate, p.Name, strings.Join(p.Words, "; "), orNone(p.Faults)})
		}
	}
	return out, nil
}

// startImport writes what a list does: all of it, or the rows that are right.
func (s *Server) startImport(ctx context.Context, who, token string, onlyGood bool) (ImportState, error) {
	t, _, err := s.given(&ImportAsked{Token: token})
	if err != nil {
		return ImportState{}, err
	}
	columns, err := s.columnsFor(ctx, t, nil)
	if err != nil {
		return ImportState{}, err
	}
	planned, missing := roster.Plan(s.current().Config, rowsOf(t, columns))
	wrong := 0
	var todo []roster.Planned
	seen := map[*site.Person]bool{} // who stands in several rows is written once
	for _, p := range planned {
		switch {
		case p.Fate == roster.Wrong:
			wrong++
		case p.Fate != roster.Unchanged && !seen[p.Person]:
			seen[p.Person] = true
			todo = append(todo, p)
		}
	}
	if wrong > 0 && !onlyGood {
		return ImportState{}, &store.Taken{
			Field: "onlyGood", Words: counted(wrong, "row is", "rows are") +
				" wrong; correct the file, or take only the good ones",
		}
	}
	s.imports.mu.Lock()
	defer s.imports.mu.Unlock()
	if s.imports.state.Running {
		return s.imports.state, &store.Taken{Words: "an import is running; wait until it has ended, or cancel it"}
	}
	run, stop := context.WithCancel(s.ctx)
	s.imports.state, s.imports.stop = ImportState{Running: true, Total: len(todo)}, stop
	go s.runImport(run, who, todo, missing, wrong)
	return s.imports.state, nil
}

// importStep is how many people are written at once: few enough that others get their turn between.
const importStep = 500

func (s *Server) runImport(ctx context.Context, who string, todo []roster.Planned, missing []string, left int) {
	done, err := s.writeImport(ctx, who, todo, missing)
	s.imports.mu.Lock()
	defer s.imports.mu.Unlock()
	st := &s.imports.state
	st.Running, st.Done = false, done
	st.Words = counted(done, "person is", "people are") + " written"
	if left > 0 {
		st.Words += "; " + counted(left, "wrong row was", "wrong rows were") + " left out"
	}
	switch {
	case ctx.Err() != nil && s.ctx.Err() == nil:
		st.Words += ". It was cancelled; give the same file again to go on."
	case err != nil:
		st.Failed = true
		st.Words += ". It stopped: " + err.Error() + " Give the same file again to go on."
	default:
		st.Words += "."
	}
	s.imports.stop()
}

// writeImport writes departments that are missing, then people, some at once.
func (s *Server) writeImport(
	ctx context.Context, who string, todo []roster.Planned, missing []string,
) (done int, err error) {
	number := map[site.ID]site.ID{}
	for i, name := range missing {
		d := site.Department{Name: name, Levels: []site.Grant{}}
		if _, err := store.Put(ctx, s.Store, who, &d, 0); err != nil {
			return 0, err
		}
		number[roster.NewDepartment(i)] = d.ID
	}
	for at := 0; at < len(todo); at += importStep {
		if ctx.Err() != nil {
			return done, ctx.Err()
		}
		part := todo[at:min(at+importStep, len(todo))]
		n, err := s.writePart(ctx, who, part, number)
		done += n
		if err != nil {
			return done, err
		}
		s.imports.mu.Lock()
		s.imports.state.Done = done
		s.imports.mu.Unlock()
	}
	return done, s.settle(ctx)
}

// writePart writes some people: all or none of them.
func (s *Server) writePart(
	ctx context.Context, who string, part []roster.Planned, number map[site.ID]site.ID,
) (int, error) {
	f := s.present()
	var list []store.Versioned[site.Person]
	for _, x := range part {
		p := *x.Person
		for i, id := range p.DepartmentIDs {
			p.DepartmentIDs[i] = cmp.Or(number[id], id)
		}
		rev := int64(0)
		if p.ID != 0 {
			var err error
			if rev, err = f.revOf(p.ID); err != nil {
				return 0, err
			}
		}
		list = append(list, store.Versioned[site.Person]{Rev: rev, Value: p})
	}
	if err := store.PutMany(ctx, s.Store, who, list); err != nil {
		return 0, err
	}
	return len(list), nil
}

func (s *Server) importRoutes(api huma.API) {
	op := func(id, method, path, words string) huma.Operation {
		return huma.Operation{
			OperationID: id, Method: method, Path: path, Summary: words, Tags: []string{"people"}, MaxBodyBytes: mostImport,
		}
	}
	huma.Register(api, op("previewImport", http.MethodPost, "/api/import/preview", "What a list of people would do"),
		func(ctx context.Context, in *struct{ Body ImportAsked }) (*output[ImportPreview], error) {
			return give(s.previewImport(ctx, &in.Body))
		})
	huma.Register(api, op("startImport", http.MethodPost, "/api/import/start", "Write what a list of people does"),
		func(ctx context.Context, in *struct {
			Body struct {
				Token    string `json:"token"`
				OnlyGood bool   `json:"onlyGood" doc:"Leave out the rows that are wrong"`
			}
		}) (*output[ImportState], error) {
			return give(s.startImport(ctx, s.who(ctx), in.Body.Token, in.Body.OnlyGood))
		})
	huma.Get(api, "/api/import", func(context.Context, *struct{}) (*output[ImportState], error) {
		s.imports.mu.Lock()
		defer s.imports.mu.Unlock()
		return give(s.imports.state, nil)
	})
	huma.Register(api,
		op("cancelImport", http.MethodPost, "/api/import/cancel", "Stop an import after what is being written"),
		func(context.Context, *struct{}) (*output[ImportState], error) {
			s.imports.mu.Lock()
			defer s.imports.mu.Unlock()
			if s.imports.stop != nil {
				s.imports.stop()
			}
			return give(s.imports.state, nil)
		})
	huma.Register(api,
		op("addBatch", http.MethodPost, "/api/import/batch", "People with a range of card numbers, named by a pattern"),
		func(ctx context.Context, in *struct{ Body Batch }) (*output[ImportState], error) {
			return give(s.addBatch(ctx, in.Body))
		})
}

// Batch is people with cards whose numbers follow one another.
type Batch struct {
	Pattern      string    `json:"pattern" maxLength:"80" doc:"Name, with # where the count stands: Visitor ##"`
	First        int       `json:"first" minimum:"0" maximum:"1000000" doc:"What the count begins with"`
	Format       string    `json:"format"`
	Facility     uint64    `json:"facility"`
	Number       uint64    `json:"number" doc:"Of the first card"`
	Count        int       `json:"count" minimum:"1" maximum:"5000"`
	Free         bool      `json:"free" doc:"Cards without people: into the list of free cards"`
	DepartmentID site.ID   `json:"departmentId,omitempty"`
	LevelIDs     []site.ID `json:"levelIds,omitempty"`
}

// people makes the people of a batch.
func (b *Batch) people() []site.Person {
	var out []site.Person
	for i := range b.Count {
		p := site.Person{
			Name: counting(b.Pattern, b.First+i), DepartmentIDs: []site.ID{}, Levels: []site.Grant{},
			Credentials: []site.Credential{site.NewCard(b.Format, b.Facility, b.Number+uint64(i))},
		}
		if b.DepartmentID != 0 {
			p.DepartmentIDs = append(p.DepartmentIDs, b.DepartmentID)
		}
		for _, l := range b.LevelIDs {
			p.Levels = append(p.Levels, site.Grant{LevelID: l})
		}
		out = append(out, p)
	}
	return out
}

// counting puts a count into a pattern, with as many digits as it has #; at its end where it has none.
func counting(pattern string, n int) string {
	i := strings.IndexByte(pattern, '#')
	if i < 0 {
		return strings.TrimSpace(fmt.Sprintf("%s %d", pattern, n))
	}
	k := i
	for k < len(pattern) && pattern[k] == '#' {
		k++
	}
	return fmt.Sprintf("%s%0*d%s", pattern[:i], k-i, n, pattern[k:])
}

func (s *Server) addBatch(ctx context.Context, b Batch) (ImportState, error) {
	if !b.Free && strings.TrimSpace(b.Pattern) == "" {
		return ImportState{}, &store.Taken{
			Field: "pattern", Words: "give a name with # where the count stands, such as Visitor ##",
		}
	}
	people := b.people()
	settings := s.current().Config.Settings
	var list []store.Versioned[site.Person]
	var free []store.Versioned[site.FreeCard]
	for i := range people {
		p := &people[i]
		if b.Free {
			p.Name = "-"
		}
		if faults := append(p.Check(), settings.CheckCards(p)...); len(faults) > 0 {
			f := faults[0]
			return ImportState{}, &store.Taken{Field: "number", Words: p.Credentials[0].Value + ": " + f.Words}
		}
		list = append(list, store.Versioned[site.Person]{Value: *p})
		free = append(free, store.Versioned[site.FreeCard]{Value: site.FreeCard{Credential: p.Credentials[0]}})
	}
	var err error
	what := counted(b.Count, "person is", "people are") + " added."
	if b.Free {
		what = counted(b.Count, "free card is", "free cards are") + " added."
		err = store.PutMany(ctx, s.Store, s.who(ctx), free)
	} else {
		err = store.PutMany(ctx, s.Store, s.who(ctx), list)
	}
	if err != nil {
		return ImportState{}, err
	}
	return ImportState{Done: b.Count, Total: b.Count, Words: what}, s.settle(ctx)
}

// peopleCSV sends everybody as a list that an import reads as unchanged.
func (s *Server) peopleCSV(c *gin.Context) {
	b := s.current()
	c.Header("Content-Disposition", `attachment; filename="people.csv"`)
	c.Header("Content-Type", "text/csv; charset=utf-8")
	if err := csvlist.Write(c.Writer, roster.Export(b.Config, b.Config.People, b.Name)); err != nil {
		slog.Info("a list of people was not read to its end", "err", err)
	}
}

package server_test

import (
	"bytes"
	"encoding/base64"
	"encoding/csv"
	"encoding/json"
	"fmt"
	"image"
	"image/png"
	"net/http"
	"net/url"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Where somebody may go is told as it is and as an edit would make it; nothing is saved by asking.
func TestWhereSomebodyMayGo(t *testing.T) {
	c := openAt(t, evening)
	ines, level := c.idOf("people", "Ines Marrow"), c.idOf("levels", "Registrars")
	ask := func(body string) string { return c.want(200, "", "POST", "/api/where", body) }
	is := ask(fmt.Sprintf(`{"person":%d,"day":"2026-11-24"}`, ines))
	assert.Contains(t, is, `"name":"Sail loft"`)
	assert.Contains(t, ask(fmt.Sprintf(`{"level":%d}`, level)), "Specimen vault")
	_, value := c.read("people", "Ines Marrow")
	value["levels"], value["departmentIds"] = []any{}, []any{}
	b, err := json.Marshal(object{"edit": object{"person": value}, "day": "2026-11-24"})
	require.NoError(t, err)
	assert.NotContains(t, ask(string(b)), `"name":"Sail loft"`, "the place was hers by what the edit takes away")
	assert.Less(t, len(ask(string(b))), len(is), "fewer doors without what she holds")
	assert.Equal(t, is, ask(fmt.Sprintf(`{"person":%d,"day":"2026-11-24"}`, ines)), "asking has saved nothing")
	c.want(422, "write it as 2026-11-27", "POST", "/api/where", `{"person":1,"day":"tomorrow"}`)
	c.want(404, "", "POST", "/api/where", `{"person":999999}`)
	c.want(404, "", "POST", "/api/where", `{"level":999999}`)
}

// Questions in words, with what was understood, and its parts corrected.
func TestQuestionsOverHTTP(t *testing.T) {
	c := openAt(t, evening)
	ask := func(q string) string { return c.want(200, "", "GET", "/api/question?q="+url.QueryEscape(q), "") }
	assert.Contains(t, ask("Ines at Specimen vault Sat 16:30"), `"kind":"may"`)
	assert.Contains(t, ask("who can enter the Specimen vault tonight"), `"kind":"who"`)
	assert.Contains(t, ask("when Ines Lab"), `"kind":"when"`)
	assert.Contains(t, ask("where can Ines go Saturday"), `"kind":"where"`)
	assert.Contains(t, ask("zzz"), `"unread":["zzz"]`)
	d := c.id("Sail loft")
	corrected := c.want(200, `"kind":"who"`, "GET",
		fmt.Sprintf("/api/question?q=%s&kind=who&door=%d", url.QueryEscape("Ines at Specimen vault"), d), "")
	assert.Contains(t, corrected, fmt.Sprintf(`"door":%d`, d))
}

// The matrix as a table and as CSV say the same; levels and departments stand in its rows too.
func TestMatrixOverHTTP(t *testing.T) {
	c := openAt(t, evening)
	var m struct {
		Columns []struct {
			Name  string
			Count int
		}
		Rows []struct {
			Members []struct{ Name string }
			Count   int
			Cells   string
		}
		People, DoorCount int
	}
	c.get("/api/matrix?span=week", &m)
	assert.Equal(t, 60, m.People)
	require.Len(t, m.Columns, m.DoorCount)
	of := map[string]string{}
	for _, r := range m.Rows {
		require.Len(t, r.Members, min(r.Count, 12))
		for _, p := range r.Members {
			of[p.Name] = r.Cells
		}
	}
	counts := make([]int, len(m.Columns))
	rows, err := csv.NewReader(strings.NewReader(c.want(200, "", "GET", "/api/matrix.csv?span=week", ""))).ReadAll()
	require.NoError(t, err)
	require.Len(t, rows, 61)
	for _, r := range rows[1:] {
		require.Len(t, r, len(m.Columns)+1)
		for i, cell := range r[1:] {
			if cell == "yes" || cell == "not alone" {
				counts[i]++
			}
			if cells, ok := of[r[0]]; ok {
				assert.Equal(t, map[string]byte{"yes": 'o', "not alone": 'm', "not then": 'c', "": '-'}[cell], cells[i], "%s at %s",
					r[0], rows[0][i+1])
			}
		}
	}
	for i, col := range m.Columns {
		assert.Equal(t, counts[i], col.Count, col.Name)
	}
	for rows, n := range map[string]int{"levels": 12, "departments": 10} {
		c.get("/api/matrix?rows="+rows, &m)
		assert.Equal(t, n, m.People, rows)
	}
	c.want(200, `"rows":[]`, "GET", "/api/matrix?offset=9223372036854775807&column=9223372036854775807", "")
	c.want(200, `"groups":[]`, "GET", "/api/rights?offset=9223372036854775807", "")
	c.want(422, "from", "GET", "/api/matrix?from=soon", "")
	c.want(422, "is not a moment", "GET", "/api/matrix.csv?from=soon", "")
}

// Two people may share a name; a free card that somebody gets is free no longer.
func TestNamesAndFreeCards(t *testing.T) {
	c := open(t)
	person := `{"id":0,"name":"Ines Marrow","number":"777","departmentIds":[],"suspended":false,"extendedTime":false,"alwaysPin":false,"levels":[],"credentials":[%s]}`
	c.want(200, "777", "POST", "/api/people", fmt.Sprintf(person, ""))
	text := c.want(200, "777", "GET", "/api/find?q=Ines+Marrow", "")
	assert.Contains(t, text, "201", "the hints tell them apart")
	var free struct {
		Items []struct {
			Value struct{ Format, Value string }
		}
	}
	c.get("/api/free-cards?limit=100", &free)
	require.Len(t, free.Items, 3)
	card := free.Items[0].Value
	cred := fmt.Sprintf(`{"kind":"card","format":%q,"value":%q,"status":"active"}`, card.Format, card.Value)
	c.want(200, card.Value, "POST", "/api/people", strings.Replace(fmt.Sprintf(person, cred), "777", "778", 1))
	c.get("/api/free-cards?limit=100", &free)
	assert.Len(t, free.Items, 2)
	c.want(422, "", "POST", "/api/people", strings.Replace(fmt.Sprintf(person, cred), "777", "779", 1))
}

// Levels contain no loops, and say so by name.
func TestLevelsContainNoLoops(t *testing.T) {
	c := open(t)
	inner, outer := c.idOf("levels", "Researchers"), c.idOf("levels", "Conservators")
	rev, value := c.read("levels", "Researchers")
	value["includes"] = []int64{outer}
	status, body := c.put(fmt.Sprintf("/api/levels/%d", inner), rev, value)
	assert.Equal(t, 422, status, body)
	assert.Contains(t, body, "Conservators")
	var n struct {
		Count int
		List  []struct{ Name, By string }
	}
	c.get(fmt.Sprintf("/api/levels/%d/holders", inner), &n)
	assert.NotZero(t, n.Count)
	through := false
	for _, h := range n.List {
		through = through || strings.Contains(h.By, "Conservators")
	}
	assert.True(t, through, "who holds it through another level is told by which")
}

// A lost card is replaced in one step; a stale form is refused, a card that is not theirs is not found.
func TestReplaceCard(t *testing.T) {
	c := open(t)
	id := c.idOf("people", "Emeka Okafor")
	rev, value := c.read("people", "Emeka Okafor")
	old := value["credentials"].([]any)[0].(object)["value"]
	at := fmt.Sprintf("/api/people/%d/replace", id)
	body := func(rev int64, was any) string {
		return fmt.Sprintf(`{"rev":%d,"old":%q,"status":"lost","new":{"kind":"card","format":"26-bit","value":"42-12999","status":"active"}}`, rev, was)
	}
	c.want(422, "has no credential 1-1", "POST", at, body(rev, "1-1"))
	text := c.want(200, "12999", "POST", at, body(rev, old))
	assert.Contains(t, text, `"status":"lost"`)
	c.want(409, "", "POST", at, body(rev, old))
}

// A photo is a picture of bounded weight, and nothing else.
func TestPhoto(t *testing.T) {
	c := open(t)
	at := fmt.Sprintf("/api/photos/%d", c.idOf("people", "Ines Marrow"))
	var b bytes.Buffer
	require.NoError(t, png.Encode(&b, image.NewGray(image.Rect(0, 0, 4, 4))))
	put := func(kind string, body []byte) int {
		req, err := http.NewRequest("PUT", c.url+at, bytes.NewReader(body))
		require.NoError(t, err)
		req.Header.Set("Content-Type", kind)
		r, err := c.http.Do(req)
		require.NoError(t, err)
		require.NoError(t, r.Body.Close())
		return r.StatusCode
	}
	c.want(404, "no picture", "GET", at, "")
	assert.Equal(t, 422, put("image/png", []byte("no picture")))
	assert.Equal(t, 422, put("text/html", b.Bytes()))
	assert.Equal(t, 422, put("image/png", append(b.Bytes(), make([]byte, 500_000)...)))
	assert.Equal(t, 204, put("image/png", b.Bytes()))
	assert.Equal(t, b.String(), c.want(200, "", "GET", at, ""))
	c.want(204, "", "DELETE", at, "")
	c.want(404, "no picture", "GET", at, "")
}

type preview struct {
	Token                          string
	New, Changed, Unchanged, Wrong int
	Departments                    []string
	Rows                           []struct {
		Line   int
		Faults []struct{ Column, Words string }
	}
}

func (c *client) imported() (words string) {
	c.t.Helper()
	require.Eventually(c.t, func() bool {
		var st struct {
			Running, Failed bool
			Words           string
		}
		c.get("/api/import", &st)
		words = st.Words
		return !st.Running && words != ""
	}, 20*time.Second, 10*time.Millisecond)
	return words
}

// A list with wrong rows: told by row and column, nothing written until asked, then only the good; again: nothing
// changes.
func TestImportOverHTTP(t *testing.T) {
	c := open(t)
	list := "Name;Number;Department;Cards;Levels\nWren Abbot;901;Loans;42-13001;Registrars\nIvo Karst;902;Loans;42-70000;\nMila Tor;903;;42-13003;No such level\n"
	var p preview
	look := func(data string) {
		c.ask("/api/import/preview", object{"data": base64.StdEncoding.EncodeToString([]byte(data))}, &p)
	}
	look(list)
	assert.Equal(t, []int{1, 0, 0, 2}, []int{p.New, p.Changed, p.Unchanged, p.Wrong})
	assert.Equal(t, []string{"Loans"}, p.Departments)
	for i, line := range []int{2, 3, 4} {
		assert.Equal(t, line, p.Rows[i].Line)
		assert.Equal(t, i > 0, len(p.Rows[i].Faults) > 0, "row %d", i)
	}
	start := `{"token":%q,"onlyGood":%t}`
	c.want(422, "2 rows are wrong", "POST", "/api/import/start", fmt.Sprintf(start, p.Token, false))
	c.want(422, "choose the file again", "POST", "/api/import/start", fmt.Sprintf(start, "another", true))
	c.want(200, "", "POST", "/api/import/start", fmt.Sprintf(start, p.Token, true))
	assert.Equal(t, "1 person is written; 2 wrong rows were left out.", c.imported())
	look(list)
	assert.Equal(t, []int{0, 0, 1, 2}, []int{p.New, p.Changed, p.Unchanged, p.Wrong})
	look(c.want(200, "Wren Abbot", "GET", "/api/people.csv", ""))
	assert.Equal(t, []int{0, 0, 61, 0}, []int{p.New, p.Changed, p.Unchanged, p.Wrong}, "an export changes nothing: %+v",
		p.Rows)
	c.want(422, "two columns hold", "POST", "/api/import/preview",
		fmt.Sprintf(`{"token":%q,"columns":[%s"name"]}`, p.Token, strings.Repeat(`"name",`, 9)))
	c.want(422, "data", "POST", "/api/import/preview", `{"data":"!"}`)
}

// A range of cards with people by pattern, or into the list of free cards; all or none.
func TestBatch(t *testing.T) {
	c := open(t)
	batch := func(pattern string, number, count int, free bool) string {
		return fmt.Sprintf(`{"pattern":%q,"first":8,"format":"26-bit","facility":42,"number":%d,"count":%d,"free":%t}`,
			pattern, number, count, free)
	}
	c.want(200, "3 people are added.", "POST", "/api/import/batch", batch("Guest ##", 14001, 3, false))
	for _, name := range []string{"Guest 08", "Guest 09", "Guest 10"} {
		c.idOf("people", name)
	}
	c.want(422, "", "POST", "/api/import/batch", batch("Late ##", 14002, 3, false))
	assert.NotContains(t, c.want(200, "", "GET", "/api/people?q=Late", ""), "Late 08", "none of them")
	c.want(200, "2 free cards are added.", "POST", "/api/import/batch", batch("", 14101, 2, true))
	c.want(422, "give a name", "POST", "/api/import/batch", batch("", 14201, 2, false))
	c.want(422, "42-65536", "POST", "/api/import/batch", batch("Far #", 65535, 2, false))
}

// What begins and ends is listed with its last minute.
func TestComing(t *testing.T) {
	c := openAt(t, evening)
	rev, value := c.read("people", "Emeka Okafor")
	value["levels"] = []object{
		{"levelId": c.idOf("levels", "Registrars"), "from": "2026-11-30", "until": "2026-12-04T12:30"},
	}
	status, body := c.put(fmt.Sprintf("/api/people/%d", c.idOf("people", "Emeka Okafor")), rev, value)
	require.Equal(t, 200, status, body)
	text := c.want(200, "Mon 30 Nov 2026, 00:00", "GET", "/api/coming", "")
	assert.Contains(t, text, "Fri 4 Dec 2026, 12:30")
}

// The list of rights says the same by door and by person, as CSV too; what leads to a door that is added is told.
func TestRightsOverHTTP(t *testing.T) {
	c := openAt(t, evening)
	type group struct {
		Name  string
		Count int
		Lines []struct{ Name, Schedule, Level, By string }
	}
	var list struct {
		Groups      []group
		Total       int
		Controllers []struct{ Name string }
	}
	lines := map[string]int{}
	c.get("/api/rights?by=door&limit=100", &list)
	assert.Equal(t, 24, list.Total)
	assert.Len(t, list.Controllers, 6)
	for _, g := range list.Groups {
		names := map[string]bool{}
		for _, l := range g.Lines {
			lines[l.Name+" at "+g.Name+" "+l.Schedule+l.Level+l.By]++
			names[l.Name] = true
		}
		assert.Len(t, names, g.Count, g.Name)
	}
	c.get("/api/rights?by=person&limit=100", &list)
	assert.Equal(t, 60, list.Total)
	for _, g := range list.Groups {
		for _, l := range g.Lines {
			lines[g.Name+" at "+l.Name+" "+l.Schedule+l.Level+l.By]--
		}
	}
	for k, n := range lines {
		assert.Zero(t, n, k)
	}
	for _, by := range []string{"door", "person"} {
		rows, err := csv.NewReader(strings.NewReader(c.want(200, "", "GET", "/api/rights.csv?by="+by, ""))).ReadAll()
		require.NoError(t, err)
		assert.Len(t, rows, len(lines)+1, by)
	}
	c.get("/api/rights?by=door&door=vault&who=kofi", &list)
	require.Len(t, list.Groups, 1)
	assert.Equal(t, 1, list.Groups[0].Count)
	assert.Len(t, list.Controllers, 1)

	_, door := c.read("doors", "Wet store")
	ways := c.want(200, "", "GET", fmt.Sprintf("/api/floors/%v/ways", door["floorId"]), "")
	assert.Contains(t, ways, "Collections without the vault", "a level for a whole floor leads to what is added there")
	assert.NotContains(t, ways, "Registrars")
}

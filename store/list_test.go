package store

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amberkeystone/core/site"
)

// manyPeople is a database of so many people in four departments, two of whom share each name but for its number.
func manyPeople(t *testing.T, n int) (*Store, []site.Person) {
	s := open(t)
	var list []Versioned[site.Person]
	ids := departments(t, s, "Crew", "kitchen", "Kiosk")
	for i := range n {
		list = append(list, Versioned[site.Person]{Value: site.Person{
			Name: fmt.Sprintf("Name %02d %c", i/2, 'a'+i%2), DepartmentIDs: [][]site.ID{ids[:1], ids[1:2], ids[2:], nil}[i%4],
			Credentials: []site.Credential{}, Levels: []site.Grant{}, Suspended: i%3 == 0,
		}})
	}
	require.NoError(t, PutMany(context.Background(), s, "test", list))
	var people []site.Person
	for _, v := range list {
		people = append(people, v.Value)
	}
	return s, people
}

// departments adds some and returns their numbers.
func departments(t *testing.T, s *Store, names ...string) (ids []site.ID) {
	for _, name := range names {
		d := &site.Department{Name: name}
		add(t, s, d)
		ids = append(ids, d.ID)
	}
	return ids
}

// Whatever the order, the pages read one after the other are the list sorted in memory, and each row's neighbours are
// those beside it there.
func TestPagesAreTheList(t *testing.T) {
	s, people := manyPeople(t, 60)
	ctx := context.Background()
	names := map[site.ID]string{}
	list, err := List[site.Department](ctx, s, Page{Limit: 9})
	require.NoError(t, err)
	for _, d := range list.Items {
		names[d.Value.ID] = d.Value.Name
	}
	in := func(p site.Person) string {
		if len(p.DepartmentIDs) == 0 {
			return ""
		}
		return names[p.DepartmentIDs[0]]
	}
	rapid.Check(t, func(t *rapid.T) {
		p := Page{
			Limit:  rapid.IntRange(1, 25).Draw(t, "limit"),
			Sort:   rapid.SampledFrom([]string{"", "-name", "department", "-department", "suspended"}).Draw(t, "sort"),
			Search: rapid.SampledFrom([]string{"", "1", "Name 2", "Kiosk"}).Draw(t, "search"),
		}
		if rapid.Bool().Draw(t, "filtered") {
			p.Where = []string{"suspended=0"}
		}
		want := slices.DeleteFunc(slices.Clone(people), func(x site.Person) bool {
			return p.Search != "" && !strings.Contains(x.Name+"\n"+in(x), p.Search) || p.Where != nil && x.Suspended
		})
		slices.SortFunc(want, func(a, b site.Person) int {
			first := 0
			switch strings.TrimPrefix(p.Sort, "-") {
			case "department":
				first = cmp.Compare(strings.ToLower(in(a)), strings.ToLower(in(b)))
			case "suspended":
				first = cmp.Compare(fmt.Sprint(a.Suspended), fmt.Sprint(b.Suspended))
			}
			by := cmp.Or(first, cmp.Compare(a.Name, b.Name), cmp.Compare(a.ID, b.ID))
			if strings.HasPrefix(p.Sort, "-") {
				return -by
			}
			return by
		})
		var got []site.ID
		for {
			page, err := List[site.Person](ctx, s, p)
			require.NoError(t, err)
			require.Equal(t, len(want), page.Total)
			for _, v := range page.Items {
				got = append(got, v.Value.ID)
			}
			if page.Next == "" {
				break
			}
			p.After = page.Next
		}
		require.Len(t, got, len(want))
		for i, x := range want {
			require.Equal(t, x.ID, got[i], "row %d", i)
		}
		p.After = ""
		for i, x := range want {
			around, err := s.Beside(ctx, "person", x.ID, p)
			require.NoError(t, err)
			require.Equal(t, i+1, around.Number)
			require.Equal(t, i > 0, around.Before != nil)
			require.Equal(t, i+1 < len(want), around.After != nil)
			if i > 0 {
				require.Equal(t, want[i-1].ID, around.Before.ID)
			}
		}
	})
}

func TestListsThatThereAreNot(t *testing.T) {
	s, _ := manyPeople(t, 2)
	for name, p := range map[string]Page{
		"a column": {Sort: "shoe size"}, "a condition": {Where: []string{"shoe=43"}}, "half a condition": {Where: []string{"department"}},
		"a place": {After: "nowhere"},
	} {
		p.Limit = 5
		_, err := List[site.Person](context.Background(), s, p)
		var taken *Taken
		require.ErrorAs(t, err, &taken, name)
		require.NotEmpty(t, taken.Field, name)
	}
}

// Rows whose sorting value, name or text holds quotes, or is of another kind, are read on from where they stand.
func TestSortedByWhatIsOdd(t *testing.T) {
	s := open(t)
	ctx := context.Background()
	for _, d := range []string{`"; --`, "%", "0", "été", "\U0001f511"} {
		_, err := Put(ctx, s, "test", &site.Person{Name: "P " + d, DepartmentIDs: departments(t, s, d),
			Credentials: []site.Credential{}, Levels: []site.Grant{}}, 0)
		require.NoError(t, err)
	}
	for _, sort := range []string{"department", "-department", "credentials", "until"} {
		p, n := Page{Limit: 1, Sort: sort}, 0
		for {
			page, err := List[site.Person](ctx, s, p)
			require.NoError(t, err)
			n += len(page.Items)
			if p.After = page.Next; p.After == "" {
				break
			}
		}
		require.Equal(t, 5, n, sort)
	}
}

func TestUsesAndNames(t *testing.T) {
	s := open(t)
	ctx := context.Background()
	level := &site.Level{Name: "Crew", Entries: []site.Entry{}}
	_, err := Put(ctx, s, "test", level, 0)
	require.NoError(t, err)
	person := &site.Person{Name: "Ada", Credentials: []site.Credential{}, Levels: []site.Grant{{LevelID: level.ID}}}
	_, err = Put(ctx, s, "test", person, 0)
	require.NoError(t, err)
	uses, err := s.Uses(ctx, []site.ID{level.ID, person.ID})
	require.NoError(t, err)
	require.Equal(t, map[site.ID]map[string]int{level.ID: {"person": 1}}, uses)
	names, err := s.Names(ctx, []site.ID{level.ID, person.ID, 999_999})
	require.NoError(t, err)
	require.Len(t, names, 2)
	who, err := List[site.Person](ctx, s, Page{Limit: 5, Where: []string{fmt.Sprintf("level=%d", level.ID)}})
	require.NoError(t, err)
	require.Equal(t, 1, who.Total)
}

// People are read by name and by department from indexes: no list of 100,000 is sorted for a page of it.
func TestPagesAreNotSorted(t *testing.T) {
	s := open(t)
	for _, sort := range []string{"name", "-name", "department", "-department"} {
		q, err := asked("person", Page{Sort: sort})
		require.NoError(t, err)
		var steps []struct {
			ID, Parent, Notused int
			Detail              string
		}
		require.NoError(t,
			s.db.SelectContext(context.Background(), &steps,
				`EXPLAIN QUERY PLAN SELECT id FROM objects WHERE `+q.where+q.order(false)+` LIMIT 9`, q.args...))
		for _, step := range steps {
			require.False(t, strings.Contains(step.Detail, "TEMP B-TREE"), "%s: %s", sort, step.Detail)
		}
	}
}

package server

import (
	"cmp"
	"context"
	"encoding/json"
	"fmt"
	"maps"
	"reflect"
	"slices"
	"strconv"
	"strings"

	"amberkeystone/core/compare"
	"amberkeystone/core/model"
	"amberkeystone/core/prove"
	"amberkeystone/core/site"
	"amberkeystone/formats/openinghours"
	"amberkeystone/store"
)

type historyInput struct {
	Object site.ID `query:"object"`
	Kind   string  `query:"kind"`
	Q      string  `query:"q" doc:"In names, of objects and of who did it"`
	Before int64   `query:"before" doc:"Only lines older than this one"`
	Limit  int     `query:"limit" default:"50" minimum:"1" maximum:"500"`
}

// HistoryLine is a line of the audit trail in words.
type HistoryLine struct {
	ID       int64           `json:"id"`
	At       int64           `json:"at" doc:"Unix milliseconds"`
	Who      string          `json:"who"`
	Action   string          `json:"action"`
	Kind     string          `json:"kind"`
	ObjectID site.ID         `json:"objectId"`
	Name     string          `json:"name"`
	Undoable bool            `json:"undoable" doc:"Nothing has changed the object since"`
	Removes  bool            `json:"removes" doc:"Undoing it removes the object"`
	Changes  []HistoryChange `json:"changes"`
	Effect   string          `json:"effect" doc:"What it did, as it was shown before it was saved; empty: nothing was told"`
}

// HistoryChange is one field that differs; empty is nothing.
type HistoryChange struct {
	Field string `json:"field"`
	Was   string `json:"was"`
	Now   string `json:"now"`
}

func (s *Server) history(ctx context.Context, in *historyInput) ([]HistoryLine, error) {
	lines, err := s.Store.History(ctx, store.HistoryFilter{
		Object: in.Object, Kind: in.Kind, Search: strings.TrimSpace(in.Q), Before: in.Before, Limit: in.Limit,
	})
	out := []HistoryLine{}
	for _, l := range lines {
		out = append(out, HistoryLine{
			ID: l.ID, At: l.At, Who: l.Who, Action: l.Action, Kind: l.Kind, ObjectID: l.ObjectID, Name: l.Name,
			Undoable: l.Undoable, Removes: l.Was == nil && l.Now != nil, Changes: differences(s.current(), l), Effect: l.Effect,
		})
	}
	return out, err
}

// undoEffect is what turning a line of history back would do.
func (s *Server) undoEffect(ctx context.Context, id int64) (EditEffect, error) {
	l, err := s.Store.HistoryOf(ctx, id)
	if err != nil {
		return EditEffect{}, say(err)
	}
	none := EditEffect{
		Sentence: "It changes no hours and nobody's access.", Lines: []compare.Consequence{}, Doors: []store.Place{},
		Losers: []string{}, Touched: []Touched{},
	}
	kind := model.ByWord(l.Kind)
	switch {
	case kind == nil:
		return none, nil
	case l.Was == nil:
		return s.effect(compare.Edit{Remove: l.ObjectID})
	}
	o, err := kind.Decode(l.ObjectID, []byte(*l.Was))
	if err != nil {
		return none, nil //nolint:nilerr // what cannot be read is said when it is undone
	}
	e, ok := editOf(o)
	if !ok {
		return none, nil
	}
	return s.effect(e)
}

// differences are the fields in which two documents of an object differ, in the order in which its type has them. Of
// one that was added or removed the name says enough.
func differences(b *prove.Book, l store.HistoryLine) []HistoryChange {
	out := []HistoryChange{}
	kind := model.ByWord(l.Kind)
	if kind == nil || l.Was == nil || l.Now == nil {
		return out
	}
	var was, now map[string]any
	if json.Unmarshal([]byte(*l.Was), &was) != nil || json.Unmarshal([]byte(*l.Now), &now) != nil {
		return out
	}
	typeName := reflect.TypeOf(kind.New()).Elem().Name()
	for _, field := range slices.Sorted(maps.Keys(merged(was, now))) {
		if reflect.DeepEqual(was[field], now[field]) {
			continue
		}
		c := HistoryChange{Field: title(typeName, field)}
		if field == "week" {
			c.Was, c.Now = weekText(b, kind, *l.Was), weekText(b, kind, *l.Now)
		} else {
			c.Was, c.Now = apart(b, typeName, field, was[field], now[field])
		}
		if c.Was != c.Now {
			out = append(out, c)
		}
	}
	return out
}

func merged(a, b map[string]any) map[string]any {
	out := maps.Clone(a)
	maps.Copy(out, b)
	return out
}

// weekText is the week of a schedule or a plan as opening-hours text.
func weekText(b *prove.Book, kind model.Kind, body string) string {
	o, err := kind.Decode(0, []byte(body))
	if err != nil {
		return "hours that cannot be read"
	}
	switch o := o.(type) {
	case *site.Schedule:
		return openinghours.FormatWeek(o.Week)
	case *site.Plan:
		return openinghours.FormatPlan(o.Pattern, levels(b))
	}
	return ""
}

// apart puts two values of a field into words; of lists only what one has and the other lacks.
func apart(b *prove.Book, typeName, field string, was, now any) (string, string) {
	x, listed := was.([]any)
	y, too := now.([]any)
	if !listed && !too {
		return worded(b, typeName, field, was), worded(b, typeName, field, now)
	}
	return lacking(b, typeName, field, x, y), lacking(b, typeName, field, y, x)
}

// mostWorded is how many items of a list are written out.
const mostWorded = 6

// lacking words the items of a list that another lacks.
func lacking(b *prove.Book, typeName, field string, list, other []any) string {
	var words []string
	for _, v := range list {
		if !slices.ContainsFunc(other, func(w any) bool { return reflect.DeepEqual(v, w) }) {
			words = append(words, worded(b, typeName, field, v))
		}
	}
	if more := len(words) - mostWorded; more > 0 {
		words = append(words[:mostWorded], fmt.Sprintf("and %d more", more))
	}
	return strings.Join(words, ", ")
}

// worded puts one value into words.
func worded(b *prove.Book, typeName, field string, v any) string {
	switch v := v.(type) {
	case nil:
		return ""
	case bool:
		if v {
			return "yes"
		}
		return "no"
	case float64:
		if points(field) {
			return objectName(b, v)
		}
		text := strconv.FormatFloat(v, 'f', -1, 64)
		if unit := site.Fields[typeName+"."+field].Unit; unit != "" {
			text += " " + unit
		}
		return text
	case string:
		return v
	case []any:
		return lacking(b, typeName, field, v, nil)
	case map[string]any:
		return object(b, v)
	}
	return fmt.Sprint(v)
}

func points(field string) bool {
	return field == "id" || strings.HasSuffix(field, "Id") || strings.HasSuffix(field, "Ids")
}

func objectName(b *prove.Book, id float64) string {
	if id == 0 {
		return "none"
	}
	return b.Name(site.ID(id))
}

// object words what stands in a field that has fields of its own: what it points to first, then the rest.
func object(b *prove.Book, v map[string]any) string {
	keys := slices.SortedFunc(maps.Keys(v), func(x, y string) int {
		return cmp.Or(cmp.Compare(rankOf(x), rankOf(y)), cmp.Compare(x, y))
	})
	var words []string
	for _, k := range keys {
		text := worded(b, "", k, v[k])
		switch {
		case text == "" || v[k] == false || k == "kind" && v["id"] != nil:
		case v[k] == true:
			words = append(words, title("", k))
		case rankOf(k) == 0 || k == "value" || k == "kind":
			words = append(words, text)
		default:
			words = append(words, strings.ToLower(title("", k))+" "+text)
		}
	}
	return strings.Join(words, ", ")
}

// rankOf orders the fields of an object in words.
func rankOf(key string) int {
	switch {
	case key == "target" || points(key):
		return 0
	case key == "kind" || key == "value":
		return 1
	}
	return 2
}

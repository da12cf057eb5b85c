package attack

import (
	"encoding/json"
	"fmt"
	"maps"
	"math/rand/v2"
	"net/http"
	"net/url"
	"slices"
	"strconv"
	"strings"
)

// operation is one of the API's description.
type operation struct {
	method, path string
	query        []string
	body         *schema
	schemas      map[string]*schema
}

// schema is as much of JSON Schema as the description uses.
type schema struct {
	Ref        string             `json:"$ref"`
	Type       any                `json:"type"`
	Properties map[string]*schema `json:"properties"`
	Items      *schema            `json:"items"`
	Enum       []any              `json:"enum"`
	MinItems   *int               `json:"minItems"`
	MaxItems   *int               `json:"maxItems"`
}

// describe reads the description of the API from the server itself.
func (a *attacker) describe() ([]operation, error) {
	r, err := a.http.Get(a.URL + "/api/openapi.json")
	if err != nil {
		return nil, err
	}
	defer r.Body.Close()
	var doc struct {
		Paths map[string]map[string]struct {
			Parameters  []struct{ Name, In string }
			RequestBody *struct {
				Content map[string]struct{ Schema *schema }
			}
		}
		Components struct{ Schemas map[string]*schema }
	}
	if err := json.NewDecoder(r.Body).Decode(&doc); err != nil {
		return nil, fmt.Errorf("the API's description: %w", err)
	}
	var out []operation
	for _, path := range slices.Sorted(maps.Keys(doc.Paths)) {
		for _, method := range slices.Sorted(maps.Keys(doc.Paths[path])) {
			d := doc.Paths[path][method]
			o := operation{method: strings.ToUpper(method), path: path, schemas: doc.Components.Schemas}
			for _, p := range d.Parameters {
				if p.In == "query" {
					o.query = append(o.query, p.Name)
				}
			}
			if d.RequestBody != nil {
				o.body = d.RequestBody.Content["application/json"].Schema
			}
			out = append(out, o)
		}
	}
	// not in the description
	for _, path := range []string{"/api/site-file", "/api/live", "/api/calendars/{name}", "/{page}"} {
		out = append(out, operation{method: http.MethodGet, path: path, query: []string{"site"}})
	}
	if len(out) < 10 {
		return nil, errNoOperations
	}
	return out, nil
}

var (
	texts = []string{
		"",
		"x",
		" ",
		"free",
		"own",
		"as weekday",
		"closed",
		"2026-11-27",
		"2026-02-30",
		"9999-99-99",
		"0001-01-01T00:00",
		"2026-11-27T17:00",
		"9999-12-31T23:59",
		"FREQ=DAILY",
		"FREQ=YEARLY;BYMONTHDAY=31;BYMONTH=2",
		"FREQ=DAILY;COUNT=5000;INTERVAL=1000",
		"FREQ=WEEKLY;UNTIL=99991231T235959Z",
		"PH off",
		"Mo-Fr 08:00-17:00",
		"Mo 22:00-46:00 \"barred\"",
		"BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\nDTSTART:20200101\r\nRRULE:FREQ=DAILY\r\nSUMMARY:x\r\nEND:VEVENT\r\nEND:VCALENDAR",
		"\x00",
		"\xff\xfe",
		"<script>",
		"'; DROP TABLE objects; --",
		"%s%n",
		"../../etc/passwd",
		"America/Halifax",
		"Mars/Olympus",
		"26-bit",
		"raw",
		"active",
		"AK-1007",
		"CA-NS",
		strings.Repeat("a", 5000),
		strings.Repeat("ä", 100),
		"🗝",
		"true",
		"null",
		"1e999",
	}
	numbers = []any{
		0,
		1,
		-1,
		2,
		7,
		100,
		1439,
		1440,
		1441,
		2880,
		2881,
		99999,
		-99999999999,
		int64(1<<63 - 1),
		uint64(1<<64 - 1),
		1e300,
		0.5,
	}
)

func pick[T any](r *rand.Rand, list []T) T { return list[r.IntN(len(list))] }

// bend makes a request of an operation: much of it as described, some of it not.
func bend(r *rand.Rand, o operation) request {
	q := request{method: o.method, path: o.path, kind: "application/json"}
	for strings.Contains(q.path, "{") {
		before, rest, _ := strings.Cut(q.path, "{")
		_, after, _ := strings.Cut(rest, "}")
		q.path = before + segment(r) + after
	}
	var params []string
	for _, name := range o.query {
		if r.IntN(3) > 0 {
			params = append(params, url.QueryEscape(name)+"="+value(r))
		}
	}
	if r.IntN(20) == 0 {
		params = append(params, "%zz=1", value(r)+"="+value(r))
	}
	if len(params) > 0 {
		q.path += "?" + strings.Join(params, "&")
	}
	if o.body != nil {
		q.body = text(r, o.invent(r, o.body, 0))
	}
	switch r.IntN(25) {
	case 0:
		q.body = q.body[:len(q.body)/2]
	case 1:
		q.body = pick(
			r,
			[]string{
				"",
				"null",
				"[]",
				"{}",
				"5",
				`"x"`,
				"{{",
				strings.Repeat("[", 20000),
				strings.Repeat(`{"a":`, 5000),
			},
		)
	case 2:
		q.kind = pick(
			r,
			[]string{
				"",
				"text/plain",
				"application/x-www-form-urlencoded",
				"multipart/form-data; boundary=x",
				"application/cbor",
				"application/json; charset=utf-16",
			},
		)
	case 3:
		q.method = pick(r, []string{"GET", "POST", "PUT", "DELETE", "PATCH", "HEAD", "OPTIONS"})
	}
	return q
}

func segment(r *rand.Rand) string {
	switch r.IntN(3) {
	case 0:
		return strconv.Itoa(r.IntN(220))
	case 1:
		return pick(
			r,
			[]string{
				"AK-1001",
				"AK-1007",
				"AK-1008",
				"CA-NS",
				"DE-BY",
				"holidays.ics",
				"changes.ics",
				"plan-7.ics",
				"schedule-9.ics",
				"0",
				"-1",
			},
		)
	}
	return url.PathEscape(strings.ReplaceAll(pick(r, texts), "/", "."))
}

func value(r *rand.Rand) string {
	switch r.IntN(4) {
	case 0:
		return strconv.Itoa(r.IntN(220))
	case 1:
		return url.QueryEscape(fmt.Sprint(pick(r, numbers)))
	case 2:
		return pick(r, []string{"2026", "2027", "true", "1,2,3", "2026-11-27", "2026-11-27T17%3A00"})
	}
	return url.QueryEscape(pick(r, texts))
}

func text(r *rand.Rand, v any) string {
	b, err := json.Marshal(v)
	if err != nil {
		return "{}"
	}
	if r.IntN(40) == 0 { // twice the same name, and one that is not known
		return strings.Replace(string(b), "{", `{"id":1,"id":2,"nobody":{"knows":[1]},`, 1)
	}
	return string(b)
}

// invent makes a value of a schema, now and then another one.
func (o operation) invent(r *rand.Rand, s *schema, deep int) any {
	if s == nil || deep > 7 {
		return nil
	}
	if s.Ref != "" {
		return o.invent(r, o.schemas[s.Ref[strings.LastIndexByte(s.Ref, '/')+1:]], deep+1)
	}
	if r.IntN(45) == 0 {
		return pick(r, []any{nil, "x", 5, []any{}, map[string]any{}, true})
	}
	if len(s.Enum) > 0 && r.IntN(12) > 0 {
		return pick(r, s.Enum)
	}
	kind, _ := s.Type.(string)
	if list, ok := s.Type.([]any); ok && len(list) > 0 {
		kind, _ = list[0].(string)
	}
	switch kind {
	case "object":
		out := map[string]any{}
		for _, name := range slices.Sorted(maps.Keys(s.Properties)) {
			if r.IntN(25) > 0 {
				out[name] = o.invent(r, s.Properties[name], deep+1)
			}
		}
		return out
	case "array":
		n := r.IntN(4)
		if s.MinItems != nil && r.IntN(8) > 0 {
			n = max(n, *s.MinItems)
		}
		if s.MaxItems != nil && r.IntN(8) > 0 {
			n = min(n, *s.MaxItems)
		}
		out := []any{}
		for range n {
			out = append(out, o.invent(r, s.Items, deep+1))
		}
		return out
	case "integer":
		if r.IntN(2) == 0 {
			return r.IntN(220)
		}
		return pick(r, numbers[:15])
	case "number":
		return pick(r, numbers)
	case "boolean":
		return r.IntN(2) == 0
	}
	return pick(r, texts)
}

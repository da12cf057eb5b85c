package server_test

import (
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// What a body of JSON is bent into.
var (
	bentNumbers = []any{-1, 0, 1, 1439, 1440, 1441, 2880, 99999, -99999999999, int64(1<<63 - 1), 1e300, 0.5, "x", nil,
		true}
	bentWords = []any{"", "x", "9999-99-99", "2026-02-30", "2026-11-27T17:00", "0001-01-01T00:00", "9999-12-31T23:59",
		"2049-12-31", "1969-01-01",
		"FREQ=DAILY;COUNT=5000", "FREQ=YEARLY;BYMONTHDAY=31;BYMONTH=2", "FREQ=MONTHLY;BYDAY=5MO;BYSETPOS=3",
		"FREQ=YEARLY;BYDAY=53SU", "PH off", "Mo 22:00-46:00",
		strings.Repeat("a", 5000), "\x00", "own", "as weekday", "closed", "default mode", "free", "text", "paint", "copy",
		nil, 5}
)

// bend changes up to n things in a body, here and there: numbers, words, lists, and what is there at all.
func bend(r *rand.Rand, v any, n *int) any {
	hit := func(of int) bool {
		if *n == 0 || r.IntN(of) > 0 {
			return false
		}
		*n--
		return true
	}
	switch x := v.(type) {
	case map[string]any:
		out := object{}
		for k, e := range x {
			if !hit(25) {
				out[k] = bend(r, e, n)
			}
		}
		return out
	case []any:
		if hit(12) {
			return []any{nil, []any{}, append(append([]any{}, x...), x...), []any{nil}, "x"}[r.IntN(5)]
		}
		out := []any{}
		for _, e := range x {
			out = append(out, bend(r, e, n))
		}
		return out
	case float64:
		if hit(5) {
			return bentNumbers[r.IntN(len(bentNumbers))]
		}
	case string:
		if hit(4) {
			return bentWords[r.IntN(len(bentWords))]
		}
	}
	return v
}

// However a body is bent, the server takes it or refuses it in words; it never fails.
func TestBentBodies(t *testing.T) {
	c := openAt(t, evening)
	r := rand.New(rand.NewPCG(3, 5))
	type body struct {
		method, path string
		body         any
	}
	var bodies []body
	for _, kind := range []string{"plans", "schedules", "holidays", "holiday-types", "dated-changes", "door-sets", "doors",
		"levels", "people", "floors", "sites"} {
		var page struct{ Items []object }
		c.get("/api/"+kind+"?limit=6", &page)
		require.NotEmpty(t, page.Items, kind)
		for _, doc := range page.Items {
			v := doc["value"].(object)
			bodies = append(bodies, body{"PUT", fmt.Sprintf("/api/%s/%v", kind, v["id"]), doc}, body{"POST", "/api/" + kind, v})
			period, row := object{"start": 1300.0, "end": 1800.0}, object{"day": 2.0, "typeId": 0.0}
			stroke := func(of, do string) body {
				return body{
					"POST",
					"/api/hours/" + of,
					object{
						of:       v,
						"do":     do,
						"rows":   []any{row, object{"day": 0.0, "typeId": c.id("Nobody")}},
						"from":   row,
						"was":    period,
						"period": period,
						"open":   true,
						"segment": object{
							"start": 1300.0,
							"end":   1800.0,
							"mode":  "free",
							"first": true,
						},
						"text":   "Mo-Fr 08:00-17:00; PH off",
						"typeId": c.id("Nobody"),
						"answer": "own",
					},
				}
			}
			for _, do := range []string{"text", "paint", "copy", "answer"} {
				switch kind {
				case "plans":
					bodies = append(bodies, stroke("plan", do))
				case "schedules":
					bodies = append(bodies, stroke("schedule", do))
				}
			}
			switch kind {
			case "plans":
				bodies = append(bodies, body{"POST", "/api/hours/effect", object{"plan": v}})
			case "schedules":
				bodies = append(bodies, body{"POST", "/api/hours/effect", object{"schedule": v}})
			case "holidays":
				bodies = append(bodies, body{"POST", "/api/hours/effect", object{"holiday": v}},
					body{"POST", "/api/holiday-effect", v})
			case "doors":
				bodies = append(bodies, body{"POST", "/api/hours/effect", object{"door": v}})
			case "levels":
				bodies = append(bodies, body{"POST", "/api/hours/effect", object{"level": v}})
			case "holiday-types":
				bodies = append(bodies, body{"POST", "/api/hours/effect", object{"type": v}})
			case "dated-changes":
				parts := object{
					"every":      "month",
					"interval":   1.0,
					"byDay":      []any{object{"n": -1.0, "weekday": 4.0}},
					"byMonthDay": []any{},
					"byMonth":    []any{3.0},
					"bySetPos":   []any{},
					"count":      0.0,
					"until":      "2027-01-01",
				}
				bodies = append(
					bodies,
					body{"POST", "/api/hours/effect", object{"change": v}},
					body{"POST", "/api/dated-changes/preview", object{"change": v, "parts": parts, "week": "2026-11-23"}},
				)
			}
		}
	}
	day := object{"date": "2027-03-04", "name": "X", "substitute": false, "start": 0.0, "end": 1440.0,
		"typeId": c.id("Nobody")}
	bodies = append(bodies, body{"POST", "/api/holidays/load", object{"siteIds": []any{}, "days": []any{day}}})
	taken := map[int]int{}
	for i := range 3000 {
		b := bodies[i%len(bodies)]
		var v any // as JSON has it
		text, err := json.Marshal(b.body)
		require.NoError(t, err)
		require.NoError(t, json.Unmarshal(text, &v))
		n := r.IntN(3)
		text, err = json.Marshal(bend(r, v, &n))
		require.NoError(t, err)
		status, says := c.call(b.method, b.path, string(text))
		taken[status]++
		require.Less(t, status, 500, "%s %s %s\n%s", b.method, b.path, text, says)
		if status >= 400 {
			assert.Regexp(t, `"(detail|title)":"[^"]+"`, says)
		}
	}
	assert.Greater(t, taken[200], 200, "some are taken as they are: %v", taken)
	assert.Greater(t, taken[422], 300, "and many are not: %v", taken)
}

package sitefile_test

import (
	"encoding/json"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amberkeystone/demo"
	"amberkeystone/formats/sitefile"
)

// spoil calls f with the document once for each way in which one value of it is spoiled. Of like values in like
// places only the first is.
func spoil(doc any, f func()) {
	seen := map[string]int{}
	var walk func(at string, v any, put func(any))
	walk = func(at string, v any, put func(any)) {
		if seen[at]++; seen[at] > 1 {
			return
		}
		try := func(values ...any) {
			for _, x := range values {
				put(x)
				f()
			}
			put(v)
		}
		switch v := v.(type) {
		case float64:
			try(-7.0, 0.0, 17.0, 99999.0, 1.5, 1e300, "x", []any{})
		case string:
			try("", "zz", strings.Repeat("long ", 60), "a\tb", 5.0, map[string]any{})
		case bool:
			try(!v, "x")
		case []any:
			try([]any{}, "x", nil)
			for i, x := range v {
				try(append(append([]any{}, v...), x))
				walk(at+"[]", x, func(x any) { v[i] = x })
			}
		case map[string]any:
			try("x", nil)
			for k, x := range v {
				delete(v, k)
				f()
				v[k] = x
				walk(at+"."+k, x, func(x any) { v[k] = x })
			}
		}
	}
	walk("", doc, func(any) {})
}

// of is the list of the file that somebody is in, by the words that say who it is; of what is said at a path.
var of = map[string]string{
	"settings": "settings", "site": "sites", "floor": "sites", "controller": "controllers", "schedule": "schedules",
	"plan": "plans", "holiday type": "holidayTypes", "holiday": "holidays", "supply": "supplies", "door": "doors",
	"input": "inputs", "output": "outputs", "facility": "facilities", "door set": "doorSets",
	"dated change": "datedChanges",
	"level":        "levels", "department": "departments", "person": "people", "free": "freeCards", "interlock": "interlocks",
	"area": "areas", "group": "groups", "several proofs": "severalProofs", "screening": "screenings",
	"emergency": "emergencies", "alarm area": "alarmAreas", "reaction": "reactions",
}

var said = regexp.MustCompile(`, ([a-z][A-Za-z]*(?:\[\d+\])?(?:\.[A-Za-z]+(?:\[\d+\])?)*): `)

// listOf is the list whose words a line begins with; the longest, as door set before door.
func listOf(line string) (list string) {
	long := 0
	for words, l := range of {
		if strings.HasPrefix(line, words) && len(words) > long {
			list, long = l, len(words)
		}
	}
	return list
}

// shaped matches what is said of values that have another shape than the schema wants, as doors[3] (Gate), port: …
var shaped = regexp.MustCompile(`^([a-zA-Z]+)[\[.:]`)

// described reports whether the schema of a list knows a path, as opens[2].schedule.
func described(t *testing.T, kinds map[string]any, list, path string) bool {
	node, _ := kinds[list].(map[string]any)
	if items, ok := node["items"].(map[string]any); ok {
		node = items
	}
	for part := range strings.SplitSeq(path, ".") {
		name, index, many := strings.Cut(part, "[")
		props, _ := node["properties"].(map[string]any)
		next, ok := props[name].(map[string]any)
		if !ok {
			return false
		}
		if many {
			_, err := strconv.Atoi(strings.TrimSuffix(index, "]"))
			require.NoError(t, err)
			next, _ = next["items"].(map[string]any)
		}
		node = next
	}
	return node != nil
}

// Whatever is wrong in a file is said at the name that the file has for it.
func TestFaultsNameFieldsOfTheFile(t *testing.T) {
	var doc, schema any
	require.NoError(t, json.Unmarshal(demo.Site, &doc))
	require.NoError(t, json.Unmarshal(sitefile.Schema, &schema))
	kinds := schema.(map[string]any)["properties"].(map[string]any)
	// What follows a comma in names of the demo, and what was written in place of names.
	inNames := map[string]bool{"collections": true, "fire": true, "north": true, "shop": true, "south": true, "zz": true}
	faults, odd := 0, map[string]string{}
	spoil(doc, func() {
		b, err := json.Marshal(doc)
		require.NoError(t, err)
		_, err = sitefile.Parse(b, key)
		if err == nil {
			return
		}
		assert.NotContains(t, err.Error(), "site file", "it has a place")
		for line := range strings.Lines(err.Error()) {
			if m := shaped.FindStringSubmatch(line); m != nil && kinds[m[1]] != nil {
				continue
			}
			m := said.FindStringSubmatch(line)
			if m == nil || inNames[m[1]] {
				continue
			}
			faults++
			path := m[1]
			if strings.HasPrefix(line, "floor ") {
				path = "floors[0]." + path
			}
			if !described(t, kinds, listOf(line), path) {
				odd[listOf(line)+" "+regexp.MustCompile(`\d+`).ReplaceAllString(m[1], "0")] = line
			}
		}
	})
	assert.Empty(t, odd)
	assert.Greater(t, faults, 100)
}

// Package publicholidays is the public holidays of about 600 countries and regions, as data that ships with
// the application. The data is a file of its own, made by export.mjs from the npm package date-holidays; its
// attribution and licence (CC BY-SA 3.0) stand in LICENSE.md beside it.
package publicholidays

import (
	"bytes"
	"cmp"
	"compress/gzip"
	_ "embed"
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"sync"
)

//go:embed regions.json.gz
var packed []byte

// Region is a country, or a part of one.
type Region struct {
	Code string `json:"code" doc:"Such as CA-NS"`
	Name string `json:"name" doc:"Such as Canada, Nova Scotia"`
}

// Day is a public holiday on a date.
type Day struct {
	Date       string `json:"date" doc:"2006-01-02"`
	Name       string `json:"name"`
	Substitute bool   `json:"substitute" doc:"A day off in place of a holiday on another date"`
}

type file struct {
	MadeWith string `json:"madeWith"`
	First    int    `json:"first"`
	Last     int    `json:"last"`
	Regions  []struct {
		Region
		Days []string `json:"days"`
	} `json:"regions"`
}

var load = sync.OnceValue(func() file {
	var f file
	z, err := gzip.NewReader(bytes.NewReader(packed))
	if err == nil {
		err = json.NewDecoder(z).Decode(&f)
	}
	if err != nil { // the file is part of the binary, and a test reads all of it
		panic("publicholidays: " + err.Error())
	}
	return f
})

// Years returns the first and the last year that the data covers, and what it was made with.
func Years() (first, last int, madeWith string) {
	f := load()
	return f.First, f.Last, f.MadeWith
}

// Find returns the regions whose code or name has all the words of a search, in the order of their names;
// names that begin with it come first.
func Find(search string) []Region {
	words := strings.Fields(strings.ToLower(search))
	var out []Region
	for _, r := range load().Regions {
		text := strings.ToLower(r.Name + " " + r.Code)
		if !slices.ContainsFunc(words, func(w string) bool { return !strings.Contains(text, w) }) {
			out = append(out, r.Region)
		}
	}
	lower := strings.ToLower(strings.TrimSpace(search))
	first := func(r Region) bool {
		return strings.EqualFold(r.Code, lower) || strings.HasPrefix(strings.ToLower(r.Name), lower)
	}
	slices.SortStableFunc(out, func(a, b Region) int {
		if first(a) != first(b) {
			return map[bool]int{true: -1, false: 1}[first(a)]
		}
		return cmp.Compare(a.Name, b.Name)
	})
	return out
}

// Days returns the public holidays of a region from the start of one year through the end of another.
func Days(code string, from, to int) (Region, []Day, error) {
	f := load()
	if from < f.First || to > f.Last || from > to {
		return Region{}, nil, fmt.Errorf("the data covers %d to %d", f.First, f.Last)
	}
	for _, r := range f.Regions {
		if r.Code != code {
			continue
		}
		var out []Day
		low, high := fmt.Sprint(from), fmt.Sprint(to)
		for _, s := range r.Days {
			if s[:4] >= low && s[:4] <= high {
				out = append(out, Day{Date: s[:10], Substitute: s[10] == '*', Name: s[11:]})
			}
		}
		return r.Region, out, nil
	}
	return Region{}, nil, fmt.Errorf("there is no region %q", code)
}

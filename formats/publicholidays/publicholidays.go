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
	"unicode"

	"golang.org/x/text/runes"
	"golang.org/x/text/transform"
	"golang.org/x/text/unicode/norm"
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

// also are other names by which people look for a region and for what is in it (from memory).
var also = map[string]string{
	"AE": "UAE Emirates", "AT": "Oesterreich", "BE-BRU": "Brussels", "BE-DE": "German-speaking Community",
	"BE-VLG": "Flanders", "BE-WAL": "Wallonia French Community",
	"CH": "Schweiz Suisse Svizzera", "CI": "Ivory Coast", "CV": "Cabo Verde", "CZ": "Czechia", "DE": "Deutschland",
	"DE-BY": "Bavaria", "DE-HE": "Hesse",
	"DE-MV": "Mecklenburg-Western Pomerania", "DE-NI": "Lower Saxony", "DE-NW": "North Rhine-Westphalia",
	"DE-RP": "Rhineland-Palatinate", "DE-SN": "Saxony",
	"DE-ST": "Saxony-Anhalt", "DE-TH": "Thuringia", "ES": "España", "ES-AN": "Andalusia", "ES-NC": "Navarre",
	"FR-57": "Alsace-Moselle", "FR-67": "Alsace-Moselle Lower Rhine",
	"FR-68": "Alsace-Moselle Upper Rhine", "GB": "UK Great Britain", "IT": "Italy", "IT-32": "South Tyrol",
	"MK": "North Macedonia", "NL": "Holland Nederland", "SZ": "Eswatini",
	"TR": "Türkiye", "US": "USA",
}

// fold drops what a search should not depend on: case and accents.
func fold(s string) string {
	out, _, err := transform.String(transform.Chain(norm.NFD, runes.Remove(runes.In(unicode.Mn)), norm.NFC), s)
	if err != nil {
		out = s
	}
	return strings.ToLower(out)
}

// texts are what is searched of each region.
var texts = sync.OnceValue(func() []string {
	var out []string
	for _, r := range load().Regions {
		text := r.Name + " " + r.Code
		for code := r.Code; code != ""; { // what a part is in has other names too
			text += " " + also[code]
			code = code[:max(0, strings.LastIndex(code, "-"))]
		}
		out = append(out, fold(text))
	}
	return out
})

// Find returns the regions whose code or name has all the words of a search, in the order of their names;
// names that begin with it come first. Accents and case do not matter.
func Find(search string) []Region {
	lower := fold(strings.TrimSpace(search))
	words := strings.Fields(lower)
	var begins, others []Region
	for i, r := range load().Regions {
		text := texts()[i]
		switch {
		case slices.ContainsFunc(words, func(w string) bool { return !strings.Contains(text, w) }):
		case strings.HasPrefix(text, lower) || strings.EqualFold(r.Code, lower):
			begins = append(begins, r.Region)
		default:
			others = append(others, r.Region)
		}
	}
	for _, list := range [][]Region{begins, others} {
		slices.SortStableFunc(list, func(a, b Region) int { return cmp.Compare(a.Name, b.Name) })
	}
	return append(begins, others...)
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

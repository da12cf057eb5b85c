package e2e

import (
	"encoding/json"
	"fmt"
	"os"
	"strings"
	"testing"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amberkeystone/e2e/browser"
)

// axe puts the checks of axe-core (deque) for WCAG 2.2 A and AA into the page and returns what it finds.
func (w *world) axe() []string {
	source, err := os.ReadFile("../web/node_modules/axe-core/axe.min.js")
	require.NoError(w.t, err, "the packages of the pages; make web")
	_, err = proto.RuntimeEvaluate{Expression: string(source)}.Call(w.Page)
	require.NoError(w.t, err)
	v, err := w.Eval(`async () => {
		const r = await axe.run(document, { runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'] })
		return JSON.stringify(r.violations.flatMap(v => v.nodes.slice(0, 3).map(n => v.id + ': ' + n.html.slice(0, 160) + ' — ' + n.failureSummary.split('\n').slice(1, 3).join(' ').trim())))
	}`)
	require.NoError(w.t, err)
	var out []string
	require.NoError(w.t, json.Unmarshal([]byte(v.Value.Str()), &out))
	return out
}

// views are the pages of the museum, each with words that are there when it is whole.
var views = []struct{ path, words string }{
	{"/build", "Found on the network"},
	{"/build/doors", "24 in all"},
	{"/build/terminals", "terminals are in use"},
	{"/build/terminals?at=i7", "I7 contact of Cloakroom"},
	{"/build/formats?bits=1010101010", "10 bits fit no format"},
	{"/build/power", "Boathouse lock supply"},
	{"/build/schedule", "without power it"},
	{"/build/findings", "Risky"},
	{"/build/first", "Controllers that answer"},
	{"/build/sites/%site", "times as"},
	{"/build/controllers/%controller", "one to a port"},
	{"/build/doors/%door", "Who can come in"},
	{"/build/doors/%elevator", "The shaft"},
	{"/build/elevators/new", "Make the elevator"},
	{"/build/doors/new", "fields change the drawing"},
	{"/hours", "Public galleries"},
	{"/hours?what=schedules", "Always"},
	{"/hours/doors/%door", "What decides"},
	{"/hours/plans/%plan", "Hours a week"},
	{"/hours/schedules/%schedule", "Hours a week"},
	{"/hours/holidays", "Founders’ Day"},
	{"/hours/holidays/load", "before anything is added"},
	{"/hours/holidays/new", "It lasts"},
	{"/hours/types/new", "What plans do"},
	{"/hours/changes", "Lantern evening"},
	{"/hours/changes/new", "The doors are"},
	{"/hours/findings", "Risky"},
	{"/people", "60 in all"},
	{"/people/%person", "What they carry"},
	{"/people/new", "No card."},
	{"/people/levels", "Gallery staff"},
	{"/people/levels/%level", "Whole places"},
	{"/people/levels/new", "a new level is empty"},
	{"/people/departments", "Gallery staff"},
	{"/people/departments/%department", "Department of"},
	{"/people/cards", "Present cards"},
	{"/people/coming", "Xenia Pell"},
	{"/people/import", "Choose a file"},
	{"/people/compare", "Compare"},
	{"/people/findings", "Untidy"},
	{"/rules", "Two at the vault"},
	{"/rules/areas", "Staff side"},
	{"/rules/areas/new", "How many are inside"},
	{"/rules/areas/%area", "is refused"},
	{"/rules/screening", "At the desk"},
	{"/rules/screening/new", "Who is screened"},
	{"/rules/screening/%screening", "must be cleared"},
	{"/rules/emergencies", "Hold to start Main house shut"},
	{"/rules/emergencies/new", "Rehearsal"},
	{"/rules/emergencies/%emergency", "as if it began now"},
	{"/rules/reactions", "Mailbox and recordings"},
	{"/rules/reactions/new", "What would have followed"},
	{"/rules/reactions/%reaction", "What would have followed"},
	{"/rules/alarm-areas", "Nothing stands open"},
	{"/rules/alarm-areas/new", "Arming and disarming"},
	{"/rules/alarm-areas/%watched", "Arming and disarming"},
	{"/rules/hand", "Held now"},
	{"/rules/keypads", "Digits of a PIN"},
	{"/rules/findings", "Two at the vault"},
	{"/rules/doors/%door", "Not in use here"},
	{"/rules/proofs/%proof", "one from Registrars"},
	{"/rules/proofs/new", "What is wanted"},
	{"/rules/interlocks/%interlock", "closed and locked"},
	{"/rules/interlocks/new", "Choose at least two doors"},
	{"/rules/groups/%group", "Departments"},
	{"/send", "How it is sent"},
	{"/send/sent", "verified"},
	{"/prove/matrix", "60 people in"},
	{"/prove/rights", "24 doors"},
	{"/prove", "Two of person, door and time"},
	{"/prove/%elevator", "Stands at"},
	{"/prove/%door", "Touch the drawing"},
	{"/watch", "without openings"},
	{"/history", "taken into service"},
	{"/nowhere", "There is nothing at this address"},
}

// numbered puts the numbers of the museum into a path.
func (w *world) numbered(path string) string {
	for mark, kind := range map[string]string{
		"%controller": "controllers", "%door": "doors", "%lecture": "doors?q=Lecture room", "%plan": "plans",
		"%schedule": "schedules", "%person": "people", "%level": "levels", "%site": "sites", "%department": "departments",
		"%proof": "proofs", "%interlock": "interlocks", "%group": "groups", "%area": "areas", "%screening": "screenings",
		"%emergency": "emergencies", "%reaction": "reactions", "%watched": "alarm-areas",
		"%elevator": "doors?q=Front elevator",
	} {
		if !strings.Contains(path, mark) {
			continue
		}
		v, err := w.Eval(`k => fetch('/api/' + k + (k.includes('?') ? '&' : '?') + 'limit=5').then(r => r.json()).then(p => p.items.at(-1).value.id)`, kind)
		require.NoError(w.t, err)
		path = strings.ReplaceAll(path, mark, fmt.Sprint(v.Value.Int()))
	}
	return path
}

// No view breaks what axe can check of WCAG 2.2 AA, at the design size and at the smallest; every page has a title of
// its own and a heading.
func TestEveryViewIsForEverybody(t *testing.T) {
	w := newMuseum(t)
	titles := map[string]string{}
	for _, width := range []int{1280, 1024} {
		require.NoError(t, w.SetViewport(&proto.EmulationSetDeviceMetricsOverride{
			Width: width, Height: 800, DeviceScaleFactor: 1,
		}))
		for _, v := range views {
			w.step(fmt.Sprintf("%s at %d", v.path, width), func() {
				w.Go(w.numbered(v.path))
				w.See(v.words)
				for _, found := range w.axe() {
					t.Errorf("%s at %d: %s", v.path, width, found)
				}
				said, err := w.Eval(`() => [document.title, document.querySelectorAll('h1').length, document.documentElement.scrollWidth > innerWidth].join('|')`)
				require.NoError(t, err)
				parts := strings.Split(said.Value.Str(), "|")
				require.Equal(t, "1", parts[1], "headings of %s", v.path)
				require.Equal(t, "false", parts[2], "%s at %d scrolls sideways", v.path, width)
				require.True(t, strings.HasSuffix(parts[0], " · Amber Keystone"), "title of %s: %s", v.path, parts[0])
				titles[parts[0]] = v.path
			})
		}
	}
	require.Greater(t, len(titles), 20)
	w.step("at twice the size nothing scrolls sideways", func() {
		require.NoError(t, w.SetViewport(&proto.EmulationSetDeviceMetricsOverride{
			Width: 640, Height: 400, DeviceScaleFactor: 2,
		}))
		for _, v := range views {
			w.Go(w.numbered(v.path))
			w.See(v.words)
			said, err := w.Eval(`() => document.documentElement.scrollWidth > innerWidth`)
			require.NoError(t, err)
			assert.False(t, said.Value.Bool(), v.path)
		}
		require.NoError(t, w.SetViewport(&proto.EmulationSetDeviceMetricsOverride{
			Width: 1280, Height: 800, DeviceScaleFactor: 1,
		}))
	})
	w.step("what is painted shows in forced colours", func() {
		forced := proto.EmulationSetEmulatedMedia{
			Features: []*proto.EmulationMediaFeature{{Name: "forced-colors", Value: "active"}},
		}
		require.NoError(t, forced.Call(w.Page))
		w.Go(w.numbered("/hours/plans/%plan"))
		w.See("Hours a week")
		require.NoError(t, w.Timeout(browser.Patience).Wait(rod.Eval(`() => [...document.querySelectorAll('[data-day]')].length >= 7 &&
			[...document.querySelectorAll('[data-day], [data-day] > div')].every(e => !/mode-/.test(e.className) || getComputedStyle(e).forcedColorAdjust === 'none')`)))
		require.NoError(t, proto.EmulationSetEmulatedMedia{}.Call(w.Page))
	})
	w.step("after going elsewhere the heading has the focus, and Tab comes to the content soon", func() {
		w.Go("/build")
		w.See("In service")
		w.Station("5 Send")
		w.See("How it is sent")
		require.NoError(t, w.Timeout(browser.Patience).Wait(rod.Eval(`() => document.activeElement?.id === 'page-title'`)))
		stops := w.number(`() => [...document.querySelectorAll('a[href], button, input, select, textarea, [tabindex="0"]')]
			.filter(e => e.tabIndex >= 0 && e.offsetParent && document.querySelector('main').compareDocumentPosition(e) & Node.DOCUMENT_POSITION_PRECEDING).length`)
		t.Logf("%.0f Tab stops before the content", stops)
		assert.LessOrEqual(t, stops, 16.0)
	})
	for name, open := range map[string]func(){
		"the keys": func() { w.Go("/people"); w.See("60 in all"); w.Type('?'); w.See("These keys") },
		"a question": func() {
			w.Go(w.numbered("/people/%person"))
			w.See("What they carry")
			w.Press("Remove")
			w.See("Their cards open nothing")
		},
		"the account": func() { w.Go("/people"); w.See("60 in all"); w.Press("Keeper"); w.See("Where you are signed in") },
		"a peek": func() {
			w.Go(w.numbered("/hours/doors/%lecture"))
			w.See("What decides")
			w.Press("Card at all hours")
			w.See("Open it")
		},
		"a list": func() {
			w.Go("/prove")
			w.See("Two of person, door and time")
			w.Press("Show Where")
			w.See("Quay entrance")
		},
		"the calendar": func() {
			w.Go("/hours/changes/new")
			w.See("The doors are")
			w.Press("Pick: From date")
			w.See("November 2026")
		},
	} {
		w.step(name, func() {
			open()
			for _, found := range w.axe() {
				t.Errorf("%s: %s", name, found)
			}
		})
	}
}

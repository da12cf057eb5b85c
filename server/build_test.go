package server_test

import (
	"encoding/csv"
	"encoding/json"
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func (c *client) want(status int, says, method, path, body string) string {
	c.t.Helper()
	got, text := c.call(method, path, body)
	assert.Equal(c.t, status, got, "%s %s %s: %s", method, path, body, text)
	assert.Contains(c.t, text, says, "%s %s %s", method, path, body)
	return text
}

type terminal struct {
	At, State, Words, Measures string
	Use                        *struct{ Role, Name string }
}

// terminal reads one of a controller, once it says what is looked for.
func (c *client) terminal(controller int64, at, words string) (out terminal) {
	c.t.Helper()
	require.Eventually(c.t, func() bool {
		var x struct {
			Boards []struct{ Terminals []terminal }
		}
		c.get(fmt.Sprintf("/api/controllers/%d/terminals", controller), &x)
		for _, b := range x.Boards {
			for _, t := range b.Terminals {
				if t.At == at {
					out = t
				}
			}
		}
		return out.Words == words
	}, 20*time.Second, 20*time.Millisecond, "%s says %q", at, words)
	return out
}

// What is on a terminal, moved and taken off, with what has to be done at the place; never twice, never where none is.
func TestTerminalsMoved(t *testing.T) {
	c := open(t)
	riser, cloakroom := c.id("North riser"), c.id("Cloakroom")
	x := c.terminal(riser, "i7", "closed")
	assert.Equal(t, "1 kΩ", x.Measures)
	assert.Equal(t, "contact", x.Use.Role)
	hand := fmt.Sprintf("/api/controllers/%d/hand", riser)
	c.want(204, "", "POST", hand, `{"do":"cut","at":"i7"}`)
	assert.Equal(t, "fault", c.terminal(riser, "i7", "cut").State)
	c.want(204, "", "POST", hand, `{"do":"mend","at":"i7"}`)
	c.terminal(riser, "i7", "closed")

	move := func(role, to string) string {
		return fmt.Sprintf(`{"kind":"door","id":%d,"role":%q,"to":%q}`, cloakroom, role, to)
	}
	c.want(200, "Move the wires of the contact of Cloakroom from i7 to i10. Then send.", "POST", "/api/terminals/move",
		move("contact", "i10"))
	c.want(422, "is the exit request of Cloakroom already", "POST", "/api/terminals/move", move("contact", "i8"))
	c.want(422, "North riser has no terminal i99", "POST", "/api/terminals/move", move("contact", "i99"))
	c.want(422, "another kind", "POST", "/api/terminals/move", move("lock", "i10"))
	c.want(422, "is no terminal", "POST", "/api/terminals/move", move("lock", "x1"))
	c.want(200, "It is off", "POST", "/api/terminals/take-off",
		fmt.Sprintf(`{"kind":"door","id":%d,"role":"contact"}`, cloakroom))
	c.want(422, "always has its lock", "POST", "/api/terminals/take-off",
		fmt.Sprintf(`{"kind":"door","id":%d,"role":"lock"}`, cloakroom))
	c.want(200, `"contact":"none"`, "GET", "/api/hardware-schedule", "")

	body := fmt.Sprintf(`{"id":0,"name":"Window","controllerId":%d,"at":"i10","use":"sense","contact":"no","doorIds":[]}`,
		riser)
	c.want(200, "Window", "POST", "/api/inputs", body)
	c.want(422, "is the input of Window already", "POST", "/api/inputs", strings.Replace(body, "Window", "Another", 1))
	c.want(422, "an input is on an input terminal", "POST", "/api/inputs", strings.Replace(body, "i10", "o1", 1))
	c.want(204, "", "POST", fmt.Sprintf("/api/controllers/%d/try", riser), `{"at":"o5"}`)
	c.terminal(riser, "o5", "on")
	c.want(409, "North riser refuses: AK-1001 has no terminal o99 for that", "POST",
		fmt.Sprintf("/api/controllers/%d/try", riser), `{"at":"o99"}`)
	c.want(204, "", "POST", fmt.Sprintf("/api/controllers/%d/reader-power", riser), `{"at":"r1"}`)
	c.terminal(riser, "r1", "no power")
	c.want(204, "", "POST", fmt.Sprintf("/api/controllers/%d/reader-power", riser), `{"at":"r1","on":true}`)
	c.terminal(riser, "r1", "answers")
}

// A fire release that an input began ends on purpose, and not while the input is active.
func TestFireReleaseEnds(t *testing.T) {
	c := open(t)
	riser := c.id("South riser")
	hand, end := fmt.Sprintf("/api/controllers/%d/hand", riser), fmt.Sprintf("/api/controllers/%d/end", riser)
	c.want(204, "", "POST", hand, `{"do":"open","at":"i9"}`)
	c.terminal(riser, "i9", "active")
	c.terminal(riser, "o4", "released")
	c.want(422, "Fire panel, south is still active", "POST", end, `{"what":"fire"}`)
	c.want(204, "", "POST", hand, `{"do":"close","at":"i9"}`)
	c.terminal(riser, "i9", "at rest")
	c.terminal(riser, "o4", "released")
	c.want(204, "", "POST", end, `{"what":"fire"}`)
	c.terminal(riser, "o4", "held")
}

// Who answers at an address is asked; what is no controller says so; addresses are refused by their field.
func TestFindAndAddress(t *testing.T) {
	c := open(t)
	find := func(at string) string { return fmt.Sprintf(`{"at":%q}`, at) }
	text := c.want(200, `"serial":"AK-1007"`, "POST", "/api/find-controllers", find("1007"))
	var list []struct{ Address, State, Holds string }
	require.NoError(t, json.Unmarshal([]byte(text), &list))
	require.Len(t, list, 1)
	assert.Equal(t, "nothing", list[0].Holds)
	c.want(200, `"serial":"AK-1007"`, "POST", "/api/find-controllers", find(list[0].Address))
	c.want(422, "write it in numbers", "POST", "/api/find-controllers", find("north-riser"))
	c.want(404, "Nobody answers at 127.0.0.9:1", "POST", "/api/find-controllers", find("127.0.0.9:1"))
	c.want(404, "is no controller of this kind", "POST", "/api/find-controllers",
		find(strings.TrimPrefix(c.url, "http://")))

	riser := c.id("North riser")
	at := fmt.Sprintf("/api/controllers/%d/address", riser)
	for address, says := range map[string]string{
		"127.30.0.0/24": "the subnet", "127.30.0.255/24": "broadcast", "127.0.0.1/8": "own address",
		"nowhere": "no address with a prefix",
	} {
		text := c.want(422, says, "PUT", at, fmt.Sprintf(`{"fixed":true,"address":%q}`, address))
		assert.Contains(t, text, `"location":"network.address"`)
	}
	c.want(200, "North riser is at 127.30.0.40 now", "PUT", at, `{"fixed":true,"address":"127.30.0.40/24","vlan":7}`)
	require.Eventually(t, func() bool {
		var units []struct {
			Name, Address string
			Online        bool
		}
		c.get("/api/units", &units)
		for _, u := range units {
			if u.Name == "North riser" {
				return u.Online && strings.HasPrefix(u.Address, "127.30.0.40:")
			}
		}
		return false
	}, 20*time.Second, 20*time.Millisecond)
	c.want(422, "is the address of North riser already", "PUT",
		fmt.Sprintf("/api/controllers/%d/address", c.id("South riser")), `{"fixed":true,"address":"127.30.0.40/24"}`)
	c.want(200, "127.20.0.31/24", "GET", at, "")
}

// Several doors are changed in one step, all or none, shown before and put back after.
func TestDoorsTogether(t *testing.T) {
	c := open(t)
	workshop, sail := c.id("Workshop"), c.id("Sail loft")
	ask := func(set string, really bool) string {
		return fmt.Sprintf(`{"ids":[%d,%d],"set":%s,"really":%t}`, workshop, sail, set, really)
	}
	c.want(200, "Held open after 60 s → 90 s", "POST", "/api/doors-together", ask(`{"heldOpen":90}`, false))
	c.want(200, `"wrong":"4 is outside 5 to 3600 seconds"`, "POST", "/api/doors-together", ask(`{"heldOpen":4}`, false))
	c.want(422, "Workshop: 4 is outside 5 to 3600 seconds", "POST", "/api/doors-together", ask(`{"heldOpen":4}`, true))
	c.want(422, "there already is a door named Twin", "POST", "/api/doors-together", ask(`{"names":"Twin"}`, true))
	text := c.want(200, `"done":true`, "POST", "/api/doors-together", ask(`{"heldOpen":90,"names":"Boat {p}"}`, true))
	var done struct{ Was json.RawMessage }
	require.NoError(t, json.Unmarshal([]byte(text), &done))
	c.want(200, `"name":"Boat 2"`, "GET", fmt.Sprintf("/api/doors/%d", workshop), "")
	back := fmt.Sprintf(`{"doors":%s}`, done.Was)
	c.want(204, "", "PUT", "/api/doors-together", back)
	c.want(200, `"name":"Workshop"`, "GET", fmt.Sprintf("/api/doors/%d", workshop), "")
	c.want(409, "has been changed by", "PUT", "/api/doors-together", back)
	c.want(422, "does not exist", "POST", "/api/doors-together", `{"ids":[1],"set":{}}`)
}

// A read is explained by every format; one of the installation's own is refused where it cannot be, and kept while
// cards are of it.
func TestFormats(t *testing.T) {
	c := open(t)
	c.want(200, "12 bits fit no format of this reader (26-bit)", "POST", "/api/decode", `{"bits":"101010101010"}`)
	c.want(422, "position 2", "POST", "/api/decode", `{"bits":"1x"}`)
	settings := func(rev int, formats string) string {
		return fmt.Sprintf(`{"rev":%d,"value":{"name":"M","cards":[{"format":"26-bit","facilities":[42]}],"formats":%s,"pinLength":4,"pinTries":5,"pinLock":5,"cardWithPin":10}}`, rev, formats)
	}
	own := `[{"name":"Own","bits":35,"facility":{"first":2,"bits":11},"number":{"first":13,"bits":22},"parity":[{"bit":1,"over":"2-18"}]}]`
	text := c.want(422, "bit 13 is in the facility code already", "PUT", "/api/settings",
		settings(1, strings.Replace(own, `"bits":11`, `"bits":12`, 1)))
	assert.Contains(t, text, "formats[0].number")
	c.want(200, `"rev":2`, "PUT", "/api/settings", settings(1, own))
	c.want(200, `"name":"Own"`, "GET", "/api/settings", "")
	card := `{"id":0,"name":"Wren","departmentIds":[],"suspended":false,"extendedTime":false,"alwaysPin":false,"levels":[],"credentials":[{"kind":"card","format":%q,"value":%q,"status":"active"}]}`
	c.want(422, "there is no card format", "POST", "/api/people", fmt.Sprintf(card, "Gone", "1-2"))
	c.want(422, "more than 2047", "POST", "/api/people", fmt.Sprintf(card, "Own", "2048-2"))
	c.want(200, "7-00002", "POST", "/api/people", fmt.Sprintf(card, "Own", "7-2"))
	c.want(422, "Own is the format of a card of Wren", "PUT", "/api/settings", settings(2, "[]"))
}

// The hardware schedule for a spreadsheet has a row for each door, and no cell that a spreadsheet takes for a formula.
func TestHardwareCSV(t *testing.T) {
	c := open(t)
	d := c.id("Workshop")
	text := c.want(200, "Workshop", "GET", fmt.Sprintf("/api/doors/%d", d), "")
	text = strings.Replace(text, `"name":"Workshop"`, `"name":"=Workshop"`, 1)
	c.want(200, "", "PUT", fmt.Sprintf("/api/doors/%d", d), text)
	rows, err := csv.NewReader(strings.NewReader(c.want(200, "", "GET", "/api/hardware-schedule.csv", ""))).ReadAll()
	require.NoError(t, err)
	assert.Len(t, rows, 25)
	found := false
	for _, r := range rows {
		assert.Len(t, r, len(rows[0]))
		found = found || r[0] == "'=Workshop"
	}
	assert.True(t, found)
}

// The state of all controllers, and what a self-test says: mains, wires, and a verdict line by line.
func TestKeepAndSelfTest(t *testing.T) {
	c := open(t)
	riser := c.id("North riser")
	c.want(204, "", "POST", fmt.Sprintf("/api/controllers/%d/hand", riser), `{"do":"mains"}`)
	require.Eventually(t, func() bool {
		_, text := c.call("GET", "/api/keep", "")
		return strings.Contains(text, "North riser is on its battery")
	}, 20*time.Second, 20*time.Millisecond)
	c.want(200, "it is on its battery", "POST", fmt.Sprintf("/api/controllers/%d/self-test", riser), "")
	var d struct{ Value json.RawMessage }
	c.get(fmt.Sprintf("/api/doors/%d", c.id("Tide hall")), &d)
	c.want(200, "QR passes need 1.2; North riser has 1.0", "POST", "/api/door-course", string(d.Value))
	c.want(200, "6 clocks are set", "POST", "/api/set-clocks", `{"ids":[]}`)
	c.want(204, "", "POST", fmt.Sprintf("/api/controllers/%d/restart", riser), "")
	c.want(409, "there is no release 9", "POST", fmt.Sprintf("/api/controllers/%d/update", c.id("South riser")),
		`{"version":"9"}`)
	c.want(200, "12 V − 0.50 A · 2 · 60 m", "GET", "/api/power", "")
}

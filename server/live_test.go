package server_test

import (
	"context"
	"encoding/json"
	"fmt"
	"testing"
	"time"

	"github.com/coder/websocket"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// heard is a notice as a screen reads it.
type heard struct {
	Type    string
	Changes []struct {
		Kind string
		ID   int64
		Rev  int64
	}
	State *struct {
		Seq   int64
		Doors []struct {
			ID      int64
			Name    string
			Mode    string
			Offline bool
		}
	}
}

// put writes over what is stored.
func (c *client) put(path string, rev int64, value object) (int, string) {
	body, err := json.Marshal(object{"rev": rev, "value": value})
	require.NoError(c.t, err)
	return c.call("PUT", path, string(body))
}

// await reads notices until one is wanted; the others are let pass.
func (c *client) await(conn *websocket.Conn, wanted func(heard) bool) heard {
	ctx, stop := context.WithTimeout(context.Background(), 20*time.Second)
	defer stop()
	for {
		_, text, err := conn.Read(ctx)
		require.NoError(c.t, err, "no such notice came")
		var n heard
		require.NoError(c.t, json.Unmarshal(text, &n))
		if wanted(n) {
			return n
		}
	}
}

// A save is told to every screen by kind, number and revision; what a door asks once it is sent comes as a patch with
// a number higher than the overview's, and holds that door alone.
func TestScreensHearWhatChanged(t *testing.T) {
	c := openAt(t, evening)
	conn := c.socket()
	c.await(conn, func(n heard) bool { return n.Type == "hello" })
	var o struct{ Seq int64 }
	c.get("/api/overview", &o)

	id := c.id("Tide hall")
	rev, door := c.read("doors", "Tide hall")
	var plan struct {
		Items []struct{ Value struct{ ID int64 } }
	}
	c.get("/api/plans?q=Museum+shop", &plan)
	door["planId"] = plan.Items[0].Value.ID
	status, body := c.put(fmt.Sprintf("/api/doors/%d", id), rev, door)
	require.Equal(t, 200, status, body)
	var saved struct{ Rev int64 }
	require.NoError(t, json.Unmarshal([]byte(body), &saved))

	status, body = c.call("POST", "/api/send", `{"controllers":[]}`)
	require.Less(t, status, 300, body)
	// Each is told as soon as it is known.
	var changed, state *heard
	c.await(conn, func(n heard) bool {
		switch {
		case n.Type == "changed":
			changed = &n
		case n.State != nil && n.State.Seq > o.Seq && len(n.State.Doors) > 0: // what the overview has is old
			state = &n
		}
		return changed != nil && state != nil
	})
	require.Len(t, changed.Changes, 1)
	assert.Equal(t, "door", changed.Changes[0].Kind)
	assert.Equal(t, id, changed.Changes[0].ID)
	assert.Equal(t, saved.Rev, changed.Changes[0].Rev)
	require.Len(t, state.State.Doors, 1, "only the door that asks something else")
	assert.Equal(t, "barred", state.State.Doors[0].Mode)

	person := c.id("Priya Inver")
	rev, _ = c.read("people", "Priya Inver")
	status, body = c.call("DELETE", fmt.Sprintf("/api/people/%d?rev=%d", person, rev), "")
	require.Equal(t, 204, status, body)
	n := c.await(conn, func(n heard) bool { return n.Type == "changed" })
	assert.Equal(t, person, n.Changes[0].ID)
	assert.Zero(t, n.Changes[0].Rev, "it is no more")
}

// Names by numbers, the ports of a controller with who is at them, and the usual values for a new door there.
func TestNamesAndPorts(t *testing.T) {
	c := open(t)
	hall, cloakroom := c.id("Tide hall"), c.id("Cloakroom")
	var names []struct {
		ID         int64
		Kind, Name string
	}
	c.get(fmt.Sprintf("/api/names?ids=%d&ids=%d&ids=999999", hall, cloakroom), &names)
	require.Len(t, names, 2, "what is not there has no name")
	for _, n := range names {
		assert.Equal(t, map[int64]string{hall: "Tide hall", cloakroom: "Cloakroom"}[n.ID], n.Name)
		assert.Equal(t, "door", n.Kind)
	}

	riser := c.id("Lookout cupboard")
	var ports []struct {
		Port int
		Door int64
		Name string
	}
	c.get(fmt.Sprintf("/api/controllers/%d/ports", riser), &ports)
	require.Len(t, ports, 8)
	assert.Equal(t, "Lookout stair", ports[0].Name)
	assert.Equal(t, "Lookout terrace", ports[1].Name)
	assert.Zero(t, ports[2].Door)

	var door struct {
		Port         int
		ControllerID int64
		FloorID      int64
	}
	c.get(fmt.Sprintf("/api/usual-door?controller=%d", riser), &door)
	assert.Equal(t, 3, door.Port, "the first that is free")
	assert.Equal(t, riser, door.ControllerID)
	status, body := c.call("GET", "/api/controllers/999999/ports", "")
	assert.Equal(t, 404, status, body)
}

// The history is in words: titles and names instead of keys and numbers, units, found by text and by kind, read on
// from a line; undoing what was added says that it removes.
func TestHistoryInWords(t *testing.T) {
	c := openAt(t, evening)
	type change struct{ Field, Was, Now string }
	type line struct {
		ID                int64
		Who, Action, Kind string
		Name              string
		Undoable, Removes bool
		Changes           []change
	}
	read := func(query string) (out []line) {
		c.get("/api/history?"+query, &out)
		return out
	}
	rev, door := c.read("doors", "Tide hall")
	var plans struct {
		Items []struct{ Value struct{ ID int64 } }
	}
	c.get("/api/plans?q=Loading+dock", &plans)
	door["planId"], door["unlock"] = plans.Items[0].Value.ID, 9
	id := c.id("Tide hall")
	status, body := c.put(fmt.Sprintf("/api/doors/%d", id), rev, door)
	require.Equal(t, 200, status, body)

	found := read("q=tide&kind=door&limit=1")
	require.Len(t, found, 1)
	assert.Equal(t, "changed", found[0].Action)
	assert.ElementsMatch(t, []change{
		{"Passage plan", "Public galleries", "Loading dock"}, {"Unlock time", "5 s", "9 s"},
	}, found[0].Changes)
	assert.True(t, found[0].Undoable)
	assert.False(t, found[0].Removes)

	assert.Empty(t, read("q=no+such+thing"))
	for _, l := range read("kind=schedule") {
		assert.Equal(t, "schedule", l.Kind)
	}
	all, rest := read("limit=10"), []line{}
	for before := all[4].ID; ; before = rest[len(rest)-1].ID {
		page := read(fmt.Sprintf("limit=2&before=%d", before))
		rest = append(rest, page...)
		if len(rest) >= 5 || len(page) == 0 {
			break
		}
	}
	assert.Equal(t, all[5:10], rest[:5], "read on from a line, nothing is left out or comes twice")

	var added struct{ Value struct{ ID int64 } }
	status, body = c.call("POST", "/api/schedules", `{"id":0,"name":"Early swim","week":[[],[],[],[],[],[],[]]}`)
	require.Equal(t, 200, status, body)
	require.NoError(t, json.Unmarshal([]byte(body), &added))
	swim := read("q=early+swim")
	require.Len(t, swim, 1)
	assert.True(t, swim[0].Removes, "undoing it removes it")
	status, body = c.call("POST", fmt.Sprintf("/api/history/%d/undo", swim[0].ID), "")
	require.Less(t, status, 300, body)
	status, _ = c.call("POST", fmt.Sprintf("/api/history/%d/undo", swim[0].ID), "")
	assert.Equal(t, 422, status, "not twice")
}

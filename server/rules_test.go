package server_test

import (
	"encoding/json"
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The museum's rules are told as sentences, at each door in the order in which they are checked.
func TestRulesAsSentences(t *testing.T) {
	c := openAt(t, evening)
	text := c.want(200, "", "GET", "/api/rules", "")
	assert.Contains(t, text,
		"At all hours it takes one from Registrars and one from Conservators, or one from Duty managers and one more who may come in; each comes within 20 s of the one before.")
	assert.Contains(t, text, "Nobody enters Specimen vault alone: 14 people.")
	assert.Contains(t, text,
		"Of Lab, outer door and Lab, inner door at most one is other than closed and locked; a grant waits until the other is, at most 30 s; exit requests always work.")
	c.want(200, `"forget":"04:00"`, "GET", "/api/usual-rules", "")
	c.want(200, fmt.Sprintf(`"doorIds":[%d]`, c.id("Tide hall")), "GET",
		fmt.Sprintf("/api/usual-rules?door=%d", c.id("Tide hall")), "")
	var lines []struct {
		Kind  string
		Scope string
	}
	c.get(fmt.Sprintf("/api/doors/%d/rules", c.id("Lab, outer door")), &lines)
	require.NotEmpty(t, lines)
	kinds := []string{}
	for _, l := range lines[:5] {
		kinds = append(kinds, l.Kind)
	}
	assert.Equal(t, []string{"lockdown and fire", "lockdown and fire", "PINs", "screening", "interlock"}, kinds,
		"in the order of the checks")
	assert.Empty(t, lines[len(lines)-1].Scope, "what is not in use is offered last")
	assert.Contains(t, c.want(200, "", "GET", "/api/findings", ""), "combination-never")
}

// Bad rules are refused with the field and the mend.
func TestRulesAreChecked(t *testing.T) {
	c := openAt(t, evening)
	outer, quay, dry := c.id("Lab, outer door"), c.id("Quay entrance"), c.id("Dry store")
	lock := func(doors ...int64) string {
		b, err := json.Marshal(object{"id": 0, "name": "Two", "doorIds": doors, "waits": true})
		require.NoError(t, err)
		return string(b)
	}
	c.want(422, "at different controllers", "POST", "/api/interlocks", lock(outer, quay))
	c.want(422, "has no door contact", "POST", "/api/interlocks", lock(dry, c.id("Workshop")))
	c.want(422, "at least two doors", "POST", "/api/interlocks", lock(outer))
	c.want(422, "choose each door once", "POST", "/api/interlocks", lock(outer, outer))
	schedule := c.idOf("schedules", "Always")
	proofs := func(rest string) string {
		return fmt.Sprintf(`{"id":0,"name":"More","doorIds":[%d],"scheduleId":%d,"window":20,%s}`, quay, schedule, rest)
	}
	c.want(422, "say which people come in together", "POST", "/api/proofs",
		proofs(`"kind":"combination","combinations":[]`))
	c.want(422, "it could never open", "POST", "/api/proofs",
		proofs(`"kind":"combination","combinations":[{"total":2,"parts":[{"groupId":1,"count":2},{"groupId":2,"count":1}]}]`))
	c.want(422, "does not exist", "POST", "/api/proofs",
		proofs(`"kind":"combination","combinations":[{"total":2,"parts":[{"groupId":99999,"count":1}]}]`))
	c.want(422, "is outside 5 to 120", "POST", "/api/proofs",
		strings.Replace(proofs(`"kind":"approval","combinations":[]`), `"window":20`, `"window":1`, 1))
}

// An order by hand reaches the doors that it names; who gave it and why stands at each; one that is cut off is told on
// its return; what is released from afar can be switched off.
func TestOrdersByHand(t *testing.T) {
	c := open(t)
	dock, quay := c.id("Loading dock"), c.id("Quay entrance")
	order := func(status int, contains, rest string, doors ...int64) string {
		var targets []string
		for _, d := range doors {
			targets = append(targets, fmt.Sprintf(`{"kind":"door","id":%d}`, d))
		}
		return c.want(status, contains, "POST", "/api/orders", fmt.Sprintf(`{"targets":[%s],%s}`, strings.Join(targets, ","),
			rest))
	}
	order(422, "choose at least one door", `"what":"release"`)
	order(422, "say why", `"what":"hold","mode":"barred"`, dock)
	order(422, "this is past", `"what":"hold","mode":"free","until":"2020-01-01T10:00"`, dock)
	order(200, "Quay entrance and Loading dock stand free: whoever comes may pass.",
		`"what":"hold","mode":"free","preview":true`, quay, dock)
	assert.Equal(t, "[]", strings.TrimSpace(c.want(200, "", "GET", "/api/held", "")), "a preview changes nothing")

	order(200, `"reached":true`, `"what":"hold","mode":"barred","why":"a delivery"`, dock)
	held := c.want(200, "", "GET", "/api/held", "")
	assert.Contains(t, held, `"hand":"held barred"`)
	assert.Contains(t, held, "Robin: a delivery")
	c.want(200, `"hand":"held barred"`, "GET", "/api/overview", "")
	order(200, "follows the plan again", `"what":"back"`, dock)
	assert.Equal(t, "[]", strings.TrimSpace(c.want(200, "", "GET", "/api/held", "")))
	order(200, "releases once", `"what":"release","why":"a parcel"`, dock)
	require.Eventually(t, func() bool {
		return strings.Contains(c.want(200, "", "GET", "/api/events?limit=20", ""), "by Robin: a parcel")
	}, 20*time.Second, 20*time.Millisecond)

	bench := fmt.Sprintf("/api/bench/%d", quay)
	c.want(200, "", "POST", bench, `{"do":"unplug"}`)
	require.Eventually(t, func() bool {
		return strings.Contains(order(200, "", `"what":"lockdown","why":"a rehearsal","preview":true`, quay),
			"1 cannot be reached now")
	}, 20*time.Second, 20*time.Millisecond)
	order(200, "it is told on its return", `"what":"lockdown","why":"smoke"`, quay)
	order(200, "nothing was done", `"what":"release"`, quay)
	c.want(200, "", "POST", bench, `{"do":"plug"}`)
	require.Eventually(t, func() bool {
		return strings.Contains(c.want(200, "", "GET", "/api/held", ""), `"hand":"lockdown"`)
	}, 20*time.Second, 20*time.Millisecond)
	order(200, "follows the plan again", `"what":"end lockdown"`, quay)
	assert.Equal(t, "[]", strings.TrimSpace(c.want(200, "", "GET", "/api/held", "")))

	rev, door := c.read("doors", "Loading dock")
	door["notFromAfar"] = true
	status, body := c.put(fmt.Sprintf("/api/doors/%d", dock), rev, door)
	require.Equal(t, 200, status, body)
	order(200, `"left":[{"id"`, `"what":"hold","mode":"free"`, dock)
	assert.Equal(t, "[]", strings.TrimSpace(c.want(200, "", "GET", "/api/held", "")))
}

// Who has come in by a reader is inside, on the screen and at every controller of the area; forgiven, their place is
// unknown; it stays over a restart of the server.
func TestWhoIsWhere(t *testing.T) {
	c := openAt(t, evening)
	door := c.id("Staff entrance")
	bench := fmt.Sprintf("/api/bench/%d", door)
	hand := func(do string) { c.want(200, "", "POST", bench, do) }
	now := func() (text string) { return c.want(200, "", "GET", "/api/areas-now", "") }
	hand(`{"do":"clock","clock":"2026-11-23 18:00"}`) // at night the door wants a PIN too
	assert.Contains(t, now(),
		"Who is inside and did not leave is refused at its doors; so is who leaves without having come in. Everybody's place is forgotten at 04:00.")
	var people struct {
		Items []struct {
			Value struct {
				ID          int64
				Name        string
				Credentials []struct{ Value string }
			}
		}
	}
	c.get("/api/people?q=Petra+Tarn", &people)
	who := people.Items[0].Value
	var facility, number int
	_, err := fmt.Sscanf(who.Credentials[0].Value, "%d-%d", &facility, &number)
	require.NoError(t, err)
	present := fmt.Sprintf(`{"do":"present","facility":%d,"number":%d}`, facility, number)
	hand(present)
	hand(`{"do":"open"}`)
	hand(`{"do":"close"}`)
	require.Eventually(t, func() bool { return strings.Contains(now(), "Petra Tarn") }, 20*time.Second,
		20*time.Millisecond, now())
	c.want(422, "does not exist", "POST", "/api/areas-now", `{"to":99999}`)
	c.want(200, "", "POST", "/api/areas-now", fmt.Sprintf(`{"people":[%d]}`, who.ID))
	assert.NotContains(t, now(), "Petra Tarn", "forgiven")
	assert.Contains(t, c.want(200, "", "GET", "/api/history?limit=3", ""), "forgiven")
}

package server_test

import (
	"fmt"
	"strings"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

type lackLine struct {
	ID     int64
	Name   string
	Online bool
	Lacks  bool
	Wanted bool
}

func (c *client) lacks() map[string]lackLine {
	var list []lackLine
	c.get("/api/pending", &list)
	out := map[string]lackLine{}
	for _, p := range list {
		if p.Lacks || p.Wanted {
			out[p.Name] = p
		}
	}
	return out
}

// unlock changes the unlock time of a door, so that its controller lacks something.
func (c *client) unlock(door string, seconds int) {
	c.t.Helper()
	rev, value := c.read("doors", door)
	value["unlock"] = seconds
	status, body := c.put(fmt.Sprintf("/api/doors/%d", c.idOf("doors", door)), rev, value)
	require.Equal(c.t, 200, status, body)
}

type sentLine struct {
	Who, Why, Controller, Impact, Outcome, Words string
	Bytes                                        int
	Changes                                      []struct{ Words string }
}

// What is lacking says what sending does; each send is kept with that sentence and how it ended.
func TestImpactAndWhatWasSent(t *testing.T) {
	c := openAt(t, evening)
	rev, value := c.read("people", "Emeka Okafor")
	id, level := c.idOf("people", "Emeka Okafor"), c.idOf("levels", "Registrars")
	value["levels"] = []object{{"levelId": level}}
	status, body := c.put(fmt.Sprintf("/api/people/%d", id), rev, value)
	require.Equal(t, 200, status, body)
	var impact struct {
		Sentence           string
		People, Gain, Lose int
		Controllers        []struct {
			ID       int64
			Sentence string
		}
	}
	c.get("/api/send/impact", &impact)
	assert.Equal(t, []int{1, 1, 0}, []int{impact.People, impact.Gain, impact.Lose}, impact.Sentence)
	assert.Contains(t, impact.Sentence, "Emeka Okafor gains")
	lacking := c.lacks()
	require.Len(t, impact.Controllers, len(lacking))
	one := impact.Controllers[0].ID
	c.get(fmt.Sprintf("/api/send/impact?controllers=%d", one), &impact)
	require.Len(t, impact.Controllers, 1)

	c.want(200, "", "POST", "/api/send", fmt.Sprintf(`{"controllers":[%d]}`, one))
	require.Eventually(t, func() bool { return len(c.lacks()) == len(lacking)-1 }, 20*time.Second, 20*time.Millisecond)
	var sent []sentLine
	c.get(fmt.Sprintf("/api/sends?controller=%d&limit=1", one), &sent)
	require.Len(t, sent, 1)
	assert.Equal(t, "verified", sent[0].Outcome)
	assert.Equal(t, "Robin", sent[0].Who)
	assert.Equal(t, impact.Controllers[0].Sentence, sent[0].Impact)
	assert.NotEmpty(t, sent[0].Changes)
	assert.Less(t, sent[0].Bytes, 200_000, "only the section of the person and its heads")

	c.want(200, "", "POST", "/api/send", `{"controllers":[]}`)
	require.Eventually(t, func() bool { return len(c.lacks()) == 0 }, 20*time.Second, 20*time.Millisecond)
	part := sent[0].Bytes
	c.want(200, "", "POST", "/api/send", fmt.Sprintf(`{"controllers":[%d],"whole":true,"clocks":true}`, one))
	require.Eventually(t, func() bool {
		c.get(fmt.Sprintf("/api/sends?controller=%d&limit=1", one), &sent)
		return sent[0].Bytes > part && sent[0].Outcome == "verified"
	}, 20*time.Second, 20*time.Millisecond, "everything anew is more than the difference")
}

// A suspension goes ahead of what else is unsent, which stays unsent; who is cut off is told on their return.
func TestSuspendedAheadOfTheRest(t *testing.T) {
	c := open(t)
	c.unlock("Loading dock", 40)
	require.Contains(t, c.lacks(), "Collections room")
	door := c.id("Quay entrance")
	bench := fmt.Sprintf("/api/bench/%d", door)
	hand := func(do string) { c.want(200, "", "POST", bench, fmt.Sprintf(`{"do":%q}`, do)) }
	hand("unplug")
	var units []struct {
		Name   string
		Online bool
	}
	online := func(name string) bool {
		c.get("/api/units", &units)
		for _, u := range units {
			if u.Name == name {
				return u.Online
			}
		}
		return false
	}
	cut := ""
	require.Eventually(t, func() bool {
		c.get("/api/units", &units)
		for _, u := range units {
			if !u.Online {
				cut = u.Name
			}
		}
		return cut != ""
	}, 20*time.Second, 20*time.Millisecond)

	id := c.idOf("people", "Emeka Okafor")
	text := c.want(200, "Emeka Okafor is suspended", "POST", fmt.Sprintf("/api/people/%d/suspend", id), "")
	assert.Contains(t, text, "told on their return: "+cut)
	lacking := c.lacks()
	assert.Contains(t, lacking, "Collections room", "the loading dock's time still waits")
	for name := range lacking {
		assert.Contains(t, []string{"Collections room", cut}, name, "the others lack nothing")
	}
	hand("plug")
	require.Eventually(t, func() bool {
		_, still := c.lacks()[cut]
		return online(cut) && !still
	}, 30*time.Second, 50*time.Millisecond, "told on its return")
	var sent []sentLine
	c.get("/api/sends?limit=20", &sent)
	ahead := 0
	for _, x := range sent {
		if x.Why == "ahead of everything else" {
			ahead++
			assert.Equal(t, "Emeka Okafor is suspended.", x.Impact)
			assert.Equal(t, "verified", x.Outcome+x.Words)
		}
	}
	assert.Greater(t, ahead, 1)
	c.want(404, "", "POST", "/api/people/999999/suspend", "")
}

// What is lacking is sent by itself at the time that was set, once.
func TestSentAtASetTime(t *testing.T) {
	var ahead atomic.Int64
	c := openAt(t, func() time.Time { return evening().Add(time.Duration(ahead.Load())) })
	c.unlock("Loading dock", 40)
	plan := func(at string) string { return fmt.Sprintf(`{"at":%q,"wish":{"controllers":[]}}`, at) }
	c.want(422, "that is past", "PUT", "/api/send/plan", plan("2026-11-20T02:00"))
	c.want(422, "more than a year", "PUT", "/api/send/plan", plan("2028-11-20T02:00"))
	c.want(422, "at", "PUT", "/api/send/plan", plan("tonight"))
	c.want(200, "Tue 24 Nov 2026, 02:00", "PUT", "/api/send/plan", plan("2026-11-24T02:00"))
	c.want(200, `"at":0`, "PUT", "/api/send/plan", plan(""))
	c.want(200, `"who":"Robin"`, "PUT", "/api/send/plan", plan("2026-11-24T02:00"))
	assert.NotEmpty(t, c.lacks())
	ahead.Store(int64(12 * time.Hour))
	require.Eventually(t, func() bool { return len(c.lacks()) == 0 }, 20*time.Second, 50*time.Millisecond)
	c.want(200, `"at":0`, "GET", "/api/send/plan", "")
	var sent []sentLine
	c.get("/api/sends?limit=1", &sent)
	assert.Equal(t, "at the time that was set", sent[0].Why)
}

// Cards that are presented where somebody enrols are no alarms; elsewhere, and afterwards, they are.
func TestEnrolmentIsNoAlarm(t *testing.T) {
	c := open(t)
	door := c.id("Loading dock")
	enrol := func(seconds int) {
		c.want(204, "", "POST", "/api/enrol", fmt.Sprintf(`{"door":%d,"seconds":%d}`, door, seconds))
	}
	// presented waits until as many events tell of a card, and counts those that are alarms.
	presented := func(door int64, number, events int) (alarms int) {
		c.want(200, "", "POST", fmt.Sprintf("/api/bench/%d", door),
			fmt.Sprintf(`{"do":"present","facility":42,"number":%d}`, number))
		require.Eventually(t, func() bool {
			var seen int
			seen, alarms = 0, 0
			for _, event := range strings.Split(c.want(200, "", "GET", "/api/events?limit=50", ""), `"id":`) {
				if !strings.Contains(event, fmt.Sprint(number)) {
					continue
				}
				if seen++; strings.Contains(event, `"alarm":true`) {
					alarms++
				}
			}
			return seen >= events
		}, 20*time.Second, 100*time.Millisecond)
		return alarms
	}
	enrol(60)
	assert.Zero(t, presented(door, 40001, 1))
	assert.Zero(t, presented(door, 12401, 1), "a lost card is known to be presented here")
	elsewhere := c.id("Workshop")
	assert.Equal(t, 1, presented(elsewhere, 12401, 2), "a lost card that is presented is an alarm")
	enrol(0)
	c.want(404, "", "POST", "/api/enrol", `{"door":999999,"seconds":5}`)
}

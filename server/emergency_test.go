package server_test

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// card finds somebody, and what the bench presents for them.
func (c *client) card(name string) (id int64, present string) {
	var people struct {
		Items []struct {
			Value struct {
				ID          int64
				Credentials []struct{ Value string }
			}
		}
	}
	c.get("/api/people?q="+strings.ReplaceAll(name, " ", "+"), &people)
	require.NotEmpty(c.t, people.Items, name)
	var facility, number int
	_, err := fmt.Sscanf(people.Items[0].Value.Credentials[0].Value, "%d-%d", &facility, &number)
	require.NoError(c.t, err)
	return people.Items[0].Value.ID, fmt.Sprintf(`{"do":"present","facility":%d,"number":%d}`, facility, number)
}

func (c *client) bench(door, do string) {
	c.want(200, "", "POST", fmt.Sprintf("/api/bench/%d", c.id(door)), do)
}

// sees waits until what is asked for says something.
func (c *client) sees(path, words string) string {
	var text string
	require.Eventually(c.t, func() bool {
		text = c.want(200, "", "GET", path, "")
		return strings.Contains(text, words)
	}, 20*time.Second, 20*time.Millisecond, words)
	return text
}

// A researcher is refused at the quarantine lab, comes up at the desk by their card, is cleared there and comes in; the
// controller of the lab knows, a restart forgets nothing, and it is withdrawn again.
func TestClearedAtTheDesk(t *testing.T) {
	c := openAt(t, evening)
	for _, door := range []string{"Staff entrance", "Quarantine lab"} {
		c.bench(door, `{"do":"clock","clock":"2026-11-24 10:00"}`)
	}
	id, present := c.card("Hugo Ashdown")
	c.want(200,
		"Until then only the level Researchers counts. Cleared by a person at the screen, after a card at Staff entrance, until midnight.", "GET", "/api/screenings-now", "")
	c.want(200, "not-cleared", "GET", fmt.Sprintf("/api/ask?person=%d&door=%d&at=2026-11-24T10:00", id,
		c.id("Quarantine lab")), "")
	c.bench("Quarantine lab", present)
	c.sees(fmt.Sprintf("/api/events?limit=5&person=%d", id), "Refused: not cleared yet")

	assert.Equal(t, "[]", strings.TrimSpace(c.want(200, "", "GET", "/api/desk-now", "")))
	c.bench("Staff entrance", present)
	c.sees("/api/desk-now", "Hugo Ashdown")
	var screenings []struct{ ID int64 }
	c.get("/api/screenings-now", &screenings)
	x := screenings[0].ID
	clear := fmt.Sprintf(`{"screening":%d,"people":[%d]`, x, id)
	other, _ := c.card("Petra Tarn")
	c.want(422, "Petra Tarn is not under Guests of the quarantine lab", "POST", "/api/screenings-now",
		fmt.Sprintf(`{"screening":%d,"people":[%d]}`, x, other))
	c.want(422, "does not exist", "POST", "/api/screenings-now", fmt.Sprintf(`{"screening":99999,"people":[%d]}`, id))
	c.want(200, "cleared until 23:59, by Robin", "POST", "/api/screenings-now", clear+"}")
	time.Sleep(850 * time.Millisecond) // two reads of a card within 0.8 s are one presentation
	c.bench("Quarantine lab", present)
	c.sees(fmt.Sprintf("/api/events?limit=5&person=%d", id), "level Quarantine lab")
	c.want(200, "", "POST", "/api/screenings-now", clear+`,"withdraw":true}`)
	time.Sleep(850 * time.Millisecond)
	c.bench("Quarantine lab", present)
	require.Eventually(t, func() bool {
		return strings.Count(c.want(200, "", "GET", fmt.Sprintf("/api/events?limit=9&person=%d", id), ""),
			"Refused: not cleared yet") == 2
	}, 20*time.Second, 20*time.Millisecond)
	c.want(200, "", "POST", "/api/screenings-now", clear+"}")
	c.want(200, "cleared until 23:59", "GET", fmt.Sprintf("/api/people/%d/screenings", id), "")
	c.want(200, "cleared: Guests of the quarantine lab, until midnight", "GET", "/api/history?limit=2", "")
}

// Three reads of a duty manager's card at one door shut every door of the house, at other controllers too; a button
// does the same; who overrides comes in; it is ended at the screen, and known in the history.
func TestLockdownByCardAndButton(t *testing.T) {
	c := openAt(t, evening)
	c.bench("Staff entrance", `{"do":"clock","clock":"2026-11-24 10:00"}`)
	_, present := c.card("Pavel Umber")
	for range 3 {
		c.bench("Staff entrance", present)
		time.Sleep(850 * time.Millisecond) // two reads of a card within 0.8 s are one presentation
	}
	on := c.sees("/api/emergencies-now", `"unknown":[],"order":"lockdown"`)
	require.Eventually(t, func() bool {
		return strings.Count(c.want(200, "", "GET", "/api/held", ""), `"hand":"lockdown"`) == 20
	}, 20*time.Second, 20*time.Millisecond, on)
	c.want(200, "Pavel Umber, by card at Staff entrance", "GET", "/api/history?limit=3", "")
	var now []struct {
		ID   int64
		Name string
		On   []struct{ Name string }
	}
	c.get("/api/emergencies-now", &now)
	require.Equal(t, "Main house shut", now[0].Name)
	assert.Len(t, now[0].On, 20)
	end := fmt.Sprintf(`{"what":"end lockdown","emergency":%d}`, now[0].ID)
	c.want(200, "Main house shut: 18 doors and 2 elevators of Main house follow the plan again", "POST",
		"/api/orders", end)
	c.sees("/api/held", "[]")

	c.want(422, "this does not exist, or is not in use", "POST", "/api/orders", `{"what":"lockdown","emergency":99999}`)
	c.want(200, `"reached":true`, "POST", "/api/orders", fmt.Sprintf(`{"what":"lockdown","emergency":%d}`, now[0].ID))
	c.want(200, "Main house shut", "GET", "/api/held", "")
	c.want(200, `"after":"barred"`, "POST", "/api/rules/emergency",
		fmt.Sprintf(`{"id":%d,"name":"x","does":"lockdown","targets":[{"kind":"door","id":%d}]}`, now[0].ID,
			c.id("Tide hall")))
	c.want(200, "follow the plan again", "POST", "/api/orders", end)
}

// What a controller began by itself while it was cut off, and somebody has ended at the screen since, begins nowhere
// when it returns; what was not ended does.
func TestReturnsWithALockdown(t *testing.T) {
	begin := time.Now()
	c := openAt(t, func() time.Time { return evening().Add(time.Since(begin)) })
	_, present := c.card("Pavel Umber")
	var now []struct {
		ID int64
		On []struct{ Name string }
	}
	for _, ended := range []bool{true, false} {
		c.bench("Staff entrance", `{"do":"unplug"}`)
		c.sees("/api/emergencies-now", `"unknown":[{"id"`)
		for range 3 {
			c.bench("Staff entrance", present)
			time.Sleep(850 * time.Millisecond)
		}
		c.get("/api/emergencies-now", &now)
		require.Empty(t, now[0].On, "nobody knows yet")
		if ended {
			c.want(200, "it is told on its return", "POST", "/api/orders",
				fmt.Sprintf(`{"what":"end lockdown","emergency":%d}`, now[0].ID))
		}
		c.bench("Staff entrance", `{"do":"plug"}`)
		c.sees("/api/emergencies-now", `"unknown":[],"order":"lockdown"`)
		require.Eventually(t, func() bool {
			c.get("/api/emergencies-now", &now)
			return len(now[0].On) == map[bool]int{true: 0, false: 20}[ended]
		}, 20*time.Second, 20*time.Millisecond)
		if ended {
			c.sees(fmt.Sprintf("/api/events?limit=50&door=%d", c.id("Staff entrance")), "Lockdown ended")
			c.get("/api/emergencies-now", &now)
			assert.Empty(t, now[0].On)
			time.Sleep(5 * time.Second) // the reads before are forgotten
		}
	}
}

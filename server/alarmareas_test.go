package server_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
)

// Arming at the screen says what stands open and does nothing; left out by name, it is armed; what is not of the area,
// or not sent yet, is refused with the mend.
func TestArmedAtTheScreen(t *testing.T) {
	c := openAt(t, evening)
	shop, shutter := c.idOf("alarm-areas", "Museum shop"), c.id("Shop shutter")
	at := func(id int64, what string) string { return fmt.Sprintf("/api/alarm-areas/%d/%s", id, what) }
	c.want(200, `"state":"disarmed","words":"Nothing stands open"`, "GET", "/api/alarm-areas-now", "")
	c.bench("Shop shutter", `{"do":"open"}`)
	c.sees("/api/alarm-areas-now", "Shop shutter stands open")
	text := c.want(422, "Museum shop is not armed: Shop shutter stands open. Close it, or leave it out", "POST",
		at(shop, "arm"), `{"left":[]}`)
	assert.Contains(t, text, `"location":"left"`)
	c.want(422, "Tide hall does not belong to Museum shop; leave out what does", "POST", at(shop, "arm"),
		fmt.Sprintf(`{"left":[%d]}`, c.id("Tide hall")))
	c.want(422, "there is no such alarm area in use", "POST", at(shutter, "arm"), `{"left":[]}`)
	c.want(200, `"state":"leaving"`, "POST", at(shop, "arm"), fmt.Sprintf(`{"left":[%d]}`, shutter))
	c.want(200, "armed without Shop shutter", "GET", "/api/history?limit=3", "")
	c.sees("/api/overview", `"guard":"Museum shop armed"`)
	c.sees(fmt.Sprintf("/api/doors/%d/sheet", shutter), "**Museum shop is being armed**")
	c.want(200, `"state":"disarmed"`, "POST", at(shop, "disarm"), "")
	c.sees("/api/overview", `"guard":""`)
	c.sees("/api/events", "Disarmed")
	glass := fmt.Sprintf(`{"do":"input-active","inputId":%d}`, c.id("Glass break, shop"))
	bench := fmt.Sprintf("/api/bench/%d", shutter)
	c.want(200, `"name":"Glass break, shop","active":true`, "POST", bench, glass)
	c.want(422, "there is no such input at the controller of this door", "POST", bench,
		fmt.Sprintf(`{"do":"input-rest","inputId":%d}`, c.id("Water on the floor")))

	area := func(name string, door int64, more string) string {
		return fmt.Sprintf(`{"id":0,"name":%q,"doorIds":[%d],"inputs":[],"reads":2,"exitDelay":0,"entryDelay":0,"sounds":60,"alarmIds":[],"armedIds":[],"delayIds":[]%s}`, name, door, more)
	}
	c.want(422, "Shop shutter belongs to the alarm area Museum shop; take it out there first", "POST", "/api/alarm-areas",
		area("Again", shutter, ""))
	c.want(422, "is an elevator; choose doors", "POST", "/api/alarm-areas", area("Car", c.id("Front elevator"), ""))
	key := fmt.Sprintf(`,"keyId":%d,"keyWorks":"holds"`, c.id("Water on the floor"))
	c.want(422, "Water on the floor is not at North riser, which keeps the area", "POST", "/api/alarm-areas",
		area("Hall", c.id("Tide hall"), key))
	c.want(200, "Its alarm turns nothing on", "POST", "/api/rules/alarm-area", area("Hall", c.id("Quarantine lab"), ""))
	c.want(200, "", "POST", "/api/alarm-areas", area("Hall", c.id("Tide hall"), ""))
	c.want(503, "It is not sent yet: North riser does not know it", "POST", at(c.idOf("alarm-areas", "Hall"), "arm"),
		`{"left":[]}`)
	c.sees("/api/pending", "Hall is new here")

	// An area that a schedule arms is told with whom it keeps out, before it is saved and in the history.
	office := fmt.Sprintf(`,"scheduleId":%d`, c.idOf("schedules", "Office hours"))
	room := area("Cloaks", c.id("Cloakroom"), office)
	c.want(200, "lose Monday to Friday at Cloakroom", "POST", "/api/hours/effect", `{"alarmArea":`+room+`}`)
	c.want(200, "", "POST", "/api/alarm-areas", room)
	c.want(200, "lose Monday to Friday at Cloakroom", "GET", "/api/history?limit=1", "")
	c.want(200, "others gain Monday to Friday at Cloakroom", "POST", "/api/hours/effect",
		fmt.Sprintf(`{"remove":%d}`, c.idOf("alarm-areas", "Cloaks")))
}

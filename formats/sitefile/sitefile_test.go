package sitefile_test

import (
	"bytes"
	"encoding/json"
	"os"
	"strings"
	"testing"

	"github.com/santhosh-tekuri/jsonschema/v6"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amberkeystone/core/cards"
	"amberkeystone/core/point"
	"amberkeystone/core/site"
	"amberkeystone/demo"
	"amberkeystone/formats/sitefile"
)

var key = []byte("key")

func schema(t *testing.T) *jsonschema.Schema {
	doc, err := jsonschema.UnmarshalJSON(bytes.NewReader(sitefile.Schema))
	require.NoError(t, err)
	c := jsonschema.NewCompiler()
	require.NoError(t, c.AddResource("schema.json", doc))
	s, err := c.Compile("schema.json")
	require.NoError(t, err)
	return s
}

func valid(t *testing.T, s *jsonschema.Schema, b []byte) error {
	v, err := jsonschema.UnmarshalJSON(bytes.NewReader(b))
	require.NoError(t, err)
	return s.Validate(v)
}

// The demo and whatever is written are what the JSON Schema (2020-12) describes, by a validator not ours.
func TestSchema(t *testing.T) {
	s := schema(t)
	require.NoError(t, valid(t, s, demo.Site))
	c, err := sitefile.Parse(demo.Site, key)
	require.NoError(t, err)
	out, err := sitefile.Write(c)
	require.NoError(t, err)
	require.NoError(t, valid(t, s, out))
	assert.Error(t, valid(t, s, []byte(`{"settings":{"name":"x"},"sites":[],"doors":[{"name":"y"}]}`)))
}

// What is written is read as the same configuration, but for the PINs, which cannot be written.
func TestRoundTrip(t *testing.T) {
	c, err := sitefile.Parse(demo.Site, key)
	require.NoError(t, err)
	assert.Len(t, c.People, 60)
	out, err := sitefile.Write(c)
	require.NoError(t, err)
	assert.NotContains(t, string(out), `"pin"`)
	again, err := sitefile.Parse(out, key)
	require.NoError(t, err)
	twice, err := sitefile.Write(again)
	require.NoError(t, err)
	assert.Equal(t, string(out), string(twice))
	withPIN := 0
	for i := range c.People {
		if c.People[i].PIN != nil {
			withPIN++
		}
		c.People[i].PIN, c.People[i].Duress = nil, nil
		if len(c.People[i].Credentials) == 0 {
			c.People[i].Credentials = nil
		}
	}
	assert.Greater(t, withPIN, 20)
	a, err := json.Marshal(c)
	require.NoError(t, err)
	b, err := json.Marshal(again)
	require.NoError(t, err)
	assert.JSONEq(t, string(a), string(b))
}

const small = `{
 "settings": {"name": "Small", "cards": [{"format": "26-bit"}], "pinLength": 4, "pinTries": 5, "pinLock": 5, "cardWithPin": 10},
 "sites": [{"name": "Hut", "zone": "America/Halifax", "twelveHour": true, "fromSunday": true, "floors": [{"name": "Ground", "level": 0}]}],
 "controllers": [{"name": "Box", "site": "Hut", "serial": "1", "ports": 4}],
 "doors": [{"name": "Door", "site": "Hut", "floor": "Ground", "controller": "Box", "port": 1, "plan": "Card at all hours"}],
 "levels": [{"name": "All", "opens": [{"door": "Door", "schedule": "Always"}]}],
 "people": [{"name": "Ada", "pin": "4829", "cards": [{"format": "26-bit", "facility": 1, "number": 2}], "levels": [{"level": "All", "until": "2026-12-01"}]}]
}`

func TestUsualValues(t *testing.T) {
	c, err := sitefile.Parse([]byte(small), key)
	require.NoError(t, err)
	assert.True(t, c.Sites[0].TwelveHour && c.Sites[0].FromSunday, "how the site writes times")
	assert.Equal(t, site.UsualHardware(), c.Doors[0].Hardware, "what is not said is as usual")
	assert.Equal(t, "America/Halifax", c.Controllers[0].Zone, "the site's")
	assert.Equal(t, site.Active, c.People[0].Credentials[0].Status)
	assert.Equal(t, cards.HashPIN(key, "4829"), *c.People[0].PIN)
}

// Every mistake is named with its place, and several at once.
func TestMistakes(t *testing.T) {
	for _, c := range []struct{ from, to, says string }{
		{`"plan": "Card at all hours"`, `"plan": "Nope"`, `door Door: there is no plan "Nope"`},
		{`"schedule": "Always"`, `"schedule": "Mornings"`, `level All: there is no schedule "Mornings"`},
		{`"port": 1`, `"port": 1, "unlock": 0`, "door Door, unlock: 0 is outside 1 to 600 seconds"},
		{`"port": 1`, `"port": 1, "lock": "magnetic"`, "cannot be fail-secure"},
		{`"port": 1`, `"port": 1, "colour": "red"`, "colour"},
		{`"until": "2026-12-01"`, `"until": "1 Dec"`, "is not a date"},
		{`"pin": "4829"`, `"pin": "1234"`, "too easy"},
		{`"number": 2`, `"number": 70000`, "65535"},
		{`"levels": [{"name": "All"`, `"levels": [{"name": "All", "opens": []}, {"name": "All"`, `level "All" is there twice`},
		{`"people": [`, `"people": [{"name": "Ben", "cards": [{"format": "26-bit", "facility": 1, "number": 2}]}, `, "already belongs to Ben"},
		{`"doors": [`, `"doors": [{"name": "Twin", "site": "Hut", "floor": "Ground", "controller": "Box", "port": 1, "plan": "Card at all hours"}, `, "Box port 1 already drives Twin"},
		{`"levels": [{"name"`, `"schedules": [{"name": "Odd", "hours": "Mo 9-10"}], "levels": [{"name"`, "schedule Odd: at position 4"},
		{`"settings": {`, `"extra": 1, "settings": {`, "extra"},
	} {
		text := strings.Replace(small, c.from, c.to, 1)
		require.NotEqual(t, small, text, c.from)
		_, err := sitefile.Parse([]byte(text), key)
		assert.ErrorContains(t, err, c.says)
	}
	_, err := sitefile.Parse([]byte(small+"{}"), key)
	assert.ErrorContains(t, err, "after its end")
	two := strings.Replace(strings.Replace(small, `"plan": "Card at all hours"`, `"plan": "Nope"`, 1), `"door": "Door"`,
		`"door": "Gone"`, 1)
	_, err = sitefile.Parse([]byte(two), key)
	assert.ErrorContains(t, err, "Nope")
	assert.ErrorContains(t, err, "Gone")
}

func FuzzParse(f *testing.F) {
	f.Add([]byte(small))
	f.Add([]byte(`{"plans":[{"name":"Card at all hours","otherwise":"free"}]}`))
	f.Fuzz(func(t *testing.T, b []byte) {
		c, err := sitefile.Parse(b, key)
		if err != nil {
			return
		}
		out, err := sitefile.Write(c)
		require.NoError(t, err)
		_, err = sitefile.Parse(out, key)
		require.NoError(t, err, string(out))
	})
}

// The hours of the demo survive being written and read: types, holidays, answers, sets, dated changes, first cards.
func TestHoursRoundTrip(t *testing.T) {
	c, err := sitefile.Parse(demo.Site, key)
	require.NoError(t, err)
	out, err := sitefile.Write(c)
	require.NoError(t, err)
	again, err := sitefile.Parse(out, key)
	require.NoError(t, err)
	assert.Equal(t, c.Types, again.Types)
	assert.Equal(t, c.Holidays, again.Holidays)
	assert.Equal(t, c.Sets, again.Sets)
	assert.Equal(t, c.Changes, again.Changes)
	assert.Equal(t, c.Doors, again.Doors)
	for i := range c.Schedules {
		assert.Equal(t, c.Schedules[i].Holidays, again.Schedules[i].Holidays, c.Schedules[i].Name)
	}
	for i := range c.Plans {
		assert.Equal(t, c.Plans[i].Normal(), again.Plans[i].Normal(), c.Plans[i].Name)
	}
	assert.NotEmpty(t, c.Changes)
	assert.NotEmpty(t, c.Plans[4].Holidays)
	require.True(t, c.Levels[1].OpensDay)
}

// What is wrong with hours in a site file is said with its place.
func TestHoursFaults(t *testing.T) {
	for says, change := range map[string][2]string{
		"holiday Canada Day, month":               {`"month": 7, "day": 1}`, `"month": 17, "day": 1}`},
		`there is no holiday type "Somebody"`:     {`"name": "Good Friday", "type": "Nobody"`, `"name": "Good Friday", "type": "Somebody"`},
		"dated change Quay paving, recurs":        {"FREQ=WEEKLY;BYDAY=MO,WE;COUNT=6", "FREQ=MINUTELY"},
		`there is no access level "Strangers"`:    {"card only Registrars", "card only Strangers"},
		"schedule Gallery days, Short day":        {"PH 08:30-15:00", "PH half the day"},
		`door set Public front: there is no door`: {`"doors": ["Quay entrance", "Tide hall", "Upper galleries"]`, `"doors": ["Quay entrance", "Moon gate"]`},
	} {
		broken := strings.Replace(string(demo.Site), change[0], change[1], 1)
		require.NotEqual(t, string(demo.Site), broken, says)
		_, err := sitefile.Parse([]byte(broken), key)
		assert.ErrorContains(t, err, says)
	}
}

// Places of every kind, terminals and credentials of every kind come back from a file that was written.
func TestNewFormsComeBack(t *testing.T) {
	b, err := os.ReadFile("../../demo/site.json")
	require.NoError(t, err)
	c, err := sitefile.Parse(b, []byte("k"))
	require.NoError(t, err)
	schedule := c.Schedules[0].ID
	for _, target := range []site.Target{
		{Kind: site.AtReader, ID: c.Doors[0].ID}, {Kind: site.AtReader, ID: c.Doors[0].ID, Out: true}, {Kind: site.AtDoorSet, ID: c.Sets[0].ID},
		{Kind: site.AtFloor, ID: c.Floors[1].ID}, {Kind: site.AtSite, ID: c.Sites[1].ID}, {Kind: site.Everything},
	} {
		c.Levels[0].Entries = append(c.Levels[0].Entries, site.Entry{Target: target, ScheduleID: schedule})
	}
	x := &c.Controllers[0]
	x.Place, x.Resistor, x.Expanders = "north cupboard", 1000, []site.Expander{
		{Address: 2, Kind: site.OutputExpander, Name: "roof"},
	}
	x.Network = site.Network{Fixed: true, Address: "10.0.0.4/24", Gateway: "10.0.0.1", VLAN: 12}
	c.Supplies = append(c.Supplies, site.Supply{
		ID: 9001, Name: "Lock supply", SiteID: c.Sites[0].ID, Volts: 24, Milliamps: 3000, Battery: 70,
	})
	c.Inputs = append(c.Inputs, site.Input{ID: 9002, Name: "Fire panel", ControllerID: x.ID, At: point.At(point.Input, 10),
		Use:     site.InputFire,
		Contact: site.NormallyClosed, Supervised: true, DoorIDs: []site.ID{c.Doors[0].ID}})
	c.Outputs = append(c.Outputs, site.Output{
		ID: 9003, Name: "Siren", ControllerID: x.ID, At: point.At(point.Output, 6), Use: site.Siren, When: site.WhenAlarm,
	})
	c.Settings.Formats = []site.OwnFormat{{Name: "Quay 37", Bits: 37, Number: site.BitField{First: 2, Bits: 35},
		Parity: []site.BitParity{{Bit: 1, Over: "2-19"}}, Fixed: []site.FixedBit{{Bit: 37, One: true}}}}
	c.Settings.Facilities = []site.Facility{{Code: 42, Name: "Museum", SiteID: c.Sites[0].ID}}
	d := &c.Doors[1]
	d.OutOfUse, d.Order, d.SupplyID, d.Cable = true, 4, 9001, site.Cable{Metres: 30, Gauge: 18}
	d.Volts, d.Milliamps, d.FireDoor, d.ExitKind = 24, 350, true, site.ExitMotion
	d.In.Connection, d.In.Address, d.In.Baud, d.In.Formats = site.OSDP, 3, 19200, []string{"26-bit"}
	c.Doors[0].Points = &site.Points{Lock: point.Address{Board: 2, Kind: point.Output, Number: 7}}
	c.Doors[0].In.Takes, c.Doors[0].ContactSupervised = []site.CredentialKind{site.Plate}, true
	c.People[0].Credentials = append(
		c.People[0].Credentials,
		site.Credential{Kind: site.Plate, Value: "AB12", Status: site.Active, Dates: site.Dates{Until: "2026-12-01"}},
	)
	one := []site.ID{c.People[0].ID}
	c.Screenings = []site.Screening{
		{ID: 9004, Name: "Desk", PersonIDs: one, LevelID: c.Levels[0].ID, DeskIDs: []site.ID{d.ID}, PassIDs: []site.ID{d.ID}, Lasts: site.LastsHours, Count: 4, LogOnly: true},
		{ID: 9005, Name: "Other", PersonIDs: one, Lasts: site.LastsWithdrawn, Off: true},
	}
	c.Emergencies = []site.Emergency{
		{ID: 9006, Name: "Shut", Does: site.Lockdown, Targets: []site.Target{{Kind: site.AtFloor, ID: c.Floors[1].ID}},
			Overrides: true, Reads: 4, CardEnds: true},
	}
	c.Inputs = append(c.Inputs, site.Input{
		ID: 9007, Name: "Panic button", ControllerID: x.ID, At: point.At(point.Input, 11), Use: site.InputLockdown,
		Contact: site.NormallyOpen, EmergencyID: 9006,
	})
	watched := site.UsualAlarmArea(d.ID)
	watched.ID, watched.Name, watched.Inputs = 9008, "Counter", []site.Watched{{InputID: 9007, OnWay: true}}
	watched.Single, watched.ScheduleID = true, c.Schedules[2].ID
	c.AlarmAreas = append(c.AlarmAreas, watched)
	arms := site.UsualReaction(0, c.Schedules[0].ID)
	arms.ID, arms.Name, arms.When, arms.AlarmIDs, arms.Do, arms.ArmIDs, arms.Until = 9009, "After it", site.WhenNotArmed,
		[]site.ID{9008}, site.DoDisarm, []site.ID{9008}, false
	c.Reactions = append(c.Reactions, arms)
	c.Settings.PINLocks = site.LocksCard
	c.Levels[0].Overrides, c.Levels[0].LocksDown, c.Levels[0].Arms, c.Levels[0].Disarms = true, true, true, true
	out, err := sitefile.Write(c)
	require.NoError(t, err)
	require.NoError(t, valid(t, schema(t), out))
	again, err := sitefile.Parse(out, []byte("k"))
	require.NoError(t, err)
	assert.True(t, again.Screenings[0].LogOnly && again.Screenings[1].Off)
	assert.Equal(t, again.Inputs[len(again.Inputs)-1].ID, again.AlarmAreas[len(again.AlarmAreas)-1].Inputs[0].InputID)
	assert.Equal(t, []site.ID{again.AlarmAreas[len(again.AlarmAreas)-1].ID},
		again.Reactions[len(again.Reactions)-1].ArmIDs)
	assert.Equal(t, again.Emergencies[0].ID, again.Inputs[len(again.Inputs)-1].EmergencyID)
	assert.Equal(t, len(c.Levels[0].Entries), len(again.Levels[0].Entries))
	twice, err := sitefile.Write(again)
	require.NoError(t, err)
	assert.Equal(t, string(out), string(twice))
	for _, words := range []string{`"side": "out"`, `"everything": true`, `"doorSet"`, `"2/o7"`, `"takes"`, `"plate"`,
		`"contactSupervised"`,
		`"Fire panel"`, `"Siren"`, `"Lock supply"`, `"Quay 37"`, `"Museum"`, `"10.0.0.4/24"`, `"osdp"`, `"outOfUse"`} {
		assert.Contains(t, string(out), words)
	}
	for change, says := range map[string]string{
		`"everything": true`: "names 2 places",
		`"side": "out"`:      "write in or out",
	} {
		bad := map[string]string{`"everything": true`: `"everything": true, "site": "Boathouse"`,
			`"side": "out"`: `"side": "up"`}[change]
		_, err := sitefile.Parse([]byte(strings.Replace(string(out), change, bad, 1)), []byte("k"))
		assert.ErrorContains(t, err, says)
	}
}

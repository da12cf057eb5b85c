package main

import (
	"bufio"
	"encoding/json"
	"math/rand/v2"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"amberkeystone/core/pass"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amberkeystone/core/cards"
	"amberkeystone/core/hours"
	"amberkeystone/core/image"
	"amberkeystone/core/panel"
	"amberkeystone/core/prove"
	"amberkeystone/core/site"
)

func simulate(t *testing.T, args ...string) []simulated {
	out, err := run(simulateCommand(), append([]string{"--site", museum}, args...)...)
	require.NoError(t, err, out)
	var list []simulated
	lines := bufio.NewScanner(strings.NewReader(out))
	for lines.Scan() {
		var e simulated
		require.NoError(t, json.Unmarshal(lines.Bytes(), &e))
		list = append(list, e)
	}
	return list
}

// An evening at the staff stair: too early, in time, through, and the door held.
func TestSimulateAScript(t *testing.T) {
	path := filepath.Join(t.TempDir(), "evening.txt")
	require.NoError(t, os.WriteFile(path, []byte(`# Tomas cleans in the evening
2026-11-26T17:59:50-04:00, Office riser, Tomas Okafor at Staff stair
2026-11-26T18:00:00-04:00, Office riser, Tomas Okafor at Staff stair
2026-11-26T18:00:02-04:00, Office riser, open Staff stair
2026-11-26T18:02:00-04:00, Office riser, close Staff stair
`), 0o600))
	var said []string
	for _, e := range simulate(t, "--from", "2026-11-26T17:59:00-04:00", "--to", "2026-11-26T18:10:00-04:00", "--script",
		path) {
		if e.Door == "Staff stair" && e.Kind != "mode" {
			said = append(said, e.At[11:19]+" "+e.Words+" "+e.Person)
		}
	}
	assert.Equal(t, []string{
		"17:59:50 Refused: outside hours Tomas Okafor", "18:00:00 Granted Tomas Okafor", "18:00:02 Opened Tomas Okafor",
		"18:00:02 Went through Tomas Okafor", "18:00:47 Held open soon ", "18:01:02 Door held open ", "18:02:00 Closed ",
		"18:02:00 Held-open ended ",
	}, said)
}

// An evening at the shop: not armed while its shutter stands open, armed by two reads, an intruder, disarmed by two
// reads of somebody who may; and water on a floor that sounds at another controller.
func TestSimulateAnAlarmArea(t *testing.T) {
	path := filepath.Join(t.TempDir(), "shop.txt")
	require.NoError(t, os.WriteFile(path, []byte(`2026-11-24T17:40:00-04:00, North riser, open Shop shutter
2026-11-24T17:40:10-04:00, North riser, arm Museum shop
2026-11-24T17:40:20-04:00, North riser, close Shop shutter
2026-11-24T17:41:00-04:00, North riser, Sunniva Lindqvist at Shop shutter
2026-11-24T17:41:02-04:00, North riser, Sunniva Lindqvist at Shop shutter
2026-11-24T17:42:00-04:00, North riser, press Glass break, shop
2026-11-24T17:43:00-04:00, North riser, Ines Marrow at Shop shutter
2026-11-24T17:43:01-04:00, North riser, Ines Marrow at Shop shutter
2026-11-24T17:44:00-04:00, North riser, arm Museum shop without Glass break, shop
2026-11-24T17:45:00-04:00, Collections room, press Water on the floor
`), 0o600))
	var said []string
	for _, e := range simulate(t, "--from", "2026-11-24T17:30:00-04:00", "--to", "2026-11-24T17:50:00-04:00", "--script",
		path) {
		if e.Rule == "Museum shop" {
			said = append(said,
				strings.TrimSpace(e.At[11:19]+" "+e.Kind+" "+strings.Join(append(append(e.StandOpen, e.Left...), e.Person), " ")))
		}
	}
	assert.Equal(t, []string{
		"17:40:10 not-armed Shop shutter", "17:41:02 arming Sunniva Lindqvist", "17:41:32 armed Sunniva Lindqvist",
		"17:42:00 intrusion", "17:43:01 disarmed Ines Marrow", "17:43:01 intrusion-ended",
		"17:44:00 arming Glass break, shop", "17:44:30 armed Glass break, shop",
	}, said)
}

func TestSimulateRefuses(t *testing.T) {
	path := filepath.Join(t.TempDir(), "late.txt")
	require.NoError(t, os.WriteFile(path, []byte("2027-11-26T17:59:50-04:00, Office riser, network lost\n"), 0o600))
	for _, c := range []struct {
		args []string
		says string
	}{
		{[]string{"--from", "2026-11-26T18:00:00Z", "--to", "2026-11-26T17:00:00Z"}, "not after"},
		{[]string{"--from", "2026-11-26T18:00:00Z", "--to", "2027-01-01T17:00:00Z", "--script", path}, "not all between"},
		{[]string{"--from", "2026-11-26T18:00:00Z", "--to", "2027-01-01T17:00:00Z", "--script", "nowhere"}, "no such file"},
		{[]string{"--from", "2026-11-26T18:00:00Z", "--to", "2056-01-01T17:00:00Z"}, "twenty years"},
	} {
		_, err := run(simulateCommand(), append([]string{"--site", museum}, c.args...)...)
		assert.ErrorContains(t, err, c.says)
	}
}

// Two controllers of the museum over a year in which people come every day: numbers without gaps, in the order of time,
// and every pass ends exactly once.
func TestAYearAtTheMuseum(t *testing.T) {
	from, to := time.Date(2026, 1, 1, 4, 0, 0, 0, time.UTC), time.Date(2027, 1, 1, 4, 0, 0, 0, time.UTC)
	b, err := book(museum, from, to)
	require.NoError(t, err)
	two := b.Config.Controllers[:2]
	seq, open, granted := map[site.ID]uint64{}, map[site.ID]int{}, 0
	var last hours.Instant
	w := prove.NewWorld(b, hours.At(from), image.Secrets{PINKey: plainKey}, func(c site.ID, e *pass.Fact) {
		seq[c]++
		require.Equal(t, seq[c], e.Seq)
		require.GreaterOrEqual(t, e.At, last)
		last = e.At
		switch e.Kind {
		case pass.WasGranted:
			granted++
			open[e.Door]++
		case pass.Entered, pass.NotTaken:
			open[e.Door]--
			require.GreaterOrEqual(t, open[e.Door], 0, "one more pass ended than was granted")
		}
	}, two[0].ID, two[1].ID)
	r := rand.New(rand.NewPCG(7, 8))
	for at := hours.At(from); at < hours.At(to); at = at.Add(time.Duration(r.IntN(3600)+1) * time.Second) {
		d := b.Config.Doors[r.IntN(len(b.Config.Doors))]
		p := b.Config.People[r.IntN(len(b.Config.People))]
		if d.ControllerID != two[0].ID && d.ControllerID != two[1].ID || len(p.Credentials) == 0 ||
			p.Credentials[0].Kind != site.Card {
			continue
		}
		bits, err := encode(p.Credentials[0])
		require.NoError(t, err)
		leaf := func(open bool) panel.Input {
			return panel.Input{Kind: panel.Reading, Point: d.Wired().Contact, Circuit: d.ContactWire().Circuit(open)}
		}
		require.NoError(t, w.Do(at, d.ControllerID, panel.Input{Kind: panel.Read, Point: d.Wired().In, Bits: bits}))
		if r.IntN(3) > 0 {
			require.NoError(t, w.Do(at+1500, d.ControllerID, leaf(true)))
			require.NoError(t, w.Do(at+4500, d.ControllerID, leaf(false)))
		}
	}
	w.Run(hours.At(to) + 60_000)
	assert.Greater(t, granted, 1000)
	for door, n := range open {
		assert.Zero(t, n, "door %d: passes that never ended", door)
	}
}

// encode is what a reader reads of a card.
func encode(c site.Credential) (cards.Bits, error) {
	facility, number, _ := c.Card()
	return cards.ByName(c.Format).Encode(facility, number)
}

package main

import (
	"bytes"
	"encoding/json"
	"testing"

	"github.com/spf13/cobra"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

const museum = "../../demo/site.json"

func run(c *cobra.Command, args ...string) (string, error) {
	var out bytes.Buffer
	c.SetOut(&out)
	c.SetErr(&out)
	c.SilenceUsage, c.SilenceErrors = true, true
	c.SetArgs(args)
	err := c.Execute()
	return out.String(), err
}

// The question of the design, asked of the demo's site file alone.
func TestAsk(t *testing.T) {
	out, err := run(askCommand(), "--site", museum, "--person", "Tomas Okafor", "--door", "Staff stair", "--at",
		"2026-11-26T17:59:50-04:00")
	assert.ErrorIs(t, err, errAnswerNo)
	var a struct {
		Granted                  bool
		Reason, Mend, Next, With string
		Trace                    []struct{ Check string }
	}
	require.NoError(t, json.Unmarshal([]byte(out), &a))
	assert.False(t, a.Granted)
	assert.Equal(t, "outside-hours", a.Reason)
	assert.Equal(t, "2026-11-26T18:00:00-04:00", a.Next)
	assert.Contains(t, a.Mend, "Widen Cleaning evenings")
	assert.Len(t, a.Trace, 6)

	_, err = run(askCommand(), "--site", museum, "--person", "tomas okafor", "--door", "Staff stair", "--at",
		"2026-11-26T18:00:00-04:00")
	assert.NoError(t, err, "case of letters does not matter")
	for args, says := range map[[3]string]string{
		{"Nobody", "Staff stair", "2026-11-26T18:00:00-04:00"}:  `there is no person "Nobody"; there are: `,
		{"Tomas Okafor", "Cellar", "2026-11-26T18:00:00-04:00"}: `there is no door "Cellar"`,
		{"Tomas Okafor", "Staff stair", "tonight"}:              "write it as 2026-11-28T16:59:50-04:00",
	} {
		_, err = run(askCommand(), "--site", museum, "--person", args[0], "--door", args[1], "--at", args[2])
		assert.ErrorContains(t, err, says)
	}
}

// The Boathouse is half an hour ahead: its door goes free by its own clock.
func TestHours(t *testing.T) {
	out, err := run(hoursCommand(), "--site", museum, "--door", "Slipway gate", "--from", "2026-11-28T12:00:00-03:30",
		"--to", "2026-11-28T20:00:00-03:30")
	require.NoError(t, err)
	var list []period
	require.NoError(t, json.Unmarshal([]byte(out), &list))
	assert.Equal(t, []period{
		{"2026-11-28T12:00:00-03:30", "2026-11-28T16:00:00-03:30", "free"}, {"2026-11-28T16:00:00-03:30", "2026-11-28T20:00:00-03:30", "card"},
	}, list)
	list = nil
	out, err = run(hoursCommand(), "--site", museum, "--schedule", "Night rounds", "--from", "2026-10-31T12:00:00-03:00",
		"--to", "2026-11-01T12:00:00-04:00")
	require.NoError(t, err)
	require.NoError(t, json.Unmarshal([]byte(out), &list))
	assert.Equal(t, []period{{From: "2026-10-31T21:00:00-03:00", To: "2026-11-01T07:00:00-04:00"}}, list,
		"eleven hours, the night the clocks change")
	for _, args := range [][]string{{"--door", "Cellar"}, {"--door", "Quay entrance", "--schedule", "Always"}, {}} {
		_, err = run(hoursCommand(),
			append([]string{"--site", museum, "--from", "2026-10-31T12:00:00Z", "--to", "2026-11-01T12:00:00Z"}, args...)...)
		assert.Error(t, err)
	}
	_, err = run(hoursCommand(), "--site", museum, "--door", "Quay entrance", "--from", "2026-11-01T12:00:00Z", "--to",
		"2026-10-01T12:00:00Z")
	assert.ErrorContains(t, err, "not after")
}

func TestCheck(t *testing.T) {
	out, err := run(checkCommand(), museum, "--at", "2026-11-23T18:00:00-04:00")
	require.ErrorIs(t, err, errAnswerNo, "the demo has honest mistakes in its hardware")
	assert.Contains(t, out, "24 doors, 60 people, 12 levels; it reads well, 29 findings")
	assert.Contains(t, out, "wrong  door, Slipway gate: The lock of Slipway gate gets 10.00 V and needs 10.8 V")
	assert.Contains(t, out, "untidy holiday, Regatta Day: Regatta Day changes nothing at Boathouse")
	assert.Contains(t, out, "risky  plan, Loading dock: Loading dock has no answer for")
	_, err = run(checkCommand(), museum, "--at", "soon")
	assert.ErrorContains(t, err, "is not an instant")
	_, err = run(checkCommand(), "nowhere.json")
	assert.Error(t, err)
}

func TestOpenAPI(t *testing.T) {
	out, err := run(openapiCommand())
	require.NoError(t, err)
	var doc struct{ OpenAPI string }
	require.NoError(t, json.Unmarshal([]byte(out), &doc))
	assert.Equal(t, "3.1.0", doc.OpenAPI)
}

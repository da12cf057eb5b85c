package main

import (
	"bufio"
	"encoding/json"
	"errors"
	"fmt"
	"os"
	"time"

	"amberkeystone/core/pass"

	"github.com/spf13/cobra"

	"amberkeystone/core/hours"
	"amberkeystone/core/image"
	"amberkeystone/core/prove"
	"amberkeystone/core/site"
	"amberkeystone/formats/script"
)

// simulated is an event as simulate prints it, a line each.
type simulated struct {
	At         string `json:"at"`
	Controller string `json:"controller"`
	Seq        uint64 `json:"seq"`
	Kind       string `json:"kind"`
	Door       string `json:"door,omitempty"`
	Out        bool   `json:"out,omitempty"`
	Person     string `json:"person,omitempty"`
	Reason     string `json:"reason,omitempty"`
	Mode       string `json:"mode,omitempty"`
	Level      string `json:"level,omitempty"`
	Next       string `json:"next,omitempty"`
	Pass       uint64 `json:"pass,omitempty"` // the seq of the line that began the pass which this one goes on
	Point      string `json:"point,omitempty"`
	Words      string `json:"words"`
	Detail     string `json:"detail,omitempty"`

	Rule      string   `json:"rule,omitempty"` // a lockdown, an alarm area, a reaction …
	Input     string   `json:"input,omitempty"`
	StandOpen []string `json:"standOpen,omitempty"` // what kept an alarm area from being armed
	Left      []string `json:"left,omitempty"`      // what it is armed without
}

// describe puts an event into words as a server does that knows everybody.
func describe(b *prove.Book, controller site.ID, e *pass.Fact) simulated {
	z := b.Clock(controller)
	b.Recognise(e)
	out := simulated{
		At:         z.Time(e.At).Format("2006-01-02T15:04:05.999Z07:00"),
		Controller: b.Name(controller),
		Seq:        e.Seq,
		Kind:       e.Kind.String(),
		Out:        e.Out,
		Pass:       e.Pass,
		Point:      e.Point,
		Words:      b.Headline(e),
		Detail:     b.Detail(e),
	}
	for _, id := range e.StandOpen {
		out.StandOpen = append(out.StandOpen, b.Name(id))
	}
	for _, id := range e.Left {
		out.Left = append(out.Left, b.Name(id))
	}
	if e.Rule != 0 {
		out.Rule = b.Name(e.Rule)
	}
	if e.Input != 0 {
		out.Input = b.Name(e.Input)
	}
	if e.Door != 0 {
		out.Door, out.Mode = b.Name(e.Door), e.Mode.String()
	}
	if e.Person != 0 {
		out.Person = b.Name(e.Person)
	}
	if e.Level != 0 {
		out.Level = b.Name(e.Level)
	}
	if e.Reason != pass.NoReason {
		out.Reason = e.Reason.String()
	}
	if e.Next != 0 {
		out.Next = z.Time(e.Next).Format(time.RFC3339)
	}
	return out
}

func simulateCommand() *cobra.Command {
	var file, from, to, play string
	c := &cobra.Command{
		Use:   "simulate",
		Short: "Run the controllers of a site file in simulated time and print what they say, a JSON object a line",
		Long: `Run the controllers of a site file in simulated time, from one instant to another, and print every event as a JSON object on a line of its own.

A script says what people do, a line each: the instant, the controller, what. For example
  2026-11-26T18:00:05-04:00, Office riser, Tomas Okafor at Staff stair
  2026-11-26T18:00:07-04:00, Office riser, open Staff stair
Also: card 42-12345 at DOOR, keys 4829# at DOOR, each with "out" at the end for the reader out; close, press and release DOOR; hold DOOR in MODE [until INSTANT], end hold DOOR; lockdown [DOOR], end lockdown [DOOR]; fire [DOOR], end fire [DOOR]; arm AREA [without DOOR], disarm AREA; network lost, network back. With "all" for the controller a hold, a lockdown or a fire release goes to all controllers, to those that are cut off when they are back.`,
		Args: cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			t0, t1, err := span(from, to)
			if err != nil {
				return err
			}
			b, err := book(file, t0, t1)
			if err != nil {
				return err
			}
			acts, err := readScript(play, b.Config, t0, t1)
			if err != nil {
				return err
			}
			out := bufio.NewWriter(c.OutOrStdout())
			enc := json.NewEncoder(out)
			enc.SetEscapeHTML(false)
			var failed error
			w := prove.NewWorld(
				b,
				hours.At(t0),
				image.Secrets{PINKey: plainKey},
				func(controller site.ID, e *pass.Fact) {
					failed = errors.Join(failed, enc.Encode(describe(b, controller, e)))
				},
			)
			for _, a := range acts {
				do := func() error { return w.Do(a.At, a.Controller, a.Input) }
				if a.Controller == 0 {
					do = func() error { return w.Order(a.At, a.Input) }
				}
				if err := do(); err != nil {
					return err
				}
			}
			w.Run(hours.At(t1))
			return errors.Join(failed, out.Flush())
		},
	}
	c.Flags().StringVar(&file, "site", "", "the site file")
	c.Flags().StringVar(&from, "from", "", "first instant, RFC 3339")
	c.Flags().StringVar(&to, "to", "", "last instant, RFC 3339")
	c.Flags().StringVar(&play, "script", "", "what people do; left out: nobody comes")
	for _, f := range []string{"site", "from", "to"} {
		_ = c.MarkFlagRequired(f) // fails only for a flag that does not exist
	}
	return c
}

// readScript reads a script, and refuses acts outside the time that is simulated.
func readScript(path string, c *site.Config, from, to time.Time) ([]script.Act, error) {
	if path == "" {
		return nil, nil
	}
	b, err := os.ReadFile(path)
	if err != nil {
		return nil, err
	}
	acts, err := script.Parse(string(b), c)
	if err != nil {
		return nil, fmt.Errorf("%s, %w", path, err)
	}
	if n := len(acts); n > 0 && (acts[0].At < hours.At(from) || acts[n-1].At > hours.At(to)) {
		return nil, fmt.Errorf("%s: it goes from %s to %s, which is not all between --from and --to", path,
			acts[0].At.Time().Format(time.RFC3339), acts[n-1].At.Time().Format(time.RFC3339))
	}
	return acts, nil
}

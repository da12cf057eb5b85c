package main

import (
	"cmp"
	"encoding/json"
	"errors"
	"fmt"
	"path/filepath"
	"strings"
	"time"

	"github.com/spf13/cobra"

	"amberkeystone/core/hours"
	"amberkeystone/core/prove"
	"amberkeystone/core/review"
	"amberkeystone/core/site"
	"amberkeystone/formats/sitefile"
)

// errAnswerNo ends ask and check with status 3 where the answer is no, so that scripts can tell.
var errAnswerNo = errors.New("refused")

// plainKey hashes the PINs of a site file that is asked without a server; any key does.
var plainKey = []byte("site file alone")

// book reads a site file; zones reach from before the first instant asked to after the last.
func book(path string, from, to time.Time) (*prove.Book, error) {
	b, _, err := bookNoting(path, from, to)
	return b, err
}

// bookNoting is book, with what stands in the file and counts for nothing.
func bookNoting(path string, from, to time.Time) (*prove.Book, []string, error) {
	c, notices, err := readSite(path, plainKey)
	if err != nil {
		return nil, nil, err
	}
	zones := map[site.ID]hours.Zone{}
	for _, x := range c.Controllers {
		loc, err := time.LoadLocation(x.Zone)
		if err != nil {
			return nil, nil, fmt.Errorf("controller %s: %q is not an IANA time zone", x.Name, x.Zone)
		}
		zones[x.ID] = hours.ZoneFrom(loc, hours.At(from.AddDate(0, 0, -2)), hours.At(to.AddDate(2, 0, 0)))
	}
	return prove.NewBook(c, zones), notices, nil
}

func named[T any](kind, name string, list []T, of func(T) (site.ID, string)) (site.ID, error) {
	var known []string
	for _, x := range list {
		id, n := of(x)
		if strings.EqualFold(n, name) {
			return id, nil
		}
		known = append(known, n)
	}
	return 0, fmt.Errorf("there is no %s %q; there are: %s", kind, name, strings.Join(known, ", "))
}

func findDoor(c *site.Config, name string) (site.ID, error) {
	return named("door", name, c.Doors, func(d site.Door) (site.ID, string) { return d.ID, d.Name })
}

func printJSON(c *cobra.Command, v any) error {
	enc := json.NewEncoder(c.OutOrStdout())
	enc.SetEscapeHTML(false)
	enc.SetIndent("", "  ")
	return enc.Encode(v)
}

func instant(name, text string) (time.Time, error) {
	t, err := time.Parse(time.RFC3339, text)
	if err != nil {
		return t, fmt.Errorf("--%s %q is not an instant; write it as 2026-11-28T16:59:50-04:00", name, text)
	}
	return t, nil
}

// span reads --from and --to.
func span(from, to string) (t0, t1 time.Time, err error) {
	if t0, err = instant("from", from); err != nil {
		return t0, t1, err
	}
	if t1, err = instant("to", to); err != nil {
		return t0, t1, err
	}
	switch {
	case !t0.Before(t1):
		return t0, t1, errors.New("--to is not after --from")
	case t1.Sub(t0) > 20*366*24*time.Hour:
		return t0, t1, errors.New("ask for twenty years at most")
	}
	return t0, t1, nil
}

func askCommand() *cobra.Command {
	var file, person, door, at string
	c := &cobra.Command{
		Use:   "ask",
		Short: "May this person pass this door at that moment, and why? Prints JSON; exits 3 on a refusal",
		Args:  cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			t, err := instant("at", at)
			if err != nil {
				return err
			}
			b, err := book(file, t, t)
			if err != nil {
				return err
			}
			d, err := findDoor(b.Config, door)
			if err != nil {
				return err
			}
			p, err := named(
				"person",
				person,
				b.Config.People,
				func(p *site.Person) (site.ID, string) { return p.ID, p.Name },
			)
			if err != nil {
				return err
			}
			a, err := b.Ask(p, d, hours.At(t))
			if err != nil {
				return err
			}
			out := struct {
				Person string `json:"person"`
				Door   string `json:"door"`
				At     string `json:"at"`
				prove.Answer
				Next string `json:"next,omitempty"`
			}{b.Name(p), b.Name(d), b.Zone(d).Time(hours.At(t)).Format(time.RFC3339), a, ""}
			if a.Next != 0 {
				out.Next = b.Zone(d).Time(a.Next).Format(time.RFC3339)
			}
			if err := printJSON(c, out); err != nil {
				return err
			}
			if !a.Granted {
				return errAnswerNo
			}
			return nil
		},
	}
	c.Flags().StringVar(&file, "site", "", "the site file")
	c.Flags().StringVar(&person, "person", "", "name of the person")
	c.Flags().StringVar(&door, "door", "", "name of the door")
	c.Flags().StringVar(&at, "at", "", "the moment, RFC 3339")
	for _, f := range []string{"site", "person", "door", "at"} {
		_ = c.MarkFlagRequired(f) // fails only for a flag that does not exist
	}
	return c
}

type period struct {
	From string `json:"from"`
	To   string `json:"to"`
	Mode string `json:"mode,omitempty"`
}

func hoursCommand() *cobra.Command {
	var file, schedule, door, from, to, zone string
	c := &cobra.Command{
		Use:   "hours",
		Short: "When is a schedule open, or what does a door ask? Prints JSON",
		Args:  cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			t0, t1, err := span(from, to)
			if err != nil {
				return err
			}
			if (schedule == "") == (door == "") {
				return errors.New("give either --schedule or --door")
			}
			b, err := book(file, t0, t1)
			if err != nil {
				return err
			}
			list, err := periods(b, schedule, door, zone, hours.At(t0), hours.At(t1))
			if err != nil {
				return err
			}
			return printJSON(c, list)
		},
	}
	c.Flags().StringVar(&file, "site", "", "the site file")
	c.Flags().StringVar(&schedule, "schedule", "", "name of a schedule")
	c.Flags().StringVar(&door, "door", "", "name of a door")
	c.Flags().StringVar(&from, "from", "", "first instant, RFC 3339")
	c.Flags().StringVar(&to, "to", "", "last instant, RFC 3339")
	c.Flags().StringVar(
		&zone,
		"zone",
		"",
		"IANA zone for a schedule; the first site's where left out (its holidays are the first site's)",
	)
	for _, f := range []string{"site", "from", "to"} {
		_ = c.MarkFlagRequired(f) // fails only for a flag that does not exist
	}
	return c
}

func periods(b *prove.Book, schedule, door, zone string, from, to hours.Instant) ([]period, error) {
	out := []period{}
	if door != "" {
		id, err := findDoor(b.Config, door)
		if err != nil {
			return nil, err
		}
		line := b.Line(id)
		for _, s := range line.Stretches(from, to) {
			out = append(
				out,
				period{line.Time(s.From).Format(time.RFC3339), line.Time(s.To).Format(time.RFC3339), s.Mode.String()},
			)
		}
		return out, nil
	}
	id, err := named(
		"schedule",
		schedule,
		b.Config.Schedules,
		func(s site.Schedule) (site.ID, string) { return s.ID, s.Name },
	)
	if err != nil {
		return nil, err
	}
	if zone == "" && len(b.Config.Sites) > 0 {
		zone = b.Config.Sites[0].Zone
	}
	loc, err := time.LoadLocation(zone)
	if err != nil {
		return nil, fmt.Errorf("--zone %q is not an IANA time zone", zone)
	}
	z := hours.ZoneFrom(loc, from.Add(-48*time.Hour), to.Add(2*366*24*time.Hour))
	local := hours.Local{Zone: &z}
	if len(b.Config.Sites) > 0 {
		local.Calendar = b.Times().Calendar(b.Config.Sites[0].ID)
	}
	for _, o := range b.Times().Schedules[id].Openings(local, from, to) {
		out = append(out, period{From: z.Time(o.From).Format(time.RFC3339), To: z.Time(o.To).Format(time.RFC3339)})
	}
	return out, nil
}

func exportCommand() *cobra.Command {
	var dir string
	c := &cobra.Command{
		Use:   "export",
		Short: "Print the configuration as a site file (PINs are not in it: they are stored hashed)",
		Args:  cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			st, err := openStore(dir)
			if err != nil {
				return err
			}
			defer st.Close()
			config, err := st.Load(c.Context())
			if err != nil {
				return err
			}
			b, err := sitefile.Write(config)
			if err != nil {
				return err
			}
			_, err = c.OutOrStdout().Write(b)
			return err
		},
	}
	c.Flags().StringVar(&dir, "data", "data", "folder of the database, such as "+filepath.Join("data", "demo"))
	return c
}

func checkCommand() *cobra.Command {
	var at string
	c := &cobra.Command{
		Use:   "check FILE",
		Short: "Say what is wrong with a site file, and what is risky or untidy in it; exits 3 where something is wrong",
		Args:  cobra.ExactArgs(1),
		RunE: func(c *cobra.Command, args []string) error {
			t, err := instant("at", cmp.Or(at, time.Now().Format(time.RFC3339)))
			if err != nil {
				return err
			}
			b, notices, err := bookNoting(args[0], t, t)
			if err != nil {
				return err
			}
			list := review.Hours(b.Config, b.Times(), b.Clock, hours.At(t))
			list = append(list, review.Hardware(b.Config, nil, hours.At(t))...)
			list = append(list, review.People(b.Config, b.Effective, b.Times(), b.Clock, hours.At(t), review.Known{})...)
			list = append(list, review.Rules(b.Config, b.Effective, b.Times(), b.Clock, hours.At(t))...)
			list = review.InOrder(list)
			said := "nothing to say of it"
			if n := len(list); n > 0 {
				said = fmt.Sprintf("%d findings", n)
			}
			out := c.OutOrStdout()
			fmt.Fprintf(
				out,
				"%s: %d doors, %d people, %d levels; it reads well, %s\n",
				b.Config.Settings.Name,
				len(b.Config.Doors),
				len(b.Config.People),
				len(b.Config.Levels),
				said,
			)
			for _, n := range notices {
				fmt.Fprintf(out, "%-6s %s\n", "note", n)
			}
			wrong := false
			for _, f := range list {
				wrong = wrong || f.Severity == review.Wrong
				fmt.Fprintf(out, "%-6s %s, %s: %s %s\n", f.Severity, f.Kind, f.Name, f.Words, f.Mend)
			}
			if wrong {
				return errAnswerNo
			}
			return nil
		},
	}
	c.Flags().StringVar(&at, "at", "", "the moment from which findings look ahead; empty: now")
	return c
}

// Package crash kills the server and the stand-in controllers at random moments under load, and checks what must hold
// afterwards: every event that a controller wrote is stored once and in order, every acknowledged save is there and in
// force, no configuration is half saved, and each controller holds what it is said to hold.
//
// Read world.go (the processes and what is asked of them), load.go (what goes on when they are killed), check.go.
package crash

import (
	"context"
	"errors"
	"fmt"
	"io"
	"math/rand/v2"
	"os"
	"path/filepath"
	"time"
)

// Options are how long and with what it is done.
type Options struct {
	Bin    string // the built program
	Dir    string // a folder of its own, emptied first
	Port   int    // the server's; the rack has the ones above
	Rounds int
	Seed   uint64
	Log    io.Writer
}

// Report is what came of it.
type Report struct {
	Rounds, ServerKills, RackKills int
	Saves, Events                  int // acknowledged saves; events on the controllers' disks that were looked for
	Findings                       []string
	Took                           time.Duration
}

func (r *Report) find(format string, args ...any) {
	r.Findings = append(r.Findings, fmt.Sprintf(format, args...))
}

func (r Report) String() string {
	return fmt.Sprintf(
		"%d rounds in %s: the server was killed %d times, the rack %d times; %d acknowledged saves and %d events were looked for; %d findings",
		r.Rounds,
		r.Took.Round(time.Second),
		r.ServerKills,
		r.RackKills,
		r.Saves,
		r.Events,
		len(r.Findings),
	)
}

// Run does the rounds. The error says why it could not be done; what was found stands in the report.
func Run(ctx context.Context, o Options) (report Report, err error) {
	begin := time.Now()
	r := rand.New(rand.NewPCG(o.Seed, 1))
	if err := errors.Join(os.RemoveAll(o.Dir), os.MkdirAll(o.Dir, 0o700)); err != nil {
		return report, err
	}
	w := &world{
		Options: o,
		data:    filepath.Join(o.Dir, "data"),
		saved:   map[int64]*saved{},
		seen:    map[place]string{},
		report:  &report,
	}
	defer w.stop()
	if err := w.setUp(ctx); err != nil {
		return report, fmt.Errorf("setting up: %w", err)
	}
	for round := range o.Rounds {
		if err := w.round(ctx, r); err != nil {
			return report, fmt.Errorf("round %d: %w", round+1, err)
		}
		report.Rounds++
		report.Took = time.Since(begin)
		fmt.Fprintf(o.Log, "round %d: %s\n", round+1, report)
	}
	return report, nil
}

// round loads, kills one or both at a random moment, starts them again, and checks.
func (w *world) round(ctx context.Context, r *rand.Rand) error {
	load := w.load(ctx, rand.New(rand.NewPCG(r.Uint64(), 2)))
	time.Sleep(time.Duration(200+r.IntN(900)) * time.Millisecond)
	switch r.IntN(3) {
	case 0:
		w.killServer()
	case 1:
		w.killRack()
	default:
		if r.IntN(2) == 0 {
			w.killServer()
			w.killRack()
		} else {
			w.killRack()
			time.Sleep(time.Duration(r.IntN(40)) * time.Millisecond)
			w.killServer()
		}
	}
	time.Sleep(time.Duration(r.IntN(150)) * time.Millisecond) // the other goes on for a while
	load.end()
	if err := w.readLogs(); err != nil {
		return err
	}
	if err := w.start(ctx); err != nil {
		return err
	}
	return w.check(ctx)
}

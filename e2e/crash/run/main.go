// Command run does the rounds of package crash and prints what came of them; it exits 1 where something was found.
package main

import (
	"context"
	"flag"
	"fmt"
	"os"
	"path/filepath"
	"time"

	"amberkeystone/e2e/crash"
)

func main() {
	o := crash.Options{Log: os.Stdout}
	flag.StringVar(&o.Bin, "bin", "bin/amber-keystone", "the built program")
	flag.StringVar(&o.Dir, "dir", filepath.Join(os.TempDir(), "keystone-crash"), "a folder of its own, emptied first")
	flag.IntVar(&o.Port, "port", 26000, "of the server; the rack has the ones above")
	flag.IntVar(&o.Rounds, "rounds", 100, "how often")
	flag.Uint64Var(&o.Seed, "seed", uint64(time.Now().UnixNano()), "to do the same again")
	flag.Parse()
	report, err := crash.Run(context.Background(), o)
	fmt.Printf("%s (seed %d)\n", report, o.Seed)
	for _, f := range report.Findings {
		fmt.Println("found:", f)
	}
	if err != nil {
		fmt.Fprintln(os.Stderr, err)
	}
	if err != nil || len(report.Findings) > 0 {
		os.Exit(1)
	}
}

// Command amber-keystone is the application: the server, the stand-in controllers, the demo, and questions
// asked of a site file alone.
package main

import (
	"errors"
	"fmt"
	"os"
	_ "time/tzdata" // where the system has no zone data of its own

	"github.com/spf13/cobra"
)

func main() {
	root := &cobra.Command{
		Use:           "amber-keystone",
		Short:         "Decide how the doors of a building behave, and prove it",
		SilenceUsage:  true,
		SilenceErrors: true,
	}
	root.AddCommand(
		serveCommand(),
		demoCommand(),
		rackCommand(),
		askCommand(),
		hoursCommand(),
		exportCommand(),
		checkCommand(),
		simulateCommand(),
		openapiCommand(),
	)
	if err := root.Execute(); err != nil {
		fmt.Fprintln(os.Stderr, "amber-keystone:", err)
		if errors.Is(err, errAnswerNo) {
			os.Exit(3)
		}
		os.Exit(1)
	}
}

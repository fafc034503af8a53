// Command ruvo is the whole application: the server with its front ends, the
// demo business, and the commands that look after the data.
package main

import (
	"context"
	"fmt"
	"os"
	"os/signal"
	"syscall"

	"github.com/spf13/cobra"
)

func main() {
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	root := &cobra.Command{
		Use:           "ruvo",
		Short:         "Sell services and digital goods: what is asked, what it costs, when it happens, what must be done",
		SilenceUsage:  true,
		SilenceErrors: true,
	}
	root.AddCommand(serveCommand(), demoCommand(), checkCommand(), userCommand())
	if err := root.ExecuteContext(ctx); err != nil {
		fmt.Fprintln(os.Stderr, "ruvo:", err)
		os.Exit(1)
	}
}

// data adds the flag that names the data folder.
func data(c *cobra.Command, folder *string) {
	preset := os.Getenv("RUVO_DATA")
	if preset == "" {
		preset = "ruvo-data"
	}
	c.Flags().StringVar(folder, "data", preset, "the folder that holds all data (RUVO_DATA)")
}

package main

import (
	"errors"
	"fmt"
	"time"

	"github.com/spf13/cobra"

	"ruvo/internal/audit"
	"ruvo/internal/core/words"
	"ruvo/internal/store"
)

func checkCommand() *cobra.Command {
	var folder string
	c := &cobra.Command{
		Use:   "check",
		Short: "Compute every stored order again and report differences",
		Args:  cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			s, err := store.Open(folder)
			if err != nil {
				return err
			}
			defer s.Close()
			lines, found, err := audit.Run(c.Context(), s, time.Now())
			if err != nil {
				return err
			}
			for _, d := range found {
				fmt.Fprintf(c.OutOrStdout(), "order %d", d.Order)
				if d.Line != 0 {
					fmt.Fprintf(c.OutOrStdout(), ", line %d", d.Line)
				}
				fmt.Fprintf(c.OutOrStdout(), ": %s\n", d.Said(words.English))
			}
			fmt.Fprintf(c.OutOrStdout(), "%d order lines computed again, %d differences\n", lines, len(found))
			if len(found) > 0 {
				return errors.New("stored orders differ from what they compute to")
			}
			return nil
		},
	}
	data(c, &folder)
	return c
}

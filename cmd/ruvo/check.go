package main

import (
	"context"
	"errors"
	"fmt"
	"time"

	"github.com/spf13/cobra"

	"ruvo/internal/audit"
	"ruvo/internal/core/words"
	"ruvo/internal/port"
	"ruvo/internal/standin/cards"
	"ruvo/internal/store"
)

func checkCommand() *cobra.Command {
	var folder string
	c := &cobra.Command{
		Use:   "check",
		Short: "Compute every stored order again, compare with the payment service's list, and report differences",
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
			list, err := listed(c.Context(), s.Folder())
			if err != nil {
				return fmt.Errorf("the payment service's list: %w", err)
			}
			moved, err := audit.Service(c.Context(), s, list)
			if err != nil {
				return err
			}
			found = append(found, moved...)
			for _, d := range found {
				what := "no order"
				if d.Order != 0 {
					what = fmt.Sprintf("order %d", d.Order)
				}
				fmt.Fprint(c.OutOrStdout(), what)
				if d.Line != 0 {
					fmt.Fprintf(c.OutOrStdout(), ", line %d", d.Line)
				}
				fmt.Fprintf(c.OutOrStdout(), ": %s\n", d.Said(words.English))
			}
			fmt.Fprintf(c.OutOrStdout(), "%d order lines computed again, %d movements of the payment service compared, %d differences\n", lines, len(list), len(found))
			if len(found) > 0 {
				return errors.New("stored orders differ from what they compute to")
			}
			return nil
		},
	}
	data(c, &folder)
	return c
}

// listed gives the payment service's own list of what it moved.
func listed(ctx context.Context, folder string) ([]port.Moved, error) {
	bank, err := cards.Open(folder, time.Now)
	if err != nil {
		return nil, err
	}
	list, err := bank.Moved(ctx)
	return list, errors.Join(err, bank.Close())
}

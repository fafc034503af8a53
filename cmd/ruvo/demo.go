package main

import (
	"errors"
	"fmt"
	"log/slog"
	"net"
	"os"
	"path/filepath"
	"syscall"
	"time"

	"github.com/spf13/cobra"

	"ruvo/demo"
	"ruvo/internal/desk"
	"ruvo/internal/rehearsal"
	"ruvo/internal/standin"
	"ruvo/internal/standin/cards"
	"ruvo/internal/store"
	"ruvo/internal/web"
)

func demoCommand() *cobra.Command {
	var folder, at string
	var port, orders int
	var fresh, limits bool
	c := &cobra.Command{
		Use:   "demo",
		Short: "Serve the sample business",
		Args:  cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			slog.SetDefault(slog.New(slog.NewTextHandler(os.Stderr, &slog.HandlerOptions{Level: slog.LevelWarn})))
			now, err := clock(at)
			if err != nil {
				return err
			}
			if fresh {
				if err := forget(folder); err != nil {
					return err
				}
			}
			s, err := store.Open(folder)
			if err != nil {
				return err
			}
			defer s.Close()
			l, err := listen(port)
			if err != nil {
				return err
			}
			address := "http://" + l.Addr().String()
			if err := demo.Fill(c.Context(), s, now(), address); err != nil {
				return fmt.Errorf("filling in the sample business: %w", err)
			}
			if orders > 0 {
				if err := multiply(c, s, orders); err != nil {
					return err
				}
			}
			fmt.Printf("\n  The shop:  %s\n  The desk:  %s/desk\n  Sign in:   %s  %s\n  Payments:  simulated; their page says which cards there are, and %s%s how it behaves\n\n  Ctrl-C stops; the data stays in %s\n\n",
				address, address, demo.Email, demo.Password, address, cards.Control, folder)
			return serve(c.Context(), s, l, running{now: now, limits: limits, idle: desk.DefaultIdle, demo: true})
		},
	}
	c.Flags().StringVar(&folder, "data", env("RUVO_DATA", filepath.Join(".data", "demo")), "the folder that holds all data (RUVO_DATA)")
	c.Flags().IntVar(&port, "port", 8080, "where to listen on 127.0.0.1; another port when it is taken")
	c.Flags().StringVar(&at, "now", "", `what the clock says at the start, such as 2026-11-24T09:30:00+01:00`)
	c.Flags().IntVar(&orders, "orders", 0, "add copies of the sample's orders until there are about so many, to see a desk with many")
	c.Flags().BoolVar(&fresh, "fresh", false, "forget the data and start over")
	c.Flags().BoolVar(&limits, "limits", true, "keep senders to the limits of docs/security.md; off only to measure")
	return c
}

// multiply adds copies of the sample's orders, once.
func multiply(c *cobra.Command, s *store.Store, orders int) error {
	began := time.Now()
	err := s.Multiply(c.Context(), orders, func(percent int) {
		fmt.Fprintf(c.ErrOrStderr(), "\r  Copies of orders: %d %%", percent)
	})
	if err != nil {
		return fmt.Errorf("making copies of the sample's orders: %w", err)
	}
	fmt.Fprintf(c.ErrOrStderr(), " in %s\n", time.Since(began).Round(time.Second))
	return nil
}

// clock makes the one clock of the server: the machine's, or one that was set
// at the start and runs on from there.
func clock(at string) (func() time.Time, error) {
	if at == "" {
		return time.Now, nil
	}
	set, err := time.Parse(time.RFC3339, at)
	if err != nil {
		return nil, fmt.Errorf("--now must read like 2026-11-24T09:30:00+01:00: %w", err)
	}
	start := time.Now()
	return func() time.Time { return set.Add(time.Since(start)) }, nil
}

// forget removes what Ruvo keeps in a data folder, and nothing else from it.
func forget(folder string) error {
	for _, file := range []string{store.File, cards.File} {
		for _, end := range []string{"", "-wal", "-shm"} {
			if err := os.Remove(filepath.Join(folder, file+end)); err != nil && !errors.Is(err, os.ErrNotExist) {
				return err
			}
		}
	}
	for _, part := range []string{web.Uploads(folder), web.Pictures(folder), standin.PostBox(folder), rehearsal.Folder(folder)} {
		if err := os.RemoveAll(part); err != nil {
			return err
		}
	}
	return nil
}

// listen takes the port, or any free one when it is taken.
func listen(port int) (net.Listener, error) {
	l, err := net.Listen("tcp", fmt.Sprintf("127.0.0.1:%d", port))
	if errors.Is(err, syscall.EADDRINUSE) {
		return net.Listen("tcp", "127.0.0.1:0")
	}
	return l, err
}

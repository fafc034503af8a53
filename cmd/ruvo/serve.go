package main

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"net/http"
	"os"
	"slices"
	"strconv"
	"strings"
	"sync"
	"time"

	"github.com/spf13/cobra"

	"ruvo/internal/core/calendar"
	"ruvo/internal/message"
	"ruvo/internal/standin"
	"ruvo/internal/store"
	"ruvo/internal/web"
	front "ruvo/web"
)

func serveCommand() *cobra.Command {
	var folder, addr, address string
	var first store.Business
	var secure bool
	c := &cobra.Command{
		Use:   "serve",
		Short: "Serve the shop and the desk",
		Args:  cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			slog.SetDefault(slog.New(slog.NewJSONHandler(os.Stderr, nil)))
			s, err := store.Open(folder)
			if err != nil {
				return err
			}
			defer s.Close()
			if err := setUp(c.Context(), s, first, address); err != nil {
				return err
			}
			l, err := net.Listen("tcp", addr)
			if err != nil {
				return err
			}
			slog.Info("serving", "address", "http://"+l.Addr().String(), "data", folder)
			return serve(c.Context(), s, l, time.Now, secure)
		},
	}
	data(c, &folder)
	c.Flags().StringVar(&addr, "addr", env("RUVO_ADDR", "127.0.0.1:8080"), "where to listen (RUVO_ADDR)")
	c.Flags().StringVar(&address, "address", env("RUVO_ADDRESS", "http://127.0.0.1:8080"), "how customers reach the shop, for links in mails (RUVO_ADDRESS)")
	c.Flags().StringVar(&first.Name, "business", env("RUVO_BUSINESS", "My business"), "the business's name, taken at the first start (RUVO_BUSINESS)")
	c.Flags().StringVar(&first.Zone, "zone", env("RUVO_ZONE", "Europe/Berlin"), "its IANA time zone, taken at the first start (RUVO_ZONE)")
	c.Flags().StringVar(&first.Country, "country", env("RUVO_COUNTRY", "DE"), "whose public holidays it keeps, empty for none, taken at the first start (RUVO_COUNTRY)")
	c.Flags().BoolVar(&secure, "secure", envSet("RUVO_SECURE"), "browsers reach the server over TLS (RUVO_SECURE)")
	return c
}

func env(name, otherwise string) string {
	if v := os.Getenv(name); v != "" {
		return v
	}
	return otherwise
}

// envSet says whether a setting is on: anything but a word or number for no.
func envSet(name string) bool {
	v := os.Getenv(name)
	on, err := strconv.ParseBool(v)
	return v != "" && (on || err != nil)
}

// setUp makes the business's row at the first start and keeps its address
// current.
func setUp(ctx context.Context, s *store.Store, first store.Business, address string) error {
	if known := calendar.Countries(); first.Country != "" && !slices.Contains(known, first.Country) {
		return fmt.Errorf("--country must be empty or one of %s", strings.Join(known, ", "))
	}
	return s.Write(ctx, func(tx *store.Tx) error {
		b, err := tx.Business()
		if errors.Is(err, store.ErrNotFound) {
			b = first
			b.Language, b.Week, b.Few = "en", store.OfficeWeek(), 3
		} else if err != nil {
			return err
		}
		b.Address = address
		return tx.SaveBusiness(b)
	})
}

// grace is how long requests may take to end after a stop was asked for.
const grace = 10 * time.Second

// serve answers requests until the context ends, then lets those that run
// finish.
func serve(ctx context.Context, s *store.Store, l net.Listener, now func() time.Time, secure bool) error {
	handler, err := web.New(web.Config{Store: s, Payments: &standin.Cards{Store: s}, Now: now, Files: front.Files(), Secure: secure})
	if err != nil {
		return err
	}
	if err := handler.Attempts.Restarted(ctx); err != nil {
		// A service that cannot be reached must not keep the shop closed: it is
		// asked again while the server runs.
		slog.Error("asking about payments", "error", err)
	}
	ctx, cancel := context.WithCancel(ctx)
	defer cancel()
	var beside sync.WaitGroup
	beside.Go(func() { handler.Sweep(ctx, time.Hour) })
	beside.Go(func() { handler.Attempts.Run(ctx, time.Second) })
	beside.Go(func() {
		(&message.Postman{Store: s, Mailer: standin.Mail{}, Texter: standin.Texts{}, Now: now}).Run(ctx, 2*time.Second)
	})
	server := &http.Server{Handler: handler, ReadHeaderTimeout: 10 * time.Second, ReadTimeout: time.Minute, WriteTimeout: 10 * time.Minute, IdleTimeout: 2 * time.Minute}
	failed := make(chan error, 1)
	go func() { failed <- server.Serve(l) }()
	select {
	case err := <-failed:
		return fmt.Errorf("serving: %w", err)
	case <-ctx.Done():
	}
	slog.Info("stopping")
	last, stop := context.WithTimeout(context.WithoutCancel(ctx), grace)
	defer stop()
	err = server.Shutdown(last)
	beside.Wait()
	return err
}

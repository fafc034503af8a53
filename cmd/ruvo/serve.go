package main

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"net/netip"
	"os"
	"slices"
	"strconv"
	"strings"
	"sync"
	"time"

	"github.com/spf13/cobra"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/schedule"
	"ruvo/internal/desk"
	"ruvo/internal/limit"
	"ruvo/internal/message"
	"ruvo/internal/rehearsal"
	"ruvo/internal/standin"
	accounts "ruvo/internal/standin/bank"
	"ruvo/internal/standin/cards"
	"ruvo/internal/store"
	"ruvo/internal/web"
	front "ruvo/web"
)

func serveCommand() *cobra.Command {
	var folder, addr, address string
	var first store.Business
	var secure, limits bool
	var proxies []string
	var idle time.Duration
	c := &cobra.Command{
		Use:   "serve",
		Short: "Serve the shop and the desk",
		Args:  cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			slog.SetDefault(slog.New(slog.NewJSONHandler(os.Stderr, nil)))
			behind, err := networks(proxies)
			if err != nil {
				return err
			}
			if v := os.Getenv("RUVO_IDLE"); v != "" && !c.Flags().Changed("idle") {
				if idle, err = time.ParseDuration(v); err != nil {
					return fmt.Errorf("RUVO_IDLE must read like 60m, and is %q", v)
				}
			}
			if idle < time.Minute {
				return errors.New("--idle must be a minute at least, such as 60m")
			}
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
			return serve(c.Context(), s, l, running{now: time.Now, secure: secure, proxies: behind, idle: idle, limits: limits})
		},
	}
	data(c, &folder)
	c.Flags().StringVar(&addr, "addr", env("RUVO_ADDR", "127.0.0.1:8080"), "where to listen (RUVO_ADDR)")
	c.Flags().StringVar(&address, "address", env("RUVO_ADDRESS", "http://127.0.0.1:8080"), "how customers reach the shop, for links in mails (RUVO_ADDRESS)")
	c.Flags().StringVar(&first.Name, "business", env("RUVO_BUSINESS", "My business"), "the business's name, taken at the first start (RUVO_BUSINESS)")
	c.Flags().StringVar(&first.Zone, "zone", env("RUVO_ZONE", "Europe/Berlin"), "its IANA time zone, taken at the first start (RUVO_ZONE)")
	c.Flags().StringVar(&first.Country, "country", env("RUVO_COUNTRY", "DE"), "whose public holidays it keeps, empty for none, taken at the first start (RUVO_COUNTRY)")
	c.Flags().BoolVar(&secure, "secure", envSet("RUVO_SECURE"), "browsers reach the server over TLS (RUVO_SECURE)")
	c.Flags().StringSliceVar(&proxies, "proxies", envList("RUVO_PROXIES"), "addresses or networks of the proxies in front, whose X-Forwarded-For is believed, such as 127.0.0.1,10.0.0.0/8 (RUVO_PROXIES)")
	c.Flags().DurationVar(&idle, "idle", desk.DefaultIdle, "how long the desk may be left alone before one signs in again (RUVO_IDLE)")
	c.Flags().BoolVar(&limits, "limits", true, "keep senders to the limits of docs/security.md; off only to measure")
	return c
}

// running is how a server runs.
type running struct {
	now     func() time.Time
	secure  bool
	proxies []netip.Prefix
	idle    time.Duration
	limits  bool
	demo    bool // people at the desk tell the stand-in for payments how to behave
}

// networks reads addresses and networks.
func networks(list []string) ([]netip.Prefix, error) {
	var all []netip.Prefix
	for _, s := range list {
		if s = strings.TrimSpace(s); s == "" {
			continue
		}
		p, err := netip.ParsePrefix(s)
		if a, aerr := netip.ParseAddr(s); aerr == nil {
			p, err = a.Prefix(a.BitLen())
		}
		if err != nil {
			return nil, fmt.Errorf("--proxies: %q is no address and no network such as 10.0.0.0/8", s)
		}
		all = append(all, p)
	}
	return all, nil
}

func envList(name string) []string {
	if v := os.Getenv(name); v != "" {
		return strings.Split(v, ",")
	}
	return nil
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
			b.Language, b.Week, b.Few, b.LinkDays, b.Work = "en", store.OfficeWeek(), 3, 365, schedule.Usually()
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
func serve(ctx context.Context, s *store.Store, l net.Listener, r running) error {
	post := standin.Mail{Folder: standin.PostBox(s.Folder())}
	var limits *limit.Table
	if r.limits {
		limits = limit.Default(r.now)
	}
	bank, err := cards.Open(s.Folder(), r.now)
	if err != nil {
		return err
	}
	defer bank.Close()
	bank.Notices = "http://" + l.Addr().String() + web.NoticesPath
	simulated := &web.Simulated{Path: cards.Pages, Pages: bank}
	if r.demo {
		simulated.Desk, simulated.Control, simulated.Bank = cards.Control, bank.ControlPage(), accounts.Desk
	}
	stage := &rehearsal.Stage{Store: s, Files: front.Files(), Now: r.now, Secure: r.secure, Proxies: r.proxies, Address: "http://" + l.Addr().String()}
	defer stage.Close()
	handler, err := web.New(web.Config{
		Store: s, Payments: bank, Now: r.now, Files: front.Files(), Secure: r.secure, Proxies: r.proxies, Limits: limits, Idle: r.idle, Delivered: post.Text,
		Simulated: simulated, Stage: stage,
	})
	if err != nil {
		return err
	}
	stage.Enter = handler.Desk.Enter
	if err := handler.Attempts.Restarted(ctx); err != nil {
		// A service that cannot be reached must not keep the shop closed: it is
		// asked again while the server runs.
		slog.Error("asking about payments", "error", err)
	}
	ctx, cancel := context.WithCancel(ctx)
	defer cancel()
	var beside sync.WaitGroup
	beside.Go(func() { handler.Sweep(ctx, 5*time.Minute) })
	beside.Go(func() { handler.Attempts.Run(ctx, time.Second) })
	beside.Go(func() { handler.Clerk.Run(ctx, time.Second) })
	beside.Go(func() { bank.Run(ctx, time.Second) })
	beside.Go(func() { stage.Run(ctx, time.Hour) })
	beside.Go(func() { handler.ReadAnswers(ctx) })
	beside.Go(func() { handler.Waiting.Run(ctx, 5*time.Second) })
	beside.Go(func() {
		(&message.Postman{Store: s, Mailer: post, Texter: post, Now: r.now}).Run(ctx, 2*time.Second)
	})
	server := web.Listening(handler, web.Patience)
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

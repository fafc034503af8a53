// Package web is the outermost layer: routes, sessions, the API's handlers and
// the built front ends. It decodes, calls a use case, and encodes; it decides
// nothing.
package web

import (
	"context"
	"errors"
	"fmt"
	"io/fs"
	"log/slog"
	"net"
	"net/http"
	"net/netip"
	"path/filepath"
	"runtime/debug"
	"strings"
	"time"

	"github.com/labstack/echo/v5"
	"github.com/labstack/echo/v5/middleware"

	"ruvo/internal/banking"
	"ruvo/internal/core/money"
	"ruvo/internal/core/words"
	"ruvo/internal/desk"
	"ruvo/internal/docket"
	"ruvo/internal/handing"
	"ruvo/internal/limit"
	"ruvo/internal/message"
	"ruvo/internal/payment"
	"ruvo/internal/placing"
	"ruvo/internal/port"
	"ruvo/internal/problem"
	"ruvo/internal/shop"
	"ruvo/internal/store"
	"ruvo/internal/upload"
)

// currencyHeader is what a customer's browser says in which currency they wish to
// see prices, and to pay.
const currencyHeader = "Ruvo-Currency"

// turnHeader has the secrets of turns that a customer's browser keeps, with commas
// between them.
const turnHeader = "Ruvo-Turn"

// A Config is what a server is made of.
type Config struct {
	Store    *store.Store
	Payments port.Payments
	Now      func() time.Time
	Files    fs.FS // the built front ends
	// Secure says that browsers reach the server over TLS, so that cookies
	// are kept to it.
	Secure bool
	// Proxies are the networks of the proxies in front of the server, whose word
	// on where a request came from is taken.
	Proxies []netip.Prefix
	// Limits are what strangers may take; nil for no limits.
	Limits *limit.Table
	// Idle is how long somebody may leave the desk alone before they have to sign
	// in again; zero for the usual time.
	Idle time.Duration
	// Delivered shows what the stand-ins were given to deliver; nil when mail
	// really goes out.
	Delivered desk.Delivered
	// Simulated are stand-ins that people meet on pages of their own; nil when
	// none are simulated.
	Simulated *Simulated
	// Stage is where products are rehearsed; nil when nothing is.
	Stage Stage
	// Rehearsal is what this server rehearses; nil for the shop itself.
	Rehearsal Rehearsing
	Log       *slog.Logger
}

// Simulated are the pages of stand-ins.
type Simulated struct {
	Path    string       // under which the pages lie
	Pages   http.Handler // for everybody
	Desk    string       // the path of the page for those at the desk; empty for none
	Control http.Handler
	Bank    string // the path of the page of the bank's stand-in, for those at the desk
}

// A Server answers requests.
type Server struct {
	Shop     *shop.Shop
	Desk     *desk.Desk
	Attempts *payment.Attempts
	Clerk    *banking.Clerk
	Waiting  *placing.Waiting
	Handing  *handing.Tending
	store    *store.Store
	limits   *limit.Table
	now      func() time.Time
	echo     *echo.Echo
	stage    Stage
	// rehearsal is what is rehearsed; nil in the shop itself.
	rehearsal Rehearsing
}

// The limits of requests.
const (
	largestBody = 4 << 20 // bytes
	holdTime    = 15 * time.Minute
)

// Uploads gives the folder of what customers send, within the data folder.
func Uploads(folder string) string { return filepath.Join(folder, "uploads") }

// Pictures gives the folder of the seller's pictures, within the data folder.
func Pictures(folder string) string { return filepath.Join(folder, "pictures") }

// New makes a server.
func New(c Config) (*Server, error) {
	if c.Log == nil {
		c.Log = slog.Default()
	}
	if c.Limits == nil {
		c.Limits = &limit.Table{}
	}
	var err error
	editions := &docket.Editions{}
	uploads := upload.Folder{Path: Uploads(c.Store.Folder())}
	shown := desk.Pictures{Folder: Pictures(c.Store.Folder())}
	if c.Files != nil {
		if shown.Shipped, err = fs.Sub(c.Files, "pictures"); err != nil {
			return nil, err
		}
	}
	attempts := &payment.Attempts{Store: c.Store, Editions: editions, Service: c.Payments, Now: c.Now, Hold: holdTime}
	clerk := banking.New(c.Store, editions, c.Now)
	s := &Server{
		Attempts: attempts,
		Clerk:    clerk,
		Waiting:  &placing.Waiting{Store: c.Store, Editions: editions, Now: c.Now, Tell: message.WriteTurn},
		Shop:     &shop.Shop{Store: c.Store, Editions: editions, Attempts: attempts, Uploads: uploads, Now: c.Now, Hold: holdTime, Limits: c.Limits},
		Desk:     &desk.Desk{Store: c.Store, Editions: editions, Attempts: attempts, Clerk: clerk, Now: c.Now, Uploads: uploads, Shown: shown, Idle: c.Idle, Guard: desk.NewGuard(c.Now), Delivered: c.Delivered},
		Handing:  &handing.Tending{Store: c.Store, Editions: editions, Uploads: uploads, Now: c.Now},
		store:    c.Store,
		limits:   c.Limits,
		now:      c.Now,
		echo:     echo.New(),
		stage:    c.Stage,

		rehearsal: c.Rehearsal,
	}
	s.Desk.Stage = c.Stage
	if c.Simulated != nil {
		s.Desk.Simulated, s.Desk.SimulatedBank = c.Simulated.Desk, c.Simulated.Bank
	}
	e := s.echo
	e.Logger = c.Log
	e.HTTPErrorHandler = s.answerError
	e.JSONSerializer = strictJSON{}
	e.IPExtractor = senderBehind(c.Proxies)
	e.Use(ownRequestID, middleware.RequestID(), s.log(c.Log), s.recover, s.headers(c.Secure), s.language, s.sameOrigin, middleware.GzipWithConfig(middleware.GzipConfig{Skipper: notPacked}), middleware.BodyLimitWithConfig(middleware.BodyLimitConfig{Skipper: streamed, LimitBytes: largestBody}), s.limited, s.jarred(c.Secure), s.letIn, s.rehearsing, s.once)
	RegisterHandlers(e, NewStrictHandler(&handlers{s}, nil))
	e.POST(NoticesPath, s.notice)
	if c.Stage != nil {
		e.Any(RehearsalPath+":name/api/*", func(c *echo.Context) error { return problem.NotFound(speak(c.Request().Context()), "no_rehearsal") })
	}
	s.simulated(e, c.Simulated)
	s.files(e, c.Files)
	return s, nil
}

// ReadAnswers reads the answers of orders from before they were counted.
func (s *Server) ReadAnswers(ctx context.Context) {
	if err := docket.ReadAnswers(ctx, s.store, s.Desk.Editions, s.now()); err != nil && ctx.Err() == nil {
		slog.Error("reading the answers of earlier orders", "error", err)
	}
}

// Sweep takes away at intervals, until the context ends, what never became an
// order and what has ended, also where the database overwrote it.
func (s *Server) Sweep(ctx context.Context, every time.Duration) {
	for {
		if err := errors.Join(s.Shop.Sweep(ctx), s.Desk.Sweep(ctx), s.Attempts.Sweep(ctx), s.sweepKeys(ctx), s.Handing.Tend(ctx), s.store.Tidy(ctx)); err != nil && ctx.Err() == nil {
			slog.Error("sweeping what never became an order", "error", err)
		}
		select {
		case <-ctx.Done():
			return
		case <-time.After(every):
		}
	}
}

func (s *Server) sweepKeys(ctx context.Context) error {
	return s.store.Write(ctx, func(tx *store.Tx) error { return tx.SweepAnswered(s.now().Add(-keysKept)) })
}

// ServeHTTP answers one request.
func (s *Server) ServeHTTP(w http.ResponseWriter, r *http.Request) {
	if s.stage != nil && strings.HasPrefix(r.URL.Path, RehearsalPath) {
		if rehearsal, ok := s.stage.Rehearsal(r.URL.Path); ok {
			rehearsal.ServeHTTP(w, r)
			return
		}
	}
	s.echo.ServeHTTP(w, r)
}

// notPacked leaves answers to anything but a GET as they are: packing a live
// price takes longer than sending it; finished files, of which parts are asked for; and
// what is packed already.
func notPacked(c *echo.Context) bool {
	r := c.Request()
	return r.Method != http.MethodGet || strings.Contains(r.URL.Path, "/handed/") || strings.HasPrefix(r.URL.Path, "/assets/") || strings.HasSuffix(r.URL.Path, ".zip")
}

// streamed leaves bodies to their handlers that go to the disk piece by piece
// and bound them there.
func streamed(c *echo.Context) bool {
	r := c.Request()
	return r.Method == http.MethodPatch && strings.HasPrefix(r.URL.Path, "/api/shop/uploads/") ||
		r.Method == http.MethodPost && (r.URL.Path == "/api/desk/pictures" || r.URL.Path == "/api/desk/statements")
}

type contextKey int

const (
	languageKey contextKey = iota
	jarKey
)

// language puts the request's language and its sender's address where the
// handlers find them.
func (s *Server) language(next echo.HandlerFunc) echo.HandlerFunc {
	return func(c *echo.Context) error {
		ctx := context.WithValue(c.Request().Context(), languageKey, words.Pick(c.Request().Header.Get("Accept-Language")))
		ctx = limit.WithSender(ctx, c.RealIP())
		if wished := c.Request().Header.Get(currencyHeader); wished != "" {
			ctx = shop.WithCurrency(ctx, money.Currency(wished))
		}
		if secrets := c.Request().Header.Get(turnHeader); secrets != "" {
			ctx = shop.WithTurns(ctx, strings.Split(secrets, ","))
		}
		ctx = shop.WithOrigin(ctx, c.Request().Header.Get(echo.HeaderOrigin))
		c.SetRequest(c.Request().WithContext(ctx))
		return next(c)
	}
}

// senderBehind tells where a request came from: the address that the
// connection comes from, unless that is a proxy, which says where it had the
// request from.
func senderBehind(proxies []netip.Prefix) echo.IPExtractor {
	if len(proxies) == 0 {
		return echo.ExtractIPDirect()
	}
	options := []echo.TrustOption{echo.TrustLoopback(false), echo.TrustLinkLocal(false), echo.TrustPrivateNet(false)}
	for _, p := range proxies {
		p = p.Masked()
		options = append(options, echo.TrustIPRange(&net.IPNet{IP: p.Addr().AsSlice(), Mask: net.CIDRMask(p.Bits(), p.Addr().BitLen())}))
	}
	return echo.ExtractIPFromXFFHeader(options...)
}

// limited refuses what one sender asks far more often than people do.
func (s *Server) limited(next echo.HandlerFunc) echo.HandlerFunc {
	return func(c *echo.Context) error {
		r := c.Request()
		if strings.HasPrefix(r.URL.Path, "/api/shop") || r.URL.Path == "/api/desk/session" {
			if wait := s.limits.Requests.Take(limit.Sender(r.Context()), 1); wait > 0 {
				return problem.Throttled(speak(r.Context()), "too_many", wait)
			}
		}
		return next(c)
	}
}

func speak(ctx context.Context) words.Language {
	if l, ok := ctx.Value(languageKey).(words.Language); ok {
		return l
	}
	return words.English
}

// log writes a line for each request. Private links and checkouts are secrets
// that stand in paths, so the route is logged and not the path.
func (s *Server) log(log *slog.Logger) echo.MiddlewareFunc {
	return func(next echo.HandlerFunc) echo.HandlerFunc {
		return func(c *echo.Context) error {
			start := time.Now()
			err := next(c)
			if err != nil {
				s.answerError(c, err)
			}
			status := 0
			if r, uerr := echo.UnwrapResponse(c.Response()); uerr == nil {
				status = r.Status
			}
			level := slog.LevelInfo
			if !strings.HasPrefix(c.Path(), "/api") {
				level = slog.LevelDebug
			}
			log.Log(c.Request().Context(), level, "request", "id", requestID(c), "method", c.Request().Method, "route", c.Path(),
				"status", status, "ms", float64(time.Since(start).Microseconds())/1000)
			return nil
		}
	}
}

func requestID(c *echo.Context) string { return c.Response().Header().Get(echo.HeaderXRequestID) }

// recover makes a panic an error that is logged with where it happened.
func (s *Server) recover(next echo.HandlerFunc) echo.HandlerFunc {
	return func(c *echo.Context) (err error) {
		defer func() {
			if p := recover(); p != nil {
				err = fmt.Errorf("panic: %v\n%s", p, debug.Stack())
			}
		}()
		return next(c)
	}
}

// ownRequestID has every request's id made here: one that came with it could
// stand for another in the log.
func ownRequestID(next echo.HandlerFunc) echo.HandlerFunc {
	return func(c *echo.Context) error {
		c.Request().Header.Del(echo.HeaderXRequestID)
		return next(c)
	}
}

// headers sets what a browser may do with our pages.
func (s *Server) headers(secure bool) echo.MiddlewareFunc {
	return func(next echo.HandlerFunc) echo.HandlerFunc {
		return func(c *echo.Context) error {
			h := c.Response().Header()
			h.Set("X-Content-Type-Options", "nosniff")
			h.Set("Referrer-Policy", "same-origin")
			h.Set("Cross-Origin-Opener-Policy", "same-origin")
			h.Set("Cross-Origin-Resource-Policy", "same-origin")
			h.Set("Permissions-Policy", "accelerometer=(), autoplay=(), camera=(), display-capture=(), geolocation=(), gyroscope=(), magnetometer=(), microphone=(), midi=(), payment=(), usb=()")
			h.Set("Content-Security-Policy", "default-src 'none'; frame-ancestors 'none'; base-uri 'none'")
			if secure {
				h.Set("Strict-Transport-Security", "max-age=31536000; includeSubDomains")
			}
			if strings.HasPrefix(c.Request().URL.Path, "/api") {
				h.Set("Cache-Control", "no-store")
			}
			return next(c)
		}
	}
}

// sameOrigin refuses writes that a browser sends from another site.
func (s *Server) sameOrigin(next echo.HandlerFunc) echo.HandlerFunc {
	protection := http.NewCrossOriginProtection()
	return func(c *echo.Context) error {
		if protection.Check(c.Request()) != nil {
			err := problem.Say(http.StatusForbidden, speak(c.Request().Context()), "cross_origin", nil)
			s.refused(c, err)
			return err
		}
		return next(c)
	}
}

// Package web is the outermost layer: routes, sessions, the API's handlers and
// the built front ends. It decodes, calls a use case, and encodes; it decides
// nothing.
package web

import (
	"context"
	"fmt"
	"io/fs"
	"log/slog"
	"net/http"
	"path/filepath"
	"runtime/debug"
	"strings"
	"time"

	"github.com/alexedwards/scs/sqlite3store"
	"github.com/alexedwards/scs/v2"
	"github.com/labstack/echo/v5"
	"github.com/labstack/echo/v5/middleware"

	"ruvo/internal/core/words"
	"ruvo/internal/desk"
	"ruvo/internal/docket"
	"ruvo/internal/payment"
	"ruvo/internal/port"
	"ruvo/internal/problem"
	"ruvo/internal/shop"
	"ruvo/internal/store"
	"ruvo/internal/upload"
)

// A Config is what a server is made of.
type Config struct {
	Store    *store.Store
	Payments port.Payments
	Now      func() time.Time
	Files    fs.FS // the built front ends
	// Secure says that browsers reach the server over TLS, so that cookies
	// are kept to it.
	Secure bool
	Log    *slog.Logger
}

// A Server answers requests.
type Server struct {
	Shop     *shop.Shop
	Desk     *desk.Desk
	Attempts *payment.Attempts
	store    *store.Store
	sessions *scs.SessionManager
	echo     *echo.Echo
}

// The limits of requests.
const (
	largestBody = 4 << 20 // bytes
	holdTime    = 15 * time.Minute
	sessionTime = 12 * time.Hour
)

// New makes a server.
func New(c Config) (*Server, error) {
	if c.Log == nil {
		c.Log = slog.Default()
	}
	db, err := c.Store.Sessions()
	if err != nil {
		return nil, err
	}
	editions := &docket.Editions{}
	uploads := upload.Folder{Path: filepath.Join(c.Store.Folder(), "uploads")}
	shown := desk.Pictures{Folder: filepath.Join(c.Store.Folder(), "pictures")}
	if c.Files != nil {
		if shown.Shipped, err = fs.Sub(c.Files, "pictures"); err != nil {
			return nil, err
		}
	}
	attempts := &payment.Attempts{Store: c.Store, Editions: editions, Service: c.Payments, Now: c.Now, Hold: holdTime}
	s := &Server{
		Attempts: attempts,
		Shop:     &shop.Shop{Store: c.Store, Editions: editions, Attempts: attempts, Uploads: uploads, Now: c.Now, Hold: holdTime},
		Desk:     &desk.Desk{Store: c.Store, Editions: editions, Attempts: attempts, Now: c.Now, Uploads: uploads, Shown: shown},
		store:    c.Store,
		sessions: scs.New(),
		echo:     echo.New(),
	}
	s.sessions.Store = sqlite3store.NewWithCleanupInterval(db, time.Hour)
	s.sessions.Lifetime = sessionTime
	s.sessions.Cookie.Name = "ruvo_desk"
	s.sessions.Cookie.SameSite = http.SameSiteStrictMode
	s.sessions.Cookie.Secure = c.Secure
	s.sessions.ErrorFunc = func(w http.ResponseWriter, r *http.Request, err error) {
		c.Log.Error("session", "error", err)
		http.Error(w, "", http.StatusInternalServerError)
	}

	e := s.echo
	e.Logger = c.Log
	e.HTTPErrorHandler = s.answerError
	e.JSONSerializer = strictJSON{}
	e.Use(ownRequestID, middleware.RequestID(), s.log(c.Log), s.recover, s.headers(c.Secure), s.sameOrigin, middleware.GzipWithConfig(middleware.GzipConfig{Skipper: notPacked}), middleware.BodyLimitWithConfig(middleware.BodyLimitConfig{Skipper: streamed, LimitBytes: largestBody}), s.language)
	e.Use(echo.WrapMiddleware(s.sessions.LoadAndSave), s.signedIn)
	RegisterHandlers(e, NewStrictHandler(&handlers{s}, nil))
	s.files(e, c.Files)
	return s, nil
}

// Sweep takes away at intervals, until the context ends, what never became an
// order.
func (s *Server) Sweep(ctx context.Context, every time.Duration) {
	for {
		if err := s.Shop.Sweep(ctx); err != nil && ctx.Err() == nil {
			slog.Error("sweeping what never became an order", "error", err)
		}
		select {
		case <-ctx.Done():
			return
		case <-time.After(every):
		}
	}
}

// ServeHTTP answers one request.
func (s *Server) ServeHTTP(w http.ResponseWriter, r *http.Request) { s.echo.ServeHTTP(w, r) }

// notPacked leaves answers to anything but a GET as they are: packing a live
// price takes longer than sending it.
func notPacked(c *echo.Context) bool { return c.Request().Method != http.MethodGet }

// streamed leaves bodies to their handlers that go to the disk piece by piece
// and bound them there.
func streamed(c *echo.Context) bool {
	r := c.Request()
	return r.Method == http.MethodPatch && strings.HasPrefix(r.URL.Path, "/api/shop/uploads/") ||
		r.Method == http.MethodPost && r.URL.Path == "/api/desk/pictures"
}

type contextKey int

const (
	languageKey contextKey = iota
	senderKey
)

// language puts the request's language and its sender's address where the
// handlers find them.
func (s *Server) language(next echo.HandlerFunc) echo.HandlerFunc {
	return func(c *echo.Context) error {
		ctx := context.WithValue(c.Request().Context(), languageKey, words.Pick(c.Request().Header.Get("Accept-Language")))
		ctx = context.WithValue(ctx, senderKey, c.RealIP())
		c.SetRequest(c.Request().WithContext(ctx))
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
			return problem.Say(http.StatusForbidden, words.Pick(c.Request().Header.Get("Accept-Language")), "cross_origin", nil)
		}
		return next(c)
	}
}

const (
	userKey = "user"
	passKey = "pass" // whose pass a customer opened
)

// withPass tells the shop whose pass a request came with.
func withPass(ctx context.Context, email string) context.Context {
	if email == "" {
		return ctx
	}
	return shop.WithCustomer(ctx, email)
}

// signedIn keeps the desk to those who signed in.
func (s *Server) signedIn(next echo.HandlerFunc) echo.HandlerFunc {
	return func(c *echo.Context) error {
		r := c.Request()
		entering := r.URL.Path == "/api/desk/session" && r.Method == http.MethodPost
		if strings.HasPrefix(r.URL.Path, "/api/desk") && !entering && s.sessions.GetInt64(r.Context(), userKey) == 0 {
			return problem.Say(http.StatusUnauthorized, speak(r.Context()), "sign_in", nil)
		}
		if strings.HasPrefix(r.URL.Path, "/api/shop") {
			c.SetRequest(r.WithContext(withPass(r.Context(), s.sessions.GetString(r.Context(), passKey))))
		}
		return next(c)
	}
}

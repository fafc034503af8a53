package web

import (
	"context"
	"log/slog"
	"net/http"
	"strings"
	"time"

	"github.com/labstack/echo/v5"

	"ruvo/internal/core/words"
	"ruvo/internal/desk"
	"ruvo/internal/shop"
)

// The cookies: who signed in to the desk, that somebody did so before in this
// browser, and whose pass a customer opened. Each has a secret of its own that
// is kept as its hash.
const (
	sessionCookie = "ruvo_desk"
	knownCookie   = "ruvo_known"
	passCookie    = "ruvo_pass"

	// unattended is the header by which a page says that nobody touched it of late.
	unattended = "Ruvo-Unattended"

	knownCookieTime = 400 * 24 * time.Hour // the longest that browsers keep one (RFC 6265bis, from memory)
)

// A jar reads a request's cookies and sets those of its answer.
type jar struct {
	secure bool
	base   string // the path under which a rehearsal lies, whose cookies are its own
	r      *http.Request
	w      http.ResponseWriter
}

// name gives a cookie's name. Over TLS browsers take a name with this beginning
// only for the very host, so that no other one can set it.
func (j jar) name(of string) string {
	switch {
	case j.base != "" && of != sessionCookie:
		return "rehearsed_" + of
	case j.secure:
		return "__Host-" + of
	}
	return of
}

func (j jar) get(of string) string {
	c, err := j.r.Cookie(j.name(of))
	if err != nil {
		return ""
	}
	return c.Value
}

// set keeps a secret for a time; without one, for as long as the browser runs.
func (j jar) set(of, secret string, life time.Duration) {
	http.SetCookie(j.w, &http.Cookie{
		Name: j.name(of), Value: secret, Path: j.base + "/", MaxAge: int(life.Seconds()), Secure: j.secure, HttpOnly: true, SameSite: http.SameSiteStrictMode,
	})
}

func (j jar) drop(of string) { j.set(of, "", -time.Second) }

func cookies(ctx context.Context) jar {
	j, _ := ctx.Value(jarKey).(jar)
	return j
}

// jarred puts a request's cookies where the handlers find them.
func (s *Server) jarred(secure bool) echo.MiddlewareFunc {
	base := ""
	if s.rehearsal != nil {
		base = s.rehearsal.Base()
	}
	return func(next echo.HandlerFunc) echo.HandlerFunc {
		return func(c *echo.Context) error {
			r := c.Request()
			c.SetRequest(r.WithContext(context.WithValue(r.Context(), jarKey, jar{secure, base, r, c.Response()})))
			return next(c)
		}
	}
}

// letIn keeps the desk to those who signed in, and tells the shop whose pass a
// request came with.
func (s *Server) letIn(next echo.HandlerFunc) echo.HandlerFunc {
	return func(c *echo.Context) error {
		r := c.Request()
		ctx := r.Context()
		// The route counts, and so does what was asked for, should they ever differ.
		under := func(part string) bool {
			return strings.HasPrefix(c.Path(), part) || strings.HasPrefix(r.URL.Path, part)
		}
		switch {
		case c.Path() == "/api/desk/session" && r.Method == http.MethodPost:
		case under("/api/desk"):
			in, err := s.enter(ctx, r.Header.Get(unattended) != "")
			if err != nil {
				s.refused(c, err)
				return err
			}
			ctx = in
		case under("/api/shop"):
			email, err := s.Shop.Opened(ctx, cookies(ctx).get(passCookie))
			if err != nil {
				return err
			}
			if email != "" {
				ctx = shop.WithCustomer(ctx, email)
			}
		}
		c.SetRequest(r.WithContext(ctx))
		return next(c)
	}
}

// enter finds who is at the desk. In a rehearsal that is who is at the desk itself.
func (s *Server) enter(ctx context.Context, unattended bool) (context.Context, error) {
	secret := cookies(ctx).get(sessionCookie)
	if s.rehearsal != nil {
		return s.rehearsal.Enter(ctx, secret, unattended, speak(ctx))
	}
	return s.Desk.Enter(ctx, secret, unattended, speak(ctx))
}

// refused keeps in the log that somebody wanted what is not theirs, or that
// another site wanted it in their name. Looking who is signed in is what every
// desk does when it opens.
func (s *Server) refused(c *echo.Context, err error) {
	if p := asProblem(err, words.English); p.Status >= 500 || p.Status == http.StatusUnauthorized && c.Path() == "/api/desk/session" {
		return
	}
	if err := s.Desk.Refused(c.Request().Context(), c.Request().Method+" "+c.Path()); err != nil {
		slog.Warn("a refusal was not kept in the log", "error", err)
	}
}

func (h *handlers) GetSession(ctx context.Context, _ GetSessionRequestObject) (GetSessionResponseObject, error) {
	v, err := h.Desk.Session(ctx)
	return GetSession200JSONResponse(v), err
}

func (h *handlers) SignIn(ctx context.Context, r SignInRequestObject) (SignInResponseObject, error) {
	jar := cookies(ctx)
	in, pair, err := h.Desk.SignIn(ctx, r.Body.Email, r.Body.Password, desk.Browser{Session: jar.get(sessionCookie), Known: jar.get(knownCookie), Name: jar.r.UserAgent()}, speak(ctx))
	if err != nil {
		return nil, err
	}
	jar.set(sessionCookie, pair.Session, 0)
	jar.set(knownCookie, pair.Known, knownCookieTime)
	v, err := h.Desk.Session(in)
	return SignIn200JSONResponse(v), err
}

func (h *handlers) SignOut(ctx context.Context, _ SignOutRequestObject) (SignOutResponseObject, error) {
	jar := cookies(ctx)
	err := h.Desk.SignOut(ctx)
	jar.drop(sessionCookie)
	// Not "cookies": that the browser is known outlives the session.
	jar.w.Header().Set("Clear-Site-Data", `"cache", "storage"`)
	return SignOut204Response{}, err
}

func (h *handlers) GetSessions(ctx context.Context, _ GetSessionsRequestObject) (GetSessionsResponseObject, error) {
	v, err := h.Desk.Sessions(ctx)
	return GetSessions200JSONResponse(v), err
}

func (h *handlers) EndSession(ctx context.Context, r EndSessionRequestObject) (EndSessionResponseObject, error) {
	v, err := h.Desk.EndSession(ctx, r.Id)
	return EndSession200JSONResponse(v), err
}

func (h *handlers) GetLog(ctx context.Context, r GetLogRequestObject) (GetLogResponseObject, error) {
	page := 1
	if r.Params.Page != nil {
		page = *r.Params.Page
	}
	v, err := h.Desk.Log(ctx, logQuery(r.Params.Topic, r.Params.Text, r.Params.From, r.Params.To), page, speak(ctx))
	return GetLog200JSONResponse(v), err
}

func (h *handlers) ExportLog(ctx context.Context, r ExportLogRequestObject) (ExportLogResponseObject, error) {
	d, err := h.Desk.ExportLog(ctx, logQuery(r.Params.Topic, r.Params.Text, r.Params.From, r.Params.To), speak(ctx))
	if err != nil {
		return nil, err
	}
	return ExportLog200TextcsvResponse{Body: d.Body, ContentLength: d.Size, Headers: ExportLog200ResponseHeaders{ContentDisposition: attachment(d)}}, nil
}

func logQuery[T ~string](topic *T, text, from, to *string) desk.LogQuery {
	var q desk.LogQuery
	if topic != nil {
		q.Topic = string(*topic)
	}
	for to, given := range map[*string]*string{&q.Text: text, &q.From: from, &q.To: to} {
		if given != nil {
			*to = *given
		}
	}
	return q
}

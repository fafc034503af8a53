package web

import (
	"errors"
	"io"
	"net/http"

	"github.com/labstack/echo/v5"

	"ruvo/internal/port"
	"ruvo/internal/problem"
	"ruvo/internal/standin/bank"
)

// NoticesPath is where a payment service sends its notices. It is no part of
// the contract: what comes there is in the service's form, and the adapter
// behind the port reads it.
const NoticesPath = "/api/payments/notices"

const largestNotice = 64 << 10 // bytes

// notice takes a notice: it is looked at, kept and answered; what it is about
// is asked for afterwards.
func (s *Server) notice(c *echo.Context) error {
	r := c.Request()
	l := speak(r.Context())
	body, err := io.ReadAll(http.MaxBytesReader(c.Response(), r.Body, largestNotice))
	if err != nil {
		return problem.Say(http.StatusRequestEntityTooLarge, l, "too_large", nil)
	}
	switch err := s.Attempts.Noticed(r.Context(), r.Header, body); {
	case errors.Is(err, port.ErrForged):
		p := problem.Say(http.StatusForbidden, l, "notice_forged", nil)
		s.refused(c, p)
		return p
	case errors.Is(err, port.ErrStale):
		return problem.Say(http.StatusBadRequest, l, "notice_stale", nil)
	case errors.Is(err, port.ErrMalformed):
		return problem.Say(http.StatusBadRequest, l, "notice_malformed", nil)
	case err != nil:
		return err
	}
	return c.NoContent(http.StatusAccepted)
}

// simulated serves the pages of stand-ins.
func (s *Server) simulated(e *echo.Echo, c *Simulated) {
	if c == nil {
		return
	}
	pages := echo.WrapHandler(c.Pages)
	e.GET(c.Path+"/*", pages)
	e.POST(c.Path+"/*", pages)
	if c.Control == nil {
		return
	}
	s.atDesk(e, c.Desk, c.Control)
	if c.Bank != "" {
		s.atDesk(e, c.Bank, bank.Page(s.Desk.Account, s.now))
	}
}

// atDesk serves a page only to people who signed in.
func (s *Server) atDesk(e *echo.Echo, path string, page http.Handler) {
	guarded := func(ec *echo.Context) error {
		r := ec.Request()
		if _, err := s.enter(r.Context(), false); err != nil {
			s.refused(ec, err)
			return ec.Redirect(http.StatusSeeOther, "/desk")
		}
		page.ServeHTTP(ec.Response(), r)
		return nil
	}
	e.GET(path, guarded)
	e.POST(path, guarded)
}

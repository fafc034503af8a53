package web

import (
	"cmp"
	"encoding/json"
	"errors"
	"io"
	"log/slog"
	"net/http"
	"strconv"
	"strings"
	"time"

	"github.com/labstack/echo/v5"

	"ruvo/api"
	"ruvo/internal/core/reading"
	"ruvo/internal/core/words"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// strictJSON reads request bodies: one JSON document without unknown names.
type strictJSON struct{ echo.DefaultJSONSerializer }

// Deserialize implements echo.JSONSerializer.
func (strictJSON) Deserialize(c *echo.Context, target any) error {
	raw, err := io.ReadAll(c.Request().Body)
	if err != nil {
		return err
	}
	return reading.Strict(raw, target)
}

// answerError answers an error as a problem document (RFC 9457).
func (s *Server) answerError(c *echo.Context, err error) {
	if r, uerr := echo.UnwrapResponse(c.Response()); uerr == nil && r.Committed {
		return
	}
	l := speak(c.Request().Context())
	p := asProblem(err, l)
	if p.Status >= 500 {
		slog.Error("request failed", "id", requestID(c), "route", c.Path(), "error", err)
	}
	id := requestID(c)
	doc := api.Problem{Type: "https://ruvo.invalid/problems/" + p.Code, Title: p.Title, Status: p.Status, Instance: &id}
	if p.Detail != "" {
		doc.Detail = &p.Detail
	}
	if len(p.Errors) > 0 {
		doc.Errors = &p.Errors
	}
	if p.After > 0 {
		c.Response().Header().Set("Retry-After", strconv.Itoa(int(p.After.Seconds())))
	}
	body, err := json.Marshal(doc)
	if err != nil {
		return
	}
	if werr := c.Blob(p.Status, "application/problem+json", body); werr != nil {
		slog.Debug("answering", "error", werr)
	}
}

// asProblem finds the words for an error. What is not known to be the
// sender's mistake is ours, and tells nothing of itself.
func asProblem(err error, l words.Language) *problem.Problem {
	var p *problem.Problem
	var unread *reading.Error
	var large *http.MaxBytesError
	var coded echo.HTTPStatusCoder
	switch {
	case errors.As(err, &p):
		return p
	case errors.As(err, &large):
		return problem.Say(http.StatusRequestEntityTooLarge, l, "too_large", nil)
	case errors.As(err, &unread):
		return malformed(unread, l)
	case errors.Is(err, io.ErrUnexpectedEOF), errors.Is(err, io.EOF):
		return problem.Say(http.StatusBadRequest, l, "malformed", nil)
	case store.FaultOf(err) != store.NoFault:
		return fault(store.FaultOf(err), l)
	case errors.As(err, &coded):
		return status(coded.StatusCode(), err, l)
	}
	return problem.Say(http.StatusInternalServerError, l, "internal", nil)
}

// fault says that nothing can be kept right now, and when to try again.
func fault(f store.Fault, l words.Language) *problem.Problem {
	p := problem.Say(http.StatusServiceUnavailable, l, "storage_"+string(f), nil)
	p.After = time.Minute
	switch f {
	case store.Full:
		p.Status = http.StatusInsufficientStorage
	case store.Busy:
		p.After = 5 * time.Second
	}
	return p
}

// status answers errors of the router and of binding.
func status(code int, err error, l words.Language) *problem.Problem {
	switch {
	case code == http.StatusNotFound:
		return problem.NotFound(l, "not_found")
	case code == http.StatusMethodNotAllowed:
		return problem.Say(code, l, "method", nil)
	case code == http.StatusRequestEntityTooLarge:
		return problem.Say(code, l, "too_large", nil)
	case code >= 400 && code < 500:
		return problem.Say(code, l, "malformed", nil)
	}
	return problem.Say(http.StatusInternalServerError, l, "internal", nil)
}

// malformed says where what came in cannot be read.
func malformed(e *reading.Error, l words.Language) *problem.Problem {
	p := problem.Say(http.StatusBadRequest, l, "malformed", nil)
	p.Errors = []api.FieldError{{Key: cmp.Or(e.Path, "body"), Code: strings.TrimPrefix(e.Why.Code, "reading."), Message: e.Why.Say(l)}}
	return p
}

package web

import (
	"encoding/json"
	"errors"
	"io"
	"log/slog"
	"net/http"
	"reflect"
	"strconv"
	"strings"
	"time"

	"github.com/labstack/echo/v5"

	"ruvo/api"
	"ruvo/internal/core/words"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// strictJSON reads request bodies: one JSON document without unknown names.
type strictJSON struct{ echo.DefaultJSONSerializer }

// Deserialize implements echo.JSONSerializer.
func (strictJSON) Deserialize(c *echo.Context, target any) error {
	d := json.NewDecoder(c.Request().Body)
	d.DisallowUnknownFields()
	if err := d.Decode(target); err != nil {
		return err
	}
	if _, err := d.Token(); !errors.Is(err, io.EOF) {
		return errTrailing
	}
	return nil
}

var errTrailing = errors.New("more than one JSON document")

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
	var wrongType *json.UnmarshalTypeError
	var syntax *json.SyntaxError
	var large *http.MaxBytesError
	var coded echo.HTTPStatusCoder
	name, unknown := unknownField(err)
	switch {
	case errors.As(err, &p):
		return p
	case errors.As(err, &large):
		return problem.Say(http.StatusRequestEntityTooLarge, l, "too_large", nil)
	case errors.As(err, &wrongType):
		field := wrongType.Field
		if field == "" {
			field = "body"
		}
		return &problem.Problem{Status: http.StatusBadRequest, Code: "malformed", Title: l.Say("problem.malformed", nil), Errors: []api.FieldError{{
			Key: field, Code: "type", Message: l.Say("field.type", words.Params{"wanted": jsonType(wrongType.Type)}),
		}}}
	case unknown:
		return &problem.Problem{Status: http.StatusBadRequest, Code: "malformed", Title: l.Say("problem.malformed", nil), Errors: []api.FieldError{{
			Key: name, Code: "unknown", Message: l.Say("fault.unknown_field", nil),
		}}}
	case errors.As(err, &syntax), errors.Is(err, io.ErrUnexpectedEOF), errors.Is(err, io.EOF), errors.Is(err, errTrailing):
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
		p := problem.Say(code, l, "malformed", nil)
		// Settings of a draft are read by the core, whose errors say in words
		// what is wrong with them.
		if cause := errors.Unwrap(err); cause != nil {
			p.Detail = cause.Error()
		}
		return p
	}
	return problem.Say(http.StatusInternalServerError, l, "internal", nil)
}

// unknownField finds the name in the error of encoding/json for a name that
// the target does not have; the package gives it no type of its own.
func unknownField(err error) (string, bool) {
	if err == nil {
		return "", false
	}
	_, after, found := strings.Cut(err.Error(), "json: unknown field ")
	if !found {
		return "", false
	}
	quoted, perr := strconv.QuotedPrefix(after)
	if perr != nil {
		return "body", true
	}
	name, _ := strconv.Unquote(quoted)
	if len(name) > 60 {
		name = name[:60] + "…"
	}
	return name, true
}

func jsonType(t reflect.Type) string {
	switch t.Kind() {
	case reflect.String:
		return "text"
	case reflect.Bool:
		return "true/false"
	case reflect.Slice, reflect.Array:
		return "a list"
	case reflect.Struct, reflect.Map:
		return "an object"
	}
	return "a whole number"
}

package web

import (
	"context"
	"net/http"
	"slices"
	"strings"

	"github.com/labstack/echo/v5"

	"ruvo/api"
	"ruvo/internal/core/words"
	"ruvo/internal/desk"
	"ruvo/internal/problem"
)

// RehearsalPath is the path under which all rehearsals lie.
const RehearsalPath = "/rehearsal/"

// A Stage has rehearsals, each a server of its own under a path of its own.
type Stage interface {
	desk.Stage
	// Rehearsal gives the server of a path; none when there is no such rehearsal.
	Rehearsal(path string) (http.Handler, bool)
}

// Rehearsing is what a server knows of itself that rehearses.
type Rehearsing interface {
	// Base is the path under which the server lies.
	Base() string
	// Enter finds who is signed in at the desk itself.
	Enter(ctx context.Context, secret string, unattended bool, l words.Language) (context.Context, error)
	View(ctx context.Context) (api.Rehearsal, error)
	// SetDay has another day be today.
	SetDay(ctx context.Context, day string, l words.Language) (api.Rehearsal, error)
}

// worked are the parts of the desk at which one works on what was ordered. The rest says
// what is sold and how, which is changed at the desk itself and not in a rehearsal.
var worked = []string{"orders", "dockets", "items", "handovers", "handed", "finished", "talk", "amendments", "work", "kept", "transfers", "statements", "groups", "stock", "vouchers", "coupons", "what-if"}

// rehearsing keeps a rehearsal to what can be rehearsed.
func (s *Server) rehearsing(next echo.HandlerFunc) echo.HandlerFunc {
	return func(c *echo.Context) error {
		r := c.Request()
		part, desk := strings.CutPrefix(r.URL.Path, "/api/desk/")
		if s.rehearsal == nil || !desk || r.Method == http.MethodGet {
			return next(c)
		}
		first, rest, _ := strings.Cut(part, "/")
		if slices.Contains(worked, first) && !strings.HasSuffix(rest, "take") || first == "products" && strings.HasSuffix(rest, "/days") {
			return next(c)
		}
		return problem.Say(http.StatusConflict, speak(r.Context()), "rehearsed_only", nil)
	}
}

func (h *handlers) rehearsed(ctx context.Context) (Rehearsing, error) {
	if h.rehearsal == nil {
		return nil, problem.NotFound(speak(ctx), "no_rehearsal")
	}
	return h.rehearsal, nil
}

func (h *handlers) GetRehearsal(ctx context.Context, _ GetRehearsalRequestObject) (GetRehearsalResponseObject, error) {
	r, err := h.rehearsed(ctx)
	if err != nil {
		return nil, err
	}
	v, err := r.View(ctx)
	return GetRehearsal200JSONResponse(v), err
}

func (h *handlers) SetRehearsalDay(ctx context.Context, r SetRehearsalDayRequestObject) (SetRehearsalDayResponseObject, error) {
	of, err := h.rehearsed(ctx)
	if err != nil {
		return nil, err
	}
	v, err := of.SetDay(ctx, r.Body.Day, speak(ctx))
	return SetRehearsalDay200JSONResponse(v), err
}

func (h *handlers) GetRehearsalMails(ctx context.Context, _ GetRehearsalMailsRequestObject) (GetRehearsalMailsResponseObject, error) {
	if _, err := h.rehearsed(ctx); err != nil {
		return nil, err
	}
	v, err := h.Desk.Outbox(ctx)
	return GetRehearsalMails200JSONResponse(v), err
}

// staged says that there is a stage here.
func (h *handlers) staged(ctx context.Context) error {
	if h.stage == nil {
		return problem.NotFound(speak(ctx), "no_rehearsal")
	}
	return nil
}

func (h *handlers) GetRehearsals(ctx context.Context, _ GetRehearsalsRequestObject) (GetRehearsalsResponseObject, error) {
	if err := h.staged(ctx); err != nil {
		return nil, err
	}
	v, err := h.Desk.Rehearsals(ctx)
	return GetRehearsals200JSONResponse(v), err
}

func (h *handlers) BeginRehearsal(ctx context.Context, r BeginRehearsalRequestObject) (BeginRehearsalResponseObject, error) {
	if err := h.staged(ctx); err != nil {
		return nil, err
	}
	v, err := h.Desk.Rehearse(ctx, *r.Body, speak(ctx))
	return BeginRehearsal200JSONResponse(v), err
}

func (h *handlers) SweepRehearsals(ctx context.Context, _ SweepRehearsalsRequestObject) (SweepRehearsalsResponseObject, error) {
	if err := h.staged(ctx); err != nil {
		return nil, err
	}
	return SweepRehearsals204Response{}, h.Desk.SweepRehearsals(ctx, "", speak(ctx))
}

func (h *handlers) SweepRehearsal(ctx context.Context, r SweepRehearsalRequestObject) (SweepRehearsalResponseObject, error) {
	if err := h.staged(ctx); err != nil {
		return nil, err
	}
	return SweepRehearsal204Response{}, h.Desk.SweepRehearsals(ctx, r.Name, speak(ctx))
}

func (h *handlers) WalkProduct(ctx context.Context, r WalkProductRequestObject) (WalkProductResponseObject, error) {
	if err := h.staged(ctx); err != nil {
		return nil, err
	}
	v, err := h.Desk.Walk(ctx, r.Id, *r.Body, speak(ctx))
	return WalkProduct200JSONResponse(v), err
}

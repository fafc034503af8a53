package docket

import (
	"errors"
	"net/http"
	"slices"
	"time"

	"ruvo/api"
	"ruvo/internal/core/handover"
	"ruvo/internal/core/merge"
	"ruvo/internal/core/order"
	"ruvo/internal/core/words"
	"ruvo/internal/core/workplan"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// A Giving is what is handed over of an order line.
type Giving struct {
	Files   []string // uploads
	Links   []store.FinishedLink
	Message string // with merge fields
	Step    workplan.StepKey
	Whole   bool
	Author  string
}

// Give hands finished files, links and a message over to the customer, and keeps the
// line.
func (l *Line) Give(tx *store.Tx, g Giving, lang words.Language, now time.Time) (*store.Handover, error) {
	if code := l.State().Refused(order.HandOver); code != "" {
		return nil, problem.Say(http.StatusConflict, lang, code, nil)
	}
	message, err := l.filled(g.Message, lang)
	if err != nil {
		return nil, err
	}
	s := l.Edition.Plan.Step(g.Step)
	if g.Step != "" && s == nil {
		return nil, problem.Invalid(lang, []api.FieldError{problem.Field(lang, "step", "handover_step", nil)})
	}
	h := &store.Handover{LineID: l.Row.ID, Step: g.Step, Whole: g.Whole, Message: message, Links: g.Links, State: handover.Given, MadeAt: now.UTC(), MadeBy: g.Author}
	if t := l.Edition.Handover; t != nil {
		if until := t.Until(now, l.Given.Zone); !until.IsZero() && len(g.Files) > 0 {
			h.UntilAt, h.WarnAt = store.Time(until), store.Time(handover.Warns(now, until))
		}
	}
	if s != nil && s.Acceptance != nil {
		h.Asks, h.SilentAt = true, store.Time(s.Acceptance.Until(now, l.Given.Zone))
	}
	files, err := l.finished(tx, g.Files, lang)
	if err != nil {
		return nil, err
	}
	if err := tx.AddHandover(h, files); err != nil {
		return nil, err
	}
	if err := tx.BindUploads(l.Order.ID, g.Files); err != nil {
		return nil, err
	}
	if h.Asks {
		l.Show(g.Step, now)
	}
	if g.Whole {
		l.Row.GivenAt = store.Time(now)
	}
	return h, l.Keep(tx, now)
}

// finished finds the files that are handed over.
func (l *Line) finished(tx *store.Tx, ids []string, lang words.Language) ([]store.HandoverFile, error) {
	files := make([]store.HandoverFile, len(ids))
	for i, id := range ids {
		u, err := tx.FinishedUpload(id, l.Order.ID)
		switch {
		case errors.Is(err, store.ErrNotFound):
			return nil, problem.Invalid(lang, []api.FieldError{problem.Field(lang, "files", "no_upload", nil)})
		case err != nil:
			return nil, err
		case u.Received < u.Size || u.Type == "":
			return nil, problem.Invalid(lang, []api.FieldError{problem.Field(lang, "files", "upload_part", words.Params{"name": u.Name})})
		case slices.Contains(ids[:i], id):
			return nil, problem.Invalid(lang, []api.FieldError{problem.Field(lang, "files", "file_twice", words.Params{"name": u.Name})})
		}
		files[i] = store.HandoverFile{Upload: u.ID, Name: u.Name, Size: u.Size, Type: u.Type, Width: u.Width, Height: u.Height}
	}
	return files, nil
}

// Said fills the merge fields of a text that was checked when it was published; what
// cannot be filled is not said.
func (l *Line) Said(text string) string {
	t, err := merge.Parse(text)
	if err != nil {
		return ""
	}
	said, _ := l.Result.Fill(l.Edition, l.Given, t)
	return said
}

// filled fills the merge fields of a message, in the customer's language.
func (l *Line) filled(message string, lang words.Language) (string, error) {
	wrong := func(code string, p words.Params) error {
		return problem.Invalid(lang, []api.FieldError{problem.Field(lang, "message", code, p)})
	}
	if len([]rune(message)) > handover.LongestMessage {
		return "", wrong("longest", words.Params{"most": "5000"})
	}
	t, err := merge.Parse(message)
	if err != nil {
		return "", wrong("message_fields", nil)
	}
	said, unknown := l.Result.Fill(l.Edition, l.Given, t)
	if unknown != "" {
		return "", wrong("message_field", words.Params{"field": "{{" + unknown + "}}"})
	}
	return said, nil
}

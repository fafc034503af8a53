package rehearsal

import (
	"context"
	"errors"
	"net/http"
	"slices"
	"strings"

	"ruvo/api"
	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/problem"
)

// brief answers what is still open, each question by itself, as typing does. What costs
// more is agreed to.
func (w *walk) brief(ctx context.Context) error {
	for at, n := range w.lines {
		if err := w.briefLine(ctx, at, n); err != nil {
			return err
		}
	}
	return nil
}

func (w *walk) briefLine(ctx context.Context, at int, n *line) error {
	decided := map[string]bool{}
	for {
		page, err := w.server.Shop.OrderPage(ctx, w.link, w.said)
		if err != nil {
			return err
		}
		shown := page.Lines[at]
		next := slices.IndexFunc(shown.Open, func(k string) bool { return !decided[k] })
		switch {
		case next < 0 && shown.Brief == api.BriefState("waiting"):
			return errors.New(w.said.Say("walk.still_missing", words.Params{"keys": strings.Join(shown.Missing, ", ")}))
		case next < 0:
			return nil
		}
		key := shown.Open[next]
		decided[key] = true
		item, ok := n.edition.Item(question.Key(key))
		if !ok || !item.Asked() || !item.Required && w.r.IntN(3) == 0 {
			continue
		}
		delete(n.later, item.Key)
		if err := w.tell(ctx, at, n, item, shown); err != nil && item.Required {
			return err
		}
	}
}

// tell answers one question of the brief, with another answer where one is refused.
func (w *walk) tell(ctx context.Context, at int, n *line, item *product.Item, shown api.OrderLine) (err error) {
	for range mostAgain {
		var v question.Value
		if v, err = w.makeUp(ctx, n, item); err != nil {
			return err
		}
		var p *problem.Problem
		if err = w.answer(ctx, shown, item.Key, v, at); !errors.As(err, &p) || p.Status != http.StatusUnprocessableEntity {
			if err == nil {
				n.answers[item.Key] = v
			}
			return err
		}
	}
	return err
}

// answer keeps one answer of the brief.
func (w *walk) answer(ctx context.Context, shown api.OrderLine, k question.Key, v question.Value, at int) error {
	raw, err := question.Encode(question.Answers{k: v})
	if err != nil {
		return err
	}
	save := api.BriefSave{Answers: raw}
	price, err := w.server.Shop.PreviewChange(ctx, w.link, shown.Id, api.AnswerChange{Version: shown.Version, Answers: raw}, w.said)
	if err != nil {
		return err
	}
	if price.After.Total != price.Before.Total {
		total := int(price.After.Total)
		save.Agreed = &total
	}
	saved, err := w.server.Shop.SaveBrief(ctx, w.link, shown.Id, save, w.said)
	if err != nil {
		return err
	}
	for _, half := range saved.Page.Lines[at].Halves {
		if half.Key == string(k) && len(half.Faults) > 0 {
			return errors.New(half.Faults[0].Message)
		}
	}
	return nil
}

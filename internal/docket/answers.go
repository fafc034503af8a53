package docket

import (
	"context"
	"log/slog"
	"slices"
	"strings"
	"time"

	"ruvo/internal/core/question"
	"ruvo/internal/core/tally"
	"ruvo/internal/store"
)

// keepAnswers keeps what the line's answers read like, to be searched in, and what they
// count for. A line that was cancelled counts for nothing.
func (l *Line) keepAnswers(tx *store.Tx) error {
	if err := tx.SaveLineWords(l.Row.ID, l.said()); err != nil {
		return err
	}
	return tx.SaveLineAnswers(l.Row.ID, l.counted())
}

// AnswersAgree says whether what is kept of what the answers count for is what they do.
func (l *Line) AnswersAgree(tx *store.Tx) (bool, error) {
	kept, read, err := tx.LineAnswers(l.Row.ID)
	now := l.counted()
	slices.SortFunc(now, func(a, b store.LineAnswer) int { return strings.Compare(string(a.Question), string(b.Question)) })
	return !read || slices.Equal(kept, now), err
}

// said is what the answers read like, in small letters.
func (l *Line) said() string {
	var all []string
	for _, a := range l.Result.Asked {
		if a.Answered {
			all = append(all, strings.ToLower(l.Result.Words(l.Edition, a.Item.Key, l.Given)))
		}
	}
	return strings.Join(all, "\n")
}

func (l *Line) counted() (list []store.LineAnswer) {
	if l.Row.CancelledAt != nil {
		return nil
	}
	for _, a := range l.Result.Asked {
		if !a.Answered || !a.Item.Asked() {
			continue
		}
		k := a.Item.Key
		one := tally.Of(a.Item.Spec, l.Result.Answers[k], question.Env{Zone: l.Given.Zone, Currency: l.Edition.Currency, Language: l.Given.Language, Units: l.Given.Quantity})
		list = append(list, store.LineAnswer{
			LineID: l.Row.ID, Question: k, OrderID: l.Order.ID, ProductID: l.Row.ProductID, SheetID: a.Item.Sheet,
			Whole: a.Item.Scope == question.OfOrder, Number: one.Number, Text: one.Text, Counted: store.Counted(one.Counts),
		})
	}
	return list
}

// readTogether is how many lines are read in one transaction, so that others wait for
// none of them long.
const readTogether = 25

// ReadAnswers reads the answers of lines from before they were counted, until none is
// left. A line whose edition cannot be opened any more is passed over, and told.
func ReadAnswers(ctx context.Context, s *store.Store, editions *Editions, now time.Time) error {
	for {
		left := 0
		err := s.Write(ctx, func(tx *store.Tx) error {
			ids, err := tx.UnreadLines(readTogether)
			if left = len(ids); err != nil || left == 0 {
				return err
			}
			for _, id := range ids {
				line, err := OpenByID(tx, editions, id, now)
				if err != nil {
					slog.Error("the answers of an order line cannot be read", "line", id, "error", err)
					continue
				}
				if err := line.keepAnswers(tx); err != nil {
					return err
				}
			}
			return tx.ReadLines(ids)
		})
		if err != nil || left == 0 {
			return err
		}
	}
}

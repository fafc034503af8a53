package demo

import (
	"context"
	"slices"

	"ruvo/api"
	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
)

// An edition of before asked one question more than the one that is on sale, until the
// studio saw that people stop there.
type earlier struct {
	Product  string           `json:"product"`
	Days     int              `json:"days"`   // from the day the demo starts, until when
	Before   question.Key     `json:"before"` // the question that it stood before
	Question product.Question `json:"question"`

	id  int64
	now product.Draft
}

// earlier has the products begin with what they asked before, and gives when each
// stopped to.
func (f *filling) earlier(slugs []string, drafts []product.Draft) ([]*earlier, error) {
	var all []*earlier
	if err := read("earlier.json", &all); err != nil {
		return nil, err
	}
	for _, e := range all {
		d := &drafts[slices.Index(slugs, e.Product)]
		e.now = *d
		at := slices.IndexFunc(d.Questions, func(q product.Question) bool { return q.Key == e.Before })
		d.Questions = slices.Insert(slices.Clone(d.Questions), at, e.Question)
	}
	return all, nil
}

// stop publishes the edition that asks it no longer.
func (e *earlier) stop(ctx context.Context, f *filling) error {
	p, err := f.desk.Product(ctx, e.id, "en")
	if err != nil {
		return err
	}
	p, err = f.desk.PutDraft(ctx, e.id, api.DraftChange{Version: p.Version, Draft: e.now}, "Ilse Brandt", "en")
	if err == nil {
		_, err = f.desk.Publish(ctx, e.id, p.Version, "en")
	}
	return err
}

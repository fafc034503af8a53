package demo

import (
	"context"

	"ruvo/api"
	"ruvo/internal/core/agreement"
	"ruvo/internal/store"
)

// A text is one version of what the studio's customers agree to.
type text struct {
	Days int    `json:"days"` // from the day the demo starts
	Kind string `json:"kind"`
	Text string `json:"text"`
}

// texts lists when the studio wrote what its customers agree to.
func (f *filling) texts() ([]event, error) {
	var all []text
	if err := read("agreements.json", &all); err != nil {
		return nil, err
	}
	var events []event
	for _, t := range all {
		events = append(events, event{f.moment(t.Days, "08:00"), func(ctx context.Context) error {
			now, err := f.agreements(ctx)
			if err == nil {
				_, err = f.desk.AddAgreement(ctx, api.AgreementChange{Kind: api.AgreementKind(t.Kind), After: now[agreement.Kind(t.Kind)].Version, Text: t.Text}, "en")
			}
			return err
		}})
	}
	return events, nil
}

// agreements gives what customers agree to at the time.
func (f *filling) agreements(ctx context.Context) (now map[agreement.Kind]store.AgreementText, err error) {
	err = f.store.Read(ctx, func(tx *store.Tx) (err error) {
		now, err = tx.Agreements()
		return err
	})
	return now, err
}

// agree has a customer agree to the terms of sale, and to news where they want it.
func (o *sale) agree(ctx context.Context, req *api.CheckoutRequest) error {
	texts, err := o.f.agreements(ctx)
	terms, news := texts[agreement.Terms].Version, texts[agreement.News].Version
	req.Terms = &terms
	if o.News {
		req.News = &news
	}
	return err
}

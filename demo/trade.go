package demo

import (
	"context"
	"time"

	"ruvo/api"
	"ruvo/internal/core/charge"
	"ruvo/internal/store"
)

// trade is what the sample business sells under besides its products.
type trade struct {
	Terms   charge.Terms    `json:"terms"`
	Further []store.Further `json:"further"`
	Groups  []struct {
		Name    string   `json:"name"`
		Domains []string `json:"domains"`
		Members []string `json:"members"`
	} `json:"groups"`
	Coupons []api.NewCoupons `json:"coupons"`
	Stock   []api.NewStock   `json:"stock"`
}

// terms sets the business's terms and groups.
func (f *filling) terms(ctx context.Context, t trade) error {
	err := f.store.Write(ctx, func(tx *store.Tx) error {
		b, err := tx.Business()
		if err != nil {
			return err
		}
		b.Terms, b.Further = t.Terms, t.Further
		return tx.SaveBusiness(b)
	})
	if err != nil {
		return err
	}
	for _, g := range t.Groups {
		groups, err := f.desk.AddGroup(ctx, api.GroupChange{Name: g.Name, Domains: g.Domains}, "en")
		if err != nil {
			return detail(err)
		}
		for _, made := range groups {
			if made.Name != g.Name {
				continue
			}
			if _, err := f.desk.AddMembers(ctx, made.Id, g.Members, "en"); err != nil {
				return detail(err)
			}
		}
	}
	return nil
}

// counted makes coupons for the products that are there, and begins to count.
func (f *filling) counted(ctx context.Context, t trade) error {
	defer func() { f.clock = f.now }()
	for _, c := range t.Coupons {
		f.clock = f.now
		if to := c.Coupon.To; to != nil { // one that is over was made in its time
			f.clock = to.Add(-30).At(0, time.UTC)
		}
		if _, err := f.desk.AddCoupons(ctx, c, "en"); err != nil {
			return detail(err)
		}
	}
	for _, s := range t.Stock {
		if _, err := f.desk.StartStock(ctx, s, "Ilse Brandt", "en"); err != nil {
			return detail(err)
		}
	}
	return nil
}

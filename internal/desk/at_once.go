package desk

import (
	"context"
	"net/http"

	"ruvo/api"
	"ruvo/internal/core/atonce"
	"ruvo/internal/core/words"
	"ruvo/internal/docket"
	"ruvo/internal/message"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// TellBuyers writes to those who bought a product under an earlier edition that there is
// something newer of what they were given at once. Each is told once of an edition.
func (d *Desk) TellBuyers(ctx context.Context, id int64, l words.Language) (api.BuyersTold, error) {
	var told api.BuyersTold
	err := d.Store.Write(ctx, func(tx *store.Tx) error {
		list, edition, err := d.earlier(tx, id, l)
		if err != nil {
			return err
		}
		for _, line := range list {
			fresh, err := message.WriteNewer(tx, line, edition, d.Now())
			if err != nil {
				return err
			}
			if fresh {
				told.Told++
			}
		}
		told.Buyers = len(list)
		return nil
	})
	return told, err
}

// Buyers counts those who would be told.
func (d *Desk) Buyers(ctx context.Context, id int64, l words.Language) (api.BuyersTold, error) {
	var told api.BuyersTold
	err := d.Store.Read(ctx, func(tx *store.Tx) error {
		list, edition, err := d.earlier(tx, id, l)
		for _, line := range list {
			known, kerr := message.KnowsNewer(tx, line, edition)
			if kerr != nil {
				return kerr
			}
			if known {
				told.Told++
			}
		}
		told.Buyers = len(list)
		return err
	})
	return told, err
}

// earlier lists the order lines of a product for which there is something newer of what
// they were given at once.
func (d *Desk) earlier(tx *store.Tx, id int64, l words.Language) ([]*docket.Line, int64, error) {
	p, err := d.product(tx, id, l)
	if err != nil {
		return nil, 0, err
	}
	if p.EditionID == nil {
		return nil, 0, problem.Say(http.StatusConflict, l, "not_on_sale", nil)
	}
	rows, err := tx.EarlierBuyers(id, *p.EditionID)
	if err != nil {
		return nil, 0, err
	}
	var list []*docket.Line
	for _, row := range rows {
		line, err := docket.OpenByID(tx, d.Editions, row.ID, d.Now())
		if err != nil {
			return nil, 0, err
		}
		now, err := d.Editions.Of(tx, *p.EditionID, line.Order.Currency)
		if err != nil {
			continue // it is not sold in this currency any more
		}
		var bought []atonce.Gift
		for _, g := range line.Edition.AtOnce {
			if g.For(line.Result.Answers) {
				bought = append(bought, g)
			}
		}
		if len(atonce.Newer(bought, now.AtOnce)) > 0 {
			list = append(list, line)
		}
	}
	return list, *p.EditionID, nil
}

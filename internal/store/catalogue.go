package store

import (
	"context"
	"sync/atomic"
)

// A Catalogue is what every page of the shop begins from: the business, the
// products without their drafts, and which of them are counted. It is shared and must not be changed.
type Catalogue struct {
	Business Business
	products map[string]Product
	stocked  map[int64]bool
	shared   bool // something of a sheet is counted
}

// Stocked says whether anything of a product may be counted, by itself or with
// others that use the same sheet.
func (c *Catalogue) Stocked(product int64) bool { return c.shared || c.stocked[product] }

// Product finds a product by the name in its address.
func (c *Catalogue) Product(slug string) (Product, bool) {
	p, ok := c.products[slug]
	return p, ok
}

// catalogues keeps the catalogue in memory between the changes of it. One
// process writes to a database, so each change passes here.
type catalogues struct {
	changes atomic.Int64 // how often what it is made of was changed
	kept    atomic.Pointer[keptCatalogue]
}

type keptCatalogue struct {
	Catalogue
	changes int64 // when it was read
}

// current gives the catalogue as it is kept; nil when it may have changed.
func (c *catalogues) current() *Catalogue {
	if kept := c.kept.Load(); kept != nil && kept.changes == c.changes.Load() {
		return &kept.Catalogue
	}
	return nil
}

// counted says whether anything of a product may be counted; a transaction that
// does not know looks for it.
func (tx *Tx) counted(product int64) bool {
	return tx.known == nil || tx.catalogue || tx.known.Stocked(product)
}

// Catalogue gives the catalogue as it is now.
func (s *Store) Catalogue(ctx context.Context) (*Catalogue, error) {
	changes := s.catalogues.changes.Load()
	if kept := s.catalogues.kept.Load(); kept != nil && kept.changes == changes {
		return &kept.Catalogue, nil
	}
	c := keptCatalogue{changes: changes, Catalogue: Catalogue{products: map[string]Product{}, stocked: map[int64]bool{}}}
	err := s.Read(ctx, func(tx *Tx) (err error) {
		if c.Business, err = tx.Business(); err != nil {
			return err
		}
		var rows []Product
		err = tx.db.Omit("draft").Find(&rows).Error
		for _, p := range rows {
			c.products[p.Slug] = p
		}
		if err != nil {
			return err
		}
		stocks, err := tx.Stocks()
		for _, st := range stocks {
			if st.ProductID == nil {
				c.shared = true
				continue
			}
			c.stocked[*st.ProductID] = true
		}
		return err
	})
	if err != nil {
		return nil, err
	}
	s.catalogues.kept.Store(&c)
	return &c.Catalogue, nil
}

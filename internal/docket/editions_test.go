package docket

import (
	"testing"

	"ruvo/internal/core/product"
	"ruvo/internal/store"
	"ruvo/internal/storetest"
)

// However many editions there are, only so many stay in memory, and one that
// made room is made ready again.
func TestEditionsAreBounded(t *testing.T) {
	s, err := store.Open(storetest.Folder(t))
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	var first int64
	editions := &Editions{}
	err = s.Write(t.Context(), func(tx *store.Tx) error {
		p := store.Product{Slug: "thing", Draft: product.Draft{Title: "Thing", Currency: "EUR"}}
		if err := tx.SaveProduct(&p); err != nil {
			return err
		}
		for n := range mostEditions + 20 {
			e := store.Edition{ProductID: p.ID, Number: n + 1, Content: p.Draft}
			if err := tx.AddEdition(&e); err != nil {
				return err
			}
			if _, err := editions.Get(tx, e.ID); err != nil {
				return err
			}
			if n == 0 {
				first = e.ID
			}
		}
		if n := editions.cache().Len(); n != mostEditions {
			t.Errorf("%d editions are kept", n)
		}
		if _, ok := editions.Kept(first); ok {
			t.Error("the oldest one is still kept")
		}
		_, err := editions.Get(tx, first)
		return err
	})
	if _, ok := editions.Kept(first); err != nil || !ok {
		t.Errorf("it did not come back: %v", err)
	}
}

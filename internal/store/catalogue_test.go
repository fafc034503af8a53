package store

import (
	"context"
	"errors"
	"fmt"
	"sync"
	"testing"

	"ruvo/internal/storetest"
)

// What was saved is in the catalogue as soon as saving it returns, and what an
// error undid never is.
func TestTheCatalogueIsNeverOld(t *testing.T) {
	s := open1(t, storetest.Folder(t))
	if _, err := s.Catalogue(t.Context()); !errors.Is(err, ErrNotFound) {
		t.Errorf("before a business: %v", err)
	}
	sold(t, s)
	look := func() *Catalogue {
		t.Helper()
		c, err := s.Catalogue(t.Context())
		if err != nil {
			t.Fatal(err)
		}
		return c
	}
	first := look()
	if p, ok := first.Product("p"); !ok || p.Draft.Title != "" || first.Business.Name != "B" {
		t.Errorf("%+v, %v", p, ok)
	}
	if look() != first {
		t.Error("it is read again with nothing changed")
	}
	write(t, s, func(tx *Tx) error { return tx.AddLink(Link{Hash: "h", OrderID: 1, CreatedAt: now}) })
	if look() != first {
		t.Error("it is read again after a change of something else")
	}
	rename := func(name string, err error) error {
		return s.Write(t.Context(), func(tx *Tx) error {
			b, berr := tx.Business()
			if berr != nil {
				return berr
			}
			b.Name = name
			return errors.Join(tx.SaveBusiness(b), err)
		})
	}
	if err := rename("C", nil); err != nil || look().Business.Name != "C" {
		t.Errorf("%v, %q", err, look().Business.Name)
	}
	if err := rename("D", errors.New("stop")); err == nil || look().Business.Name != "C" {
		t.Errorf("%v, %q", err, look().Business.Name)
	}
	write(t, s, func(tx *Tx) error {
		p, err := tx.ProductBySlug("p")
		if err != nil {
			return err
		}
		p.EditionID = nil
		return tx.SaveProduct(&p)
	})
	if p, _ := look().Product("p"); p.EditionID != nil {
		t.Error("a product that is not on sale any more is")
	}

	// Whoever saved sees it, whatever others read meanwhile.
	var all sync.WaitGroup
	for range 4 {
		all.Go(func() {
			for range 200 {
				if _, err := s.Catalogue(context.Background()); err != nil {
					t.Error(err)
				}
			}
		})
	}
	for i := range 40 {
		name := fmt.Sprint("name ", i)
		if err := rename(name, nil); err != nil || look().Business.Name != name {
			t.Errorf("%v, %q, want %q", err, look().Business.Name, name)
		}
	}
	all.Wait()
}

package store

import (
	"encoding/json"
	"errors"
	"testing"
	"time"

	"github.com/shopspring/decimal"

	"ruvo/internal/core/order"
	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
	"ruvo/internal/storetest"
)

// A database of the first release is brought forward with all that is in it.
func TestMigratingFromTheFirstRelease(t *testing.T) {
	folder := oldDatabase(t, 1, `INSERT INTO products (slug, position, draft, version, changed, updated_at) VALUES ('chart', 1, '{"title":"Chart","currency":"EUR","price":2400,"tax":"19"}', 3, true, '2026-11-01 10:00:00')`)
	s := open1(t, folder)
	read(t, s, func(tx *Tx) error {
		p, err := tx.ProductBySlug("chart")
		if err != nil || p.Draft.Title != "Chart" || p.Draft.Price != 2400 || p.Version != 3 || p.At != 0 || p.Author != "" {
			t.Errorf("%+v, %v", p, err)
		}
		if sheets, err := tx.Sheets(); err != nil || len(sheets) != 0 {
			t.Errorf("%v, %v", sheets, err)
		}
		return nil
	})
}

// order adds an order in a state and gives its id.
func ordered(t *testing.T, s *Store, name string, state order.State) int64 {
	t.Helper()
	o := Order{Checkout: name, Name: name, Email: name + "@example.org", Language: "en", Currency: "EUR", State: state, CreatedAt: now}
	write(t, s, func(tx *Tx) error { return tx.SaveOrder(&o) })
	return o.ID
}

func TestUploadsBelongToOneOrder(t *testing.T) {
	s := open1(t, storetest.Folder(t))
	paid, waiting, other := ordered(t, s, "paid", order.Placed), ordered(t, s, "waiting", order.Prepared), ordered(t, s, "other", order.Placed)
	write(t, s, func(tx *Tx) error {
		for i, id := range []string{"loose", "of-paid", "of-waiting", "fresh"} {
			u := Upload{ID: id, Name: id, Size: 10, Received: 10, Type: "image/png", Width: 4, Height: 3, CreatedAt: now.Add(time.Duration(i/3) * 30 * time.Hour)}
			if err := tx.AddUpload(&u); err != nil {
				return err
			}
		}
		if err := tx.BindUploads(paid, []string{"of-paid"}); err != nil {
			return err
		}
		return tx.BindUploads(waiting, []string{"of-waiting"})
	})
	read(t, s, func(tx *Tx) error {
		for _, c := range []struct {
			id    string
			order int64
			found bool
		}{
			{"loose", other, true}, {"of-paid", paid, true}, {"of-paid", other, false}, {"of-waiting", other, true}, {"of-waiting", waiting, true}, {"gone", paid, false},
		} {
			u, err := tx.UploadFor(c.id, c.order)
			if (err == nil) != c.found || err != nil && !errors.Is(err, ErrNotFound) {
				t.Errorf("%s for %d: %+v, %v", c.id, c.order, u, err)
			}
			if f := u.Facts(); c.found && (!f.Whole || f.Type != "image/png" || f.Width != 4) {
				t.Errorf("%+v", f)
			}
		}
		list, err := tx.UploadsOf(paid)
		if len(list) != 1 || list[0].ID != "of-paid" {
			t.Errorf("%v", list)
		}
		return err
	})
	write(t, s, func(tx *Tx) error {
		if err := tx.DropUpload("of-paid"); err != nil { // an order has it
			return err
		}
		return tx.SweepUploads(now.Add(time.Hour), now.Add(-time.Hour))
	})
	read(t, s, func(tx *Tx) error {
		for id, kept := range map[string]bool{"loose": false, "of-waiting": false, "of-paid": true, "fresh": true} {
			if _, err := tx.Upload(id); (err == nil) != kept {
				t.Errorf("%s: %v", id, err)
			}
		}
		return nil
	})
	write(t, s, func(tx *Tx) error { return tx.UnbindUploads(paid) })
	read(t, s, func(tx *Tx) error {
		if _, err := tx.UploadFor("of-paid", other); err != nil {
			t.Error(err)
		}
		return nil
	})
}

// What belongs to a person is kept once for each key, whatever the case of
// their address.
func TestCustomerAnswers(t *testing.T) {
	s := open1(t, storetest.Folder(t))
	keep := func(email string, key question.Key, answer string) {
		write(t, s, func(tx *Tx) error {
			return tx.KeepCustomerAnswer(CustomerAnswer{Email: email, Key: key, Kind: "phone", Answer: json.RawMessage(answer), UpdatedAt: now}, true)
		})
	}
	keep("Ada@example.org", "phone", `"+4930"`)
	keep("ada@example.org", "phone", `"+4931"`)
	keep("ada@EXAMPLE.org", "mobile", `"+4932"`)
	keep("ben@example.org", "phone", `"+4933"`)
	read(t, s, func(tx *Tx) error {
		list, err := tx.CustomerAnswers("ADA@example.org")
		if len(list) != 2 || list[0].Key != "mobile" || string(list[1].Answer) != `"+4931"` || list[1].Kind != "phone" {
			t.Errorf("%+v", list)
		}
		return err
	})
}

// Keeping a state forgets what was undone beyond it, and what is long past.
func TestDraftStates(t *testing.T) {
	s := open1(t, storetest.Folder(t))
	sold(t, s)
	keep := func(position int, title string) {
		write(t, s, func(tx *Tx) error {
			return tx.KeepDraftState(DraftState{ProductID: 1, Position: position, Draft: product.Draft{Title: title, Tax: decimal.NewFromInt(19)}, Author: "Ada", At: now})
		})
	}
	has := func(want map[int]bool) {
		t.Helper()
		read(t, s, func(tx *Tx) error {
			for position, there := range want {
				if got, err := tx.HasDraftState(1, position); err != nil || got != there {
					t.Errorf("%d: %v, %v", position, got, err)
				}
			}
			return nil
		})
	}
	keep(1, "a")
	keep(2, "b")
	keep(3, "c")
	keep(2, "b2")
	has(map[int]bool{0: false, 1: true, 2: true, 3: false})
	read(t, s, func(tx *Tx) error {
		st, err := tx.DraftStateAt(1, 2)
		if st.Draft.Title != "b2" || st.Author != "Ada" {
			t.Errorf("%+v", st)
		}
		return err
	})
	keep(400, "far")
	has(map[int]bool{1: false, 2: false, 400: true})
}

func TestSheetsAndEditions(t *testing.T) {
	s := open1(t, storetest.Folder(t))
	edition, _ := sold(t, s)
	questions := []product.Question{{Question: question.Question{Key: "way", Kind: "short_text", Moment: question.Briefing, Wording: "The way"}}}
	sheet := Sheet{Name: "Z", Questions: questions, Rule: product.SheetRule{All: true, Except: []int64{4}}, Version: 1, Changed: true, UpdatedAt: now}
	published := Sheet{Name: "A", Published: questions, PublishedRule: product.SheetRule{Categories: []string{"visits"}}, OnSale: true, Version: 1, UpdatedAt: now}
	write(t, s, func(tx *Tx) error { return errors.Join(tx.SaveSheet(&sheet), tx.SaveSheet(&published)) })
	read(t, s, func(tx *Tx) error {
		all, err := tx.Sheets()
		if err != nil || len(all) != 2 || all[0].Name != "A" || !all[1].Rule.All || all[1].Rule.Except[0] != 4 || all[1].Questions[0].Key != "way" {
			t.Errorf("%+v, %v", all, err)
		}
		used, err := tx.UsedSheets()
		if err != nil || len(used) != 1 || used[0].Name != "A" || used[0].Questions[0].Wording != "The way" || used[0].Rule.Categories[0] != "visits" {
			t.Errorf("%+v, %v", used, err)
		}
		editions, err := tx.EditionsOf(1)
		if err != nil || len(editions) != 1 || editions[0].ID != edition {
			t.Errorf("%+v, %v", editions, err)
		}
		if _, err := tx.EditionByNumber(1, 2); !errors.Is(err, ErrNotFound) {
			t.Error(err)
		}
		counts, err := tx.SoldOf(1)
		if counts[edition] > 1 {
			t.Errorf("%v", counts)
		}
		return err
	})
	write(t, s, func(tx *Tx) error { return tx.DropSheet(sheet.ID) })
	read(t, s, func(tx *Tx) error {
		if _, err := tx.SheetByID(sheet.ID); !errors.Is(err, ErrNotFound) {
			t.Error(err)
		}
		return nil
	})
}

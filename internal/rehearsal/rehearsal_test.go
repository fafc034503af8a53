package rehearsal

import (
	"context"
	"os"
	"path/filepath"
	"reflect"
	"strings"
	"sync"
	"testing"
	"time"

	"ruvo/demo"
	"ruvo/internal/core/words"
	"ruvo/internal/desk"
	"ruvo/internal/store"
	"ruvo/internal/storetest"
)

var today = time.Date(2026, 11, 24, 9, 30, 0, 0, time.FixedZone("", 3600))

// sample is a data folder with the sample business, which is filled in once.
var sample = sync.OnceValues(func() (string, error) {
	folder, err := os.MkdirTemp("", "rehearsal")
	if err != nil {
		return folder, err
	}
	if err := os.Chmod(folder, 0o700); err != nil {
		return folder, err
	}
	s, err := store.Open(folder)
	if err != nil {
		return folder, err
	}
	if err := demo.Fill(context.Background(), s, today, "http://shop.example.org"); err != nil {
		return folder, err
	}
	return folder, s.Close()
})

func TestMain(m *testing.M) {
	code := m.Run()
	if folder, err := sample(); err == nil {
		os.RemoveAll(folder)
	}
	os.Exit(code)
}

func must(t testing.TB, err error) {
	t.Helper()
	if err != nil {
		t.Fatalf("%v %s", err, told(err))
	}
}

// stage opens a stage of the sample business.
func stage(t *testing.T) *Stage {
	t.Helper()
	from, err := sample()
	must(t, err)
	folder := storetest.Folder(t)
	must(t, os.CopyFS(folder, os.DirFS(from)))
	must(t, os.Chmod(filepath.Join(folder, store.File), 0o600))
	s, err := store.Open(folder)
	must(t, err)
	stage := &Stage{Store: s, Now: func() time.Time { return today }}
	t.Cleanup(func() {
		must(t, stage.Close())
		must(t, s.Close())
	})
	return stage
}

// pieces gives the drafts of all products.
func pieces(t *testing.T, s *Stage) []desk.Piece {
	t.Helper()
	var list []desk.Piece
	must(t, s.Store.Read(t.Context(), func(tx *store.Tx) error {
		products, err := tx.Products()
		for _, p := range products {
			list = append(list, desk.Piece{Product: p, By: "Ilse Brandt"})
		}
		return err
	}))
	return list
}

// Every product of the sample business goes through the whole path with answers that
// were made up, and all that is stored of it computes the same again.
func TestWalksTheSample(t *testing.T) {
	s := stage(t)
	for _, p := range pieces(t, s) {
		v, err := s.Walk(t.Context(), p, 1, 3, 7, words.English)
		if err != nil {
			t.Errorf("%s: %v %s", p.Product.Slug, err, told(err))
			continue
		}
		for _, f := range v.Failed {
			t.Errorf("%s, walk %d: %s: %s\n%v", p.Product.Slug, f.Walk, f.Step, f.Why, f.Answers)
		}
		t.Logf("%s: %d paid, %d briefed, %d done", p.Product.Slug, v.Paid, v.Briefed, v.Done)
	}
}

// rows counts what each table of the business has.
func rows(t *testing.T, s *Stage) map[string]int {
	t.Helper()
	db := storetest.SQL(t, filepath.Join(s.Store.Folder(), store.File))
	names, err := db.Query("SELECT name FROM sqlite_master WHERE type = 'table'")
	must(t, err)
	defer names.Close()
	counts := map[string]int{}
	for names.Next() {
		var name string
		must(t, names.Scan(&name))
		counts[name] = -1
	}
	for name := range counts {
		n := 0
		must(t, db.QueryRow("SELECT COUNT(*) FROM "+name).Scan(&n))
		counts[name] = n
	}
	return counts
}

// A rehearsal begins with what is sold and nothing that was ordered, keeps its day over
// a restart, is found by its name alone, and is swept without a trace.
func TestARehearsalStandsApart(t *testing.T) {
	s := stage(t)
	before := rows(t, s)
	p := pieces(t, s)[1]
	r, err := s.Begin(t.Context(), p, words.English)
	must(t, err)
	if r.Orders != 0 || r.Mails != 0 || r.Day != "2026-11-24" || r.Title != p.Product.Draft.Title || r.Edition != nil {
		t.Errorf("%+v", r)
	}
	h, err := s.find(r.Name)
	must(t, err)
	must(t, h.store.Read(t.Context(), func(tx *store.Tx) error {
		for _, mails := range []string{"cosima@example.org", "ottilie@example.org"} {
			if known, err := tx.CustomerAnswers(mails); err != nil || len(known) > 0 {
				t.Errorf("%s is known in the rehearsal: %v, %v", mails, known, err)
			}
		}
		kept, err := tx.KeptBetween(today, today.AddDate(0, 1, 0))
		if len(kept) == 0 {
			t.Error("no time is taken in the rehearsal that is taken in the shop")
		}
		return err
	}))

	if _, err := h.SetDay(t.Context(), "2027-03-01", words.English); err != nil {
		t.Error(err)
	}
	for _, bad := range []string{"", "tomorrow", "2031-01-01"} {
		if _, err := h.SetDay(t.Context(), bad, words.English); err == nil {
			t.Errorf("%q became today", bad)
		}
	}
	must(t, s.Close())
	again := &Stage{Store: s.Store, Now: s.Now}
	t.Cleanup(func() { must(t, again.Close()) })
	list, err := again.List(t.Context())
	must(t, err)
	if len(list) != 1 || list[0].Day != "2027-03-01" || list[0].Name != r.Name {
		t.Errorf("%+v", list)
	}
	if _, ok := again.Rehearsal(r.Path + "/p/x"); !ok {
		t.Error("it is not found after a restart")
	}
	for _, bad := range []string{"/rehearsal/", "/rehearsal/..", "/rehearsal/../../etc", "/rehearsal/AAAAAAAAAAAAAAAAAAAAAA/"} {
		if _, ok := again.Rehearsal(bad); ok {
			t.Errorf("%s is a rehearsal", bad)
		}
	}
	// One that was used stays, one that nobody used for long goes, and so does what a walk
	// left behind.
	must(t, os.MkdirAll(again.folder(walking+"left"), 0o700))
	old := time.Now().Add(-unused - time.Hour)
	must(t, os.Chtimes(filepath.Join(again.folder(r.Name), kept), old, old))
	again.open[r.Name].used.Store(0)
	again.Rehearsal(r.Path + "/")
	must(t, again.sweepUnused(t.Context()))
	must(t, again.sweepWalks())
	if left, err := os.ReadDir(Folder(s.Store.Folder())); err != nil || len(left) != 1 {
		t.Errorf("%v is left, %v", left, err)
	}
	if _, err := again.Sweep(t.Context(), "nothing"); err == nil {
		t.Error("what is not there was swept")
	}
	if n, err := again.Sweep(t.Context(), ""); n != 1 || err != nil {
		t.Errorf("%d swept, %v", n, err)
	}
	if left, err := os.ReadDir(Folder(s.Store.Folder())); err != nil || len(left) > 0 {
		t.Errorf("%v is left, %v", left, err)
	}
	for table, n := range rows(t, s) {
		if before[table] != n {
			t.Errorf("%s has %d rows, and had %d", table, n, before[table])
		}
	}
}

// An edition is rehearsed as it was sold, whatever the draft became; a draft with
// mistakes is not, and leaves nothing behind.
func TestWhatIsRehearsed(t *testing.T) {
	s := stage(t)
	var p desk.Piece
	must(t, s.Store.Write(t.Context(), func(tx *store.Tx) error {
		product, err := tx.ProductBySlug("red-lamp")
		if err != nil {
			return err
		}
		e, err := tx.EditionByNumber(product.ID, 1)
		if err != nil {
			return err
		}
		product.Draft.Title, product.Changed = "", true
		p = desk.Piece{Product: product, Edition: &e}
		return tx.SaveProduct(&product)
	}))
	r, err := s.Begin(t.Context(), p, words.English)
	must(t, err)
	if r.Edition == nil || *r.Edition != 1 || r.Title != "Red lamp" {
		t.Errorf("%+v", r)
	}
	if _, err := s.Begin(t.Context(), desk.Piece{Product: p.Product}, words.English); err == nil {
		t.Error("a product without a title was rehearsed")
	}
	if left, _ := s.names(); len(left) != 1 {
		t.Errorf("%v", left)
	}
}

// What stops a customer stops a walk, at its place and with its answers; the same seed
// walks the same again.
func TestAWalkStumbles(t *testing.T) {
	s := stage(t)
	p := pieces(t, s)[0]
	must(t, s.Store.Write(t.Context(), func(tx *store.Tx) error {
		// Nothing is left of any size, so nobody can order.
		product, err := tx.ProductByID(p.Product.ID)
		if err != nil {
			return err
		}
		for i, q := range product.Draft.Questions {
			if q.Key == "title" {
				product.Draft.Questions[i].Settings = []byte(`{"pattern": "[^\\x00-\\x{10ffff}]", "says": "nothing at all"}`)
				product.Draft.Questions[i].Later = false
			}
		}
		product.Version, product.Changed = product.Version+1, true
		p.Product = product
		return tx.SaveProduct(&product)
	}))
	v, err := s.Walk(t.Context(), p, 1, 2, 3, words.English)
	must(t, err)
	if v.Paid != 0 || len(v.Failed) != 2 || v.Failed[0].Step != "choosing" || !strings.Contains(v.Failed[0].Why, "Title on the chart") {
		t.Errorf("%+v", v)
	}
	if again, err := s.Walk(t.Context(), p, 1, 2, 3, words.English); err != nil || !reflect.DeepEqual(again, v) {
		t.Errorf("%+v\n%+v, %v", v, again, err)
	}
	if alone, err := s.Walk(t.Context(), p, 2, 1, 3, words.English); err != nil || alone.Walks != 1 || !reflect.DeepEqual(alone.Failed, v.Failed[1:]) {
		t.Errorf("%+v\n%+v, %v", v.Failed[1:], alone, err)
	}
}

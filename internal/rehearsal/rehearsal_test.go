package rehearsal

import (
	"context"
	"os"
	"path/filepath"
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
		v, err := s.Walk(t.Context(), p, 3, 7, words.English)
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

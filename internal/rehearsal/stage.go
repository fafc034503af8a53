// Package rehearsal tries products the whole way, as a stranger walks it, and beyond.
// Each rehearsal is a server of its own under a path of its own: with a copy of what the
// business sells, a clock, a payment service that moves no money, and a tray that keeps
// its mails. So nothing of it can count in a figure or a limit of the business, and
// sweeping it is taking its folder away.
package rehearsal

import (
	"cmp"
	"context"
	"errors"
	"io/fs"
	"log/slog"
	"net/http"
	"net/netip"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"time"

	"ruvo/api"
	"ruvo/internal/core/words"
	"ruvo/internal/desk"
	"ruvo/internal/link"
	"ruvo/internal/store"
	"ruvo/internal/web"
)

const (
	most   = 12                 // rehearsals at a time
	unused = 7 * 24 * time.Hour // after which a rehearsal is swept by itself
)

// A Stage has the rehearsals of a business.
type Stage struct {
	Store   *store.Store
	Files   fs.FS
	Now     func() time.Time
	Secure  bool
	Proxies []netip.Prefix
	// Address is where the server itself is reached, to tell it of payments.
	Address string
	// Enter finds who is signed in at the desk.
	Enter func(ctx context.Context, secret string, unattended bool, l words.Language) (context.Context, error)

	mu     sync.Mutex
	open   map[string]*house
	closed bool
}

var _ web.Stage = (*Stage)(nil)

// Folder gives the folder that holds all rehearsals, within a data folder.
func Folder(data string) string { return filepath.Join(data, "rehearsals") }

func (s *Stage) folder(name string) string { return filepath.Join(Folder(s.Store.Folder()), name) }

// Close ends the servers of all rehearsals; what happened in them stays.
func (s *Stage) Close() error {
	s.mu.Lock()
	defer s.mu.Unlock()
	s.closed = true
	var errs []error
	for _, h := range s.open {
		errs = append(errs, h.close())
	}
	s.open = nil
	return errors.Join(errs...)
}

// Run sweeps, until the context ends, what nobody rehearsed for long.
func (s *Stage) Run(ctx context.Context, every time.Duration) {
	if err := s.sweepWalks(); err != nil {
		slog.Error("sweeping walks", "error", err)
	}
	for {
		if err := s.sweepUnused(ctx); err != nil && ctx.Err() == nil {
			slog.Error("sweeping rehearsals", "error", err)
		}
		select {
		case <-ctx.Done():
			return
		case <-time.After(every):
		}
	}
}

func (s *Stage) sweepUnused(ctx context.Context) error {
	names, err := s.names()
	for _, name := range names {
		info, serr := os.Stat(filepath.Join(s.folder(name), kept))
		if serr == nil && time.Since(info.ModTime()) > unused {
			_, serr = s.Sweep(ctx, name)
		}
		err = errors.Join(err, serr)
	}
	return err
}

// sweepWalks takes away what walks left behind that were under way when the server
// was stopped.
func (s *Stage) sweepWalks() error {
	left, err := filepath.Glob(filepath.Join(Folder(s.Store.Folder()), walking+"*"))
	for _, folder := range left {
		err = errors.Join(err, os.RemoveAll(folder))
	}
	return err
}

// names lists the rehearsals by what lies in the folder.
func (s *Stage) names() ([]string, error) {
	entries, err := os.ReadDir(Folder(s.Store.Folder()))
	if errors.Is(err, fs.ErrNotExist) {
		return nil, nil
	}
	var names []string
	for _, e := range entries {
		if e.IsDir() && !strings.HasPrefix(e.Name(), walking) {
			names = append(names, e.Name())
		}
	}
	return names, err
}

// Begin implements desk.Stage.
func (s *Stage) Begin(ctx context.Context, p desk.Piece, l words.Language) (api.Rehearsal, error) {
	names, err := s.names()
	if err != nil {
		return api.Rehearsal{}, err
	}
	if len(names) >= most {
		return api.Rehearsal{}, desk.ErrManyRehearsals(l, most)
	}
	h, err := s.build(ctx, link.Secret(), p, l)
	if err != nil {
		return api.Rehearsal{}, err
	}
	s.mu.Lock()
	err = s.keep(h)
	s.mu.Unlock()
	if err != nil {
		return api.Rehearsal{}, err
	}
	return h.View(ctx)
}

// keep has an opened house answer from now on. The caller holds the lock.
func (s *Stage) keep(h *house) error {
	if s.closed {
		return errors.Join(http.ErrServerClosed, h.close())
	}
	if s.open == nil {
		s.open = map[string]*house{}
	}
	s.open[h.name] = h
	h.run()
	return nil
}

// find gives the house of a rehearsal, opening it when it was not used since the start.
func (s *Stage) find(name string) (*house, error) {
	s.mu.Lock()
	defer s.mu.Unlock()
	if h := s.open[name]; h != nil {
		return h, nil
	}
	if !nameForm.MatchString(name) {
		return nil, store.ErrNotFound
	}
	h, err := s.reopen(name)
	if err != nil {
		return nil, err
	}
	return h, s.keep(h)
}

// Rehearsal implements web.Stage.
func (s *Stage) Rehearsal(path string) (http.Handler, bool) {
	name, _, _ := strings.Cut(strings.TrimPrefix(path, web.RehearsalPath), "/")
	h, err := s.find(name)
	if err != nil {
		if !errors.Is(err, fs.ErrNotExist) {
			slog.Error("opening a rehearsal", "error", err)
		}
		return nil, false
	}
	h.touch()
	return h.handler, true
}

// List implements desk.Stage.
func (s *Stage) List(ctx context.Context) ([]api.Rehearsal, error) {
	list := []api.Rehearsal{}
	names, err := s.names()
	if err != nil {
		return list, err
	}
	for _, name := range names {
		h, err := s.find(name)
		if errors.Is(err, fs.ErrNotExist) { // being begun or swept
			continue
		}
		if err != nil {
			return list, err
		}
		v, err := h.View(ctx)
		if err != nil {
			return list, err
		}
		list = append(list, v)
	}
	slices.SortFunc(list, func(a, b api.Rehearsal) int {
		return cmp.Or(b.Begun.Compare(a.Begun), strings.Compare(a.Name, b.Name))
	})
	return list, nil
}

// Sweep implements desk.Stage.
func (s *Stage) Sweep(_ context.Context, name string) (int, error) {
	names, err := s.names()
	if err != nil {
		return 0, err
	}
	if name != "" {
		if !slices.Contains(names, name) {
			return 0, store.ErrNotFound
		}
		names = []string{name}
	}
	s.mu.Lock()
	defer s.mu.Unlock()
	for _, name := range names {
		if h := s.open[name]; h != nil {
			delete(s.open, name)
			err = errors.Join(err, h.close())
		}
		err = errors.Join(err, os.RemoveAll(s.folder(name)))
	}
	return len(names), err
}

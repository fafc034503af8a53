package rehearsal

import (
	"context"
	"encoding/json"
	"errors"
	"io/fs"
	"net/http"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"sync"
	"sync/atomic"
	"time"

	"ruvo/api"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/words"
	"ruvo/internal/desk"
	"ruvo/internal/message"
	"ruvo/internal/port"
	"ruvo/internal/problem"
	"ruvo/internal/standin"
	"ruvo/internal/standin/cards"
	"ruvo/internal/store"
	"ruvo/internal/web"
)

// kept is the file in a rehearsal's folder that says what is rehearsed.
const kept = "rehearsal.json"

var nameForm = regexp.MustCompile(`^[A-Za-z0-9_-]{22}$`)

// A playbill says what is rehearsed, and what day it is there.
type playbill struct {
	Product int64         `json:"product"`
	Slug    string        `json:"slug"`
	Title   string        `json:"title"`
	Edition int           `json:"edition,omitempty"` // 0 of the draft
	By      string        `json:"by"`
	Begun   time.Time     `json:"begun"`
	Shift   time.Duration `json:"shift"` // of the clock
}

// A house is one rehearsal: a server with all that it needs.
type house struct {
	stage   *Stage
	name    string
	store   *store.Store
	bank    *cards.Service
	server  *web.Server
	handler http.Handler
	post    tray
	zone    *time.Location

	mu    sync.Mutex
	bill  playbill
	shift atomic.Int64 // of the bill, for the clock
	used  atomic.Int64 // when it was used last that was noted, in Unix seconds

	stop   context.CancelFunc
	beside sync.WaitGroup
}

var _ web.Rehearsing = (*house)(nil)

// now is what the clock says in the rehearsal.
func (h *house) now() time.Time { return h.stage.Now().Add(time.Duration(h.shift.Load())) }

// build begins a house in a folder of its own, with what is rehearsed on sale. When that
// cannot be, nothing is left of it.
func (s *Stage) build(ctx context.Context, name string, p desk.Piece, l words.Language) (h *house, err error) {
	folder := s.folder(name)
	h = &house{stage: s, name: name, bill: playbill{Product: p.Product.ID, Slug: p.Product.Slug, By: p.By, Begun: s.Now().UTC()}}
	defer func() {
		if err != nil {
			err = errors.Join(err, h.close(), os.RemoveAll(folder))
		}
	}()
	var edition int64
	if p.Edition != nil {
		edition, h.bill.Edition = p.Edition.ID, p.Edition.Number
	}
	b, err := s.business(ctx)
	if err != nil {
		return h, err
	}
	h.store, err = s.Store.Rehearse(ctx, folder, edition, strings.TrimSuffix(b.Address, "/")+h.Base(), s.Now())
	if err != nil {
		return h, err
	}
	if err := s.lend(ctx, folder); err != nil {
		return h, err
	}
	if err := h.start(ctx); err != nil {
		return h, err
	}
	if p.Edition != nil {
		h.bill.Title = p.Edition.Content.Title
		err = h.store.Write(ctx, func(tx *store.Tx) error { return tx.SellEdition(p.Product.ID, edition) })
	} else {
		h.bill.Title = p.Product.Draft.Title
		_, err = h.server.Desk.Publish(ctx, p.Product.ID, p.Product.Version, l)
	}
	if err != nil {
		return h, err
	}
	return h, h.write()
}

func (s *Stage) business(ctx context.Context) (b store.Business, err error) {
	err = s.Store.Read(ctx, func(tx *store.Tx) (err error) {
		b, err = tx.Business()
		return err
	})
	return b, err
}

// lend gives a rehearsal the files of the seller that buyers get at once. They are the
// same files, so that large ones take no room.
func (s *Stage) lend(ctx context.Context, folder string) error {
	var files []store.Upload
	err := s.Store.Read(ctx, func(tx *store.Tx) (err error) {
		files, err = tx.KeptUploads()
		return err
	})
	if err != nil {
		return err
	}
	to := web.Uploads(folder)
	if err := os.MkdirAll(to, 0o700); err != nil {
		return err
	}
	for _, f := range files {
		err := os.Link(filepath.Join(web.Uploads(s.Store.Folder()), f.ID), filepath.Join(to, f.ID))
		if err != nil && !errors.Is(err, fs.ErrNotExist) {
			return err
		}
	}
	return nil
}

// reopen opens a rehearsal that was begun before the server started.
func (s *Stage) reopen(name string) (h *house, err error) {
	raw, err := os.ReadFile(filepath.Join(s.folder(name), kept))
	if err != nil {
		return nil, err
	}
	h = &house{stage: s, name: name}
	if err := json.Unmarshal(raw, &h.bill); err != nil {
		return nil, err
	}
	h.shift.Store(int64(h.bill.Shift))
	if h.store, err = store.Open(s.folder(name)); err == nil {
		err = h.start(context.Background())
	}
	if err != nil {
		return nil, errors.Join(err, h.close())
	}
	return h, nil
}

// start makes the server.
func (h *house) start(ctx context.Context) (err error) {
	b, err := h.business(ctx)
	if err != nil {
		return err
	}
	h.zone = b.Location()
	h.post = tray{standin.Mail{Folder: standin.PostBox(h.store.Folder())}, words.Language(b.Language)}
	if h.bank, err = cards.Open(h.store.Folder(), h.now); err != nil {
		return err
	}
	h.bank.Base = h.Base()
	if h.stage.Address != "" {
		h.bank.Notices = h.stage.Address + h.Base() + web.NoticesPath
	}
	h.server, err = web.New(web.Config{
		Store: h.store, Payments: h.bank, Now: h.now, Files: h.stage.Files, Secure: h.stage.Secure, Proxies: h.stage.Proxies, Delivered: h.post.Text,
		Simulated: &web.Simulated{Path: cards.Pages, Pages: h.bank}, Rehearsal: h,
	})
	if err != nil {
		return err
	}
	// Its pictures are those of the seller; what is sold is not changed here.
	h.server.Desk.Shown.Folder = web.Pictures(h.stage.Store.Folder())
	h.handler = http.StripPrefix(h.Base(), h.server)
	return nil
}

func (h *house) business(ctx context.Context) (b store.Business, err error) {
	err = h.store.Read(ctx, func(tx *store.Tx) (err error) {
		b, err = tx.Business()
		return err
	})
	return b, err
}

// run has what goes by itself go on until the house is closed.
func (h *house) run() {
	ctx, stop := context.WithCancel(context.Background())
	h.stop = stop
	for _, loop := range []func(){
		func() { h.server.Sweep(ctx, 5*time.Minute) },
		func() { h.server.Attempts.Run(ctx, time.Second) },
		func() { h.server.Clerk.Run(ctx, time.Second) },
		func() { h.bank.Run(ctx, time.Second) },
		func() { h.server.Waiting.Run(ctx, 5*time.Second) },
		func() { h.postman().Run(ctx, time.Second) },
	} {
		h.beside.Go(loop)
	}
}

func (h *house) postman() *message.Postman {
	return &message.Postman{Store: h.store, Mailer: h.post, Texter: h.post, Now: h.now}
}

func (h *house) close() error {
	if h.stop != nil {
		h.stop()
	}
	h.beside.Wait()
	var errs []error
	if h.bank != nil {
		errs = append(errs, h.bank.Close())
	}
	if h.store != nil {
		errs = append(errs, h.store.Close())
	}
	return errors.Join(errs...)
}

// write keeps what is rehearsed.
func (h *house) write() error {
	raw, err := json.Marshal(h.bill)
	if err != nil {
		return err
	}
	return os.WriteFile(filepath.Join(h.store.Folder(), kept), raw, 0o600)
}

// touch notes that the rehearsal is used, once an hour at most.
func (h *house) touch() {
	now := time.Now()
	if before := h.used.Load(); now.Unix()-before > int64(time.Hour/time.Second) && h.used.CompareAndSwap(before, now.Unix()) {
		// Where that cannot be noted it is swept a little earlier, which loses nothing that counts.
		_ = os.Chtimes(filepath.Join(h.store.Folder(), kept), now, now)
	}
}

// Base implements web.Rehearsing.
func (h *house) Base() string { return web.RehearsalPath + h.name }

// Enter implements web.Rehearsing.
func (h *house) Enter(ctx context.Context, secret string, unattended bool, l words.Language) (context.Context, error) {
	return h.stage.Enter(ctx, secret, unattended, l)
}

// View implements web.Rehearsing.
func (h *house) View(ctx context.Context) (api.Rehearsal, error) {
	h.mu.Lock()
	bill := h.bill
	h.mu.Unlock()
	v := api.Rehearsal{
		Name: h.name, Path: h.Base(), Product: bill.Product, Slug: bill.Slug, Title: bill.Title, Begun: bill.Begun, By: bill.By,
		Day: calendar.DayOf(h.now().In(h.zone)).String(), Today: calendar.DayOf(h.stage.Now().In(h.zone)).String(),
	}
	if bill.Edition > 0 {
		v.Edition = &bill.Edition
	}
	err := h.store.Read(ctx, func(tx *store.Tx) error {
		orders, mails, err := tx.Happened()
		v.Orders, v.Mails = int(orders), int(mails)
		return err
	})
	return v, err
}

// farthest is how many days ahead or back a rehearsal can go.
const farthest = 3 * 366

// SetDay implements web.Rehearsing. The time of day stays. Time goes back only until
// something is ordered: what was done then was not done yet.
func (h *house) SetDay(ctx context.Context, text string, l words.Language) (api.Rehearsal, error) {
	wrong := func(code string) (api.Rehearsal, error) {
		return api.Rehearsal{}, problem.Invalid(l, []api.FieldError{problem.Field(l, "day", code, nil)})
	}
	day, err := calendar.ParseDay(text)
	if err != nil {
		return wrong("day")
	}
	now := h.now().In(h.zone)
	by := day.Since(calendar.DayOf(now))
	if far := day.Since(calendar.DayOf(h.stage.Now().In(h.zone))); far > farthest || far < -farthest {
		return wrong("rehearsed_far")
	}
	v, err := h.View(ctx)
	if err != nil {
		return v, err
	}
	if by < 0 && v.Orders > 0 {
		return wrong("rehearsed_back")
	}
	h.mu.Lock()
	h.bill.Shift += now.AddDate(0, 0, by).Sub(now)
	h.shift.Store(int64(h.bill.Shift))
	err = h.write()
	h.mu.Unlock()
	if err == nil { // what the time brings is there at once
		err = errors.Join(h.server.Shop.Sweep(ctx), h.server.Desk.Sweep(ctx), h.server.Handing.Tend(ctx))
	}
	if err != nil {
		return v, err
	}
	return h.View(ctx)
}

// A tray keeps mails and text messages, marked as those of a rehearsal.
type tray struct {
	standin.Mail
	language words.Language
}

// Send implements port.Mailer.
func (t tray) Send(ctx context.Context, m port.Mail) error {
	m.Subject = t.language.Say("rehearsal.mark", nil) + " " + m.Subject
	m.Body = t.language.Say("rehearsal.mail", nil) + "\n\n" + m.Body
	return t.Mail.Send(ctx, m)
}

// SendText implements port.Texter.
func (t tray) SendText(ctx context.Context, m port.Text) error {
	m.Body = t.language.Say("rehearsal.mark", nil) + " " + m.Body
	return t.Mail.SendText(ctx, m)
}

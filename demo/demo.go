// Package demo holds the sample business, Fernlight Sky Studio: invented, with
// made-up names and addresses under example.org. Its data are the files beside
// this one; its orders are placed, answered and worked on through the same use
// cases that people use, with the clock set back.
package demo

import (
	"bytes"
	"context"
	"crypto/rand"
	"embed"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"path/filepath"
	"sort"
	"strings"
	"time"

	"ruvo/api"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/product"
	"ruvo/internal/desk"
	"ruvo/internal/docket"
	"ruvo/internal/limit"
	"ruvo/internal/message"
	"ruvo/internal/payment"
	"ruvo/internal/shop"
	"ruvo/internal/standin"
	"ruvo/internal/standin/cards"
	"ruvo/internal/store"
	"ruvo/internal/upload"
)

// The sign-in of the sample business.
const (
	Email    = "ilse@fernlight.example.org"
	Password = "under the same sky"
)

//go:embed business.json agreements.json desk.json earlier.json orders.json trade.json chores.json products/*.json sheets/*.json
var files embed.FS

func read(name string, target any) error {
	raw, err := files.ReadFile(name)
	if err != nil {
		return err
	}
	if err := json.Unmarshal(raw, target); err != nil {
		return fmt.Errorf("%s: %w", name, err)
	}
	return nil
}

// Fill fills an empty database with the sample business as it is now. A
// database that has a business already only learns its address.
func Fill(ctx context.Context, s *store.Store, now time.Time, address string) error {
	filled := false
	owner := store.User{Email: Email, Name: "Ilse Brandt", Password: desk.HashPassword(Password), CreatedAt: now.UTC()}
	err := s.Write(ctx, func(tx *store.Tx) error {
		b, err := tx.Business()
		if err == nil {
			filled = true
			b.Address = address
			return tx.SaveBusiness(b)
		}
		if !errors.Is(err, store.ErrNotFound) {
			return err
		}
		if err := read("business.json", &b); err != nil {
			return err
		}
		b.Address = address
		if err := tx.SaveBusiness(b); err != nil {
			return err
		}
		return tx.AddUser(&owner)
	})
	if err != nil || filled {
		return err
	}
	ctx = desk.As(ctx, owner)
	f := &filling{store: s, now: now, clock: now}
	editions := &docket.Editions{}
	tell := func() time.Time { return f.clock }
	bank, err := cards.Open(s.Folder(), tell)
	if err != nil {
		return err
	}
	f.bank = bank
	defer bank.Close()
	attempts := &payment.Attempts{Store: s, Editions: editions, Service: bank, Now: tell, Hold: 15 * time.Minute}
	uploads := upload.Folder{Path: filepath.Join(s.Folder(), "uploads")}
	f.desk = &desk.Desk{Store: s, Editions: editions, Attempts: attempts, Uploads: uploads, Now: tell}
	f.shop = &shop.Shop{Store: s, Editions: editions, Attempts: attempts, Uploads: uploads, Now: tell, Hold: 15 * time.Minute, Limits: &limit.Table{}}
	var t trade
	if err := read("trade.json", &t); err != nil {
		return err
	}
	for _, fill := range []func(context.Context) error{
		func(ctx context.Context) error { return f.terms(ctx, t) }, f.sheets, f.products,
		func(ctx context.Context) error { return f.counted(ctx, t) },
	} {
		if err := fill(ctx); err != nil {
			return err
		}
	}
	if err := f.orders(ctx); err != nil {
		return err
	}
	if err := f.seen(ctx); err != nil {
		return err
	}
	if err := f.own(ctx); err != nil {
		return err
	}
	return f.chores(ctx)
}

// fresh is how many order lines nobody has opened yet.
const fresh = 3

// seen has all orders opened but the newest.
func (f *filling) seen(ctx context.Context) error {
	return f.store.Write(ctx, func(tx *store.Tx) error {
		rows, err := tx.ListLines(store.LineFilter{Most: 1000})
		for i := fresh; i < len(rows) && err == nil; i++ {
			err = tx.SeeLine(rows[i].ID, f.now)
		}
		return err
	})
}

// A chore is work that belongs to no order.
type chore struct {
	Title        string `json:"title"`
	Instructions string `json:"instructions"`
	Minutes      int    `json:"minutes"`
	Person       int64  `json:"person"`
	Days         int    `json:"days"` // from today until it is due
	Repeats      string `json:"repeats"`
}

func (f *filling) chores(ctx context.Context) error {
	var chores []chore
	if err := read("chores.json", &chores); err != nil {
		return err
	}
	for _, c := range chores {
		due := calendar.DayOf(f.now.In(f.zone)).Add(c.Days).String()
		n := api.NewItem{Title: c.Title, Instructions: &c.Instructions, Minutes: &c.Minutes, Assigned: &c.Person, Due: &due, Repeats: &c.Repeats}
		if _, err := f.desk.AddItem(ctx, n, "en"); err != nil {
			return fmt.Errorf("%s: %w", c.Title, err)
		}
	}
	return nil
}

// A filling is the sample business on its way into a database.
type filling struct {
	store *store.Store
	desk  *desk.Desk
	shop  *shop.Shop
	bank  *cards.Service
	zone  *time.Location
	now   time.Time // when the demo starts
	clock time.Time // when the event happens that is being replayed

	changes []*earlier // of products, that are still to come
}

// sheets publishes the groups of questions that several products use.
func (f *filling) sheets(ctx context.Context) error {
	for _, name := range []string{"before-you-come", "how-you-found-us"} {
		var s api.SheetChange
		if err := read("sheets/"+name+".json", &s); err != nil {
			return err
		}
		v, err := f.desk.AddSheet(ctx, api.NewSheet{Name: s.Name}, "en")
		if err != nil {
			return err
		}
		s.Version = v.Version
		if v, err = f.desk.PutSheet(ctx, v.Id, s, "en"); err != nil {
			return err
		}
		if _, err = f.desk.PublishSheet(ctx, v.Id, v.Version, "en"); err != nil {
			return fmt.Errorf("the sheet %s: %w", name, err)
		}
	}
	return nil
}

func (f *filling) products(ctx context.Context) error {
	var b store.Business
	if err := read("business.json", &b); err != nil {
		return err
	}
	f.zone = b.Location()
	f.clock = f.now.AddDate(0, 0, -90)
	slugs := []string{
		"sky-chart", "evening-under-the-stars", "photo-rescue", "gift-voucher", "observatory-cabin",
		"oak-frame", "red-lamp", "sky-cards", "telescope-hire", "mural", "star-party", "school-night", "dinner-under-the-dome", "first-night-set", "lesson-at-the-telescope", "solar-telescope", "six-evenings", "winter-skies",
	}
	drafts := make([]product.Draft, len(slugs))
	ids := make([]int64, len(slugs))
	for i, slug := range slugs {
		if err := f.draft(ctx, slug, &drafts[i]); err != nil {
			return err
		}
	}
	var err error
	if f.changes, err = f.earlier(slugs, drafts); err != nil {
		return err
	}
	for i, slug := range slugs { // all of them before any is published, as they name each other
		d := &drafts[i]
		err := f.store.Write(ctx, func(tx *store.Tx) error {
			p := store.Product{Slug: slug, Position: i + 1, Draft: *d, Version: 1, Changed: true, UpdatedAt: f.clock.UTC()}
			err := tx.SaveProduct(&p)
			ids[i] = p.ID
			for _, g := range d.AtOnce {
				for _, file := range g.Files {
					err = errors.Join(err, tx.KeepUploads([]string{file.File}))
				}
			}
			return err
		})
		if err != nil {
			return err
		}
	}
	for i, slug := range slugs {
		if _, err := f.desk.Publish(ctx, ids[i], 1, "en"); err != nil {
			return fmt.Errorf("%s: %w%s", slug, err, findings(drafts[i]))
		}
		for _, e := range f.changes {
			if e.Product == slug {
				e.id = ids[i]
			}
		}
	}
	return nil
}

// draft reads a product from its file.
func (f *filling) draft(ctx context.Context, slug string, d *product.Draft) error {
	raw, err := files.ReadFile("products/" + slug + ".json")
	if err != nil {
		return err
	}
	raw = calendar.FillIn(raw, calendar.DayOf(f.now.In(f.zone)))
	if err := json.Unmarshal(raw, d); err != nil {
		return fmt.Errorf("%s: %w", slug, err)
	}
	for i := range d.AtOnce {
		for k := range d.AtOnce[i].Files {
			file := &d.AtOnce[i].Files[k]
			if file.File, err = f.finish(ctx, file.Name); err != nil {
				return fmt.Errorf("%s: %w", slug, err)
			}
		}
	}
	return nil
}

// finish sends a finished file as the studio does.
func (f *filling) finish(ctx context.Context, name string) (string, error) {
	data, err := made(name)
	if err != nil {
		return "", err
	}
	u, err := f.desk.StartFinished(ctx, api.FinishedStart{Name: name, Size: int64(len(data))}, "en")
	if err != nil {
		return "", detail(err)
	}
	u, err = f.shop.AppendUpload(ctx, u.Id, 0, bytes.NewReader(data), "en")
	return u.Id, err
}

func findings(d product.Draft) string {
	_, found := product.Compile(d)
	var b strings.Builder
	for _, f := range found {
		fmt.Fprintf(&b, "\n%s %s: %s", f.Part, f.Key, f.Said("en"))
	}
	return b.String()
}

// An event is something that happened before the demo starts.
type event struct {
	at time.Time
	do func(context.Context) error
}

func (f *filling) orders(ctx context.Context) error {
	var orders []*sale
	if err := read("orders.json", &orders); err != nil {
		return err
	}
	events, err := f.texts()
	if err != nil {
		return err
	}
	for _, e := range f.changes {
		events = append(events, event{f.moment(e.Days, "07:30"), func(ctx context.Context) error { return e.stop(ctx, f) }})
	}
	for _, o := range orders {
		name := make([]byte, 16)
		rand.Read(name) // whoever knows a checkout's name gets to its order
		o.f, o.name = f, hex.EncodeToString(name)
		events = append(events, o.events()...)
	}
	sort.SliceStable(events, func(i, j int) bool { return events[i].at.Before(events[j].at) })
	for _, e := range events {
		f.clock = e.at
		if err := e.do(ctx); err != nil {
			return err
		}
	}
	if err := f.visits(ctx); err != nil {
		return err
	}
	f.clock = f.now
	post := standin.Mail{Folder: standin.PostBox(f.store.Folder())}
	return (&message.Postman{Store: f.store, Mailer: post, Texter: post, Now: f.shop.Now}).Round(ctx)
}

// moment gives an instant some days before the demo starts, at a wall-clock
// time; what would lie ahead happened half an hour ago instead.
func (f *filling) moment(days int, clock string) time.Time {
	var h, m int
	if _, err := fmt.Sscanf(clock, "%d:%d", &h, &m); err != nil {
		h = 10
	}
	at := calendar.DayOf(f.now.In(f.zone)).Add(days).At(h*60+m, f.zone)
	if late := f.now.Add(-30 * time.Minute); at.After(late) {
		return late
	}
	return at
}

package store

import (
	"context"
	"errors"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/go-gormigrate/gormigrate/v2"
	"github.com/shopspring/decimal"

	"ruvo/internal/core/order"
	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
	"ruvo/internal/core/workplan"
	"ruvo/internal/storetest"
)

var now = time.Date(2026, 11, 24, 9, 30, 0, 0, time.UTC)

// oldDatabase makes a database as it was after so many migrations, with rows in
// it, and gives its folder.
func oldDatabase(t *testing.T, after int, rows ...string) string {
	t.Helper()
	folder := storetest.Folder(t)
	path := filepath.Join(folder, File)
	if err := ownersOnly(folder, path); err != nil {
		t.Fatal(err)
	}
	db, err := open(path, "_txlock=immediate")
	if err != nil {
		t.Fatal(err)
	}
	options := *gormigrate.DefaultOptions
	options.UseTransaction = true
	if err := gormigrate.New(db, &options, migrations[:after]).Migrate(); err != nil {
		t.Fatal(err)
	}
	for _, row := range rows {
		if err := db.Exec(row).Error; err != nil {
			t.Fatalf("%s: %v", row, err)
		}
	}
	raw, err := db.DB()
	if err != nil {
		t.Fatal(err)
	}
	raw.Close()
	return folder
}

const businessBefore = `INSERT INTO businesses (id, name, tagline, language, zone, country, week, address) VALUES (1, 'B', '', 'en', 'Europe/Berlin', 'DE', '[]', '')`

func open1(t *testing.T, folder string) *Store {
	t.Helper()
	s, err := Open(folder)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { s.Close() })
	return s
}

func write(t *testing.T, s *Store, use func(*Tx) error) {
	t.Helper()
	if err := s.Write(context.Background(), use); err != nil {
		t.Fatal(err)
	}
}

func read(t *testing.T, s *Store, use func(*Tx) error) {
	t.Helper()
	if err := s.Read(context.Background(), use); err != nil {
		t.Fatal(err)
	}
}

// sold makes a business with one product, one edition and one order line.
func sold(t *testing.T, s *Store) (edition, line int64) {
	t.Helper()
	write(t, s, func(tx *Tx) error {
		if err := tx.SaveBusiness(Business{Name: "B", Language: "en", Zone: "Europe/Berlin", Week: OfficeWeek()}); err != nil {
			return err
		}
		p := Product{Slug: "p", Position: 1, Draft: product.Draft{Title: "P", Currency: "EUR", Tax: decimal.NewFromInt(19)}, Version: 1, UpdatedAt: now}
		if err := tx.SaveProduct(&p); err != nil {
			return err
		}
		e := Edition{ProductID: p.ID, Number: 1, Content: p.Draft, PublishedAt: now}
		if err := tx.AddEdition(&e); err != nil {
			return err
		}
		p.EditionID = &e.ID
		if err := tx.SaveProduct(&p); err != nil {
			return err
		}
		o := Order{Checkout: "c", Name: "Ada", Email: "ada@example.org", Language: "en", Currency: "EUR", State: order.Prepared, CreatedAt: now}
		if err := tx.SaveOrder(&o); err != nil {
			return err
		}
		l := OrderLine{OrderID: o.ID, Position: 1, ProductID: p.ID, EditionID: e.ID, Quantity: 1, Version: 1, Brief: order.Waiting}
		err := tx.SaveLine(&l)
		edition, line = e.ID, l.ID
		return err
	})
	return edition, line
}

func TestDataIsThereAfterAReopening(t *testing.T) {
	folder := storetest.Folder(t)
	s := open1(t, folder)
	_, line := sold(t, s)
	if err := s.Close(); err != nil {
		t.Fatal(err)
	}
	s = open1(t, folder)
	read(t, s, func(tx *Tx) error {
		b, err := tx.Business()
		if err != nil || b.Name != "B" || len(b.Week[1]) != 2 || b.Location().String() != "Europe/Berlin" {
			t.Errorf("%+v, %v", b, err)
		}
		l, err := tx.LineByID(line)
		if l.Quantity != 1 {
			t.Errorf("%+v", l)
		}
		return err
	})
}

func TestEditionsNeverChange(t *testing.T) {
	s := open1(t, storetest.Folder(t))
	id, _ := sold(t, s)
	err := s.Write(context.Background(), func(tx *Tx) error {
		e, err := tx.EditionByID(id)
		if err != nil {
			return err
		}
		e.Content.Price = 1
		return tx.db.Save(&e).Error
	})
	if err == nil || !strings.Contains(err.Error(), "never changes") {
		t.Errorf("an edition was changed: %v", err)
	}
}

func TestAnErrorUndoesEverything(t *testing.T) {
	s := open1(t, storetest.Folder(t))
	sold(t, s)
	failure := errors.New("no")
	err := s.Write(context.Background(), func(tx *Tx) error {
		if err := tx.WriteMessage(Message{Key: "k", Recipient: "a", CreatedAt: now}); err != nil {
			return err
		}
		return failure
	})
	if !errors.Is(err, failure) {
		t.Fatal(err)
	}
	read(t, s, func(tx *Tx) error {
		m, err := tx.MessagesToSend(now, 10)
		if len(m) != 0 {
			t.Errorf("%d mails were written all the same", len(m))
		}
		return err
	})
}

func TestReadingCannotWrite(t *testing.T) {
	s := open1(t, storetest.Folder(t))
	if err := s.Read(context.Background(), func(tx *Tx) error {
		return tx.WriteMessage(Message{Key: "k", Recipient: "a", CreatedAt: now})
	}); err == nil {
		t.Error("a reading transaction wrote")
	}
}

func TestMissingRowsHaveOneError(t *testing.T) {
	s := open1(t, storetest.Folder(t))
	read(t, s, func(tx *Tx) error {
		for name, find := range map[string]func() error{
			"business": func() error { _, err := tx.Business(); return err },
			"user":     func() error { _, err := tx.UserByEmail("x"); return err },
			"product":  func() error { _, err := tx.ProductBySlug("x"); return err },
			"on sale":  func() error { _, err := tx.OnSale("x"); return err },
			"edition":  func() error { _, err := tx.EditionByID(9); return err },
			"order":    func() error { _, err := tx.OrderByCheckout("x"); return err },
			"line":     func() error { _, err := tx.LineByID(9); return err },
			"link":     func() error { _, err := tx.LinkByHash("x"); return err },
			"attempt":  func() error { _, err := tx.AttemptByName("x"); return err },
			"item":     func() error { _, err := tx.ItemByID(9); return err },
		} {
			if err := find(); !errors.Is(err, ErrNotFound) {
				t.Errorf("%s: %v", name, err)
			}
		}
		return nil
	})
}

func TestMailIsWrittenOnceForEachKey(t *testing.T) {
	s := open1(t, storetest.Folder(t))
	for range 3 {
		write(t, s, func(tx *Tx) error {
			return tx.WriteMessage(Message{Key: "order-1", Recipient: "ada@example.org", CreatedAt: now})
		})
	}
	write(t, s, func(tx *Tx) error {
		m, err := tx.MessagesToSend(now, 10)
		if len(m) != 1 {
			t.Fatalf("%d mails", len(m))
		}
		if err := tx.MessageSent(&m[0], now); err != nil {
			return err
		}
		if m, _ = tx.MessagesToSend(now, 10); len(m) != 0 {
			t.Error("a sent mail is still to be sent")
		}
		return err
	})
}

func TestWorkItemsComeBack(t *testing.T) {
	s := open1(t, storetest.Folder(t))
	_, line := sold(t, s)
	item := workplan.Item{
		Step: "letter", Round: 2, Title: "Letter", Instructions: "“Ada”", Minutes: 22, Missing: []question.Key{"title"}, After: "compute", Brief: true,
		Ready: now, Due: now.Add(time.Hour), Uses: map[question.Key]string{"title": "Ada"}, Started: now, Done: now,
		Seen: map[question.Key]string{"title": "Bea"}, Marks: []workplan.Mark{{Key: "title", Old: "Bea", New: "Ada"}},
	}
	write(t, s, func(tx *Tx) error {
		row := WorkItem{LineID: line, ProductID: 1}
		row.Take(item)
		return tx.AddItems([]WorkItem{row})
	})
	read(t, s, func(tx *Tx) error {
		rows, err := tx.Items(line)
		if err != nil || len(rows) != 1 {
			t.Fatalf("%d rows, %v", len(rows), err)
		}
		back := rows[0].Plan()
		if back.Title != item.Title || !back.Due.Equal(item.Due) || back.Marks[0] != item.Marks[0] || back.Uses["title"] != "Ada" || back.Missing[0] != "title" || !back.Brief {
			t.Errorf("%+v", back)
		}
		return nil
	})
}

// Places that are held too long are free again; those of one order do not
// stand in its own way.
func TestTaken(t *testing.T) {
	s := open1(t, storetest.Folder(t))
	_, line := sold(t, s)
	start := now.Add(48 * time.Hour)
	until := now.Add(15 * time.Minute)
	write(t, s, func(tx *Tx) error {
		return tx.SaveBooking(&Booking{LineID: line, ProductID: 1, StartAt: start, EndAt: start.Add(time.Hour), FromAt: start, ToAt: start.Add(time.Hour), People: 3, HeldUntil: &until})
	})
	taken := func(at time.Time, except int64) (n int) {
		read(t, s, func(tx *Tx) error {
			list, err := tx.Taken(1, nil, now, now.Add(100*time.Hour), at, except)
			n = len(list)
			return err
		})
		return n
	}
	if taken(now, 0) != 1 || taken(now, 1) != 0 || taken(until, 0) != 0 {
		t.Errorf("held %d, for itself %d, too long %d", taken(now, 0), taken(now, 1), taken(until, 0))
	}
	write(t, s, func(tx *Tx) error {
		rows, err := tx.BookingsOf(line)
		if err != nil || len(rows) != 1 {
			t.Fatalf("%v, %v", rows, err)
		}
		b := rows[0]
		b.Sold, b.HeldUntil = true, nil
		return tx.SaveBooking(&b)
	})
	if taken(until.Add(time.Hour), 0) != 1 {
		t.Error("a sold place is free")
	}
	write(t, s, func(tx *Tx) error { return tx.ReplaceLines(1) })
	if taken(now, 0) != 0 {
		t.Error("a place outlives its line")
	}
}

// numbered adds an order with the next number.
func numbered(tx *Tx, checkout string) (Order, error) {
	o := Order{Checkout: checkout, State: order.Placed, CreatedAt: now, PlacedAt: &now}
	err := tx.AddCheckout(&o)
	if err == nil {
		err = tx.SaveNumbered(&o)
	}
	return o, err
}

// numbers gives the last number of an order.
func numbers(tx *Tx) (n int64) {
	tx.db.Raw("SELECT COALESCE(MAX(number), 0) FROM orders").Scan(&n)
	return n
}

// Writers queue; none fails because another is at work.
func TestWritersQueue(t *testing.T) {
	s := open1(t, storetest.Folder(t))
	var wait sync.WaitGroup
	for i := range 40 {
		wait.Go(func() {
			if err := s.Write(context.Background(), func(tx *Tx) error {
				_, err := numbered(tx, fmt.Sprint(i))
				return err
			}); err != nil {
				t.Error(err)
			}
		})
	}
	wait.Wait()
	read(t, s, func(tx *Tx) error {
		if n := numbers(tx); n != 1040 {
			t.Errorf("the last number is %d", n)
		}
		return nil
	})
}

// A process that is killed in the middle of writing leaves whole transactions
// behind, and every one that was confirmed.
func TestKilledWhileWriting(t *testing.T) {
	if folder := os.Getenv("RUVO_KILL_TEST"); folder != "" {
		s, err := Open(folder)
		if err != nil {
			panic(err)
		}
		for i := 0; ; i++ {
			err := s.Write(context.Background(), func(tx *Tx) error {
				o, err := numbered(tx, fmt.Sprint(i))
				if err != nil {
					return err
				}
				return tx.AddLink(Link{Hash: o.Checkout, OrderID: o.ID, CreatedAt: now})
			})
			if err != nil {
				panic(err)
			}
			os.Stdout.WriteString("confirmed\n")
		}
	}
	folder := storetest.Folder(t)
	child := exec.Command(os.Args[0], "-test.run", "^TestKilledWhileWriting$")
	child.Env = append(os.Environ(), "RUVO_KILL_TEST="+folder)
	out, err := child.StdoutPipe()
	if err != nil {
		t.Fatal(err)
	}
	if err := child.Start(); err != nil {
		t.Fatal(err)
	}
	confirmed := 0
	buf := make([]byte, 10)
	for confirmed < 25 {
		n, err := out.Read(buf)
		if err != nil {
			t.Fatal(err)
		}
		confirmed += strings.Count(string(buf[:n]), "\n")
	}
	child.Process.Kill()
	child.Wait()
	s := open1(t, folder)
	read(t, s, func(tx *Tx) error {
		var links int64
		err := tx.db.Model(&Link{}).Count(&links).Error
		if orders := numbers(tx) - 1000; orders < int64(confirmed) || orders != links {
			t.Errorf("%d were confirmed, %d orders and %d links are there", confirmed, orders, links)
		}
		return err
	})
}

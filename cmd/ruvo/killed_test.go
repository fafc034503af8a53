package main

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"math/rand/v2"
	"net"
	"net/http"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"ruvo/api"
	"ruvo/demo"
	"ruvo/internal/audit"
	"ruvo/internal/banking"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/money"
	"ruvo/internal/core/transfer"
	"ruvo/internal/docket"
	"ruvo/internal/standin/bank"
	"ruvo/internal/standin/cards"
	"ruvo/internal/store"
	"ruvo/internal/storetest"
)

// serving names the data folder and the address that the test program serves,
// instead of running tests, when it is started again by itself.
const serving = "RUVO_TEST_SERVES"

func TestMain(m *testing.M) {
	if folder, addr, is := strings.Cut(os.Getenv(serving), "|"); is {
		c := serveCommand()
		c.SetArgs([]string{"--data", folder, "--addr", addr})
		if err := c.ExecuteContext(context.Background()); err != nil {
			fmt.Fprintln(os.Stderr, err)
			os.Exit(1)
		}
		return
	}
	os.Exit(m.Run())
}

// A server is a process that can be killed.
type server struct {
	t      *testing.T
	folder string
	addr   string
	cmd    *exec.Cmd
}

func (s *server) start() {
	s.t.Helper()
	s.cmd = exec.Command(os.Args[0])
	s.cmd.Env = append(os.Environ(), serving+"="+s.folder+"|"+s.addr)
	if err := s.cmd.Start(); err != nil {
		s.t.Fatal(err)
	}
	look, limit := time.NewTicker(2*time.Millisecond), time.After(30*time.Second)
	defer look.Stop()
	for {
		select {
		case <-look.C:
			// It listens before it has put right what the kill left; it answers after.
			if res, err := http.Get("http://" + s.addr + "/api/shop"); err == nil {
				res.Body.Close()
				return
			}
		case <-limit:
			s.t.Fatal("the server does not answer")
		}
	}
}

func (s *server) kill() {
	s.cmd.Process.Kill()
	s.cmd.Wait()
}

// A buyer buys charts one after the other and keeps what they were told.
type buyer struct {
	url  string
	told map[int64]string // orders that were confirmed, with their checkouts
	owed map[int64]bool   // orders by transfer that were confirmed
	n    int
	name int
	bank *http.Client // stays on the bank's page
	came func()       // is told of each answer
}

// buy goes through one checkout; an error is a server that went away.
func (b *buyer) buy() error {
	b.n++
	checkout := fmt.Sprintf("%08x%024x", b.name, b.n)
	line := map[string]any{"product": "sky-chart", "quantity": 1, "answers": map[string]any{
		"night": "2014-06-14", "place": "Lofthus", "title": "The night", "paper": "midnight", "size": "large",
	}}
	email := fmt.Sprintf("ada%d.%d@example.org", b.name, b.n)
	if err := b.send("PUT", checkout, map[string]any{"name": "Ada Quill", "email": email, "terms": 2, "lines": []any{line}}, nil); err != nil {
		return err
	}
	var p api.Payment
	if b.n%4 == 0 { // every fourth by transfer
		err := b.send("POST", checkout+"/pay", map[string]any{"attempt": "the-only-one", "way": "transfer"}, &p)
		if err == nil && p.State == "awaiting" {
			b.owed[*p.Number] = true
		}
		return err
	}
	if err := b.send("POST", checkout+"/pay", map[string]any{"attempt": "the-only-one"}, &p); err != nil {
		return err
	}
	if p.Page == nil {
		return nil
	}
	form := url.Values{"do": {cards.DoPay}, "number": {cards.Works}, "expiry": {time.Now().AddDate(1, 0, 0).Format("01/06")}, "code": {"123"}}
	res, err := b.bank.PostForm(b.url+*p.Page, form)
	if err != nil {
		return err
	}
	res.Body.Close()
	if res.StatusCode != http.StatusSeeOther {
		return fmt.Errorf("the bank's page: %d", res.StatusCode)
	}
	var c api.Checkout
	if err := b.send("GET", checkout, nil, &c); err != nil {
		return err
	}
	if c.Payment != nil && c.Payment.State == "settled" {
		b.told[*c.Payment.Number] = checkout
	}
	return nil
}

func (b *buyer) send(method, path string, body, into any) error {
	raw, err := json.Marshal(body)
	if err != nil {
		return err
	}
	req, err := http.NewRequest(method, b.url+"/api/shop/checkouts/"+path, bytes.NewReader(raw))
	if err != nil {
		return err
	}
	req.Header.Set("Content-Type", "application/json")
	res, err := http.DefaultClient.Do(req)
	if err != nil {
		return err
	}
	defer res.Body.Close()
	got, err := io.ReadAll(res.Body)
	b.came()
	if err == nil && res.StatusCode != 200 {
		err = fmt.Errorf("%s %s: %d %s", method, path, res.StatusCode, got)
	}
	if err == nil && into != nil {
		err = json.Unmarshal(got, into)
	}
	return err
}

// readWhileKilled takes a statement with the transfers of all orders that wait for
// one, and has servers look at it that are killed meanwhile.
func (s *server) readWhileKilled(db *store.Store, buyers []*buyer, r *rand.Rand) map[int64]bool {
	s.t.Helper()
	owed := map[int64]bool{}
	var list []bank.Transfer
	for _, b := range buyers {
		for number := range b.owed {
			owed[number] = true
			list = append(list, bank.Transfer{Day: calendar.DayOf(time.Now().AddDate(0, 0, 1)), Amount: 3600, Currency: "EUR", Payer: "Quill", Reference: transfer.Reference(number)})
		}
	}
	for i := range 2000 { // so that it takes a while
		list = append(list, bank.Transfer{Day: calendar.DayOf(time.Now()), Amount: money.Amount(100 + i), Currency: "EUR", Payer: "Somebody"})
	}
	raw, err := bank.Statement{Account: "DE52000000000012345678", Transfers: list}.CAMT()
	if err != nil {
		s.t.Fatal(err)
	}
	clerk := banking.New(db, &docket.Editions{}, time.Now)
	if _, err := clerk.Take(s.t.Context(), "all.xml", bytes.NewReader(raw), "Ilse"); err != nil {
		s.t.Fatal(err)
	}
	for range 10 {
		s.start()
		time.Sleep(time.Duration(r.IntN(40)) * time.Millisecond)
		s.kill()
	}
	if err := clerk.Round(s.t.Context()); err != nil {
		s.t.Fatal(err)
	}
	return owed
}

// Four buyers at once, some by transfer, and the server killed at random fifty
// times, and ten more while a statement with their transfers is read. After each
// start the payment service's books and the ledgers agree, and in the end every
// order that somebody was told of is there, once, with its mail.
func TestKilledWhileFourBuy(t *testing.T) {
	if testing.Short() {
		t.Skip("it takes half a minute")
	}
	s := &server{t: t, folder: storetest.Folder(t)}
	db, err := store.Open(s.folder)
	if err != nil {
		t.Fatal(err)
	}
	if err := demo.Fill(t.Context(), db, time.Now(), "http://127.0.0.1"); err != nil {
		t.Fatal(err)
	}
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	s.addr = l.Addr().String()
	l.Close()
	var buyers []*buyer
	stays := &http.Client{CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }}
	for i := range 4 {
		buyers = append(buyers, &buyer{url: "http://" + s.addr, told: map[int64]string{}, owed: map[int64]bool{}, name: i + 1, bank: stays})
	}
	sql := storetest.SQL(t, filepath.Join(db.Folder(), store.File))
	sql.SetMaxOpenConns(1)
	if _, err := sql.Exec("ATTACH DATABASE ? AS bank", filepath.Join(db.Folder(), cards.File)); err != nil {
		t.Fatal(err)
	}
	count := func(q string) (n int) {
		t.Helper()
		if err := sql.QueryRow(q).Scan(&n); err != nil {
			t.Fatal(err)
		}
		return n
	}
	r := rand.New(rand.NewPCG(81, 82))
	for kill := range 50 {
		s.start()
		if n := count("SELECT COUNT(*) FROM bank.movements c LEFT JOIN attempts a ON a.name = c.attempt WHERE c.state = 'settled' AND COALESCE(a.state, '') <> 'settled'"); n != 0 {
			t.Errorf("after %d kills the bank settled %d attempts that are not recorded", kill, n)
		}
		if n := count("SELECT (SELECT SUM(amount) FROM bank.movements WHERE state = 'settled') - (SELECT SUM(CASE kind WHEN 'paid' THEN amount WHEN 'held' THEN amount WHEN 'fee' THEN 0 ELSE -amount END) FROM ledger_entries WHERE way = 'card')"); n != 0 {
			t.Errorf("after %d kills the bank's books and the ledgers differ by %d", kill, n)
		}
		// Killed after so many answers, not after a time: on a slow machine as much is tried.
		var answers atomic.Int64
		last := int64(1 + r.IntN(60))
		var wait sync.WaitGroup
		for _, b := range buyers {
			b.came = func() {
				if answers.Add(1) == last {
					s.cmd.Process.Kill()
				}
			}
			wait.Go(func() {
				for b.buy() == nil {
				}
			})
		}
		wait.Wait() // until the killed server answers nobody
		s.kill()
	}
	s.start()
	s.kill()
	owed := s.readWhileKilled(db, buyers, r)
	lines, found, err := audit.Run(t.Context(), db, time.Now())
	if err != nil || len(found) > 0 {
		t.Errorf("%d lines: %v, %v", lines, found, err)
	}
	told := 0
	for _, b := range buyers {
		told += len(b.told)
		for number := range b.told {
			if n := count(fmt.Sprintf("SELECT COUNT(*) FROM orders o JOIN outbox m ON m.key = 'order-' || o.id WHERE o.state = 'placed' AND o.number = %d", number)); n != 1 {
				t.Errorf("order %d was confirmed and is there %d times with its mail", number, n)
			}
		}
	}
	if told+len(owed) < 50 {
		t.Errorf("only %d orders were confirmed, so little was tried", told+len(owed))
	}
	for number := range owed {
		if n := count(fmt.Sprintf("SELECT COUNT(*) FROM orders o JOIN outbox m ON m.key = 'order-' || o.id JOIN ledger_entries e ON e.order_id = o.id AND e.way = 'transfer' WHERE o.state = 'placed' AND o.number = %d", number)); n != 1 {
			t.Errorf("order %d was ordered by transfer and paid, and is there %d times with its mail and its money", number, n)
		}
	}
	t.Logf("%d orders by transfer", len(owed))
	t.Logf("%d orders confirmed, %d placed", told, count("SELECT COUNT(*) FROM orders WHERE state = 'placed'"))
}

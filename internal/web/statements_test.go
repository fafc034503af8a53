package web

import (
	"fmt"
	"io"
	"maps"
	"math/rand/v2"
	"net/http"
	"net/url"
	"path/filepath"
	"ruvo/api"
	"ruvo/internal/banking"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/ledger"
	"ruvo/internal/core/money"
	"ruvo/internal/core/transfer"
	"ruvo/internal/docket"
	"ruvo/internal/standin/bank"
	"ruvo/internal/store"
	"ruvo/internal/storetest"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"
)

// A transfer without a reference is proposed by amount and name, and somebody
// decides; what is decided once is not decided again.
func TestProposedTransfers(t *testing.T) {
	h := open(t, nil)
	desk, c := h.desk(), h.client()
	o, link := c.transfers(chart())
	plain := func(payer, text string, amount money.Amount) bank.Transfer {
		return bank.Transfer{Day: calendar.DayOf(today), Amount: amount, Currency: "EUR", Payer: payer, Text: text}
	}
	s := desk.reads("a.csv", table(t, plain("QUILL ADA", "for the chart", 3600), plain("A. Quill", "", 3600), plain("Ada Quill", "", 3599), plain("Otto Thorn", fmt.Sprint("order ", o.Number), 3600), plain("Otto Thorn", "", 3600), plain("Somebody", "RF18 9999 thanks", 500), plain("The landlord", "rent", -90000)))
	if got := outcomes(s); got != "proposed proposed unknown proposed unknown unknown out" {
		t.Fatalf("%s", got)
	}
	rows := s.Rows
	decide := func(i int, body fields, status int) answer {
		t.Helper()
		return desk.want(status, "POST", fmt.Sprintf("/api/desk/transfers/%d", rows[i].Id), body)
	}
	decide(0, fields{"order": 99}, 422)
	if r := read[api.TransferRow](t, decide(0, fields{"order": o.Number}, 200)); r.Outcome != "booked" || r.By == "" {
		t.Errorf("%+v", r)
	}
	decide(0, fields{"order": o.Number}, 409)
	decide(0, fields{"aside": true}, 409)
	if p := read[api.OrderPage](t, c.want(200, "GET", link, nil)); p.Money.State != "placed" || p.Money.Paid != 3600 {
		t.Errorf("%+v", p.Money)
	}
	if r := read[api.TransferRow](t, decide(1, fields{"aside": true}, 200)); r.Outcome != "aside" {
		t.Errorf("%+v", r)
	}
	if r := read[api.TransferRow](t, decide(1, fields{"aside": false}, 200)); r.Outcome != "proposed" {
		t.Errorf("%+v", r)
	}
	desk.want(404, "POST", "/api/desk/transfers/99999", fields{"aside": true})
	page := read[api.TransferPage](t, desk.want(200, "GET", "/api/desk/transfers", nil))
	if page.OpenCount != 5 || len(page.Open) != 5 {
		t.Errorf("%d to decide on", page.OpenCount)
	}
	if v := read[api.Today](t, desk.want(200, "GET", "/api/desk/today", nil)); v.Undecided != 5 || v.Awaiting != 2 {
		t.Errorf("%d, %d", v.Undecided, v.Awaiting)
	}
	if p := read[api.StatementPage](t, desk.want(200, "GET", fmt.Sprintf("/api/desk/statements/%d?outcome=unknown", s.Statement.Id), nil)); len(p.Rows) != 3 {
		t.Errorf("%+v", p.Rows)
	}

	// The same transfer in a table and in camt.053: nothing tells that it is one, so
	// somebody is asked. A reference that came before its order is, too.
	o, link = c.transfers(chart())
	if s := desk.reads("b.csv", table(t, of(o.Number, 3600))); outcomes(s) != "booked" {
		t.Errorf("%+v", s.Rows)
	}
	s = desk.reads("b.xml", camt(t, of(o.Number, 3600)))
	if outcomes(s) != "proposed" || !strings.Contains(s.Rows[0].Why, "b.csv") {
		t.Errorf("%+v", s.Rows)
	}
	old := of(o.Number, 3600)
	old.Day = old.Day.Add(-40)
	if s := desk.reads("old.xml", camt(t, old)); outcomes(s) != "proposed" {
		t.Errorf("%+v", s.Rows)
	}
	if p := read[api.OrderPage](t, c.want(200, "GET", link, nil)); p.Money.Paid != 3600 || p.Money.Overpaid != 0 {
		t.Errorf("%+v", p.Money)
	}
	h.agree()
}

// Whatever files the same transfers come in, in whatever parts and however
// often, none is booked twice.
func TestNoTransferIsBookedTwice(t *testing.T) {
	h := open(t, nil)
	var all []bank.Transfer
	dice := rand.New(rand.NewPCG(9, 11))
	for i := range 8 {
		o, _ := h.client().transfersAs(fmt.Sprintf("ada%d@example.org", i), chart())
		for range 1 + dice.IntN(3) {
			one := of(o.Number, money.Amount(100+dice.IntN(4)*1200))
			one.Day = one.Day.Add(dice.IntN(3))
			one.Name = fmt.Sprintf("B%d-%d", i, len(all))
			all = append(all, one)
		}
	}
	h.ahead.Store(int64(4 * 24 * time.Hour))
	desk := h.desk()
	for n := range 25 {
		var part []bank.Transfer
		for _, one := range all {
			if dice.IntN(2) == 0 {
				part = append(part, one)
			}
		}
		dice.Shuffle(len(part), func(i, j int) { part[i], part[j] = part[j], part[i] })
		if len(part) > 0 {
			desk.reads(fmt.Sprintf("%d.xml", n), camt(t, part...))
		}
	}
	desk.reads("all.xml", camt(t, all...))
	var want, got money.Amount
	for _, one := range all {
		want += one.Amount
	}
	must(t, h.store.Read(t.Context(), func(tx *store.Tx) error {
		orders, err := tx.Ordered(0, 10_000)
		for _, o := range orders {
			entries, err := tx.Entries(o.ID)
			if err != nil {
				return err
			}
			for _, e := range entries {
				if e.Way == ledger.Transfer {
					got += e.Amount
				}
			}
		}
		return err
	}))
	// One that looks like another file's, of the same day and amount, is left to
	// somebody's word.
	var asked money.Amount
	must(t, storetest.SQL(t, filepath.Join(h.store.Folder(), "ruvo.db")).QueryRow("SELECT COALESCE(SUM(amount), 0) FROM transfers WHERE outcome = 'proposed'").Scan(&asked))
	if got+asked != want || asked > want/4 {
		t.Errorf("%d was booked and %d asked about, of %d", got, asked, want)
	}
	h.agree()
}

// A file that is no statement of ours is refused with a word, and nothing of it
// is kept.
func TestStatementsThatAreRefused(t *testing.T) {
	h := open(t, nil)
	desk := h.desk()
	whole := string(camt(t, of(1001, 3600), of(1002, 500)))
	foreign := of(1001, 3600)
	foreign.Currency = "USD"
	other, err := bank.Statement{Account: "DE89370400440532013000", Transfers: []bank.Transfer{of(1001, 3600)}}.CAMT()
	must(t, err)
	for code, body := range map[string]string{
		"statement.truncated":      whole[:len(whole)*2/3],
		"statement.dtd":            strings.Replace(whole, "<Document", `<!DOCTYPE d [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;&a;">]><Document`, 1),
		"statement.syntax":         strings.Replace(whole, "</Amt>", "</Betrag>", 1),
		"statement.currency":       string(camt(t, foreign)),
		"statement.account":        string(other),
		"statement.not_camt":       `<?xml version="1.0"?><html><body>Not found</body></html>`,
		"statement.empty":          "",
		"statement.no_columns":     "one,two\n1,2\n",
		"statement.no_text":        "\x00\x01\x02\x03",
		"statement.amount":         "Date,Amount,Name\n2026-11-24,lots,Ada\n",
		"statement.day":            "Date,Amount,Name\n2026-11-24,1.00,Ada\n2026-13-24,1.00,Ada\n",
		"statement.quotes":         "Date,Amount,Name\n2026-11-24,1.00,\"Ada\n",
		"statement.no_text_column": "Date,Amount\n2026-11-24,1.00\n",
		"statement.no_rows":        "Date,Amount,Name\n",
		"statement.charset":        `<?xml version="1.0" encoding="klingon"?>` + whole[strings.Index(whole, "<Document"):],
	} {
		a := desk.upload("x", []byte(body))
		if a.status != 422 || !strings.Contains(string(a.body), `"code":"`+code+`"`) || strings.Contains(string(a.body), "{") && strings.Contains(string(a.body), "}.") {
			t.Errorf("%s: %d %s", code, a.status, a.body)
		}
	}
	if h.rows("statements")+h.rows("transfers") != 0 {
		t.Error("something of a refused statement was kept")
	}
	if a := h.client().upload("x", []byte(whole)); a.status != 401 {
		t.Errorf("somebody who is not signed in: %d", a.status)
	}
	// A row in another currency among ours is told and left.
	if s := desk.reads("mixed.xml", camt(t, foreign, of(1001, 1))); outcomes(s) != "foreign booked" {
		t.Errorf("%+v", s.Rows)
	}
	desk.want(404, "GET", "/api/desk/statements/99", nil)
}

// A statement that was taken and not looked at when the process ended is looked
// at by the next one, and each row once.
func TestAStatementSurvivesARestart(t *testing.T) {
	h := open(t, nil)
	desk, c := h.desk(), h.client()
	o, link := c.transfers(chart())
	list := []bank.Transfer{of(o.Number, 3600)}
	for i := range 450 { // more than one transaction looks at
		list = append(list, bank.Transfer{Day: calendar.DayOf(today), Amount: money.Amount(100 + i), Currency: "EUR", Payer: "Somebody"})
	}
	a := desk.upload("large.xml", camt(t, list...))
	if v := read[api.StatementView](t, a); v.Done != 0 || v.Rows != 451 {
		t.Fatalf("%+v", v)
	}
	for range 2 {
		must(t, banking.New(h.store, &docket.Editions{}, h.now).Round(t.Context()))
	}
	page := read[api.StatementPage](t, desk.want(200, "GET", fmt.Sprintf("/api/desk/statements/%d", read[api.StatementView](t, a).Id), nil))
	if page.Statement.Done != 451 || len(page.Rows) != 100 || page.More == nil || page.Rows[0].Outcome != "booked" {
		t.Errorf("%+v", page.Statement)
	}
	next := read[api.StatementPage](t, desk.want(200, "GET", fmt.Sprintf("/api/desk/statements/%d?after=%d", page.Statement.Id, *page.More), nil))
	if len(next.Rows) != 100 || next.Rows[0].Row != 101 {
		t.Errorf("%+v", next.Rows[0])
	}
	if m := read[api.OrderPage](t, c.want(200, "GET", link, nil)).Money; m.Paid != 3600 {
		t.Errorf("%+v", m)
	}
	h.agree()
}

// Several people decide on one transfer at once: it is booked once.
func TestDecidingAtOnce(t *testing.T) {
	h := open(t, nil)
	desks := []*client{h.desk(), h.desk(), h.desk()}
	o, link := h.client().transfers(chart())
	other, _ := h.client().transfers(chart())
	s := desks[0].reads("one.csv", table(t, bank.Transfer{Day: calendar.DayOf(today), Amount: 3600, Currency: "EUR", Payer: "Somebody"}))
	var wait sync.WaitGroup
	var done atomic.Int64
	for i := range 9 {
		wait.Go(func() {
			number := []int64{o.Number, other.Number}[i%2]
			switch a := desks[i%3].send("POST", fmt.Sprintf("/api/desk/transfers/%d", s.Rows[0].Id), fields{"order": number}); a.status {
			case 200:
				done.Add(1)
			case 409:
			default:
				t.Errorf("%d %s", a.status, a.body)
			}
		})
	}
	wait.Wait()
	if done.Load() != 1 {
		t.Errorf("it was booked %d times", done.Load())
	}
	h.client().want(200, "GET", link, nil)
	h.agree()
}

// What somebody made up at the simulated bank is read like any bank's statement,
// in both forms; only those at the desk can make it up.
func TestTheSimulatedBank(t *testing.T) {
	h := open(t, nil)
	desk, c := h.desk(), h.client()
	give := func(who *client, format string, set url.Values) (int, []byte) {
		t.Helper()
		form := url.Values{"account": {account}, "day": {"2026-11-24"}, "format": {format}}
		maps.Copy(form, set)
		req, err := http.NewRequest("POST", h.site.URL+bank.Desk, strings.NewReader(form.Encode()))
		must(t, err)
		req.Header.Set("Content-Type", "application/x-www-form-urlencoded")
		res, err := who.http.Do(req)
		must(t, err)
		defer res.Body.Close()
		raw, err := io.ReadAll(res.Body)
		must(t, err)
		return res.StatusCode, raw
	}
	for _, format := range []string{"camt", "csv"} {
		o, link := c.transfers(chart())
		status, raw := give(desk, format, url.Values{"payer1": {"Ada Quill"}, "amount1": {"36.00"}, "reference1": {transfer.Spaced(transfer.Reference(o.Number))}, "payer3": {"The landlord"}, "amount3": {"-900"}})
		if status != 200 {
			t.Fatalf("%d %s", status, raw)
		}
		if s := desk.reads("bank."+format, raw); outcomes(s) != "booked out" {
			t.Errorf("%s: %+v", format, s.Rows)
		}
		if m := read[api.OrderPage](t, c.want(200, "GET", link, nil)).Money; m.State != "placed" {
			t.Errorf("%+v", m)
		}
	}
	for _, wrong := range []url.Values{{}, {"payer1": {"Ada"}, "amount1": {"much"}}, {"payer1": {"Ada"}, "amount1": {"1"}, "day": {"yesterday"}}} {
		if status, raw := give(desk, "csv", wrong); status != 422 || !strings.Contains(string(raw), `role="alert"`) {
			t.Errorf("%v: %d", wrong, status)
		}
	}
	if _, raw := give(h.client(), "csv", url.Values{"payer1": {"Ada"}, "amount1": {"1"}}); strings.Contains(string(raw), "Ada") {
		t.Error("a stranger makes transfers up")
	}
	h.agree()
}

package web

import (
	"bytes"
	"context"
	"database/sql"
	"encoding/json"
	"fmt"
	"io"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"path/filepath"
	"runtime"
	"testing"

	"github.com/labstack/echo/v5"

	"ruvo/api"
	"ruvo/internal/core/condition"
	"ruvo/internal/core/ledger"
	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
	"ruvo/internal/port"
	"ruvo/internal/store"
	"ruvo/internal/storetest"
)

const liveAnswers = `{"quantity":1,"answers":{"night":"2014-06-14","place":"Lofthus","title":"The night we met in Lofthus harbour","paper":"midnight","size":"large","gift":true}}`

func hammer(b *testing.B, url string) {
	b.Helper()
	b.ResetTimer()
	b.RunParallel(func(p *testing.PB) {
		for p.Next() {
			res, err := http.Post(url, "application/json", bytes.NewReader([]byte(liveAnswers)))
			if err != nil {
				b.Error(err)
				return
			}
			io.Copy(io.Discard, res.Body)
			res.Body.Close()
			if res.StatusCode != 200 {
				b.Errorf("status %d", res.StatusCode)
				return
			}
		}
	})
}

// An instant is a payment service that remembers nothing: what it does takes no
// time, so that only Ruvo is measured.
type instant struct{ port.Payments }

func (instant) Start(_ context.Context, w port.Wanted) (port.Receipt, error) {
	return port.Receipt{State: ledger.Confirm, Page: "/pay/" + w.Attempt}, nil
}

func (instant) Ask(context.Context, string) (port.Receipt, error) {
	return port.Receipt{State: ledger.Settled, Fee: 75}, nil
}

// bench opens an application for a benchmark.
func bench(b *testing.B) (*store.Store, *Server) {
	b.Helper()
	h := &house{}
	s, _ := sample(b, h.now)
	server, err := New(Config{Store: s, Payments: instant{}, Now: h.now, Log: slog.New(slog.NewTextHandler(io.Discard, nil))})
	if err != nil {
		b.Fatal(err)
	}
	return s, server
}

// BenchmarkLivePrice answers what the shop asks at each keystroke.
func BenchmarkLivePrice(b *testing.B) {
	_, server := bench(b)
	site := httptest.NewServer(server)
	defer site.Close()
	hammer(b, site.URL+"/api/shop/products/sky-chart/evaluate")
}

// BenchmarkLivePriceEcho is its yardstick: a bare Echo handler that decodes
// the same request and encodes the same answer.
func BenchmarkLivePriceEcho(b *testing.B) {
	_, server := bench(b)
	res := httptest.NewRecorder()
	req := httptest.NewRequest("POST", "/api/shop/products/sky-chart/evaluate", bytes.NewReader([]byte(liveAnswers)))
	req.Header.Set("Content-Type", "application/json")
	server.ServeHTTP(res, req)
	var same api.Evaluation
	if err := json.Unmarshal(res.Body.Bytes(), &same); err != nil {
		b.Fatal(err)
	}
	e := echo.New()
	e.POST("/", func(c *echo.Context) error {
		var in api.Answering
		if err := c.Bind(&in); err != nil {
			return err
		}
		return c.JSON(http.StatusOK, same)
	})
	site := httptest.NewServer(e)
	defer site.Close()
	hammer(b, site.URL+"/")
}

// BenchmarkDurableOrder places an order for a chart: prepared, paid, planned,
// each commit synced to disk.
func BenchmarkDurableOrder(b *testing.B) {
	_, server := bench(b)
	var lines []api.BasketLine
	raw, _ := json.Marshal([]fields{chart()})
	if err := json.Unmarshal(raw, &lines); err != nil {
		b.Fatal(err)
	}
	ctx := context.Background()
	n := 0
	for b.Loop() {
		n++
		name := fmt.Sprintf("%032x", n)
		if _, err := server.Shop.PutCheckout(ctx, name, api.CheckoutRequest{Name: "Ada Quill", Email: "ada@example.org", Terms: &agreed, Lines: lines}, "en"); err != nil {
			b.Fatal(err)
		}
		p, err := server.Shop.Pay(ctx, name, api.PayRequest{Attempt: "attempt-one"}, "en")
		if err != nil || p.Page == nil {
			b.Fatal(p, err)
		}
		c, err := server.Shop.Checkout(ctx, name, "en")
		if err != nil || c.State != "placed" {
			b.Fatal(c, err)
		}
	}
}

// BenchmarkDurableOrderSQL is its yardstick: plain database/sql writing the
// rows of such an order, in the same number of transactions: the checkout, the
// attempt, the page on which it is paid, the outcome.
func BenchmarkDurableOrderSQL(b *testing.B) {
	s, _ := bench(b)
	db := storetest.SQL(b, filepath.Join(s.Folder(), store.File))
	// A real order, whose rows are written again under other names.
	columns := map[string][]string{}
	row := func(table, where string) []any {
		rows, err := db.Query("SELECT * FROM " + table + " WHERE " + where + " LIMIT 1")
		if err != nil {
			b.Fatal(err)
		}
		defer rows.Close()
		names, _ := rows.Columns()
		columns[table] = names
		values, at := make([]any, len(names)), make([]any, len(names))
		for i := range values {
			at[i] = &values[i]
		}
		if !rows.Next() {
			b.Fatal(table)
		}
		if err := rows.Scan(at...); err != nil {
			b.Fatal(err)
		}
		return values
	}
	order, line, item := row("orders", "id = 2"), row("order_lines", "order_id = 2"), row("work_items", "line_id = 2")
	mail, link, payment := row("outbox", "id = 2"), row("order_links", "1"), row("attempts", "order_id = 2")
	entry, figure := row("ledger_entries", "order_id = 2"), row("figures", "order_id = 2")
	said, answers := row("line_words", "line_id = 2"), [][]any{}
	for _, k := range keysOf(b, db) {
		answers = append(answers, row("line_answers", "line_id = 2 AND question = '"+k+"'"))
	}
	insert := func(tx *sql.Tx, table string, values []any, set map[string]any) int64 {
		marks := ""
		args := make([]any, len(values))
		for i, name := range columns[table] {
			marks += ",?"
			args[i] = values[i]
			if v, ok := set[name]; ok {
				args[i] = v
			}
		}
		res, err := tx.Exec("INSERT INTO "+table+" VALUES ("+marks[1:]+")", args...)
		if err != nil {
			b.Fatal(table, err)
		}
		id, _ := res.LastInsertId()
		return id
	}
	commit := func(do func(*sql.Tx)) {
		tx, err := db.Begin()
		if err != nil {
			b.Fatal(err)
		}
		do(tx)
		if err := tx.Commit(); err != nil {
			b.Fatal(err)
		}
	}
	n := 5000
	for b.Loop() {
		n++
		var o, l, p int64
		commit(func(tx *sql.Tx) {
			o = insert(tx, "orders", order, map[string]any{"id": nil, "number": nil, "checkout": fmt.Sprint(n)})
			l = insert(tx, "order_lines", line, map[string]any{"id": nil, "order_id": o})
		})
		commit(func(tx *sql.Tx) {
			p = insert(tx, "attempts", payment, map[string]any{"id": nil, "order_id": o, "name": fmt.Sprint(n)})
		})
		commit(func(tx *sql.Tx) {
			if _, err := tx.Exec("UPDATE attempts SET state = 'confirm', page = '/pay', ask_at = created_at WHERE id = ?", p); err != nil {
				b.Fatal(err)
			}
		})
		commit(func(tx *sql.Tx) {
			for _, q := range []string{"UPDATE attempts SET state = 'settled' WHERE id = ?"} {
				if _, err := tx.Exec(q, p); err != nil {
					b.Fatal(err)
				}
			}
			if _, err := tx.Exec("UPDATE orders SET state = 'placed', number = ?, placed_at = created_at WHERE id = ?", n+2000, o); err != nil {
				b.Fatal(err)
			}
			if _, err := tx.Exec("UPDATE order_lines SET placed = 1, brief = 'complete' WHERE id = ?", l); err != nil {
				b.Fatal(err)
			}
			insert(tx, "line_words", said, map[string]any{"line_id": l})
			for _, a := range answers {
				insert(tx, "line_answers", a, map[string]any{"line_id": l, "order_id": o})
			}
			for _, step := range []string{"compute", "letter", "hand_over"} {
				insert(tx, "work_items", item, map[string]any{"id": nil, "line_id": l, "step": step})
			}
			insert(tx, "ledger_entries", entry, map[string]any{"id": nil, "order_id": o, "attempt": ""})
			for range 2 { // what is paid and the fee; the order and its tax
				insert(tx, "ledger_entries", entry, map[string]any{"id": nil, "order_id": o, "attempt": ""})
				insert(tx, "figures", figure, map[string]any{"id": nil, "order_id": o})
			}
			insert(tx, "outbox", mail, map[string]any{"id": nil, "key": fmt.Sprint(n)})
			for i := range 2 {
				insert(tx, "order_links", link, map[string]any{"hash": fmt.Sprint(n, i), "order_id": o})
			}
		})
	}
}

// keysOf gives the questions that are answered on the line that is written again.
func keysOf(b *testing.B, db *sql.DB) (keys []string) {
	b.Helper()
	rows, err := db.Query("SELECT question FROM line_answers WHERE line_id = 2")
	if err != nil {
		b.Fatal(err)
	}
	defer rows.Close()
	for rows.Next() {
		var k string
		if err := rows.Scan(&k); err != nil {
			b.Fatal(err)
		}
		keys = append(keys, k)
	}
	return keys
}

// large is a draft of 400 questions, every second under a condition.
func large() product.Draft {
	d := product.Draft{Title: "Large", Currency: "EUR", Price: 1000}
	for i := range 400 {
		q := product.Question{Question: question.Question{Key: question.Key(fmt.Sprintf("q%d", i)), Kind: "yes_no", Moment: question.Choosing, Wording: fmt.Sprintf("Question %d", i)}}
		if i%4 == 3 {
			q.Kind = "short_text"
		}
		if i%2 == 1 {
			q.When = &condition.Condition{Answer: question.Key(fmt.Sprintf("q%d", i-1)), Op: condition.Is, Value: json.RawMessage("true")}
		}
		d.Questions = append(d.Questions, q)
	}
	return d
}

// BenchmarkTryLargeDraft is what the bench asks at each keystroke: a draft of
// 400 questions and 200 conditions compiled, checked and tried.
func BenchmarkTryLargeDraft(b *testing.B) {
	_, server := bench(b)
	answers := map[string]json.RawMessage{}
	for i := 0; i < 400; i += 2 {
		answers[fmt.Sprintf("q%d", i)] = json.RawMessage("true")
	}
	t := api.Trial{Draft: large(), Quantity: 1, Answers: answers}
	for b.Loop() {
		if _, err := server.Desk.Try(context.Background(), 1, t, "en"); err != nil {
			b.Fatal(err)
		}
	}
}

// BenchmarkUpload200MB sends a file of 200 MB in pieces, as browsers do, and
// reports how far the memory in use rose above what it was.
func BenchmarkUpload200MB(b *testing.B) {
	const size, piece = 200 << 20, 4 << 20
	_, server := bench(b)
	site := httptest.NewServer(server)
	defer site.Close()
	var before, now runtime.MemStats
	runtime.GC()
	runtime.ReadMemStats(&before)
	most := uint64(0)
	chunk := make([]byte, piece)
	copy(chunk, "%PDF-1.7\n")
	b.SetBytes(size)
	for b.Loop() {
		u, err := server.Shop.StartUpload(context.Background(), api.UploadStart{Name: "large.pdf", Size: size}, "en")
		if err != nil {
			b.Fatal(err)
		}
		for at := 0; at < size; at += piece {
			req, _ := http.NewRequest("PATCH", site.URL+"/api/shop/uploads/"+u.Id, bytes.NewReader(chunk))
			req.Header.Set("Content-Type", "application/octet-stream")
			req.Header.Set("Upload-Offset", fmt.Sprint(at))
			res, err := http.DefaultClient.Do(req)
			if err != nil || res.StatusCode != 200 {
				b.Fatal(res, err)
			}
			res.Body.Close()
			runtime.ReadMemStats(&now)
			most = max(most, now.HeapAlloc)
		}
		if err := server.Shop.DropUpload(context.Background(), u.Id, "en"); err != nil {
			b.Fatal(err)
		}
	}
	b.ReportMetric(float64(int64(most)-int64(before.HeapAlloc))/(1<<20), "MiB-above")
}

package web

import (
	"context"
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"slices"
	"sync"
	"testing"
	"time"

	"ruvo/api"
	"ruvo/internal/link"
	"ruvo/internal/store"
)

// BenchmarkBriefUnderFifty has fifty customers type into their briefs at once, each of
// whom pauses now and then, and tells within how many ms 95 of 100 saves are stored and
// answered.
func BenchmarkBriefUnderFifty(b *testing.B) {
	s, server := bench(b)
	ctx := context.Background()
	const customers = 50
	type brief struct {
		link string
		line int64
		said string
	}
	briefs := make([]brief, customers)
	var lines []api.BasketLine
	raw, _ := json.Marshal([]fields{untold()})
	if err := json.Unmarshal(raw, &lines); err != nil {
		b.Fatal(err)
	}
	for i := range briefs {
		name := fmt.Sprintf("%032x", i+1)
		if _, err := server.Shop.PutCheckout(ctx, name, api.CheckoutRequest{Name: "Ada Quill", Email: "ada@example.org", Terms: &agreed, Lines: lines}, "en"); err != nil {
			b.Fatal(err)
		}
		if _, err := server.Shop.Pay(ctx, name, api.PayRequest{Attempt: "attempt-one"}, "en"); err != nil {
			b.Fatal(err)
		}
		if _, err := server.Shop.Checkout(ctx, name, "en"); err != nil {
			b.Fatal(err)
		}
		err := s.Write(ctx, func(tx *store.Tx) error {
			rows, err := tx.ListLines(store.LineFilter{Most: 1})
			if err == nil {
				briefs[i].line = rows[0].ID
				briefs[i].link, err = link.New(tx, rows[0].OrderID, time.Now())
			}
			return err
		})
		if err != nil {
			b.Fatal(err)
		}
	}
	var lock sync.Mutex
	var took []time.Duration
	b.ResetTimer()
	var all sync.WaitGroup
	for i := range briefs {
		all.Go(func() {
			br := &briefs[i]
			rnd := rand.New(rand.NewPCG(uint64(i), 7))
			for range b.N { // what is typed is sent after a pause, by each at their own time
				time.Sleep(time.Duration(400+rnd.IntN(600)) * time.Millisecond)
				next := br.said + "x"
				if len(next) > 280 {
					next = "x"
				}
				was, _ := json.Marshal(br.said)
				now, _ := json.Marshal(next)
				if br.said == "" {
					was = []byte("null")
				}
				before := api.Answers{"dedication": was}
				start := time.Now()
				saved, err := server.Shop.SaveBrief(ctx, br.link, br.line, api.BriefSave{Answers: api.Answers{"dedication": now}, Was: &before}, "en")
				gone := time.Since(start)
				if err != nil || len(saved.Others) > 0 {
					b.Error(err, saved.Others)
				}
				br.said = next
				lock.Lock()
				took = append(took, gone)
				lock.Unlock()
			}
		})
	}
	all.Wait()
	slices.Sort(took)
	b.ReportMetric(float64(took[len(took)*95/100].Microseconds())/1000, "p95-ms")
	b.ReportMetric(float64(took[len(took)/2].Microseconds())/1000, "median-ms")
}

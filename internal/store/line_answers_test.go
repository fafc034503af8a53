package store

import (
	"fmt"
	"math/rand/v2"
	"testing"

	"ruvo/internal/core/order"
	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
	"ruvo/internal/storetest"
)

// Whatever is answered, changed and taken away, in whatever order: what is counted is what
// the answers come to, those of a whole order once.
func TestCountsOfAnswersAgree(t *testing.T) {
	s := open1(t, storetest.Folder(t))
	edition, _ := sold(t, s)
	const orders, each = 6, 3
	var lines []OrderLine
	write(t, s, func(tx *Tx) error {
		for i := range orders {
			o := Order{Checkout: fmt.Sprint(i), Name: "Bo", Email: "bo@example.org", Language: "en", Currency: "EUR", State: order.Placed, CreatedAt: now}
			if err := tx.SaveOrder(&o); err != nil {
				return err
			}
			for k := range each {
				l := OrderLine{OrderID: o.ID, Position: k + 1, ProductID: 1, EditionID: edition, Quantity: 1, Version: 1, Brief: order.Waiting, Placed: true}
				if err := tx.SaveLine(&l); err != nil {
					return err
				}
				lines = append(lines, l)
			}
		}
		return nil
	})
	seed := rand.Uint64()
	r := rand.New(rand.NewPCG(seed, 1))
	said := func(k question.Key, l OrderLine, whole bool) LineAnswer {
		return LineAnswer{LineID: l.ID, Question: k, OrderID: l.OrderID, ProductID: 1 + l.ID%2, SheetID: product.SheetID(r.IntN(2)), Whole: whole, Number: float64(r.IntN(9)),
			Counted: Counted(map[string]int{[]string{"net", "fair", "it's \"new\""}[r.IntN(3)]: 1 + r.IntN(2)})}
	}
	for step := range 300 {
		l := lines[r.IntN(len(lines))]
		write(t, s, func(tx *Tx) error {
			var answers []LineAnswer
			for _, k := range []question.Key{"size", "heard"}[:r.IntN(3)] {
				answers = append(answers, said(k, l, k == "heard"))
			}
			if r.IntN(30) == 0 { // the line goes, and its answers with it
				if err := tx.db.Exec("DELETE FROM order_lines WHERE id = ?", l.ID).Error; err != nil {
					return err
				}
				return tx.SaveLine(&OrderLine{OrderID: l.OrderID, Position: 9 + step, ProductID: 1, EditionID: edition, Quantity: 1, Version: 1, Brief: order.Waiting, Placed: true})
			}
			if _, err := tx.LineByID(l.ID); err != nil {
				return nil
			}
			return tx.SaveLineAnswers(l.ID, answers)
		})
		read(t, s, func(tx *Tx) error {
			agree, err := tx.AnswersAgree()
			if !agree {
				t.Fatalf("seed %d: after step %d the counts are others", seed, step)
			}
			return err
		})
	}
}

// Of what is kept again, only what is another changes, and it reads the same.
func TestAnswersAreKeptAsTheyAre(t *testing.T) {
	s := open1(t, storetest.Folder(t))
	_, line := sold(t, s)
	want := []LineAnswer{
		{LineID: line, Question: "a", OrderID: 1, ProductID: 1, Text: "moss", Counted: Counted(map[string]int{"Moss": 1})},
		{LineID: line, Question: "b", OrderID: 1, ProductID: 1, SheetID: 2, Whole: true, Number: 3, Counted: Counted(map[string]int{"3": 1})},
	}
	for range 2 {
		write(t, s, func(tx *Tx) error { return tx.SaveLineAnswers(line, want) })
	}
	read(t, s, func(tx *Tx) error {
		got, err := list[LineAnswer](tx, "question", "line_id = ?", line)
		if fmt.Sprint(got) != fmt.Sprint(want) {
			t.Errorf("%v", got)
		}
		counts, _ := tx.AnswerCounts(AnsweredBy{Sheet: 2}, "b", 9)
		if len(counts) != 1 || counts[0] != (AnswerCount{"3", 1}) {
			t.Errorf("%v", counts)
		}
		answered, _ := tx.AnswersTo(AnsweredBy{Product: 1})
		if len(answered) != 2 || answered["a"] != 1 {
			t.Errorf("%v", answered)
		}
		return err
	})
	if err := s.Write(t.Context(), func(tx *Tx) error { return tx.db.Exec("UPDATE line_answers SET counted = '{}'").Error }); err == nil {
		t.Error("an answer was changed, past the counts")
	}
}

// Answers in which an amount stands with its currency's code are read again, and no others.
func TestAmountsOfBeforeAreReadAgain(t *testing.T) {
	folder := oldDatabase(t, 32, businessBefore,
		`INSERT INTO products (slug, position, draft, version, changed, updated_at) VALUES ('chart', 1, '{"title":"Chart","currency":"EUR","price":2400,"tax":"19"}', 3, true, '2026-11-01 10:00:00')`,
		`INSERT INTO editions (product_id, number, content, published_at) VALUES (1, 1, '{}', '2026-11-01 10:00:00')`,
		`INSERT INTO orders (checkout, name, email, language, slip, total, currency, state, created_at) VALUES ('b', 'Bo', 'bo@example.org', 'en', '{}', 900, 'EUR', 'placed', '2026-11-01 11:00:00')`,
		`INSERT INTO order_lines (order_id, position, product_id, edition_id, quantity, slip, version, brief, open_items, placed) VALUES (1, 1, 1, 1, 1, '{}', 1, 'waiting', 0, true), (1, 2, 1, 1, 1, '{}', 1, 'waiting', 0, true)`,
		`INSERT INTO line_words (line_id, words) VALUES (1, 'moss
eur 5.00'), (2, 'moss for chf 5.00 and eur five')`,
	)
	s := open1(t, folder)
	read(t, s, func(tx *Tx) error {
		ids, err := tx.UnreadLines(9)
		if fmt.Sprint(ids) != "[1]" {
			t.Errorf("read again: %v", ids)
		}
		return err
	})
}

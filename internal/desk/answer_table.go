package desk

import (
	"context"
	"slices"
	"strings"

	"ruvo/api"
	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
	"ruvo/internal/core/tally"
	"ruvo/internal/core/words"
	"ruvo/internal/docket"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// What bounds the table of a product's answers.
const (
	answersPage = 300 // order lines that are shown, and counted, together
	mostCounted = 20  // choices or words of one question
)

// AnswerTable shows all answers of a product, an order line a row and a question a
// column, and what they come to, question by question.
func (d *Desk) AnswerTable(ctx context.Context, id int64, page int, l words.Language) (api.AnswerTable, error) {
	return d.answerTable(ctx, page, l, func(tx *store.Tx) (told, error) {
		p, err := d.product(tx, id, l)
		return told{title: p.Draft.Title, products: []int64{id}, asks: func(*product.Item) bool { return true }}, err
	})
}

// SheetAnswers shows the answers to the questions of a sheet, of all products that use it
// together.
func (d *Desk) SheetAnswers(ctx context.Context, id int64, page int, l words.Language) (api.AnswerTable, error) {
	return d.answerTable(ctx, page, l, func(tx *store.Tx) (told, error) {
		s, err := tx.SheetByID(id)
		if err != nil {
			return told{}, problem.Missing(err, l, "no_sheet")
		}
		of := told{title: s.Name, asks: func(item *product.Item) bool { return item.Sheet == product.SheetID(id) }}
		rows, err := tx.Products()
		for i := range rows {
			if err != nil || rows[i].EditionID == nil {
				continue
			}
			var e *product.Edition
			if e, err = d.Editions.Get(tx, *rows[i].EditionID); err == nil && slices.ContainsFunc(e.Items, func(item product.Item) bool { return of.asks(&item) }) {
				of.products = append(of.products, rows[i].ID)
			}
		}
		return of, err
	})
}

// told is whose answers are shown.
type told struct {
	title    string
	products []int64
	asks     func(*product.Item) bool // whether a question is shown
}

// answerTable shows a page of the answers, counted from 1, the newest first.
func (d *Desk) answerTable(ctx context.Context, page int, l words.Language, whose func(*store.Tx) (told, error)) (api.AnswerTable, error) {
	skip := (max(page, 1) - 1) * answersPage
	v := api.AnswerTable{Columns: []api.AnswerColumn{}, Rows: []api.AnswerRow{}, From: skip + 1}
	err := d.Store.Read(ctx, func(tx *store.Tx) error {
		of, err := whose(tx)
		v.Title = of.title
		if err != nil || len(of.products) == 0 {
			return err
		}
		rows, err := tx.ListLines(store.LineFilter{Products: of.products, Skip: skip, Most: answersPage + 1})
		if err != nil {
			return err
		}
		if v.More = len(rows) > answersPage; v.More {
			rows = rows[:answersPage]
		}
		b, err := tx.Business()
		if err != nil {
			return err
		}
		ids := make([]int64, len(rows))
		for i, r := range rows {
			ids[i] = r.OrderID
		}
		orders, err := tx.OrdersOf(ids)
		if err != nil {
			return err
		}
		t := &answerTable{view: &v, of: of, tallies: map[question.Key]*saidTo{}}
		for _, row := range rows {
			if row.CancelledAt != nil {
				continue
			}
			line, err := docket.OpenFresh(tx, d.Editions, b, orders[row.OrderID], row.OrderLine, d.Now()) // its work is nothing to this
			if err != nil {
				return err
			}
			files, err := answerFiles(tx, line)
			if err != nil {
				return err
			}
			t.add(line, files, l)
		}
		t.count()
		return nil
	})
	return v, err
}

// answerTable gathers the table.
type answerTable struct {
	view    *api.AnswerTable
	of      told
	tallies map[question.Key]*saidTo
}

// saidTo is what was said to one question.
type saidTo struct {
	choices []string
	texts   []string
	numbers []float64
	orders  map[int64]bool // whose answer is one of the whole order, and counted
}

func (t *answerTable) add(line *docket.Line, files []filed, l words.Language) {
	row := api.AnswerRow{Line: line.Row.ID, Number: *line.Order.Number, Customer: line.Order.Name, Placed: line.Order.Since(), Product: line.Edition.Title, Cells: map[string]api.AnswerCell{}}
	for _, a := range line.Result.Asked {
		if !a.Item.Asked() || !t.of.asks(a.Item) {
			continue
		}
		k := a.Item.Key
		if !slices.ContainsFunc(t.view.Columns, func(c api.AnswerColumn) bool { return c.Key == string(k) }) {
			c := api.AnswerColumn{Key: string(k), Wording: a.Item.Wording, Kind: string(a.Item.Kind)}
			if c.Kind == "amount" {
				currency := string(line.Edition.Currency)
				c.Currency = &currency
			}
			if a.Item.Sheet != 0 {
				sheet := int64(a.Item.Sheet)
				c.Sheet = &sheet
			}
			t.view.Columns = append(t.view.Columns, c)
			t.tallies[k] = &saidTo{orders: map[int64]bool{}}
		}
		if !a.Answered {
			continue
		}
		seen := answer(line, k, l)
		row.Cells[string(k)] = api.AnswerCell{Words: seen.Words, Colour: seen.Colour, Files: fileViews(files, k)}
		if a.Item.Scope == question.OfOrder { // said once, and it stands on every line
			if t.tallies[k].orders[line.Order.ID] {
				continue
			}
			t.tallies[k].orders[line.Order.ID] = true
		}
		t.tallies[k].add(a.Item.Spec, line.Result.Answers[k], seen.Words)
	}
	t.view.Rows = append(t.view.Rows, row)
}

// add notes one answer: by its choices, as a number, or as a text.
func (c *saidTo) add(spec question.Spec, v question.Value, said string) {
	if choices, ok := spec.(question.Choosable); ok {
		for _, ch := range choices.All() {
			n, _ := question.Times(v, ch.Code)
			for range min(n, 1000) {
				c.choices = append(c.choices, ch.Label)
			}
		}
		return
	}
	switch spec.Class() {
	case question.ClassYesNo:
		c.choices = append(c.choices, said)
	case question.ClassNumber:
		c.numbers = append(c.numbers, v.Terms().Number.InexactFloat64())
	case question.ClassText:
		c.texts = append(c.texts, said)
	}
}

// count fills in what the answers of each column come to.
func (t *answerTable) count() {
	for i := range t.view.Columns {
		col := &t.view.Columns[i]
		c := t.tallies[question.Key(col.Key)]
		list := tally.Counts(c.choices, mostCounted)
		if strings.HasSuffix(col.Kind, "_text") {
			list = tally.Words(c.texts, mostCounted)
		}
		if len(list) > 0 {
			counts := make([]api.AnswerCount, len(list))
			for k, one := range list {
				counts[k] = api.AnswerCount{What: one.What, N: one.N}
			}
			col.Counts = &counts
		}
		if n := tally.Of(c.numbers); n.N > 0 {
			bins := make([]api.AnswerBin, len(n.Bins))
			for k, b := range n.Bins {
				bins[k] = api.AnswerBin{From: b.From, To: b.To, N: b.N}
			}
			col.Numbers = &api.AnswerNumbers{N: n.N, Least: n.Least, Lower: n.Lower, Median: n.Median, Upper: n.Upper, Greatest: n.Great, Bins: bins}
		}
	}
}

package desk

import (
	"context"
	"slices"
	"strconv"
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
	answersPage = 100 // order lines that are shown together
	mostCounted = 20  // choices or words of one question
)

// An AnswerQuery says which answers are shown, and in what order.
type AnswerQuery struct {
	Page     int    // from 1
	Text     string // only rows that have it
	Question string // only rows in which this was answered:
	What     string
	Sort     string // "customer", "product", or "answer" to By; empty for the newest first
	By       string
	Turned   bool
}

// AnswerTable shows the answers of a product, an order line a row and a question a
// column, page by page, and what all of them come to, question by question.
func (d *Desk) AnswerTable(ctx context.Context, id int64, q AnswerQuery, l words.Language) (api.AnswerTable, error) {
	return d.answerTable(ctx, q, l, func(tx *store.Tx) (told, error) {
		p, err := d.product(tx, id, l)
		return told{title: p.Draft.Title, products: []*store.Product{&p}, by: store.AnsweredBy{Product: id}}, err
	})
}

// SheetAnswers shows the answers to the questions of a sheet, of all products together that
// use it, or did when they were answered.
func (d *Desk) SheetAnswers(ctx context.Context, id int64, q AnswerQuery, l words.Language) (api.AnswerTable, error) {
	return d.answerTable(ctx, q, l, func(tx *store.Tx) (told, error) {
		s, err := tx.SheetByID(id)
		if err != nil {
			return told{}, problem.Missing(err, l, "no_sheet")
		}
		of := told{title: s.Name, by: store.AnsweredBy{Sheet: product.SheetID(id)}}
		answering, err := tx.Answering(of.by.Sheet)
		if err != nil {
			return of, err
		}
		rows, err := tx.Products()
		for i := range rows {
			used := slices.Contains(answering, rows[i].ID) // perhaps by an earlier edition
			if err == nil && !used && rows[i].EditionID != nil {
				var e *product.Edition
				if e, err = d.Editions.Get(tx, *rows[i].EditionID); err == nil {
					used = slices.ContainsFunc(e.Items, func(item product.Item) bool { return of.asks(&item) })
				}
			}
			if err != nil {
				return of, err
			}
			if used {
				of.products = append(of.products, &rows[i])
			}
		}
		return of, err
	})
}

// told is whose answers are shown.
type told struct {
	title    string
	products []*store.Product
	by       store.AnsweredBy
}

// asks says whether the answers to a question are shown.
func (t *told) asks(item *product.Item) bool {
	return item.Asked() && (t.by.Sheet == 0 || item.Sheet == t.by.Sheet)
}

// filter says which lines are shown.
func (t *told) filter(q AnswerQuery) store.AnswerFilter {
	f := store.AnswerFilter{
		Sheet: t.by.Sheet, Question: question.Key(q.Question), What: q.What, Text: q.Text, Sort: store.AnswerSort(q.Sort), By: question.Key(q.By), Turned: q.Turned,
		Skip: (max(q.Page, 1) - 1) * answersPage, Most: answersPage,
	}
	for _, p := range t.products {
		f.Products = append(f.Products, p.ID)
		if t.by.Sheet != 0 && strings.Contains(strings.ToLower(p.Draft.Title), strings.ToLower(q.Text)) {
			f.Named = append(f.Named, p.ID)
		}
	}
	return f
}

func (d *Desk) answerTable(ctx context.Context, q AnswerQuery, l words.Language, whose func(*store.Tx) (told, error)) (api.AnswerTable, error) {
	v := api.AnswerTable{Columns: []api.AnswerColumn{}, Rows: []api.AnswerRow{}, From: (max(q.Page, 1)-1)*answersPage + 1}
	if !slices.Contains(store.AnswerSorts(), store.AnswerSort(q.Sort)) {
		return v, problem.Invalid(l, []api.FieldError{problem.Field(l, "sort", "choice", words.Params{"choices": "customer, product, answer"})})
	}
	err := d.Store.Read(ctx, func(tx *store.Tx) error {
		of, err := whose(tx)
		v.Title = of.title
		if err != nil || len(of.products) == 0 {
			return err
		}
		rows, all, err := tx.AnsweredLines(of.filter(q))
		if err != nil {
			return err
		}
		v.All, v.More = all, v.From+len(rows) <= all
		if v.Unread, err = tx.CountUnread(); err != nil {
			return err
		}
		if v.Columns, err = d.answerColumns(tx, &of, l); err != nil {
			return err
		}
		v.Rows, err = d.answerRows(tx, &of, rows, l)
		return err
	})
	return v, err
}

// answerRows shows what was answered on lines.
func (d *Desk) answerRows(tx *store.Tx, of *told, rows []store.ListedLine, l words.Language) ([]api.AnswerRow, error) {
	b, err := tx.Business()
	if err != nil {
		return nil, err
	}
	ids := make([]int64, len(rows))
	for i, r := range rows {
		ids[i] = r.OrderID
	}
	orders, err := tx.OrdersOf(ids)
	if err != nil {
		return nil, err
	}
	list := make([]api.AnswerRow, len(rows))
	for i, row := range rows {
		line, err := docket.OpenFresh(tx, d.Editions, b, orders[row.OrderID], row.OrderLine, d.Now()) // its work is nothing to this
		if err != nil {
			return nil, err
		}
		files, err := answerFiles(tx, line)
		if err != nil {
			return nil, err
		}
		list[i] = answerRow(of, line, files, l)
	}
	return list, nil
}

func answerRow(of *told, line *docket.Line, files []filed, l words.Language) api.AnswerRow {
	row := api.AnswerRow{Line: line.Row.ID, Number: *line.Order.Number, Customer: line.Order.Name, Placed: line.Order.Since(), Product: line.Edition.Title, Cells: map[string]api.AnswerCell{}}
	for _, a := range line.Result.Asked {
		if a.Answered && of.asks(a.Item) {
			seen := answer(line, a.Item.Key, l)
			row.Cells[string(a.Item.Key)] = api.AnswerCell{Words: seen.Words, Colour: seen.Colour, Files: fileViews(files, a.Item.Key)}
		}
	}
	return row
}

// answerColumns gives the questions that are asked now, and those of earlier editions that
// were answered, with what was said to each.
func (d *Desk) answerColumns(tx *store.Tx, of *told, l words.Language) ([]api.AnswerColumn, error) {
	answered, err := tx.AnswersTo(of.by)
	if err != nil {
		return nil, err
	}
	columns := []api.AnswerColumn{}
	known := map[question.Key]bool{}
	see := func(e *product.Edition) error {
		for i := range e.Items {
			item := &e.Items[i]
			if known[item.Key] || !of.asks(item) {
				continue
			}
			known[item.Key] = true
			c, err := answerColumn(tx, of.by, item, l)
			if err != nil {
				return err
			}
			if item.Kind == "amount" {
				currency := string(e.Currency)
				c.Currency = &currency
			}
			c.Answered = answered[item.Key]
			columns = append(columns, c)
			delete(answered, item.Key)
		}
		return nil
	}
	for _, p := range of.products {
		if p.EditionID == nil {
			continue
		}
		e, err := d.Editions.Get(tx, *p.EditionID)
		if err == nil {
			err = see(e)
		}
		if err != nil {
			return nil, err
		}
	}
	for _, p := range of.products { // what is left was asked before
		if len(answered) == 0 {
			break
		}
		earlier, err := tx.EditionsOf(p.ID)
		for i := 0; err == nil && i < len(earlier) && len(answered) > 0; i++ {
			var e *product.Edition
			if e, err = d.Editions.Get(tx, earlier[i].ID); err == nil {
				err = see(e)
			}
		}
		if err != nil {
			return nil, err
		}
	}
	return columns, nil
}

// answerColumn tells what was said to a question.
func answerColumn(tx *store.Tx, by store.AnsweredBy, item *product.Item, l words.Language) (api.AnswerColumn, error) {
	c := api.AnswerColumn{Key: string(item.Key), Wording: item.Wording, Kind: string(item.Kind)}
	if item.Sheet != 0 {
		sheet := int64(item.Sheet)
		c.Sheet = &sheet
	}
	class := item.Spec.Class()
	if class == question.ClassNumber {
		said, err := tx.AnswerCounts(by, item.Key, everyNumber)
		c.Numbers = answerNumbers(said)
		return c, err
	}
	said, err := tx.AnswerCounts(by, item.Key, mostCounted)
	if err != nil || len(said) == 0 {
		return c, err
	}
	counts := make([]api.AnswerCount, len(said))
	for i, one := range said {
		counts[i] = api.AnswerCount{Code: one.What, What: one.What, N: one.N}
		if class == question.ClassYesNo {
			counts[i].What = l.Say(one.What, nil)
		}
	}
	c.Counts = &counts
	return c, nil
}

// everyNumber bounds how many different numbers are told apart.
const everyNumber = 1_000_000

// answerNumbers tells where numbers lie; nil for none.
func answerNumbers(said []store.AnswerCount) *api.AnswerNumbers {
	var values []float64
	for _, one := range said {
		if x, err := strconv.ParseFloat(one.What, 64); err == nil {
			for range one.N {
				values = append(values, x)
			}
		}
	}
	n := tally.Lie(values)
	if n.N == 0 {
		return nil
	}
	bins := make([]api.AnswerBin, len(n.Bins))
	for i, b := range n.Bins {
		bins[i] = api.AnswerBin{From: b.From, To: b.To, N: b.N}
	}
	return &api.AnswerNumbers{N: n.N, Least: n.Least, Lower: n.Lower, Median: n.Median, Upper: n.Upper, Greatest: n.Great, Bins: bins}
}

package desk

import (
	"cmp"
	"context"
	"maps"
	"slices"
	"strconv"
	"strings"
	"time"

	"ruvo/api"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/earn"
	"ruvo/internal/core/money"
	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/docket"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// mostEarned bounds the orders that earnings are told of at once.
const mostEarned = 20_000

// An EarnedQuery says of which orders earnings are told: those placed from a day to
// another, both included; the last year without days.
type EarnedQuery struct {
	By       string
	From, To string
	Currency string
	Key      string // of one row, for its orders
}

// Earned tells what was earned by product, extra, choice, step or customer.
func (d *Desk) Earned(ctx context.Context, q EarnedQuery, l words.Language) (api.Earnings, error) {
	view := api.Earnings{Rows: []api.EarningRow{}}
	if !slices.Contains(earn.Kinds(), earn.Kind(q.By)) {
		return view, problem.Invalid(l, []api.FieldError{problem.Field(l, "by", "choice", words.Params{"choices": "product, extra, choice, step, customer"})})
	}
	err := d.Store.Read(ctx, func(tx *store.Tx) error {
		g, err := d.gather(tx, q, l)
		if err != nil {
			return err
		}
		view.From, view.To, view.Currency, view.By = g.from.String(), g.to.String(), string(g.currency), q.By
		for _, c := range g.currencies {
			view.Currencies = append(view.Currencies, string(c))
		}
		if g.cut {
			most := mostEarned
			view.Newest = &most
		}
		all := earn.Figures{}
		orders := map[int64]bool{}
		for i := range g.lines {
			all = sum(all, g.lines[i].Figures)
			orders[g.of[g.lines[i].ID].order] = true
		}
		view.Total = g.figures("", nil, all)
		view.Total.Orders = len(orders)
		for _, r := range earn.By(earn.Kind(q.By), g.lines) {
			if q.Key != "" && r.Key != q.Key {
				continue
			}
			row := g.figures(r.Key, r.Lines, r.Figures)
			row.Label, row.Of = g.label(r.Key)
			view.Rows = append(view.Rows, row)
			if q.Key != "" {
				list := []api.EarningLine{}
				for _, id := range r.Lines {
					list = append(list, g.line(id))
				}
				slices.SortFunc(list, func(a, b api.EarningLine) int { return cmp.Compare(b.Line, a.Line) })
				view.Lines = &list
			}
		}
		return nil
	})
	return view, err
}

func sum(a, b earn.Figures) earn.Figures {
	return earn.Figures{Income: a.Income + b.Income, Fees: a.Fees + b.Fees, Cost: a.Cost + b.Cost, Minutes: a.Minutes + b.Minutes, Measured: a.Measured + b.Measured}
}

// A gathering is the order lines of a stretch of time with what they earned.
type gathering struct {
	d          *Desk
	tx         *store.Tx
	from, to   calendar.Day
	currency   money.Currency
	currencies []money.Currency
	cut        bool // there are more orders
	lines      []earn.Line
	of         map[int64]earned // by line
	labels     map[string][2]string
	at         map[int64]int // places in lines
}

// earned is what an order line is told of by.
type earned struct {
	order, number   int64
	customer, title string
	placed          time.Time
	row             store.OrderLine
	edition         *product.Edition
	answers         question.Answers
	items           []store.WorkItem
}

func (d *Desk) gather(tx *store.Tx, q EarnedQuery, l words.Language) (*gathering, error) {
	b, err := tx.Business()
	if err != nil {
		return nil, err
	}
	g := &gathering{d: d, tx: tx, of: map[int64]earned{}, labels: map[string][2]string{}, at: map[int64]int{}}
	g.currencies = b.Currencies()
	if g.currency, err = (MoneyQuery{Currency: q.Currency}).currency(&b, l); err != nil {
		return nil, err
	}
	g.to = calendar.DayOf(d.Now().In(b.Location()))
	g.from = g.to.Add(-364)
	for _, day := range []struct {
		key, text string
		to        *calendar.Day
	}{{"from", q.From, &g.from}, {"to", q.To, &g.to}} {
		if day.text == "" {
			continue
		}
		if *day.to, err = calendar.ParseDay(day.text); err != nil {
			return nil, problem.Invalid(l, []api.FieldError{problem.Field(l, day.key, "earned_day", nil)})
		}
	}
	orders, err := tx.LastOrders(g.from.At(0, b.Location()), g.to.Add(1).At(0, b.Location()), mostEarned)
	if err != nil {
		return nil, err
	}
	g.cut = len(orders) == mostEarned
	orders = slices.DeleteFunc(orders, func(o store.Order) bool { return o.Currency != g.currency })
	return g, g.read(orders)
}

func (g *gathering) read(orders []store.Order) error {
	ids := make([]int64, len(orders))
	for i := range orders {
		ids[i] = orders[i].ID
	}
	lines, err := g.tx.LinesOfOrders(ids)
	if err != nil {
		return err
	}
	fees, err := g.tx.FeesOf(ids)
	if err != nil {
		return err
	}
	var all []int64
	for _, rows := range lines {
		for i := range rows {
			all = append(all, rows[i].ID)
		}
	}
	items, err := g.tx.ItemsOfLines(all)
	if err != nil {
		return err
	}
	credits, err := g.tx.CreditsOf(ids)
	if err != nil {
		return err
	}
	for i := range orders {
		if err := g.order(&orders[i], lines[orders[i].ID], fees[orders[i].ID], credits[orders[i].ID], items); err != nil {
			return err
		}
	}
	return nil
}

// order adds the lines of an order, each with its share of what came in, without what
// was credited of it, and of the fees.
func (g *gathering) order(o *store.Order, rows []store.OrderLine, fees money.Amount, credits []store.Credit, items map[int64][]store.WorkItem) error {
	whole, err := docket.WholeOf(g.tx, g.d.Editions, o, rows)
	if err != nil {
		return err
	}
	shares := whole.Shares()
	weights := make([]int64, len(rows))
	for i := range rows {
		if rows[i].CancelledAt == nil {
			weights[i] = int64(shares[i].Gross)
		}
	}
	fee := money.Split(fees, weights)
	for _, c := range credits {
		whole := money.Split(c.Credit.Share(0).Net, weights)
		for i := range rows {
			shares[i].Net -= c.Credit.Share(i+1).Net + whole[i]
		}
	}
	for i := range rows {
		r := &rows[i]
		if r.CancelledAt != nil {
			continue
		}
		e, err := g.d.Editions.Of(g.tx, r.EditionID, o.Currency)
		if err != nil {
			return err
		}
		answers, _ := question.Decode(r.Answers, e.Spec)
		of := earned{order: o.ID, number: *o.Number, customer: o.Name, title: e.Title, placed: store.When(o.PlacedAt), row: *r, edition: e, answers: answers, items: items[r.ID]}
		line := earn.Line{ID: r.ID, Product: strconv.FormatInt(r.ProductID, 10), Customer: o.Email}
		line.Income, line.Fees, line.Cost = shares[i].Net, fee[i], e.CostOf(answers, r.Quantity)
		g.work(&line, &of)
		g.extras(&line, &of)
		g.labels[line.Product] = [2]string{e.Title, ""}
		g.labels[line.Customer] = [2]string{o.Name, o.Email}
		g.at[line.ID] = len(g.lines)
		g.lines, g.of[line.ID] = append(g.lines, line), of
	}
	return nil
}

// work adds the minutes of a line's items: as they were measured, else as planned.
func (g *gathering) work(line *earn.Line, of *earned) {
	line.Steps = map[string]earn.Figures{}
	for i := range of.items {
		w := &of.items[i]
		if w.SetAside {
			continue
		}
		f := earn.Figures{Minutes: w.Minutes}
		if w.Taken != nil && w.DoneAt != nil && *w.Taken > 0 {
			f.Minutes = max((*w.Taken+30)/60, 1)
			f.Measured = f.Minutes
		}
		line.Minutes += f.Minutes
		line.Measured += f.Measured
		key := line.Product + " " + string(w.Step)
		if w.Step == "" { // added by hand
			continue
		}
		line.Steps[key] = sum(line.Steps[key], f)
		if s := of.edition.Plan.Step(w.Step); s != nil {
			g.labels[key] = [2]string{s.Called(), of.title}
		}
	}
}

// extras adds what answers added to the line's price, without tax, with the minutes
// that they take by the plan; and the choices that were made.
func (g *gathering) extras(line *earn.Line, of *earned) {
	slip := &of.row.Slip
	weights := make([]int64, len(slip.Lines))
	for i, s := range slip.Lines {
		weights[i] = int64(s.Amount)
	}
	nets := money.Split(line.Income, weights)
	line.Extras = map[string]earn.Figures{}
	for i, s := range slip.Lines {
		if s.Part != charge.PartExtra || s.Question == "" || s.Amount <= 0 {
			continue
		}
		key := strings.TrimSpace(line.Product + " " + string(s.Question) + " " + s.Choice)
		f := line.Extras[key]
		f.Income += nets[i]
		f.Cost += g.costOf(of, s.Question, s.Choice)
		f.Minutes += g.minutesOf(of, s.Question, s.Choice)
		line.Extras[key] = f
		g.labels[key] = [2]string{s.Label, of.title}
	}
	for i := range of.edition.Items {
		item := &of.edition.Items[i]
		v, answered := of.answers[item.Key]
		spec, choosable := item.Spec.(question.Choosable)
		if !answered || !choosable {
			continue
		}
		for _, ch := range spec.All() {
			if n, _ := question.Times(v, ch.Code); n > 0 {
				key := line.Product + " " + string(item.Key) + " " + ch.Code
				line.Choices = append(line.Choices, key)
				g.labels[key+"\x00"] = [2]string{item.Wording + ": " + ch.Label, of.title}
			}
		}
	}
}

// costOf gives what a choice costs the seller.
func (g *gathering) costOf(of *earned, k question.Key, code string) money.Amount {
	item, ok := of.edition.Item(k)
	if !ok || code == "" {
		return 0
	}
	spec, ok := item.Spec.(question.Choosable)
	if !ok {
		return 0
	}
	for _, ch := range spec.All() {
		if ch.Code == code {
			n, counted := question.Times(of.answers[k], code)
			if !counted {
				n = int64(max(of.row.Quantity, 1))
			}
			return money.Amount(ch.Cost).Times(n)
		}
	}
	return 0
}

// minutesOf gives how many minutes of a line's work, as it is planned, hang on an answer.
func (g *gathering) minutesOf(of *earned, k question.Key, code string) (minutes int) {
	for i := range of.items {
		s := of.edition.Plan.Step(of.items[i].Step)
		if s == nil || of.items[i].SetAside || of.items[i].Round > 0 {
			continue
		}
		for _, c := range s.Minutes.Choices {
			if n, _ := question.Times(of.answers[k], c.Code); c.Of == k && (code == "" || c.Code == code) {
				minutes += c.Minutes * int(n)
			}
		}
		if s.Minutes.Of == k && s.Minutes.Each > 0 {
			minutes += max(of.items[i].Minutes-s.Minutes.Fixed-s.Minutes.Unit*of.row.Quantity, 0)
		}
	}
	return minutes
}

func (g *gathering) label(key string) (label string, of *string) {
	l, ok := g.labels[key+"\x00"]
	if !ok {
		l = g.labels[key]
	}
	if l[1] != "" {
		of = &l[1]
	}
	return l[0], of
}

// figures shows figures.
func (g *gathering) figures(key string, lines []int64, f earn.Figures) api.EarningRow {
	row := api.EarningRow{Key: key, Income: int(f.Income), Fees: int(f.Fees), Cost: int(f.Cost), Left: int(f.Left()), Minutes: f.Minutes, Measured: f.Measured}
	orders := map[int64]bool{}
	for _, id := range lines {
		orders[g.of[id].order] = true
	}
	row.Orders = len(slices.Collect(maps.Keys(orders)))
	if per, ok := f.PerHour(); ok {
		n := int(per)
		row.PerHour = &n
	}
	return row
}

func (g *gathering) line(id int64) api.EarningLine {
	l, of := &g.lines[g.at[id]], g.of[id]
	v := api.EarningLine{Line: id, Number: of.number, Customer: of.customer, Title: of.title, Placed: of.placed,
		Income: int(l.Income), Fees: int(l.Fees), Cost: int(l.Cost), Left: int(l.Left()), Minutes: l.Minutes, Measured: l.Measured}
	if per, ok := l.PerHour(); ok {
		n := int(per)
		v.PerHour = &n
	}
	return v
}

package rehearsal

import (
	"context"
	"errors"
	"fmt"
	"maps"
	"math/rand/v2"
	"net/http"
	"os"
	"slices"
	"strconv"
	"strings"

	"ruvo/api"
	"ruvo/internal/audit"
	"ruvo/internal/core/condition"
	"ruvo/internal/core/evaluate"
	"ruvo/internal/core/ledger"
	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/core/workplan"
	"ruvo/internal/desk"
	"ruvo/internal/link"
	"ruvo/internal/problem"
	"ruvo/internal/shop"
	"ruvo/internal/standin/cards"
	"ruvo/internal/store"
)

// walking begins the names of the houses in which nobody walks but the program.
const walking = "walk-"

// A walk is one customer whom the program makes up: they choose, pay, brief, and get
// what is made for them.
type walk struct {
	*house
	r     *rand.Rand
	said  words.Language
	group string // of the customer; empty for none

	lines []*line
	link  string // of the checkout, later of the order
}

// A line is one product that a walk buys, and what was answered about it.
type line struct {
	slug     string
	edition  *product.Edition
	answers  question.Answers
	later    map[question.Key]bool
	quantity int
	parent   int   // the line, from 1, that it is an add-on of; 0 of none
	id       int64 // once it is ordered
}

// A stumble is where a walk ended, and why.
type stumble struct {
	step api.WalkFailedStep
	why  error
}

func (s *stumble) Error() string { return string(s.step) + ": " + s.why.Error() }

func at(step api.WalkFailedStep, err error) error {
	if err == nil {
		return nil
	}
	return &stumble{step, err}
}

// Walk implements desk.Stage. Each walk is a rehearsal of its own, so that none takes
// what another one wants, and one alone can be walked again.
func (s *Stage) Walk(ctx context.Context, p desk.Piece, walks int, seed int64, l words.Language) (api.Walked, error) {
	view := api.Walked{Walks: walks, Seed: seed, Failed: []api.WalkFailed{}}
	for n := 1; n <= walks; n++ {
		if err := s.walk(ctx, p, n, &view, l); err != nil {
			return view, err
		}
	}
	return view, nil
}

func (s *Stage) walk(ctx context.Context, p desk.Piece, n int, view *api.Walked, l words.Language) (err error) {
	h, err := s.build(ctx, walking+link.Secret(), p, l)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, h.close(), os.RemoveAll(h.store.Folder())) }()
	w := &walk{house: h, r: rand.New(rand.NewPCG(uint64(view.Seed), uint64(n))), said: l}
	err = w.whole(ctx, view)
	var ended *stumble
	if errors.As(err, &ended) && ctx.Err() == nil {
		view.Failed = append(view.Failed, api.WalkFailed{Walk: n, Step: ended.step, Why: told(ended.why), Answers: w.told()})
		return nil
	}
	return err
}

// whole walks the whole path.
func (w *walk) whole(ctx context.Context, view *api.Walked) error {
	if err := w.buy(ctx); err != nil {
		return err
	}
	view.Paid++
	if err := at(api.WalkFailedStepBrief, w.brief(ctx)); err != nil {
		return err
	}
	view.Briefed++
	if err := w.work(ctx); err != nil {
		return err
	}
	view.Done++
	return at(api.WalkFailedStepCheck, w.check(ctx))
}

// given is what the answers of a line are evaluated with.
func (w *walk) given(n *line) evaluate.Given {
	return evaluate.Given{Quantity: n.quantity, Now: w.now(), Zone: w.zone, Language: w.said, Group: w.group, Whole: w.about(), Later: n.later, Checks: evaluate.Held}
}

// about gives what conditions read of the basket.
func (w *walk) about() condition.Whole {
	of := condition.Whole{Language: string(w.said)}
	for _, n := range w.lines {
		of.Products = append(of.Products, n.slug)
		if c := n.edition.Category; c != "" && !slices.Contains(of.Categories, c) {
			of.Categories = append(of.Categories, c)
		}
	}
	return of
}

// mostAgain is how often answers are made up again that cannot be ordered with, such as
// with a choice that is sold out.
const mostAgain = 8

// buy chooses and pays.
func (w *walk) buy(ctx context.Context) (err error) {
	if ctx, err = w.arrive(ctx); err != nil {
		return err
	}
	for range mostAgain {
		w.lines = nil
		if err = at(api.WalkFailedStepChoosing, w.fill(ctx)); err != nil {
			continue
		}
		if err = at(api.WalkFailedStepCheckout, w.prepare(ctx)); err != nil {
			continue
		}
		return at(api.WalkFailedStepPaying, w.pay(ctx))
	}
	return err
}

const (
	customer = "Ada Lind"
	address  = "ada.lind@example.org"
)

// arrive has the customer be one of a group, where only groups can buy the product.
func (w *walk) arrive(ctx context.Context) (context.Context, error) {
	n, err := w.take(ctx, w.bill.Slug)
	if err != nil || len(n.edition.Groups) == 0 {
		return ctx, err
	}
	w.group = n.edition.Groups[w.r.IntN(len(n.edition.Groups))]
	err = w.store.Write(ctx, func(tx *store.Tx) error {
		groups, err := tx.Groups()
		for _, g := range groups {
			if err == nil && g.Key == w.group {
				err = tx.Join(store.Member{GroupID: g.ID, Email: address})
			}
		}
		return err
	})
	return shop.WithCustomer(ctx, address), err
}

// take takes a product that is on sale.
func (w *walk) take(ctx context.Context, slug string) (*line, error) {
	n := &line{slug: slug, answers: question.Answers{}, later: map[question.Key]bool{}, quantity: 1}
	err := w.store.Read(ctx, func(tx *store.Tx) error {
		p, err := tx.OnSale(slug)
		if err == nil {
			n.edition, err = w.server.Shop.Editions.Get(tx, *p.EditionID)
		}
		return err
	})
	return n, err
}

// fill fills the basket: with the product, and some of its add-ons.
func (w *walk) fill(ctx context.Context) error {
	first, err := w.take(ctx, w.bill.Slug)
	if err != nil {
		return err
	}
	first.quantity = 1 + w.r.IntN(min(first.edition.Units(), 3))
	w.lines = []*line{first}
	page, err := w.server.Shop.Product(ctx, first.slug, w.said)
	if err != nil {
		return err
	}
	if page.AddOns != nil {
		for _, a := range *page.AddOns {
			if w.r.IntN(2) == 0 {
				continue
			}
			n, err := w.take(ctx, a.Page.Slug)
			if err != nil {
				return err
			}
			n.quantity, n.parent = 1+w.r.IntN(max(min(a.Most, 3), 1)), 1
			w.lines = append(w.lines, n)
		}
	}
	for _, n := range w.lines {
		if err := w.choose(ctx, n); err != nil {
			return err
		}
	}
	return nil
}

// choose answers what is asked before payment, one question after the other, as each
// answer can bring others.
func (w *walk) choose(ctx context.Context, n *line) error {
	decided := map[question.Key]bool{}
	for {
		r := evaluate.Evaluate(n.edition, n.answers, w.given(n))
		next := slices.IndexFunc(r.Asked, func(a evaluate.Asked) bool {
			return a.Item.Asked() && a.Item.Moment.Rank() <= question.Paying.Rank() && !decided[a.Item.Key]
		})
		if next < 0 {
			return w.settled(n, &r)
		}
		item := r.Asked[next].Item
		decided[item.Key] = true
		switch {
		case item.Later && w.r.IntN(2) == 0:
			n.later[item.Key] = true
			continue
		case !item.Required && w.r.IntN(2) == 0:
			continue
		}
		v, err := w.makeUp(ctx, n, item)
		switch {
		case err == nil:
			n.answers[item.Key] = v
		case item.Later:
			n.later[item.Key] = true
		case item.Required:
			return err
		}
	}
}

// settled says what is still wrong with what was answered before payment.
func (w *walk) settled(n *line, r *evaluate.Result) error {
	for _, f := range r.Faults {
		if item, ok := n.edition.Item(f.Key); !ok || item.Moment.Rank() <= question.Paying.Rank() {
			return w.faulty(n, f)
		}
	}
	return nil
}

func (w *walk) faulty(n *line, f question.Fault) error {
	wording := string(f.Key)
	if item, ok := n.edition.Item(f.Key); ok {
		wording = item.Wording
	}
	return fmt.Errorf("%s: %s", wording, f.Message(w.said))
}

// env is what an answer of a line is made up and said with.
func (w *walk) env(n *line) question.Env {
	return question.Env{Today: w.today(), Zone: w.zone, Currency: n.edition.Currency, Language: w.said, Answers: n.answers, Units: n.quantity}
}

// makeUp makes up an answer that the order can have as it is answered now.
func (w *walk) makeUp(ctx context.Context, n *line, item *product.Item) (question.Value, error) {
	if item.Spec.Class() == question.ClassBooking {
		return w.booked(ctx, n)
	}
	for range mostAgain {
		v, ok := question.MakeUp(item.Spec, w.r, w.env(n))
		if !ok {
			break
		}
		if err := w.send(ctx, item.Spec, v); err != nil {
			return nil, err
		}
		if w.fits(n, item.Key, v) {
			return v, nil
		}
	}
	return nil, fmt.Errorf("%s: %s", item.Wording, w.said.Say("walk.no_answer", nil))
}

// fits says whether nothing is wrong with an answer beside the others.
func (w *walk) fits(n *line, k question.Key, v question.Value) bool {
	with := maps.Clone(n.answers)
	with[k] = v
	r := evaluate.Evaluate(n.edition, with, w.given(n))
	return !slices.ContainsFunc(r.Faults, func(f question.Fault) bool { return f.Key == k })
}

// prepare brings the basket to the checkout.
func (w *walk) prepare(ctx context.Context) error {
	request := api.CheckoutRequest{Name: customer, Email: address}
	for _, n := range w.lines {
		raw, err := question.Encode(evaluate.Evaluate(n.edition, n.answers, w.given(n)).Answers)
		if err != nil {
			return err
		}
		later := []string{}
		for k := range n.later {
			later = append(later, string(k))
		}
		request.Lines = append(request.Lines, api.BasketLine{Product: n.slug, Quantity: n.quantity, Answers: raw, Later: &later, Parent: &n.parent})
	}
	w.link = fmt.Sprintf("%016x%016x", w.r.Uint64(), w.r.Uint64())
	_, err := w.server.Shop.PutCheckout(ctx, w.link, request, w.said)
	return err
}

// pay pays as the product lets customers: by card, or by a transfer that comes in.
func (w *walk) pay(ctx context.Context) error {
	name := w.link
	wish := api.PayRequest{Attempt: name}
	if b, err := w.business(ctx); err != nil {
		return err
	} else if ways := ledger.WaysOf(b.Account.Given(), b.Ways, w.lines[0].edition.Ways); len(ways) > 0 && ways[0] == ledger.Transfer {
		way := api.PayRequestWay(ledger.Transfer)
		wish.Way = &way
	}
	paid, err := w.server.Shop.Pay(ctx, name, wish, w.said)
	if err != nil {
		return err
	}
	if paid.Page != nil {
		if err := w.bank.Pay(ctx, *paid.Page, cards.Works); err != nil {
			return err
		}
	}
	c, err := w.server.Shop.Checkout(ctx, name, w.said)
	if err != nil {
		return err
	}
	if c.Payment == nil || c.Payment.Link == nil {
		return fmt.Errorf("%s", w.said.Say("walk.not_placed", nil))
	}
	w.link = *c.Payment.Link
	page, err := w.server.Shop.OrderPage(ctx, w.link, w.said)
	if err != nil {
		return err
	}
	for i, n := range w.lines {
		n.id = page.Lines[i].Id
	}
	if page.Awaiting != nil {
		amount, note := page.Awaiting.Missing, "walk"
		_, err = w.server.Desk.MoveMoney(ctx, page.Number, "receive", api.MoneyMove{Amount: &amount, Note: &note}, "", w.said)
	}
	return err
}

// brief answers what is still open, each question by itself, as typing does. What costs
// more is agreed to.
func (w *walk) brief(ctx context.Context) error {
	for at, n := range w.lines {
		if err := w.briefLine(ctx, at, n); err != nil {
			return err
		}
	}
	return nil
}

func (w *walk) briefLine(ctx context.Context, at int, n *line) error {
	decided := map[string]bool{}
	for {
		page, err := w.server.Shop.OrderPage(ctx, w.link, w.said)
		if err != nil {
			return err
		}
		shown := page.Lines[at]
		next := slices.IndexFunc(shown.Open, func(k string) bool { return !decided[k] })
		switch {
		case next < 0 && shown.Brief == api.BriefState("waiting"):
			return errors.New(w.said.Say("walk.still_missing", words.Params{"keys": strings.Join(shown.Missing, ", ")}))
		case next < 0:
			return nil
		}
		key := shown.Open[next]
		decided[key] = true
		item, ok := n.edition.Item(question.Key(key))
		if !ok || !item.Asked() || !item.Required && w.r.IntN(3) == 0 {
			continue
		}
		delete(n.later, item.Key)
		if err := w.tell(ctx, at, n, item, shown); err != nil && item.Required {
			return err
		}
	}
}

// tell answers one question of the brief, with another answer where one is refused.
func (w *walk) tell(ctx context.Context, at int, n *line, item *product.Item, shown api.OrderLine) (err error) {
	for range mostAgain {
		var v question.Value
		if v, err = w.makeUp(ctx, n, item); err != nil {
			return err
		}
		var p *problem.Problem
		if err = w.answer(ctx, shown, item.Key, v, at); !errors.As(err, &p) || p.Status != http.StatusUnprocessableEntity {
			if err == nil {
				n.answers[item.Key] = v
			}
			return err
		}
	}
	return err
}

// answer keeps one answer of the brief.
func (w *walk) answer(ctx context.Context, shown api.OrderLine, k question.Key, v question.Value, at int) error {
	raw, err := question.Encode(question.Answers{k: v})
	if err != nil {
		return err
	}
	save := api.BriefSave{Answers: raw}
	price, err := w.server.Shop.PreviewChange(ctx, w.link, shown.Id, api.AnswerChange{Version: shown.Version, Answers: raw}, w.said)
	if err != nil {
		return err
	}
	if price.After.Total != price.Before.Total {
		total := int(price.After.Total)
		save.Agreed = &total
	}
	saved, err := w.server.Shop.SaveBrief(ctx, w.link, shown.Id, save, w.said)
	if err != nil {
		return err
	}
	for _, half := range saved.Page.Lines[at].Halves {
		if half.Key == string(k) && len(half.Faults) > 0 {
			return errors.New(half.Faults[0].Message)
		}
	}
	return nil
}

// mostWeeks is how long a walk waits for work to become ready, in weeks.
const mostWeeks = farthest / 7

// work has all work done, handed over and accepted. Where it waits for a day, that day
// comes.
func (w *walk) work(ctx context.Context) error {
	for weeks := 0; ; {
		open, moved, stuck := 0, false, error(nil)
		for at, n := range w.lines {
			items, err := w.items(ctx, n)
			if err != nil {
				return err
			}
			open += len(items)
			for _, i := range items {
				if err := w.do(ctx, at, n, i); err == nil {
					moved = true
					break // what it brings stands in the list anew
				} else {
					stuck = err
				}
			}
		}
		switch {
		case open == 0:
			return at(api.WalkFailedStepHandover, w.handOver(ctx))
		case moved:
			continue
		case weeks == mostWeeks:
			return at(api.WalkFailedStepWork, fmt.Errorf("%s %s", w.said.Say("walk.no_end", nil), told(stuck)))
		}
		weeks++
		if _, err := w.SetDay(ctx, w.today().Add(7).String(), w.said); err != nil {
			return at(api.WalkFailedStepWork, err)
		}
	}
}

// items lists the open work of a line.
func (w *walk) items(ctx context.Context, n *line) (open []store.WorkItem, err error) {
	err = w.store.Read(ctx, func(tx *store.Tx) error {
		all, err := tx.Items(n.id)
		for _, i := range all {
			if i.DoneAt == nil {
				open = append(open, i)
			}
		}
		return err
	})
	return open, err
}

// do does one item. What a step makes that the customer is asked about is shown and
// accepted.
func (w *walk) do(ctx context.Context, at int, n *line, i store.WorkItem) error {
	asks := slices.ContainsFunc(n.edition.Steps, func(s workplan.Step) bool { return s.Key == i.Step && s.Acceptance != nil })
	if !asks {
		_, err := w.server.Desk.ActOnWork(ctx, []int64{i.ID}, "finish", w.said)
		return err
	}
	name, message, finish := string(i.Step), "—", true
	_, err := w.server.Desk.HandOver(ctx, n.id, api.NewHandover{Files: []string{}, Step: &name, Message: &message, Finish: &finish}, w.said)
	if err != nil {
		return err
	}
	return w.accept(ctx, at)
}

// accept has the customer accept what they were given last.
func (w *walk) accept(ctx context.Context, at int) error {
	page, err := w.server.Shop.OrderPage(ctx, w.link, w.said)
	if err != nil || page.Lines[at].Handovers == nil || len(*page.Lines[at].Handovers) == 0 {
		return err
	}
	given := (*page.Lines[at].Handovers)[0]
	actions := []api.HandoverAnswerAction{"open"}
	if given.Asks {
		actions = append(actions, "accept")
	}
	for _, action := range actions {
		if _, err := w.server.Shop.AnswerHandover(ctx, w.link, given.Id, api.HandoverAnswer{Action: action}, w.said); err != nil {
			return err
		}
	}
	return nil
}

// handOver hands all of it over that was not handed over with the work.
func (w *walk) handOver(ctx context.Context) error {
	for at, n := range w.lines {
		var row store.OrderLine
		err := w.store.Read(ctx, func(tx *store.Tx) (err error) {
			row, err = tx.LineByID(n.id)
			return err
		})
		if err != nil {
			return err
		}
		if row.HandedAt != nil || n.edition.Handover == nil {
			continue
		}
		message := "—"
		if _, err := w.server.Desk.HandOver(ctx, n.id, api.NewHandover{Files: []string{}, Message: &message, Whole: true}, w.said); err != nil {
			return err
		}
		if err := w.accept(ctx, at); err != nil {
			return err
		}
	}
	return nil
}

// check computes all that is stored again.
func (w *walk) check(ctx context.Context) error {
	if err := w.postman().Round(ctx); err != nil {
		return err
	}
	_, found, err := audit.Run(ctx, w.store, w.now())
	if err == nil && len(found) > 0 {
		err = errors.New(found[0].Said(w.said))
	}
	return err
}

// told says an error as people are told it, with what it says of each field.
func told(err error) string {
	var p *problem.Problem
	if !errors.As(err, &p) {
		return err.Error()
	}
	said := p.Title
	for _, f := range p.Errors {
		said += " " + f.Message
	}
	return said
}

// told gives the answers of a walk in words.
func (w *walk) told() []api.WalkAnswer {
	list := []api.WalkAnswer{}
	for _, n := range w.lines {
		if n.parent > 0 || n.edition.Units() > 1 {
			list = append(list, api.WalkAnswer{Wording: n.edition.Title, Answer: w.said.Say("walk.quantity", words.Params{"n": strconv.Itoa(n.quantity)})})
		}
		for i := range n.edition.Items {
			item := &n.edition.Items[i]
			if v := n.answers[item.Key]; v != nil && v.Answered() {
				list = append(list, api.WalkAnswer{Wording: item.Wording, Answer: item.Spec.Words(v, w.env(n))})
			} else if n.later[item.Key] {
				list = append(list, api.WalkAnswer{Wording: item.Wording, Answer: w.said.Say("walk.later", nil)})
			}
		}
	}
	return list
}

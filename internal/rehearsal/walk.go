package rehearsal

import (
	"context"
	"errors"
	"math/rand/v2"
	"os"
	"slices"
	"strconv"

	"ruvo/api"
	"ruvo/internal/audit"
	"ruvo/internal/core/condition"
	"ruvo/internal/core/evaluate"
	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/desk"
	"ruvo/internal/link"
	"ruvo/internal/problem"
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
func (s *Stage) Walk(ctx context.Context, p desk.Piece, first, walks int, seed int64, l words.Language) (api.Walked, error) {
	view := api.Walked{Walks: walks, Seed: seed, Failed: []api.WalkFailed{}}
	for n := first; n < first+walks; n++ {
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

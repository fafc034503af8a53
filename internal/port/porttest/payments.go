// Package porttest tries adapters of the ports: whoever writes one for a real
// service runs these tests against it.
package porttest

import (
	"context"
	"errors"
	"net/http"
	"testing"
	"time"

	"ruvo/internal/core/ledger"
	"ruvo/internal/core/money"
	"ruvo/internal/port"
)

// A Try is an adapter with what its tests need of the service behind it.
type Try struct {
	Service port.Payments
	// Pay and Leave do on a page of the service what a customer does who pays, and
	// who goes back without paying. Pay does not mind a page on which nothing can
	// be paid any more.
	Pay, Leave func(ctx context.Context, page string) error
	// Noticed gives the notices sent since it was last asked.
	Noticed func(ctx context.Context) ([]Sent, error)
	Now     func() time.Time
}

// Sent is a notice as it was sent.
type Sent struct {
	Head http.Header
	Body []byte
}

// Payments tries an adapter of port.Payments. Each test begins with a new one.
func Payments(t *testing.T, begin func(t *testing.T) Try) {
	for name, test := range map[string]func(*testing.T, Try){
		"paid":                 paid,
		"left":                 left,
		"ended":                ended,
		"ended before it came": endedBefore,
		"given back":           givenBack,
		"deposit":              deposit,
		"notices":              notices,
	} {
		t.Run(name, func(t *testing.T) { test(t, begin(t)) })
	}
}

func must(t *testing.T, err error) {
	t.Helper()
	if err != nil {
		t.Fatal(err)
	}
}

func wanted(name string, amount, held money.Amount) port.Wanted {
	return port.Wanted{Attempt: name, Amount: amount, Held: held, Currency: "EUR", About: "A test", Back: "https://shop.example.org/back", Language: "en"}
}

// start begins an attempt and wants a page, the same however often it begins.
func (y Try) start(t *testing.T, w port.Wanted) string {
	t.Helper()
	first, err := y.Service.Start(t.Context(), w)
	must(t, err)
	again, err := y.Service.Start(t.Context(), w)
	must(t, err)
	if first.State != ledger.Confirm || first.Page == "" || again != first {
		t.Fatalf("begun with %+v, then with %+v", first, again)
	}
	return first.Page
}

// is wants an attempt to be in a state, and one that begins again to stay there.
func (y Try) is(t *testing.T, name string, state ledger.State) port.Receipt {
	t.Helper()
	r, err := y.Service.Ask(t.Context(), name)
	if err != nil || r.State != state || state == ledger.Refused && r.Reason == "" {
		t.Fatalf("%s is %+v, %v; want it %s", name, r, err, state)
	}
	return r
}

// moved gives what the service's list comes to, without its fees.
func (y Try) moved(t *testing.T) (sum money.Amount) {
	t.Helper()
	list, err := y.Service.Moved(t.Context())
	must(t, err)
	for i, m := range list {
		sum += m.Amount
		if m.Attempt == "" || m.Currency != "EUR" || m.At.IsZero() || i > 0 && m.At.Before(list[i-1].At) {
			t.Errorf("line %d of the list is %+v", i, m)
		}
	}
	return sum
}

func paid(t *testing.T, y Try) {
	if _, err := y.Service.Ask(t.Context(), "nobody-began"); !errors.Is(err, port.ErrNoAttempt) {
		t.Errorf("an attempt that nobody began: %v", err)
	}
	page := y.start(t, wanted("paid-0001", 3600, 0))
	y.is(t, "paid-0001", ledger.Confirm)
	for range 2 { // a doubled click
		must(t, y.Pay(t.Context(), page))
	}
	r := y.is(t, "paid-0001", ledger.Settled)
	if r.Fee < 0 || r.Fee > 3600 || r.Page != "" {
		t.Errorf("%+v", r)
	}
	if r, err := y.Service.Start(t.Context(), wanted("paid-0001", 3600, 0)); err != nil || r.State != ledger.Settled {
		t.Errorf("begun again after it was paid: %+v, %v", r, err)
	}
	if r, err := y.Service.End(t.Context(), "paid-0001"); err != nil || r.State != ledger.Settled {
		t.Errorf("ended after it was paid: %+v, %v", r, err)
	}
	if sum := y.moved(t); sum != 3600 {
		t.Errorf("%d moved", sum)
	}
}

func left(t *testing.T, y Try) {
	page := y.start(t, wanted("left-0001", 500, 0))
	must(t, y.Leave(t.Context(), page))
	must(t, y.Pay(t.Context(), page)) // too late
	y.is(t, "left-0001", ledger.Refused)
	if sum := y.moved(t); sum != 0 {
		t.Errorf("%d moved", sum)
	}
}

func ended(t *testing.T, y Try) {
	page := y.start(t, wanted("ended-0001", 500, 0))
	for range 2 {
		if r, err := y.Service.End(t.Context(), "ended-0001"); err != nil || r.State != ledger.Refused {
			t.Errorf("%+v, %v", r, err)
		}
	}
	must(t, y.Pay(t.Context(), page))
	y.is(t, "ended-0001", ledger.Refused)
}

func endedBefore(t *testing.T, y Try) {
	if r, err := y.Service.End(t.Context(), "late-0001"); err != nil || r.State != ledger.Refused {
		t.Errorf("%+v, %v", r, err)
	}
	if r, err := y.Service.Start(t.Context(), wanted("late-0001", 500, 0)); err != nil || r.State != ledger.Refused || r.Page != "" {
		t.Errorf("begun after it was ended: %+v, %v", r, err)
	}
}

func givenBack(t *testing.T, y Try) {
	must(t, y.Pay(t.Context(), y.start(t, wanted("sold-0001", 1000, 0))))
	give := func(name string, amount money.Amount, want ledger.State) {
		t.Helper()
		for range 2 { // given back once
			r, err := y.Service.Return(t.Context(), port.Giving{Attempt: name, Of: "sold-0001", Amount: amount, Currency: "EUR"})
			if err != nil || r.State != want {
				t.Errorf("%d back: %+v, %v; want it %s", amount, r, err, want)
			}
		}
	}
	give("back-0001", 400, ledger.Settled)
	give("back-0002", 601, ledger.Refused) // more than there is
	give("back-0003", 600, ledger.Settled)
	give("back-0004", 1, ledger.Refused)
	give("back-0005", 0, ledger.Refused)
	give("back-0006", -5, ledger.Refused)
	if r, err := y.Service.Return(t.Context(), port.Giving{Attempt: "back-0007", Of: "nobody-began", Amount: 5, Currency: "EUR"}); err != nil || r.State != ledger.Refused {
		t.Errorf("of nothing: %+v, %v", r, err)
	}
	if sum := y.moved(t); sum != 0 {
		t.Errorf("%d moved", sum)
	}
}

func deposit(t *testing.T, y Try) {
	must(t, y.Pay(t.Context(), y.start(t, wanted("held-0001", 1000, 400))))
	back := port.Giving{Of: "held-0001", Currency: "EUR"}
	for _, c := range []struct {
		name   string
		do     func(context.Context, port.Giving) (port.Receipt, error)
		amount money.Amount
		want   ledger.State
	}{
		{"free-0001", y.Service.Release, 401, ledger.Refused}, {"free-0002", y.Service.Release, 300, ledger.Settled}, {"free-0003", y.Service.Release, 101, ledger.Refused},
		{"free-0004", y.Service.Return, 601, ledger.Refused}, {"free-0005", y.Service.Return, 600, ledger.Settled}, {"free-0006", y.Service.Release, 100, ledger.Settled},
	} {
		back.Attempt, back.Amount = c.name, c.amount
		if r, err := c.do(t.Context(), back); err != nil || r.State != c.want {
			t.Errorf("%s: %+v, %v; want it %s", c.name, r, err, c.want)
		}
	}
	if sum := y.moved(t); sum != 0 {
		t.Errorf("%d moved", sum)
	}
}

func notices(t *testing.T, y Try) {
	must(t, y.Pay(t.Context(), y.start(t, wanted("told-0001", 700, 0))))
	sent, err := y.Noticed(t.Context())
	must(t, err)
	if len(sent) == 0 {
		t.Fatal("nothing was told")
	}
	for _, s := range sent {
		n, err := y.Service.Notice(s.Head, s.Body, y.Now())
		if err != nil || n.ID == "" || n.Attempt != "told-0001" {
			t.Errorf("%+v, %v", n, err)
		}
		for _, off := range []time.Duration{port.NoticeTolerance + time.Minute, -port.NoticeTolerance - time.Minute} {
			if _, err := y.Service.Notice(s.Head, s.Body, y.Now().Add(off)); !errors.Is(err, port.ErrStale) {
				t.Errorf("%v off: %v", off, err)
			}
		}
		if _, err := y.Service.Notice(s.Head, append([]byte(" "), s.Body...), y.Now()); !errors.Is(err, port.ErrForged) {
			t.Errorf("changed: %v", err)
		}
		for name := range s.Head { // each head in turn, missing
			head := s.Head.Clone()
			head.Del(name)
			if _, err := y.Service.Notice(head, s.Body, y.Now()); err == nil && name != "Content-Type" {
				t.Errorf("taken without %s", name)
			}
		}
	}
	if _, err := y.Service.Notice(http.Header{}, nil, y.Now()); !errors.Is(err, port.ErrForged) {
		t.Errorf("without a signature: %v", err)
	}
}

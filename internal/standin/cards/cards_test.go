package cards

import (
	"bytes"
	"context"
	"errors"
	"io"
	"net/http"
	"net/http/httptest"
	"net/url"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"ruvo/internal/core/ledger"
	"ruvo/internal/port"
	"ruvo/internal/port/porttest"
	"ruvo/internal/store"
	"ruvo/internal/storetest"
)

// A post takes notices in place of the shop.
type post struct {
	sent   []porttest.Sent
	answer int
}

func (p *post) RoundTrip(r *http.Request) (*http.Response, error) {
	body, err := io.ReadAll(r.Body)
	p.sent = append(p.sent, porttest.Sent{Head: r.Header.Clone(), Body: body})
	return &http.Response{StatusCode: p.answer, Body: io.NopCloser(strings.NewReader("")), Request: r}, err
}

var noon = time.Date(2026, 11, 24, 12, 0, 0, 0, time.UTC)

// A shop is a service and what a test has of it.
type shop struct {
	*Service
	post  *post
	clock time.Time
}

func service(t *testing.T) *shop {
	t.Helper()
	s := &shop{post: &post{answer: 202}, clock: noon}
	var err error
	if s.Service, err = Open(storetest.Folder(t), func() time.Time { return s.clock }); err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { s.Close() })
	s.Notices, s.Client = "http://shop.example.org/notices", &http.Client{Transport: s.post}
	return s
}

func (s *shop) noticed(ctx context.Context) ([]porttest.Sent, error) {
	err := s.Deliver(ctx)
	sent := s.post.sent
	s.post.sent = nil
	return sent, err
}

// The port's tests, whatever the service was told to do that does not keep it
// from answering.
func TestPort(t *testing.T) {
	for _, b := range []Behaviour{
		{}, {Notices: NoticeAfter}, {Notices: NoticeTwice}, {Notices: NoticeLate}, {Notices: NoticeShuffled}, {Confirms: ConfirmsAlways}, {Confirms: ConfirmsNever},
	} {
		porttest.Payments(t, func(t *testing.T) porttest.Try {
			s := service(t)
			if err := s.Behave(t.Context(), b); err != nil {
				t.Fatal(err)
			}
			return porttest.Try{
				Service: s.Service,
				Pay:     func(ctx context.Context, page string) error { return s.Pay(ctx, page, Works) },
				Leave: func(ctx context.Context, page string) error {
					_, _, err := s.Decide(ctx, page[strings.LastIndex(page, "/")+1:], DoLeave, "", "", "")
					return err
				},
				Noticed: func(ctx context.Context) ([]porttest.Sent, error) {
					s.clock = s.clock.Add(2 * time.Minute)
					return s.noticed(ctx)
				},
				Now: func() time.Time { return s.clock },
			}
		})
	}
}

func (s *shop) start(t *testing.T, name string) string {
	t.Helper()
	r, err := s.Start(t.Context(), port.Wanted{Attempt: name, Amount: 3600, Currency: "EUR", About: "Fernlight Sky Studio", Back: "http://shop.example.org/back"})
	if err != nil {
		t.Fatal(err)
	}
	return r.Page
}

// What a customer sees on the page, through HTTP.
func (s *shop) visit(t *testing.T, page string, form url.Values) (status int, body, to string) {
	t.Helper()
	r := httptest.NewRequest("GET", page, nil)
	if form != nil {
		r = httptest.NewRequest("POST", page, strings.NewReader(form.Encode()))
		r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
	}
	w := httptest.NewRecorder()
	s.ServeHTTP(w, r)
	if csp := w.Header().Get("Content-Security-Policy"); !strings.Contains(csp, "default-src 'none'") {
		t.Errorf("the page's policy is %q", csp)
	}
	return w.Code, w.Body.String(), w.Header().Get("Location")
}

func card(number string) url.Values {
	return url.Values{"do": {DoPay}, "number": {number}, "expiry": {"08/29"}, "code": {"123"}}
}

// The page says what is wrong beside each field, and takes nothing until all is
// right; then it leads back.
func TestPage(t *testing.T) {
	s := service(t)
	page := s.start(t, "one")
	if status, body, _ := s.visit(t, page, nil); status != 200 || !strings.Contains(body, "€36.00") || !strings.Contains(body, "Fernlight Sky Studio") || !strings.Contains(body, "9900 0000 0000 0002") {
		t.Errorf("%d %s", status, body)
	}
	for _, wrong := range []struct{ field, value string }{
		{"number", "9900000000000003"}, {"number", ""}, {"number", strings.Repeat("0", 60)},
		{"expiry", "10/26"}, {"expiry", "13/29"}, {"expiry", "soon"}, {"code", "12"}, {"code", "12x"},
	} {
		form := card(Works)
		form.Set(wrong.field, wrong.value)
		status, body, _ := s.visit(t, page, form)
		if status != 422 || !strings.Contains(body, wrong.field+"-wrong") {
			t.Errorf("%+v: %d", wrong, status)
		}
	}
	form := card(Works)
	form.Set("expiry", "11/26") // good until the month's end
	for range 2 {               // a doubled click
		if status, _, to := s.visit(t, page, form); status != 303 || to != "http://shop.example.org/back" {
			t.Errorf("%d, led to %q", status, to)
		}
	}
	if _, body, _ := s.visit(t, page, nil); !strings.Contains(body, "This is paid.") {
		t.Error(body)
	}
	if status, _, _ := s.visit(t, Pages+"/nothing", nil); status != 404 {
		t.Error(status)
	}
	if status, _, _ := s.visit(t, Pages+"/nothing", card(Works)); status != 404 {
		t.Error(status)
	}
	if status, _, _ := s.visit(t, page, url.Values{"do": {strings.Repeat("x", 5000)}}); status != 400 {
		t.Error(status)
	}
	if status, body, _ := s.visit(t, Pages+"/style.css", nil); status != 200 || !strings.Contains(body, "main") {
		t.Error(status)
	}
}

// What becomes of cards, as their numbers say or as the service was told.
func TestCards(t *testing.T) {
	s := service(t)
	for i, c := range []struct {
		b      Behaviour
		number string
		state  ledger.State
		reason string
	}{
		{Behaviour{}, Works, ledger.Settled, ""}, {Behaviour{}, Declined, ledger.Refused, "declined"}, {Behaviour{}, Confirms, ledger.Confirm, ""},
		{Behaviour{}, "4242424242424242", ledger.Refused, "unknown"}, {Behaviour{Confirms: ConfirmsAlways}, Works, ledger.Confirm, ""},
		{Behaviour{Confirms: ConfirmsNever}, Confirms, ledger.Settled, ""}, {Behaviour{Declines: DeclinesOld}, Works, ledger.Refused, "expired"},
		{Behaviour{Declines: DeclinesLost}, Works, ledger.Refused, "blocked"}, {Behaviour{Declines: DeclinesLimit}, Works, ledger.Refused, "limit"},
	} {
		if err := s.Behave(t.Context(), c.b); err != nil {
			t.Fatal(err)
		}
		name := string(rune('a' + i))
		page := s.start(t, name)
		s.visit(t, page, card(c.number))
		r, err := s.Ask(t.Context(), name)
		if err != nil || r.State != c.state || r.Reason != c.reason {
			t.Errorf("%+v with %s: %+v, %v", c.b, c.number, r, err)
		}
		if r.State != ledger.Confirm {
			continue
		}
		if _, body, _ := s.visit(t, page, nil); !strings.Contains(body, "Your bank asks") {
			t.Error(body)
		}
		do, want := DoConfirm, ledger.Settled
		if i > 2 {
			do, want = DoRefuse, ledger.Refused
		}
		s.visit(t, page, url.Values{"do": {do}})
		if r, err := s.Ask(t.Context(), name); err != nil || r.State != want {
			t.Errorf("told %s: %+v, %v", do, r, err)
		}
	}
	if err := s.Behave(t.Context(), Behaviour{Notices: "loudly"}); err == nil {
		t.Error("a behaviour that there is not was taken")
	}
}

// Requests get lost on their way, or their answers do.
func TestSilence(t *testing.T) {
	s := service(t)
	wanted := port.Wanted{Attempt: "one", Amount: 100, Currency: "EUR"}
	for _, b := range []Behaviour{{Silent: SilentBefore}, {Silent: SilentAfter}} {
		if err := s.Behave(t.Context(), b); err != nil {
			t.Fatal(err)
		}
		if _, err := s.Start(t.Context(), wanted); !errors.Is(err, ErrSilent) {
			t.Error(err)
		}
		if err := s.Behave(t.Context(), Behaviour{}); err != nil {
			t.Fatal(err)
		}
		_, err := s.Ask(t.Context(), "one")
		if arrived := err == nil; arrived != (b.Silent == SilentAfter) {
			t.Errorf("silent %s, and it arrived: %v", b.Silent, arrived)
		}
	}
}

// Money that goes back later, or never.
func TestReturns(t *testing.T) {
	s := service(t)
	if err := s.Pay(t.Context(), s.start(t, "sold"), Works); err != nil {
		t.Fatal(err)
	}
	behave := func(b Behaviour) {
		t.Helper()
		if err := s.Behave(t.Context(), b); err != nil {
			t.Fatal(err)
		}
		if err := s.Late(t.Context()); err != nil {
			t.Fatal(err)
		}
	}
	back := func(name string, want ledger.State) {
		t.Helper()
		if r, err := s.Return(t.Context(), port.Giving{Attempt: name, Of: "sold", Amount: 1000, Currency: "EUR"}); err != nil || r.State != want {
			t.Errorf("%s: %+v, %v; want it %s", name, r, err, want)
		}
	}
	behave(Behaviour{Returns: ReturnsRefused})
	back("never", ledger.Refused)
	behave(Behaviour{Returns: ReturnsLater})
	back("later", ledger.Asked)
	back("later", ledger.Asked)
	behave(Behaviour{})
	back("later", ledger.Settled)
}

// Notices come when the service was told to send them, and again until they are
// taken.
func TestNotices(t *testing.T) {
	for _, c := range []struct {
		notices string
		want    []int // how many at once, after four seconds, and after a minute
	}{
		{NoticeBefore, []int{2, 0, 0}}, {NoticeAfter, []int{0, 2, 0}}, {NoticeTwice, []int{2, 2, 0}}, {NoticeLate, []int{0, 0, 2}}, {NoticeNever, []int{0, 0, 0}}, {NoticeShuffled, []int{1, 0, 1}},
	} {
		s := service(t)
		if err := s.Behave(t.Context(), Behaviour{Notices: c.notices}); err != nil {
			t.Fatal(err)
		}
		if err := s.Pay(t.Context(), s.start(t, "one"), Works); err != nil {
			t.Fatal(err)
		}
		for i, pause := range []time.Duration{0, 4 * time.Second, time.Minute} {
			s.clock = s.clock.Add(pause)
			sent, err := s.noticed(t.Context())
			if err != nil || len(sent) != c.want[i] {
				t.Errorf("%q: %d came at %d, %v", c.notices, len(sent), i, err)
			}
			if c.notices == NoticeShuffled && i == 0 && !bytes.Contains(sent[0].Body, []byte("settled")) {
				t.Errorf("%s came first", sent[0].Body)
			}
		}
	}
	s := service(t)
	s.post.answer = 500
	s.start(t, "one")
	total := 0
	for range 500 {
		sent, err := s.noticed(t.Context())
		if err != nil {
			t.Fatal(err)
		}
		total += len(sent)
		s.clock = s.clock.Add(time.Minute)
	}
	if total != mostTries {
		t.Errorf("sent %d times to a shop that does not take it", total)
	}
}

// Its books go on from those that were in Ruvo's database.
func TestAdoptedBooks(t *testing.T) {
	folder := storetest.Folder(t)
	db, err := store.Open(folder)
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	sql := storetest.SQL(t, filepath.Join(folder, store.File))
	if _, err := sql.Exec("INSERT INTO card_charges (attempt, amount, outcome, reason, confirms) VALUES ('old', 500, 'settled', '', 0), ('waiting', 70, 'confirm', '', 1)"); err != nil {
		t.Fatal(err)
	}
	for range 2 {
		s, err := Open(folder, time.Now)
		if err != nil {
			t.Fatal(err)
		}
		if r, err := s.Ask(t.Context(), "old"); err != nil || r.State != ledger.Settled {
			t.Errorf("%+v, %v", r, err)
		}
		if r, err := s.Ask(t.Context(), "waiting"); err != nil || r.State != ledger.Refused {
			t.Errorf("%+v, %v", r, err)
		}
		if list, err := s.Moved(t.Context()); err != nil || len(list) != 1 || list[0].Amount != 500 {
			t.Errorf("%+v, %v", list, err)
		}
		s.Close()
	}
}

// The page at the desk shows the choices and what was asked for, and keeps what
// is chosen.
func TestControlPage(t *testing.T) {
	s := service(t)
	s.start(t, "one")
	ask := func(method string, form url.Values) (int, string) {
		r := httptest.NewRequest(method, Control, strings.NewReader(form.Encode()))
		r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
		w := httptest.NewRecorder()
		s.ControlPage().ServeHTTP(w, r)
		return w.Code, w.Body.String()
	}
	if status, _ := ask("POST", url.Values{"notices": {NoticeLate}, "silent": {SilentAfter}}); status != 303 {
		t.Error(status)
	}
	if status, _ := ask("POST", url.Values{"notices": {"loudly"}}); status != 422 {
		t.Error(status)
	}
	if status, _ := ask("PUT", nil); status != 405 {
		t.Error(status)
	}
	status, body := ask("GET", nil)
	if status != 200 || !strings.Contains(body, `value="late" selected`) || !strings.Contains(body, "€36.00") || !strings.Contains(body, "waits for the customer") {
		t.Errorf("%d %s", status, body)
	}
}

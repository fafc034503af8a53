package cards

import (
	"context"
	"embed"
	"errors"
	"fmt"
	"html/template"
	"log/slog"
	"net/http"
	"regexp"
	"strings"
	"time"

	"gorm.io/gorm"

	"ruvo/internal/core/ledger"
	"ruvo/internal/core/words"
	"ruvo/internal/port"
)

// Pages is the path under which the service's own pages lie.
const Pages = "/simulated-payments"

//go:embed pages
var files embed.FS

var pages = template.Must(template.ParseFS(files, "pages/*.html"))

var threeDigits = regexp.MustCompile(`^[0-9]{3}$`)

// ServeHTTP serves the pages on which customers pay.
func (s *Service) ServeHTTP(w http.ResponseWriter, r *http.Request) {
	mux := http.NewServeMux()
	mux.HandleFunc("GET "+Pages+"/style.css", style)
	mux.HandleFunc("GET "+Pages+"/{token}", s.show)
	mux.HandleFunc("POST "+Pages+"/{token}", s.take)
	head(w)
	mux.ServeHTTP(w, r)
}

func head(w http.ResponseWriter) {
	h := w.Header()
	h.Set("Content-Security-Policy", "default-src 'none'; style-src 'self'; form-action 'self'; frame-ancestors 'none'; base-uri 'none'")
	h.Set("Cache-Control", "no-store")
}

func style(w http.ResponseWriter, r *http.Request) { http.ServeFileFS(w, r, files, "pages/style.css") }

// A sheet is what one of the pages shows.
type sheet struct {
	Say      func(string) string
	Language string
	About    string
	Amount   string
	Held     string
	Back     string
	Number   string
	Wrong    map[string]string
	Ended    string // the words of why nothing more can be paid here
	Doubtful bool
	Cards    []demoCard
}

type demoCard struct{ Number, Does string }

func (s *Service) sheet(m movement) sheet {
	l := words.Language(m.Language)
	v := sheet{
		Say: func(t string) string { return say(m.Language, t) }, Language: m.Language, About: m.About, Back: m.Back,
		Amount: l.Money(m.Amount-m.Held, m.Currency), Doubtful: m.Doubtful,
		Cards: []demoCard{{spaced(Works), say(m.Language, "works")}, {spaced(Declined), say(m.Language, "is declined")}, {spaced(Confirms), say(m.Language, "asks for a confirmation")}},
	}
	if m.Held > 0 {
		v.Held = l.Money(m.Held, m.Currency)
	}
	switch m.State {
	case ledger.Settled:
		v.Ended = v.Say("This is paid.")
	case ledger.Refused:
		v.Ended = v.Say("This payment has ended. Nothing was paid.")
	}
	return v
}

func spaced(number string) string {
	return strings.Join([]string{number[:4], number[4:8], number[8:12], number[12:]}, " ")
}

func (s *Service) show(w http.ResponseWriter, r *http.Request) {
	m, known, err := find(s.db.WithContext(r.Context()), "token = ?", r.PathValue("token"))
	if err != nil || !known {
		lost(w, err)
		return
	}
	draw(w, http.StatusOK, "pay.html", s.sheet(m))
}

func lost(w http.ResponseWriter, err error) {
	if err != nil {
		slog.Error("the simulated payment service", "error", err)
		http.Error(w, "The simulated payment service failed.", http.StatusInternalServerError)
		return
	}
	http.Error(w, "There is no such payment.", http.StatusNotFound)
}

func draw(w http.ResponseWriter, status int, name string, v any) {
	w.Header().Set("Content-Type", "text/html; charset=utf-8")
	w.WriteHeader(status)
	if err := pages.ExecuteTemplate(w, name, v); err != nil {
		slog.Error("the simulated payment service", "error", err)
	}
}

// take takes what the customer decided on the page: their card, their bank's
// confirmation, or to go back without paying.
func (s *Service) take(w http.ResponseWriter, r *http.Request) {
	r.Body = http.MaxBytesReader(w, r.Body, largestNotice)
	if err := r.ParseForm(); err != nil {
		http.Error(w, "The form cannot be read.", http.StatusBadRequest)
		return
	}
	m, wrong, err := s.Decide(r.Context(), r.PathValue("token"), r.PostForm.Get("do"), r.PostForm.Get("number"), r.PostForm.Get("expiry"), r.PostForm.Get("code"))
	switch {
	case errors.Is(err, port.ErrNoAttempt):
		lost(w, nil)
		return
	case err != nil:
		lost(w, err)
		return
	case len(wrong) > 0 || m.State == ledger.Confirm:
		v := s.sheet(m)
		v.Wrong, v.Number = wrong, r.PostForm.Get("number")
		status := http.StatusOK
		if len(wrong) > 0 {
			status = http.StatusUnprocessableEntity
		}
		draw(w, status, "pay.html", v)
		return
	}
	// What is due now reaches the shop before the customer does. They go away
	// all the same when it does not.
	if err := s.Deliver(context.WithoutCancel(r.Context())); err != nil {
		slog.Error("the simulated payment service", "error", err)
	}
	http.Redirect(w, r, m.Back, http.StatusSeeOther)
}

// What a customer can decide on the page.
const (
	DoPay     = "pay"
	DoConfirm = "confirm"
	DoRefuse  = "refuse"
	DoLeave   = "leave"
)

// Decide takes a customer's decision. A repeat, as of a doubled click, finds
// what the first came to.
func (s *Service) Decide(ctx context.Context, token, do, number, expiry, code string) (m movement, wrong map[string]string, err error) {
	err = s.write(ctx, func(tx *gorm.DB) error {
		var known bool
		m, known, err = find(tx, "token = ? AND token <> ''", token)
		if err == nil && !known {
			err = port.ErrNoAttempt
		}
		if err != nil || !m.State.Waiting() {
			return err
		}
		b, err := behaviour(tx)
		if err != nil {
			return err
		}
		switch do {
		case DoLeave:
			return s.settle(tx, b, &m, ledger.Refused, "left")
		case DoConfirm, DoRefuse:
			if !m.Doubtful {
				return nil
			}
			if do == DoRefuse {
				return s.settle(tx, b, &m, ledger.Refused, "refused")
			}
			return s.settle(tx, b, &m, ledger.Settled, "")
		case DoPay:
			if m.Doubtful { // the bank asked already
				return nil
			}
			if wrong = s.card(m.Language, number, expiry, code); len(wrong) > 0 {
				return nil
			}
			return s.charge(tx, b, &m, port.Digits(number))
		}
		return fmt.Errorf("%q is nothing that can be done here", do)
	})
	return m, wrong, err
}

// Pay does on a page of the service what a customer does who has a card, and
// whose bank, when it asks, is told yes.
func (s *Service) Pay(ctx context.Context, page, number string) error {
	token := page[strings.LastIndex(page, "/")+1:]
	m, wrong, err := s.Decide(ctx, token, DoPay, number, s.now().AddDate(1, 0, 0).Format("01/06"), "123")
	if err == nil && len(wrong) > 0 {
		err = fmt.Errorf("the card was not taken: %v", wrong)
	}
	if err == nil && m.Doubtful {
		_, _, err = s.Decide(ctx, token, DoConfirm, "", "", "")
	}
	return err
}

// card checks what can be checked before the bank is asked.
func (s *Service) card(language, number, expiry, code string) map[string]string {
	wrong := map[string]string{}
	if len(number) > 40 || !port.ValidNumber(number) {
		wrong["number"] = say(language, "This is no card number. Please look at the card again.")
	}
	last, err := time.Parse("01/06", strings.ReplaceAll(expiry, " ", ""))
	if err != nil || !last.AddDate(0, 1, 0).After(s.now()) {
		wrong["expiry"] = say(language, "Write the last month as on the card, such as 08/29; it must not be over.")
	}
	if !threeDigits.MatchString(code) {
		wrong["code"] = say(language, "The code has three digits.")
	}
	return wrong
}

// charge asks the card's bank.
func (s *Service) charge(tx *gorm.DB, b Behaviour, m *movement, number string) error {
	m.Last4 = number[len(number)-4:]
	doubtful := number == Confirms
	switch {
	case b.Declines != DeclinesByCard:
		return s.settle(tx, b, m, ledger.Refused, b.Declines)
	case number == Declined:
		return s.settle(tx, b, m, ledger.Refused, DeclinesMoney)
	case number != Works && !doubtful:
		return s.settle(tx, b, m, ledger.Refused, "unknown")
	}
	if b.Confirms == ConfirmsAlways || b.Confirms == ConfirmsByCard && doubtful {
		m.Doubtful = true
		return tx.Save(m).Error
	}
	return s.settle(tx, b, m, ledger.Settled, "")
}

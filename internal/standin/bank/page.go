package bank

import (
	"embed"
	"html/template"
	"log/slog"
	"net/http"
	"strings"
	"time"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/money"
)

// Desk is the path of the page on which transfers are made up.
const Desk = "/desk/simulated-bank"

//go:embed pages
var files embed.FS

var pages = template.Must(template.ParseFS(files, "pages/*.html"))

// rows is how many transfers the page takes.
const rows = 5

// A line is one transfer as it is typed.
type line struct {
	N                                     int
	Payer, Amount, Reference, Text, Fault string
}

type sheet struct {
	Account, Currency, Day, Fault string
	Lines                         []line
}

// Page serves the page on which somebody makes up transfers and has them as a
// bank's statement. It keeps nothing.
func Page(account func() (iban string, c money.Currency), now func() time.Time) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		h := w.Header()
		h.Set("Content-Security-Policy", "default-src 'none'; style-src 'self'; form-action 'self'; frame-ancestors 'none'; base-uri 'none'")
		h.Set("Cache-Control", "no-store")
		iban, currency := account()
		v := sheet{Account: iban, Currency: string(currency), Day: calendar.DayOf(now()).String()}
		for i := range rows {
			v.Lines = append(v.Lines, line{N: i + 1})
		}
		switch r.Method {
		case http.MethodGet, http.MethodHead:
			draw(w, http.StatusOK, v)
		case http.MethodPost:
			r.Body = http.MaxBytesReader(w, r.Body, 64<<10)
			if err := r.ParseForm(); err != nil {
				http.Error(w, "The form cannot be read.", http.StatusBadRequest)
				return
			}
			give(w, r, v, currency)
		default:
			http.Error(w, "Only GET and POST.", http.StatusMethodNotAllowed)
		}
	})
}

func draw(w http.ResponseWriter, status int, v sheet) {
	w.Header().Set("Content-Type", "text/html; charset=utf-8")
	w.WriteHeader(status)
	if err := pages.ExecuteTemplate(w, "bank.html", v); err != nil {
		slog.Error("the simulated bank", "error", err)
	}
}

// give writes the statement of what was typed, or says what is wrong with it.
func give(w http.ResponseWriter, r *http.Request, v sheet, currency money.Currency) {
	get := func(key string) string { return strings.TrimSpace(r.PostForm.Get(key)) }
	v.Account, v.Day = strings.ToUpper(strings.ReplaceAll(get("account"), " ", "")), get("day")
	day, err := calendar.ParseDay(v.Day)
	wrong := err != nil
	if wrong {
		v.Fault = "A day is written as 2026-11-26."
	}
	s := Statement{Account: v.Account}
	for i := range v.Lines {
		l := &v.Lines[i]
		n := string(rune('1' + i))
		l.Payer, l.Amount, l.Reference, l.Text = get("payer"+n), get("amount"+n), get("reference"+n), get("text"+n)
		if l.Payer+l.Amount+l.Reference+l.Text == "" {
			continue
		}
		amount, ok := minor(l.Amount, currency)
		if !ok {
			l.Fault, wrong = "An amount is written as 12.50.", true
		}
		s.Transfers = append(s.Transfers, Transfer{Day: day, Amount: amount, Currency: currency, Payer: l.Payer, Text: l.Text, Reference: strings.ReplaceAll(l.Reference, " ", "")})
	}
	if len(s.Transfers) == 0 {
		v.Fault, wrong = "Make up a transfer first.", true
	}
	if wrong {
		draw(w, http.StatusUnprocessableEntity, v)
		return
	}
	write, kind, name := s.named().CAMT, "application/xml", "statement-"+v.Day+".xml"
	if get("format") == "csv" {
		write, kind, name = s.Table, "text/csv; charset=utf-8", "statement-"+v.Day+".csv"
	}
	body, err := write()
	if err != nil {
		http.Error(w, "The statement cannot be written.", http.StatusInternalServerError)
		return
	}
	w.Header().Set("Content-Type", kind)
	w.Header().Set("Content-Disposition", `attachment; filename="`+name+`"`)
	w.Header().Set("X-Content-Type-Options", "nosniff")
	if _, err := w.Write(body); err != nil {
		slog.Warn("the simulated bank", "error", err)
	}
}

// minor reads an amount with a decimal point.
func minor(s string, c money.Currency) (money.Amount, bool) {
	digits, err := c.Digits()
	if err != nil {
		return 0, false
	}
	whole, part, _ := strings.Cut(strings.TrimPrefix(s, "-"), ".")
	if whole == "" || len(part) > digits || len(whole) > 12 {
		return 0, false
	}
	var n int64
	for _, r := range whole + part + strings.Repeat("0", digits-len(part)) {
		if r < '0' || r > '9' {
			return 0, false
		}
		n = n*10 + int64(r-'0')
	}
	if strings.HasPrefix(s, "-") {
		n = -n
	}
	return money.Amount(n), n != 0
}

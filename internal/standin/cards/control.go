package cards

import (
	"log/slog"
	"net/http"

	"ruvo/internal/core/ledger"
	"ruvo/internal/core/words"
)

// Control is the path of the page on which the service is told how to behave.
// It lies under the desk's, so that only those who signed in come to it.
const Control = "/desk/simulated-payments"

// A row is a choice as the page shows it.
type row struct {
	choice
	Now string
}

type panel struct {
	Rows  []row
	Kept  bool
	Moves []movement
}

// ControlPage serves the page on which the service is told how to behave.
func (s *Service) ControlPage() http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		head(w)
		switch r.Method {
		case http.MethodGet, http.MethodHead:
			s.panel(w, r)
		case http.MethodPost:
			s.told(w, r)
		default:
			http.Error(w, "Only GET and POST.", http.StatusMethodNotAllowed)
		}
	})
}

func (s *Service) panel(w http.ResponseWriter, r *http.Request) {
	b, err := s.Behaves(r.Context())
	var moves []movement
	if err == nil {
		err = s.db.WithContext(r.Context()).Order("created_at DESC, attempt").Limit(20).Find(&moves).Error
	}
	if err != nil {
		lost(w, err)
		return
	}
	v := panel{Kept: r.URL.Query().Has("kept"), Moves: moves}
	for _, c := range choices {
		v.Rows = append(v.Rows, row{c, *c.at(&b)})
	}
	draw(w, http.StatusOK, "control.html", v)
}

func (s *Service) told(w http.ResponseWriter, r *http.Request) {
	r.Body = http.MaxBytesReader(w, r.Body, largestNotice)
	if err := r.ParseForm(); err != nil {
		http.Error(w, "The form cannot be read.", http.StatusBadRequest)
		return
	}
	var b Behaviour
	for _, c := range choices {
		*c.at(&b) = r.PostForm.Get(c.Name)
	}
	if err := s.Behave(r.Context(), b); err != nil {
		slog.Warn("the simulated payment service", "error", err)
		http.Error(w, "That is none of the choices.", http.StatusUnprocessableEntity)
		return
	}
	http.Redirect(w, r, Control+"?kept", http.StatusSeeOther)
}

// Money gives a movement's amount as people read it.
func (m movement) Money() string { return words.English.Money(m.Amount, m.Currency) }

// Said gives what became of a movement.
func (m movement) Said() string {
	if m.Reason != "" {
		return string(m.State) + ": " + m.Reason
	}
	if m.State == ledger.Confirm {
		return "waits for the customer"
	}
	return string(m.State)
}

// Package cards holds the simulated payment service that ships with Ruvo: it
// takes cards on a page of its own, keeps its own books, sends signed notices,
// and can be told to behave as badly as real ones do at times. Only the
// commands, the demo and tests know it; all else knows port.Payments.
package cards

import (
	"context"
	"crypto/rand"
	"encoding/hex"
	"encoding/json"
	"errors"
	"net/http"
	"time"

	"github.com/shopspring/decimal"
	"gorm.io/gorm"

	"ruvo/internal/core/ledger"
	"ruvo/internal/core/money"
	"ruvo/internal/port"
)

// The numbers that the service knows. They begin with 9, which ISO/IEC 7812
// leaves to national bodies, so no card of a network has them; the last digit
// is the check digit of ISO/IEC 7812-1, annex B.
const (
	Works    = "9900000000000002"
	Declined = "9900000000000101"
	Confirms = "9900000000000200"
)

// What the service keeps of each payment for itself: 1.4 per cent and 25 minor
// units.
var (
	feePercent = decimal.RequireFromString("1.4")
	feeEach    = money.Amount(25)
)

// A Service is the simulated payment service.
type Service struct {
	db  *gorm.DB
	now func() time.Time

	// Notices is the address that notices are sent to; none are sent while it is
	// empty.
	Notices string
	// Base is the path under which its pages lie; empty for the root.
	Base string
	// Client sends them.
	Client *http.Client

	secret []byte
}

var _ port.Payments = (*Service)(nil)

// Open opens the service whose books lie in a data folder.
func Open(folder string, now func() time.Time) (*Service, error) {
	db, err := open(folder)
	if err != nil {
		return nil, err
	}
	s := &Service{db: db, now: now, Client: &http.Client{Timeout: 5 * time.Second}}
	var kept setting
	err = s.write(context.Background(), func(tx *gorm.DB) error {
		if err := tx.Limit(1).Find(&kept).Error; err != nil || kept.ID != 0 {
			return err
		}
		kept = setting{ID: 1, Secret: random(), Behaviour: "{}"}
		return tx.Create(&kept).Error
	})
	if err == nil {
		s.secret, err = hex.DecodeString(kept.Secret)
	}
	if err != nil {
		return nil, errors.Join(err, s.Close())
	}
	return s, nil
}

// Close closes its books.
func (s *Service) Close() error { return closed(s.db) }

func random() string {
	bits := make([]byte, 16)
	rand.Read(bits)
	return hex.EncodeToString(bits)
}

func (s *Service) write(ctx context.Context, do func(*gorm.DB) error) error {
	return s.db.WithContext(ctx).Transaction(do)
}

// ErrSilent is returned for a request that the service was told not to answer.
var ErrSilent = errors.New("the simulated payment service is told not to answer")

// answering runs a request to the service, unless it was told to be silent.
// Before says that it is silent before doing what it was asked for.
func (s *Service) answering(ctx context.Context, do func(*gorm.DB, Behaviour) (movement, error)) (port.Receipt, error) {
	var m movement
	silent := ""
	err := s.write(ctx, func(tx *gorm.DB) error {
		b, err := behaviour(tx)
		if err != nil {
			return err
		}
		if silent = b.Silent; silent == SilentBefore {
			return ErrSilent
		}
		m, err = do(tx, b)
		return err
	})
	if err == nil && silent == SilentAfter {
		err = ErrSilent
	}
	if err != nil {
		return port.Receipt{}, err
	}
	return m.receipt(s.Base), nil
}

func (m *movement) receipt(base string) port.Receipt {
	r := port.Receipt{State: m.State, Reason: m.Reason, Fee: m.Fee}
	if m.State == ledger.Confirm {
		r.Page = base + Pages + "/" + m.Token
	}
	return r
}

// Start implements port.Payments.
func (s *Service) Start(ctx context.Context, w port.Wanted) (port.Receipt, error) {
	return s.answering(ctx, func(tx *gorm.DB, b Behaviour) (movement, error) {
		m, known, err := find(tx, "attempt = ?", w.Attempt)
		if err != nil || known {
			return m, err
		}
		m = movement{
			Attempt: w.Attempt, Token: random(), Amount: w.Amount, Held: w.Held, Currency: w.Currency, About: w.About, Back: w.Back, Language: w.Language,
			State: ledger.Confirm, CreatedAt: s.now().UTC(),
		}
		if err := tx.Create(&m).Error; err != nil {
			return m, err
		}
		return m, s.tell(tx, b, m)
	})
}

// Ask implements port.Payments.
func (s *Service) Ask(ctx context.Context, attempt string) (port.Receipt, error) {
	return s.answering(ctx, func(tx *gorm.DB, _ Behaviour) (movement, error) {
		m, known, err := find(tx, "attempt = ?", attempt)
		if err == nil && !known {
			err = port.ErrNoAttempt
		}
		return m, err
	})
}

// End implements port.Payments.
func (s *Service) End(ctx context.Context, attempt string) (port.Receipt, error) {
	return s.answering(ctx, func(tx *gorm.DB, b Behaviour) (movement, error) {
		m, known, err := find(tx, "attempt = ?", attempt)
		switch {
		case err != nil || known && !m.State.Waiting():
			return m, err
		case !known:
			m = movement{Attempt: attempt, State: ledger.Refused, Reason: "ended", CreatedAt: s.now().UTC()}
			return m, tx.Create(&m).Error
		}
		return m, s.settle(tx, b, &m, ledger.Refused, "ended")
	})
}

// Return implements port.Payments.
func (s *Service) Return(ctx context.Context, g port.Giving) (port.Receipt, error) {
	return s.giveBack(ctx, g, 0)
}

// Release implements port.Payments.
func (s *Service) Release(ctx context.Context, g port.Giving) (port.Receipt, error) {
	return s.giveBack(ctx, g, g.Amount)
}

// giveBack gives back of what was paid, or of what is held, never more than
// there is.
func (s *Service) giveBack(ctx context.Context, g port.Giving, held money.Amount) (port.Receipt, error) {
	return s.answering(ctx, func(tx *gorm.DB, b Behaviour) (movement, error) {
		m, known, err := find(tx, "attempt = ?", g.Attempt)
		if err != nil || known {
			return m, err
		}
		m = movement{Attempt: g.Attempt, Of: g.Of, Amount: -g.Amount, Held: -held, Currency: g.Currency, State: ledger.Asked, CreatedAt: s.now().UTC()}
		left, err := leftOf(tx, g.Of, held > 0)
		if err != nil {
			return m, err
		}
		state, reason := ledger.Settled, ""
		switch {
		case g.Amount <= 0 || g.Amount > left:
			state, reason = ledger.Refused, "more_than_paid"
		case b.Returns == ReturnsRefused:
			state, reason = ledger.Refused, "declined"
		case b.Returns == ReturnsLater:
			return m, tx.Create(&m).Error
		}
		if err := tx.Create(&m).Error; err != nil {
			return m, err
		}
		return m, s.settle(tx, b, &m, state, reason)
	})
}

// leftOf gives what of a payment was not given back yet: of what was paid, or
// of what is held. What was asked for before payments were named gave back
// something of none.
func leftOf(tx *gorm.DB, attempt string, held bool) (money.Amount, error) {
	m, known, err := find(tx, "attempt = ?", attempt)
	if err != nil || !known || m.State != ledger.Settled {
		return 0, err
	}
	var gone struct{ Paid, Held money.Amount }
	err = tx.Raw("SELECT COALESCE(SUM(amount - held), 0) AS paid, COALESCE(SUM(held), 0) AS held FROM movements WHERE of = ? AND state <> ?", attempt, ledger.Refused).Scan(&gone).Error
	switch {
	case m.Currency == "": // it was adopted, and is not known by its parts
		return m.Amount + gone.Paid + gone.Held, err
	case held:
		return m.Held + gone.Held, err
	}
	return m.Amount - m.Held + gone.Paid, err
}

// settle ends a movement one way or the other, and tells of it.
func (s *Service) settle(tx *gorm.DB, b Behaviour, m *movement, state ledger.State, reason string) error {
	m.State, m.Reason, m.Doubtful = state, reason, false
	if state == ledger.Settled {
		now := s.now().UTC()
		m.MovedAt = &now
		if paid := m.Amount - m.Held; paid > 0 {
			m.Fee = min(money.HalfUp.Percent(paid, feePercent)+feeEach, paid)
		}
	}
	if err := tx.Save(m).Error; err != nil {
		return err
	}
	return s.tell(tx, b, *m)
}

// Late settles what it was told to give back later.
func (s *Service) Late(ctx context.Context) error {
	return s.write(ctx, func(tx *gorm.DB) error {
		b, err := behaviour(tx)
		if err != nil || b.Returns == ReturnsLater {
			return err
		}
		var waiting []movement
		if err := tx.Where("state = ?", ledger.Asked).Find(&waiting).Error; err != nil {
			return err
		}
		for i := range waiting {
			if err := s.settle(tx, b, &waiting[i], ledger.Settled, ""); err != nil {
				return err
			}
		}
		return nil
	})
}

// Moved implements port.Payments.
func (s *Service) Moved(ctx context.Context) ([]port.Moved, error) {
	var rows []movement
	if err := s.db.WithContext(ctx).Where("state = ?", ledger.Settled).Order("moved_at, attempt").Find(&rows).Error; err != nil {
		return nil, err
	}
	list := make([]port.Moved, len(rows))
	for i, m := range rows {
		list[i] = port.Moved{Attempt: m.Attempt, Amount: m.Amount, Fee: m.Fee, Currency: m.Currency, At: *m.MovedAt}
	}
	return list, nil
}

func behaviour(tx *gorm.DB) (Behaviour, error) {
	var kept setting
	if err := tx.Limit(1).Find(&kept).Error; err != nil {
		return Behaviour{}, err
	}
	var b Behaviour
	err := json.Unmarshal([]byte(kept.Behaviour), &b)
	return b, err
}

// Behaves gives how the service behaves.
func (s *Service) Behaves(ctx context.Context) (Behaviour, error) {
	return behaviour(s.db.WithContext(ctx))
}

// Behave tells the service how to behave from now on.
func (s *Service) Behave(ctx context.Context, b Behaviour) error {
	if err := b.Validate(); err != nil {
		return err
	}
	raw, err := json.Marshal(b)
	if err != nil {
		return err
	}
	return s.db.WithContext(ctx).Model(&setting{}).Where("id = 1").Update("behaviour", string(raw)).Error
}

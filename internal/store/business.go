package store

import (
	"cmp"
	"database/sql"
	"sync"
	"time"

	"gorm.io/gorm/clause"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/money"
	"ruvo/internal/core/product"
)

// A Business is the one seller that a database belongs to.
type Business struct {
	ID       int64
	Name     string
	Tagline  string
	Language string             // of mails and slips when the customer's is not known
	Zone     string             // IANA time zone
	Country  string             // whose public holidays are kept; empty for none
	Week     calendar.Week      `gorm:"serializer:json"`
	Closures []calendar.Closure `gorm:"serializer:json"`
	Address  string             // where the shop is reached, for links in mails

	// How the business computes. Editions take it over when they are published,
	// and orders when they are prepared.
	Currency money.Currency
	Rounding money.Rounding
	TaxAdded bool         `json:"tax_added"` // prices are without tax
	ShowZero bool         `json:"show_zero"` // slips keep lines at zero
	Few      int          // from how many pieces on what is left is shown
	Terms    charge.Terms `gorm:"serializer:json"`
}

// Computes gives a draft the business's ways of computing. The currency that its
// amounts are in stays: another one would make other prices of them.
func (b *Business) Computes(d product.Draft) product.Draft {
	d.Currency = cmp.Or(d.Currency, b.Currency)
	d.Rounding, d.TaxAdded, d.ShowZero = b.Rounding, b.TaxAdded, b.ShowZero
	return d
}

// Hours gives the business's working hours.
func (b *Business) Hours() *calendar.Hours {
	return &calendar.Hours{Week: b.Week, Closures: b.Closures, Holidays: calendar.HolidaysOf(b.Country), Zone: b.Location()}
}

// zones keeps the time zones that were read from the system's database.
var zones sync.Map

// Location gives the time zone; UTC when the name is not known, which saving
// refuses.
func (b *Business) Location() *time.Location {
	if zone, ok := zones.Load(b.Zone); ok {
		return zone.(*time.Location)
	}
	zone, err := time.LoadLocation(b.Zone)
	if err != nil {
		return time.UTC
	}
	zones.Store(b.Zone, zone)
	return zone
}

// Business gives the business; ErrNotFound before it is set up.
func (tx *Tx) Business() (Business, error) { return first[Business](tx, "id = 1") }

// SaveBusiness keeps the business's settings.
func (tx *Tx) SaveBusiness(b Business) error {
	if _, err := time.LoadLocation(b.Zone); err != nil {
		return err
	}
	if b.Currency == "" {
		b.Currency = "EUR"
	}
	b.ID = 1
	tx.catalogue = true
	return tx.db.Clauses(clause.OnConflict{UpdateAll: true}).Create(&b).Error
}

// A User is a person who works at the desk.
type User struct {
	ID        int64
	Email     string
	Name      string
	Password  string // argon2id, encoded
	CreatedAt time.Time
}

// UserByEmail finds a person by their mail address in lower case.
func (tx *Tx) UserByEmail(email string) (User, error) { return first[User](tx, "email = ?", email) }

// UserByID finds a person.
func (tx *Tx) UserByID(id int64) (User, error) { return first[User](tx, "id = ?", id) }

// AddUser adds a person.
func (tx *Tx) AddUser(u *User) error { return tx.db.Create(u).Error }

// Sessions gives the database that the session library keeps its table in: a
// connection of its own, so that nobody's session waits for a use case that
// writes.
func (s *Store) Sessions() (*sql.DB, error) { return s.sessions.DB() }

// A Way is how a message goes out.
type Way string

const (
	ByMail Way = "mail" // a mail
	ByText Way = "text" // a text message to a phone
)

// A Message is written together with what it tells of, and sent afterwards.
type Message struct {
	ID        int64
	Key       string // makes writing the same message twice harmless
	Way       Way
	Recipient string // a mail address, or a phone number in E.164
	Subject   string // of a mail
	Body      string
	CreatedAt time.Time
	SentAt    *time.Time
	Tries     int        // that failed
	NextAt    *time.Time // of the next try; nil for at once
	Failure   string     // of the last try that failed
}

// TableName is the outbox.
func (Message) TableName() string { return "outbox" }

// WriteMessage puts a message into the outbox, once for each key.
func (tx *Tx) WriteMessage(m Message) error {
	return tx.db.Clauses(clause.OnConflict{DoNothing: true}).Create(&m).Error
}

// MessagesToSend gives messages that still have to go out and may be tried now, the
// oldest first.
func (tx *Tx) MessagesToSend(now time.Time, most int) ([]Message, error) {
	var m []Message
	err := tx.db.Where("sent_at IS NULL AND (next_at IS NULL OR next_at <= ?)", now.UTC()).Order("id").Limit(most).Find(&m).Error
	return m, err
}

// MessageSent notes that a message went out.
func (tx *Tx) MessageSent(id int64, at time.Time) error {
	return tx.db.Model(&Message{}).Where("id = ?", id).Updates(map[string]any{"sent_at": at.UTC(), "failure": ""}).Error
}

// MessageFailed notes that a message did not go out, why, and when to try again.
func (tx *Tx) MessageFailed(id int64, next time.Time, why string) error {
	return tx.db.Exec("UPDATE outbox SET tries = tries + 1, next_at = ?, failure = ? WHERE id = ?", next.UTC(), why, id).Error
}

// LatestMessages gives the newest messages.
func (tx *Tx) LatestMessages(most int) ([]Message, error) {
	var m []Message
	err := tx.db.Order("id DESC").Limit(most).Find(&m).Error
	return m, err
}

// OfficeWeek is where a new business starts: Monday to Friday, nine to five
// with a break.
func OfficeWeek() calendar.Week {
	var week calendar.Week
	for day := time.Monday; day <= time.Friday; day++ {
		week[day] = []calendar.Span{{From: 9 * 60, To: 12*60 + 30}, {From: 13*60 + 30, To: 17 * 60}}
	}
	return week
}

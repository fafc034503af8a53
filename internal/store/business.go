package store

import (
	"cmp"
	"slices"
	"sync"
	"time"

	"gorm.io/gorm/clause"

	"ruvo/internal/core/booking"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/ledger"
	"ruvo/internal/core/money"
	"ruvo/internal/core/order"
	"ruvo/internal/core/product"
	"ruvo/internal/core/schedule"
	"ruvo/internal/core/transfer"
)

// A Business is the one seller that a database belongs to.
type Business struct {
	ID       int64
	Name     string
	Tagline  string
	Language string             // of mails and slips when the customer's is not known
	Zone     string             // IANA time zone
	Country  string             // whose public holidays are kept; empty for none
	Region   string             // ISO 3166-2, whose holidays are kept beside those of the country; empty for none
	Open     []string           `gorm:"serializer:json;column:open_holidays"` // holidays that are worked on, by name
	Week     calendar.Week      `gorm:"serializer:json"`
	Closures []calendar.Closure `gorm:"serializer:json"`
	Address  string             // where the shop is reached, for links in mails

	Contact string // mail address that customers read
	Postal  string // address that customers read, several lines
	Version int    // counts the changes of its settings

	// Resources are the people, rooms and things that bookings take.
	Resources []booking.Resource `gorm:"serializer:json"`
	// LastResource is the highest number that a resource ever had: none has it again.
	LastResource booking.ResourceID `json:"last_resource"`

	// How the business computes. Editions take it over when they are published,
	// and orders when they are prepared.
	Currency money.Currency
	Rounding money.Rounding
	TaxAdded bool         `json:"tax_added"` // prices are without tax
	ShowZero bool         `json:"show_zero"` // slips keep lines at zero
	Few      int          // from how many pieces on what is left is shown
	Terms    charge.Terms `gorm:"serializer:json"`
	// Further are the currencies in which it sells besides its own.
	Further []Further `gorm:"serializer:json"`
	// Account is where customers transfer money to.
	Account transfer.Account `gorm:"serializer:json" json:"account"`
	// Ways are the ways in which customers pay; none for all that are possible.
	Ways []ledger.Way `gorm:"serializer:json" json:"ways"`
	// LinkDays is for how many days a private link to an order works; 0 for as
	// long as nobody ends it.
	LinkDays int `json:"link_days"`
	// Work is how it promises, where a product says nothing else.
	Work schedule.Terms `gorm:"serializer:json" json:"work"`
	// Checkout is how the checkout is laid out.
	Checkout order.Arrangement `gorm:"serializer:json" json:"checkout"`
}

// Further is a currency in which a business sells besides its own, with what
// holds for orders in it: amounts are given, never converted.
type Further struct {
	Currency money.Currency `json:"currency"`
	Terms    charge.Terms   `json:"terms"`
}

// Sells says whether something can be sold in a currency.
func (b *Business) Sells(c money.Currency) bool {
	return c == b.Currency || slices.ContainsFunc(b.Further, func(f Further) bool { return f.Currency == c })
}

// Currencies lists those that the business sells in, its own first.
func (b *Business) Currencies() []money.Currency {
	list := []money.Currency{b.Currency}
	for _, f := range b.Further {
		list = append(list, f.Currency)
	}
	return list
}

// TermsIn gives the terms of orders in a currency that it sells in.
func (b *Business) TermsIn(c money.Currency) charge.Terms {
	for _, f := range b.Further {
		if f.Currency == c {
			return f.Terms
		}
	}
	return b.Terms
}

// Computes gives a draft the business's ways of computing. The currency that its
// amounts are in stays: another one would make other prices of them.
func (b *Business) Computes(d product.Draft) product.Draft {
	d.Currency = cmp.Or(d.Currency, b.Currency)
	d.Rules = charge.RulesNow
	d.Rounding, d.TaxAdded, d.ShowZero = b.Rounding, b.TaxAdded, b.ShowZero
	return d
}

// LinksFrom gives when the oldest private link was made that still works; the
// zero time when they do not end by themselves.
func (b *Business) LinksFrom(now time.Time) time.Time {
	if b.LinkDays == 0 {
		return time.Time{}
	}
	return now.Add(-time.Duration(b.LinkDays) * 24 * time.Hour)
}

// Hours gives the business's working hours.
func (b *Business) Hours() *calendar.Hours {
	return &calendar.Hours{Week: b.Week, Closures: b.Closures, Holidays: calendar.HolidaysIn(b.Country, b.Region, b.Open), Zone: b.Location()}
}

// Person says whether a resource is a person.
func (b *Business) Person(id booking.ResourceID) bool {
	return slices.ContainsFunc(b.Resources, func(r booking.Resource) bool { return r.ID == id && r.Person })
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
func (tx *Tx) Business() (Business, error) {
	switch {
	case tx.business != nil && !tx.catalogue:
		return *tx.business, nil
	case tx.known != nil && !tx.catalogue:
		return tx.known.Business, nil
	}
	b, err := first[Business](tx, "id = 1")
	if err == nil {
		tx.business = &b
	}
	return b, err
}

// SaveBusiness keeps the business's settings.
func (tx *Tx) SaveBusiness(b Business) error {
	if _, err := time.LoadLocation(b.Zone); err != nil {
		return err
	}
	if b.Currency == "" {
		b.Currency = "EUR"
	}
	b.ID = 1
	tx.catalogue, tx.peopled = true, true
	return tx.db.Clauses(clause.OnConflict{UpdateAll: true}).Create(&b).Error
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

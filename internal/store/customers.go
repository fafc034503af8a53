package store

import (
	"cmp"
	"strings"
	"time"

	"ruvo/internal/core/money"
	"ruvo/internal/core/order"
)

// A Customer is what only the seller knows of a person, known by their mail address in
// lower case: whoever ordered is one without a row here.
type Customer struct {
	Email     string `gorm:"primaryKey"`
	Name      string // of one that never ordered
	Note      string
	Facts     []CustomerFact `gorm:"serializer:json"`
	UpdatedAt time.Time
}

// A CustomerFact is a thing that only the seller sees.
type CustomerFact struct {
	Name  string `json:"name"`
	Value string `json:"value"`
}

// A CustomerAlias is a further address of a person.
type CustomerAlias struct {
	Email string `gorm:"primaryKey"`
	Main  string
}

// A CustomerFilter narrows the list of customers.
type CustomerFilter struct {
	Text string // part of a name or an address
	News bool   // only those to whom news may be written
	Sort string // "name", "orders", "spent"; what was ordered last, first, without it
	Skip int
	Most int
}

// A ListedCustomer is a row of the list of customers.
type ListedCustomer struct {
	Email     string
	Name      string
	Orders    int
	Spent     money.Amount // of placed orders, in the business's currency
	OrderedAt *time.Time   // the last of them
	PlacedAt  *time.Time
	News      bool // may be written to one of their addresses
}

// Last gives when a customer ordered last; nil for never.
func (c *ListedCustomer) Last() *time.Time { return cmp.Or(c.OrderedAt, c.PlacedAt) }

var bought = []order.State{order.Awaiting, order.Placed, order.Cancelled}

// ListCustomers lists those who ordered, under their main addresses, and those who are
// only noted or only said something about news.
func (tx *Tx) ListCustomers(f CustomerFilter) ([]ListedCustomer, error) {
	by := map[string]string{"name": "c.name COLLATE NOCASE, c.email", "orders": "c.orders DESC, c.email", "spent": "c.spent DESC, c.email"}[f.Sort]
	if by == "" {
		by = "c.newest DESC, c.email"
	}
	where, args := " WHERE true", []any{}
	if f.Text != "" {
		part := containing(f.Text)
		where += ` AND (c.name LIKE ? ESCAPE '\' OR c.email LIKE ? ESCAPE '\')`
		args = append(args, part, part)
	}
	if f.News {
		where += " AND c.news"
	}
	args = append(args, f.Most, f.Skip)
	var rows []ListedCustomer
	err := tx.db.Raw(`SELECT c.email, c.name, c.orders, c.spent, c.news, o.ordered_at, o.placed_at FROM customer_sums c LEFT JOIN orders o ON o.id = c.newest`+
		where+` ORDER BY `+by+` LIMIT ? OFFSET ?`, args...).Scan(&rows).Error
	return rows, err
}

// CustomersAgree says whether what is kept as sums of customers is what their orders come
// to.
func (tx *Tx) CustomersAgree() (bool, error) {
	const kept, known = "SELECT email, name, orders, spent, newest, news FROM customer_sums", "SELECT email, name, orders, spent, newest, news FROM customers_known"
	return tx.agree(kept, known)
}

// MailsOf gives all addresses of a person, the main one first.
func (tx *Tx) MailsOf(email string) ([]string, error) {
	main, err := tx.MainMail(email)
	if err != nil {
		return nil, err
	}
	all := []string{main}
	aliases, err := list[CustomerAlias](tx, "email", "main = ?", main)
	for _, a := range aliases {
		all = append(all, a.Email)
	}
	return all, err
}

// MainMail gives the main address of a person.
func (tx *Tx) MainMail(email string) (string, error) {
	email = strings.ToLower(strings.TrimSpace(email))
	aliases, err := list[CustomerAlias](tx, "email", "email = ?", email)
	if err == nil && len(aliases) > 0 {
		email = aliases[0].Main
	}
	return email, err
}

// OrdersByMails lists the orders of all addresses of a person, the newest first.
func (tx *Tx) OrdersByMails(emails []string, most int) ([]Order, error) {
	var rows []Order
	err := tx.db.Where("lower(email) IN ? AND +state IN ?", emails, bought).Order("id DESC").Limit(most).Find(&rows).Error
	return rows, err
}

// Customer finds what is noted of a person; an empty one where nothing is.
func (tx *Tx) Customer(email string) (Customer, error) {
	rows, err := list[Customer](tx, "email", "email = ?", email)
	if err != nil || len(rows) == 0 {
		return Customer{Email: email}, err
	}
	return rows[0], nil
}

// SaveCustomer keeps what is noted of a person.
func (tx *Tx) SaveCustomer(c *Customer) error { return tx.db.Save(c).Error }

// Alias makes an address, with those that are its, a further one of a person.
func (tx *Tx) Alias(email, main string) error {
	if err := tx.db.Exec("UPDATE customer_aliases SET main = ? WHERE main = ?", main, email).Error; err != nil {
		return err
	}
	return tx.db.Save(&CustomerAlias{Email: email, Main: main}).Error
}

// DropAlias makes an address one of its own again.
func (tx *Tx) DropAlias(email string) error {
	return tx.db.Delete(&CustomerAlias{}, "email = ?", email).Error
}

// Doubles lists others who ordered under the same name, at most so many.
func (tx *Tx) Doubles(names, emails []string, most int) ([]ListedCustomer, error) {
	var rows []ListedCustomer
	err := tx.db.Raw("SELECT email, name, orders FROM customer_sums WHERE name COLLATE NOCASE IN ? AND email NOT IN ? AND orders > 0 ORDER BY email LIMIT ?", names, emails, most).Scan(&rows).Error
	return rows, err
}

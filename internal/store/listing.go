package store

import (
	"cmp"
	"slices"
	"strconv"
	"strings"
	"time"

	"ruvo/internal/core/money"
	"ruvo/internal/core/order"

	"gorm.io/gorm"
)

// A LineFilter narrows the list of order lines. Zero fields do not.
type LineFilter struct {
	Product int64
	Brief   order.Brief
	Work    string    // "open", "done", "handed" or "unhanded"
	Text    string    // part of a name, an address or a number
	New     bool      // nobody at the desk opened it yet
	Money   string    // "open" or "settled"
	From    time.Time // ordered from an instant on
	To      time.Time // ordered before an instant
	Mails   []string  // of a customer
	Answers string    // part of an answer
	Before  int64     // only smaller ids
	Skip    int       // so many before the first
	Most    int
	Sort    LineSort
	Turned  bool // the other way round
}

// LineSort is what order lines are listed by.
type LineSort string

const (
	ByNewest   LineSort = ""         // the newest first
	ByCustomer LineSort = "customer" // by the customer's name
	ByPromise  LineSort = "promised" // what is promised first, first; what nothing is promised of, last
)

// LineSorts lists them.
func LineSorts() []LineSort { return []LineSort{ByNewest, ByCustomer, ByPromise} }

// clause gives the order in SQL, in which nothing of a request stands; each has
// an index.
func (s LineSort) clause(turned bool) string {
	up, down := " ASC", " DESC"
	if turned {
		up, down = down, up
	}
	switch s {
	case ByCustomer:
		return "o.name" + up + ", o.id DESC"
	case ByPromise: // what is promised by no day yet comes after all days
		return "l.promised_at IS NULL" + up + ", l.promised_at" + up + ", l.id" + down
	}
	return "l.id" + down
}

// A ListedLine is a row of the list of orders.
type ListedLine struct {
	OrderLine
	Number    int64
	Name      string
	Email     string
	Currency  money.Currency
	PlacedAt  *time.Time
	OrderedAt *time.Time
	State     order.State
	Total     money.Amount
}

// Since gives when it was ordered.
func (l *ListedLine) Since() time.Time { return When(cmp.Or(l.OrderedAt, l.PlacedAt)) }

// ListLines lists the lines of orders that were placed, and of the one whose
// number is looked for, in whatever state.
func (tx *Tx) ListLines(f LineFilter) ([]ListedLine, error) {
	ids, err := tx.lineIDs(f)
	if err != nil {
		return nil, err
	}
	return tx.linesByID(ids)
}

// linesByID gives lines as they are listed, in the order of their ids.
func (tx *Tx) linesByID(ids []int64) ([]ListedLine, error) {
	var rows []ListedLine
	err := tx.db.Table("order_lines l").Select("l.*, o.number, o.name, o.email, o.currency, o.placed_at, o.ordered_at, o.state, o.total").
		Joins("JOIN orders o ON o.id = l.order_id").Where("l.id IN ?", ids).Scan(&rows).Error
	at := make(map[int64]int, len(ids))
	for i, id := range ids {
		at[id] = i
	}
	slices.SortFunc(rows, func(a, b ListedLine) int { return at[a.ID] - at[b.ID] })
	return rows, err
}

// lineIDs finds which lines are listed, in their order. It reads what it
// filters and sorts by and no more, as a far page passes over many.
func (tx *Tx) lineIDs(f LineFilter) ([]int64, error) {
	var q *gorm.DB
	number, err := strconv.ParseInt(f.Text, 10, 64)
	with, rare, lost := tx.ordersWith(f.Text)
	if lost != nil {
		return nil, lost
	}
	switch {
	case err == nil: // also one that is not placed yet
		q = tx.db.Table("order_lines l").Joins("JOIN orders o ON o.id = l.order_id")
	case f.Text != "" && rare:
		q = tx.db.Table("order_lines l").Joins("JOIN orders o ON o.id = l.order_id").Where("+l.placed = 1 AND l.order_id IN ?", with)
	case f.Sort == ByCustomer: // along the names: the plus keeps SQLite from an index on what nearly all are
		q = tx.db.Table("orders o").Joins("CROSS JOIN order_lines l ON l.order_id = o.id").Where("+l.placed = 1")
	case f.Text != "":
		q = tx.db.Table("order_lines l").Joins("JOIN orders o ON o.id = l.order_id").Where("l.placed = 1")
	case len(f.Mails) > 0 || f.Money == "open": // of few orders, which are found first
		q = tx.db.Table("order_lines l").Where("+l.placed = 1")
	default:
		q = tx.db.Table("order_lines l").Where("l.placed = 1")
	}
	if f.Product != 0 {
		q = q.Where("l.product_id = ?", f.Product)
	}
	if f.Brief != "" {
		q = q.Where("l.brief = ?", f.Brief)
	}
	switch f.Work {
	case "open":
		q = q.Where("l.open_items > 0")
	case "done":
		q = q.Where("l.open_items = 0")
	case "handed":
		q = q.Where("l.handed_at IS NOT NULL")
	case "unhanded":
		q = q.Where("l.handed_at IS NULL AND l.cancelled_at IS NULL")
	}
	q = f.further(q)
	if err == nil {
		q = q.Where("o.number = ?", number)
	} else if f.Text != "" && !rare {
		part := containing(f.Text)
		q = q.Where(`(o.name LIKE ? ESCAPE '\' OR o.email LIKE ? ESCAPE '\')`, part, part)
	}
	if f.Before > 0 {
		q = q.Where("l.id < ?", f.Before)
	}
	var ids []int64
	err = q.Order(f.Sort.clause(f.Turned)).Offset(f.Skip).Limit(f.Most).Pluck("l.id", &ids).Error
	return ids, err
}

// farAhead is later than anything that is ordered.
var farAhead = time.Date(9999, 1, 1, 0, 0, 0, 0, time.UTC)

// further narrows by what few ask for.
func (f *LineFilter) further(q *gorm.DB) *gorm.DB {
	if f.New {
		q = q.Where("l.seen_at IS NULL AND l.cancelled_at IS NULL")
	}
	switch f.Money {
	case "open":
		q = q.Where("l.order_id IN (SELECT order_id FROM open_orders)")
	case "settled":
		q = q.Where("NOT EXISTS (SELECT 1 FROM open_orders p WHERE p.order_id = l.order_id)")
	}
	if !f.From.IsZero() || !f.To.IsZero() {
		to := f.To
		if to.IsZero() {
			to = farAhead
		}
		q = q.Where("l.order_id IN (SELECT id FROM orders WHERE COALESCE(ordered_at, placed_at) >= ? AND COALESCE(ordered_at, placed_at) < ?)", f.From.UTC(), to.UTC())
	}
	if len(f.Mails) > 0 {
		q = q.Where("l.order_id IN (SELECT id FROM orders WHERE lower(email) IN ?)", f.Mails)
	}
	if f.Answers != "" {
		q = q.Where("l.id IN (SELECT line_id FROM line_words WHERE instr(words, ?) > 0)", strings.ToLower(f.Answers))
	}
	return q
}

// NewLines counts the order lines that nobody at the desk opened yet.
func (tx *Tx) NewLines() (int64, error) {
	var n int64
	err := tx.db.Raw("SELECT COUNT(*) FROM order_lines INDEXED BY order_lines_new WHERE placed AND seen_at IS NULL AND cancelled_at IS NULL").Scan(&n).Error
	return n, err
}

// SeeLine notes that somebody at the desk opened an order line.
func (tx *Tx) SeeLine(id int64, at time.Time) error {
	return tx.db.Exec("UPDATE order_lines SET seen_at = ? WHERE id = ? AND seen_at IS NULL", at.UTC(), id).Error
}

// mostWith is up to how many orders a text is rare. One that more have is soon
// found by looking through the lines in their order.
const mostWith = 2000

// ordersWith finds the orders that have a text in name or address, when they are
// few. It reads an index and no order.
func (tx *Tx) ordersWith(text string) (ids []int64, rare bool, err error) {
	if text == "" {
		return nil, false, nil
	}
	part := containing(text)
	err = tx.db.Raw(`SELECT id FROM orders INDEXED BY orders_text WHERE name LIKE ? ESCAPE '\' OR email LIKE ? ESCAPE '\' LIMIT ?`, part, part, mostWith+1).Scan(&ids).Error
	return ids, len(ids) <= mostWith, err
}

// OrdersOf finds the orders of lines by their ids.
func (tx *Tx) OrdersOf(ids []int64) (map[int64]Order, error) {
	rows, err := list[Order](tx, "id", "id IN ?", ids)
	m := make(map[int64]Order, len(rows))
	for _, o := range rows {
		m[o.ID] = o
	}
	return m, err
}

// containing gives the pattern of LIKE for texts that have a part in them.
func containing(part string) string {
	return "%" + strings.NewReplacer(`\`, `\\`, "%", `\%`, "_", `\_`).Replace(part) + "%"
}

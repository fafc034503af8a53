package store

import (
	"time"

	"github.com/shopspring/decimal"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/money"
	"ruvo/internal/core/order"
	"ruvo/internal/core/voucher"
)

// A Voucher is a code that was sold and pays here. What is left of it follows
// from its entries.
type Voucher struct {
	ID        int64
	Code      string
	LineID    int64 // that it was sold with
	OrderID   int64
	Currency  money.Currency
	Worth     money.Amount // when it was sold
	Percent   string       // at which its sale was taxed; empty when its use is
	Until     string       // its last day; empty for none
	Blocked   bool
	Note      string // why it is blocked
	CreatedAt time.Time
}

// State gives what it is worth, when so much is left and so much of that is held.
func (v *Voucher) State(rest, held money.Amount) voucher.State {
	until, _ := calendar.ParseDay(v.Until)
	return voucher.State{Currency: v.Currency, Rest: rest, Held: held, Until: until, Blocked: v.Blocked}
}

// Purse gives it as an order is paid with it, when so much is left.
func (v *Voucher) Purse(rest money.Amount) charge.Purse {
	p := charge.Purse{Code: v.Code, Worth: v.Worth, Rest: rest}
	if percent, err := decimal.NewFromString(v.Percent); err == nil {
		p.Percent = &percent
	}
	return p
}

// A VoucherEntry is one thing that happened with a voucher's worth. Triggers
// refuse to change or drop one.
type VoucherEntry struct {
	ID        int64
	VoucherID int64
	OrderID   int64 // by which it was sold, or that it pays
	Kind      voucher.Kind
	Amount    money.Amount
	At        time.Time
	Author    string // empty for customers and the application itself
}

// A VoucherHold is what an order is about to pay with a voucher.
type VoucherHold struct {
	VoucherID int64 `gorm:"primaryKey"`
	OrderID   int64 `gorm:"primaryKey"`
	Amount    money.Amount
	HeldUntil *time.Time
}

// VoucherByCode finds a voucher by its code.
func (tx *Tx) VoucherByCode(code string) (Voucher, error) {
	return first[Voucher](tx, "code = ?", code)
}

// VoucherByID finds a voucher.
func (tx *Tx) VoucherByID(id int64) (Voucher, error) { return first[Voucher](tx, "id = ?", id) }

// VouchersOf lists the vouchers that were sold with an order line.
func (tx *Tx) VouchersOf(line int64) ([]Voucher, error) {
	return list[Voucher](tx, "id", "line_id = ?", line)
}

// AddVoucher keeps a voucher that was sold, with its first entry.
func (tx *Tx) AddVoucher(v *Voucher) error {
	if err := tx.db.Create(v).Error; err != nil {
		return err
	}
	return tx.AddVoucherEntry(VoucherEntry{VoucherID: v.ID, OrderID: v.OrderID, Kind: voucher.Issued, Amount: v.Worth, At: v.CreatedAt})
}

// BlockVoucher says whether a voucher pays, and why it does not.
func (tx *Tx) BlockVoucher(id int64, blocked bool, note string) error {
	return tx.db.Exec("UPDATE vouchers SET blocked = ?, note = ? WHERE id = ?", blocked, note, id).Error
}

// AddVoucherEntry adds to what happened with a voucher.
func (tx *Tx) AddVoucherEntry(e VoucherEntry) error {
	e.At = e.At.UTC()
	return tx.db.Create(&e).Error
}

// VoucherEntries lists what happened with a voucher, the oldest first.
func (tx *Tx) VoucherEntries(id int64) ([]VoucherEntry, error) {
	return list[VoucherEntry](tx, "id", "voucher_id = ?", id)
}

// VoucherEntriesOf lists what an order did with vouchers, the oldest first.
func (tx *Tx) VoucherEntriesOf(order int64) ([]VoucherEntry, error) {
	return list[VoucherEntry](tx, "id", "order_id = ?", order)
}

// VoucherRests gives what is left of several vouchers.
func (tx *Tx) VoucherRests(ids ...int64) (map[int64]money.Amount, error) {
	var rows []struct {
		VoucherID int64
		Kind      voucher.Kind
		Amount    money.Amount
	}
	err := tx.db.Raw("SELECT voucher_id, kind, SUM(amount) AS amount FROM voucher_entries WHERE voucher_id IN ? GROUP BY voucher_id, kind", ids).Scan(&rows).Error
	rests := make(map[int64]money.Amount, len(ids))
	for _, r := range rows {
		rests[r.VoucherID] += voucher.Rest(map[voucher.Kind]money.Amount{r.Kind: r.Amount})
	}
	return rests, err
}

// VoucherState gives what a voucher is worth by now to an order: what others hold
// of it is not theirs.
func (tx *Tx) VoucherState(v *Voucher, now time.Time, except int64) (voucher.State, error) {
	rests, err := tx.VoucherRests(v.ID)
	if err != nil {
		return voucher.State{}, err
	}
	var held money.Amount
	err = tx.db.Raw(`SELECT COALESCE(SUM(h.amount), 0) FROM voucher_holds h JOIN orders o ON o.id = h.order_id
		WHERE h.voucher_id = ? AND h.order_id <> ? AND (h.held_until > ? AND h.held_until < ? OR o.state IN ?)`, v.ID, except, now.UTC(), now.Add(longestHold).UTC(), order.Holding()).Scan(&held).Error
	return v.State(rests[v.ID], held), err
}

// HoldVouchers has an order hold what it is about to pay with vouchers, in place
// of what it held before.
func (tx *Tx) HoldVouchers(order int64, holds []VoucherHold) error {
	if err := tx.ReleaseVouchers(order); err != nil || len(holds) == 0 {
		return err
	}
	return tx.db.Create(&holds).Error
}

// VoucherHolds lists what an order holds of vouchers.
func (tx *Tx) VoucherHolds(order int64) ([]VoucherHold, error) {
	return list[VoucherHold](tx, "voucher_id", "order_id = ?", order)
}

// ReleaseVouchers gives free what an order holds of vouchers.
func (tx *Tx) ReleaseVouchers(order int64) error {
	return tx.db.Exec("DELETE FROM voucher_holds WHERE order_id = ?", order).Error
}

// A VoucherRow is a voucher with what became of it, as the desk lists it.
type VoucherRow struct {
	Voucher `gorm:"embedded"`
	Rest    money.Amount
	Number  int64  // of the order that it was sold with
	Name    string // of who bought it
}

// Vouchers lists vouchers, the newest first, from one on. Text looks for codes,
// order numbers and buyers; left says that something is left of them.
func (tx *Tx) Vouchers(text string, left bool, before int64, most int) ([]VoucherRow, error) {
	const rest = `(SELECT COALESCE(SUM(CASE WHEN e.kind IN ('issued', 'returned') THEN e.amount ELSE -e.amount END), 0) FROM voucher_entries e WHERE e.voucher_id = v.id)`
	q := tx.db.Table("vouchers v").Select("v.*, " + rest + " AS rest, o.number, o.name").Joins("JOIN orders o ON o.id = v.order_id")
	if text != "" {
		like := containing(text)
		q = q.Where(`(v.code LIKE ? ESCAPE '\' OR o.name LIKE ? ESCAPE '\' OR o.email LIKE ? ESCAPE '\' OR CAST(o.number AS TEXT) = ?)`, containing(voucher.Plain(text)), like, like, text)
	}
	if left {
		q = q.Where(rest + " > 0")
	}
	if before > 0 {
		q = q.Where("v.id < ?", before)
	}
	var rows []VoucherRow
	err := q.Order("v.id DESC").Limit(most).Find(&rows).Error
	return rows, err
}

// A VoucherSum is what is left of all vouchers in one currency.
type VoucherSum struct {
	Currency money.Currency
	Rest     money.Amount
	N        int
}

// VoucherSums adds up what is left of all vouchers.
func (tx *Tx) VoucherSums() ([]VoucherSum, error) {
	var sums []VoucherSum
	err := tx.db.Raw(`SELECT currency, SUM(rest) AS rest, SUM(rest > 0) AS n FROM
		(SELECT v.currency, SUM(CASE WHEN e.kind IN ('issued', 'returned') THEN e.amount ELSE -e.amount END) AS rest
			FROM vouchers v JOIN voucher_entries e ON e.voucher_id = v.id GROUP BY v.id)
		GROUP BY currency ORDER BY currency`).Scan(&sums).Error
	return sums, err
}

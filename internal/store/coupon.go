package store

import (
	"time"

	"ruvo/internal/core/charge"
	"ruvo/internal/core/money"
	"ruvo/internal/core/order"
)

// A Coupon is a rule with how often it can be used.
type Coupon struct {
	ID        int64
	Code      string
	Rule      charge.Coupon `gorm:"serializer:json"`
	MostUses  int           // in all; 0 is no limit
	MostEach  int           // by one mail address; 0 is no limit
	Off       bool
	Batch     string // those made at once have the same
	CreatedAt time.Time
}

// Limit gives how often it can be used.
func (c *Coupon) Limit() order.Limit { return order.Limit{All: c.MostUses, Each: c.MostEach} }

// A CouponUse is a coupon used by an order, or held for its checkout.
type CouponUse struct {
	ID        int64
	CouponID  int64
	OrderID   int64
	Email     string
	Taken     bool // for good, now that its order is placed
	HeldUntil *time.Time
}

// Coupons lists all coupons, the newest first.
func (tx *Tx) Coupons() ([]Coupon, error) { return list[Coupon](tx, "id DESC", "true") }

// CouponByCode finds a coupon by its code.
func (tx *Tx) CouponByCode(code string) (Coupon, error) { return first[Coupon](tx, "code = ?", code) }

// CouponByID finds a coupon.
func (tx *Tx) CouponByID(id int64) (Coupon, error) { return first[Coupon](tx, "id = ?", id) }

// SaveCoupon adds or updates a coupon.
func (tx *Tx) SaveCoupon(c *Coupon) error { return tx.db.Save(c).Error }

// CouponUses counts how often a coupon is used or held, in all and by a mail
// address, leaving out one order.
func (tx *Tx) CouponUses(coupon int64, email string, now time.Time, except int64) (order.Uses, error) {
	var n order.Uses
	err := tx.db.Raw(`SELECT COUNT(*) AS "all", COUNT(CASE WHEN u.email = ? THEN 1 END) AS each FROM coupon_uses u JOIN orders o ON o.id = u.order_id
		WHERE u.coupon_id = ? AND u.order_id <> ? AND (u.taken OR u.held_until > ? AND u.held_until < ? OR o.state IN ?)`, email, coupon, except, now.UTC(), now.Add(longestHold).UTC(), order.Holding()).Scan(&n).Error
	return n, err
}

// HoldCoupons makes an order use coupons for the time of its checkout, in
// place of those that it used before.
func (tx *Tx) HoldCoupons(id int64, email string, coupons []int64, until time.Time) error {
	if err := tx.ReleaseCoupons(id); err != nil || len(coupons) == 0 {
		return err
	}
	until = until.UTC()
	uses := make([]CouponUse, len(coupons))
	for i, c := range coupons {
		uses[i] = CouponUse{CouponID: c, OrderID: id, Email: email, HeldUntil: &until}
	}
	return tx.db.Create(&uses).Error
}

// TakeCoupons notes that an order which uses coupons is placed.
func (tx *Tx) TakeCoupons(order int64) error {
	return tx.db.Exec("UPDATE coupon_uses SET taken = TRUE, held_until = NULL WHERE order_id = ?", order).Error
}

// CouponsTaken counts the uses of coupons that an order took for good.
func (tx *Tx) CouponsTaken(order int64) (int, error) {
	var n int64
	err := tx.db.Model(&CouponUse{}).Where("order_id = ? AND taken", order).Count(&n).Error
	return int(n), err
}

// ReleaseCoupons gives back the uses of an order.
func (tx *Tx) ReleaseCoupons(order int64) error {
	return tx.db.Exec("DELETE FROM coupon_uses WHERE order_id = ?", order).Error
}

// CouponSums tells of each coupon how often it is used and held, and what it
// took off orders.
func (tx *Tx) CouponSums(now time.Time) (map[int64]CouponSum, error) {
	var rows []struct {
		CouponID   int64
		Used, Held int
	}
	err := tx.db.Raw(`SELECT coupon_id, COUNT(CASE WHEN taken THEN 1 END) AS used, COUNT(CASE WHEN NOT taken AND held_until > ? THEN 1 END) AS held
		FROM coupon_uses GROUP BY coupon_id`, now.UTC()).Scan(&rows).Error
	if err != nil {
		return nil, err
	}
	sums := make(map[int64]CouponSum, len(rows))
	for _, r := range rows {
		sums[r.CouponID] = CouponSum{Used: r.Used, Held: r.Held}
	}
	var orders []struct {
		CouponID int64
		Code     string
		Slip     charge.Slip `gorm:"serializer:json"`
	}
	err = tx.db.Table("coupon_uses u").Select("u.coupon_id, c.code, o.slip").Joins("JOIN orders o ON o.id = u.order_id").
		Joins("JOIN coupons c ON c.id = u.coupon_id").Where("u.taken AND o.state = ?", order.Placed).
		Where("o.currency = COALESCE(json_extract(c.rule, '$.currency'), o.currency)").Find(&orders).Error
	for _, o := range orders {
		s := sums[o.CouponID]
		for _, l := range o.Slip.Lines {
			if l.Part == charge.PartCoupon && (l.Code == o.Code) {
				s.Given -= l.Amount
			}
		}
		sums[o.CouponID] = s
	}
	return sums, err
}

// CouponSum is what became of a coupon.
type CouponSum struct {
	Used, Held int
	Given      money.Amount // what it took off orders in its own currency
}

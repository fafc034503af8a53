package order

// A Limit is how often a coupon can be used. 0 is no limit.
type Limit struct {
	All  int // by everybody
	Each int // by one mail address
}

// Uses is how often a coupon is used or held already, in all and by the mail
// address that orders.
type Uses struct{ All, Each int }

// Spent says whether the coupon cannot be used once more. Whoever's address is
// not known yet is not held to the limit of each.
func (l Limit) Spent(u Uses, known bool) bool {
	return l.All > 0 && u.All >= l.All || l.Each > 0 && known && u.Each >= l.Each
}

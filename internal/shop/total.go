package shop

import (
	"errors"
	"fmt"
	"regexp"
	"strings"

	"ruvo/api"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/money"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/docket"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// whole is what a customer gives for the whole order besides its lines.
type whole struct {
	coupons *[]string
	tip     *int
	buyer   *store.Buyer
}

// mostCoupons bounds the coupons of one order.
const mostCoupons = 10

// totalled is the slip of a whole order with what is wrong with it.
type totalled struct {
	slip    charge.Slip
	coupons []api.CouponView
	ids     []int64 // of the coupons that count
	wrong   []api.FieldError
	asking  api.Asking
}

// total prices a whole order: it takes over the business's terms, looks at
// coupons, tip and buyer, and makes the slip. A coupon that does not count is
// left out and told.
func (s *Shop) total(tx *store.Tx, b store.Business, o *store.Order, w whole, lines []charge.OrderLine, rounding money.Rounding, l words.Language) (totalled, error) {
	t := totalled{coupons: []api.CouponView{}, wrong: []api.FieldError{}}
	o.Terms, o.PricedOn, o.Language = b.Terms, calendar.DayOf(s.Now().In(b.Location())).String(), string(l)
	o.Coupons, o.Tip, o.Buyer, o.Reversed, o.Currency = nil, 0, store.Buyer{}, false, b.Currency
	if len(lines) > 0 {
		o.Currency = lines[0].Slip.Currency
	}
	s.buyer(b, o, w.buyer, &t, l)
	s.tip(o, w.tip, &t, l)
	if w.coupons != nil {
		if err := s.coupons(tx, o, *w.coupons, lines, &t, l); err != nil {
			return t, err
		}
	}
	t.slip = docket.SlipOf(o, rounding, lines)
	o.Slip, o.Total = t.slip, t.slip.Total
	return t, nil
}

func (s *Shop) tip(o *store.Order, tip *int, t *totalled, l words.Language) {
	t.asking.Tip = o.Terms.Tip
	if tip == nil || *tip == 0 {
		return
	}
	a := money.Amount(*tip)
	if code := o.Terms.Tip.Refused(a); code != "" {
		p := words.Params{}
		if o.Terms.Tip != nil {
			p["least"], p["most"] = l.Amount(o.Terms.Tip.Least, o.Currency), l.Amount(o.Terms.Tip.Most, o.Currency)
		}
		t.wrong = append(t.wrong, problem.Field(l, "tip", code, p))
		return
	}
	o.Tip = a
}

var taxID = regexp.MustCompile(`^[A-Z0-9+*]{4,14}$`)

// taxPrefix gives the letters that a country's tax ids begin with: Greece
// writes EL (Directive 2006/112/EC, Article 215).
func taxPrefix(country string) string {
	if country == "GR" {
		return "EL"
	}
	return country
}

// buyer takes over what a business tells of itself. A tax id is asked for only
// where it changes the tax: when the buyer owes it in another country.
func (s *Shop) buyer(b store.Business, o *store.Order, buyer *store.Buyer, t *totalled, l words.Language) {
	t.asking.Business = o.Terms.Business
	if buyer == nil || !buyer.Business || !o.Terms.Business {
		return
	}
	n := *buyer
	n.Company, n.Country = strings.TrimSpace(n.Company), strings.ToUpper(strings.TrimSpace(n.Country))
	n.TaxID = strings.ToUpper(strings.NewReplacer(" ", "", "-", "", ".", "").Replace(n.TaxID))
	if countries := question.AllCountries(l); o.Terms.Reverse {
		list := make([]api.Country, len(countries))
		for i, c := range countries {
			list[i] = api.Country{Code: c.Code, Name: c.Name}
		}
		t.asking.Countries = &list
	} else {
		n.Country = ""
	}
	t.asking.TaxId = o.Terms.Reverse && question.IsCountry(n.Country) && n.Country != b.Country
	if !t.asking.TaxId {
		n.TaxID = ""
	}
	prefix := taxPrefix(n.Country)
	switch {
	case n.Company == "" || question.Characters(n.Company) > 200:
		t.wrong = append(t.wrong, problem.Field(l, "buyer.company", "company", nil))
	case n.Country != "" && !question.IsCountry(n.Country):
		t.wrong = append(t.wrong, problem.Field(l, "buyer.country", "country", nil))
	case n.TaxID != "" && (!taxID.MatchString(n.TaxID) || !strings.HasPrefix(n.TaxID, prefix)):
		t.wrong = append(t.wrong, problem.Field(l, "buyer.tax_id", "tax_id", words.Params{"prefix": prefix}))
	default:
		o.Buyer, o.Reversed = n, n.TaxID != ""
	}
}

// coupons finds the coupons by their codes, and those among them that count.
func (s *Shop) coupons(tx *store.Tx, o *store.Order, codes []string, lines []charge.OrderLine, t *totalled, l words.Language) error {
	if len(codes) > mostCoupons {
		codes = codes[:mostCoupons]
	}
	day := docket.Ordered(o)
	for i, given := range codes {
		code := strings.ToUpper(strings.TrimSpace(given))
		refused := ""
		c, err := tx.CouponByCode(code)
		switch {
		case errors.Is(err, store.ErrNotFound) || err == nil && c.Off:
			refused = "coupon_unknown"
		case err != nil:
			return err
		default:
			if refused = c.Rule.Refused(lines, day, o.Coupons); refused != "" {
				break
			}
			all, each, err := tx.CouponUses(c.ID, o.Email, s.Now(), o.ID)
			if err != nil {
				return err
			}
			if c.MostUses > 0 && all >= c.MostUses || c.MostEach > 0 && o.Email != "" && each >= c.MostEach {
				refused = "coupon_used"
			}
		}
		v := api.CouponView{Code: code}
		if refused != "" {
			f := problem.Field(l, fmt.Sprintf("coupons.%d", i), refused, nil)
			v.Message = &f.Message
			t.wrong = append(t.wrong, f)
		} else {
			o.Coupons = append(o.Coupons, c.Rule)
			t.ids = append(t.ids, c.ID)
		}
		t.coupons = append(t.coupons, v)
	}
	return nil
}

package order

import (
	"slices"

	"ruvo/internal/core/words"
)

// An Arrangement is how the seller lays the checkout out.
type Arrangement struct {
	// Steps has one section after the other, with how far one is; otherwise all of them
	// stand on one page.
	Steps    bool      `json:"steps,omitempty"`
	Sections []Section `json:"sections,omitempty"` // in their order; those left out stand behind
}

// A Section is a part of the checkout.
type Section struct {
	Name SectionName `json:"name"`
	Off  bool        `json:"off,omitempty"`
}

// A SectionName names a section.
type SectionName string

const (
	OfPerson    SectionName = "person"    // name and mail address; always asked
	OfProducts  SectionName = "products"  // what the products ask while paying
	OfRecipient SectionName = "recipient" // whether it is for somebody else
	OfBusiness  SectionName = "business"  // whether a business orders
	OfTip       SectionName = "tip"
	OfTexts     SectionName = "texts"  // what is agreed to: terms of sale, news; asked where there are any
	OfCoupon    SectionName = "coupon" // coupons and vouchers; beside the total
)

// SectionNames lists the sections in the order in which they stand unless the seller
// says otherwise.
func SectionNames() []SectionName {
	return []SectionName{OfPerson, OfProducts, OfRecipient, OfBusiness, OfTip, OfTexts, OfCoupon}
}

// Fixed says whether a section cannot be left out: without it nothing can be ordered.
func (n SectionName) Fixed() bool { return n == OfPerson || n == OfProducts || n == OfTexts }

// Whole gives the arrangement with all sections, each once.
func (a Arrangement) Whole() Arrangement {
	whole := Arrangement{Steps: a.Steps, Sections: slices.Clone(a.Sections)}
	for _, n := range SectionNames() {
		if !slices.ContainsFunc(a.Sections, func(s Section) bool { return s.Name == n }) {
			whole.Sections = append(whole.Sections, Section{Name: n})
		}
	}
	return whole
}

// Shows says whether customers see a section.
func (a Arrangement) Shows(n SectionName) bool {
	return !slices.ContainsFunc(a.Sections, func(s Section) bool { return s.Name == n && s.Off })
}

// Validate says what is wrong with an arrangement.
func (a Arrangement) Validate() error {
	var seen []SectionName
	for _, s := range a.Sections {
		switch {
		case !slices.Contains(SectionNames(), s.Name):
			return words.Tell("arrangement.unknown", "name", s.Name)
		case slices.Contains(seen, s.Name):
			return words.Tell("arrangement.twice", "name", s.Name)
		case s.Off && s.Name.Fixed():
			return words.Tell("arrangement.fixed", "name", s.Name)
		}
		seen = append(seen, s.Name)
	}
	return nil
}

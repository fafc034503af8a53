package order

import (
	"slices"

	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
)

// An Arrangement is how the seller lays the checkout out.
type Arrangement struct {
	// Steps has one section after the other, with how far one is; otherwise all of them
	// stand on one page.
	Steps    bool      `json:"steps,omitempty"`
	Sections []Section `json:"sections,omitempty"` // in their order; those left out stand behind
	// Questions is the order in which what the products ask while paying stands, for each
	// product; those left out stand behind, in the order of their product.
	Questions []question.Key `json:"questions,omitempty"`
}

// mostArranged bounds the questions that an arrangement names.
const mostArranged = 500

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
	whole := Arrangement{Steps: a.Steps, Sections: slices.Clone(a.Sections), Questions: slices.Clone(a.Questions)}
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

// Rank gives the place of a question; those that it does not name stand behind.
func (a Arrangement) Rank(k question.Key) int {
	if i := slices.Index(a.Questions, k); i >= 0 {
		return i
	}
	return len(a.Questions)
}

// Validate says what is wrong with an arrangement, and in which of its fields.
func (a Arrangement) Validate() (field string, err error) {
	if err := a.validSections(); err != nil {
		return "sections", err
	}
	if err := a.validQuestions(); err != nil {
		return "questions", err
	}
	return "", nil
}

func (a Arrangement) validSections() error {
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

func (a Arrangement) validQuestions() error {
	if len(a.Questions) > mostArranged {
		return words.Tell("arrangement.many", "most", mostArranged)
	}
	for i, k := range a.Questions {
		switch {
		case !k.Valid():
			return words.Tell("arrangement.unknown", "name", k)
		case slices.Contains(a.Questions[:i], k):
			return words.Tell("arrangement.twice", "name", k)
		}
	}
	return nil
}

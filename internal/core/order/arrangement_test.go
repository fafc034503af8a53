package order

import (
	"slices"
	"testing"

	"ruvo/internal/core/question"
)

// A checkout has every section once, in the seller's order, and none without which
// nothing can be ordered is left out.
func TestArrangements(t *testing.T) {
	whole := Arrangement{Sections: []Section{{Name: OfTip}, {Name: OfPerson}}}.Whole()
	var names []SectionName
	for _, s := range whole.Sections {
		names = append(names, s.Name)
	}
	if want := []SectionName{OfTip, OfPerson, OfProducts, OfRecipient, OfBusiness, OfTexts, OfCoupon}; !slices.Equal(names, want) {
		t.Errorf("%v", names)
	}
	if a := (Arrangement{Sections: []Section{{Name: OfTip, Off: true}}}); a.Shows(OfTip) || !a.Shows(OfCoupon) || wrong(a) != "" {
		t.Errorf("%+v", a)
	}
	for _, bad := range [][]Section{{{Name: "parcel"}}, {{Name: OfTip}, {Name: OfTip}}, {{Name: OfPerson, Off: true}}, {{Name: OfProducts, Off: true}}} {
		if wrong(Arrangement{Sections: bad}) != "sections" {
			t.Errorf("%v is taken", bad)
		}
	}
	asked := Arrangement{Questions: []question.Key{"heard", "rush"}}
	if wrong(asked) != "" || asked.Rank("rush") != 1 || asked.Rank("fund") != 2 || !slices.Equal(asked.Whole().Questions, asked.Questions) {
		t.Errorf("%+v", asked)
	}
	for _, bad := range [][]question.Key{{"heard", "heard"}, {"no key"}, make([]question.Key, mostArranged+1)} {
		if wrong(Arrangement{Questions: bad}) != "questions" {
			t.Errorf("%v are taken", bad)
		}
	}
}

// wrong names the field that something is wrong with.
func wrong(a Arrangement) string {
	field, _ := a.Validate()
	return field
}

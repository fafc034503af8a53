package order

import (
	"regexp"
	"strings"

	"ruvo/internal/core/charge"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
)

// A Buyer is what a business tells of itself for the invoice.
type Buyer struct {
	Business bool   `json:"business,omitempty"`
	Company  string `json:"company,omitempty"`
	TaxID    string `json:"tax_id,omitempty"`
	Country  string `json:"country,omitempty"` // ISO 3166-1 alpha-2
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

// Read takes over what a business told of itself, in one form, under a
// seller's terms and country. A tax id is asked for only where it changes the
// tax: when the buyer owes it in another country.
func (b Buyer) Read(t charge.Terms, seller string) (read Buyer, asksTaxID bool, wrong []question.Fault) {
	if !b.Business || !t.Business {
		return Buyer{}, false, nil
	}
	b.Company, b.Country = strings.TrimSpace(b.Company), strings.ToUpper(strings.TrimSpace(b.Country))
	b.TaxID = strings.ToUpper(strings.NewReplacer(" ", "", "-", "", ".", "").Replace(b.TaxID))
	if !t.Reverse {
		b.Country = ""
	}
	asksTaxID = t.Reverse && question.IsCountry(b.Country) && b.Country != seller
	if !asksTaxID {
		b.TaxID = ""
	}
	refuse := func(key question.Key, code string, p words.Params) []question.Fault {
		return []question.Fault{{Key: "buyer." + key, Code: code, Params: p}}
	}
	prefix := taxPrefix(b.Country)
	switch {
	case b.Company == "" || question.Characters(b.Company) > 200:
		return Buyer{}, asksTaxID, refuse("company", "company", nil)
	case b.Country != "" && !question.IsCountry(b.Country):
		return Buyer{}, asksTaxID, refuse("country", "country", nil)
	case b.TaxID != "" && (!taxID.MatchString(b.TaxID) || !strings.HasPrefix(b.TaxID, prefix)):
		return Buyer{}, asksTaxID, refuse("tax_id", "tax_id", words.Params{"prefix": prefix})
	}
	return b, asksTaxID, nil
}

// Reversed says that the buyer owes the tax.
func (b Buyer) Reversed() bool { return b.TaxID != "" }

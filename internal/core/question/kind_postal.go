package question

import (
	"encoding/json"
	"math/rand/v2"
	"regexp"
	"slices"
	"strings"

	"golang.org/x/text/language"
	"golang.org/x/text/language/display"

	"ruvo/internal/core/words"
)

type postal struct{}

func (postal) Name() KindName { return "postal_address" }

// Class implements Kind.
func (postal) Class() Class { return ClassGiven }

// postalSpec takes a postal address in one of Countries (ISO 3166-1), or in
// any country without them; the first is offered first.
type postalSpec struct {
	Countries []string `json:"countries,omitempty"`
}

func (postal) Spec(raw json.RawMessage) (Spec, error) {
	s, err := settings[postalSpec](raw)
	if err != nil {
		return nil, err
	}
	for _, c := range s.Countries {
		if !isCountry(c) {
			return nil, words.Tell("setting.countries_must_iso_3166_codes")
		}
	}
	return s, nil
}

func isCountry(code string) bool {
	r, err := language.ParseRegion(code)
	return err == nil && r.IsCountry() && r.String() == code
}

// A PostalForm says which fields an address of a country has besides name and
// street, and in which order its last lines are written.
type PostalForm struct {
	Code   string `json:"code,omitempty"` // what the postal code is called: "postcode", "zip"; none has none
	Region string `json:"region,omitempty"`
	form   *regexp.Regexp
	like   string
	last   []string // lines with {code}, {city}, {region}
}

func postalForm(code, region, form, like string, last ...string) PostalForm {
	f := PostalForm{Code: code, Region: region, like: like, last: last}
	if form != "" {
		f.form = regexp.MustCompile(`^(?:` + form + `)$`)
	}
	return f
}

// forms are how addresses read in some countries (from memory, after the
// Universal Postal Union's addressing guides); the others have a postcode
// that may be empty, written before the city.
var forms = map[string]PostalForm{}

func init() {
	before := []string{"{code} {city}"}
	for countries, f := range map[string]PostalForm{
		"DE FR IT ES FI EE LT UA RS HR TR": postalForm("postcode", "", `\d{5}`, "12345", before...),
		"AT BE CH DK NO LU SI HU BG CY LI": postalForm("postcode", "", `\d{4}`, "1234", before...),
		"SE CZ SK GR":                      postalForm("postcode", "", `\d{3} ?\d{2}`, "123 45", before...),
		"NL":                               postalForm("postcode", "", `\d{4} ?[A-Z]{2}`, "1234 AB", before...),
		"PL":                               postalForm("postcode", "", `\d{2}-\d{3}`, "12-345", before...),
		"PT":                               postalForm("postcode", "", `\d{4}-\d{3}`, "1234-567", before...),
		"GB":                               postalForm("postcode", "", `[A-Z]{1,2}\d[A-Z\d]? ?\d[A-Z]{2}`, "AB1 2CD", "{city}", "{code}"),
		"IE":                               postalForm("postcode", "", `[A-Z]\d[\dW] ?[A-Z\d]{4}`, "A65 F4E2", "{city}", "{code}"),
		"US":                               postalForm("zip", "state", `\d{5}(-\d{4})?`, "12345", "{city}, {region} {code}"),
		"CA":                               postalForm("postcode", "province", `[A-Z]\d[A-Z] ?\d[A-Z]\d`, "A1B 2C3", "{city} {region} {code}"),
		"AU":                               postalForm("postcode", "state", `\d{4}`, "1234", "{city} {region} {code}"),
		"NZ":                               postalForm("postcode", "", `\d{4}`, "1234", "{city} {code}"),
		"JP":                               postalForm("postcode", "prefecture", `\d{3}-\d{4}`, "123-4567", "{city}, {region} {code}"),
		"HK AE QA AO":                      postalForm("", "", "", "", "{city}"),
	} {
		for _, c := range strings.Fields(countries) {
			forms[c] = f
		}
	}
}

// FormOf gives the form of a country's addresses.
func FormOf(country string) PostalForm {
	if f, ok := forms[country]; ok {
		return f
	}
	return PostalForm{Code: "postcode", last: []string{"{code} {city}"}}
}

// A Country is offered in an address.
type Country struct {
	Code string     `json:"code"`
	Name string     `json:"name"`
	Form PostalForm `json:"form"`
}

// AllCountries lists every country, by name.
func AllCountries(l words.Language) []Country { return postalSpec{}.countries(l) }

// IsCountry says whether a code is a country's (ISO 3166-1 alpha-2).
func IsCountry(code string) bool { return isCountry(code) }

// Countries lists the countries that the question takes, by name unless the
// seller ordered them.
func (s postalSpec) countries(l words.Language) []Country {
	namer := display.Regions(language.Make(string(l)))
	codes := s.Countries
	if len(codes) == 0 {
		for a := 'A'; a <= 'Z'; a++ {
			for b := 'A'; b <= 'Z'; b++ {
				if c := string(a) + string(b); isCountry(c) {
					codes = append(codes, c)
				}
			}
		}
	}
	var list []Country
	for _, c := range codes {
		if name := namer.Name(language.MustParseRegion(c)); name != "" {
			list = append(list, Country{Code: c, Name: name, Form: FormOf(c)})
		}
	}
	if len(s.Countries) == 0 {
		slices.SortFunc(list, func(a, b Country) int { return strings.Compare(a.Name, b.Name) })
	}
	return list
}

// Extra gives what the field needs to be drawn: the countries with the fields
// that their addresses have.
func (s postalSpec) Extra(l words.Language) any {
	return map[string]any{"countries": s.countries(l)}
}

// A spec with extras needs more than its settings to be drawn; nil is nothing
// more.
type WithExtra interface{ Extra(words.Language) any }

func (postalSpec) Class() Class { return ClassGiven }

func (postalSpec) Decode(raw json.RawMessage) (Value, *Fault) {
	var p Postal
	if len(raw) > 8000 || strict(raw, &p) != nil {
		return nil, fault("type_postal")
	}
	for _, s := range []*string{&p.Name, &p.Street, &p.More, &p.Code, &p.City, &p.Region} {
		*s = strings.Join(strings.Fields(*s), " ")
		if Characters(*s) > 200 {
			return nil, fault("longest", "most", "200")
		}
	}
	p.Code = strings.ToUpper(p.Code)
	return p, nil
}

func (s postalSpec) Check(v Value, _ Env) []Fault {
	p := v.(Postal)
	var wrong []Fault
	need := func(path, value string) {
		if value == "" {
			wrong = append(wrong, Fault{Code: "required", Path: path})
		}
	}
	if !isCountry(p.Country) || len(s.Countries) > 0 && !slices.Contains(s.Countries, p.Country) {
		return []Fault{{Code: "country", Path: "country"}}
	}
	form := FormOf(p.Country)
	need("name", p.Name)
	need("street", p.Street)
	need("city", p.City)
	if form.Region != "" {
		need("region", p.Region)
	}
	if form.form != nil {
		if need("code", p.Code); p.Code != "" && !form.form.MatchString(p.Code) {
			wrong = append(wrong, Fault{Code: "postcode", Path: "code", Params: words.Params{"like": form.like}})
		}
	}
	return wrong
}

// Words writes the address in the lines and the order of its country.
func (postalSpec) Words(v Value, env Env) string {
	p := v.(Postal)
	lines := []string{p.Name, p.Street, p.More}
	fill := strings.NewReplacer("{code}", p.Code, "{city}", p.City, "{region}", p.Region)
	for _, l := range FormOf(p.Country).last {
		lines = append(lines, strings.TrimSpace(fill.Replace(l)))
	}
	if r, err := language.ParseRegion(p.Country); err == nil {
		lines = append(lines, display.Regions(language.Make(string(env.Language))).Name(r))
	}
	return strings.Join(slices.DeleteFunc(lines, func(s string) bool { return s == "" }), "\n")
}

// Postal is a postal address.
type Postal struct {
	Name    string `json:"name"`
	Street  string `json:"street"`
	More    string `json:"more,omitempty"` // flat, building
	Code    string `json:"code,omitempty"`
	City    string `json:"city"`
	Region  string `json:"region,omitempty"`
	Country string `json:"country"`
}

// Answered is false while only the country, which is offered, is there.
func (p Postal) Answered() bool {
	return p.Name+p.Street+p.More+p.Code+p.City+p.Region != ""
}

// Terms has the country as a code.
func (p Postal) Terms() Terms { return Terms{Codes: []string{p.Country}, Text: p.City} }

// MakeUp implements Inventive.
func (s postalSpec) MakeUp(r *rand.Rand, _ Env) Value {
	country := "DE"
	if len(s.Countries) > 0 {
		country = s.Countries[r.IntN(len(s.Countries))]
	}
	return Postal{Name: "Ada Lind", Street: "Seeweg 4", Code: FormOf(country).like, City: "Harbour", Region: "North", Country: country}
}

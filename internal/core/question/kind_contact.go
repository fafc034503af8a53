package question

import (
	"encoding/json"
	"math/rand/v2"
	netmail "net/mail"
	"net/url"
	"ruvo/internal/core/words"
	"slices"
	"strings"

	"github.com/nyaruka/phonenumbers"
)

// oneLine reads a line of text without control characters.
func oneLine(raw json.RawMessage, longest int) (string, *Fault) {
	v, f := text{Most: longest}.Decode(raw)
	if f != nil {
		return "", f
	}
	return string(v.(Text)), nil
}

type mail struct{}

func (mail) Name() KindName { return "mail" }

// Class implements Kind.
func (mail) Class() Class { return ClassText }

type mailSpec struct{}

func (mail) Spec(raw json.RawMessage) (Spec, error) { return settings[mailSpec](raw) }
func (mailSpec) Class() Class                       { return ClassText }

func (mailSpec) Decode(raw json.RawMessage) (Value, *Fault) {
	s, f := oneLine(raw, 254)
	return Text(s), f
}

func (mailSpec) Check(v Value, _ Env) []Fault {
	if MailAddress(string(v.(Text))) == "" {
		return faults(fault("email"))
	}
	return nil
}

func (mailSpec) Words(v Value, _ Env) string { return string(v.(Text)) }

// MailAddress reads a bare mail address (RFC 5322 addr-spec) with a domain of
// several parts, in the one form by which its owner is known; empty for
// anything else. That form is lower case: domains know no other (RFC 4343), and
// no mail service tells boxes apart by it, though RFC 5321 section 2.4 would
// let one (common practice).
func MailAddress(text string) string {
	text = strings.TrimSpace(text)
	a, err := netmail.ParseAddress(text)
	if err != nil || a.Address != text || len(text) > 254 {
		return ""
	}
	_, domain, _ := strings.Cut(text, "@")
	if !strings.Contains(domain, ".") || slices.Contains(strings.Split(domain, "."), "") {
		return ""
	}
	return strings.ToLower(text)
}

type phone struct{}

func (phone) Name() KindName { return "phone" }

// Class implements Kind.
func (phone) Class() Class { return ClassText }

// phoneSpec takes a number of Country, an ISO 3166-1 code, without its
// country's prefix; of any other country, and of all without one, with it.
type phoneSpec struct {
	Country string `json:"country,omitempty"`
}

func (phone) Spec(raw json.RawMessage) (Spec, error) {
	s, err := settings[phoneSpec](raw)
	if err == nil && s.Country != "" && !phonenumbers.GetSupportedRegions()[s.Country] {
		err = words.Tell("setting.country_must_iso_3166_code")
	}
	return s, err
}

func (phoneSpec) Class() Class { return ClassText }

func (s phoneSpec) Decode(raw json.RawMessage) (Value, *Fault) {
	typed, f := oneLine(raw, 40)
	if f != nil {
		return nil, f
	}
	if typed == "" {
		return None{}, nil
	}
	p := Phone{Typed: typed}
	n, err := phonenumbers.Parse(typed, s.Country)
	if err == nil && phonenumbers.IsValidNumber(n) {
		p.E164 = phonenumbers.Format(n, phonenumbers.E164)
	}
	return p, nil
}

func (s phoneSpec) Check(v Value, _ Env) []Fault {
	if v.(Phone).E164 != "" {
		return nil
	}
	if s.Country == "" {
		return faults(fault("phone_abroad"))
	}
	example := phonenumbers.GetExampleNumber(s.Country)
	return faults(fault("phone", "example", phonenumbers.Format(example, phonenumbers.NATIONAL)))
}

// Words shows a number of the question's country as people write it there, and
// any other with its prefix.
func (s phoneSpec) Words(v Value, _ Env) string {
	n, err := phonenumbers.Parse(v.(Phone).E164, "")
	if err != nil {
		return v.(Phone).Typed
	}
	if phonenumbers.GetRegionCodeForNumber(n) == s.Country {
		return phonenumbers.Format(n, phonenumbers.NATIONAL)
	}
	return phonenumbers.Format(n, phonenumbers.INTERNATIONAL)
}

// Phone is a telephone number: as typed, and in E.164 when it is valid.
type Phone struct {
	Typed string
	E164  string
}

// Answered implements Value.
func (p Phone) Answered() bool { return p.Typed != "" }

// Terms implements Value.
func (p Phone) Terms() Terms { return Terms{Text: p.E164} }

// MarshalJSON writes the E.164 form, which Decode reads in any country.
func (p Phone) MarshalJSON() ([]byte, error) {
	if p.E164 == "" {
		return json.Marshal(p.Typed)
	}
	return json.Marshal(p.E164)
}

type web struct{}

func (web) Name() KindName { return "web_address" }

// Class implements Kind.
func (web) Class() Class { return ClassText }

type webSpec struct{}

func (web) Spec(raw json.RawMessage) (Spec, error) { return settings[webSpec](raw) }
func (webSpec) Class() Class                       { return ClassText }

// Decode takes an address without its scheme as one of the secure web.
func (webSpec) Decode(raw json.RawMessage) (Value, *Fault) {
	s, f := oneLine(raw, 2000)
	if f == nil && s != "" && !strings.Contains(s, "://") {
		s = "https://" + s
	}
	return Text(s), f
}

func (webSpec) Check(v Value, _ Env) []Fault {
	if !WebAddress(string(v.(Text))) {
		return faults(fault("web"))
	}
	return nil
}

func (webSpec) Words(v Value, _ Env) string { return string(v.(Text)) }

// WebAddress says whether a text is an absolute address of the web (RFC 3986)
// whose host has several parts and that names no user.
func WebAddress(s string) bool {
	u, err := url.Parse(s)
	if err != nil || u.Scheme != "https" && u.Scheme != "http" || u.User != nil || len(s) > 2000 || strings.ContainsAny(s, " \t\n") {
		return false
	}
	host := u.Hostname()
	return strings.Contains(host, ".") && !slices.Contains(strings.Split(host, "."), "")
}

// MakeUp implements Inventive. Nobody has an address at example.org (RFC 2606).
func (mailSpec) MakeUp(r *rand.Rand, _ Env) Value {
	return Text(strings.ReplaceAll(strings.ToLower(wordsOf(r, 3, 12)), " ", ".") + "@example.org")
}

// MakeUp implements Inventive.
func (s phoneSpec) MakeUp(*rand.Rand, Env) Value {
	country := s.Country
	if country == "" {
		country = "DE"
	}
	n := phonenumbers.Format(phonenumbers.GetExampleNumber(country), phonenumbers.E164)
	return Phone{Typed: n, E164: n}
}

// MakeUp implements Inventive.
func (webSpec) MakeUp(r *rand.Rand, _ Env) Value {
	return Text("https://example.org/" + url.PathEscape(wordsOf(r, 3, 12)))
}

package question

import (
	"encoding/json"
	"math/rand/v2"
	"strings"
	"time"

	"ruvo/internal/core/words"
)

type consent struct{}

func (consent) Name() KindName { return "consent" }

// Class implements Kind.
func (consent) Class() Class { return ClassYesNo }

// consentSpec asks to agree to a text. The text stands in the edition, which
// never changes, so what was agreed to stays readable.
type consentSpec struct {
	Text    string `json:"text"` // Markdown
	Version string `json:"version"`
	Link    string `json:"link,omitempty"` // where the text stands too
}

func (consent) Spec(raw json.RawMessage) (Spec, error) {
	s, err := settings[consentSpec](raw)
	switch {
	case err != nil:
		return nil, err
	case strings.TrimSpace(s.Text) == "" || len(s.Text) > 20_000:
		return nil, words.Tell("setting.needs_text_people_agree")
	case strings.TrimSpace(s.Version) == "" || len(s.Version) > 40:
		return nil, words.Tell("setting.text_needs_version_such_as")
	case s.Link != "" && !WebAddress(s.Link):
		return nil, words.Tell("setting.link_must_address_such_as")
	}
	return s, nil
}

func (consentSpec) Class() Class { return ClassYesNo }

func (consentSpec) Decode(raw json.RawMessage) (Value, *Fault) {
	var c Consent
	if strict(raw, &c) != nil || len(c.Version) > 40 {
		return nil, fault("type_consent")
	}
	return c, nil
}

func (s consentSpec) Check(v Value, _ Env) []Fault {
	if v.(Consent).Version != s.Version {
		return faults(fault("consent_version"))
	}
	return nil
}

func (s consentSpec) Words(v Value, env Env) string {
	c := v.(Consent)
	return dated(env.Language.Say("consent.agreed", words.Params{"version": c.Version}), c.At, env)
}

// Document gives the text, Markdown.
func (s consentSpec) Document() string { return s.Text }

// Document gives the text that is signed.
func (s signatureSpec) Document() string { return s.Text }

// A Documented spec asks about a text that stays readable.
type Documented interface{ Document() string }

// Consent is the agreement to one version of a text. Not agreeing is no answer.
type Consent struct {
	Agreed  bool       `json:"agreed"`
	Version string     `json:"version"`
	At      *time.Time `json:"at,omitempty"`
}

// Answered implements Value.
func (c Consent) Answered() bool { return c.Agreed }

// Terms implements Value.
func (c Consent) Terms() Terms { return YesNo(c.Agreed).Terms() }

// Given implements Dated.
func (c Consent) Given(now time.Time, before Value) Value {
	now = now.UTC().Truncate(time.Second)
	c.At = &now
	if b, ok := before.(Consent); ok && b.At != nil && b.Agreed == c.Agreed && b.Version == c.Version {
		c.At = b.At
	}
	return c
}

// MakeUp implements Inventive.
func (s consentSpec) MakeUp(*rand.Rand, Env) Value { return Consent{Agreed: true, Version: s.Version} }

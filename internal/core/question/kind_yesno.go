package question

import "encoding/json"

type yesNo struct{}

func (yesNo) Name() KindName { return "yes_no" }

// Class implements Kind.
func (yesNo) Class() Class { return ClassYesNo }

type yesNoSpec struct{}

func (yesNo) Spec(raw json.RawMessage) (Spec, error) { return settings[yesNoSpec](raw) }
func (yesNoSpec) Class() Class                       { return ClassYesNo }

func (yesNoSpec) Decode(raw json.RawMessage) (Value, *Fault) {
	var b bool
	if json.Unmarshal(raw, &b) != nil {
		return nil, fault("type_yes_no")
	}
	return YesNo(b), nil
}

func (yesNoSpec) Check(Value, Env) []Fault { return nil }

func (yesNoSpec) Words(v Value, env Env) string {
	return env.Language.Say(v.Terms().Codes[0], nil)
}

// YesNo is the answer to a yes/no question.
type YesNo bool

// Answered implements Value.
func (YesNo) Answered() bool { return true }

// Terms gives the code "yes" or "no"; the counted number is one for a yes.
func (y YesNo) Terms() Terms {
	if y {
		return Terms{Codes: codeYes, Number: one}
	}
	return Terms{Codes: codeNo}
}

// Samples implements Sampled.
func (yesNoSpec) Samples([]int) ([]Value, bool) { return []Value{YesNo(true), YesNo(false)}, true }

var codeYes, codeNo = []string{"yes"}, []string{"no"}

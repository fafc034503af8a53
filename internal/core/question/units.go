package question

import (
	"encoding/json"
	"math/rand/v2"
	"slices"
	"strconv"
	"strings"

	"ruvo/internal/core/words"
)

// mostUnits bounds the answers to one question of each unit.
const mostUnits = 10_000

// EachUnit makes a spec that asks once for each unit of an order line.
func EachUnit(s Spec, required bool) Spec { return unitsSpec{s, required} }

// Each gives what is asked of each unit, when a spec asks so.
func Each(s Spec) (Spec, bool) {
	u, ok := s.(unitsSpec)
	return u.each, ok
}

type unitsSpec struct {
	each     Spec
	required bool
}

func (s unitsSpec) Class() Class { return s.each.Class() }

// Decode keeps what could not be read of a unit for Check.
func (s unitsSpec) Decode(raw json.RawMessage) (Value, *Fault) {
	var list []json.RawMessage
	if json.Unmarshal(raw, &list) != nil || len(list) > mostUnits {
		return nil, fault("type_units")
	}
	u := Units{Each: make([]Value, len(list))}
	for i, r := range list {
		u.Each[i] = None{}
		if string(r) == "null" {
			continue
		}
		v, f := s.each.Decode(r)
		if f != nil {
			u.unread = append(u.unread, within(strconv.Itoa(i), []Fault{*f})...)
			continue
		}
		u.Each[i] = v
	}
	return u, nil
}

func (s unitsSpec) Check(v Value, env Env) []Fault {
	u := v.(Units)
	var wrong []Fault
	for i := range max(env.Units, 1) {
		path := strconv.Itoa(i)
		unread := slices.IndexFunc(u.unread, func(f Fault) bool { return strings.SplitN(f.Path, ".", 2)[0] == path })
		switch {
		case unread >= 0:
			wrong = append(wrong, u.unread[unread])
		case i < len(u.Each) && u.Each[i].Answered():
			wrong = append(wrong, within(path, s.each.Check(u.Each[i], env))...)
		case s.required:
			wrong = append(wrong, Fault{Code: "required", Path: path})
		}
	}
	return wrong
}

// Words numbers the units when there are several.
func (s unitsSpec) Words(v Value, env Env) string {
	var lines []string
	for i, v := range v.(Units).Each {
		if !v.Answered() {
			continue
		}
		w := s.each.Words(v, env)
		if env.Units > 1 {
			w = strconv.Itoa(i+1) + ": " + strings.ReplaceAll(w, "\n", ", ")
		}
		lines = append(lines, w)
	}
	return strings.Join(lines, "\n")
}

// Label gives the label of a choice's code, if the question has choices.
func (s unitsSpec) Label(code string) (string, bool) {
	if l, ok := s.each.(Labelled); ok {
		return l.Label(code)
	}
	return "", false
}

// All lists the choices, if the question has choices.
func (s unitsSpec) All() []Choice {
	if c, ok := s.each.(Choosable); ok {
		return c.All()
	}
	return nil
}

// Extra gives what the question of each unit needs to be drawn.
func (s unitsSpec) Extra(l words.Language) any {
	if x, ok := s.each.(WithExtra); ok {
		return x.Extra(l)
	}
	return nil
}

// Narrow implements Choosable.
func (s unitsSpec) Narrow(v Value, offered func(string) bool) Value {
	c, ok := s.each.(Choosable)
	if !ok {
		return v
	}
	u := v.(Units)
	u.Each = slices.Clone(u.Each)
	for i, each := range u.Each {
		if each.Answered() {
			u.Each[i] = c.Narrow(each, offered)
		}
	}
	return u
}

// Showing gives none: the units may differ.
func (unitsSpec) Showing(Value) string { return "" }

// Units are the answers for each unit, None where there is none yet.
type Units struct {
	Each   []Value
	unread []Fault
}

// Of gives the answers of the first units; those beyond count nowhere.
func (u Units) Of(n int) Units {
	if len(u.Each) > n {
		u.Each = u.Each[:n]
	}
	return u
}

// Answered says whether any unit is answered.
func (u Units) Answered() bool {
	return len(u.unread) > 0 || slices.ContainsFunc(u.Each, Value.Answered)
}

// Terms joins the units: all their codes, their numbers added, their texts in
// lines, and the first day.
func (u Units) Terms() Terms {
	var all Terms
	for _, v := range u.Each {
		t := v.Terms()
		all.Number = all.Number.Add(t.Number)
		for _, c := range t.Codes {
			if !slices.Contains(all.Codes, c) {
				all.Codes = append(all.Codes, c)
			}
		}
		if t.Text != "" {
			all.Text = strings.TrimPrefix(all.Text+"\n"+t.Text, "\n")
		}
		if all.Day.Year == 0 {
			all.Day = t.Day
		}
	}
	return all
}

// MarshalJSON writes a list with null where a unit has no answer.
func (u Units) MarshalJSON() ([]byte, error) {
	list := make([]any, len(u.Each))
	for i, v := range u.Each {
		if v.Answered() {
			list[i] = v
		}
	}
	return json.Marshal(list)
}

// Uploads gives the files of all units.
func (u Units) Uploads() []Uploaded {
	var all []Uploaded
	for _, v := range u.Each {
		if f, ok := v.(Filed); ok {
			all = append(all, f.Uploads()...)
		}
	}
	return all
}

// Times gives how often a choice is in an answer; counted says that it was
// counted, or asked of each unit.
func Times(v Value, code string) (n int64, counted bool) {
	switch v := v.(type) {
	case Units:
		for _, each := range v.Each {
			if each.Answered() {
				k, _ := Times(each, code)
				n += k
			}
		}
		return n, true
	case Counts:
		return v[code], true
	}
	if slices.Contains(v.Terms().Codes, code) {
		return 1, false
	}
	return 0, false
}

// Each gives what is asked for one unit.
func (s unitsSpec) Each() Spec { return s.each }

// MakeUp implements Inventive.
func (s unitsSpec) MakeUp(r *rand.Rand, env Env) Value {
	u := Units{Each: make([]Value, max(env.Units, 1))}
	for i := range u.Each {
		u.Each[i] = None{}
		if v, ok := MakeUp(s.each, r, env); ok {
			u.Each[i] = v
		}
	}
	return u
}

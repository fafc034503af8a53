// Package reading reads JSON strictly, and says of what cannot be read where it
// stands, what was given there, and what would be right.
package reading

import (
	"errors"
	"reflect"
	"strconv"
	"strings"
	"sync"

	"github.com/go-json-experiment/json"
	"github.com/go-json-experiment/json/jsontext"

	"ruvo/internal/core/words"
)

// An Error says what is wrong at one place. Path names it with its indexes,
// "charges[2].rate.amount"; it is empty for the whole.
type Error struct {
	Path string
	Why  *words.Message
}

func (e *Error) Error() string { return e.Told().Error() }

// Told implements words.Told.
func (e *Error) Told() *words.Message {
	if e.Path == "" {
		return e.Why
	}
	return words.Tell("reading.at", "path", e.Path, "why", e.Why)
}

// Within gives the error as that of something that stands at a path.
func (e *Error) Within(path string) *Error {
	switch {
	case e.Path == "":
		return &Error{path, e.Why}
	case strings.HasPrefix(e.Path, "["):
		return &Error{path + e.Path, e.Why}
	}
	return &Error{path + "." + e.Path, e.Why}
}

// A Wanting type says in its own words what would be right in its place.
type Wanting interface{ Wanted() *words.Message }

// Strict reads one JSON document into a target. Names that the target does not
// have, names that stand twice, and what is not there though a field is tagged
// `need:"…"` are errors. The error is an *Error.
func Strict(raw []byte, target any) error {
	if err := json.Unmarshal(raw, target, json.RejectUnknownMembers(true)); err != nil {
		return explain(err, raw)
	}
	if t := reflect.TypeOf(target); needs(t) {
		if path, missing := lacks(raw, t); missing {
			return &Error{path, words.Tell("reading.missing")}
		}
	}
	return nil
}

func explain(err error, raw []byte) *Error {
	var syntax *jsontext.SyntacticError
	var semantic *json.SemanticError
	var told words.Told
	switch {
	case errors.As(err, &semantic):
		path := pathOf(semantic.JSONPointer)
		if semantic.Err == json.ErrUnknownName {
			return &Error{path, words.Tell("reading.unknown", "name", clip(semantic.JSONPointer.LastToken()))}
		}
		var within *Error
		if errors.As(semantic.Err, &within) {
			return within.Within(path)
		}
		if errors.As(semantic.Err, &told) {
			return &Error{path, told.Told()}
		}
		return &Error{path, words.Tell("reading.type", "wanted", wanted(semantic.GoType), "given", given(semantic, raw))}
	case errors.As(err, &syntax):
		path := pathOf(syntax.JSONPointer)
		if errors.Is(syntax.Err, jsontext.ErrDuplicateName) {
			return &Error{path, words.Tell("reading.twice")}
		}
		before := raw[:min(max(int(syntax.ByteOffset), 0), len(raw))]
		line := strings.Count(string(before), "\n") + 1
		return &Error{path, words.Tell("reading.syntax", "line", line, "at", len(before)-strings.LastIndexByte(string(before), '\n'))}
	}
	return &Error{"", words.Tell("reading.syntax", "line", 1, "at", len(raw))}
}

// pathOf writes a JSON pointer (RFC 6901) as a path with indexes.
func pathOf(p jsontext.Pointer) string {
	var b strings.Builder
	for token := range p.Tokens() {
		if _, err := strconv.Atoi(token); err == nil {
			b.WriteString("[" + token + "]")
			continue
		}
		if b.Len() > 0 {
			b.WriteByte('.')
		}
		b.WriteString(clip(token))
	}
	return clip2(b.String())
}

// clip keeps a hostile name from filling a message.
func clip(s string) string {
	if len(s) > 60 {
		return s[:60] + "…"
	}
	return s
}

func clip2(s string) string {
	if len(s) > 300 {
		return s[:300] + "…"
	}
	return s
}

// given shows what stands where something else is wanted.
func given(e *json.SemanticError, raw []byte) string {
	v := e.JSONValue
	if v == nil {
		v = valueAt(raw, e.JSONPointer)
	}
	if len(v) == 0 {
		return "…"
	}
	return clip(string(v))
}

// valueAt finds the value at a pointer.
func valueAt(raw []byte, p jsontext.Pointer) jsontext.Value {
	v := jsontext.Value(raw)
	for token := range p.Tokens() {
		switch v.Kind() {
		case '{':
			var m map[string]jsontext.Value
			if json.Unmarshal(v, &m) != nil {
				return nil
			}
			v = m[token]
		case '[':
			var list []jsontext.Value
			i, err := strconv.Atoi(token)
			if json.Unmarshal(v, &list) != nil || err != nil || i >= len(list) {
				return nil
			}
			v = list[i]
		default:
			return nil
		}
	}
	return v
}

// wanted says what a type is read from.
func wanted(t reflect.Type) *words.Message {
	for t != nil && t.Kind() == reflect.Pointer {
		t = t.Elem()
	}
	if t == nil {
		return words.Tell("reading.other")
	}
	if w, ok := reflect.Zero(t).Interface().(Wanting); ok {
		return w.Wanted()
	}
	switch t.Name() {
	case "Fine", "Decimal", "Percent":
		return words.Tell("reading.number")
	case "Day":
		return words.Tell("reading.day")
	case "Span":
		return words.Tell("reading.span")
	case "Clock":
		return words.Tell("reading.clock")
	case "Time":
		return words.Tell("reading.instant")
	}
	switch t.Kind() {
	case reflect.String:
		return words.Tell("reading.text")
	case reflect.Bool:
		return words.Tell("reading.yes_no")
	case reflect.Slice, reflect.Array:
		return words.Tell("reading.list")
	case reflect.Struct, reflect.Map:
		return words.Tell("reading.object")
	case reflect.Float32, reflect.Float64:
		return words.Tell("reading.number")
	case reflect.Int, reflect.Int8, reflect.Int16, reflect.Int32, reflect.Int64, reflect.Uint, reflect.Uint8, reflect.Uint16, reflect.Uint32, reflect.Uint64:
		return words.Tell("reading.whole")
	}
	return words.Tell("reading.other")
}

// needing remembers which types have fields that must be there.
var needing sync.Map // of reflect.Type to bool

func needs(t reflect.Type) bool {
	if known, ok := needing.Load(t); ok {
		return known.(bool)
	}
	is := has(t, map[reflect.Type]bool{})
	needing.Store(t, is)
	return is
}

// has looks for a field that must be there in a type and all within it.
func has(t reflect.Type, seen map[reflect.Type]bool) bool {
	if seen[t] {
		return false
	}
	seen[t] = true
	switch t.Kind() {
	case reflect.Pointer, reflect.Slice, reflect.Array, reflect.Map:
		return has(t.Elem(), seen)
	case reflect.Struct:
		for i := range t.NumField() {
			f := t.Field(i)
			if _, need := f.Tag.Lookup("need"); need || (f.IsExported() || f.Anonymous) && has(f.Type, seen) {
				return true
			}
		}
	}
	return false
}

// lacks finds the first field that must be there and is not.
func lacks(raw jsontext.Value, t reflect.Type) (path string, missing bool) {
	for t.Kind() == reflect.Pointer {
		t = t.Elem()
	}
	if !needs(t) || raw.Kind() == 'n' {
		return "", false
	}
	switch t.Kind() {
	case reflect.Slice, reflect.Array:
		var list []jsontext.Value
		if json.Unmarshal(raw, &list) != nil {
			return "", false
		}
		for i, v := range list {
			if path, missing := lacks(v, t.Elem()); missing {
				return joined("["+strconv.Itoa(i)+"]", path), true
			}
		}
	case reflect.Map:
		var m map[string]jsontext.Value
		if json.Unmarshal(raw, &m) != nil {
			return "", false
		}
		for name, v := range m {
			if path, missing := lacks(v, t.Elem()); missing {
				return joined(name, path), true
			}
		}
	case reflect.Struct:
		var m map[string]jsontext.Value
		if json.Unmarshal(raw, &m) != nil {
			return "", false
		}
		return lacking(m, raw, t)
	}
	return "", false
}

func lacking(m map[string]jsontext.Value, raw jsontext.Value, t reflect.Type) (path string, missing bool) {
	for i := range t.NumField() {
		f := t.Field(i)
		name, _, _ := strings.Cut(f.Tag.Get("json"), ",")
		if f.Anonymous && name == "" {
			if path, missing := lacks(raw, f.Type); missing {
				return path, true
			}
			continue
		}
		v, there := m[name]
		if _, need := f.Tag.Lookup("need"); need && (!there || v.Kind() == 'n') {
			return name, true
		}
		if there {
			if path, missing := lacks(v, f.Type); missing {
				return joined(name, path), true
			}
		}
	}
	return "", false
}

func joined(a, b string) string {
	if b == "" || strings.HasPrefix(b, "[") {
		return a + b
	}
	return a + "." + b
}

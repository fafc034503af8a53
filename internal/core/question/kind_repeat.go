package question

import (
	"encoding/json"
	"maps"
	"math/rand/v2"
	"slices"
	"strconv"
	"strings"

	"github.com/shopspring/decimal"

	"ruvo/internal/core/words"
)

type repeat struct{}

func (repeat) Name() KindName { return "repeat" }

// Class implements Kind.
func (repeat) Class() Class { return ClassList }

// repeatSpec is a list of entries, each a small set of questions.
type repeatSpec struct {
	Least     int        `json:"least,omitempty"`
	Most      int        `json:"most,omitempty"`  // 0 is 30
	Entry     string     `json:"entry,omitempty"` // what one is called: "guest"
	Questions []Question `json:"questions"`
	specs     map[Key]Spec
}

// The limits of a repeat.
const (
	mostEntries        = 300
	mostEntryQuestions = 20
)

// once lists the kinds that cannot be asked more than once in an order line.
var once = []KindName{"booking", "repeat", "section", "link_value", "signature", "consent"}

// Repeatable says whether questions of a kind can be asked for each entry or
// each unit.
func Repeatable(k KindName) bool { return !slices.Contains(once, k) }

func (repeat) Spec(raw json.RawMessage) (Spec, error) {
	s, err := settings[repeatSpec](raw)
	if err != nil {
		return nil, err
	}
	if s.Most == 0 {
		s.Most = 30
	}
	switch {
	case len(s.Questions) == 0 || len(s.Questions) > mostEntryQuestions:
		return nil, words.Tell("setting.entry_needs_between_1_questions", "mostentryquestions", mostEntryQuestions)
	case s.Least < 0 || s.Most < 1 || s.Most > mostEntries || s.Least > s.Most:
		return nil, words.Tell("setting.number_entries_must_lie_between", "mostentries", mostEntries)
	}
	s.specs = map[Key]Spec{}
	for _, q := range s.Questions {
		switch {
		case !q.Key.Valid():
			return nil, words.Tell("setting.key_entrys_question_needs_lowercase", "key", q.Key)
		case s.specs[q.Key] != nil:
			return nil, words.Tell("setting.two_questions_entry_have_key", "key", q.Key)
		case strings.TrimSpace(q.Wording) == "":
			return nil, words.Tell("setting.question_entry_needs_wording", "key", q.Key)
		case !Repeatable(q.Kind):
			return nil, words.Tell("setting.question_entry_kind_asked_only", "key", q.Key)
		}
		if s.specs[q.Key], err = Compile(q); err != nil {
			return nil, words.Tell("setting.question_entry", "key", q.Key, "why", err)
		}
		if s.specs[q.Key].Class() == ClassNone {
			return nil, words.Tell("setting.question_entry_asks_nothing", "key", q.Key)
		}
		if r, ok := s.specs[q.Key].(Referring); ok && len(r.Refers()) > 0 {
			return nil, words.Tell("setting.question_entry_cannot_depend_on")
		}
	}
	return s, nil
}

func (repeatSpec) Class() Class { return ClassList }

// A Listing spec asks for entries that have questions of their own.
type Listing interface {
	// EntrySpec finds what a question of an entry asks for.
	EntrySpec(Key) (Spec, bool)
	// EntryQuestions lists the questions of an entry.
	EntryQuestions() []Question
}

// EntrySpec implements Listing.
func (s repeatSpec) EntrySpec(k Key) (Spec, bool) {
	spec, ok := s.specs[k]
	return spec, ok
}

// EntryQuestions implements Listing.
func (s repeatSpec) EntryQuestions() []Question { return s.Questions }

// Extra gives what the questions of an entry need to be drawn, by their keys.
func (s repeatSpec) Extra(l words.Language) any {
	extras := map[string]any{}
	for _, q := range s.Questions {
		if x, ok := s.specs[q.Key].(WithExtra); ok {
			extras[string(q.Key)] = x.Extra(l)
		}
	}
	if len(extras) == 0 {
		return nil
	}
	return map[string]any{"questions": extras}
}

// Decode keeps what could not be read of an entry for Check, so that all that
// is wrong is told at once.
func (s repeatSpec) Decode(raw json.RawMessage) (Value, *Fault) {
	var list []map[string]json.RawMessage
	if json.Unmarshal(raw, &list) != nil || len(list) > mostEntries {
		return nil, fault("type_repeat")
	}
	r := Repeat{}
	for i, entry := range list {
		answers, wrong := Decode(entry, func(k Key) (Spec, bool) { spec, ok := s.specs[k]; return spec, ok })
		for _, f := range wrong {
			name := f.Name()
			f.Key, f.Path = "", name
			r.unread = append(r.unread, within(strconv.Itoa(i), []Fault{f})...)
		}
		r.Entries = append(r.Entries, answers)
	}
	return r, nil
}

func (s repeatSpec) Check(v Value, env Env) []Fault {
	r := v.(Repeat)
	wrong := slices.Clone(r.unread)
	switch n := len(r.Entries); {
	case n < s.Least:
		wrong = append(wrong, *fault("entries_least", "least", strconv.Itoa(s.Least)))
	case n > s.Most:
		wrong = append(wrong, *fault("entries_most", "most", strconv.Itoa(s.Most)))
	}
	for i, entry := range r.Entries {
		for _, q := range s.Questions {
			path := strconv.Itoa(i) + "." + string(q.Key)
			if slices.ContainsFunc(r.unread, func(f Fault) bool { return f.Path == path }) {
				continue
			}
			v, ok := entry[q.Key]
			switch {
			case ok && v.Answered():
				wrong = append(wrong, within(path, s.specs[q.Key].Check(v, env))...)
			case q.Required:
				wrong = append(wrong, Fault{Code: "required", Path: path})
			}
		}
	}
	return wrong
}

// Words writes an entry a line.
func (s repeatSpec) Words(v Value, env Env) string {
	var lines []string
	for _, entry := range v.(Repeat).Entries {
		var parts []string
		for _, q := range s.Questions {
			if v, ok := entry[q.Key]; ok && v.Answered() {
				parts = append(parts, strings.ReplaceAll(s.specs[q.Key].Words(v, env), "\n", ", "))
			}
		}
		lines = append(lines, strings.Join(parts, ", "))
	}
	return strings.Join(lines, "\n")
}

// Repeat is a list of entries.
type Repeat struct {
	Entries []Answers
	unread  []Fault
}

// Answered is false for a list of nothing but empty entries.
func (r Repeat) Answered() bool {
	return len(r.unread) > 0 || slices.ContainsFunc(r.Entries, func(a Answers) bool {
		for _, v := range a {
			if v.Answered() {
				return true
			}
		}
		return false
	})
}

// Terms counts the entries.
func (r Repeat) Terms() Terms { return Terms{Number: decimal.NewFromInt(int64(len(r.Entries)))} }

// MarshalJSON writes the entries' answers.
func (r Repeat) MarshalJSON() ([]byte, error) {
	list := make([]map[string]json.RawMessage, len(r.Entries))
	for i, e := range r.Entries {
		raw, err := Encode(e)
		if err != nil {
			return nil, err
		}
		list[i] = raw
	}
	return json.Marshal(list)
}

// Uploads gives the files of all entries.
func (r Repeat) Uploads() []Uploaded {
	var all []Uploaded
	for _, e := range r.Entries {
		all = append(all, e.Uploads()...)
	}
	return all
}

// Uploads gives the files of all answers.
func (a Answers) Uploads() []Uploaded {
	var all []Uploaded
	for _, v := range a {
		if f, ok := v.(Filed); ok {
			all = append(all, f.Uploads()...)
		}
	}
	return all
}

// Samples implements Sampled: lists of so many entries.
func (s repeatSpec) Samples(around []int) ([]Value, bool) {
	counts, all := numbersFor(max(s.Least, 1), s.Most, around)
	list := make([]Value, len(counts))
	for i, n := range counts {
		list[i] = Repeat{Entries: slices.Repeat([]Answers{{"x": Text("x")}}, n)}
	}
	return list, all
}

// AnyEntries lists lists of entries that stand for all valid ones where the order
// of the entries does not matter; false when there are more than a limit.
func (s repeatSpec) AnyEntries(limit int) ([]Value, bool) {
	entries := []Answers{{}}
	for _, q := range s.Questions {
		spec, ok := s.specs[q.Key].(Sampled)
		if !ok {
			return nil, false
		}
		values, all := spec.Samples(nil)
		if !all || len(values)*len(entries) > limit {
			return nil, false
		}
		if !q.Required {
			values = append([]Value{nil}, values...)
		}
		var next []Answers
		for _, e := range entries {
			for _, v := range values {
				one := maps.Clone(e)
				if v != nil {
					one[q.Key] = v
				}
				next = append(next, one)
			}
		}
		entries = next
	}
	var lists []Value
	var add func(from int, list []Answers) bool
	add = func(from int, list []Answers) bool {
		if len(list) >= max(s.Least, 1) {
			if r := (Repeat{Entries: slices.Clone(list)}); r.Answered() {
				lists = append(lists, r)
			}
		}
		if len(lists) > limit {
			return false
		}
		if len(list) == s.Most {
			return true
		}
		for i := from; i < len(entries); i++ {
			if !add(i, append(list, entries[i])) {
				return false
			}
		}
		return true
	}
	if !add(0, nil) {
		return nil, false
	}
	return lists, true
}

// Range gives the range of how many entries there are.
func (s repeatSpec) Range() (least, most float64) { return float64(s.Least), float64(s.Most) }

// MakeUp implements Inventive.
func (s repeatSpec) MakeUp(r *rand.Rand, env Env) Value {
	least := max(s.Least, 1)
	list := Repeat{Entries: make([]Answers, least+r.IntN(min(s.Most-least, 2)+1))}
	for i := range list.Entries {
		list.Entries[i] = Answers{}
		for _, q := range s.Questions {
			if v, ok := MakeUp(s.specs[q.Key], r, env); ok && (q.Required || r.IntN(2) == 0) {
				list.Entries[i][q.Key] = v
			}
		}
	}
	return list
}

package brief

import (
	"strings"
	"testing"

	"ruvo/internal/core/question"
)

// Every kind that can be asked of one order makes a question that can be answered, and
// what cannot be asked is told with its field.
func TestOneMoreThing(t *testing.T) {
	for _, kind := range ThingKinds() {
		q, field, err := Thing(7, kind, " Which door? ", "", []string{"front", "", "back"})
		if err != nil || q.Wording != "Which door?" || q.Key != "thing_7" || !q.Key.Valid() {
			t.Errorf("%s: %+v, %s, %v", kind, q, field, err)
		}
		if _, err := question.Compile(q); err != nil {
			t.Errorf("%s: %v", kind, err)
		}
	}
	for want, c := range map[string]struct {
		kind          question.KindName
		wording, help string
		choices       []string
	}{
		"kind": {"booking", "When?", "", nil}, "wording": {"yes_no", "  ", "", nil}, "help": {"yes_no", "Is it?", strings.Repeat("a", 1001), nil},
		"choices": {"one_choice", "Which?", "", []string{"only one", " "}},
	} {
		if _, field, err := Thing(1, c.kind, c.wording, c.help, c.choices); err == nil || field != want {
			t.Errorf("%s: %s, %v", want, field, err)
		}
	}
}

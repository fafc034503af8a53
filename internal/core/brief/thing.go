package brief

import (
	"encoding/json"
	"fmt"
	"slices"
	"strings"

	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
)

// The limits of one more thing that a seller asks of an order.
const (
	longestWording = 300 // characters
	longestHelp    = 1000
	mostChoices    = 20
	MostThings     = 20 // of one order line
)

// ThingKinds lists the kinds of question that a seller can ask of one order beside those
// of its product.
func ThingKinds() []question.KindName {
	return []question.KindName{"short_text", "long_text", "yes_no", "one_choice", "count", "date", "files"}
}

// Thing makes the question that a seller asks of one order. The error tells the seller
// what is wrong, with the field that it is in.
func Thing(id int64, kind question.KindName, wording, help string, choices []string) (question.Question, string, error) {
	q := question.Question{
		Key: question.Key(fmt.Sprintf("thing_%d", id)), Kind: kind, Moment: question.Briefing,
		Wording: strings.TrimSpace(wording), Help: strings.TrimSpace(help),
	}
	switch {
	case !slices.Contains(ThingKinds(), kind):
		return q, "kind", words.Tell("thing.kind")
	case q.Wording == "" || question.Characters(q.Wording) > longestWording:
		return q, "wording", words.Tell("thing.wording", "most", longestWording)
	case question.Characters(q.Help) > longestHelp:
		return q, "help", words.Tell("thing.help", "most", longestHelp)
	}
	if kind == "one_choice" {
		type choice struct {
			Code  string `json:"code"`
			Label string `json:"label"`
		}
		var list []choice
		for _, label := range choices {
			if label = strings.TrimSpace(label); label != "" {
				list = append(list, choice{fmt.Sprintf("c%d", len(list)+1), label})
			}
		}
		if len(list) < 2 || len(list) > mostChoices {
			return q, "choices", words.Tell("thing.choices", "most", mostChoices)
		}
		raw, err := json.Marshal(map[string]any{"choices": list, "drawn": "buttons"})
		if err != nil {
			return q, "choices", err
		}
		q.Settings = raw
	}
	if _, err := question.Compile(q); err != nil {
		return q, "kind", err
	}
	return q, "", nil
}

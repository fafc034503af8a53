package apiview

import (
	"encoding/json"

	"ruvo/api"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/docket"
	"ruvo/internal/store"
)

// Things shows what was asked of a line beside the questions of its product, with the
// answers in words.
func Things(tx *store.Tx, line *docket.Line, l words.Language) ([]api.Thing, error) {
	rows, err := tx.Things(line.Row.ID)
	list := []api.Thing{}
	for _, t := range rows {
		v, verr := thing(&t, line, l)
		if verr != nil {
			return list, verr
		}
		list = append(list, v)
	}
	return list, err
}

func thing(t *store.Thing, line *docket.Line, l words.Language) (api.Thing, error) {
	v := api.Thing{Id: t.ID, Asked: t.AskedAt, By: t.AskedBy, Answered: t.AnsweredAt, Value: t.Value}
	q := &t.Question
	v.Question = api.QuestionView{
		Key: string(q.Key), Kind: string(q.Kind), Moment: q.Moment, Wording: q.Wording, Help: text(q.Help), Settings: q.Settings, ChoiceHints: map[string]string{},
	}
	if len(v.Question.Settings) == 0 {
		v.Question.Settings = json.RawMessage("{}")
	}
	if t.Was != "" {
		v.Was = &t.Was
	}
	spec, err := question.Compile(*q)
	if err != nil || t.Value == nil {
		return v, err
	}
	said, err := ThingWords(spec, t.Value, line, l)
	if said != "" {
		v.Words = &said
	}
	return v, err
}

// ThingWords says how an answer reads.
func ThingWords(spec question.Spec, raw json.RawMessage, line *docket.Line, l words.Language) (string, error) {
	value, wrong := spec.Decode(raw)
	if wrong != nil || !value.Answered() {
		return "", nil
	}
	return spec.Words(value, line.Env(l)), nil
}

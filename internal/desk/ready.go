package desk

import (
	"embed"
	"encoding/json"
	"path"
	"strings"

	"ruvo/api"
	"ruvo/internal/core/product"
	"ruvo/internal/core/words"
	"ruvo/internal/problem"
)

// Ready-made products to start from, written in English, and their words in
// each other language by the English ones.
//
//go:embed readymade
var readymade embed.FS

// Readymade lists the ready-made products in a language.
func Readymade(l words.Language) ([]api.ReadyMade, error) {
	entries, err := readymade.ReadDir("readymade")
	list := []api.ReadyMade{}
	for _, e := range entries {
		if e.IsDir() {
			continue
		}
		name := strings.TrimSuffix(e.Name(), path.Ext(e.Name()))
		d, err := ready(name, l)
		if err != nil {
			return nil, err
		}
		list = append(list, api.ReadyMade{Name: name, Title: d.Title, Summary: d.Summary, Questions: len(d.Questions), Steps: len(d.Steps)})
	}
	return list, err
}

// ready reads a ready-made product in a language.
func ready(name string, l words.Language) (product.Draft, error) {
	var d product.Draft
	raw, err := readymade.ReadFile("readymade/" + name + ".json")
	if err != nil || path.Base(name) != name {
		return d, problem.NotFound(l, "no_product")
	}
	if l != words.English {
		if raw, err = worded(raw, l); err != nil {
			return d, err
		}
	}
	return d, json.Unmarshal(raw, &d)
}

// read names the fields of a draft that people read.
var read = map[string]bool{
	"title": true, "summary": true, "next": true, "wording": true, "help": true, "instructions": true, "label": true,
	"noun": true, "nouns": true, "name": true, "entry": true, "text": true,
}

// worded gives a ready-made product with its words in another language.
func worded(raw []byte, l words.Language) ([]byte, error) {
	said := map[string]string{}
	file, err := readymade.ReadFile("readymade/words/" + string(l) + ".json")
	if err == nil {
		err = json.Unmarshal(file, &said)
	}
	if err != nil {
		return nil, err
	}
	var all any
	if err := json.Unmarshal(raw, &all); err != nil {
		return nil, err
	}
	reword(all, func(english string) string {
		if other, ok := said[english]; ok {
			return other
		}
		return english
	})
	return json.Marshal(all)
}

// reword puts other words into the fields that people read.
func reword(part any, say func(english string) string) {
	switch part := part.(type) {
	case []any:
		for _, x := range part {
			reword(x, say)
		}
	case map[string]any:
		for field, x := range part {
			if english, ok := x.(string); ok && read[field] {
				part[field] = say(english)
			} else {
				reword(x, say)
			}
		}
	}
}

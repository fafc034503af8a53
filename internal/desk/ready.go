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

// Ready-made products to start from.
//
//go:embed readymade/*.json
var readymade embed.FS

// Readymade lists the ready-made products.
func Readymade() ([]api.ReadyMade, error) {
	entries, err := readymade.ReadDir("readymade")
	list := []api.ReadyMade{}
	for _, e := range entries {
		name := strings.TrimSuffix(e.Name(), path.Ext(e.Name()))
		d, err := ready(name, words.English)
		if err != nil {
			return nil, err
		}
		list = append(list, api.ReadyMade{Name: name, Title: d.Title, Summary: d.Summary, Questions: len(d.Questions), Steps: len(d.Steps)})
	}
	return list, err
}

// ready reads a ready-made product.
func ready(name string, l words.Language) (product.Draft, error) {
	var d product.Draft
	raw, err := readymade.ReadFile("readymade/" + name + ".json")
	if err != nil { // a name that is no file's name, too
		return d, problem.NotFound(l, "no_product")
	}
	return d, json.Unmarshal(raw, &d)
}

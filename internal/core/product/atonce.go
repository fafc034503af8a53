package product

import (
	"slices"

	"ruvo/internal/core/atonce"
	"ruvo/internal/core/question"
)

// atOnce checks what is given at once.
func (c *check) atOnce() {
	e := c.edition
	if len(e.AtOnce) > atonce.Most {
		c.wrong(InProduct, "at_once", "finding.at_once_many", "most", atonce.Most)
		e.AtOnce = e.AtOnce[:atonce.Most]
	}
	gifts := e.AtOnce
	e.AtOnce = nil
	for i := range gifts {
		g := &gifts[i]
		err := g.Validate()
		if err == nil && slices.ContainsFunc(gifts[:i], func(o atonce.Gift) bool { return o.Key == g.Key }) {
			c.wrong(InProduct, "at_once", "finding.at_once_twice", "title", g.Title)
			continue
		}
		if err != nil {
			c.wrong(InProduct, "at_once", "finding.at_once", "title", g.Title, "why", err)
			continue
		}
		if g.Of != "" && !c.choices(g.Of, g.Codes) {
			c.wrong(InProduct, "at_once", "finding.at_once_choice", "title", g.Title)
			continue
		}
		c.fields(InProduct, "at_once", g.Title, c.template(InProduct, "at_once", g.Title, g.Text), question.Briefing)
		e.AtOnce = append(e.AtOnce, *g)
	}
}

// choices says whether a question has choices of all these codes.
func (c *check) choices(k question.Key, codes []string) bool {
	item, ok := c.edition.Item(k)
	if !ok || len(codes) == 0 {
		return false
	}
	spec, ok := item.Spec.(question.Choosable)
	if !ok {
		return false
	}
	return !slices.ContainsFunc(codes, func(code string) bool {
		return !slices.ContainsFunc(spec.All(), func(ch question.Choice) bool { return ch.Code == code })
	})
}

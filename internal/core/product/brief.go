package product

import "ruvo/internal/core/question"

// briefTerms checks how answers are collected after payment.
func (c *check) briefTerms() {
	t := c.edition.Brief
	if t == nil {
		return
	}
	const key = "brief"
	if err := t.Validate(); err != nil {
		c.wrong(InProduct, key, "finding.brief", "why", err)
		c.edition.Brief = nil
		return
	}
	title := c.edition.Title
	c.fields(InProduct, key, title, c.template(InProduct, key, title, t.Thanks), question.Briefing)
}

package product

import "ruvo/internal/core/question"

// handover checks how finished files are handed over.
func (c *check) handover() {
	t := c.edition.Handover
	if t == nil {
		return
	}
	const key = "handover"
	if err := t.Validate(); err != nil {
		c.wrong(InProduct, key, "finding.handover", "why", err)
		c.edition.Handover = nil
		return
	}
	title := c.edition.Title
	c.fields(InProduct, key, title, c.template(InProduct, key, title, t.Message), question.Briefing)
}

package message

import (
	"fmt"
	"strconv"
	"time"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/words"
	"ruvo/internal/docket"
	"ruvo/internal/store"
)

// WriteHandover writes that something was handed over, with the seller's message and
// what the customer is asked.
func WriteHandover(tx *store.Tx, line *docket.Line, h *store.Handover, now time.Time) error {
	l := line.Given.Language
	told := ""
	if h.Message != "" {
		told = h.Message + "\n\n"
	}
	more := ""
	if h.Asks {
		more = l.Say("mail.handover.asks", nil)
		if h.SilentAt != nil {
			more += " " + l.Fill("mail.handover.silence", "day", lastDay(l, h.SilentAt, line.Given.Zone))
		}
		more += "\n\n"
	}
	if h.UntilAt != nil {
		more += l.Fill("mail.handover.until", "day", lastDay(l, h.UntilAt, line.Given.Zone)) + "\n\n"
	}
	kind := "handover"
	if h.Asks && !h.Whole {
		kind = "shown"
	}
	err := write(tx, line.Business, line.Order, []*docket.Line{line}, kind, fmt.Sprintf("handover-%d", h.ID), words.Params{"told": told, "more": more}, now)
	if o := &line.Order; err == nil && h.Whole && !h.Asks && o.ToldAt != nil && o.Recipient != nil && o.Recipient.Files && o.Recipient.Email != "" {
		err = WriteGift(tx, []*docket.Line{line}, "ready", now)
	}
	return err
}

// WriteSilence writes that no answer counted as acceptance.
func WriteSilence(tx *store.Tx, line *docket.Line, now time.Time) error {
	return write(tx, line.Business, line.Order, []*docket.Line{line}, "silence", fmt.Sprintf("silence-%d-%d", line.Row.ID, now.UnixNano()), words.Params{}, now)
}

// WriteEnding writes that files will go, and when.
func WriteEnding(tx *store.Tx, line *docket.Line, h *store.Handover, now time.Time) error {
	return write(tx, line.Business, line.Order, []*docket.Line{line}, "ending", "ending-"+strconv.FormatInt(h.ID, 10),
		words.Params{"day": lastDay(line.Given.Language, h.UntilAt, line.Given.Zone)}, now)
}

// lastDay says which day ends at an instant.
func lastDay(l words.Language, end *time.Time, zone *time.Location) string {
	return l.Day(calendar.DayOf(end.Add(-time.Minute).In(zone)))
}

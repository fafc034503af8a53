package desk

import (
	"context"
	"net/http"
	"strings"
	"time"

	"github.com/teambition/rrule-go"

	"ruvo/api"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/order"
	"ruvo/internal/core/words"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// The bounds of items by hand.
const (
	longestItem = 200 // letters of a title
	mostMinutes = 100_000
	mostNoted   = 5000 // bytes
)

// AddItem adds a work item by hand: to an order line, or to none. One that repeats
// comes again on its next day as soon as it is done.
func (d *Desk) AddItem(ctx context.Context, n api.NewItem, l words.Language) (api.WorkItem, error) {
	var row store.WorkItem
	err := d.Store.Write(ctx, func(tx *store.Tx) error {
		b, err := tx.Business()
		if err != nil {
			return err
		}
		w := store.WorkItem{ReadyAt: store.Time(d.Now()), AssignedTo: deref(n.Assigned), Repeats: strings.TrimSpace(deref(n.Repeats))}
		title := n.Title
		wrong := byHand(&w, &title, n.Instructions, n.Minutes, l)
		if w.AssignedTo != 0 && !b.Person(w.AssignedTo) {
			wrong = append(wrong, problem.Field(l, "assigned", "no_person", nil))
		}
		due := deref(n.Due)
		if due == "" {
			due = calendar.DayOf(d.Now().In(b.Location())).String()
		}
		at, err := readDay(due, b.Hours())
		if err != nil {
			wrong = append(wrong, problem.Field(l, "due", "type_date", nil))
		}
		if w.Repeats != "" {
			if _, err := next(w.Repeats, at, b.Location()); err != nil || n.Line != nil {
				wrong = append(wrong, problem.Field(l, "repeats", "item_repeats", nil))
			}
		}
		if len(wrong) > 0 {
			return problem.Invalid(l, wrong)
		}
		if n.Line != nil {
			line, err := d.open(tx, *n.Line, l)
			if err != nil {
				return err
			}
			if code := line.State().Refused(order.Work); code != "" {
				return problem.Say(http.StatusConflict, l, code, nil)
			}
			w.LineID, w.ProductID = line.Row.ID, line.Row.ProductID
		}
		w.OwnDueAt = store.Time(at)
		w.By(nil)
		rows := []store.WorkItem{w}
		if err := tx.AddItems(rows); err != nil {
			return err
		}
		row = rows[0]
		return d.counted(tx, row.LineID, l)
	})
	if err != nil {
		return api.WorkItem{}, err
	}
	views, err := d.shown(ctx, []store.WorkItem{row})
	if err != nil {
		return api.WorkItem{}, err
	}
	return views[0], nil
}

// counted counts a line's open items again after one was added or taken away by hand.
func (d *Desk) counted(tx *store.Tx, line int64, l words.Language) error {
	if line == 0 {
		return nil
	}
	opened, err := d.open(tx, line, l)
	if err != nil {
		return err
	}
	return opened.Keep(tx, d.Now())
}

// DropItem takes away an item that was added by hand and not begun.
func (d *Desk) DropItem(ctx context.Context, id int64, l words.Language) error {
	return d.Store.Write(ctx, func(tx *store.Tx) error {
		w, err := tx.ItemByID(id)
		if err != nil {
			return problem.Missing(err, l, "no_item")
		}
		if w.Step != "" || w.StartedAt != nil {
			return problem.Say(http.StatusConflict, l, "item_stays", nil)
		}
		if err := tx.DropItem(&w); err != nil {
			return err
		}
		return d.counted(tx, w.LineID, l)
	})
}

// byHand changes what an item by hand says; what is nil stays.
func byHand(w *store.WorkItem, title, instructions *string, minutes *int, l words.Language) (wrong []api.FieldError) {
	if title != nil {
		w.Title = strings.TrimSpace(*title)
	}
	if instructions != nil {
		w.Instructions = strings.TrimSpace(*instructions)
	}
	if minutes != nil {
		w.Minutes = *minutes
	}
	if n := len([]rune(w.Title)); n == 0 || n > longestItem {
		wrong = append(wrong, problem.Field(l, "title", "item_title", nil))
	}
	if len(w.Instructions) > mostNoted {
		wrong = append(wrong, problem.Field(l, "instructions", "too_long", nil))
	}
	if w.Minutes < 0 || w.Minutes > mostMinutes {
		wrong = append(wrong, problem.Field(l, "minutes", "item_minutes", nil))
	}
	return wrong
}

// next gives when a repeating item (RFC 5545, RRULE) is due after an instant; zero
// for never.
func next(rule string, after time.Time, zone *time.Location) (time.Time, error) {
	option, err := rrule.StrToROptionInLocation(rule, zone)
	if err != nil {
		return time.Time{}, err
	}
	if option.Freq > rrule.DAILY { // not by the hour
		return time.Time{}, problem.Say(http.StatusBadRequest, words.English, "item_repeats", nil)
	}
	option.Dtstart = after.In(zone)
	r, err := rrule.NewRRule(*option)
	if err != nil {
		return time.Time{}, err
	}
	return r.After(after, false), nil
}

// actByHand begins, finishes or takes back an item that belongs to no order. One that
// repeats is there for its next day once it is done, and gone again when that is
// taken back.
func (d *Desk) actByHand(ctx context.Context, tx *store.Tx, w store.WorkItem, act order.WorkAct, l words.Language) (store.WorkItem, error) {
	item, code := order.Worked(w.Plan(), act, nil, d.Now())
	if code != "" {
		return w, problem.Say(http.StatusConflict, l, code, nil)
	}
	was, before := w.DoneAt != nil, w
	w.Take(item)
	if err := d.clocked(ctx, &w, before, act, l); err != nil {
		return w, err
	}
	if err := tx.SaveItem(&w); err != nil || w.Repeats == "" || was == (w.DoneAt != nil) {
		return w, err
	}
	if was {
		return w, tx.DropRepeated(&w)
	}
	b, err := tx.Business()
	if err != nil {
		return w, err
	}
	at, err := next(w.Repeats, store.When(w.OwnDueAt), b.Location())
	if err != nil || at.IsZero() {
		return w, err
	}
	again := store.WorkItem{
		Title: w.Title, Instructions: w.Instructions, Minutes: w.Minutes, AssignedTo: w.AssignedTo, Priority: w.Priority, Repeats: w.Repeats,
		ReadyAt: store.Time(calendar.DayOf(at.In(b.Location())).At(0, b.Location())), OwnDueAt: store.Time(at), Round: w.Round + 1, Place: int(w.ID),
	}
	again.By(nil)
	return w, tx.AddItems([]store.WorkItem{again})
}

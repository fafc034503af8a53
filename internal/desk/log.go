package desk

import (
	"bytes"
	"context"
	"strings"
	"time"

	"ruvo/api"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/words"
	"ruvo/internal/document"
	"ruvo/internal/limit"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// logTime is how long the log keeps what happened.
const logTime = 400 * 24 * time.Hour

// An event is something that the log keeps. Its code says the words, its topic
// where people look for it.
type event struct{ code, topic string }

var (
	signedIn     = event{"signed_in", "access"}
	signInFailed = event{"sign_in_failed", "access"}
	signInPaused = event{"sign_in_paused", "access"}
	signedOut    = event{"signed_out", "access"}
	sessionEnded = event{"session_ended", "access"}
	refused      = event{"refused", "access"}

	personAdded     = event{"person_added", "people"}
	passwordChanged = event{"password_changed", "people"}
	groupAdded      = event{"group_added", "people"}
	groupChanged    = event{"group_changed", "people"}
	groupDropped    = event{"group_dropped", "people"}
	groupInvited    = event{"group_invited", "people"}
	membersAdded    = event{"members_added", "people"}
	membersDropped  = event{"members_dropped", "people"}
	linksReplaced   = event{"links_replaced", "people"}
	linksEnded      = event{"links_ended", "people"}

	settingsChanged  = event{"settings_changed", "settings"}
	feedMade         = event{"feed_made", "settings"}
	feedEnded        = event{"feed_ended", "settings"}
	closedRead       = event{"closed_read", "settings"}
	termsChanged     = event{"terms_changed", "prices"}
	productPublished = event{"product_published", "prices"}
	checkoutArranged = event{"checkout_arranged", "settings"}
	agreementAdded   = event{"agreement_added", "settings"}
	newsNoted        = event{"news_noted", "people"}
	rehearsalBegun   = event{"rehearsal_begun", "prices"}
	rehearsalsSwept  = event{"rehearsals_swept", "prices"}
	sheetPublished   = event{"sheet_published", "prices"}
	sheetDropped     = event{"sheet_dropped", "prices"}
	couponsAdded     = event{"coupons_added", "prices"}
	couponSwitched   = event{"coupon_switched", "prices"}
	voucherBlocked   = event{"voucher_blocked", "prices"}
	voucherFreed     = event{"voucher_freed", "prices"}
	stockDropped     = event{"stock_dropped", "prices"}

	moneyReturned   = event{"money_returned", "money"}
	moneyReceived   = event{"money_received", "money"}
	depositReleased = event{"deposit_released", "money"}
	orderCancelled  = event{"order_cancelled", "money"}
	orderFreed      = event{"order_freed", "money"}
	orderAccepted   = event{"order_accepted", "money"}
	statementRead   = event{"statement_read", "money"}
	transferDecided = event{"transfer_decided", "money"}

	ordersExported    = event{"orders_exported", "exports"}
	customersExported = event{"customers_exported", "exports"}
	newsExported      = event{"news_exported", "exports"}
	customersImported = event{"customers_imported", "exports"}
	calendarExported  = event{"calendar_exported", "exports"}
	entriesExported   = event{"entries_exported", "exports"}
	worksheetExported = event{"worksheet_exported", "exports"}
	logExported       = event{"log_exported", "exports"}
	filesSaved        = event{"files_saved", "exports"}
	fileSaved         = event{"file_saved", "exports"}
)

// log keeps what the person of a request did, in the transaction that did it.
func (d *Desk) log(ctx context.Context, tx *store.Tx, e event, about string) error {
	return tx.Log(store.LogEntry{At: d.Now().UTC(), What: e.code, Topic: e.topic, Who: Author(ctx), Address: limit.Address(ctx), About: cut(about, 300)})
}

// logStranger keeps what somebody did who is not signed in: so much of it that
// it can be seen, and no more than a disk can bear.
func (d *Desk) logStranger(ctx context.Context, tx *store.Tx, e event, about string) error {
	if d.Guard.strangers.Take(limit.Sender(ctx), 1) > 0 {
		return nil
	}
	return d.log(ctx, tx, e, about)
}

// Refused keeps in the log that a request was refused for want of rights.
// Route is what was asked for.
func (d *Desk) Refused(ctx context.Context, route string) error {
	if d.Guard.strangers.Take(limit.Sender(ctx), 1) > 0 {
		return nil
	}
	return d.Store.Write(ctx, func(tx *store.Tx) error { return d.log(ctx, tx, refused, route) })
}

// AddedPerson keeps in the log that somebody was added from the command line.
func AddedPerson(tx *store.Tx, u store.User, at time.Time) error {
	return tx.Log(store.LogEntry{At: at.UTC(), What: personAdded.code, Topic: personAdded.topic, About: u.Name})
}

// A LogQuery chooses entries of the log. Days are ISO 8601 in the business's
// time zone; empty fields choose all.
type LogQuery struct {
	Topic, Text, From, To string
}

const pageOfLog = 50

// Log shows a page of what happened, the newest first. Pages count from 1.
func (d *Desk) Log(ctx context.Context, q LogQuery, page int, l words.Language) (api.LogPage, error) {
	view := api.LogPage{Entries: []api.LogEntry{}}
	page = max(page, 1)
	err := d.Store.Read(ctx, func(tx *store.Tx) error {
		f, err := logFilter(tx, q, l)
		if err != nil {
			return err
		}
		rows, n, err := tx.LogEntries(f, (min(page, 1_000_000)-1)*pageOfLog, pageOfLog)
		view.Total, view.Page, view.Size = n, page, pageOfLog
		for _, r := range rows {
			view.Entries = append(view.Entries, api.LogEntry{Id: r.ID, At: r.At, Topic: api.LogTopic(r.Topic), What: l.Say("log."+r.What, nil), Who: r.Who, Address: r.Address, About: r.About})
		}
		return err
	})
	return view, err
}

func logFilter(tx *store.Tx, q LogQuery, l words.Language) (store.LogFilter, error) {
	f := store.LogFilter{Topic: q.Topic, Text: cut(strings.TrimSpace(q.Text), 200)}
	b, err := tx.Business()
	if err != nil {
		return f, err
	}
	var wrong []api.FieldError
	day := func(name, text string, days int) (at time.Time) {
		if text == "" {
			return at
		}
		d, err := calendar.ParseDay(text)
		if err != nil {
			wrong = append(wrong, problem.Field(l, name, "day", nil))
			return at
		}
		return d.Add(days).At(0, b.Location())
	}
	f.From, f.Until = day("from", q.From, 0), day("to", q.To, 1)
	if len(wrong) > 0 {
		return f, problem.Invalid(l, wrong)
	}
	return f, nil
}

// ExportLog writes what happened as a table.
func (d *Desk) ExportLog(ctx context.Context, q LogQuery, l words.Language) (Download, error) {
	rows := [][]string{{"at", "topic", "what", "who", "from", "about"}}
	err := d.Store.Write(ctx, func(tx *store.Tx) error {
		f, err := logFilter(tx, q, l)
		if err != nil {
			return err
		}
		entries, _, err := tx.LogEntries(f, 0, mostExported)
		for _, e := range entries {
			rows = append(rows, []string{e.At.UTC().Format(time.RFC3339), e.Topic, l.Say("log."+e.What, nil), e.Who, e.Address, e.About})
		}
		if err != nil {
			return err
		}
		return d.log(ctx, tx, logExported, "")
	})
	if err != nil {
		return Download{}, err
	}
	var out bytes.Buffer
	err = document.CSV(&out, rows)
	return Download{Name: "log.csv", Type: "text/csv", Size: int64(out.Len()), Body: &out}, err
}

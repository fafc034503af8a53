package desk

import (
	"context"
	"errors"
	"slices"
	"strconv"
	"strings"
	"time"

	"ruvo/api"
	"ruvo/internal/apiview"
	"ruvo/internal/core/agreement"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/words"
	"ruvo/internal/store"
)

// newsOf lists what was said about news of all addresses of a person, the newest first.
func newsOf(tx *store.Tx, mails []string) ([]api.CustomerNews, error) {
	list := []api.CustomerNews{}
	for _, mail := range mails {
		said, err := tx.NewsWords(mail)
		if err != nil {
			return nil, err
		}
		for _, w := range slices.Backward(said) {
			v := api.CustomerNews{Email: w.Email, Agreed: w.Agreed, Version: w.Version, At: w.At, Number: w.Number, Proven: w.Proven}
			if w.Author != "" {
				v.By = &w.Author
			}
			list = append(list, v)
		}
	}
	slices.SortStableFunc(list, func(a, b api.CustomerNews) int { return b.At.Compare(a.At) })
	return list, nil
}

// newsSince gives since when news may be written to a person; nil when it may not.
func newsSince(tx *store.Tx, email string) (*time.Time, error) {
	mails, err := tx.MailsOf(email)
	if err != nil {
		return nil, err
	}
	var since *time.Time
	for _, mail := range mails {
		said, err := tx.NewsWords(mail)
		if err != nil {
			return nil, err
		}
		if is := agreement.Standing(apiview.Words(said)); is != nil && (since == nil || is.At.Before(*since)) {
			since = &is.At
		}
	}
	return since, nil
}

// A reader is an address that news may be written to.
type reader struct {
	email  string
	counts agreement.Word
	last   store.NewsWord // the last that was said
}

// readers lists the addresses that news may be written to.
func readers(tx *store.Tx) ([]reader, error) {
	said, err := tx.NewsReaders()
	var list []reader
	for from := 0; from < len(said); {
		to := from
		for to < len(said) && said[to].Email == said[from].Email {
			to++
		}
		if is := agreement.Standing(apiview.Words(said[from:to])); is != nil {
			list = append(list, reader{said[from].Email, *is, said[to-1]})
		}
		from = to
	}
	return list, err
}

// newsDays gives the days since when news may be written to people, by their main
// addresses.
func newsDays(tx *store.Tx, zone *time.Location) (map[string]string, error) {
	days := map[string]string{}
	list, err := readers(tx)
	for _, r := range list {
		main, err := tx.MainMail(r.email)
		if err != nil {
			return nil, err
		}
		day := apiview.DayString(r.counts.At, zone)
		if before := days[main]; before == "" || day < before {
			days[main] = day
		}
	}
	return days, err
}

// NoteNews notes what a person said elsewhere about news: on the phone, or in a letter.
func (d *Desk) NoteNews(ctx context.Context, n api.NewsNote, l words.Language) (api.CustomerPage, error) {
	var v api.CustomerPage
	err := d.Store.Write(ctx, func(tx *store.Tx) error {
		email := strings.ToLower(strings.TrimSpace(n.Email))
		if _, err := d.customer(tx, email, l); err != nil {
			return err
		}
		said, err := tx.NewsWords(email)
		if err != nil {
			return err
		}
		if (agreement.Standing(apiview.Words(said)) != nil) != n.Agreed {
			if err := tx.AddNewsWord(store.NewsWord{Email: email, Agreed: n.Agreed, Author: Author(ctx), At: d.Now()}); err != nil {
				return err
			}
			if err := d.log(ctx, tx, newsNoted, email); err != nil {
				return err
			}
		}
		v, err = d.customer(tx, email, l)
		return err
	})
	return v, err
}

// ExportNews writes the addresses that news may be written to, with how they agreed.
func (d *Desk) ExportNews(ctx context.Context) (Download, error) {
	if err := d.exporting(ctx, newsExported, ""); err != nil {
		return Download{}, err
	}
	rows := [][]string{{"mail", "name", "agreed", "version", "order", "noted by", "address proven"}}
	err := d.Store.Read(ctx, func(tx *store.Tx) error {
		b, err := tx.Business()
		if err != nil {
			return err
		}
		list, err := readers(tx)
		if err != nil {
			return err
		}
		for _, r := range list {
			name, err := lastNameOf(tx, r.email)
			if err != nil {
				return err
			}
			version, number, proven := "", "", "no"
			if r.counts.Version > 0 {
				version = strconv.Itoa(r.counts.Version)
			}
			if r.last.Number != nil {
				number = strconv.FormatInt(*r.last.Number, 10)
			}
			if r.last.Proven {
				proven = "yes"
			}
			rows = append(rows, []string{r.email, name, apiview.DayString(r.counts.At, b.Location()), version, number, r.last.Author, proven})
		}
		return nil
	})
	if err != nil {
		return Download{}, err
	}
	return table("news.csv", rows)
}

// lastNameOf gives the name under which an address ordered last, or is noted.
func lastNameOf(tx *store.Tx, email string) (string, error) {
	orders, err := tx.OrdersByMail(email, 1)
	if err != nil || len(orders) > 0 {
		if len(orders) > 0 {
			return orders[0].Name, nil
		}
		return "", err
	}
	noted, err := tx.Customer(email)
	return noted.Name, err
}

var errNewsDay = errors.New("no day on which news could be agreed to")

// readAgreed reads the day on which somebody of a table agreed to news; the zero time for
// none.
func (d *Desk) readAgreed(text string, zone *time.Location) (time.Time, error) {
	if text = strings.TrimSpace(text); text == "" {
		return time.Time{}, nil
	}
	day, err := calendar.ParseDay(text)
	if err != nil || day.At(0, zone).After(d.Now()) {
		return time.Time{}, errNewsDay
	}
	return day.At(0, zone), nil
}

// importNews notes that somebody of a table agreed to news. What they said here since,
// or before, is not changed by it: a table may be older than their word.
func importNews(ctx context.Context, tx *store.Tx, email string, agreed time.Time) error {
	if agreed.IsZero() {
		return nil
	}
	said, err := tx.NewsWords(email)
	if err != nil || len(said) > 0 {
		return err
	}
	return tx.AddNewsWord(store.NewsWord{Email: email, Agreed: true, Author: Author(ctx), At: agreed})
}

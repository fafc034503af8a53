package shop

import (
	"context"
	"encoding/json"
	"fmt"
	"net/http"
	"slices"

	"ruvo/api"
	"ruvo/internal/apiview"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/handover"
	"ruvo/internal/core/order"
	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/docket"
	"ruvo/internal/link"
	"ruvo/internal/problem"
	"ruvo/internal/store"
	"ruvo/internal/talking"
)

// mostMine bounds the orders that somebody sees of theirs.
const mostMine = 500

// mostMyTalk bounds the messages that they see together.
const mostMyTalk = 20

// Mine shows a person who signed in all that is theirs: their orders with what comes of
// them, and what is kept of them for the next one.
func (s *Shop) Mine(ctx context.Context, l words.Language) (api.Mine, error) {
	email := customer(ctx)
	v := api.Mine{Email: email, Orders: []api.MyOrder{}, Answers: []api.MyAnswer{}, Files: []api.MyFile{}, Talk: []api.MyTalk{}}
	if email == "" {
		return v, problem.Say(http.StatusUnauthorized, l, "sign_in", nil)
	}
	err := s.Store.Read(ctx, func(tx *store.Tx) error {
		b, err := tx.Business()
		if err != nil {
			return err
		}
		v.Zone, v.Today = b.Zone, apiview.DayString(s.Now(), b.Location())
		orders, err := tx.OrdersByMail(email, mostMine)
		if err != nil {
			return err
		}
		for i := range orders {
			if v.Name == "" {
				v.Name = orders[i].Name
			}
			o, err := s.myOrder(tx, &orders[i], &v)
			if err != nil {
				return err
			}
			v.Orders = append(v.Orders, o)
		}
		slices.SortStableFunc(v.Talk, func(a, b api.MyTalk) int { return b.Talk.At.Compare(a.Talk.At) })
		v.Talk = v.Talk[:min(len(v.Talk), mostMyTalk)]
		if v.News, err = apiview.News(tx, email); err != nil {
			return err
		}
		v.Answers, err = s.myAnswers(tx, email, l)
		return err
	})
	return v, err
}

// myOrder shows an order of a person, and adds to what is theirs its files and messages.
func (s *Shop) myOrder(tx *store.Tx, o *store.Order, mine *api.Mine) (api.MyOrder, error) {
	v := api.MyOrder{Placed: o.Since(), State: api.OrderState(o.State), Total: int(o.Total), Currency: string(o.Currency), Lines: []api.MyLine{}}
	if o.Number != nil {
		v.Number = *o.Number
	}
	lines, err := docket.Lines(tx, s.Editions, o, s.Now())
	if err != nil {
		return v, err
	}
	for _, line := range lines {
		m := api.MyLine{Title: line.Edition.Title, Missing: len(line.Row.Missing), Cancelled: line.Row.CancelledAt != nil, Handed: line.Row.HandedAt}
		if line.Row.ClosedAt != nil || line.State().Refused(order.Answer) != "" {
			m.Missing = 0
		}
		if day := line.Promised(); day != "" {
			m.Promised = &day
		}
		if b, ok := line.Booked(); ok && !m.Cancelled {
			m.Booked = &b.Start
		}
		files, err := s.myFiles(tx, line)
		if err != nil {
			return v, err
		}
		m.Files = len(files) > 0
		v.Lines, mine.Files = append(v.Lines, m), append(mine.Files, files...)
	}
	talk, err := tx.Talk(o.ID)
	for i := range talk {
		mine.Talk = append(mine.Talk, api.MyTalk{Number: v.Number, Talk: talking.View(&talk[i])})
		if !talk[i].Customer && talk[i].ReadAt == nil {
			v.Unread++
		}
	}
	return v, err
}

// myFiles lists the files of a line that were handed over or given at once and can still
// be had.
func (s *Shop) myFiles(tx *store.Tx, line *docket.Line) ([]api.MyFile, error) {
	var list []api.MyFile
	add := func(path string, f api.HandedFile) {
		if f.Gone == nil {
			list = append(list, api.MyFile{Number: *line.Order.Number, Title: line.Edition.Title, Path: path, File: f})
		}
	}
	given, err := apiview.Handovers(tx, line, true)
	if err != nil {
		return nil, err
	}
	for _, h := range given {
		if h.State == api.HandoverState(handover.Withdrawn) {
			continue
		}
		for _, f := range h.Files {
			add(fmt.Sprintf("handed/%d", f.Id), f)
		}
	}
	if !line.Order.State.IsPlaced() || line.Row.CancelledAt != nil {
		return list, nil
	}
	once, err := s.given(tx, line)
	if err != nil || once == nil {
		return list, err
	}
	for _, g := range *once {
		for _, f := range g.Files {
			if !deref(g.Over) && (f.Left == nil || *f.Left > 0) {
				add(fmt.Sprintf("lines/%d/at-once/%s", line.Row.ID, f.Upload), f.File)
			}
		}
	}
	return list, nil
}

// myAnswers lists what is kept of a person, each with the question that asks it now.
func (s *Shop) myAnswers(tx *store.Tx, email string, l words.Language) ([]api.MyAnswer, error) {
	kept, err := tx.CustomerAnswers(email)
	if err != nil {
		return nil, err
	}
	list := []api.MyAnswer{}
	if len(kept) == 0 {
		return list, nil
	}
	editions, err := s.sold(tx)
	if err != nil {
		return nil, err
	}
	for _, a := range kept {
		v := api.MyAnswer{Key: string(a.Key), Kind: string(a.Kind), Wording: string(a.Key), Answer: a.Answer}
		for _, e := range editions {
			item, ok := e.Item(a.Key)
			if !ok || item.Scope != question.OfCustomer || item.Kind != a.Kind {
				continue
			}
			page := apiview.Page("", 0, e, question.Briefing, l)
			for i := range page.Questions {
				if page.Questions[i].Key == v.Key {
					v.Question, v.Wording = &page.Questions[i], page.Questions[i].Wording
				}
			}
			break
		}
		list = append(list, v)
	}
	return list, nil
}

// sold gives the editions that are on sale.
func (s *Shop) sold(tx *store.Tx) ([]*product.Edition, error) {
	rows, err := tx.Products()
	var list []*product.Edition
	for i := range rows {
		if err == nil && rows[i].EditionID != nil {
			var e *product.Edition
			if e, err = s.Editions.Get(tx, *rows[i].EditionID); err == nil {
				list = append(list, e)
			}
		}
	}
	return list, err
}

// KeepMine keeps another answer of a person who signed in; null forgets it.
func (s *Shop) KeepMine(ctx context.Context, key string, raw json.RawMessage, l words.Language) (api.Mine, error) {
	email := customer(ctx)
	if email == "" {
		return api.Mine{}, problem.Say(http.StatusUnauthorized, l, "sign_in", nil)
	}
	err := s.Store.Write(ctx, func(tx *store.Tx) error {
		if len(raw) == 0 || string(raw) == "null" {
			return tx.ForgetCustomerAnswer(email, key)
		}
		b, err := tx.Business()
		if err != nil {
			return err
		}
		kept, err := tx.CustomerAnswers(email)
		if err != nil {
			return err
		}
		i := slices.IndexFunc(kept, func(a store.CustomerAnswer) bool { return string(a.Key) == key })
		if i < 0 {
			return problem.NotFound(l, "not_found")
		}
		editions, err := s.sold(tx)
		if err != nil {
			return err
		}
		for _, e := range editions {
			item, ok := e.Item(question.Key(key))
			if !ok || item.Scope != question.OfCustomer || item.Kind != kept[i].Kind {
				continue
			}
			given, wrong := question.Decode(map[string]json.RawMessage{key: raw}, e.Spec)
			if len(wrong) == 0 {
				for _, f := range item.Spec.Check(given[item.Key], question.Env{Today: calendar.DayOf(s.Now().In(b.Location())), Zone: b.Location(), Currency: b.Currency, Language: l}) {
					f.Key = item.Key
					wrong = append(wrong, f)
				}
			}
			if len(wrong) > 0 {
				return problem.Invalid(l, problem.Fields(l, "", wrong))
			}
			fresh, err := question.Encode(given) // as it is written everywhere
			if err != nil {
				return err
			}
			kept[i].Answer, kept[i].UpdatedAt = fresh[key], s.Now().UTC()
			return tx.KeepCustomerAnswer(kept[i], true)
		}
		return problem.NotFound(l, "not_found")
	})
	if err != nil {
		return api.Mine{}, err
	}
	return s.Mine(ctx, l)
}

// OpenMine gives a private link to an order of a person who signed in.
func (s *Shop) OpenMine(ctx context.Context, number int64, l words.Language) (api.MyLink, error) {
	email := customer(ctx)
	var v api.MyLink
	if email == "" {
		return v, problem.Say(http.StatusUnauthorized, l, "sign_in", nil)
	}
	err := s.Store.Write(ctx, func(tx *store.Tx) error {
		orders, err := tx.OrdersByMail(email, mostMine)
		if err != nil {
			return err
		}
		i := slices.IndexFunc(orders, func(o store.Order) bool { return o.Number != nil && *o.Number == number })
		if i < 0 {
			return problem.NotFound(l, "not_found")
		}
		// Whoever signed in by a mail has the address, as whoever opened a link in one.
		v.Link, err = link.NewMailed(tx, orders[i].ID, s.Now())
		return err
	})
	return v, err
}

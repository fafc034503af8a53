package shop

import (
	"context"
	"errors"
	"net/http"
	"slices"

	"ruvo/api"
	"ruvo/internal/apiview"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/handover"
	"ruvo/internal/core/order"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/docket"
	"ruvo/internal/handing"
	"ruvo/internal/link"
	"ruvo/internal/message"
	"ruvo/internal/placing"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// giftOf finds the order that somebody has a recipient's link to. Any other link, and
// one that ended, reveal nothing.
func (s *Shop) giftOf(tx *store.Tx, secret string, l words.Language) (store.Order, error) {
	row, err := tx.LinkByHash(link.Hash(secret))
	if err == nil && !row.Recipient {
		err = store.ErrNotFound
	}
	if err != nil {
		return store.Order{}, problem.Missing(err, l, "no_link")
	}
	b, err := tx.Business()
	if err != nil {
		return store.Order{}, err
	}
	if row.RevokedAt != nil || row.CreatedAt.Before(b.LinksFrom(s.Now())) {
		return store.Order{}, problem.Say(http.StatusGone, l, "ended_gift", nil)
	}
	o, err := tx.OrderByID(row.OrderID)
	if err == nil && o.Recipient == nil {
		err = problem.NotFound(l, "no_link")
	}
	return o, err
}

// Gift shows a recipient what somebody ordered for them.
func (s *Shop) Gift(ctx context.Context, secret string, l words.Language) (api.Gift, error) {
	var view api.Gift
	err := s.Store.Read(ctx, func(tx *store.Tx) error {
		o, err := s.giftOf(tx, secret, l)
		if err == nil {
			view, err = s.gift(tx, o, l)
		}
		return err
	})
	return view, err
}

func (s *Shop) gift(tx *store.Tx, o store.Order, l words.Language) (api.Gift, error) {
	view := api.Gift{Buyer: o.Name, Name: o.Recipient.Name, Words: o.Recipient.Words, Lines: []api.GiftLine{}, Cancelled: o.State != order.Placed}
	lines, err := docket.Lines(tx, s.Editions, &o, s.Now())
	if err != nil {
		return view, err
	}
	for _, line := range lines {
		view.Business, view.Zone = line.Business.Name, line.Business.Zone
		view.Today = calendar.DayOf(s.Now().In(line.Business.Location())).String()
		if line.Row.CancelledAt != nil || view.Cancelled {
			continue
		}
		v, err := s.giftLine(tx, line, l)
		if err != nil {
			return view, err
		}
		view.Lines = append(view.Lines, v)
	}
	view.Cancelled = len(view.Lines) == 0
	return view, nil
}

// giftLine takes of what the order's page shows only what the recipient is to see.
func (s *Shop) giftLine(tx *store.Tx, line *docket.Line, l words.Language) (api.GiftLine, error) {
	whole, err := s.lineView(tx, line, l)
	if err != nil {
		return api.GiftLine{}, err
	}
	of := line.Order.Recipient
	theirs := func(key string) bool {
		item, ok := line.Edition.Item(question.Key(key))
		return ok && of.Asks(&item.Question.Question)
	}
	not := func(key string) bool { return !theirs(key) }
	v := api.GiftLine{
		Id: whole.Id, Version: whole.Version, Title: line.Edition.Title, Picture: line.Edition.Picture, Quantity: whole.Quantity, Answers: api.Answers{},
		Page:   api.ProductPage{Slug: whole.Page.Slug, Title: whole.Page.Title, Picture: whole.Page.Picture, MostUnits: whole.Page.MostUnits, Questions: []api.QuestionView{}},
		Asked:  slices.DeleteFunc(whole.Asked, func(a api.AskedQuestion) bool { return not(a.Key) }),
		Halves: slices.DeleteFunc(whole.Halves, func(h api.HalfAnswer) bool { return not(h.Key) }),
		Open:   slices.DeleteFunc(whole.Open, not), Missing: slices.DeleteFunc(whole.Missing, not),
		Brief: whole.Brief, Closes: whole.Closes, Said: []api.WalkAnswer{}, Handed: []api.HandedFile{},
	}
	if len(v.Missing) == 0 && v.Brief == api.BriefState(order.Waiting) {
		v.Brief = api.BriefState(order.Complete) // what the buyer still has to say is nothing to the recipient
	}
	for i := range v.Halves {
		if v.Halves[i].Priced || slices.ContainsFunc(v.Halves[i].Faults, func(f api.FieldError) bool { return f.Code == "price_changes" }) {
			v.Halves[i].Priced = false
			v.Halves[i].Faults = []api.FieldError{problem.Field(l, v.Halves[i].Key, "recipient_priced", words.Params{"buyer": line.Order.Name})}
		}
	}
	for _, q := range whole.Page.Questions {
		if theirs(q.Key) {
			q.Hint, q.ChoiceHints = "", map[string]string{}
			v.Page.Questions = append(v.Page.Questions, q)
		}
	}
	for k, raw := range whole.Answers {
		if theirs(k) {
			v.Answers[k] = raw
		}
	}
	if k, ok := line.Edition.BookingKey(); ok {
		if _, is := line.Booked(); is {
			v.Booked = line.Result.Words(line.Edition, k, line.Given)
		}
	}
	if of.Answers {
		v.Said = chosen(line, theirs)
	}
	if of.Files {
		v.Handed, err = s.giftFiles(tx, line)
	}
	return v, err
}

// chosen tells what the buyer chose, but for amounts, what only the buyer agreed to,
// and what the recipient is asked.
func chosen(line *docket.Line, theirs func(string) bool) []api.WalkAnswer {
	list := []api.WalkAnswer{}
	for _, a := range line.Result.Asked {
		item := a.Item
		class := item.Spec.Class()
		if !a.Answered || item.Moment == question.Desk || theirs(string(item.Key)) || !item.Appears(question.OrderPage) ||
			item.Kind == "amount" || item.Kind == "consent" || item.Kind == "signature" || class == question.ClassBooking || class == question.ClassNone {
			continue
		}
		list = append(list, api.WalkAnswer{Wording: item.Wording, Answer: line.Result.Words(line.Edition, item.Key, line.Given)})
	}
	return list
}

// giftFiles lists the finished files of all that was handed over and not taken back.
func (s *Shop) giftFiles(tx *store.Tx, line *docket.Line) ([]api.HandedFile, error) {
	list := []api.HandedFile{}
	given, err := apiview.Handovers(tx, line, true)
	for _, h := range given {
		if h.State == api.HandoverState(handover.Withdrawn) || h.Asks && h.State != api.HandoverState(handover.Accepted) {
			continue // what is only shown is the buyer's to decide about
		}
		for _, f := range h.Files {
			if f.Gone == nil {
				f.Opened, f.Downloaded, f.Downloads = nil, nil, nil
				list = append(list, f)
			}
		}
	}
	return list, err
}

// SaveGiftBrief keeps what a recipient types. It changes no price: what would is the
// buyer's to say.
func (s *Shop) SaveGiftBrief(ctx context.Context, secret string, id int64, save api.BriefSave, l words.Language) (api.GiftSaved, error) {
	save.Agreed = nil
	half := map[string]bool{}
	for {
		var saved api.GiftSaved
		err := s.Store.Write(ctx, func(tx *store.Tx) error {
			o, err := s.giftOf(tx, secret, l)
			if err != nil {
				return err
			}
			if o.State != order.Placed {
				return problem.Say(http.StatusConflict, l, "brief_closed", nil)
			}
			line, err := s.lineOf(tx, &o, id, l)
			if err != nil {
				return err
			}
			if wrong := notTheirs(line, &save, l); len(wrong) > 0 {
				return problem.Invalid(l, wrong)
			}
			others, err := s.keepBrief(tx, line, by{name: o.Recipient.Name}, save, half, l)
			if err != nil {
				return err
			}
			saved.Others = others
			saved.Gift, err = s.gift(tx, o, l)
			return err
		})
		if err == nil || !s.halves(err, save.Answers, half) {
			return saved, err
		}
	}
}

// notTheirs says what of a save is nothing that the recipient is asked.
func notTheirs(line *docket.Line, save *api.BriefSave, l words.Language) (wrong []api.FieldError) {
	said := []string{}
	for k := range save.Answers {
		said = append(said, k)
	}
	for k := range apiview.Given(save.Unknown) {
		said = append(said, k)
	}
	slices.Sort(said)
	for _, k := range slices.Compact(said) {
		if item, ok := line.Edition.Item(question.Key(k)); !ok || !line.Order.Recipient.Asks(&item.Question.Question) {
			wrong = append(wrong, problem.Field(l, k, "unknown", nil))
		}
	}
	return wrong
}

// GiftFile opens a finished file for the recipient.
func (s *Shop) GiftFile(ctx context.Context, secret string, id int64, as string, l words.Language) (*handing.File, error) {
	var f store.HandoverFile
	err := s.Store.Read(ctx, func(tx *store.Tx) error {
		o, err := s.giftOf(tx, secret, l)
		if err != nil {
			return err
		}
		lines, err := docket.Lines(tx, s.Editions, &o, s.Now())
		if err != nil {
			return err
		}
		for _, line := range lines {
			files, err := s.giftFiles(tx, line)
			if err != nil {
				return err
			}
			if o.Recipient.Files && slices.ContainsFunc(files, func(f api.HandedFile) bool { return f.Id == id }) {
				f, err = tx.HandoverFile(id)
				return err
			}
		}
		return problem.NotFound(l, "no_handover")
	})
	if err != nil {
		return nil, err
	}
	return handing.Open(s.Uploads, &f, as, l)
}

// SetRecipient changes whom an order is for. Once they were told, only what they see
// changes.
func (s *Shop) SetRecipient(ctx context.Context, secret string, wish api.RecipientWish, l words.Language) (api.OrderPage, error) {
	var page api.OrderPage
	err := s.Store.Write(ctx, func(tx *store.Tx) error {
		o, err := s.byLink(tx, secret, l)
		if err != nil {
			return err
		}
		b, err := tx.Business()
		if err != nil {
			return err
		}
		r, wrong := apiview.ReadRecipient(&wish, today(b, s.Now()))
		if len(wrong) > 0 {
			return problem.Invalid(l, problem.Fields(l, "", wrong))
		}
		was := o.Recipient
		if was == nil { // what was asked and charged hangs on whether it is for somebody else
			return problem.Say(http.StatusConflict, l, "no_recipient", nil)
		}
		if o.ToldAt != nil {
			seen := *was
			seen.Answers, seen.Files = r.Answers, r.Files
			r = seen
		}
		o.Recipient, o.TellAt = &r, nil
		if r.Email != was.Email {
			if err := s.mayTell(ctx, tx, &o, l); err != nil {
				return err
			}
		}
		if err := tx.SaveRecipient(&o); err != nil {
			return err
		}
		if o.State == order.Placed {
			lines, err := docket.Lines(tx, s.Editions, &o, s.Now())
			if err == nil {
				err = placing.Tell(tx, &o, lines, s.Now())
			}
			if err != nil {
				return err
			}
		}
		page, err = s.page(tx, o, l)
		return err
	})
	return page, err
}

// LinkRecipient makes a new link for the recipient, in place of those before.
func (s *Shop) LinkRecipient(ctx context.Context, secret string, mail bool, l words.Language) (api.RecipientLinked, error) {
	var view api.RecipientLinked
	err := s.Store.Write(ctx, func(tx *store.Tx) error {
		o, err := s.byLink(tx, secret, l)
		if err != nil {
			return err
		}
		if o.Recipient == nil || o.State != order.Placed || mail && o.Recipient.Email == "" {
			return problem.Say(http.StatusConflict, l, "no_recipient", nil)
		}
		if err := tx.RevokeGifts(o.ID, s.Now()); err != nil {
			return err
		}
		if !mail {
			given, err := link.NewGift(tx, o.ID, s.Now())
			if err != nil {
				return err
			}
			b, err := tx.Business()
			address := s.address(ctx, b) + "/gift/" + given
			view.Address = &address
			return err
		}
		if err := s.mayMail(ctx, o.Recipient.Email, l); err != nil {
			return err
		}
		lines, err := docket.Lines(tx, s.Editions, &o, s.Now())
		if err != nil {
			return err
		}
		o.ToldAt = store.Time(s.Now())
		return errors.Join(tx.SaveRecipient(&o), message.WriteGift(tx, lines, "again", s.Now()))
	})
	return view, err
}

// tellRecipients tells those whose day has come.
func (s *Shop) tellRecipients(ctx context.Context) error {
	return s.Store.Write(ctx, func(tx *store.Tx) error {
		due, err := tx.ToTell(s.Now())
		if err != nil {
			return err
		}
		for i := range due {
			lines, err := docket.Lines(tx, s.Editions, &due[i], s.Now())
			if err == nil {
				err = placing.Tell(tx, &due[i], lines, s.Now())
			}
			if err != nil {
				return err
			}
		}
		return nil
	})
}

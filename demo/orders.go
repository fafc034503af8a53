package demo

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"strings"
	"time"

	"ruvo/api"
	"ruvo/internal/apiview"
	"ruvo/internal/core/booking"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/money"
	"ruvo/internal/core/question"
	"ruvo/internal/shop"
	"ruvo/internal/standin/cards"
	"ruvo/internal/store"
)

// A sale is one order of the sample business and what happened to it.
type sale struct {
	f     *filling
	name  string // of its checkout
	link  string
	lines []int64

	Customer string     `json:"customer"`
	Email    string     `json:"email"`
	Days     int        `json:"days"` // from the day the demo starts
	Clock    string     `json:"clock"`
	Language string     `json:"language"`
	Basket   []article  `json:"basket"`
	Coupons  []string   `json:"coupons"`
	GiftOf   string     `json:"gift_of"` // who bought the voucher that it is paid with
	Tip      int        `json:"tip"`
	Buyer    *api.Buyer `json:"buyer"`
	// Recipient is for whom it was ordered; nil for the customer.
	Recipient *api.RecipientWish `json:"recipient"`
	News      bool               `json:"news"`     // they want to be written to
	Currency  string             `json:"currency"` // that the customer sees and pays; empty for the business's own
	Way       string             `json:"way"`      // how it is paid: by card, unless it says transfer
	Then      []happens          `json:"then"`
	// Waits is a course that is waited for, instead of an order.
	Waits *struct {
		Product string `json:"product"`
		Course  string `json:"course"`
		People  int    `json:"people"`
	} `json:"waits"`
}

// An article is one line of a basket. Answers may hold "@day-30" for a day
// thirty days ago, {"opening": 2, "people": 4} for the third opening that has
// room, {"stay": 14, "weekday": 3, "nights": 4, "people": 1} for four nights from
// the first free Wednesday in two weeks or more, {"course": "In spring", "people": 2}
// for what is left of a course, and [{"upload": "comet.png"}] for a
// picture that is drawn and uploaded.
type article struct {
	Product  string                     `json:"product"`
	Quantity int                        `json:"quantity"`
	Answers  map[string]json.RawMessage `json:"answers"`
	Later    []string                   `json:"later"`
	Parent   int                        `json:"parent"` // the line, from 1, that it is an add-on of
}

// happens is what came after: the customer answers, or somebody works.
type happens struct {
	Line    int                        `json:"line"` // of the basket, from 0
	Days    int                        `json:"days"`
	Clock   string                     `json:"clock"`
	Answers map[string]json.RawMessage `json:"answers"`
	Start   string                     `json:"start"`  // a step
	Pause   string                     `json:"pause"`  // a step
	Finish  string                     `json:"finish"` // a step
	Took    int                        `json:"took"`   // minutes of it, by the clock
	Act     string                     `json:"act"`    // close, remind
	Cancel  bool                       `json:"cancel"` // the order, its money given back
	Give    *struct {                  // finished files are handed over
		Step  string   `json:"step"`
		Files []string `json:"files"`
		Part  bool     `json:"part"` // that is not all of it
	} `json:"give"`
	// See opens the newest handover; Answer accepts it, or asks for changes.
	See    bool                `json:"see"`
	Answer *api.HandoverAnswer `json:"answer"`
	// Write is what the customer writes, and Reply what the studio does.
	Write string `json:"write"`
	Reply string `json:"reply"`
	// Ask is a change that the customer asks for, once the brief is closed.
	Ask     *api.AmendmentAsk `json:"ask"`
	Unknown string            `json:"unknown"` // a question that the customer cannot answer yet
}

func (o *sale) events() []event {
	if o.Waits != nil {
		return []event{{o.f.moment(o.Days, o.Clock), o.wait}}
	}
	events := []event{{o.f.moment(o.Days, o.Clock), o.place}}
	for _, h := range o.Then {
		events = append(events, event{o.f.moment(h.Days, h.Clock), func(ctx context.Context) error {
			if err := o.happen(ctx, h); err != nil {
				return fmt.Errorf("%s, %s: %w", o.Customer, h.Clock, err)
			}
			return nil
		}})
	}
	return events
}

func (o *sale) place(ctx context.Context) error {
	if o.Language == "" {
		o.Language = "en"
	}
	if o.Currency != "" {
		ctx = shop.WithCurrency(ctx, money.Currency(o.Currency))
	}
	req := api.CheckoutRequest{Name: o.Customer, Email: o.Email, Coupons: &o.Coupons, Tip: &o.Tip, Buyer: o.Buyer, Recipient: o.Recipient}
	if err := o.agree(ctx, &req); err != nil {
		return err
	}
	if o.GiftOf != "" {
		bought, err := o.f.desk.Vouchers(ctx, o.GiftOf, true, 0)
		if err != nil || len(bought.Rows) == 0 {
			return fmt.Errorf("%s: no voucher of %s: %w", o.Customer, o.GiftOf, err)
		}
		o.Coupons = append(o.Coupons, bought.Rows[0].Code)
	}
	for _, a := range o.Basket {
		answers, err := o.answers(ctx, a.Product, a.Answers)
		if err != nil {
			return err
		}
		req.Lines = append(req.Lines, api.BasketLine{Product: a.Product, Quantity: max(a.Quantity, 1), Answers: answers, Later: &a.Later, Parent: &a.Parent})
	}
	if _, err := o.f.shop.PutCheckout(ctx, o.name, req, language(o.Language)); err != nil {
		return fmt.Errorf("%s: %w", o.Customer, detail(err))
	}
	pay := api.PayRequest{Attempt: o.name}
	if o.Way != "" {
		way := api.PayRequestWay(o.Way)
		pay.Way = &way
	}
	paid, err := o.f.shop.Pay(ctx, o.name, pay, language(o.Language))
	if err == nil && paid.Page != nil {
		err = o.f.bank.Pay(ctx, *paid.Page, cards.Works)
	}
	if err != nil {
		return fmt.Errorf("%s pays: %w", o.Customer, err)
	}
	c, err := o.f.shop.Checkout(ctx, o.name, language(o.Language)) // led back from the page
	if err != nil || c.Payment == nil || c.Payment.Link == nil {
		return fmt.Errorf("%s paid, and it is %+v: %w", o.Customer, c, err)
	}
	o.link = *c.Payment.Link
	page, err := o.f.shop.OrderPage(ctx, o.link, language(o.Language))
	for _, l := range page.Lines {
		o.lines = append(o.lines, l.Id)
	}
	return err
}

// answers puts days and openings in the place of their signs.
func (o *sale) answers(ctx context.Context, slug string, raw map[string]json.RawMessage) (map[string]json.RawMessage, error) {
	answers := map[string]json.RawMessage{}
	for k, v := range raw {
		var opening struct {
			Opening *int `json:"opening"`
			People  int  `json:"people"`
		}
		var stay stay
		var course struct {
			Course string `json:"course"`
			People int    `json:"people"`
		}
		var files []struct {
			Upload  string `json:"upload"`
			Caption string `json:"caption"`
		}
		switch {
		case json.Unmarshal(v, &files) == nil && len(files) > 0 && files[0].Upload != "":
			var list question.Files
			for _, f := range files {
				id, err := o.upload(ctx, f.Upload)
				if err != nil {
					return nil, fmt.Errorf("%s: %w", f.Upload, err)
				}
				list = append(list, question.Uploaded{File: id, Name: f.Upload, Caption: f.Caption})
			}
			v, _ = json.Marshal(list)
		case json.Unmarshal(v, &stay) == nil && stay.After > 0:
			b, err := o.stay(ctx, slug, stay, raw)
			if err != nil {
				return nil, err
			}
			v, _ = json.Marshal(b)
		case json.Unmarshal(v, &course) == nil && course.Course != "":
			b, err := o.course(ctx, slug, course.Course, course.People)
			if err != nil {
				return nil, err
			}
			v, _ = json.Marshal(b)
		case strings.HasPrefix(string(v), `"@day`):
			var days int
			if _, err := fmt.Sscanf(string(v), `"@day%d"`, &days); err != nil {
				return nil, fmt.Errorf("%s: %s: %w", k, v, err)
			}
			day := calendar.DayOf(o.f.now.In(o.f.zone)).Add(days)
			v, _ = json.Marshal(day)
		case json.Unmarshal(v, &opening) == nil && opening.Opening != nil:
			b, err := o.opening(ctx, slug, *opening.Opening, opening.People)
			if err != nil {
				return nil, err
			}
			v, _ = json.Marshal(b)
		}
		answers[k] = v
	}
	return answers, nil
}

// course gives what is left of a course.
func (o *sale) course(ctx context.Context, slug, name string, people int) (question.Booking, error) {
	today := calendar.DayOf(o.f.clock.In(o.f.zone)).String()
	found, err := o.f.shop.Days(ctx, slug, api.DaysAsked{Answers: map[string]json.RawMessage{}, Quantity: 1, People: people, From: today, To: today}, "en")
	if err != nil || found.Courses == nil {
		return question.Booking{}, fmt.Errorf("%s: no courses: %w", o.Customer, err)
	}
	for _, c := range *found.Courses {
		if c.Name != name {
			continue
		}
		run := booking.Run{Of: c.Of}
		for _, m := range c.Times {
			run.Meetings = append(run.Meetings, question.Meeting{Start: m.Start, End: m.End})
		}
		return run.Booking(people), nil
	}
	return question.Booking{}, fmt.Errorf("%s: no course %q", o.Customer, name)
}

// wait has a customer wait for a course that is booked up.
func (o *sale) wait(ctx context.Context) error {
	b, err := o.course(ctx, o.Waits.Product, o.Waits.Course, o.Waits.People)
	if err != nil {
		return err
	}
	meetings := apiview.Meetings(b.Meetings)
	_, err = o.f.shop.Wait(ctx, o.Waits.Product, api.NewWait{
		Name: o.Customer, Email: o.Email, Start: b.Start, End: b.End, People: b.People, Meetings: &meetings, Of: &b.Of,
	}, language(o.Language))
	return detail(err)
}

// upload sends a picture as a customer does.
func (o *sale) upload(ctx context.Context, name string) (string, error) {
	picture, err := draw(name)
	if err != nil {
		return "", err
	}
	u, err := o.f.shop.StartUpload(ctx, api.UploadStart{Name: name, Size: int64(len(picture))}, "en")
	if err != nil {
		return "", detail(err)
	}
	u, err = o.f.shop.AppendUpload(ctx, u.Id, 0, bytes.NewReader(picture), "en")
	return u.Id, err
}

// A stay is one that is looked for.
type stay struct {
	After   int          `json:"stay"` // days
	Weekday time.Weekday `json:"weekday"`
	Nights  int          `json:"nights"`
	People  int          `json:"people"`
}

// stay finds the first one that is free on its weekday, whatever the season.
func (o *sale) stay(ctx context.Context, slug string, s stay, answers map[string]json.RawMessage) (question.Booking, error) {
	known := map[string]json.RawMessage{}
	for k, v := range answers {
		if k == "cabin" {
			known[k] = v
		}
	}
	ask := func(from, to calendar.Day, begin *string) (map[string]api.BookableDay, error) {
		found, err := o.f.shop.Days(ctx, slug, api.DaysAsked{Answers: known, Quantity: 1, People: s.People, From: from.String(), To: to.String(), Begin: begin}, "en")
		free := map[string]api.BookableDay{}
		for _, d := range found.Days {
			if d.At != nil && (d.State == api.BookableDayStateFree || d.State == api.BookableDayStateFew) {
				free[d.Day] = d
			}
		}
		return free, err
	}
	first := calendar.DayOf(o.f.now.In(o.f.zone)).Add(s.After)
	begins, err := ask(first, first.Add(120), nil)
	if err != nil {
		return question.Booking{}, err
	}
	for d := first; d.Since(first) < 120; d = d.Add(1) {
		at, free := begins[d.String()]
		if !free || d.Weekday() != s.Weekday {
			continue
		}
		last := d.Add(s.Nights)
		ends, err := ask(d, last, &at.Day)
		if err != nil {
			return question.Booking{}, err
		}
		if end, free := ends[last.String()]; free {
			return question.Booking{Start: *at.At, End: *end.At, People: s.People}, nil
		}
	}
	return question.Booking{}, fmt.Errorf("%s: no stay of %d nights is free", o.Customer, s.Nights)
}

func (o *sale) opening(ctx context.Context, slug string, n, people int) (question.Booking, error) {
	all, err := o.f.shop.Openings(ctx, slug, "en")
	if err != nil {
		return question.Booking{}, err
	}
	for _, a := range all {
		if a.Left < people {
			continue
		}
		if n == 0 {
			return question.Booking{Start: a.Start, End: a.End, People: people}, nil
		}
		n--
	}
	return question.Booking{}, fmt.Errorf("%s: no opening left for %d people", o.Customer, people)
}

func (o *sale) happen(ctx context.Context, h happens) error {
	line := o.lines[h.Line]
	if len(h.Answers) > 0 {
		page, err := o.f.shop.OrderPage(ctx, o.link, language(o.Language))
		if err != nil {
			return err
		}
		answers, err := o.answers(ctx, o.Basket[h.Line].Product, h.Answers)
		if err != nil {
			return err
		}
		if _, err := o.f.shop.ChangeAnswers(ctx, o.link, line, api.AnswerChange{Version: page.Lines[h.Line].Version, Answers: answers}, language(o.Language)); err != nil {
			return detail(err)
		}
	}
	if h.Cancel {
		all, restock := api.MoneyMoveHow("all"), true
		page, err := o.f.shop.OrderPage(ctx, o.link, language(o.Language))
		if err != nil {
			return err
		}
		if _, err := o.f.desk.MoveMoney(ctx, page.Number, "cancel", api.MoneyMove{How: &all, Restock: &restock}, "Ilse Brandt", "en"); err != nil {
			return detail(err)
		}
	}
	if h.Act != "" {
		if _, err := o.f.desk.Act(ctx, line, h.Act, 0, "en"); err != nil {
			return err
		}
	}
	if h.Ask != nil {
		if _, err := o.f.shop.AskAmendment(ctx, o.link, line, *h.Ask, language(o.Language)); err != nil {
			return detail(err)
		}
	}
	for action, step := range map[string]string{"start": h.Start, "pause": h.Pause, "finish": h.Finish} {
		if step == "" {
			continue
		}
		id, err := o.item(ctx, line, step)
		if err != nil {
			return err
		}
		if action == "finish" && h.Took > 0 {
			ended := o.f.clock
			o.f.clock = ended.Add(-time.Duration(h.Took) * time.Minute)
			if _, err := o.f.desk.ActOnWork(ctx, []int64{id}, "start", "en"); err != nil {
				return fmt.Errorf("start %s: %w", step, err)
			}
			o.f.clock = ended
		}
		if _, err := o.f.desk.ActOnWork(ctx, []int64{id}, action, "en"); err != nil {
			return fmt.Errorf("%s %s: %w", action, step, err)
		}
	}
	if h.Give != nil {
		n := api.NewHandover{Step: &h.Give.Step, Whole: !h.Give.Part}
		for _, name := range h.Give.Files {
			id, err := o.f.finish(ctx, name)
			if err != nil {
				return fmt.Errorf("%s: %w", name, err)
			}
			n.Files = append(n.Files, id)
		}
		if _, err := o.f.desk.HandOver(ctx, line, n, "en"); err != nil {
			return detail(err)
		}
	}
	if h.See || h.Answer != nil {
		return o.answer(ctx, h)
	}
	return o.says(ctx, line, h)
}

// says has customer and studio write to each other.
func (o *sale) says(ctx context.Context, line int64, h happens) error {
	l := language(o.Language)
	if h.Unknown != "" {
		unknown := map[string]bool{h.Unknown: true}
		if _, err := o.f.shop.SaveBrief(ctx, o.link, line, api.BriefSave{Answers: api.Answers{}, Unknown: &unknown}, l); err != nil {
			return detail(err)
		}
	}
	if h.Write != "" {
		if _, err := o.f.shop.WriteTalk(ctx, o.link, api.TalkWrite{Text: h.Write, Line: &line}, l); err != nil {
			return detail(err)
		}
	}
	if h.Reply != "" {
		if _, err := o.f.desk.Talk(ctx, line, api.TalkWrite{Text: h.Reply, Line: &line}, "en"); err != nil {
			return detail(err)
		}
	}
	return nil
}

// answer has the customer look at the newest handover and say what they think of it.
// Marks are on its first file.
func (o *sale) answer(ctx context.Context, h happens) error {
	page, err := o.f.shop.OrderPage(ctx, o.link, language(o.Language))
	if err != nil {
		return err
	}
	given := (*page.Lines[h.Line].Handovers)[0]
	if _, err := o.f.shop.AnswerHandover(ctx, o.link, given.Id, api.HandoverAnswer{Action: "open"}, language(o.Language)); err != nil {
		return detail(err)
	}
	if _, err := o.f.shop.HandedFile(ctx, o.link, given.Files[0].Id, "download", false, language(o.Language)); err != nil {
		return detail(err)
	}
	if h.Answer == nil {
		return nil
	}
	if h.Answer.Marks != nil {
		for i := range *h.Answer.Marks {
			(*h.Answer.Marks)[i].File = given.Files[0].Id
		}
	}
	_, err = o.f.shop.AnswerHandover(ctx, o.link, given.Id, *h.Answer, language(o.Language))
	return detail(err)
}

// item finds the newest item of a step.
func (o *sale) item(ctx context.Context, line int64, step string) (id int64, err error) {
	err = o.f.store.Read(ctx, func(tx *store.Tx) error {
		items, err := tx.Items(line)
		for _, i := range items {
			if string(i.Step) == step {
				id = i.ID
			}
		}
		return err
	})
	if id == 0 && err == nil {
		err = fmt.Errorf("there is no work for the step %q", step)
	}
	return id, err
}

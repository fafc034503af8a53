package desk

import (
	"context"
	"errors"
	"slices"
	"strconv"
	"strings"

	"ruvo/api"
	"ruvo/internal/apiview"
	"ruvo/internal/core/order"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/docket"
	"ruvo/internal/document"
	"ruvo/internal/problem"
	"ruvo/internal/store"
	"ruvo/internal/talking"
)

// What bounds what is known of customers.
const (
	customersPage  = 100
	mostOfCustomer = 500 // orders that their page shows
	mostFacts      = 50
	longestOfNote  = 5000
)

// Customers lists a page of the customers.
func (d *Desk) Customers(ctx context.Context, text, sort string, news bool, page int) (api.CustomerList, error) {
	v := api.CustomerList{Rows: []api.CustomerRow{}, PageSize: customersPage}
	err := d.Store.Read(ctx, func(tx *store.Tx) error {
		b, err := tx.Business()
		if err != nil {
			return err
		}
		v.Currency = string(b.Currency)
		rows, err := tx.ListCustomers(store.CustomerFilter{Text: strings.TrimSpace(text), News: news, Sort: sort, Skip: (max(page, 1) - 1) * customersPage, Most: customersPage + 1})
		if err != nil {
			return err
		}
		if v.More = len(rows) > customersPage; v.More {
			rows = rows[:customersPage]
		}
		for _, r := range rows {
			row := api.CustomerRow{Email: r.Email, Name: r.Name, Orders: r.Orders, Spent: int(r.Spent), Last: r.Last()}
			if r.News {
				if row.News, err = newsSince(tx, r.Email); err != nil {
					return err
				}
			}
			v.Rows = append(v.Rows, row)
		}
		return nil
	})
	return v, err
}

// Customer shows a person: what they ordered, paid and gave, what is kept and noted of
// them, and what they wrote.
func (d *Desk) Customer(ctx context.Context, email string, l words.Language) (api.CustomerPage, error) {
	var v api.CustomerPage
	err := d.Store.Read(ctx, func(tx *store.Tx) (err error) {
		v, err = d.customer(tx, email, l)
		return err
	})
	return v, err
}

func (d *Desk) customer(tx *store.Tx, email string, l words.Language) (api.CustomerPage, error) {
	v := api.CustomerPage{Orders: []api.CustomerOrder{}, Answers: []api.CustomerKept{}, Talk: []api.CustomerTalk{}, Doubles: []api.CustomerRow{}, Facts: []store.CustomerFact{}, Money: []api.CustomerMoney{}, Others: []string{}, News: []api.CustomerNews{}}
	mails, err := tx.MailsOf(email)
	if err != nil {
		return v, err
	}
	v.Email = mails[0]
	v.Others = append(v.Others, mails[1:]...)
	orders, err := tx.OrdersByMails(mails, mostOfCustomer)
	if err != nil {
		return v, err
	}
	noted, err := tx.Customer(mails[0])
	if err != nil {
		return v, err
	}
	if v.News, err = newsOf(tx, mails); err != nil {
		return v, err
	}
	if len(orders) == 0 && noted.UpdatedAt.IsZero() && len(v.News) == 0 {
		return v, problem.NotFound(l, "no_customer")
	}
	v.Name, v.Note = noted.Name, noted.Note
	v.Facts = append(v.Facts, noted.Facts...)
	var names []string
	for i := range orders {
		if v.Name == "" || i == 0 {
			v.Name = orders[i].Name
		}
		if !slices.Contains(names, orders[i].Name) {
			names = append(names, orders[i].Name)
		}
		if err := d.customerOrder(tx, &v, &orders[i]); err != nil {
			return v, err
		}
	}
	if err := d.keptOf(tx, &v, mails); err != nil {
		return v, err
	}
	if g, err := tx.GroupOf(mails[0]); err == nil {
		v.Group = &g.Name
	} else if !errors.Is(err, store.ErrNotFound) {
		return v, err
	}
	if len(names) > 0 {
		doubles, err := tx.Doubles(names, mails, 20)
		if err != nil {
			return v, err
		}
		for _, r := range doubles {
			v.Doubles = append(v.Doubles, api.CustomerRow{Email: r.Email, Name: r.Name, Orders: r.Orders})
		}
	}
	return v, nil
}

// customerOrder adds an order to a person's page, with what was paid and given.
func (d *Desk) customerOrder(tx *store.Tx, v *api.CustomerPage, o *store.Order) error {
	lines, err := docket.Lines(tx, d.Editions, o, d.Now())
	if err != nil {
		return err
	}
	account, err := tx.Account(o.ID)
	if err != nil {
		return err
	}
	row := api.CustomerOrder{Number: *o.Number, Placed: o.Since(), State: api.OrderState(o.State), Total: int(o.Total), Currency: string(o.Currency), Lines: []api.CustomerLine{}}
	for _, line := range lines {
		c := api.CustomerLine{Line: line.Row.ID, Title: line.Edition.Title, Brief: api.BriefState(line.Row.Brief), Cancelled: line.Row.CancelledAt != nil, Handed: line.Row.HandedAt}
		if b, ok := line.Booked(); ok && !c.Cancelled {
			c.Booked = &b.Start
		}
		if day := line.Promised(); day != "" {
			c.Promised = &day
		}
		row.Lines = append(row.Lines, c)
	}
	v.Orders = append(v.Orders, row)
	i := slices.IndexFunc(v.Money, func(m api.CustomerMoney) bool { return m.Currency == string(o.Currency) })
	if i < 0 {
		i, v.Money = len(v.Money), append(v.Money, api.CustomerMoney{Currency: string(o.Currency)})
	}
	if o.State == order.Placed {
		v.Money[i].Orders++
		v.Money[i].Given += int(o.Tip)
	}
	balance := account.Balance()
	v.Money[i].Paid += int(balance.Paid)
	v.Money[i].Returned += int(balance.Returned)
	talk, err := tx.Talk(o.ID)
	for k := range talk {
		v.Talk = append(v.Talk, api.CustomerTalk{Line: lines[0].Row.ID, Number: *o.Number, Talk: talking.View(&talk[k])})
	}
	return err
}

// keptOf adds what is kept of a person for their next order, with the day on which they
// said it: also what they consented to.
func (d *Desk) keptOf(tx *store.Tx, v *api.CustomerPage, mails []string) error {
	rows, err := tx.Products()
	if err != nil {
		return err
	}
	for _, mail := range mails {
		kept, err := tx.CustomerAnswers(mail)
		if err != nil {
			return err
		}
		for _, a := range kept {
			k := api.CustomerKept{Key: string(a.Key), Wording: string(a.Key), Answer: a.Answer, At: a.UpdatedAt, Consent: a.Kind == "consent"}
			for i := range rows {
				if rows[i].EditionID == nil {
					continue
				}
				e, err := d.Editions.Get(tx, *rows[i].EditionID)
				if err != nil {
					return err
				}
				if item, ok := e.Item(a.Key); ok && item.Scope == question.OfCustomer {
					k.Wording = item.Wording
					break
				}
			}
			v.Answers = append(v.Answers, k)
		}
	}
	return nil
}

// NoteCustomer keeps what only the seller knows of a person.
func (d *Desk) NoteCustomer(ctx context.Context, n api.CustomerNote, l words.Language) (api.CustomerPage, error) {
	var v api.CustomerPage
	c, wrong := readNote(n, l)
	if len(wrong) > 0 {
		return v, problem.Invalid(l, wrong)
	}
	err := d.Store.Write(ctx, func(tx *store.Tx) error {
		main, err := tx.MainMail(c.Email)
		if err != nil {
			return err
		}
		before, err := tx.Customer(main)
		if err != nil {
			return err
		}
		c.Email, c.UpdatedAt = main, d.Now().UTC()
		if c.Name == "" {
			c.Name = before.Name
		}
		if err := tx.SaveCustomer(&c); err != nil {
			return err
		}
		v, err = d.customer(tx, main, l)
		return err
	})
	return v, err
}

func readNote(n api.CustomerNote, l words.Language) (c store.Customer, wrong []api.FieldError) {
	add := func(key, code string, p words.Params) { wrong = append(wrong, problem.Field(l, key, code, p)) }
	c = store.Customer{Email: strings.ToLower(question.MailAddress(n.Email)), Name: strings.TrimSpace(apiview.Given(n.Name)), Note: strings.TrimSpace(n.Note)}
	if c.Email == "" {
		add("email", "email", nil)
	}
	if len([]rune(c.Note)) > longestOfNote || len([]rune(c.Name)) > 120 {
		add("note", "too_long", nil)
	}
	if len(n.Facts) > mostFacts {
		add("facts", "list_too_long", words.Params{"most": "50"})
	}
	for _, f := range n.Facts {
		f.Name, f.Value = strings.TrimSpace(f.Name), strings.TrimSpace(f.Value)
		switch {
		case f.Name == "" && f.Value == "":
			continue
		case f.Name == "" || len([]rune(f.Name)) > 100 || len([]rune(f.Value)) > 500:
			add("facts", "customer_fact", nil)
		}
		c.Facts = append(c.Facts, f)
	}
	return c, wrong
}

// MergeCustomers makes an address a further one of another person, or, with none, a
// person of its own again. Orders keep the address that they were placed with.
func (d *Desk) MergeCustomers(ctx context.Context, m api.CustomerMerge, l words.Language) (api.CustomerPage, error) {
	var v api.CustomerPage
	err := d.Store.Write(ctx, func(tx *store.Tx) error {
		email := strings.ToLower(strings.TrimSpace(m.Email))
		if m.Into == nil {
			if err := tx.DropAlias(email); err != nil {
				return err
			}
			var err error
			v, err = d.customer(tx, email, l)
			return err
		}
		into, err := tx.MainMail(*m.Into)
		if err != nil {
			return err
		}
		if into == email {
			return problem.Invalid(l, []api.FieldError{problem.Field(l, "into", "customer_same", nil)})
		}
		for _, who := range []string{email, into} {
			if _, err := d.customer(tx, who, l); err != nil {
				return err
			}
		}
		from, err := tx.Customer(email)
		if err != nil {
			return err
		}
		to, err := tx.Customer(into)
		if err != nil {
			return err
		}
		if from.Note != "" || len(from.Facts) > 0 {
			if !strings.Contains(to.Note, from.Note) { // merged before, and parted again
				to.Note = strings.TrimSpace(to.Note + "\n\n" + from.Note)
			}
			for _, f := range from.Facts {
				if !slices.Contains(to.Facts, f) {
					to.Facts = append(to.Facts, f)
				}
			}
			to.UpdatedAt = d.Now().UTC()
			if err := tx.SaveCustomer(&to); err != nil {
				return err
			}
		}
		if err := tx.Alias(email, into); err != nil {
			return err
		}
		v, err = d.customer(tx, into, l)
		return err
	})
	return v, err
}

// ExportCustomers writes the customers as a table.
func (d *Desk) ExportCustomers(ctx context.Context) (Download, error) {
	if err := d.exporting(ctx, customersExported, ""); err != nil {
		return Download{}, err
	}
	rows := [][]string{{"mail", "name", "orders", "spent", "currency", "last", "news", "note"}}
	err := d.Store.Read(ctx, func(tx *store.Tx) error {
		b, err := tx.Business()
		if err != nil {
			return err
		}
		list, err := tx.ListCustomers(store.CustomerFilter{Sort: "name", Most: mostExported})
		if err != nil {
			return err
		}
		news, err := newsDays(tx, b.Location())
		if err != nil {
			return err
		}
		for _, r := range list {
			noted, err := tx.Customer(r.Email)
			if err != nil {
				return err
			}
			last := ""
			if at := r.Last(); at != nil {
				last = apiview.DayString(*at, b.Location())
			}
			rows = append(rows, []string{r.Email, r.Name, strconv.Itoa(r.Orders), r.Spent.Plain(b.Currency), string(b.Currency), last, news[r.Email], noted.Note})
		}
		return nil
	})
	if err != nil {
		return Download{}, err
	}
	return table("customers.csv", rows)
}

// mostImported bounds the rows of one import.
const mostImported = 20_000

// ImportCustomers notes the people of a table: a column mail, and name, note and news
// where there are any, news with the day on which they agreed to it; every further column
// is a fact. Rows that cannot be read are named, and
// nothing of them is kept; the others are.
func (d *Desk) ImportCustomers(ctx context.Context, text string, l words.Language) (api.CustomersImported, error) {
	v := api.CustomersImported{Wrong: []api.ImportFault{}}
	rows, err := document.ReadTable(text)
	if err != nil || len(rows) < 2 {
		return v, problem.Invalid(l, []api.FieldError{problem.Field(l, "table", "csv", nil)})
	}
	if len(rows) > mostImported+1 {
		return v, problem.Invalid(l, []api.FieldError{problem.Field(l, "table", "list_too_long", words.Params{"most": strconv.Itoa(mostImported)})})
	}
	head := rows[0]
	column := func(name string) int {
		return slices.IndexFunc(head, func(h string) bool { return strings.EqualFold(strings.TrimSpace(h), name) })
	}
	mail := column("mail")
	if mail < 0 {
		return v, problem.Invalid(l, []api.FieldError{problem.Field(l, "table", "csv_mail", nil)})
	}
	known := []string{"mail", "name", "note", "orders", "spent", "currency", "last", "news"}
	err = d.Store.Write(ctx, func(tx *store.Tx) error {
		b, err := tx.Business()
		if err != nil {
			return err
		}
		for i, row := range rows[1:] {
			cell := func(at int) string {
				if at < 0 || at >= len(row) {
					return ""
				}
				return row[at]
			}
			name := cell(column("name"))
			n := api.CustomerNote{Email: cell(mail), Name: &name, Note: cell(column("note"))}
			for at, h := range head {
				if value := strings.TrimSpace(cell(at)); value != "" && !slices.ContainsFunc(known, func(k string) bool { return strings.EqualFold(k, strings.TrimSpace(h)) }) {
					n.Facts = append(n.Facts, store.CustomerFact{Name: h, Value: value})
				}
			}
			c, wrong := readNote(n, l)
			agreed, err := d.readAgreed(cell(column("news")), b.Location())
			if err != nil {
				wrong = append(wrong, problem.Field(l, "news", "news_day", nil))
			}
			if len(wrong) > 0 {
				v.Wrong = append(v.Wrong, api.ImportFault{Row: i + 2, Message: wrong[0].Message})
				continue
			}
			if err := d.importOne(tx, &c, &v); err != nil {
				return err
			}
			if err := importNews(ctx, tx, c.Email, agreed); err != nil {
				return err
			}
		}
		return d.log(ctx, tx, customersImported, strconv.Itoa(v.Added+v.Changed))
	})
	return v, err
}

func (d *Desk) importOne(tx *store.Tx, c *store.Customer, v *api.CustomersImported) error {
	main, err := tx.MainMail(c.Email)
	if err != nil {
		return err
	}
	before, err := tx.Customer(main)
	if err != nil {
		return err
	}
	c.Email, c.UpdatedAt = main, d.Now().UTC()
	if c.Note == "" {
		c.Note = before.Note
	}
	for _, f := range before.Facts { // what the table does not tell stays
		if !slices.ContainsFunc(c.Facts, func(o store.CustomerFact) bool { return o.Name == f.Name }) {
			c.Facts = append(c.Facts, f)
		}
	}
	if before.UpdatedAt.IsZero() {
		v.Added++
	} else {
		v.Changed++
	}
	return tx.SaveCustomer(c)
}

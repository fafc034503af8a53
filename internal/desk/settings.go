package desk

import (
	"context"
	"encoding/json"
	"net/http"
	"reflect"
	"slices"
	"strings"
	"time"

	"ruvo/api"
	"ruvo/internal/core/booking"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/docket"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// Settings shows what of the business people set besides its terms.
func (d *Desk) Settings(ctx context.Context) (api.SettingsView, error) {
	var view api.SettingsView
	err := d.Store.Read(ctx, func(tx *store.Tx) (err error) {
		view, err = d.settings(tx)
		return err
	})
	return view, err
}

func (d *Desk) settings(tx *store.Tx) (api.SettingsView, error) {
	b, err := tx.Business()
	if err != nil {
		return api.SettingsView{}, err
	}
	changes, err := tx.SettingsChangesAfter(b.Version - 1)
	view := api.SettingsView{Version: b.Version, Settings: shownSettings(b.Settings()), Countries: calendar.Countries(), Regions: []api.Region{}, Holidays: holidays(&b, d.Now()), NextResource: b.LastResource + 1}
	for _, r := range calendar.RegionsOf(b.Country) {
		view.Regions = append(view.Regions, api.Region{Code: r.Code, Name: r.Name})
	}
	if len(changes) > 0 {
		last := changes[len(changes)-1]
		view.ChangedBy, view.ChangedAt = &last.Author, &last.At
	}
	return view, err
}

func shownSettings(s store.Settings) api.Settings {
	v := api.Settings{
		Name: s.Name, Tagline: s.Tagline, Contact: s.Contact, Postal: s.Postal, Language: s.Language, Zone: s.Zone, Country: s.Country, Region: s.Region,
		Open: append([]string{}, s.Open...), Week: s.Week, Closures: append([]calendar.Closure{}, s.Closures...),
		Resources: append([]booking.Resource{}, s.Resources...),
	}
	if s.Work != nil {
		v.Work = *s.Work
	}
	for i := range v.Week {
		if v.Week[i] == nil {
			v.Week[i] = []calendar.Span{}
		}
	}
	return v
}

// holidays lists the public holidays of the coming year, those that are worked on
// too.
func holidays(b *store.Business, now time.Time) []api.Holiday {
	list := []api.Holiday{}
	all := calendar.HolidaysIn(b.Country, b.Region, nil)
	if all == nil {
		return list
	}
	today := calendar.DayOf(now.In(b.Location()))
	for day := today; day.Since(today) < 366; day = day.Add(1) {
		if name, ok := all.Holiday(day); ok {
			list = append(list, api.Holiday{Name: name, Day: day.String(), Open: slices.Contains(b.Open, name)})
		}
	}
	return list
}

// readSettings reads settings as they are sent, and says what is wrong with them.
func readSettings(s api.Settings, l words.Language) (store.Settings, []api.FieldError) {
	var wrong []api.FieldError
	add := func(key, code string, p words.Params) { wrong = append(wrong, problem.Field(l, key, code, p)) }
	next := store.Settings{
		Name: strings.TrimSpace(s.Name), Tagline: strings.TrimSpace(s.Tagline), Contact: strings.TrimSpace(s.Contact), Postal: strings.TrimSpace(s.Postal),
		Language: s.Language, Zone: s.Zone, Country: s.Country, Region: s.Region, Open: s.Open, Week: s.Week, Closures: s.Closures, Resources: s.Resources, Work: &s.Work,
	}
	if next.Name == "" || len(next.Name) > 200 {
		add("name", "business_name", nil)
	}
	if len(next.Tagline) > 300 {
		add("tagline", "too_long", nil)
	}
	if len(next.Postal) > 500 {
		add("postal", "too_long", nil)
	}
	if next.Contact != "" {
		if next.Contact = question.MailAddress(next.Contact); next.Contact == "" {
			add("contact", "email", nil)
		}
	}
	if next.Language != string(words.English) && next.Language != string(words.German) {
		add("language", "choice", words.Params{"choices": "en, de"})
	}
	if _, err := time.LoadLocation(next.Zone); err != nil || next.Zone == "" || next.Zone == "Local" {
		add("zone", "zone", words.Params{"zone": next.Zone})
	}
	if next.Country != "" && !slices.Contains(calendar.Countries(), next.Country) {
		add("country", "choice", words.Params{"choices": strings.Join(calendar.Countries(), ", ")})
	}
	if next.Region != "" && !slices.ContainsFunc(calendar.RegionsOf(next.Country), func(r calendar.Region) bool { return r.Code == next.Region }) {
		add("region", "region", words.Params{"region": next.Region})
	}
	readHours("", &next.Week, next.Closures, add)
	readResources(next.Resources, add)
	if err := next.Work.Validate(); err != nil {
		add("work", "promise_terms", words.Params{"why": words.Of(err, l)})
	}
	if len(next.Open) > 100 {
		add("open", "too_long", nil)
	}
	return next, wrong
}

// PutSettings keeps settings. When somebody else kept other ones meanwhile it is
// refused with what they changed.
func (d *Desk) PutSettings(ctx context.Context, change api.SettingsChange, l words.Language) (api.SettingsView, error) {
	next, wrong := readSettings(change.Settings, l)
	if len(wrong) > 0 {
		return api.SettingsView{}, problem.Invalid(l, wrong)
	}
	return d.changeSettings(ctx, change.Version, l, func(_ *store.Tx, b *store.Business) (store.Settings, error) {
		if wrong := otherResources(b, next.Resources, l); len(wrong) > 0 {
			return next, problem.Invalid(l, wrong)
		}
		return next, nil
	})
}

// UndoSettings takes the last change of the settings back, as a change of its own.
func (d *Desk) UndoSettings(ctx context.Context, version int, l words.Language) (api.SettingsView, error) {
	return d.changeSettings(ctx, version, l, func(tx *store.Tx, b *store.Business) (store.Settings, error) {
		changes, err := tx.SettingsChangesAfter(b.Version - 1)
		if err != nil {
			return store.Settings{}, err
		}
		if len(changes) == 0 {
			return store.Settings{}, problem.Say(http.StatusConflict, l, "nothing_to_undo", nil)
		}
		return changes[len(changes)-1].Before, nil
	})
}

func (d *Desk) changeSettings(ctx context.Context, version int, l words.Language, to func(*store.Tx, *store.Business) (store.Settings, error)) (api.SettingsView, error) {
	var view api.SettingsView
	err := d.Store.Write(ctx, func(tx *store.Tx) error {
		b, err := tx.Business()
		if err != nil {
			return err
		}
		if version != b.Version {
			return meanwhile(tx, &b, version, l)
		}
		next, err := to(tx, &b)
		if err != nil {
			return err
		}
		if err := d.setSettings(ctx, tx, &b, next); err != nil {
			return err
		}
		view, err = d.settings(tx)
		return err
	})
	return view, err
}

// setSettings gives a business other settings, as one change that can be taken back;
// the same ones change nothing.
func (d *Desk) setSettings(ctx context.Context, tx *store.Tx, b *store.Business, next store.Settings) error {
	before := b.Settings()
	if len(differing(before, next)) == 0 {
		return nil
	}
	b.Set(next)
	b.Version++
	if err := tx.SaveBusiness(*b); err != nil {
		return err
	}
	if timed(before, next) {
		if err := d.eachOpen(tx, *b, func(line *docket.Line) error { return line.Keep(tx, d.Now()) }); err != nil {
			return err
		}
	}
	if err := tx.AddSettingsChange(store.SettingsChange{Version: b.Version, Before: before, Author: Author(ctx), At: d.Now().UTC()}); err != nil {
		return err
	}
	return d.log(ctx, tx, settingsChanged, strings.Join(differing(before, next), ", "))
}

// timed says whether settings differ in what working time is reckoned from.
func timed(a, b store.Settings) bool {
	return slices.ContainsFunc(differing(a, b), func(key string) bool {
		return slices.Contains([]string{"zone", "country", "region", "open", "week", "closures"}, key)
	})
}

// eachOpen opens the order lines that have work to do, in a business as it is or as
// it would be.
func (d *Desk) eachOpen(tx *store.Tx, b store.Business, do func(*docket.Line) error) error {
	for before := int64(0); ; {
		rows, err := tx.ListLines(store.LineFilter{Work: "open", Before: before, Most: 500})
		if err != nil || len(rows) == 0 {
			return err
		}
		for _, row := range rows {
			before = row.ID
			o, err := tx.OrderByID(row.OrderID)
			if err != nil {
				return err
			}
			line, err := docket.Open(tx, d.Editions, b, o, row.OrderLine, d.Now())
			if err != nil {
				return err
			}
			if err := do(line); err != nil {
				return err
			}
		}
	}
}

// meanwhile tells what somebody else changed since a version.
func meanwhile(tx *store.Tx, b *store.Business, version int, l words.Language) error {
	changes, err := tx.SettingsChangesAfter(version)
	if err != nil {
		return err
	}
	p := problem.Say(http.StatusConflict, l, "settings_changed", nil)
	if len(changes) == 0 {
		return p
	}
	last := changes[len(changes)-1]
	for _, key := range differing(changes[0].Before, b.Settings()) {
		p.Errors = append(p.Errors, problem.Field(l, key, "setting_changed", words.Params{"by": last.Author}))
	}
	return p
}

// differing names the settings that differ.
func differing(a, b store.Settings) []string {
	var list []string
	x, y := reflect.ValueOf(shownSettings(a)), reflect.ValueOf(shownSettings(b))
	for i := range x.NumField() {
		one, err1 := json.Marshal(x.Field(i).Interface())
		two, err2 := json.Marshal(y.Field(i).Interface())
		if err1 != nil || err2 != nil || string(one) != string(two) {
			list = append(list, x.Type().Field(i).Tag.Get("json"))
		}
	}
	return list
}

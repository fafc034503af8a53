package web

import (
	"encoding/json"
	"regexp"
	"slices"
	"strings"
	"testing"
	"time"

	"ruvo/api"
	"ruvo/internal/core/calendar"
	"ruvo/internal/store"
)

// giftMail gives the newest mail to an address, and the link to the gift in it.
func (h *house) giftMail(to string) (store.Message, string) {
	h.t.Helper()
	var found store.Message
	must(h.t, h.store.Read(h.t.Context(), func(tx *store.Tx) error {
		all, err := tx.LatestMessages(50)
		for _, m := range all {
			if found.ID == 0 && m.Recipient == to {
				found = m
			}
		}
		return err
	}))
	at := regexp.MustCompile(`/gift/([A-Za-z0-9_-]{22})`).FindStringSubmatch(found.Body)
	if at == nil {
		return found, ""
	}
	return found, at[1]
}

// gives buys an evening for somebody, and gives the order's link.
func (c *client) gives(recipient fields) string {
	c.t.Helper()
	at := checkout()
	body := basket(c.evening(8, 2))
	body["recipient"] = recipient
	c.want(200, "PUT", at, body)
	return secretOf(c.pay(at))
}

// Who it is for is told with a link of their own, answers what they are asked, and is
// never told a price; the buyer's link and theirs open nothing of each other.
func TestARecipientHasAPageOfTheirOwn(t *testing.T) {
	h := open(t, nil)
	c := h.client()
	link := c.gives(fields{"name": "Matti Solheim", "email": "Matti@Example.org", "words": "For you.\nEnjoy.", "answers": true, "files": true})
	mail, theirs := h.giftMail("matti@example.org")
	if theirs == "" || !strings.Contains(mail.Body, "For you.\nEnjoy.") || strings.ContainsAny(mail.Subject+mail.Body, "€$") || strings.Contains(mail.Body, "EUR") {
		t.Fatalf("%+v", mail)
	}
	c.refused(404, "", "GET", "/api/shop/gifts/"+link, nil)
	c.refused(404, "", "GET", "/api/shop/orders/"+theirs, nil)
	stranger := h.client()
	shown := stranger.want(200, "GET", "/api/shop/gifts/"+theirs, nil)
	for _, money := range []string{`"total"`, `"price"`, "EUR", "€", `"slip"`} {
		if strings.Contains(string(shown.body), money) {
			t.Errorf("the gift says %s: %s", money, shown.body)
		}
	}
	gift := read[map[string]any](t, shown)
	line := gift["lines"].([]any)[0].(map[string]any)
	if gift["buyer"] != "Ada Quill" || len(line["said"].([]any)) == 0 || line["booked"] == "" {
		t.Errorf("%v", gift)
	}
	for _, q := range line["page"].(map[string]any)["questions"].([]any) {
		if key := q.(map[string]any)["key"]; key != "guests" && key != "level" && key != "children" && key != "stools" {
			t.Errorf("the recipient is asked %v", key)
		}
	}
	brief := "/api/shop/gifts/" + theirs + "/lines/" + itoa(int64(line["id"].(float64))) + "/brief"
	saved := read[map[string]any](t, stranger.want(200, "POST", brief, fields{"answers": fields{"guests": "Four of us."}}))
	if after := saved["gift"].(map[string]any)["lines"].([]any)[0].(map[string]any); after["brief"] == "waiting" {
		t.Errorf("%v", after)
	}
	stranger.wrong("blankets", "unknown", "POST", brief, fields{"answers": fields{"blankets": 9}})
	page := c.page(link)
	if got := page.Lines[0].Answers["guests"]; string(got) != `"Four of us."` {
		t.Errorf("%s", got)
	}
	if page.Lines[0].History == nil || !strings.Contains(string(mustJSON(t, page.Lines[0].History)), "Matti Solheim") {
		t.Errorf("the history does not say who answered: %s", mustJSON(t, page.Lines[0].History))
	}

	// A new link ends the one before; a cancelled order says so, and nothing else.
	given := read[map[string]any](t, c.want(200, "POST", "/api/shop/orders/"+link+"/recipient", fields{"mail": false}))["address"].(string)
	stranger.refused(410, "", "GET", "/api/shop/gifts/"+theirs, nil)
	fresh := given[strings.LastIndex(given, "/")+1:]
	h.desk().want(200, "POST", "/api/desk/orders/"+itoa(page.Number)+"/cancel", fields{"how": "all"})
	if gone := read[map[string]any](t, stranger.want(200, "GET", "/api/shop/gifts/"+fresh, nil)); gone["cancelled"] != true || len(gone["lines"].([]any)) != 0 {
		t.Errorf("%v", gone)
	}
	h.audit()
}

// The day to tell somebody is waited for; until then all of it can be changed, and
// afterwards only what they see.
func TestARecipientIsToldOnTheirDay(t *testing.T) {
	h := open(t, nil)
	c := h.client()
	in := func(days int) string { return calendar.DayOf(today.AddDate(0, 0, days)).String() }
	link := c.gives(fields{"name": "Matti", "email": "nils@example.org", "from": in(7)})
	if _, early := h.giftMail("nils@example.org"); early != "" {
		t.Error("they were told at once")
	}
	set := func(status int, wrong string, f fields) {
		t.Helper()
		if wrong == "" {
			c.want(status, "PUT", "/api/shop/orders/"+link+"/recipient", f)
			return
		}
		c.refused(status, wrong, "PUT", "/api/shop/orders/"+link+"/recipient", f)
	}
	set(422, "recipient.name recipient_name", fields{"name": " "})
	set(422, "recipient.email email", fields{"name": "Matti", "email": "matti"})
	set(422, "recipient.from day", fields{"name": "Matti", "from": "soon"})
	set(422, "recipient.from recipient_from", fields{"name": "Matti", "from": in(900)})
	set(422, "recipient.words recipient_words", fields{"name": "Matti", "words": strings.Repeat("a", 1001)})
	set(200, "", fields{"name": "Matti", "email": "other@example.org", "from": in(8)})
	h.ahead.Add(int64(7 * 24 * time.Hour)) // the morning of the day before
	must(t, h.server.Shop.Sweep(t.Context()))
	if _, early := h.giftMail("other@example.org"); early != "" {
		t.Error("they were told before their day")
	}
	h.ahead.Add(int64(24 * time.Hour))
	for range 2 {
		must(t, h.server.Shop.Sweep(t.Context()))
	}
	_, theirs := h.giftMail("other@example.org")
	if theirs == "" {
		t.Fatal("they were not told on their day")
	}
	if _, wrong := h.giftMail("nils@example.org"); wrong != "" {
		t.Error("the former address was told")
	}
	set(200, "", fields{"name": "Somebody", "email": "third@example.org", "answers": true})
	own := secretOf(c.buys(chart()))
	c.refused(409, "", "PUT", "/api/shop/orders/"+own+"/recipient", fields{"name": "Matti"})
	c.refused(409, "", "POST", "/api/shop/orders/"+own+"/recipient", fields{"mail": false})
	gift := read[map[string]any](t, h.client().want(200, "GET", "/api/shop/gifts/"+theirs, nil))
	if said := gift["lines"].([]any)[0].(map[string]any)["said"].([]any); gift["name"] != "Matti" || len(said) == 0 {
		t.Errorf("%v", gift)
	}
}

// A question that depends on the basket is asked with what it depends on, counts for the
// order as it was placed, and computes the same again.
func TestAQuestionDependsOnTheBasket(t *testing.T) {
	h := open(t, nil)
	c := h.client()
	lamp := fields{"product": "red-lamp", "quantity": 1, "answers": fields{"waits": true}}
	other := fields{"product": "oak-frame", "quantity": 1, "answers": fields{"frame_size": "small"}}
	asked := func(lines ...fields) bool {
		t.Helper()
		view := read[api.BasketView](t, c.want(200, "POST", "/api/shop/basket", fields{"lines": lines}))
		return slices.ContainsFunc(view.Lines[0].Evaluation.Asked, func(a api.AskedQuestion) bool { return a.Key == "waits" })
	}
	if asked(lamp) || asked(lamp, other) {
		t.Error("it is asked without the cabin")
	}
	cabin := fields{"product": "observatory-cabin", "quantity": 1, "answers": fields{}}
	if !asked(lamp, cabin) {
		t.Error("it is not asked with the cabin")
	}
	link := secretOf(c.buys(lamp, other))
	if page := c.page(link); slices.ContainsFunc(page.Lines[0].Asked, func(a api.AskedQuestion) bool { return a.Key == "waits" }) {
		t.Error("an answer counts that was not asked for")
	}
	h.audit()
}

func mustJSON(t *testing.T, v any) []byte {
	t.Helper()
	raw, err := json.Marshal(v)
	must(t, err)
	return raw
}

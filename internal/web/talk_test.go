package web

import (
	"slices"
	"strings"
	"testing"

	"ruvo/api"
)

// Customer and seller write to each other, with files, about an order or a question of
// it; each side sees what the other read.
func TestTalking(t *testing.T) {
	h := open(t, nil)
	defer h.audit()
	c, d := h.client(), h.desk()
	link := secretOf(c.buys(chart()))
	docket := d.newest()
	at, desk := "/api/shop/orders/"+link+"/talk", "/api/desk/dockets/"+itoa(docket.Line)+"/talk"
	c.wrong("text", "talk_empty", "POST", at, fields{"text": "  "})
	c.wrong("text", "longest", "POST", at, fields{"text": strings.Repeat("ü", 5001)})
	c.wrong("key", "unknown", "POST", at, fields{"text": "x", "line": docket.Line, "key": "file_name"})
	c.wrong("line", "unknown", "POST", at, fields{"text": "x", "line": 1})
	c.wrong("files", "no_upload", "POST", at, fields{"text": "x", "files": []string{"nothing"}})
	photo := c.uploads("sky.png", pngOf(t, 60, 40), 1<<20)
	page := read[api.OrderPage](t, c.want(200, "POST", at, fields{"text": "Is the moon in it?", "line": docket.Line, "key": "night", "files": []string{photo.Id}}))
	m := (*page.Talk)[0]
	if !m.Customer || m.Author != "Ada Quill" || *m.About != "The night" || m.Read != nil || len(*m.Files) != 1 || (*m.Files)[0].Shows != "picture" {
		t.Errorf("%+v", m)
	}
	open := func() string { // what Today shows of this order
		t.Helper()
		v := read[api.Today](t, d.want(200, "GET", "/api/desk/today", nil))
		for _, m := range *v.Talk {
			if m.Line == docket.Line {
				return m.Talk.Text
			}
		}
		return ""
	}
	if got := open(); got != "Is the moon in it?" {
		t.Fatalf("%q", got)
	}
	file := "/" + itoa(m.Id) + "/0?as=view"
	if a := c.want(200, "GET", at+file, nil); a.header.Get("Content-Type") != "image/png" {
		t.Errorf("shown as %s", a.header.Get("Content-Type"))
	}
	d.want(200, "GET", "/api/desk/talk"+file, nil)
	c.want(404, "GET", at+"/"+itoa(m.Id)+"/1", nil)
	other := secretOf(h.client().buys(chart()))
	c.want(404, "GET", "/api/shop/orders/"+other+"/talk"+file, nil) // of another order

	d.want(204, "POST", desk+"/read", nil)
	if m := (*c.page(link).Talk)[0]; m.Read == nil {
		t.Error("the customer does not see that it was read")
	}
	d.want(204, "POST", "/api/desk/replies", fields{"title": "Moon", "text": "The moon is in it, {{customer}}."})
	d.wrong("title", "reply_title", "POST", "/api/desk/replies", fields{"title": "", "text": "x"})
	d.wrong("text", "message_fields", "POST", "/api/desk/replies", fields{"title": "x", "text": "{{"})
	replies := read[[]api.Reply](t, d.want(200, "GET", "/api/desk/dockets/"+itoa(docket.Line)+"/replies", nil))
	moon := slices.IndexFunc(replies, func(r api.Reply) bool { return r.Title == "Moon" })
	if len(replies) != 3 { // with two of the sample's own
		t.Errorf("%+v", replies)
	}
	if moon < 0 || replies[moon].Filled != "The moon is in it, Ada Quill." {
		t.Fatalf("%+v", replies)
	}
	answered := read[api.Docket](t, d.want(200, "POST", desk, fields{"text": replies[moon].Filled, "files": []string{d.finishes("moon.txt", []byte("full"))}}))
	if list := *answered.Talk; len(list) != 2 || list[1].Customer || list[1].Author != "Ilse Brandt" {
		t.Errorf("%+v", list)
	}
	if got := open(); got != "" {
		t.Errorf("still open: %q", got)
	}
	if mail := h.lastMail(); !strings.Contains(mail.Body, "The moon is in it, Ada Quill.") || !strings.Contains(mail.Body, "Files: 1") || mail.Recipient != "ada@example.org" {
		t.Errorf("%+v", mail)
	}
	if m := (*c.page(link).Talk)[1]; m.Read != nil {
		t.Error("opening the page shows nothing")
	}
	c.want(204, "POST", "/api/shop/orders/"+link+"/press", nil)
	if m := (*d.docket(docket.Line).Talk)[1]; m.Read == nil {
		t.Error("the seller does not see that it was read")
	}

	c.want(200, "POST", at, fields{"text": "Thank you."})
	d.want(204, "POST", desk+"/settle", nil)
	if got := open(); got != "" {
		t.Errorf("needs no answer: %q", got)
	}
	d.want(204, "DELETE", "/api/desk/replies/"+itoa(replies[moon].Id), nil)
	d.want(404, "POST", "/api/desk/replies", fields{"id": replies[moon].Id, "title": "Moon", "text": "x"})
	c.want(204, "POST", "/api/shop/orders/"+other+"/relink", nil)
	c.want(410, "GET", "/api/shop/orders/"+other, nil)
	for range 58 {
		c.want(200, "POST", at, fields{"text": "And another thing."})
	}
	c.want(429, "POST", at, fields{"text": "And another thing."})
}

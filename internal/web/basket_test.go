package web

import (
	"regexp"
	"strings"
	"testing"
	"time"

	"ruvo/internal/core/order"
	"ruvo/internal/store"
)

// A basket goes along with whoever signed in, is brought back by a mailed link, and ends
// when nobody touched it for long. Nobody else's is shown.
func TestABasketIsKept(t *testing.T) {
	h := open(t, nil)
	phone, laptop, stranger := h.client(), h.client(), h.client()
	lamp := fields{"id": "lamp-1", "product": "red-lamp", "quantity": 2, "answers": fields{}}
	hook := fields{"id": "hook-1", "of": "lamp-1", "product": "oak-frame", "quantity": 1, "answers": fields{}}
	frame := fields{"id": "frame-1", "product": "oak-frame", "quantity": 1, "answers": fields{"frame_size": "small"}}
	stranger.refused(401, "", "GET", "/api/shop/mine/basket", nil)
	stranger.refused(401, "", "PUT", "/api/shop/mine/basket", fields{"entries": []fields{lamp}})
	phone.signsIn(h, "ottilie@example.org")
	laptop.signsIn(h, "ottilie@example.org")
	put := func(c *client, f fields) order.Basket {
		t.Helper()
		return read[order.Basket](t, c.want(200, "PUT", "/api/shop/mine/basket", f))
	}
	put(phone, fields{"entries": []fields{lamp, hook}})
	if all := put(laptop, fields{"entries": []fields{frame}}); len(all.Entries) != 3 {
		t.Errorf("%+v", all)
	}
	put(laptop, fields{"entries": []fields{frame}, "gone": []string{"lamp-1"}})
	if all := put(phone, fields{"entries": []fields{lamp, hook, frame}}); len(all.Entries) != 1 || all.Entries[0].ID != "frame-1" {
		t.Errorf("what was taken out is back: %+v", all)
	}
	phone.refused(422, "entries.0.id entry_name", "PUT", "/api/shop/mine/basket", fields{"entries": []fields{{"id": "../x", "product": "x", "quantity": 1, "answers": fields{}}}})
	big := fields{"id": "big", "product": "x", "quantity": 1, "answers": fields{"a": strings.Repeat("x", 300_000)}}
	phone.refused(413, "", "PUT", "/api/shop/mine/basket", fields{"entries": []fields{big}})
	many := make([]fields, 51)
	for i := range many {
		many[i] = fields{"id": "m" + itoa(int64(i)), "product": "red-lamp", "quantity": 1, "answers": fields{}}
	}
	phone.refused(413, "", "PUT", "/api/shop/mine/basket", fields{"entries": many})

	stranger.refused(422, "email email", "POST", "/api/shop/baskets", fields{"email": "nobody", "entries": []fields{frame}})
	stranger.refused(422, "entries empty_basket", "POST", "/api/shop/baskets", fields{"email": "jo@example.org", "entries": []fields{}})
	stranger.want(204, "POST", "/api/shop/baskets", fields{"email": "jo@example.org", "entries": []fields{frame}})
	var mail store.Message
	must(t, h.store.Read(t.Context(), func(tx *store.Tx) error {
		all, err := tx.LatestMessages(1)
		mail = all[0]
		return err
	}))
	secret := regexp.MustCompile(`/basket/([A-Za-z0-9_-]{22})`).FindStringSubmatch(mail.Body)
	if secret == nil || mail.Recipient != "jo@example.org" {
		t.Fatalf("%+v", mail)
	}
	if back := read[order.Basket](t, h.client().want(200, "GET", "/api/shop/baskets/"+secret[1], nil)); len(back.Entries) != 1 || string(back.Entries[0].Answers["frame_size"]) != `"small"` {
		t.Errorf("%+v", back)
	}
	stranger.refused(404, "", "GET", "/api/shop/baskets/"+strings.Repeat("A", 22), nil)

	h.ahead.Add(int64(31 * 24 * time.Hour))
	must(t, h.server.Shop.Sweep(t.Context()))
	stranger.refused(404, "", "GET", "/api/shop/baskets/"+secret[1], nil)
}

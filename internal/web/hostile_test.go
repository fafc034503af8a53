package web

import (
	"bytes"
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"testing"

	"ruvo/api"
)

// hostile are answers that no honest form sends.
var hostile = []string{
	`null`, `0`, `-1`, `1e308`, `99999999999999999999999`, `0.0000000001`, `true`, `""`, `" "`, `"\u0000"`, `"` + strings.Repeat("x", 70_000) + `"`,
	`[]`, `[[]]`, `[null]`, `[{}]`, `{}`, `{"a":{"a":{"a":1}}}`, `["small","small"]`, `{"from":"2026-12-12","to":"0000-00-00"}`,
	`{"from":"9999-12-31","to":"0001-01-01"}`, `"9999-12-31"`, `"0000-01-01"`, `{"agreed":"yes"}`, `{"strokes":[[]],"text":""}`, `{"name":"x","text":null}`,
	`[{"file":"AAAAAAAAAAAAAAAAAAAAAA","name":"x"}]`, `{"tea":-5}`, `{"breakfast":1e9}`, `{"country":"\ud83d\ude00"}`, `"#gggggg"`, `"25:61"`,
	`{"start":"2026-11-28T19:30:00Z","people":-1}`, `{"start":"nonsense"}`, `"=cmd|' /C calc'!A0"`, `"<script>alert(1)</script>"`, `"{{customer}}"`,
}

// Every question of every product is answered with every hostile answer, alone
// and of each unit: the server says what is wrong or takes it as it reads it,
// and never fails; and what it takes costs no less than nothing.
func TestHostileAnswersToEveryQuestion(t *testing.T) {
	h := open(t, nil)
	c := h.client()
	front := read[api.ShopFront](t, c.want(200, "GET", "/api/shop", nil))
	tried := 0
	for _, p := range front.Products {
		page := read[api.ProductPage](t, c.want(200, "GET", "/api/shop/products/"+p.Slug, nil))
		for _, q := range page.Questions {
			for _, in := range hostile {
				for _, sent := range []string{in, "[" + in + "," + in + "]"} {
					body := fmt.Sprintf(`{"quantity":2,"answers":{%q:%s}}`, q.Key, sent)
					a := c.send("POST", "/api/shop/products/"+p.Slug+"/evaluate", body)
					tried++
					if a.status != 200 && a.status != 400 {
						t.Errorf("%s %s %.60s: status %d %.200s", p.Slug, q.Key, sent, a.status, a.body)
						continue
					}
					if a.status == 200 {
						e := read[api.Evaluation](t, a)
						if e.Slip.Total < 0 {
							t.Errorf("%s %s %.60s costs %d", p.Slug, q.Key, sent, e.Slip.Total)
						}
						sum := e.Slip.Total
						for _, l := range e.Slip.Lines {
							sum -= l.Amount
						}
						if sum != 0 {
							t.Errorf("%s %s %.60s: the lines do not add up", p.Slug, q.Key, sent)
						}
					}
				}
			}
		}
	}
	if tried < 1500 {
		t.Errorf("only %d answers were tried", tried)
	}
}

// Every answer of a whole cabin is replaced by hostile ones at checkout: none
// makes an order, and each refusal names the question.
func TestHostileCheckouts(t *testing.T) {
	h := open(t, nil)
	c := h.client()
	good := stay()["answers"].(fields)
	for key := range good {
		for _, in := range hostile {
			line := with(stay(), fields{key: json.RawMessage(in)})
			a := c.send("PUT", checkout(), basket(line))
			if a.status == 200 && !slices.Contains([]string{"beds true"}, key+" "+in) {
				t.Errorf("%s: %.60s was taken", key, in)
			}
			if a.status == 422 {
				for _, e := range read[problemDocument](t, a).Errors {
					if !strings.HasPrefix(e.Key, "lines.0."+key) {
						t.Errorf("%s: %.60s is told of %s", key, in, e.Key)
					}
				}
			}
		}
	}
	if n := h.paidOrders(); n != 0 {
		t.Errorf("%d orders", n)
	}
}

// Drafts, sheets and trials with nonsense in them are kept or refused, and
// never fail; the product check speaks of what is wrong.
func TestHostileDrafts(t *testing.T) {
	h := open(t, nil)
	d := h.desk()
	p := read[api.DeskProduct](t, d.want(200, "GET", "/api/desk/products/5", nil))
	raw, err := json.Marshal(p.Draft)
	must(t, err)
	for _, swap := range [][2]string{
		{`"kind":"booking"`, `"kind":"teleport"`}, {`"kind":"booking"`, `"kind":"section"`}, {`"key":"stay"`, `"key":""`}, {`"key":"stay"`, `"key":"cabin"`},
		{`"section":"stay_part"`, `"section":"stay"`}, {`"by":"nights"`, `"by":"moons"`}, {`"arrive":900`, `"arrive":-900`}, {`"of":[1,2]`, `"of":[]`}, {`"of":[1,2]`, `"of":[1,99]`},
		{`"begin":[0,3,4,5,6]`, `"begin":[99]`}, {`"by":"cabin"`, `"by":"nothing"`}, {`"feast":"easter"`, `"feast":"yule"`}, {`"least":3`, `"least":30`}, {`"drawn":"cards"`, `"drawn":"holograms"`}, {`"code":"larch"`, `"code":"L A R C H"`},
		{`"picture":"cabin-larch.svg"`, `"picture":"../../etc/passwd"`}, {`"op":"is"`, `"op":"smells"`}, {`"amount":6800`, `"amount":-6800`},
		{`"price":17100`, `"price":-1`}, {`"country":"DE"`, `"country":"ATLANTIS"`},
		{`"pattern":"[0-9]{4,6}"`, `"pattern":"((((("`}, {`"version":"3"`, `"version":""`}, {`"step":15`, `"step":-15`},
	} {
		if !bytes.Contains(raw, []byte(swap[0])) {
			t.Errorf("the draft has no %s", swap[0])
			continue
		}
		broken := json.RawMessage(bytes.Replace(raw, []byte(swap[0]), []byte(swap[1]), 1))
		r := read[api.TrialResult](t, d.want(200, "POST", "/api/desk/products/5/try", fields{"draft": broken, "quantity": 1, "answers": stay()["answers"]}))
		if !slices.ContainsFunc(r.Findings, func(f api.Finding) bool { return f.Error }) {
			t.Errorf("%s: nobody finds it", swap[1])
		}
		kept := read[api.DeskProduct](t, d.want(200, "PUT", "/api/desk/products/5/draft", fields{"version": p.Version, "draft": broken}))
		d.want(422, "POST", "/api/desk/products/5/publish", fields{"version": kept.Version})
		p.Version = kept.Version
	}
	for _, body := range []string{
		`{"version":1,"draft":{"title":5}}`, `{"version":1,"draft":{"questions":{}}}`, `{"version":"x","draft":{}}`, `{"draft":`, `[]`,
		`{"version":1,"draft":{"title":"x","currency":"EUR","price":0,"tax":"much"}}`, `{"version":1,"draft":{"title":"x","surprise":1}}`,
	} {
		if a := d.send("PUT", "/api/desk/products/5/draft", body); a.status != 400 && a.status != 422 {
			t.Errorf("%s: status %d", body, a.status)
		}
	}
	s := read[api.SheetView](t, d.want(200, "POST", "/api/desk/sheets", fields{"name": "Broken"}))
	at := fmt.Sprintf("/api/desk/sheets/%d", s.Id)
	s = read[api.SheetView](t, d.want(200, "PUT", at, fields{"version": s.Version, "name": "Broken", "rule": fields{"all": true}, "questions": []fields{{"key": "x y", "kind": "date", "moment": "choosing", "wording": ""}}}))
	if len(s.Findings) == 0 {
		t.Error("a broken sheet has no findings")
	}
	d.want(422, "POST", at+"/publish", fields{"version": s.Version})
	if now := read[api.DeskProduct](t, d.want(200, "GET", "/api/desk/products/1", nil)); now.Edition != 1 || len(now.Linked) != 1 {
		t.Errorf("a broken sheet reached a product: %+v", now.Linked)
	}
	h.audit()
}

package web

import (
	"strings"
	"testing"

	"ruvo/api"
)

// One more thing is asked of one order by mail, answered on its page and changed there,
// with what stood there before; another order's link reaches none of it.
func TestOneMoreThingIsAsked(t *testing.T) {
	h := open(t, nil)
	c, d := h.client(), h.desk()
	link, other := secretOf(c.buys(chart())), secretOf(c.buys(chart()))
	line := c.page(link).Lines[0].Id
	path := "/api/desk/dockets/" + itoa(line) + "/things"
	d.refused(422, "wording thing", "POST", path, fields{"kind": "yes_no", "wording": " "})
	d.refused(422, "kind thing", "POST", path, fields{"kind": "booking", "wording": "When?"})
	d.refused(422, "choices thing", "POST", path, fields{"kind": "one_choice", "wording": "Which?", "choices": []string{"one"}})
	mails := h.mails("", "One more question")
	asked := read[api.Docket](t, d.want(200, "POST", path, fields{"kind": "one_choice", "wording": "Which door?", "choices": []string{"front", "back"}}))
	if asked.Things == nil || len(*asked.Things) != 1 || h.mails("", "One more question") != mails+1 {
		t.Fatalf("%+v", asked.Things)
	}
	id := itoa((*asked.Things)[0].Id)
	shown := (*c.page(link).Lines[0].Things)[0]
	if shown.Question.Wording != "Which door?" || shown.Words != nil || !strings.Contains(string(shown.Question.Settings), "front") {
		t.Errorf("%+v", shown)
	}
	answer := "/api/shop/orders/" + link + "/things/" + id
	c.refused(422, "thing_"+id+" choice", "PUT", answer, fields{"value": "c9"})
	c.want(200, "PUT", answer, fields{"value": "c1"})
	page := read[api.OrderPage](t, c.want(200, "PUT", answer, fields{"value": "c2"}))
	if got := (*page.Lines[0].Things)[0]; *got.Words != "back" || *got.Was != "front" || got.Answered == nil {
		t.Errorf("%+v", got)
	}
	c.refused(404, "", "PUT", "/api/shop/orders/"+other+"/things/"+id, fields{"value": "c1"})
	if docket := d.docket(line); *(*docket.Things)[0].Words != "back" {
		t.Errorf("%+v", docket.Things)
	}
	gone := read[api.Docket](t, d.want(200, "DELETE", "/api/desk/things/"+id, nil))
	if len(*gone.Things) != 0 {
		t.Errorf("%+v", gone.Things)
	}
	c.refused(404, "", "PUT", answer, fields{"value": "c1"})
	h.audit()
}

// Files can be asked for too: they come to the docket and into the zip file of the order,
// are nobody else's, and what another order has is not taken.
func TestFilesAreAskedForOfOneOrder(t *testing.T) {
	h := open(t, nil)
	c, d := h.client(), h.desk()
	link, other := secretOf(c.buys(chart())), secretOf(c.buys(chart()))
	line, otherLine := c.page(link).Lines[0].Id, c.page(other).Lines[0].Id
	ask := func(line int64) string {
		t.Helper()
		asked := read[api.Docket](t, d.want(200, "POST", "/api/desk/dockets/"+itoa(line)+"/things", fields{"kind": "files", "wording": "A picture of the wall?"}))
		return itoa((*asked.Things)[0].Id)
	}
	first, second := ask(line), ask(otherLine)
	u := c.uploads("wall.png", pngOf(t, 300, 200), 1000)
	answer := fields{"value": []fields{{"file": u.Id, "name": "wall.png"}}}
	c.refused(422, "thing_"+first+".0 file_gone", "PUT", "/api/shop/orders/"+link+"/things/"+first, fields{"value": []fields{{"file": strings.Repeat("A", 22), "name": "x.png"}}})
	c.want(200, "PUT", "/api/shop/orders/"+link+"/things/"+first, answer)
	c.refused(422, "thing_"+second+".0 file_gone", "PUT", "/api/shop/orders/"+other+"/things/"+second, answer)
	docket := d.docket(line)
	files := (*docket.Things)[0].Files
	if files == nil || len(*files) != 1 || (*files)[0].Name != "wall.png" || !(*files)[0].Picture || (*docket.Things)[0].Words == nil {
		t.Fatalf("%+v", *docket.Things)
	}
	file := "/files/" + u.Id
	d.want(200, "GET", "/api/desk/dockets/"+itoa(line)+file, nil)
	d.refused(404, "", "GET", "/api/desk/dockets/"+itoa(otherLine)+file, nil)
	if zip := d.want(200, "GET", "/api/desk/dockets/"+itoa(line)+"/files.zip", nil).body; !strings.Contains(string(zip), "wall.png") {
		t.Error("the zip file does not have it")
	}
	h.audit()
}

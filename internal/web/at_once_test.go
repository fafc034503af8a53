package web

import (
	"testing"
	"time"

	"ruvo/api"
	"ruvo/internal/core/atonce"
	"ruvo/internal/core/workplan"
)

// What is given at once is there as soon as it is paid, for those with the choice, as
// often and as long as it was said, and is no handover; a newer one is earlier buyers' too.
func TestGivenAtOnce(t *testing.T) {
	h := open(t, nil)
	defer h.audit()
	c, d := h.client(), h.desk()
	file, wall := d.finishes("sky.png", pngOf(t, 60, 40)), d.finishes("wall.txt", []byte("how to print it"))
	d.change(1, func(d *api.Draft) {
		d.AtOnce = []atonce.Gift{
			{Key: "sky", Title: "A sky", Text: "For {{customer}}.", Files: []workplan.File{{File: file, Name: "sky.png"}}, Downloads: 2, Licence: "For your own wall."},
			{Key: "wall", Title: "To print", Files: []workplan.File{{File: wall, Name: "wall.txt"}}, Of: "size", Codes: []string{"wall"}, Days: 2},
		}
	})
	link := secretOf(c.buys(chart()))
	line := d.newest().Line
	p := c.page(link).Lines[0]
	gifts := *p.AtOnce
	if len(gifts) != 1 || gifts[0].Text != "For Ada Quill." || gifts[0].Licence == "" || *gifts[0].Files[0].Left != 2 || p.Handed != nil || p.Handovers != nil {
		t.Fatalf("%+v", gifts)
	}
	at := "/api/shop/orders/" + link + "/lines/" + itoa(line) + "/at-once/"
	c.want(404, "GET", at+wall+"?as=download", nil) // not for this choice
	c.want(200, "GET", at+file+"?as=thumbnail", nil)
	c.want(200, "GET", at+file+"?as=view", nil)
	c.want(206, "GET", at+file+"?as=download", nil, "Range", "bytes=10-20") // a part of what is being taken
	c.want(200, "GET", at+file+"?as=download", nil)
	c.want(410, "GET", at+file+"?as=download", nil)
	c.want(206, "GET", at+file+"?as=download", nil, "Range", "bytes=1-") // of the last taking
	h.ahead.Add(int64(2 * time.Hour))
	c.want(410, "GET", at+file+"?as=download", nil, "Range", "bytes=1-") // which would be one more, a byte short
	d = h.desk()
	if left := *(*c.page(link).Lines[0].AtOnce)[0].Files[0].Left; left != 0 {
		t.Errorf("%d left", left)
	}
	other := h.client()
	big := secretOf(other.buys(with(chart(), fields{"size": "wall"})))
	bigAt := "/api/shop/orders/" + big + "/lines/" + itoa(d.newest().Line) + "/at-once/"
	other.want(200, "GET", bigAt+wall+"?as=download", nil)
	other.want(404, "GET", "/api/shop/orders/"+big+"/lines/"+itoa(line)+"/at-once/"+file, nil) // another's line
	h.ahead.Add(int64(72 * time.Hour))
	other.want(410, "GET", bigAt+wall+"?as=download", nil)
	d = h.desk()

	// A newer one of the same, which earlier buyers are told of once.
	if b := read[api.BuyersTold](t, d.want(200, "GET", "/api/desk/products/1/buyers", nil)); b.Buyers != 0 {
		t.Errorf("before there is a newer one: %+v", b)
	}
	newer := d.finishes("sky-2.png", pngOf(t, 80, 40))
	d.change(1, func(d *api.Draft) { d.AtOnce[0].Files[0] = workplan.File{File: newer, Name: "sky-2.png"} })
	gifts = *c.page(link).Lines[0].AtOnce
	if len(gifts) != 2 || !gifts[0].Newer || gifts[0].Files[0].File.Name != "sky-2.png" || gifts[1].Newer {
		t.Fatalf("%+v", gifts)
	}
	c.want(200, "GET", at+newer+"?as=download", nil)
	if b := read[api.BuyersTold](t, d.want(200, "POST", "/api/desk/products/1/buyers", nil)); b.Buyers != 2 || b.Told != 2 {
		t.Errorf("told %+v", b)
	}
	if b := read[api.BuyersTold](t, d.want(200, "POST", "/api/desk/products/1/buyers", nil)); b.Told != 0 {
		t.Errorf("told again: %+v", b)
	}
	if n := h.mails(itoa(c.page(link).Number), "there is a newer one"); n != 1 {
		t.Errorf("%d mails", n)
	}

	// A file that is gone says so.
	must(t, h.server.Shop.Uploads.Remove(newer))
	c.want(410, "GET", at+newer+"?as=download", nil)
}

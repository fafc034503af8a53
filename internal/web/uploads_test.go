package web

import (
	"archive/zip"
	"bytes"
	"encoding/csv"
	"fmt"
	"image"
	"image/png"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"time"

	"ruvo/api"
	"ruvo/internal/standin/cards"
	"ruvo/internal/store"
	"ruvo/internal/storetest"
)

func pngOf(t *testing.T, wide, high int) []byte {
	t.Helper()
	var b bytes.Buffer
	must(t, png.Encode(&b, image.NewRGBA(image.Rect(0, 0, wide, high))))
	return b.Bytes()
}

// uploads sends a file in pieces of so many bytes.
func (c *client) uploads(name string, data []byte, piece int) api.Upload {
	c.t.Helper()
	u := read[api.Upload](c.t, c.want(200, "POST", "/api/shop/uploads", fields{"name": name, "size": len(data), "question": "scans"}))
	for at := 0; at < len(data); at += piece {
		u = c.appends(200, u.Id, at, data[at:min(at+piece, len(data))])
	}
	return u
}

func (c *client) appends(status int, id string, offset int, piece []byte) api.Upload {
	c.t.Helper()
	a := c.want(status, "PATCH", "/api/shop/uploads/"+id, string(piece), "Content-Type", "application/octet-stream", "Upload-Offset", fmt.Sprint(offset))
	if status != 200 {
		return api.Upload{}
	}
	return read[api.Upload](c.t, a)
}

func rescue() fields {
	return fields{"product": "photo-rescue", "quantity": 1, "answers": fields{"pictures": 4}}
}

// A file is sent in pieces, goes on after a break, is part of an answer, and
// the desk saves it; nobody else's order can take it.
func TestUploadsFromTheFirstByteToTheDesk(t *testing.T) {
	h := open(t, nil)
	c := h.client()
	data := pngOf(t, 800, 600)
	u := read[api.Upload](t, c.want(200, "POST", "/api/shop/uploads", fields{"name": "pier.png", "size": len(data), "question": "scans"}))
	c.appends(200, u.Id, 0, data[:100])
	c.appends(409, u.Id, 0, data[:100])   // sent twice
	c.appends(409, u.Id, 200, data[200:]) // a piece is missing
	if now := read[api.Upload](t, c.want(200, "GET", "/api/shop/uploads/"+u.Id, nil)); now.Received != 100 || now.Picture {
		t.Errorf("%+v", now)
	}
	c.appends(413, u.Id, 100, append(slices.Clone(data[100:]), "more"...))
	u = c.uploads("pier.png", data, 700)
	if u.Received != int64(len(data)) || *u.Type != "image/png" || *u.Width != 800 || !u.Picture {
		t.Errorf("%+v", u)
	}
	if again := c.appends(200, u.Id, len(data), nil); again.Received != u.Received {
		t.Errorf("the last bytes sent again: %+v", again)
	}
	if thumb := c.want(200, "GET", "/api/shop/uploads/"+u.Id+"/thumbnail", nil); thumb.header.Get("Content-Type") != "image/jpeg" || thumb.header.Get("X-Content-Type-Options") != "nosniff" {
		t.Errorf("%v", thumb.header)
	}
	at := c.buys(rescue())
	line := read[api.OrderPage](t, c.want(200, "GET", at, nil)).Lines[0]
	answers := at + "/lines/" + itoa(line.Id) + "/answers"
	scans := []fields{{"file": u.Id, "name": "pier.png", "caption": "=The pier", "crop": fields{"x": 0, "y": 0, "w": 0.5, "h": 0.5}}}
	c.want(200, "PATCH", answers, fields{"version": line.Version, "answers": fields{"scans": scans, "notes": "Her freckles stay."}})

	// It belongs to that order now.
	c.want(204, "DELETE", "/api/shop/uploads/"+u.Id, nil)
	other := c.buys(rescue())
	theirs := read[api.OrderPage](t, c.want(200, "GET", other, nil)).Lines[0]
	c.refused(422, "scans.0 file_gone", "PATCH", other+"/lines/"+itoa(theirs.Id)+"/answers", fields{"version": theirs.Version, "answers": fields{"scans": scans}})

	d := h.desk()
	docket := read[api.Docket](t, d.want(200, "GET", "/api/desk/dockets/"+itoa(line.Id), nil))
	i := slices.IndexFunc(docket.Answers, func(a api.DocketAnswer) bool { return a.Key == "scans" })
	if i < 0 || docket.Answers[i].Files == nil || (*docket.Answers[i].Files)[0].Caption != "=The pier" {
		t.Fatalf("%+v", docket.Answers)
	}
	file := "/api/desk/dockets/" + itoa(line.Id) + "/files/"
	sent := d.want(200, "GET", file+u.Id, nil)
	if !bytes.Equal(sent.body, data) || sent.header.Get("Content-Type") != "application/octet-stream" || !strings.HasPrefix(sent.header.Get("Content-Disposition"), "attachment") {
		t.Errorf("%v", sent.header)
	}
	cropped, err := png.DecodeConfig(bytes.NewReader(d.want(200, "GET", file+u.Id+"?as=cropped", nil).body))
	if err != nil || cropped.Width != 400 || cropped.Height != 300 {
		t.Errorf("%+v, %v", cropped, err)
	}
	d.refused(404, "", "GET", file+"AAAAAAAAAAAAAAAAAAAAAA", nil)
	packed := d.want(200, "GET", "/api/desk/dockets/"+itoa(line.Id)+"/files.zip", nil).body
	z, err := zip.NewReader(bytes.NewReader(packed), int64(len(packed)))
	must(t, err)
	if len(z.File) != 2 || z.File[0].Name != "scans/pier.png" || z.File[1].Name != "scans/pier cropped.png" {
		t.Errorf("%v", z.File)
	}
	d.refused(404, "", "GET", "/api/desk/dockets/"+itoa(theirs.Id)+"/files.zip", nil)
	c.refused(401, "", "GET", file+u.Id, nil)

	// The caption would be a formula in a spreadsheet.
	rows, err := csv.NewReader(bytes.NewReader(bytes.TrimPrefix(d.want(200, "GET", "/api/desk/orders.csv?text=Ada", nil).body, []byte("\xef\xbb\xbf")))).ReadAll()
	must(t, err)
	column := slices.Index(rows[0], "scans")
	if !slices.ContainsFunc(rows[1:], func(r []string) bool { return column < len(r) && r[column] == "pier.png: =The pier" }) {
		t.Errorf("%q", rows)
	}
	sheet := d.want(200, "GET", "/api/desk/worksheets/3/receive/table.csv", nil)
	if !bytes.Contains(sheet.body, []byte(`"order","customer","due","minutes","state","pictures","scans"`)) {
		t.Errorf("%s", sheet.body)
	}
	h.audit()
}

func TestBadUploads(t *testing.T) {
	h := open(t, nil)
	c := h.client()
	for _, b := range []struct {
		body  fields
		codes string
	}{
		{fields{"name": "", "size": 5, "question": "scans"}, "name longest"},
		{fields{"name": "a/b", "size": 5, "question": "scans"}, "name longest"},
		{fields{"name": "a", "size": 0, "question": "scans"}, "size file_empty"},
		{fields{"name": "a", "size": -1, "question": "scans"}, "size file_empty"},
		{fields{"name": "a", "size": int64(3e12), "question": "scans"}, "size file_size"},
		{fields{"name": "a", "size": 81_000_000, "question": "scans", "edition": 3}, "size file_size"},
	} {
		c.refused(422, b.codes, "POST", "/api/shop/uploads", b.body)
	}
	c.refused(404, "", "POST", "/api/shop/uploads", fields{"name": "a", "size": 5, "question": "scans", "edition": 99999})
	c.refused(404, "", "GET", "/api/shop/uploads/AAAAAAAAAAAAAAAAAAAAAA", nil)
	c.refused(404, "", "GET", "/api/shop/uploads/..%2f..%2fetc", nil)
	c.refused(404, "", "DELETE", "/api/shop/uploads/AAAAAAAAAAAAAAAAAAAAAA", nil)
	words := c.uploads("words.png", []byte("these are only words"), 100)
	c.refused(404, "", "GET", "/api/shop/uploads/"+words.Id+"/thumbnail", nil)
	small := c.uploads("small.png", pngOf(t, 20, 20), 1000)
	half := read[api.Upload](t, c.want(200, "POST", "/api/shop/uploads", fields{"name": "half.png", "size": 50, "question": "scans"}))
	at := c.buys(rescue())
	line := read[api.OrderPage](t, c.want(200, "GET", at, nil)).Lines[0]
	list := []fields{{"file": words.Id, "name": "words.png"}, {"file": small.Id, "name": "small.png"}, {"file": half.Id, "name": "half.png"}, {"file": small.Id, "name": "again.png"}}
	p := c.refused(422, "scans.0 file_type, scans.1 file_pixels, scans.2 file_unfinished, scans.3 twice", "PATCH", at+"/lines/"+itoa(line.Id)+"/answers", fields{"version": line.Version, "answers": fields{"scans": list}})
	if !strings.Contains(p.Errors[0].Message, "PLAIN") || !strings.Contains(p.Errors[1].Message, "20 × 20") {
		t.Errorf("%+v", p.Errors)
	}
}

// What no paid order has is gone after a day; what one has stays.
func TestSweepingUploads(t *testing.T) {
	h := open(t, nil)
	c := h.client()
	loose, held, bought := c.uploads("a.png", pngOf(t, 800, 600), 9999), c.uploads("b.png", pngOf(t, 800, 600), 9999), c.uploads("c.png", pngOf(t, 800, 600), 9999)
	enquiry := func(u api.Upload) fields {
		return fields{"product": "enquiry", "quantity": 1, "answers": fields{"what": "A house of stars", "pictures": []fields{{"file": u.Id, "name": u.Name}}}}
	}
	h.sells("Enquiry", "enquiry")
	c.want(200, "PUT", checkout(), basket(enquiry(held))) // never paid
	at := checkout()
	c.want(200, "PUT", at, basket(enquiry(bought)))
	// What costs nothing needs no card.
	if p := read[api.Payment](t, c.want(200, "POST", at+"/pay", try("attempt-0001"))); p.State != "settled" {
		t.Errorf("%+v", p)
	}
	if p := read[api.Payment](t, c.want(200, "POST", h.prepared(c)+"/pay", try("attempt-0001"))); p.State != "confirm" {
		t.Errorf("%+v", p)
	}
	folder := h.server.Shop.Uploads.Path
	for _, u := range []api.Upload{loose, held, bought} {
		must(t, os.Chtimes(filepath.Join(folder, u.Id), today, today)) // files bear the machine's time
	}
	must(t, h.server.Shop.SweepUploads(t.Context()))
	h.client().want(200, "GET", "/api/shop/uploads/"+loose.Id, nil)
	h.ahead.Store(int64(25 * time.Hour))
	must(t, h.server.Shop.SweepUploads(t.Context()))
	for id, status := range map[string]int{loose.Id: 404, held.Id: 404, bought.Id: 200} {
		a := c.send("GET", "/api/shop/uploads/"+id, nil)
		_, err := os.Stat(filepath.Join(folder, id))
		if a.status != status || (err == nil) != (status == 200) {
			t.Errorf("status %d, want %d; the file: %v", a.status, status, err)
		}
	}
}

// What strangers send without buying has a limit in bytes that arrived, for each
// sender and in all, and one in files. What was only announced holds nobody up,
// and goes in minutes.
func TestUploadsThatWaitHaveALimit(t *testing.T) {
	h := guarded(t)
	c, other := h.client(), h.client().from("198.51.100.7")
	start := func(c *client, status int) string {
		t.Helper()
		return read[api.Upload](t, c.want(status, "POST", "/api/shop/uploads", fields{"name": "large.mov", "size": int64(1_900_000_000), "question": "scans"})).Id
	}
	db := storetest.SQL(t, filepath.Join(h.store.Folder(), store.File))
	exec := func(q string) {
		t.Helper()
		_, err := db.Exec(q)
		must(t, err)
	}
	for range 600 {
		start(c, 200)
	}
	a := c.want(429, "POST", "/api/shop/uploads", fields{"name": "one.mov", "size": 5, "question": "scans"})
	if a.header.Get("Retry-After") != "600" || !strings.Contains(read[problemDocument](t, a).Title, "wait 10 minutes") {
		t.Errorf("%v %s", a.header, a.body)
	}
	id := start(other, 200)
	h.ahead.Store(int64(11 * time.Minute))
	start(c, 200)
	must(t, h.server.Shop.Sweep(t.Context()))
	var n int
	if must(t, db.QueryRow("SELECT COUNT(*) FROM uploads WHERE order_id IS NULL AND NOT kept").Scan(&n)); n != 1 {
		t.Errorf("%d idle uploads are left, want the one just begun", n)
	}
	c.want(404, "GET", "/api/shop/uploads/"+id, nil)

	id = start(c, 200)
	exec("UPDATE uploads SET received = 10000000000 WHERE id = '" + id + "'")
	start(c, 429)
	c.want(429, "PATCH", "/api/shop/uploads/"+id, "x", "Upload-Offset", "0", "Content-Type", "application/octet-stream")
	exec("UPDATE uploads SET received = 50000000000, sender = '' WHERE id = '" + id + "'")
	full := c.want(503, "POST", "/api/shop/uploads", fields{"name": "b.mov", "size": 5, "question": "scans"})
	if p := read[problemDocument](t, full); !strings.Contains(p.Title, "Try again later") || full.header.Get("Retry-After") == "" {
		t.Errorf("%+v", p)
	}
	h.ahead.Add(int64(25 * time.Hour))
	must(t, h.server.Shop.SweepUploads(t.Context()))
	start(c, 200)
}

// An order has so many bytes and no more, with the files that were exchanged.
func TestFilesOfOneOrder(t *testing.T) {
	h := open(t, nil)
	c := h.client()
	at := c.buys(rescue())
	line := read[api.OrderPage](t, c.want(200, "GET", at, nil)).Lines[0]
	answers := at + "/lines/" + itoa(line.Id) + "/answers"
	send := func(status, version int) {
		t.Helper()
		u := c.uploads("pier.png", pngOf(t, 800, 600), 1<<20)
		c.want(status, "PATCH", answers, fields{"version": version, "answers": fields{"scans": []fields{{"file": u.Id, "name": "pier.png"}}}})
	}
	send(200, line.Version)
	_, err := storetest.SQL(t, filepath.Join(h.store.Folder(), store.File)).Exec("UPDATE uploads SET received = 9999999000 WHERE order_id = (SELECT order_id FROM order_lines WHERE id = ?)", line.Id)
	must(t, err)
	send(413, line.Version+1)
	if now := read[api.OrderPage](t, c.want(200, "GET", at, nil)).Lines[0]; now.Version != line.Version+1 {
		t.Error("a change that was refused is kept")
	}
}

// A checkout that is not paid goes after a day with what was typed in it, and so
// does what it held, also after its card was declined; one that is still held
// stays, and so does one of which the bank may still say something, and every
// order.
func TestUnpaidCheckoutsGo(t *testing.T) {
	h := open(t, nil)
	c := h.client()
	db := storetest.SQL(t, filepath.Join(h.store.Folder(), store.File))
	count := func(table string) (n int64) {
		t.Helper()
		must(t, db.QueryRow("SELECT COUNT(*) FROM "+table).Scan(&n))
		return n
	}
	c.buys(chart())
	silent := h.prepared(c)
	c.pays(silent, cards.Declined, "attempt-silent")
	_, err := db.Exec("UPDATE attempts SET state = 'asked' WHERE id = (SELECT MAX(id) FROM attempts)")
	must(t, err)
	tables := []string{"orders", "order_lines", "bookings", "coupon_uses", "stock_holds"}
	before := map[string]int64{}
	for _, table := range tables {
		before[table] = count(table)
	}
	declined := h.prepared(c)
	c.pays(declined, cards.Declined, "attempt-0001")
	h.desk().coupon(fields{"code": "NOVA-TEN", "percent": "10"}, 0, 0)
	evening := c.evening(8, 2)
	for range 3 {
		c.want(200, "PUT", checkout(), whole(basket(chart()), fields{"coupons": []string{"NOVA-TEN"}}))
	}
	c.want(200, "PUT", checkout(), basket(evening))
	c.want(200, "PUT", checkout(), basket(fields{"product": "red-lamp", "quantity": 2, "answers": fields{}}))
	must(t, h.server.Shop.Sweep(t.Context()))
	if n := count("orders") - before["orders"]; n != 6 {
		t.Errorf("on the same day %d of 6 checkouts are there", n)
	}
	h.ahead.Store(int64(23*time.Hour + 55*time.Minute))
	late := checkout()
	c.want(200, "PUT", late, basket(chart()))
	h.ahead.Store(int64(24*time.Hour + 5*time.Minute))
	must(t, h.server.Shop.Sweep(t.Context()))
	for _, table := range tables {
		want := before[table]
		if table == "orders" || table == "order_lines" {
			want++ // the late one
		}
		if n := count(table); n != want {
			t.Errorf("%s: %d rows, want %d", table, n, want)
		}
	}
	c.pays(late, cards.Works, "attempt-0001")
	c.want(200, "PUT", declined, basket(chart()))
	h.audit()
}

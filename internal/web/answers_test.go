package web

import (
	"encoding/json"
	"maps"
	"math/rand/v2"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"ruvo/api"
	"ruvo/internal/store"
	"ruvo/internal/storetest"
)

// answersAt asks for a page of answers.
func answersAt(t *testing.T, d *client, of string) api.AnswerTable {
	t.Helper()
	return read[api.AnswerTable](t, d.want(200, "GET", "/api/desk/"+of, nil))
}

// column gives what was said to a question.
func column(t *testing.T, v api.AnswerTable, key string) api.AnswerColumn {
	t.Helper()
	at := slices.IndexFunc(v.Columns, func(c api.AnswerColumn) bool { return c.Key == key })
	if at < 0 {
		t.Fatalf("no %s in %+v", key, v.Columns)
	}
	return v.Columns[at]
}

// saidTo gives how often something was said to a question.
func saidTo(t *testing.T, v api.AnswerTable, key, what string) int {
	t.Helper()
	if counts := column(t, v, key).Counts; counts != nil {
		for _, one := range *counts {
			if one.What == what {
				return one.N
			}
		}
	}
	return 0
}

// However many orders there are, all of their answers can be looked at: page by page, each
// once, in whatever order; and what they come to is of all of them on every page.
func TestAnswersPageByPage(t *testing.T) {
	h := open(t, nil)
	must(t, h.store.Multiply(t.Context(), 1000, func(int) {}))
	d := h.desk()
	db := storetest.SQL(t, filepath.Join(h.store.Folder(), store.File))
	number := func(q string) (n int) {
		t.Helper()
		must(t, db.QueryRow(q).Scan(&n))
		return n
	}
	const all = "SELECT COUNT(*) FROM order_lines WHERE product_id = 1 AND placed AND cancelled_at IS NULL"
	wine := number(all + " AND json_extract(answers, '$.paper') = 'wine'")
	for _, order := range []string{"", "&sort=answer&by=night", "&sort=answer&by=words&turned=true", "&sort=customer", "&turned=true"} {
		seen := map[int64]bool{}
		var nights []string
		for page := 1; ; page++ {
			v := answersAt(t, d, "products/1/answers?page="+itoa(int64(page))+order)
			if v.From != (page-1)*100+1 || v.More && len(v.Rows) == 0 || v.All != number(all) || v.Unread != 0 {
				t.Fatalf("page %d is from %d of %d", page, v.From, v.All)
			}
			if saidTo(t, v, "paper", "Wine") != wine {
				t.Errorf("page %d counts %d times wine, not %d", page, saidTo(t, v, "paper", "Wine"), wine)
			}
			for _, r := range v.Rows {
				if seen[r.Line] {
					t.Fatalf("%s: %d is there twice", order, r.Line)
				}
				seen[r.Line] = true
				nights = append(nights, r.Cells["night"].Words)
			}
			if !v.More {
				break
			}
		}
		if len(seen) != number(all) || len(seen) < 400 {
			t.Errorf("%s: %d of %d were seen", order, len(seen), number(all))
		}
		if once := len(slices.Compact(nights)); strings.Contains(order, "night") && once != number("SELECT COUNT(DISTINCT json_extract(answers, '$.night')) FROM order_lines WHERE product_id = 1 AND placed AND cancelled_at IS NULL") {
			t.Errorf("sorted by the night, it is another %d times", once)
		}
	}
	if v := answersAt(t, d, "products/1/answers?question=paper&what=Wine&page=2"); v.All != wine || len(v.Rows) != min(100, wine-100) || v.Rows[0].Cells["paper"].Words != "Wine" {
		t.Errorf("%d rows have wine, %d on the second page", v.All, len(v.Rows))
	}
	h.audit()
}

// All answers of a product: a row an order, a column a question, and what they come to.
func TestAnswerTable(t *testing.T) {
	h := open(t, nil)
	c, d := h.client(), h.desk()
	before := answersAt(t, d, "products/1/answers")
	c.buys(with(chart(), fields{"title": "Saltwater and saltwater"}))
	after := answersAt(t, d, "products/1/answers")
	if after.All != before.All+1 || len(after.Rows) != after.All || after.Rows[0].Customer != "Ada Quill" || after.Rows[0].Cells["paper"].Words != "Midnight" {
		t.Fatalf("%+v", after.Rows[0])
	}
	if saidTo(t, after, "paper", "Midnight") != saidTo(t, before, "paper", "Midnight")+1 || saidTo(t, after, "title", "saltwater") != 1 {
		t.Errorf("%+v", after.Columns)
	}
	if column(t, after, "title").Answered != column(t, before, "title").Answered+1 {
		t.Errorf("%d answered", column(t, after, "title").Answered)
	}
	rows := func(q string) int { return answersAt(t, d, "products/1/answers?"+q).All }
	for q, want := range map[string]int{
		"question=title&what=saltwater": 1, "text=SALTWATER": 1, "text=ada+quill": 1, "text=Nowhere+at+all": 0, "question=title&what=nowhere": 0, "question=gift&what=no": saidTo(t, after, "gift", "No"),
	} {
		if got := rows(q); got != want {
			t.Errorf("%s: %d rows, not %d", q, got, want)
		}
	}
	// An answer that changes counts as it is now, that of a line that is cancelled not.
	line := d.docket(after.Rows[0].Line)
	d.want(200, "PATCH", "/api/desk/dockets/"+itoa(line.Line)+"/answers", fields{"version": line.Version, "answers": fields{"title": "Freshwater"}})
	if rows("question=title&what=saltwater") != 0 || rows("question=title&what=freshwater") != 1 {
		t.Error("the title counts as it was")
	}
	d.want(200, "POST", "/api/desk/orders/"+itoa(line.Number)+"/cancel", fields{"how": "all", "restock": false})
	if v := answersAt(t, d, "products/1/answers"); v.All != before.All || saidTo(t, v, "paper", "Midnight") != saidTo(t, before, "paper", "Midnight") || saidTo(t, v, "title", "freshwater") != 0 {
		t.Error("what was cancelled counts")
	}
	c.buys(photos())
	if n := column(t, answersAt(t, d, "products/3/answers"), "pictures").Numbers; n == nil || n.N < 2 || n.Least > 2 || n.Median < n.Lower {
		t.Errorf("%+v", n)
	}
	d.refused(404, "", "GET", "/api/desk/products/999/answers", nil)
	d.wrong("sort", "choice", "GET", "/api/desk/products/1/answers?sort=weather", nil)
	h.audit()
}

// Answers of orders from before they were counted are read beside what is done, and come
// to the same.
func TestAnswersFromBeforeAreRead(t *testing.T) {
	h := open(t, nil)
	d := h.desk()
	want := answersAt(t, d, "products/1/answers")
	db := storetest.SQL(t, filepath.Join(h.store.Folder(), store.File))
	for _, q := range []string{"DELETE FROM line_answers", "UPDATE line_words SET words = ''", "INSERT INTO lines_unread SELECT id FROM order_lines WHERE placed"} {
		if _, err := db.Exec(q); err != nil {
			t.Fatal(err)
		}
	}
	if v := answersAt(t, d, "products/1/answers"); v.Unread < 40 || v.All != want.All || saidTo(t, v, "paper", "Moss") != 0 {
		t.Errorf("%d are unread", v.Unread)
	}
	h.audit()
	h.server.ReadAnswers(t.Context())
	if v := answersAt(t, d, "products/1/answers"); v.Unread != 0 || saidTo(t, v, "paper", "Moss") != saidTo(t, want, "paper", "Moss") || saidTo(t, v, "paper", "Moss") == 0 {
		t.Errorf("%+v", v.Columns)
	}
	if found := read[api.OrderList](t, d.want(200, "GET", "/api/desk/orders?answers=tromsdal", nil)); len(found.Rows) == 0 {
		t.Error("nothing of what was read is found")
	}
	h.audit()
}

// What answers come to is what counting them by hand in what is stored gives, after orders
// with random answers, changes and cancellations: each choice of a question by its label,
// of orders that were not cancelled.
func TestCountsAreThoseOfARecount(t *testing.T) {
	h := open(t, nil)
	d := h.desk()
	seed := rand.Uint64()
	r := rand.New(rand.NewPCG(seed, 3))
	papers := []string{"midnight", "wine", "moss", "sand"}
	product := read[api.DeskProduct](t, d.want(200, "GET", "/api/desk/products/1", nil))
	labels := map[string]map[string]string{"paper": {}, "size": {}}
	for _, q := range product.Draft.Questions {
		if names, ok := labels[string(q.Key)]; ok {
			var settings struct {
				Choices []struct{ Code, Label string }
			}
			must(t, json.Unmarshal(q.Settings, &settings))
			for _, c := range settings.Choices {
				names[c.Code] = c.Label
			}
		}
	}
	sizes := slices.Sorted(maps.Keys(labels["size"]))
	if len(sizes) < 3 || len(labels["paper"]) < len(papers) {
		t.Fatalf("%v", labels)
	}
	for range 12 {
		lines := []fields{}
		for range 1 + r.IntN(2) {
			lines = append(lines, with(chart(), fields{"paper": papers[r.IntN(len(papers))], "size": sizes[r.IntN(len(sizes))], "heard": []string{"fair", "net", "friend"}[r.IntN(3)]}))
		}
		heard := lines[0]["answers"].(fields)["heard"] // said once for the whole order
		for _, l := range lines {
			l["answers"].(fields)["heard"] = heard
		}
		h.client().buys(lines...)
		switch line := d.docket(answersAt(t, d, "products/1/answers").Rows[0].Line); r.IntN(4) {
		case 0:
			d.want(200, "PATCH", "/api/desk/dockets/"+itoa(line.Line)+"/answers", fields{"version": line.Version, "answers": fields{"paper": papers[r.IntN(len(papers))]}})
		case 1:
			d.want(200, "POST", "/api/desk/orders/"+itoa(line.Number)+"/cancel", fields{"how": "all", "restock": false})
		}
	}
	db := storetest.SQL(t, filepath.Join(h.store.Folder(), store.File))
	v := answersAt(t, d, "products/1/answers")
	for key, names := range labels {
		counts := map[string]int{}
		rows, err := db.Query("SELECT json_extract(answers, '$." + key + "'), COUNT(*) FROM order_lines WHERE product_id = 1 AND placed AND cancelled_at IS NULL AND json_extract(answers, '$." + key + "') IS NOT NULL GROUP BY 1")
		must(t, err)
		for rows.Next() {
			var code string
			var n int
			must(t, rows.Scan(&code, &n))
			counts[names[code]] = n
		}
		rows.Close()
		all := 0
		for label, n := range counts {
			all += n
			if got := saidTo(t, v, key, label); got != n {
				t.Errorf("seed %d: %s %s is counted %d times, and was said %d times", seed, key, label, got, n)
			}
		}
		if got := column(t, v, key).Answered; got != all {
			t.Errorf("seed %d: %s is counted as answered %d times, and was %d times", seed, key, got, all)
		}
	}
	var orders int
	must(t, db.QueryRow("SELECT COUNT(DISTINCT order_id) FROM order_lines WHERE product_id = 1 AND placed AND cancelled_at IS NULL AND json_extract(answers, '$.heard') IS NOT NULL").Scan(&orders))
	if got := column(t, v, "heard").Answered; got != orders {
		t.Errorf("seed %d: %d orders said how they heard of it, and %d are counted", seed, orders, got)
	}
	h.audit()
}

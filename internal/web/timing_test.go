package web

import (
	"archive/zip"
	"bytes"
	"io"
	"net/url"
	"regexp"
	"strings"
	"testing"
	"time"

	"ruvo/api"
)

// What somebody works on is measured, shared between what runs at once, paused, and
// corrected; somebody else is told who works on it; what was just finished has no time.
func deref(n *int) int {
	if n == nil {
		return -1
	}
	return *n
}

func TestMeasuringWork(t *testing.T) {
	h := open(t, nil)
	defer h.audit()
	c, d := h.client(), h.desk()
	c.buys(chart())
	docket := d.newest()
	d.want(200, "POST", "/api/desk/items", fields{"title": "card", "minutes": 12, "line": docket.Line})
	find := func(step string) api.WorkItem {
		t.Helper()
		for _, w := range read[api.Docket](t, d.want(200, "GET", "/api/desk/dockets/"+itoa(docket.Line), nil)).Work {
			if w.Step == step || w.Title == step {
				return w
			}
		}
		t.Fatalf("there is no %s", step)
		return api.WorkItem{}
	}
	do := func(action string, steps ...string) {
		t.Helper()
		ids := []int64{}
		for _, s := range steps {
			ids = append(ids, find(s).Id)
		}
		d.want(200, "POST", "/api/desk/work/"+action, fields{"items": ids})
	}
	taken := func(step string, want int) {
		t.Helper()
		w := find(step)
		switch {
		case want < 0 && w.Taken != nil, want >= 0 && (w.Taken == nil || *w.Taken != want):
			t.Errorf("%s took %v, want %d", step, deref(w.Taken), want)
		}
	}
	pass := func(minutes int) { h.ahead.Add(int64(time.Duration(minutes) * time.Minute)) }
	d.want(200, "PUT", "/api/desk/me", fields{"person": 4})
	do("start", "compute")
	if w := find("compute"); w.Since == nil || *w.By != "Ilse Brandt" || *w.Assigned != 4 {
		t.Errorf("%+v", w)
	}
	pass(10)
	do("start", "card")
	do("start", "card") // pressed twice
	pass(20)            // shared
	do("pause", "compute")
	pass(6)
	do("finish", "card")
	taken("compute", 20)
	taken("card", 16)
	do("start", "compute")
	pass(2)
	do("finish", "compute")
	taken("compute", 22)
	do("undo", "compute")
	taken("compute", 22)
	do("finish", "compute")
	do("finish", "letter")
	taken("letter", -1)
	// Forgotten overnight, it stops at five in the afternoon: 9:30, 38 minutes passed.
	do("undo", "compute")
	do("start", "compute")
	h.ahead.Add(int64(20 * time.Hour))
	d = h.desk()
	do("pause", "compute")
	taken("compute", 22+6*60+52)
	do("finish", "compute")
	w := find("compute")
	put := read[api.WorkItem](t, d.want(200, "PUT", itemPath(w), fields{"version": w.Version, "taken": 18}))
	if *put.Taken != 18 {
		t.Errorf("corrected to %d", *put.Taken)
	}
	do("undo", "card")
	do("undo", "card") // as if it was never begun
	taken("card", -1)
	d.refused(409, "", "POST", "/api/desk/work/pause", fields{"items": []int64{find("card").Id}})
	d.refused(409, "", "POST", "/api/desk/work/pause", fields{"items": []int64{w.Id}})
}

// The columns of a worksheet are chosen, put in order and grouped for everybody.
func TestLayingOutAWorksheet(t *testing.T) {
	h := open(t, nil)
	d := h.desk()
	path := "/api/desk/worksheets/1/letter"
	first := read[api.Worksheet](t, d.want(200, "GET", path, nil))
	if len(first.Columns) == 0 || len(first.All) <= len(first.Columns) || first.Grouped != "" {
		t.Fatalf("%+v", first.Columns)
	}
	keys := func(s api.Worksheet) (list []string) {
		for _, c := range s.Columns {
			list = append(list, c.Key)
		}
		return list
	}
	laid := read[api.Worksheet](t, d.want(200, "PUT", path, fields{"columns": []string{"place", "title", "nonsense", "title"}, "grouped": "size"}))
	if got := keys(laid); len(got) != 2 || got[0] != "place" || got[1] != "title" || laid.Grouped != "size" || laid.Rows[0].Cells["size"].Words == "" {
		t.Errorf("%v, grouped by %s", got, laid.Grouped)
	}
	d.want(200, "PUT", path, fields{"columns": []string{}, "grouped": ""})
	if got := keys(read[api.Worksheet](t, d.want(200, "GET", path, nil))); len(got) != len(first.Columns) {
		t.Errorf("%v", got)
	}
	d.refused(404, "", "PUT", "/api/desk/worksheets/99/letter", fields{"columns": []string{}, "grouped": ""})
	d.refused(404, "", "PUT", "/api/desk/worksheets/1/No", fields{"columns": []string{}, "grouped": ""})
}

// The answers of a worksheet come as files: one of all texts, and files named by a
// pattern, no two the same.
func TestAnswersAsFiles(t *testing.T) {
	h := open(t, nil)
	d := h.desk()
	unpack := func(path string) map[string]string {
		t.Helper()
		raw := d.want(200, "GET", path, nil).body
		z, err := zip.NewReader(bytes.NewReader(raw), int64(len(raw)))
		must(t, err)
		files := map[string]string{}
		for _, f := range z.File {
			in, err := f.Open()
			must(t, err)
			text, err := io.ReadAll(in)
			must(t, err)
			files[f.Name] = string(text)
		}
		return files
	}
	files := unpack("/api/desk/worksheets/1/letter/answers.zip")
	if text := files["texts.txt"]; len(files) != 1 || !strings.Contains(text, "Title on the chart: ") || !strings.Contains(text, ", Tomas Elberg: Letter the title\n") {
		t.Errorf("%v", files)
	}
	mend := unpack("/api/desk/worksheets/3/mend/answers.zip?pattern=" + url.QueryEscape("{{order}}-{{customer}}-{{number}}"))
	for name := range mend {
		if name != "texts.txt" && !regexp.MustCompile(`^10\d\d-[\pL ]+-\d{3}\.\w+$`).MatchString(name) && !strings.HasSuffix(name, " cropped.png") {
			t.Errorf("a file is named %q", name)
		}
	}
	d.refused(422, "pattern name_pattern", "GET", "/api/desk/worksheets/3/mend/answers.zip?pattern="+url.QueryEscape("{{secret}}"), nil)
	d.refused(422, "pattern name_pattern", "GET", "/api/desk/worksheets/3/mend/answers.zip?pattern="+url.QueryEscape("{{#order}}"), nil)
	d.refused(404, "", "GET", "/api/desk/worksheets/99/mend/answers.zip", nil)
}

// A long worksheet comes in pages that together are the whole one.
func TestAWorksheetInPages(t *testing.T) {
	h := open(t, nil)
	d := h.desk()
	path := "/api/desk/worksheets/1/letter"
	all := read[api.Worksheet](t, d.want(200, "GET", path, nil))
	rest := read[api.Worksheet](t, d.want(200, "GET", path+"?from=3", nil))
	if len(all.Rows) < 5 || all.More != nil || len(rest.Rows) != len(all.Rows)-3 || rest.Rows[0].Item.Id != all.Rows[3].Item.Id || rest.More != nil {
		t.Errorf("%d rows, from the fourth %d", len(all.Rows), len(rest.Rows))
	}
	if none := read[api.Worksheet](t, d.want(200, "GET", path+"?from=4000", nil)); len(none.Rows) != 0 {
		t.Errorf("%d rows after the last", len(none.Rows))
	}
	d.refused(422, "from least", "GET", path+"?from=-1", nil)
}

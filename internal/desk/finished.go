package desk

import (
	"context"
	"errors"
	"net/http"
	"strconv"
	"strings"
	"unicode/utf8"

	"ruvo/api"
	"ruvo/internal/apiview"
	"ruvo/internal/core/handover"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/docket"
	"ruvo/internal/link"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// leastRoom is how many bytes stay free on the disk.
const leastRoom = 500_000_000

// StartFinished makes room for a finished file. What can be told from its size is told
// before a byte of it is sent.
func (d *Desk) StartFinished(ctx context.Context, start api.FinishedStart, l words.Language) (api.Upload, error) {
	name := strings.TrimSpace(start.Name)
	switch {
	case name == "" || question.Characters(name) > 255 || !utf8.ValidString(name) || strings.ContainsAny(name, "\x00\r\n/\\"):
		return api.Upload{}, problem.Invalid(l, []api.FieldError{problem.Field(l, "name", "longest", words.Params{"most": "255"})})
	case start.Size <= 0:
		return api.Upload{}, problem.Invalid(l, []api.FieldError{problem.Field(l, "size", "file_empty", nil)})
	case start.Size > handover.MostFileBytes:
		return api.Upload{}, problem.Invalid(l, []api.FieldError{problem.Field(l, "size", "finished_size", words.Params{"most": "20"})})
	}
	if room, err := d.Uploads.Room(); err == nil && room-leastRoom < start.Size {
		return api.Upload{}, problem.Say(http.StatusInsufficientStorage, l, "finished_full", words.Params{"free": gigabytes(max(room-leastRoom, 0)), "size": gigabytes(start.Size)})
	}
	u := store.Upload{ID: link.Secret(), Name: name, Size: start.Size, Desk: true, CreatedAt: d.Now().UTC()}
	err := d.Store.Write(ctx, func(tx *store.Tx) error { return tx.AddUpload(&u) })
	none := 0
	kind := ""
	return api.Upload{Id: u.ID, Name: u.Name, Size: u.Size, Type: &kind, Width: &none, Height: &none}, err
}

func gigabytes(n int64) string { return strconv.FormatFloat(float64(n)/1e9, 'f', 1, 64) }

// The bounds of what is matched at once.
const (
	mostNames      = 2000
	mostCandidates = 5000
)

// MatchFinished tells for which order lines files are, by their names, and how those
// are handed over; and to which a scanned code leads.
func (d *Desk) MatchFinished(ctx context.Context, asked api.FinishedNames, l words.Language) (api.FinishedMatches, error) {
	view := api.FinishedMatches{Matches: []api.FinishedMatch{}, Lines: []api.HandoverLine{}}
	if len(asked.Names) > mostNames {
		return view, problem.Invalid(l, []api.FieldError{problem.Field(l, "names", "most_files", words.Params{"most": "2000"})})
	}
	var pattern *handover.Pattern
	if text := strings.TrimSpace(apiview.Given(asked.Pattern)); text != "" {
		var ok bool
		if pattern, ok = handover.ParsePattern(text); !ok {
			return view, problem.Invalid(l, []api.FieldError{problem.Field(l, "pattern", "name_pattern", words.Params{"fields": "{{" + strings.Join(handover.PatternFields(), "}}, {{") + "}}"})})
		}
	}
	err := d.Store.Read(ctx, func(tx *store.Tx) error {
		m := &matching{d: d, tx: tx, l: l, view: &view, shown: map[int64]bool{}}
		if code := strings.TrimSpace(apiview.Given(asked.Code)); code != "" {
			if err := m.scan(code); err != nil {
				return err
			}
		}
		for _, line := range apiview.Given(asked.Lines) {
			if err := m.show(line); err != nil {
				return err
			}
		}
		return m.match(asked.Names, apiview.Given(asked.Lines), pattern)
	})
	return view, err
}

// matching is finished files being matched with order lines.
type matching struct {
	d     *Desk
	tx    *store.Tx
	l     words.Language
	view  *api.FinishedMatches
	shown map[int64]bool
}

// scan shows the lines that a code leads to.
func (m *matching) scan(code string) error {
	line, number := handover.Scanned(code)
	if number != 0 {
		o, err := m.tx.OrderByNumber(number)
		if err != nil {
			return problem.Missing(err, m.l, "no_code")
		}
		lines, err := m.tx.LineHeads(o.ID)
		for i := range lines {
			if err == nil && lines[i].Placed {
				err = m.show(lines[i].ID)
			}
		}
		return err
	}
	if line == 0 {
		return problem.NotFound(m.l, "no_code")
	}
	return m.show(line)
}

// show shows a line once; one that is not there is an error.
func (m *matching) show(id int64) error {
	if m.shown[id] {
		return nil
	}
	line, err := m.d.open(m.tx, id, m.l)
	if err != nil {
		return err
	}
	m.shown[id] = true
	m.view.Lines = append(m.view.Lines, handoverLine(line))
	return nil
}

func (m *matching) match(names []string, wanted []int64, pattern *handover.Pattern) error {
	if len(names) == 0 {
		return nil
	}
	var numbers []int64
	for _, n := range names {
		numbers = append(numbers, handover.Numbers(n)...)
	}
	rows, err := m.tx.UnhandedLines(numbers, mostCandidates)
	if err != nil {
		return err
	}
	ids, orders := make([]int64, len(rows)), make([]int64, len(rows))
	for i := range rows {
		ids[i], orders[i] = rows[i].ID, rows[i].OrderID
	}
	parts, err := m.tx.OpenParts(ids)
	if err != nil {
		return err
	}
	sent, err := m.tx.SentNames(orders)
	if err != nil {
		return err
	}
	all := make([]handover.Candidate, len(rows))
	for i := range rows {
		r := &rows[i]
		all[i] = handover.Candidate{Line: r.ID, Number: r.Number, Customer: r.Name, Parts: parts[r.ID], Files: sent[r.OrderID]}
		for _, w := range wanted {
			all[i].Wanted = all[i].Wanted || w == r.ID
		}
	}
	for _, name := range names {
		found := handover.Find(name, pattern, all)
		v := api.FinishedMatch{Name: name, Lines: []int64{}}
		if by := api.FinishedMatchBy(found.By); len(found.Lines) > 0 {
			v.Lines, v.By = found.Lines, &by
		}
		m.view.Matches = append(m.view.Matches, v)
		for _, line := range v.Lines {
			if err := m.show(line); err != nil && !errors.Is(err, store.ErrNotFound) {
				return err
			}
		}
	}
	return nil
}

// handoverLine shows an order line with how it is handed over.
func handoverLine(line *docket.Line) api.HandoverLine {
	v := api.HandoverLine{
		Line: line.Row.ID, Number: *line.Order.Number, Customer: line.Order.Name, Title: line.Edition.Title, Handed: line.Row.HandedAt,
		Steps: []api.HandoverStep{}, Open: line.Row.OpenItems,
	}
	if day := line.Promised(); day != "" {
		v.Promised = &day
	}
	if t := line.Edition.Handover; t != nil {
		if t.Message != "" {
			v.Message = &t.Message
		}
		if t.Keep > 0 {
			v.Keep = &t.Keep
		}
	}
	open := map[string]int{}
	has := map[string]bool{}
	for i := range line.Items {
		w := &line.Items[i]
		has[string(w.Step)] = true
		if w.DoneAt == nil {
			open[string(w.Step)]++
		}
	}
	for i := range line.Edition.Plan.Steps {
		s := &line.Edition.Plan.Steps[i]
		key := string(s.Key)
		if !has[key] {
			continue
		}
		step := api.HandoverStep{Key: key, Title: s.Called(), Asks: s.Acceptance != nil, Open: open[key] > 0}
		if a := s.Acceptance; a != nil {
			left := a.Quote(line.Row.Shown[s.Key]).Left
			step.Left = &left
			if a.Silence > 0 {
				step.Silence = &a.Silence
			}
		}
		v.Steps = append(v.Steps, step)
	}
	v.Step, v.Whole = likely(v.Steps, line)
	return v
}

// likely tells what of a line is handed over now: what the first step makes that the
// customer is asked about and that is open or being shown, and only then the rest.
func likely(steps []api.HandoverStep, line *docket.Line) (step string, whole bool) {
	for _, s := range steps {
		accepted := !line.Row.Shown[keyOf(s)].Accepted.IsZero()
		if s.Asks && (s.Open || !accepted) {
			waits := false // others begin only with its acceptance
			for i := range line.Items {
				w := &line.Items[i]
				waits = waits || w.DoneAt == nil && w.Accept && w.AfterStep == keyOf(s)
			}
			return s.Key, !waits
		}
	}
	return "", true
}

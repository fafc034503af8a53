// Package talking keeps what customers and sellers write to each other about an order.
package talking

import (
	"errors"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"time"

	"ruvo/api"
	"ruvo/internal/apiview"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/docket"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// The limits of messages.
const (
	longest   = 5000 // letters
	mostFiles = 10   // of a message
	mostHour  = 60   // messages of a customer about an order, in an hour
)

// A Said is what somebody writes.
type Said struct {
	Message  api.TalkWrite
	Customer bool
	Author   string
	Language words.Language
}

// Write keeps a message about an order, which can be about one of its lines, and about a
// question of it.
func Write(tx *store.Tx, o *store.Order, lines []*docket.Line, s Said, now time.Time) (*store.Talk, error) {
	m, l := s.Message, s.Language
	text := strings.TrimSpace(m.Text)
	ids := apiview.Given(m.Files)
	var wrong []api.FieldError
	add := func(key, code string, p words.Params) { wrong = append(wrong, problem.Field(l, key, code, p)) }
	switch {
	case text == "" && len(ids) == 0:
		add("text", "talk_empty", nil)
	case len([]rune(text)) > longest:
		add("text", "longest", words.Params{"most": strconv.Itoa(longest)})
	}
	if len(ids) > mostFiles {
		add("files", "most_files", words.Params{"most": strconv.Itoa(mostFiles)})
	}
	t := &store.Talk{OrderID: o.ID, LineID: apiview.Given(m.Line), Key: question.Key(apiview.Given(m.Key)), Customer: s.Customer, Author: s.Author, Text: text, At: now.UTC()}
	if t.LineID != 0 || t.Key != "" {
		i := slices.IndexFunc(lines, func(x *docket.Line) bool { return x.Row.ID == t.LineID })
		if i < 0 {
			add("line", "unknown", nil)
		} else if item, ok := lines[i].Edition.Item(t.Key); t.Key != "" && (!ok || item.Moment == question.Desk && s.Customer) {
			add("key", "unknown", nil)
		}
	}
	if len(wrong) > 0 {
		return nil, problem.Invalid(l, wrong)
	}
	if s.Customer {
		n, err := tx.TalkSince(o.ID, now.Add(-time.Hour))
		if err != nil {
			return nil, err
		}
		if n >= mostHour {
			return nil, problem.Throttled(l, "many_messages", time.Hour)
		}
	}
	for i, id := range ids {
		f, err := file(tx, o, id, s)
		if err == nil && slices.Contains(ids[:i], id) {
			err = problem.Invalid(l, []api.FieldError{problem.Field(l, "files", "file_twice", words.Params{"name": f.Name})})
		}
		if err != nil {
			return nil, err
		}
		t.Files = append(t.Files, f)
	}
	if s.Customer {
		if err := docket.BindUploads(tx, o.ID, ids, l); err != nil {
			return nil, err
		}
	} else if err := tx.KeepUploads(ids); err != nil {
		return nil, err
	}
	return t, tx.AddTalk(t)
}

// file finds a file that goes with a message.
func file(tx *store.Tx, o *store.Order, id string, s Said) (store.TalkFile, error) {
	find := func() (store.Upload, error) { return tx.DeskUpload(id) }
	if s.Customer {
		find = func() (store.Upload, error) { return tx.UploadFor(id, o.ID) }
	}
	u, err := find()
	switch {
	case errors.Is(err, store.ErrNotFound):
		err = problem.Invalid(s.Language, []api.FieldError{problem.Field(s.Language, "files", "no_upload", nil)})
	case err == nil && (u.Received < u.Size || u.Type == ""):
		err = problem.Invalid(s.Language, []api.FieldError{problem.Field(s.Language, "files", "upload_part", words.Params{"name": u.Name})})
	}
	return store.TalkFile{Upload: u.ID, Name: u.Name, Size: u.Size, Type: u.Type, Width: u.Width, Height: u.Height}, err
}

// Views shows what was written about an order, the oldest first; nil for nothing.
func Views(tx *store.Tx, o int64, wording func(line int64, k question.Key) string) (*[]api.Talk, error) {
	rows, err := tx.Talk(o)
	if err != nil || len(rows) == 0 {
		return nil, err
	}
	views := make([]api.Talk, len(rows))
	for i := range rows {
		views[i] = View(&rows[i])
		if t := &rows[i]; t.Key != "" {
			about := wording(t.LineID, t.Key)
			views[i].About = &about
		}
	}
	return &views, nil
}

// Wording gives how the questions of an order's lines are worded.
func Wording(lines []*docket.Line) func(line int64, k question.Key) string {
	return func(line int64, k question.Key) string {
		for _, l := range lines {
			if l.Row.ID == line {
				return l.Wording(k)
			}
		}
		return string(k)
	}
}

// View shows a message.
func View(t *store.Talk) api.Talk {
	v := api.Talk{Id: t.ID, Customer: t.Customer, Author: t.Author, Text: t.Text, At: t.At, Read: t.ReadAt}
	if t.LineID != 0 {
		v.Line = &t.LineID
	}
	if len(t.Files) > 0 {
		files := make([]api.HandedFile, len(t.Files))
		for i := range t.Files {
			f := Handed(t, i)
			files[i] = apiview.HandedFile(&f)
		}
		v.Files = &files
	}
	return v
}

// Handed gives a file of a message as files are handed to people.
func Handed(t *store.Talk, i int) store.HandoverFile {
	f := &t.Files[i]
	return store.HandoverFile{ID: int64(i), Position: i + 1, Upload: f.Upload, Name: f.Name, Size: f.Size, Type: f.Type, Width: f.Width, Height: f.Height}
}

// FileOf finds a file of a message by its place, from 0.
func FileOf(t *store.Talk, place int, l words.Language) (*store.HandoverFile, error) {
	if place < 0 || place >= len(t.Files) {
		return nil, problem.Say(http.StatusNotFound, l, "no_file", nil)
	}
	f := Handed(t, place)
	return &f, nil
}

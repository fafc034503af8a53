package docket

import (
	"bytes"
	"encoding/json"
	"maps"
	"net/http"
	"slices"
	"strconv"
	"time"

	"ruvo/internal/core/evaluate"
	"ruvo/internal/core/order"
	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// A Revision changes answers of an order line after payment.
type Revision struct {
	Answers map[string]json.RawMessage // null clears one
	Author  string
	// Proven says that whoever changes them has shown the order's mail address
	// to be theirs.
	Proven bool
	// Typed says that it was saved while it was typed: changes that follow each other
	// shortly, with no work begun between them, are one.
	Typed    bool
	Language words.Language
	Editions *Editions
	// Files finds uploads that the order may use.
	Files Finder
	// Refused gives the code of what stands against changing a question's
	// answer; empty when nothing does. The item is nil for an unknown key.
	Refused func(item *product.Item) string
	// Judged has the last word on the whole change.
	Judged func(after *evaluate.Result) []question.Fault
}

// Revise changes answers, keeps each change in the history, and plans the
// line's work again; or it says what is wrong with them and changes nothing.
func (l *Line) Revise(tx *store.Tx, r Revision, now time.Time) error {
	before := l.Result
	stored, _ := question.Decode(l.Row.Answers, l.Edition.Spec)
	given, wrong := question.Decode(r.Answers, l.Edition.Spec)
	given.Date(now, stored)
	fresh, err := question.Encode(given)
	if err != nil {
		return err
	}
	answers := maps.Clone(l.Row.Answers)
	if answers == nil {
		answers = map[string]json.RawMessage{}
	}
	for k := range r.Answers {
		delete(answers, k)
	}
	maps.Copy(answers, fresh)
	after, _ := l.Evaluate(answers, evaluate.Against(r.Files, nil, nil), now)
	wrong = append(wrong, l.revisionFaults(r, wrong, &after)...)
	if len(wrong) == 0 && r.Judged != nil {
		wrong = r.Judged(&after)
	}
	if len(wrong) > 0 {
		slices.SortFunc(wrong, func(a, b question.Fault) int { return bytes.Compare([]byte(a.Name()), []byte(b.Name())) })
		return problem.Invalid(r.Language, problem.Fields(r.Language, "", wrong))
	}
	changes := Changes(l, &before, &after, r.Author, now)
	l.Row.Answers = answers
	for k := range r.Answers {
		delete(l.Row.Halves, question.Key(k))
	}
	l.Row.Version++
	if r.Typed {
		err = tx.MergeChanges(changes, l.typedSince(now))
	} else {
		err = tx.AddChanges(changes)
	}
	if err != nil {
		return err
	}
	if err := BindFiles(tx, l.Order.ID, given, r.Language); err != nil {
		return err
	}
	if err := l.Keep(tx, now); err != nil {
		return err
	}
	if r.Proven {
		if err := l.KeepForCustomer(tx, true, now); err != nil {
			return err
		}
	}
	return KeepSlip(tx, r.Editions, l, now)
}

// typing is how long after a change another one still belongs to it.
const typing = 10 * time.Minute

// typedSince gives from when on changes of an answer are one with the next: not from
// before the last work began, which saw what stood there.
func (l *Line) typedSince(now time.Time) time.Time {
	since := now.Add(-typing)
	for i := range l.Items {
		if at := store.When(l.Items[i].StartedAt); at.After(since) {
			since = at
		}
	}
	return since
}

// revisionFaults finds what stands against each changed answer. Keys already
// at fault are passed over.
func (l *Line) revisionFaults(r Revision, already []question.Fault, after *evaluate.Result) []question.Fault {
	var wrong []question.Fault
	for k := range r.Answers {
		key := question.Key(k)
		if slices.ContainsFunc(already, func(f question.Fault) bool { return f.Key == key }) {
			continue
		}
		item, _ := l.Edition.Item(key)
		code := r.Refused(item)
		if code == "" && !slices.ContainsFunc(after.Asked, func(a evaluate.Asked) bool { return a.Item == item }) {
			code = "not_asked"
		}
		if code != "" {
			wrong = append(wrong, question.Fault{Key: key, Code: code})
			continue
		}
		for _, f := range after.Faults {
			// Units that are still to answer can be left for later again.
			if f.Key == key && !(f.Missing() && slices.Contains(after.Missing, key) && f.Path != "") {
				wrong = append(wrong, f)
			}
		}
	}
	return wrong
}

// FileIDs lists the files of answers, each once.
func FileIDs(answers question.Answers) []string {
	var all []string
	for _, u := range answers.Uploads() {
		if !slices.Contains(all, u.File) {
			all = append(all, u.File)
		}
	}
	return all
}

// OfCustomer lists the answers that belong to the person who ordered.
func (l *Line) OfCustomer(now time.Time) []store.CustomerAnswer {
	var own []store.CustomerAnswer
	for _, a := range l.Result.Asked {
		if a.Item.Scope == question.OfCustomer && a.Answered {
			own = append(own, store.CustomerAnswer{Email: l.Order.Email, Key: a.Item.Key, Kind: a.Item.Kind, Answer: l.Row.Answers[string(a.Item.Key)], UpdatedAt: now.UTC()})
		}
	}
	return own
}

// KeepForCustomer keeps the answers that belong to the person, to be offered at
// their next order, once the order's mail address is shown to be theirs. What
// was kept before is replaced only by what that person themselves says anew:
// anybody can order under an address.
func (l *Line) KeepForCustomer(tx *store.Tx, replace bool, now time.Time) error {
	for _, a := range l.OfCustomer(now) {
		if err := tx.KeepCustomerAnswer(a, replace); err != nil {
			return err
		}
	}
	return nil
}

// BindFiles makes the files of answers those of an order, unless all of its files
// together are more than an order may have.
func BindFiles(tx *store.Tx, id int64, answers question.Answers, l words.Language) error {
	return BindUploads(tx, id, FileIDs(answers), l)
}

// BindKnown makes those files of answers the order's that it may use. What it may not use
// is somebody else's, or gone: that is said where the answer is checked.
func BindKnown(tx *store.Tx, id int64, answers question.Answers, l words.Language) error {
	find := Files(tx, id)
	known := slices.DeleteFunc(FileIDs(answers), func(file string) bool {
		_, ok := find(file)
		return !ok
	})
	return BindUploads(tx, id, known, l)
}

// BindUploads makes uploads those of an order, unless all of its files together are more
// than an order may have.
func BindUploads(tx *store.Tx, id int64, files []string, l words.Language) error {
	if len(files) == 0 {
		return nil
	}
	if err := tx.BindUploads(id, files); err != nil {
		return err
	}
	n, err := tx.UploadedBytes(id)
	if err == nil && n > order.MostFileBytes {
		err = problem.Say(http.StatusRequestEntityTooLarge, l, "order_files", words.Params{"most": strconv.Itoa(order.MostFileBytes / 1_000_000_000)})
	}
	return err
}

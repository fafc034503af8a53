package store

import (
	"cmp"
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"ruvo/internal/core/order"
	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
	"ruvo/internal/storetest"
)

// What a line is known by here, to be found in memory.
type knownLine struct {
	OrderLine
	name    string
	words   string
	answers map[question.Key]LineAnswer
}

// known makes lines of several products with random answers; some are cancelled, some not
// placed.
func known(t *testing.T, s *Store, r *rand.Rand) (all []knownLine) {
	t.Helper()
	edition, _ := sold(t, s)
	labels := []string{"Moss", "Wine", `it's "new" & <odd>`, "Ünder"}
	write(t, s, func(tx *Tx) error {
		for id := int64(2); id <= 3; id++ {
			p := Product{Slug: fmt.Sprint("p", id), Position: int(id), Draft: product.Draft{Title: fmt.Sprint("P", id), Currency: "EUR"}, Version: 1, UpdatedAt: now}
			if err := tx.SaveProduct(&p); err != nil {
				return err
			}
		}
		for i := range 60 {
			number := int64(2000 + i)
			o := Order{Checkout: fmt.Sprint("k", i), Number: &number, Name: fmt.Sprintf("%c Name %d", 'A'+rune(r.IntN(5)), i%7), Email: "bo@example.org", Language: "en", Currency: "EUR", State: order.Placed, CreatedAt: now, PlacedAt: Time(now)}
			if err := tx.SaveOrder(&o); err != nil {
				return err
			}
			for k := range 1 + r.IntN(3) {
				l := knownLine{OrderLine: OrderLine{OrderID: o.ID, Position: k + 1, ProductID: 1 + int64(r.IntN(3)), EditionID: edition, Quantity: 1, Version: 1, Brief: order.Waiting, Placed: r.IntN(8) > 0}, name: o.Name, answers: map[question.Key]LineAnswer{}}
				if r.IntN(8) == 0 {
					l.CancelledAt = Time(now)
				}
				if err := tx.SaveLine(&l.OrderLine); err != nil {
					return err
				}
				var answers []LineAnswer
				for _, key := range []question.Key{"paper", "night"} {
					if r.IntN(4) == 0 || !l.Placed || l.CancelledAt != nil {
						continue
					}
					a := LineAnswer{LineID: l.ID, Question: key, OrderID: o.ID, ProductID: l.ProductID, SheetID: product.SheetID(r.IntN(2))}
					if key == "night" {
						a.Number = float64(r.IntN(10))
						a.Counted = Counted(map[string]int{fmt.Sprint(a.Number): 1})
					} else {
						label := labels[r.IntN(len(labels))]
						a.Text, a.Counted = strings.ToLower(label), Counted(map[string]int{label: 1})
						l.words += a.Text + "\n"
					}
					answers, l.answers[key] = append(answers, a), a
				}
				if err := tx.SaveLineAnswers(l.ID, answers); err != nil {
					return err
				}
				if l.Placed {
					if err := tx.SaveLineWords(l.ID, l.words); err != nil {
						return err
					}
				}
				all = append(all, l)
			}
		}
		return nil
	})
	return all
}

// fits says in the plainest way whether a line is one of those that are looked for.
func (f *AnswerFilter) fits(l *knownLine) bool {
	if !l.Placed || l.CancelledAt != nil || !slices.Contains(f.Products, l.ProductID) {
		return false
	}
	if f.What != "" {
		a, ok := l.answers[f.Question]
		name, _ := strings.CutPrefix(Counted(map[string]int{f.What: 1}), `{"":1,`)
		if !ok || f.Sheet != 0 && a.SheetID != f.Sheet || !strings.Contains(a.Counted, strings.TrimSuffix(name, "1}")) {
			return false
		}
	}
	if f.Text == "" || slices.Contains(f.Named, l.ProductID) || strings.Contains(strings.ToLower(l.name), strings.ToLower(f.Text)) {
		return true
	}
	if f.Sheet == 0 {
		return strings.Contains(l.words, strings.ToLower(f.Text))
	}
	for _, a := range l.answers {
		if a.SheetID == f.Sheet && strings.Contains(a.Text, strings.ToLower(f.Text)) {
			return true
		}
	}
	return false
}

// before says in the plainest way which of two lines comes first.
func (f *AnswerFilter) before(a, b *knownLine) int {
	turned := func(n int) int {
		if f.Turned {
			return -n
		}
		return n
	}
	switch f.Sort {
	case AnswersByCustomer:
		return turned(cmp.Or(strings.Compare(a.name, b.name), cmp.Compare(a.OrderID, b.OrderID), cmp.Compare(a.ID, b.ID)))
	case AnswersByProduct:
		return turned(cmp.Or(cmp.Compare(a.ProductID, b.ProductID), cmp.Compare(a.ID, b.ID)))
	case AnswersByAnswer:
		of := func(l *knownLine) (LineAnswer, bool) {
			answer, ok := l.answers[f.By]
			return answer, ok && (f.Sheet == 0 || answer.SheetID == f.Sheet)
		}
		x, is := of(a)
		y, other := of(b)
		switch {
		case is && other:
			return cmp.Or(turned(cmp.Or(cmp.Compare(x.Number, y.Number), strings.Compare(x.Text, y.Text))), cmp.Compare(b.ID, a.ID))
		case is != other:
			return map[bool]int{true: -1, false: 1}[is]
		}
		return cmp.Compare(b.ID, a.ID)
	}
	return turned(cmp.Compare(b.ID, a.ID))
}

// However the answers are narrowed, sorted and paged, the lines are those that a plain
// search in memory gives, in its order.
func TestAnsweredLinesAreThoseOfAPlainSearch(t *testing.T) {
	s := open1(t, storetest.Folder(t))
	seed := rand.Uint64()
	r := rand.New(rand.NewPCG(seed, 2))
	lines := known(t, s, r)
	pick := func(of ...string) string { return of[r.IntN(len(of))] }
	for range 400 {
		f := AnswerFilter{
			Products: [][]int64{{1}, {2}, {1, 2}, {1, 2, 3}}[r.IntN(4)], Sheet: product.SheetID(r.IntN(2)),
			Text: pick("", "", "name 3", "MOSS", "ünder", "nothing has this", `%`), Sort: AnswerSorts()[r.IntN(len(AnswerSorts()))],
			By: question.Key(pick("paper", "night", "never")), Turned: r.IntN(2) == 0, Skip: r.IntN(40), Most: 1 + r.IntN(30),
		}
		if r.IntN(3) == 0 {
			f.Question, f.What = "paper", pick("Moss", `it's "new" & <odd>`, "Mos", "moss")
		}
		if r.IntN(3) == 0 {
			f.Named = []int64{2}
		}
		var want []int64
		found := slices.Collect(func(yield func(*knownLine) bool) {
			for i := range lines {
				if f.fits(&lines[i]) && !yield(&lines[i]) {
					return
				}
			}
		})
		slices.SortStableFunc(found, f.before)
		for _, l := range found[min(f.Skip, len(found)):min(f.Skip+f.Most, len(found))] {
			want = append(want, l.ID)
		}
		read(t, s, func(tx *Tx) error {
			rows, all, err := tx.AnsweredLines(f)
			var got []int64
			for _, row := range rows {
				got = append(got, row.ID)
			}
			if all != len(found) || !slices.Equal(got, want) {
				t.Errorf("seed %d, %+v: %d %v, not %d %v", seed, f, all, got, len(found), want)
			}
			return err
		})
	}
}

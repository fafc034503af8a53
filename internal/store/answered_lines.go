package store

import (
	"encoding/json"
	"strings"

	"ruvo/internal/core/product"
	"ruvo/internal/core/question"

	"gorm.io/gorm"
)

// An AnswerFilter narrows the lines whose answers are looked at together. Zero fields do
// not.
type AnswerFilter struct {
	Products []int64 // of which the lines are
	Sheet    product.SheetID
	Question question.Key // to which something was answered: What
	What     string
	Text     string  // in a name, or in an answer
	Named    []int64 // products that have the text in their own name
	Sort     AnswerSort
	By       question.Key // to sort by its answers
	Turned   bool         // the other way round
	Skip     int
	Most     int
}

// AnswerSort is what the lines are listed by.
type AnswerSort string

const (
	AnswersByNewest   AnswerSort = ""
	AnswersByCustomer AnswerSort = "customer"
	AnswersByProduct  AnswerSort = "product"
	AnswersByAnswer   AnswerSort = "answer" // to a question; lines without one come last
)

// AnswerSorts lists them.
func AnswerSorts() []AnswerSort {
	return []AnswerSort{AnswersByNewest, AnswersByCustomer, AnswersByProduct, AnswersByAnswer}
}

// AnsweredLines lists a page of the lines that are not cancelled, and tells how many there
// are in all.
func (tx *Tx) AnsweredLines(f AnswerFilter) (rows []ListedLine, all int, err error) {
	ids, all, err := f.ids(tx)
	if err != nil {
		return nil, 0, err
	}
	rows, err = tx.linesByID(ids)
	return rows, all, err
}

// ids finds the lines of the page.
func (f *AnswerFilter) ids(tx *Tx) (ids []int64, all int, err error) {
	if f.Text != "" { // all of them are looked through anyway
		if ids, all, err = f.counting(tx); err != nil || len(ids) > 0 || f.Skip == 0 {
			return ids, all, err
		}
	}
	var n int64
	if err := f.narrowed(tx).Count(&n).Error; err != nil {
		return nil, 0, err
	}
	all = int(n)
	if f.Text != "" {
		return nil, all, nil
	}
	if f.Sort == AnswersByAnswer && f.What == "" {
		ids, err = f.byAnswer(tx)
		return ids, all, err
	}
	q := f.narrowed(tx)
	if f.Sort == AnswersByCustomer && f.What == "" && all > manyLines { // the plus keeps SQLite from the lines' own indexes
		q = tx.db.Table("orders o CROSS JOIN order_lines l ON l.order_id = o.id").Where("+l.placed = 1 AND +l.cancelled_at IS NULL AND +l.product_id IN ?", f.Products).
			Order(f.order())
	} else {
		q = f.ordered(q)
	}
	err = q.Offset(f.Skip).Limit(f.Most).Pluck("l.id", &ids).Error
	return ids, all, err
}

// counting finds the lines of a page and how many there are in all, in one look; none of
// a page behind the last.
func (f *AnswerFilter) counting(tx *Tx) (ids []int64, all int, err error) {
	var rows []struct {
		ID int64
		N  int
	}
	err = f.ordered(f.narrowed(tx)).Select("l.id, COUNT(*) OVER () AS n").Offset(f.Skip).Limit(f.Most).Scan(&rows).Error
	for _, r := range rows {
		ids, all = append(ids, r.ID), r.N
	}
	return ids, all, err
}

// manyLines is how many lines are rather looked for along the names of all customers than
// sorted by them.
const manyLines = 20_000

// saying gives the lines in which something was said to a question: what is kept of their
// answers tells all that they are listed by.
func (f *AnswerFilter) saying(tx *Tx) *gorm.DB {
	name, _ := json.Marshal(f.What) // as it stands in what is counted, where nothing else can look like it
	return tx.db.Table("line_answers").Select("line_id AS id, order_id, product_id").
		Where("product_id IN ? AND question = ? AND (? = 0 OR sheet_id = ?) AND instr(counted, ?) > 0", f.Products, f.Question, f.Sheet, f.Sheet, string(name)+":")
}

// narrowed gives the lines that are looked at.
func (f *AnswerFilter) narrowed(tx *Tx) *gorm.DB {
	switch {
	case f.What != "" && f.Text != "":
		return tx.db.Table("(?) l", f.saying(tx)).Where("l.id IN (?)", f.with(tx))
	case f.What != "":
		return tx.db.Table("(?) l", f.saying(tx))
	case f.Text != "" && f.Sheet != 0:
		return tx.db.Table("(?) f CROSS JOIN order_lines l ON l.id = f.id", f.with(tx)).Where("l.placed = 1 AND l.cancelled_at IS NULL AND l.product_id IN ?", f.Products)
	case f.Text != "":
		return tx.db.Table("order_lines l INDEXED BY order_lines_answered CROSS JOIN line_words w ON w.line_id = l.id").
			Where("l.placed = 1 AND l.cancelled_at IS NULL AND l.product_id IN ? AND (instr(w.words, ?) > 0 OR l.product_id IN ? OR l.id IN (?))", f.Products, strings.ToLower(f.Text), f.Named, f.named(tx))
	}
	return tx.db.Table("order_lines l INDEXED BY order_lines_answered").Where("l.placed = 1 AND l.cancelled_at IS NULL AND l.product_id IN ?", f.Products)
}

// with gives the lines that have a text: in their customer's name, their product's, or what
// is shown of their answers.
func (f *AnswerFilter) with(tx *Tx) *gorm.DB {
	text := strings.ToLower(f.Text)
	said := tx.db.Table("line_words").Select("line_id AS id").Where("instr(words, ?) > 0", text)
	if f.Sheet != 0 { // the other answers of a line are not shown
		said = tx.db.Table("line_answers").Select("line_id AS id").
			Where("product_id IN ? AND question IN (SELECT question FROM answer_counts WHERE product_id = 0 AND sheet_id = ?) AND sheet_id = ? AND instr(text, ?) > 0", f.Products, f.Sheet, f.Sheet, text)
	}
	named := f.named(tx)
	of := tx.db.Table("order_lines").Select("id").Where("placed = 1 AND cancelled_at IS NULL AND product_id IN ?", f.Named)
	return tx.db.Raw("? UNION ? UNION ?", said, named, of)
}

// named gives the lines whose customer has the text in their name.
func (f *AnswerFilter) named(tx *Tx) *gorm.DB {
	return tx.db.Table("orders o INDEXED BY orders_text CROSS JOIN order_lines x ON x.order_id = o.id").Select("x.id").Where(`o.name LIKE ? ESCAPE '\'`, containing(f.Text))
}

// ordered puts the lines in order.
func (f *AnswerFilter) ordered(q *gorm.DB) *gorm.DB {
	switch f.Sort {
	case AnswersByCustomer:
		q = q.Joins("JOIN orders o ON o.id = l.order_id")
	case AnswersByAnswer:
		q = q.Joins("LEFT JOIN line_answers s ON s.product_id = l.product_id AND s.question = ? AND s.line_id = l.id AND (? = 0 OR s.sheet_id = ?)", f.By, f.Sheet, f.Sheet)
	}
	return q.Order(f.order())
}

// order gives the order in SQL, in which nothing of a request stands.
func (f *AnswerFilter) order() string {
	up, down := " ASC", " DESC"
	if f.Turned {
		up, down = down, up
	}
	switch f.Sort {
	case AnswersByCustomer:
		return "o.name" + up + ", o.id" + up + ", l.id" + up
	case AnswersByProduct:
		return "l.product_id" + up + ", l.id" + up
	case AnswersByAnswer:
		return "s.line_id IS NULL, s.number" + up + ", s.text" + up + ", l.id DESC"
	}
	return "l.id" + down
}

// byAnswer finds the lines by what was answered to a question, and those without an answer
// after them.
func (f *AnswerFilter) byAnswer(tx *Tx) ([]int64, error) {
	up := " ASC"
	if f.Turned {
		up = " DESC"
	}
	said := func() *gorm.DB {
		return tx.db.Table("line_answers s").Where("s.product_id IN ? AND s.question = ? AND (? = 0 OR s.sheet_id = ?)", f.Products, f.By, f.Sheet, f.Sheet)
	}
	var ids []int64
	err := said().Order("s.number"+up+", s.text"+up+", s.line_id DESC").Offset(f.Skip).Limit(f.Most).Pluck("s.line_id", &ids).Error
	if err != nil || len(ids) == f.Most {
		return ids, err
	}
	var answered int64
	if err := said().Count(&answered).Error; err != nil {
		return nil, err
	}
	var silent []int64
	err = f.narrowed(tx).Where("NOT EXISTS (?)", said().Select("1").Where("s.product_id = l.product_id AND s.line_id = l.id")).
		Order("l.id DESC").Offset(max(f.Skip-int(answered), 0)).Limit(f.Most-len(ids)).Pluck("l.id", &silent).Error
	return append(ids, silent...), err
}

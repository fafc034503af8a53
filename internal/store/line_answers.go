package store

import (
	"encoding/json"
	"maps"
	"slices"

	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
)

// A LineAnswer is what one answer of an order line counts for among all answers to its
// question.
type LineAnswer struct {
	LineID    int64        `gorm:"primaryKey"`
	Question  question.Key `gorm:"primaryKey"`
	OrderID   int64
	ProductID int64
	SheetID   product.SheetID // that the question comes from; 0 for none
	Whole     bool            // an answer of the whole order, which stands on each of its lines
	Number    float64         // what answers are put in order by, and then:
	Text      string
	Counted   string // JSON, what was said and how often; an empty name stands for the answer
}

// LineAnswers gives what the answers of a line count for, as it is kept; read is false of a
// line from before, whose answers are still to be read.
func (tx *Tx) LineAnswers(line int64) (answers []LineAnswer, read bool, err error) {
	var unread int64
	if err := tx.db.Raw("SELECT COUNT(*) FROM lines_unread WHERE line_id = ?", line).Scan(&unread).Error; err != nil {
		return nil, false, err
	}
	answers, err = list[LineAnswer](tx, "question", "line_id = ?", line)
	return answers, unread == 0, err
}

// SaveLineAnswers keeps what the answers of a line count for: all of them, none of a line
// that was cancelled.
func (tx *Tx) SaveLineAnswers(line int64, answers []LineAnswer) error {
	before, err := list[LineAnswer](tx, "question", "line_id = ?", line)
	if err != nil {
		return err
	}
	var gone []question.Key
	for _, b := range before {
		if !slices.Contains(answers, b) {
			gone = append(gone, b.Question)
		}
	}
	fresh := slices.DeleteFunc(slices.Clone(answers), func(a LineAnswer) bool { return slices.Contains(before, a) })
	if len(gone) > 0 {
		if err := tx.db.Exec("DELETE FROM line_answers WHERE line_id = ? AND question IN ?", line, gone).Error; err != nil {
			return err
		}
	}
	if len(fresh) == 0 {
		return nil
	}
	return tx.db.Create(&fresh).Error
}

// Counted writes what an answer counts for, as it is kept.
func Counted(counts map[string]int) string {
	all := maps.Clone(counts)
	all[""] = 1
	raw, _ := json.Marshal(all) // names and numbers can always be written
	return string(raw)
}

// UnreadLines lists lines from before whose answers are still to be read, the newest first.
func (tx *Tx) UnreadLines(most int) (ids []int64, err error) {
	err = tx.db.Raw("SELECT line_id FROM lines_unread ORDER BY line_id DESC LIMIT ?", most).Scan(&ids).Error
	return ids, err
}

// ReadLines notes that the answers of lines were read.
func (tx *Tx) ReadLines(ids []int64) error {
	return tx.db.Exec("DELETE FROM lines_unread WHERE line_id IN ?", ids).Error
}

// CountUnread counts the lines whose answers are still to be read.
func (tx *Tx) CountUnread() (n int, err error) {
	err = tx.db.Raw("SELECT COUNT(*) FROM lines_unread").Scan(&n).Error
	return n, err
}

// AnsweredBy narrows tallies to a product, or to a sheet; one of them is 0.
type AnsweredBy struct {
	Product int64
	Sheet   product.SheetID
}

// AnswersTo counts the answers to each question.
func (tx *Tx) AnswersTo(by AnsweredBy) (map[question.Key]int, error) {
	var rows []struct {
		Question question.Key
		N        int
	}
	err := tx.db.Raw("SELECT question, n FROM answer_counts WHERE product_id = ? AND sheet_id = ? AND what = '' AND n > 0", by.Product, by.Sheet).Scan(&rows).Error
	m := make(map[question.Key]int, len(rows))
	for _, r := range rows {
		m[r.Question] = r.N
	}
	return m, err
}

// Answering lists the products of which questions of a sheet were answered, also of those
// that use it no more.
func (tx *Tx) Answering(sheet product.SheetID) (ids []int64, err error) {
	err = tx.db.Raw(`SELECT id FROM products p WHERE EXISTS (SELECT 1 FROM line_answers a WHERE a.product_id = p.id AND a.sheet_id = ?
		AND a.question IN (SELECT question FROM answer_counts WHERE product_id = 0 AND sheet_id = ?))`, sheet, sheet).Scan(&ids).Error
	return ids, err
}

// An AnswerCount is how often something was said.
type AnswerCount struct {
	What string
	N    int
}

// AnswerCounts lists what was said most to a question, those alike by their names.
func (tx *Tx) AnswerCounts(by AnsweredBy, k question.Key, most int) (rows []AnswerCount, err error) {
	err = tx.db.Raw("SELECT what, n FROM answer_counts WHERE product_id = ? AND sheet_id = ? AND question = ? AND what <> '' AND n > 0 ORDER BY n DESC, what LIMIT ?", by.Product, by.Sheet, k, most).Scan(&rows).Error
	return rows, err
}

// AnswersAgree says whether the counts of answers are what the answers come to.
func (tx *Tx) AnswersAgree() (bool, error) {
	const kept, known = "SELECT product_id, sheet_id, question, what, n FROM answer_counts WHERE n <> 0", "SELECT product_id, sheet_id, question, what, n FROM answers_counted"
	return tx.agree(kept, known)
}

// agree says whether two queries give the same rows.
func (tx *Tx) agree(one, other string) (bool, error) {
	var wrong int64
	err := tx.db.Raw("SELECT (SELECT COUNT(*) FROM (" + one + " EXCEPT " + other + ")) + (SELECT COUNT(*) FROM (" + other + " EXCEPT " + one + "))").Scan(&wrong).Error
	return wrong == 0, err
}

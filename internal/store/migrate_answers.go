package store

import "strings"

// What was said to each question is counted by triggers as answers come and go, so that
// what all answers of a product come to is read and not added up. An answer of the whole
// order stands on each of its lines, and counts once: that of the first line. What is
// written here is part of a migration, and stays as it is once that is released.

// ofAnswer gives which row of line_answers counts for another one ("@") in the tally of
// its product, or of its sheet: itself, or of the answers of a whole order the first. The
// plus keeps SQLite from looking through all answers to the question.
func ofAnswer(column string) string {
	return `CASE WHEN @.whole THEN (SELECT counted FROM line_answers WHERE whole AND order_id = @.order_id AND question = @.question AND +` + column + ` = @.` + column + ` ORDER BY line_id LIMIT 1)
		ELSE @.counted END`
}

// tallied adds what counts for an answer to the tallies, or takes it off: statements of a
// trigger.
func tallied(row, sign string) string {
	one := func(product, sheet, column string) string {
		return `
		INSERT INTO answer_counts (product_id, sheet_id, question, what, n)
			SELECT ` + product + `, ` + sheet + `, @.question, j.key, ` + sign + `j.value FROM json_each(` + ofAnswer(column) + `) j WHERE @.` + column + ` > 0
			ON CONFLICT DO UPDATE SET n = n + excluded.n;`
	}
	return strings.ReplaceAll(one("@.product_id", "0", "product_id")+one("0", "@.sheet_id", "sheet_id"), "@", row)
}

var answersCounted = []string{
	// What each answer of a line that is not cancelled counts for. Rows are put in anew,
	// never changed: the triggers know only that.
	`CREATE TABLE line_answers (
		line_id INTEGER NOT NULL REFERENCES order_lines (id) ON DELETE CASCADE, question TEXT NOT NULL,
		order_id INTEGER NOT NULL, product_id INTEGER NOT NULL, sheet_id INTEGER NOT NULL, whole BOOLEAN NOT NULL,
		number REAL NOT NULL, text TEXT NOT NULL, counted TEXT NOT NULL CHECK (json_valid(counted)), PRIMARY KEY (product_id, question, line_id)) WITHOUT ROWID`,
	`CREATE INDEX line_answers_line ON line_answers (line_id)`,
	`CREATE INDEX line_answers_whole ON line_answers (order_id, question, line_id) WHERE whole`,
	`CREATE TABLE answer_counts (
		product_id INTEGER NOT NULL, sheet_id INTEGER NOT NULL, question TEXT NOT NULL, what TEXT NOT NULL, n INTEGER NOT NULL,
		PRIMARY KEY (product_id, sheet_id, question, what)) WITHOUT ROWID`,
	`CREATE TRIGGER answers_coming BEFORE INSERT ON line_answers WHEN NEW.whole BEGIN` + tallied("NEW", "-") + ` END`,
	`CREATE TRIGGER answers_come AFTER INSERT ON line_answers BEGIN` + tallied("NEW", "") + ` END`,
	`CREATE TRIGGER answers_going BEFORE DELETE ON line_answers BEGIN` + tallied("OLD", "-") + ` END`,
	`CREATE TRIGGER answers_gone AFTER DELETE ON line_answers WHEN OLD.whole BEGIN` + tallied("OLD", "") + ` END`,
	`CREATE TRIGGER answers_kept BEFORE UPDATE ON line_answers BEGIN SELECT RAISE(ABORT, 'answers are put in anew'); END`,
	// The same counts made from all at once.
	`CREATE VIEW answers_counted AS
		WITH counting AS (
			SELECT product_id, 0 AS sheet_id, question, counted FROM line_answers WHERE NOT whole
			UNION ALL SELECT 0, sheet_id, question, counted FROM line_answers WHERE NOT whole AND sheet_id > 0
			UNION ALL SELECT product_id, 0, question, counted FROM (SELECT product_id, question, counted, MIN(line_id) FROM line_answers WHERE whole GROUP BY order_id, product_id, question)
			UNION ALL SELECT 0, sheet_id, question, counted FROM (SELECT sheet_id, question, counted, MIN(line_id) FROM line_answers WHERE whole AND sheet_id > 0 GROUP BY order_id, sheet_id, question))
		SELECT c.product_id, c.sheet_id, c.question, j.key AS what, SUM(j.value) AS n FROM counting c, json_each(c.counted) j GROUP BY 1, 2, 3, 4`,
	`CREATE INDEX order_lines_answered ON order_lines (product_id, id) WHERE placed = 1 AND cancelled_at IS NULL`,
	// Lines from before, whose answers are still to be read.
	`CREATE TABLE lines_unread (line_id INTEGER PRIMARY KEY REFERENCES order_lines (id) ON DELETE CASCADE)`,
	`INSERT INTO lines_unread SELECT id FROM order_lines WHERE placed`,
}

package store

import (
	"strings"
	"time"

	"ruvo/internal/core/agreement"
)

// An AgreementText is one version of a text of the business that customers agree to.
type AgreementText struct {
	Kind    agreement.Kind
	Version int
	Text    string
	Author  string
	At      time.Time
	Orders  int64 `gorm:"->"` // that were placed under it; only where it is asked for
}

// Of gives what the core knows of it.
func (t *AgreementText) Of() agreement.Text { return agreement.Text{Version: t.Version, Text: t.Text} }

// AgreementText gives one version of a text; an empty one for version 0.
func (tx *Tx) AgreementText(k agreement.Kind, version int) (AgreementText, error) {
	if version == 0 {
		return AgreementText{Kind: k}, nil
	}
	var t AgreementText
	err := tx.db.Raw("SELECT * FROM agreement_texts WHERE kind = ? AND version = ?", k, version).Scan(&t).Error
	if err == nil && t.Version == 0 {
		err = ErrNotFound
	}
	return t, err
}

// Agreements gives the texts as they are now, by kind; an empty one of which there is
// none.
func (tx *Tx) Agreements() (map[agreement.Kind]AgreementText, error) {
	var rows []AgreementText
	err := tx.db.Raw("SELECT * FROM agreement_texts t WHERE version = (SELECT MAX(version) FROM agreement_texts WHERE kind = t.kind)").Scan(&rows).Error
	now := map[agreement.Kind]AgreementText{}
	for _, t := range rows {
		now[t.Kind] = t
	}
	return now, err
}

// AgreementVersions lists all that there were of a kind, the newest first, with how many
// orders agreed to each.
func (tx *Tx) AgreementVersions(k agreement.Kind) ([]AgreementText, error) {
	column := map[agreement.Kind]string{agreement.Terms: "terms_version", agreement.News: "news_version"}[k]
	var rows []AgreementText
	err := tx.db.Raw(`SELECT t.*, COALESCE(n.orders, 0) AS orders FROM agreement_texts t
		LEFT JOIN (SELECT `+column+` AS version, COUNT(*) AS orders FROM orders WHERE number IS NOT NULL AND `+column+` > 0 GROUP BY 1) n ON n.version = t.version
		WHERE t.kind = ? ORDER BY t.version DESC`, k).Scan(&rows).Error
	return rows, err
}

// AddAgreementText adds a version.
func (tx *Tx) AddAgreementText(t AgreementText) error {
	return tx.insert("agreement_texts (kind, version, text, author, at)", [][]any{{t.Kind, t.Version, t.Text, t.Author, t.At.UTC()}})
}

// A NewsWord is what was said about news of one mail address.
type NewsWord struct {
	ID      int64
	Email   string // in lower case
	Agreed  bool
	Version int    // of the text; 0 for what was said elsewhere
	OrderID *int64 // with which it was said
	Author  string // at the desk, who noted it; empty for the customer
	At      time.Time
	Proven  bool   `gorm:"->"` // the address is theirs: a link that was mailed there was used
	Number  *int64 `gorm:"->"` // of the order
}

// Of gives what the core knows of it.
func (w *NewsWord) Of() agreement.Word {
	return agreement.Word{Agreed: w.Agreed, Version: w.Version, At: w.At}
}

// newsSaid reads what was said about news, with the order and whether the address is
// theirs: a customer who signed in has it, and one who used a link that was mailed there.
const newsSaid = `SELECT w.*, o.number, w.order_id IS NULL AND w.author = '' OR o.proven_at IS NOT NULL AS proven
		FROM news_words w LEFT JOIN orders o ON o.id = w.order_id `

// NewsWords lists what was said of an address, the oldest first.
func (tx *Tx) NewsWords(email string) ([]NewsWord, error) {
	var rows []NewsWord
	err := tx.db.Raw(newsSaid+"WHERE w.email = ? ORDER BY w.id", strings.ToLower(email)).Scan(&rows).Error
	return rows, err
}

// AddNewsWord keeps what was said of an address.
func (tx *Tx) AddNewsWord(w NewsWord) error {
	return tx.insert("news_words (email, agreed, version, order_id, author, at)", [][]any{{strings.ToLower(w.Email), w.Agreed, w.Version, w.OrderID, w.Author, w.At.UTC()}})
}

// NewsReaders lists the addresses that news may be written to, with what was said of each,
// the oldest first.
func (tx *Tx) NewsReaders() ([]NewsWord, error) {
	var rows []NewsWord
	err := tx.db.Raw(newsSaid + `WHERE w.email IN (SELECT w.email FROM news_words w WHERE w.agreed AND w.id = (SELECT MAX(id) FROM news_words WHERE email = w.email)) ORDER BY w.email, w.id`).Scan(&rows).Error
	return rows, err
}

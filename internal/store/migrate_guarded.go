package store

import (
	"crypto/sha256"
	"encoding/hex"
	"regexp"

	"gorm.io/gorm"
)

// guarded keeps secrets only as hashes, sessions apart from passes, and who did
// what in a log.
var guarded = []string{
	`DROP TABLE sessions`,
	`CREATE TABLE sessions (
		id INTEGER PRIMARY KEY AUTOINCREMENT, hash TEXT NOT NULL UNIQUE, user_id INTEGER NOT NULL REFERENCES users (id) ON DELETE CASCADE,
		created_at DATETIME NOT NULL, seen_at DATETIME NOT NULL, address TEXT NOT NULL, browser TEXT NOT NULL)`,
	`CREATE INDEX sessions_user ON sessions (user_id)`,
	`CREATE TABLE pass_sessions (hash TEXT PRIMARY KEY, email TEXT NOT NULL, created_at DATETIME NOT NULL)`,
	`CREATE TABLE known_browsers (
		hash TEXT PRIMARY KEY, user_id INTEGER NOT NULL REFERENCES users (id) ON DELETE CASCADE, created_at DATETIME NOT NULL, failed INTEGER NOT NULL)`,
	`CREATE TABLE log_entries (
		id INTEGER PRIMARY KEY AUTOINCREMENT, at DATETIME NOT NULL, what TEXT NOT NULL, topic TEXT NOT NULL, who TEXT NOT NULL,
		address TEXT NOT NULL, about TEXT NOT NULL)`,
	`CREATE TRIGGER log_entries_stay BEFORE UPDATE ON log_entries BEGIN SELECT RAISE(ABORT, 'an entry of the log never changes'); END`,
	`CREATE INDEX log_entries_topic ON log_entries (topic, at, id)`,
	`CREATE INDEX log_entries_at ON log_entries (at, id)`,
	`ALTER TABLE uploads ADD COLUMN sender TEXT NOT NULL DEFAULT ''`,
	`CREATE INDEX uploads_sender ON uploads (sender) WHERE sender <> ''`,
	`ALTER TABLE businesses ADD COLUMN link_days INTEGER NOT NULL DEFAULT 0`,
}

func toGuarded(db *gorm.DB) error {
	if err := run(db, guarded); err != nil {
		return err
	}
	var groups []struct {
		ID     int64
		Invite string
	}
	if err := db.Raw("SELECT id, invite FROM customer_groups").Scan(&groups).Error; err != nil {
		return err
	}
	for _, g := range groups {
		sum := sha256.Sum256([]byte(g.Invite))
		if err := db.Exec("UPDATE customer_groups SET invite = ? WHERE id = ?", hex.EncodeToString(sum[:]), g.ID).Error; err != nil {
			return err
		}
	}
	return cutLinks(db)
}

// cutLinks takes the private links out of messages that went out before.
func cutLinks(db *gorm.DB) error {
	var sent []struct {
		ID   int64
		Body string
	}
	if err := db.Raw("SELECT id, body FROM outbox WHERE sent_at IS NOT NULL").Scan(&sent).Error; err != nil {
		return err
	}
	for _, m := range sent {
		if err := db.Exec("UPDATE outbox SET body = ? WHERE id = ?", withoutSecrets(m.Body), m.ID).Error; err != nil {
			return err
		}
	}
	return nil
}

// secrets are the addresses in messages that let whoever has them in.
var secrets = regexp.MustCompile(`(/(?:o|pass|gift|basket)/|\?turn=)[A-Za-z0-9_-]{16,}(\?invite=[A-Za-z0-9_-]+)?`)

// withoutSecrets gives a message's text with its private links cut short.
func withoutSecrets(body string) string { return secrets.ReplaceAllString(body, "${1}…") }

package store

import "time"

// A Session is a person signed in to the desk in one browser. What the browser
// has is kept as its hash.
type Session struct {
	ID        int64
	Hash      string
	UserID    int64
	CreatedAt time.Time
	SeenAt    time.Time
	Address   string // that they signed in from
	Browser   string // as it calls itself
}

// SessionByHash finds a session.
func (tx *Tx) SessionByHash(hash string) (Session, error) {
	return first[Session](tx, "hash = ?", hash)
}

// AddSession keeps a session.
func (tx *Tx) AddSession(s *Session) error { return tx.db.Create(s).Error }

// SeenSession notes when a session was used last.
func (tx *Tx) SeenSession(id int64, at time.Time) error {
	return tx.db.Model(&Session{}).Where("id = ?", id).Update("seen_at", at.UTC()).Error
}

// SessionsOf lists a person's sessions, the one that was used last first.
func (tx *Tx) SessionsOf(user int64) ([]Session, error) {
	return list[Session](tx, "seen_at DESC, id DESC", "user_id = ?", user)
}

// DropSession ends a session of a person.
func (tx *Tx) DropSession(user, id int64) error {
	return tx.db.Where("user_id = ?", user).Delete(&Session{}, id).Error
}

// DropSessionByHash ends a session, if there is one.
func (tx *Tx) DropSessionByHash(hash string) error {
	return tx.db.Where("hash = ?", hash).Delete(&Session{}).Error
}

// A PassSession is a customer's browser that a pass was opened in. It has
// nothing to do with the desk.
type PassSession struct {
	Hash      string `gorm:"primaryKey"`
	Email     string
	CreatedAt time.Time
}

// PassSessionByHash finds a customer's browser.
func (tx *Tx) PassSessionByHash(hash string) (PassSession, error) {
	return first[PassSession](tx, "hash = ?", hash)
}

// AddPassSession keeps a customer's browser.
func (tx *Tx) AddPassSession(p PassSession) error { return tx.db.Create(&p).Error }

// DropPassSession forgets a customer's browser.
func (tx *Tx) DropPassSession(hash string) error {
	return tx.db.Where("hash = ?", hash).Delete(&PassSession{}).Error
}

// A KnownBrowser is one that a person signed in with before. It is not held up
// when others fail to sign in.
type KnownBrowser struct {
	Hash      string `gorm:"primaryKey"`
	UserID    int64
	CreatedAt time.Time
	Failed    int // tries to sign in since the last that worked
}

// KnownBrowser finds a browser of a person.
func (tx *Tx) KnownBrowser(hash string, user int64) (KnownBrowser, error) {
	return first[KnownBrowser](tx, "hash = ? AND user_id = ?", hash, user)
}

// SaveKnownBrowser adds or updates a known browser.
func (tx *Tx) SaveKnownBrowser(b KnownBrowser) error { return tx.db.Save(&b).Error }

// DropKnownBrowser forgets a browser.
func (tx *Tx) DropKnownBrowser(hash string) error {
	return tx.db.Where("hash = ?", hash).Delete(&KnownBrowser{}).Error
}

// SweepSessions takes away the sessions that were not used since one time or
// begun before another, the customers' browsers that were begun before the
// latter, and the known browsers that were made before a third.
func (tx *Tx) SweepSessions(idle, begun, known time.Time) error {
	err := tx.db.Where("seen_at < ? OR created_at < ?", idle.UTC(), begun.UTC()).Delete(&Session{}).Error
	if err == nil {
		err = tx.db.Where("created_at < ?", begun.UTC()).Delete(&PassSession{}).Error
	}
	if err == nil {
		err = tx.db.Where("created_at < ?", known.UTC()).Delete(&KnownBrowser{}).Error
	}
	return err
}

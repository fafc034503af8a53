package store

import (
	"errors"
	"testing"
	"time"

	"ruvo/internal/storetest"
)

// What ended is taken away, each kind by its own time, and nothing else is.
func TestSweepingSessions(t *testing.T) {
	s := open1(t, storetest.Folder(t))
	ago := func(h int) time.Time { return now.Add(-time.Duration(h) * time.Hour).UTC() }
	write(t, s, func(tx *Tx) error {
		u := User{Email: "ada@example.org", CreatedAt: now}
		err := tx.AddUser(&u)
		for _, row := range []Session{
			{Hash: "used", CreatedAt: ago(2), SeenAt: ago(0)}, {Hash: "idle", CreatedAt: ago(2), SeenAt: ago(2)}, {Hash: "long", CreatedAt: ago(13), SeenAt: ago(0)},
		} {
			row.UserID = u.ID
			err = errors.Join(err, tx.AddSession(&row))
		}
		for hash, hours := range map[string]int{"fresh": 2, "old": 13} {
			err = errors.Join(err, tx.AddPassSession(PassSession{Hash: hash, Email: "ida@example.org", CreatedAt: ago(hours)}),
				tx.SaveKnownBrowser(KnownBrowser{Hash: hash, UserID: u.ID, CreatedAt: ago(100 * hours)}))
		}
		return err
	})
	write(t, s, func(tx *Tx) error { return tx.SweepSessions(ago(1), ago(12), ago(1000)) })
	read(t, s, func(tx *Tx) error {
		for hash, kept := range map[string]bool{"used": true, "idle": false, "long": false} {
			if _, err := tx.SessionByHash(hash); (err == nil) != kept {
				t.Errorf("the session %s: %v", hash, err)
			}
		}
		for hash, kept := range map[string]bool{"fresh": true, "old": false} {
			if _, err := tx.PassSessionByHash(hash); (err == nil) != kept {
				t.Errorf("the pass %s: %v", hash, err)
			}
			if _, err := tx.KnownBrowser(hash, 1); (err == nil) != kept {
				t.Errorf("the known browser %s: %v", hash, err)
			}
		}
		return nil
	})
}

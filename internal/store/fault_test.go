package store

import (
	"context"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"runtime"
	"strings"
	"syscall"
	"testing"

	"ruvo/internal/storetest"
)

// pragma sets something of the connection that writes.
func pragma(t *testing.T, s *Store, what string) {
	t.Helper()
	if err := s.write.Exec("PRAGMA " + what).Error; err != nil {
		t.Fatal(err)
	}
}

// A disk that is full, somebody else who writes, and a database that cannot be
// written to: the use case is told which, nothing of it is kept, people go on
// looking, and afterwards everything goes on by itself.
func TestFaultsOfTheHouse(t *testing.T) {
	folder := storetest.Folder(t)
	s := open1(t, folder)
	other := storetest.SQL(t, filepath.Join(folder, File))
	// Several pages in one use case, so that it breaks in the middle.
	many := func() error {
		return s.Write(context.Background(), func(tx *Tx) error {
			for i := range 50 {
				if err := tx.WriteMessage(Message{Key: fmt.Sprint("k", i), Recipient: "ada@example.org", Body: strings.Repeat("x", 5000), CreatedAt: now}); err != nil {
					return err
				}
			}
			return nil
		})
	}
	kept := func() (n int) {
		t.Helper()
		read(t, s, func(tx *Tx) error {
			m, err := tx.LatestMessages(1000)
			n = len(m)
			return err
		})
		return n
	}
	var held interface{ Rollback() error }
	for _, c := range []struct {
		want      Fault
		begin, no func()
	}{
		{Full, func() {
			var pages int
			if err := s.write.Raw("PRAGMA page_count").Scan(&pages).Error; err != nil {
				t.Fatal(err)
			}
			pragma(t, s, fmt.Sprintf("max_page_count=%d", pages+10))
		}, func() { pragma(t, s, "max_page_count=1000000") }},
		{Busy, func() {
			pragma(t, s, "busy_timeout=20")
			tx, err := other.Begin() // immediate, as the store's own are
			if err != nil {
				t.Fatal(err)
			}
			held = tx
		}, func() {
			if err := held.Rollback(); err != nil {
				t.Fatal(err)
			}
		}},
		{Shut, func() { pragma(t, s, "query_only=true") }, func() { pragma(t, s, "query_only=false") }},
	} {
		c.begin()
		for range 3 {
			if err := many(); FaultOf(err) != c.want {
				t.Errorf("%s: %v is told as %q", c.want, err, FaultOf(err))
			}
			if n := kept(); n != 0 {
				t.Errorf("%s: %d messages of a use case that failed are kept", c.want, n)
			}
		}
		c.no()
		if err := many(); err != nil {
			t.Errorf("after %s: %v", c.want, err)
		}
		if n := kept(); n != 50 {
			t.Errorf("after %s: %d messages", c.want, n)
		}
		if _, err := other.Exec("DELETE FROM outbox"); err != nil {
			t.Fatal(err)
		}
	}
	for err, want := range map[error]Fault{
		&fs.PathError{Op: "write", Err: syscall.ENOSPC}: Full, fmt.Errorf("saving: %w", syscall.EROFS): Shut, fs.ErrPermission: Shut,
		errors.New("something else"): NoFault, ErrNotFound: NoFault,
	} {
		if got := FaultOf(err); got != want {
			t.Errorf("%v is told as %q, want %q", err, got, want)
		}
	}
}

// What Ruvo keeps is for its owner, whatever the umask; and a folder or file
// that others can read is refused with what to do.
func TestOnlyTheOwnerReads(t *testing.T) {
	if runtime.GOOS == "windows" {
		t.Skip("there are no such modes")
	}
	before := syscall.Umask(0)
	defer syscall.Umask(before)
	folder := filepath.Join(storetest.Folder(t), "data")
	s := open1(t, folder)
	write(t, s, func(tx *Tx) error { return tx.AddUser(&User{Email: "ada@example.org", CreatedAt: now}) })
	names := []string{folder}
	entries, err := os.ReadDir(folder)
	if err != nil {
		t.Fatal(err)
	}
	for _, e := range entries {
		names = append(names, filepath.Join(folder, e.Name()))
	}
	if len(names) < 3 {
		t.Errorf("only %v", names)
	}
	for _, name := range names {
		info, err := os.Stat(name)
		if err != nil || info.Mode().Perm()&0o077 != 0 {
			t.Errorf("%s is %v, %v", name, info.Mode(), err)
		}
	}
	if err := s.Close(); err != nil {
		t.Fatal(err)
	}
	for name, mode := range map[string][2]os.FileMode{folder: {0o750, 0o700}, filepath.Join(folder, File): {0o604, 0o600}} {
		if err := os.Chmod(name, mode[0]); err != nil {
			t.Fatal(err)
		}
		if _, err := Open(folder); err == nil || !strings.Contains(err.Error(), fmt.Sprintf("run chmod %o %s", mode[1], name)) {
			t.Errorf("%s with %v: %v", name, mode[0], err)
		}
		if err := os.Chmod(name, mode[1]); err != nil {
			t.Fatal(err)
		}
	}
	open1(t, folder)
}

// A private link whose mail is out is nowhere in the file, not even where
// something was and was overwritten.
func TestSentLinksLeaveNoTrace(t *testing.T) {
	folder := storetest.Folder(t)
	s := open1(t, folder)
	secret := "AbCdEfGhIjKlMnOpQrStUv"
	for i := range 20 {
		write(t, s, func(tx *Tx) error {
			return tx.WriteMessage(Message{Key: fmt.Sprint(i), Recipient: "ada@example.org", Body: strings.Repeat("x", 997*i) + " http://shop.example.org/o/" + secret + "\n", CreatedAt: now})
		})
	}
	write(t, s, func(tx *Tx) error {
		all, err := tx.MessagesToSend(now, 100)
		for i := range all {
			err = errors.Join(err, tx.MessageSent(&all[i], now))
		}
		return err
	})
	if err := s.Tidy(t.Context()); err != nil {
		t.Fatal(err)
	}
	raw, err := os.ReadFile(filepath.Join(folder, File))
	beside, werr := os.ReadFile(filepath.Join(folder, File+"-wal"))
	if err != nil || werr != nil || len(raw) < 100_000 {
		t.Fatal(len(raw), err, werr)
	}
	if strings.Contains(string(raw)+string(beside), secret) {
		t.Error("the link is still in the file")
	}
}

// What went out keeps no address, of whatever kind, that lets its reader in.
func TestSentMessagesKeepNoPrivateLink(t *testing.T) {
	const secret = "AbCdEfGhIjKlMnOpQrStUv"
	for _, c := range []struct{ sent, kept string }{
		{"/o/" + secret, "/o/…"},
		{"/pass/" + secret + "?invite=NIGHTCLUB", "/pass/…"},
		{"/gift/" + secret, "/gift/…"},
		{"/basket/" + secret, "/basket/…"},
		{"/p/star-map?turn=" + secret, "/p/star-map?turn=…"},
		{"/p/a-voyage-by-night-to-the-stars", "/p/a-voyage-by-night-to-the-stars"},
	} {
		if kept := withoutSecrets("See http://shop.example.org" + c.sent + ", please."); kept != "See http://shop.example.org"+c.kept+", please." {
			t.Errorf("%s is kept as %q", c.sent, kept)
		}
	}
}

// A database from when only links of orders and passes were cut.
func TestLinksOfMoreKindsFromBeforeAreCut(t *testing.T) {
	link := "http://shop.example.org/gift/AbCdEfGhIjKlMnOpQrStUv"
	s := open1(t, oldDatabase(t, 28,
		`INSERT INTO outbox (id, key, recipient, subject, body, created_at, sent_at, way) VALUES
			(1, 'a', 'ada@example.org', 's', 'See `+link+`', '2026-11-01', '2026-11-01', 'mail'),
			(2, 'b', 'ada@example.org', 's', 'See `+link+`', '2026-11-01', NULL, 'mail')`))
	read(t, s, func(tx *Tx) error {
		m, err := tx.LatestMessages(2)
		if len(m) != 2 || m[0].Body != "See "+link || m[1].Body != "See http://shop.example.org/gift/…" {
			t.Errorf("%+v", m)
		}
		return err
	})
}

// A database from before: invitations become hashes, mails that went out lose
// their private links, those that wait keep them.
func TestSecretsFromBeforeAreHashed(t *testing.T) {
	link := "http://shop.example.org/o/AbCdEfGhIjKlMnOpQrStUv"
	folder := oldDatabase(t, 9,
		`INSERT INTO customer_groups (id, key, name, domains, invite) VALUES (1, 'club', 'Club', '[]', 'NIGHTCLUB')`,
		`INSERT INTO sessions VALUES ('secret', x'00', 1)`,
		`INSERT INTO outbox (id, key, recipient, subject, body, created_at, sent_at, way) VALUES
			(1, 'a', 'ada@example.org', 's', 'See `+link+` and http://shop.example.org/pass/AbCdEfGhIjKlMnOpQrStUv?invite=NIGHTCLUB.', '2026-11-01', '2026-11-01', 'mail'),
			(2, 'b', 'ada@example.org', 's', 'See `+link+`', '2026-11-01', NULL, 'mail')`,
	)
	s := open1(t, folder)
	read(t, s, func(tx *Tx) error {
		// printf NIGHTCLUB | sha256sum
		if _, err := tx.GroupByInvite("c4b8aa71a1bca5fc0e963c6fddecf7efb20502385c1cc7840a3ff9dab8e9e162"); err != nil {
			t.Errorf("the invitation is not kept as its hash: %v", err)
		}
		m, err := tx.LatestMessages(2)
		if len(m) != 2 || m[0].Body != "See "+link || m[1].Body != "See http://shop.example.org/o/… and http://shop.example.org/pass/…." {
			t.Errorf("%+v", m)
		}
		return err
	})
}

package desk

import (
	"context"
	"errors"
	"net/http"
	"strings"
	"time"

	"ruvo/api"
	"ruvo/internal/core/words"
	"ruvo/internal/limit"
	"ruvo/internal/link"
	"ruvo/internal/message"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// How long people stay signed in. Idle is a setting.
const (
	DefaultIdle = time.Hour
	longest     = 12 * time.Hour
	knownTime   = 400 * 24 * time.Hour // how long a browser stays known
)

// The pauses of failed sign-ins: for a sender and a mail address together, and
// for a sender who tries many addresses.
const (
	freeTries       = 5
	freeSenderTries = 50
	longestPause    = 15 * time.Minute
	mostKnownTries  = 20 // until a known browser is as any other
)

// A Browser is what a browser has of the desk.
type Browser struct {
	Session string // a secret that lets in
	Known   string // a secret that shows that somebody signed in before
	Name    string // as it calls itself
}

// SignIn lets in the person of a mail address and password, and gives the
// browser new secrets in place of those that it had. Too many failures from a
// sender have to wait; a browser that the person signed in with before has not.
func (d *Desk) SignIn(ctx context.Context, email, password string, from Browser, l words.Language) (context.Context, Browser, error) {
	email = strings.ToLower(strings.TrimSpace(email))
	var user store.User
	var before store.KnownBrowser
	err := d.Store.Read(ctx, func(tx *store.Tx) (err error) {
		if user, err = tx.UserByEmail(email); err == nil && from.Known != "" {
			before, err = tx.KnownBrowser(link.Hash(from.Known), user.ID)
		}
		if errors.Is(err, store.ErrNotFound) {
			err = nil
		}
		return err
	})
	if err != nil {
		return ctx, Browser{}, err
	}
	if before.Hash == "" {
		if wait := max(d.Guard.tries.Wait(d.Now(), limit.Sender(ctx)+" "+email), d.Guard.senders.Wait(d.Now(), limit.Sender(ctx))); wait > 0 {
			return ctx, Browser{}, problem.Throttled(l, "throttled", wait)
		}
	}
	kept := user.Password
	if user.ID == 0 {
		kept = nobody()
	}
	if len([]rune(password)) > longestPassword || !matches(password, kept) || user.ID == 0 {
		if err := d.failed(ctx, user, before, email); err != nil {
			return ctx, Browser{}, err
		}
		return ctx, Browser{}, problem.Say(http.StatusUnauthorized, l, "bad_sign_in", nil)
	}
	if before.Hash == "" { // otherwise the failures were somebody else's
		d.Guard.tries.Passed(limit.Sender(ctx) + " " + email)
	}
	given := Browser{Session: link.Secret(), Known: link.Secret(), Name: from.Name}
	now := d.Now().UTC()
	row := store.Session{Hash: link.Hash(given.Session), UserID: user.ID, CreatedAt: now, SeenAt: now, Address: limit.Address(ctx), Browser: cut(from.Name, 200)}
	err = d.Store.Write(ctx, func(tx *store.Tx) error {
		if err := tx.DropSessionByHash(link.Hash(from.Session)); err != nil {
			return err
		}
		if before.Hash != "" { // replaced, so that each opens once
			if err := tx.DropKnownBrowser(before.Hash); err != nil {
				return err
			}
		}
		if err := tx.SaveKnownBrowser(store.KnownBrowser{Hash: link.Hash(given.Known), UserID: user.ID, CreatedAt: now}); err != nil {
			return err
		}
		if err := tx.AddSession(&row); err != nil {
			return err
		}
		return d.log(withPerson(ctx, user, row), tx, signedIn, "")
	})
	return withPerson(ctx, user, row), given, err
}

// failed notes a failed sign-in, and warns the owner when somebody has to wait
// from now on.
func (d *Desk) failed(ctx context.Context, user store.User, before store.KnownBrowser, email string) error {
	now := d.Now()
	each, all := 0, 0
	if before.Hash == "" {
		each = d.Guard.tries.Failed(now, limit.Sender(ctx)+" "+email)
		all = d.Guard.senders.Failed(now, limit.Sender(ctx))
	}
	about := user.Email // what is no address here may be a password in the wrong field
	return d.Store.Write(ctx, func(tx *store.Tx) error {
		if before.Hash != "" {
			before.Failed++
			if before.Failed >= mostKnownTries {
				if err := tx.DropKnownBrowser(before.Hash); err != nil {
					return err
				}
			} else if err := tx.SaveKnownBrowser(before); err != nil {
				return err
			}
		}
		if each == freeTries && user.ID != 0 || all == freeSenderTries {
			b, err := tx.Business()
			if err != nil {
				return err
			}
			owner, err := tx.Owner()
			if err != nil {
				return err
			}
			if err := message.WriteWarning(tx, b, owner, about, limit.Address(ctx), now); err != nil {
				return err
			}
			if err := d.log(ctx, tx, signInPaused, about); err != nil {
				return err
			}
		}
		return d.logStranger(ctx, tx, signInFailed, about)
	})
}

// Enter finds who has a session, and puts them into the context. A session
// ends when it was not used for the idle time, and in any case after the
// longest time. What a page asks by itself while nobody is there, unattended, is
// no use.
func (d *Desk) Enter(ctx context.Context, secret string, unattended bool, l words.Language) (context.Context, error) {
	if secret == "" {
		return ctx, problem.Say(http.StatusUnauthorized, l, "sign_in", nil)
	}
	var s store.Session
	var u store.User
	err := d.Store.Read(ctx, func(tx *store.Tx) (err error) {
		if s, err = tx.SessionByHash(link.Hash(secret)); err == nil {
			u, err = tx.UserByID(s.UserID)
		}
		return err
	})
	now := d.Now()
	if errors.Is(err, store.ErrNotFound) || err == nil && (d.over(s)) {
		return ctx, problem.Say(http.StatusUnauthorized, l, "sign_in", nil)
	}
	if err != nil {
		return ctx, err
	}
	if !unattended && now.Sub(s.SeenAt).Abs() > time.Minute { // to the minute is enough
		// A database that cannot be written to does not keep people from looking.
		_ = d.Store.Write(ctx, func(tx *store.Tx) error { return tx.SeenSession(s.ID, now) })
	}
	return withPerson(ctx, u, s), nil
}

// over says whether a session's time is over: it was not used for long, or began
// long ago, or at a time that is still to come, while the clock was wrong.
func (d *Desk) over(s store.Session) bool {
	now := d.Now()
	return now.Sub(s.SeenAt) > d.idle() || now.Sub(s.CreatedAt) > longest || s.CreatedAt.Sub(now) > time.Minute
}

func (d *Desk) idle() time.Duration {
	if d.Idle > 0 {
		return d.Idle
	}
	return DefaultIdle
}

type contextKey struct{}

// As makes a context in which somebody works at the desk without a browser.
func As(ctx context.Context, u store.User) context.Context {
	return withPerson(ctx, u, store.Session{})
}

// person is who a request came from.
type person struct {
	user    store.User
	session store.Session
}

func withPerson(ctx context.Context, u store.User, s store.Session) context.Context {
	return context.WithValue(ctx, contextKey{}, person{u, s})
}

func who(ctx context.Context) person {
	p, _ := ctx.Value(contextKey{}).(person)
	return p
}

// PersonID gives the id of the person whom a request came from; 0 for nobody.
func PersonID(ctx context.Context) int64 { return who(ctx).user.ID }

// Author gives how the person is called whom a request came from; empty for
// nobody.
func Author(ctx context.Context) string { return who(ctx).user.Name }

// Session shows who is signed in.
func (d *Desk) Session(ctx context.Context) (api.Session, error) {
	var view api.Session
	u := who(ctx).user
	err := d.Store.Read(ctx, func(tx *store.Tx) error {
		b, err := tx.Business()
		view = api.Session{Email: u.Email, Name: u.Name, Business: b.Name, Zone: b.Zone, Now: d.Now().UTC()}
		if err == nil {
			var n int64
			n, err = tx.NewLines()
			view.New = int(n)
		}
		if u.PersonID != 0 {
			view.Person = &u.PersonID
		}
		if d.Simulated != "" {
			view.Simulated = &d.Simulated
		}
		if d.SimulatedBank != "" {
			view.SimulatedBank = &d.SimulatedBank
		}
		return err
	})
	return view, err
}

// SignOut ends the session that a request came with.
func (d *Desk) SignOut(ctx context.Context) error {
	p := who(ctx)
	return d.Store.Write(ctx, func(tx *store.Tx) error {
		if err := tx.DropSession(p.user.ID, p.session.ID); err != nil {
			return err
		}
		return d.log(ctx, tx, signedOut, "")
	})
}

// Sessions lists where the person is signed in.
func (d *Desk) Sessions(ctx context.Context) ([]api.DeskSession, error) {
	views := []api.DeskSession{}
	err := d.Store.Read(ctx, func(tx *store.Tx) (err error) {
		views, err = d.sessions(ctx, tx)
		return err
	})
	return views, err
}

func (d *Desk) sessions(ctx context.Context, tx *store.Tx) ([]api.DeskSession, error) {
	p := who(ctx)
	rows, err := tx.SessionsOf(p.user.ID)
	views := []api.DeskSession{}
	for _, s := range rows {
		if d.over(s) {
			continue
		}
		views = append(views, api.DeskSession{Id: s.ID, Since: s.CreatedAt, Seen: s.SeenAt, Address: s.Address, Browser: s.Browser, Here: s.ID == p.session.ID})
	}
	return views, err
}

// EndSession signs the person out in one of their browsers.
func (d *Desk) EndSession(ctx context.Context, id int64) ([]api.DeskSession, error) {
	var views []api.DeskSession
	err := d.Store.Write(ctx, func(tx *store.Tx) error {
		err := tx.DropSession(who(ctx).user.ID, id)
		if err == nil {
			err = d.log(ctx, tx, sessionEnded, "")
		}
		if err == nil {
			views, err = d.sessions(ctx, tx)
		}
		return err
	})
	return views, err
}

// Sweep takes away sessions that ended, and what the log no longer keeps.
func (d *Desk) Sweep(ctx context.Context) error {
	now := d.Now()
	return errors.Join(d.closeBriefs(ctx), d.Store.Write(ctx, func(tx *store.Tx) error {
		if err := tx.SweepSessions(now.Add(-d.idle()), now.Add(-longest), now.Add(-knownTime)); err != nil {
			return err
		}
		return tx.SweepLog(now.Add(-logTime))
	}))
}

// cut gives the beginning of a text, without breaking a character.
func cut(s string, most int) string {
	if r := []rune(strings.ToValidUTF8(s, "")); len(r) > most {
		return string(r[:most])
	}
	return strings.ToValidUTF8(s, "")
}

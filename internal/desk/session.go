package desk

import (
	"context"
	"crypto/rand"
	"crypto/subtle"
	"encoding/base64"
	"errors"
	"fmt"
	"net/http"
	"strconv"
	"strings"
	"sync"
	"time"

	"golang.org/x/crypto/argon2"

	"ruvo/api"
	"ruvo/internal/core/words"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// The costs of argon2id: 19 MiB, two passes, one lane, as OWASP's password
// storage advice has it (from memory).
const (
	argonMemory = 19 * 1024
	argonPasses = 2
	argonLanes  = 1
	argonKey    = 32
)

// HashPassword makes the form in which a password is kept.
func HashPassword(password string) string {
	salt := make([]byte, 16)
	rand.Read(salt)
	key := argon2.IDKey([]byte(password), salt, argonPasses, argonMemory, argonLanes, argonKey)
	b64 := base64.RawStdEncoding
	return fmt.Sprintf("$argon2id$v=%d$m=%d,t=%d,p=%d$%s$%s", argon2.Version, argonMemory, argonPasses, argonLanes, b64.EncodeToString(salt), b64.EncodeToString(key))
}

// matches compares a password with its kept form.
func matches(password, kept string) bool {
	parts := strings.Split(kept, "$")
	if len(parts) != 6 {
		return false
	}
	var memory, passes uint32
	var lanes uint8
	if _, err := fmt.Sscanf(parts[3], "m=%d,t=%d,p=%d", &memory, &passes, &lanes); err != nil {
		return false
	}
	salt, err1 := base64.RawStdEncoding.DecodeString(parts[4])
	key, err2 := base64.RawStdEncoding.DecodeString(parts[5])
	if err1 != nil || err2 != nil || len(key) == 0 {
		return false
	}
	return subtle.ConstantTimeCompare(key, argon2.IDKey([]byte(password), salt, passes, memory, lanes, uint32(len(key)))) == 1
}

// nobody is compared with when there is no such person, so that the answer
// takes as long.
var nobody = sync.OnceValue(func() string { return HashPassword("nobody") })

// SignIn finds the person of a mail address and password. From is the address
// that the try comes from; too many tries have to wait.
func (d *Desk) SignIn(ctx context.Context, email, password, from string, l words.Language) (store.User, error) {
	email = strings.ToLower(strings.TrimSpace(email))
	if wait := d.guard.wait(d.Now(), email, from); wait > 0 {
		return store.User{}, problem.Say(http.StatusTooManyRequests, l, "throttled", words.Params{"seconds": strconv.Itoa(int(wait.Seconds()) + 1)})
	}
	var user store.User
	err := d.Store.Read(ctx, func(tx *store.Tx) (err error) {
		user, err = tx.UserByEmail(email)
		return err
	})
	kept := user.Password
	if errors.Is(err, store.ErrNotFound) {
		kept, err = nobody(), nil
	}
	if err != nil {
		return store.User{}, err
	}
	if len(password) > 1000 || !matches(password, kept) || user.ID == 0 {
		d.guard.failed(d.Now(), email, from)
		return store.User{}, problem.Say(http.StatusUnauthorized, l, "bad_sign_in", nil)
	}
	d.guard.passed(email, from)
	return user, nil
}

// Session shows who is signed in.
func (d *Desk) Session(ctx context.Context, user int64, l words.Language) (api.Session, error) {
	var view api.Session
	err := d.Store.Read(ctx, func(tx *store.Tx) error {
		u, err := tx.UserByID(user)
		if errors.Is(err, store.ErrNotFound) {
			return problem.Say(http.StatusUnauthorized, l, "sign_in", nil)
		}
		if err != nil {
			return err
		}
		b, err := tx.Business()
		view = api.Session{Email: u.Email, Name: u.Name, Business: b.Name, Zone: b.Zone, Now: d.Now().UTC()}
		return err
	})
	return view, err
}

// A throttle makes who failed to sign in wait: from the fifth failure on, for
// a mail address or a sender, twice as long each time, up to 15 minutes.
type throttle struct {
	mu    sync.Mutex
	tries map[string]tries
}

type tries struct {
	failed int
	until  time.Time
}

const (
	freeTries  = 5
	longestBan = 15 * time.Minute
	mostNames  = 10_000
)

func (t *throttle) wait(now time.Time, names ...string) time.Duration {
	t.mu.Lock()
	defer t.mu.Unlock()
	var longest time.Duration
	for _, n := range names {
		longest = max(longest, t.tries[n].until.Sub(now))
	}
	return longest
}

func (t *throttle) failed(now time.Time, names ...string) {
	t.mu.Lock()
	defer t.mu.Unlock()
	if t.tries == nil || len(t.tries) > mostNames {
		t.tries = map[string]tries{}
	}
	for _, n := range names {
		f := t.tries[n]
		f.failed++
		if f.failed >= freeTries {
			f.until = now.Add(min(longestBan, time.Second<<min(f.failed-freeTries+1, 12)))
		}
		t.tries[n] = f
	}
}

func (t *throttle) passed(names ...string) {
	t.mu.Lock()
	defer t.mu.Unlock()
	for _, n := range names {
		delete(t.tries, n)
	}
}

// Name gives how a person who works at the desk is called.
func (d *Desk) Name(ctx context.Context, user int64) (string, error) {
	var u store.User
	err := d.Store.Read(ctx, func(tx *store.Tx) (err error) {
		u, err = tx.UserByID(user)
		return err
	})
	return u.Name, err
}

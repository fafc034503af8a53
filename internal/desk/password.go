package desk

import (
	"crypto/rand"
	"crypto/subtle"
	"encoding/base64"
	"errors"
	"fmt"
	"ruvo/internal/store"
	"strings"
	"sync"
	"time"

	"github.com/trustelem/zxcvbn"
	"golang.org/x/crypto/argon2"
)

// The costs of argon2id: 19 MiB, two passes, one lane, as OWASP's password
// storage advice has it (from memory).
const (
	argonMemory = 19 * 1024
	argonPasses = 2
	argonLanes  = 1
	argonKey    = 32
)

// comparing bounds how many passwords are hashed at once, and with that the
// memory that strangers can have taken.
var comparing = make(chan struct{}, 4)

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
	comparing <- struct{}{}
	defer func() { <-comparing }()
	return subtle.ConstantTimeCompare(key, argon2.IDKey([]byte(password), salt, passes, memory, lanes, uint32(len(key)))) == 1
}

// nobody is compared with when there is no such person, so that the answer
// takes as long.
var nobody = sync.OnceValue(func() string { return HashPassword("nobody") })

// The limits of passwords follow OWASP ASVS 5, 6.2 (from memory): eight
// characters at least, sixty-four and more allowed, any character, no other rule;
// what is on lists of common passwords is refused.
const (
	shortestPassword = 8
	longestPassword  = 1000
	leastStrength    = 2   // of zxcvbn's 0 to 4: 2 withstands a million guesses
	estimated        = 100 // characters that the estimate looks at
)

// CheckPassword refuses a password that is too short, or that is guessed soon:
// a common one, or one made of words about the person, the business or us.
func CheckPassword(password string, about ...string) error {
	characters := []rune(password)
	if len(characters) < shortestPassword {
		return fmt.Errorf("the password needs at least %d characters", shortestPassword)
	}
	if len(characters) > longestPassword {
		return fmt.Errorf("the password has more than %d characters", longestPassword)
	}
	words := []string{"ruvo"}
	for _, a := range about {
		a = strings.ToLower(a)
		words = append(append(words, a), strings.FieldsFunc(a, func(r rune) bool { return r == '@' || r == '.' || r == ' ' })...)
	}
	if zxcvbn.PasswordStrength(string(characters[:min(len(characters), estimated)]), words).Score < leastStrength {
		return errors.New("this password is guessed soon; take a longer one, such as four words that have nothing to do with each other")
	}
	return nil
}

// NewPassword gives a person a new password, signs them out everywhere, and
// forgets the browsers that knew the old one.
func NewPassword(tx *store.Tx, u store.User, password string, at time.Time) error {
	if err := tx.SetPassword(u.ID, HashPassword(password)); err != nil {
		return err
	}
	return tx.Log(store.LogEntry{At: at.UTC(), What: passwordChanged.code, Topic: passwordChanged.topic, About: u.Name})
}

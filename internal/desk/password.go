package desk

import (
	"crypto/rand"
	"crypto/subtle"
	"encoding/base64"
	"fmt"
	"strings"
	"sync"

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

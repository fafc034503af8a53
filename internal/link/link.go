// Package link makes the private links that let a customer in: 128 random bits
// that only whoever they were given to knows. What is kept is their hash.
package link

import (
	"crypto/rand"
	"crypto/sha256"
	"encoding/base64"
	"encoding/hex"
	"time"

	"ruvo/internal/store"
)

// Secret gives 128 random bits as they stand in an address.
func Secret() string {
	bits := make([]byte, 16)
	rand.Read(bits)
	return base64.RawURLEncoding.EncodeToString(bits)
}

// Hash gives the form in which a secret is kept.
func Hash(secret string) string {
	sum := sha256.Sum256([]byte(secret))
	return hex.EncodeToString(sum[:])
}

// New makes a private link to an order.
func New(tx *store.Tx, order int64, now time.Time) (string, error) {
	secret := Secret()
	return secret, tx.AddLink(store.Link{Hash: Hash(secret), OrderID: order, CreatedAt: now.UTC()})
}

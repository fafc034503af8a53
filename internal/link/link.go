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

// New makes a private link to an order, for the browser that ordered.
func New(tx *store.Tx, order int64, now time.Time) (string, error) {
	return add(tx, store.Link{OrderID: order, CreatedAt: now.UTC()})
}

// NewMailed makes a private link that is given to nobody but by a mail to the
// order's address.
func NewMailed(tx *store.Tx, order int64, now time.Time) (string, error) {
	return add(tx, store.Link{OrderID: order, CreatedAt: now.UTC(), Mailed: true})
}

// NewGift makes a private link for whom an order is.
func NewGift(tx *store.Tx, order int64, now time.Time) (string, error) {
	return add(tx, store.Link{OrderID: order, CreatedAt: now.UTC(), Recipient: true})
}

func add(tx *store.Tx, l store.Link) (string, error) {
	secret := Secret()
	l.Hash = Hash(secret)
	return secret, tx.AddLink(l)
}

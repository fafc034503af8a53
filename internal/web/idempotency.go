package web

import (
	"bytes"
	"context"
	"crypto/aes"
	"crypto/cipher"
	"crypto/rand"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"io"
	"log/slog"
	"net/http"
	"regexp"
	"strconv"
	"strings"
	"time"

	"github.com/labstack/echo/v5"

	"ruvo/internal/core/words"
	"ruvo/internal/desk"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// The Idempotency-Key of a POST (draft-ietf-httpapi-idempotency-key-header-07,
// from memory): the same key with the same request gets the first answer again,
// with another request a 422, and while the first is still worked on a 409.
const idempotencyHead = "Idempotency-Key"

// A key is a string of the structured fields (RFC 9651), or the same without its
// quotes.
var idempotencyKey = regexp.MustCompile(`^"?([\x21\x23-\x5b\x5d-\x7e]{8,128})"?$`)

// What is kept of keys, and of bodies and answers with them.
const (
	keysKept       = 24 * time.Hour
	largestKeyed   = 32 << 20 // bytes of a request
	largestReplied = 1 << 20  // bytes of an answer
)

// computing are the last parts of paths whose POST changes nothing, so that
// nothing is kept of it; and of that which takes a password, of which not even a
// hash is to stand beside others. A bank statement is large, and read twice it
// changes nothing.
var computing = []string{"evaluate", "basket", "try", "preview", "rename", "reprice", "replay", "present", "session", "statements"}

// once answers a POST with a key that was answered before as it was answered
// then, and does nothing again.
func (s *Server) once(next echo.HandlerFunc) echo.HandlerFunc {
	return func(c *echo.Context) error {
		r := c.Request()
		given := r.Header.Get(idempotencyHead)
		if given == "" || r.Method != http.MethodPost || computes(r.URL.Path) {
			return next(c)
		}
		l := speak(r.Context())
		found := idempotencyKey.FindStringSubmatch(given)
		if found == nil || strings.HasPrefix(given, `"`) != strings.HasSuffix(given, `"`) {
			return problem.Say(http.StatusBadRequest, l, "key_form", nil)
		}
		body, err := io.ReadAll(http.MaxBytesReader(c.Response(), r.Body, largestKeyed))
		if err != nil {
			return problem.Say(http.StatusRequestEntityTooLarge, l, "too_large", nil)
		}
		r.Body = io.NopCloser(bytes.NewReader(body))
		k := keyed{s: s, secret: found[1], row: store.Answered{
			Key:     digest("key", found[1], strconv.FormatInt(desk.PersonID(r.Context()), 10)),
			Request: digest(r.Method, r.URL.RequestURI(), string(body)), At: s.now().UTC(),
		}}
		before, used, err := k.reserve(r.Context())
		if err != nil {
			return err
		}
		if used {
			return k.again(c, before, l)
		}
		return k.first(c, next)
	}
}

func computes(path string) bool {
	if strings.Contains(path, "/presence/") { // said again every few seconds
		return true
	}
	last := path[strings.LastIndex(path, "/")+1:]
	for _, p := range computing {
		if last == p {
			return true
		}
	}
	return false
}

// digest hashes parts so that none can be taken for another.
func digest(parts ...string) string {
	h := sha256.New()
	for _, p := range parts {
		h.Write([]byte(strconv.Itoa(len(p)) + ":" + p))
	}
	return hex.EncodeToString(h.Sum(nil))
}

// keyed is a request with a key.
type keyed struct {
	s      *Server
	secret string
	row    store.Answered
}

func (k *keyed) reserve(ctx context.Context) (before store.Answered, used bool, err error) {
	err = k.s.store.Write(ctx, func(tx *store.Tx) (err error) {
		before, used, err = tx.Reserve(k.row)
		return err
	})
	return before, used, err
}

// again answers a request whose key was used before.
func (k *keyed) again(c *echo.Context, before store.Answered, l words.Language) error {
	switch {
	case before.Request != k.row.Request:
		return problem.Say(http.StatusUnprocessableEntity, l, "key_reused", nil)
	case before.Status == 0:
		return problem.Say(http.StatusConflict, l, "key_busy", nil)
	}
	answer, err := k.open(before.Answer)
	if err != nil {
		return err
	}
	if len(answer) == 0 {
		return c.NoContent(before.Status)
	}
	return c.Blob(before.Status, before.Type, answer)
}

// first has the request answered and keeps the answer. What failed was not done
// and may be tried again under the same key; so may what sets a cookie, which is
// not kept.
func (k *keyed) first(c *echo.Context, next echo.HandlerFunc) error {
	out := c.Response()
	copied := &copying{ResponseWriter: out, status: http.StatusOK}
	c.SetResponse(copied)
	err := next(c)
	c.SetResponse(out)
	ctx := context.WithoutCancel(c.Request().Context())
	kept := k.s.store.Write(ctx, func(tx *store.Tx) error {
		if err != nil || copied.status >= 300 || copied.body.Len() > largestReplied || out.Header().Get("Set-Cookie") != "" {
			return tx.Unreserve(k.row.Key)
		}
		sealed, serr := k.seal(copied.body.Bytes())
		if serr != nil {
			return serr
		}
		k.row.Status, k.row.Type, k.row.Answer = copied.status, out.Header().Get(echo.HeaderContentType), sealed
		return tx.Answer(k.row)
	})
	if kept != nil { // it was done, and a repeat is told that it is not known
		slog.Error("an answer was not kept for its key", "error", kept)
	}
	return err
}

// copying copies what is written.
type copying struct {
	http.ResponseWriter
	status int
	body   bytes.Buffer
}

func (w *copying) WriteHeader(status int) {
	w.status = status
	w.ResponseWriter.WriteHeader(status)
}

func (w *copying) Write(p []byte) (int, error) {
	if w.body.Len() <= largestReplied {
		w.body.Write(p)
	}
	return w.ResponseWriter.Write(p)
}

// Unwrap gives the writer behind it, for http.ResponseController.
func (w *copying) Unwrap() http.ResponseWriter { return w.ResponseWriter }

// cipher makes the cipher of a key: answers can hold private links, and only
// hashes of those are kept in the database.
func (k *keyed) cipher() (cipher.AEAD, error) {
	sum := sha256.Sum256([]byte("answer:" + k.secret))
	block, err := aes.NewCipher(sum[:])
	if err != nil {
		return nil, err
	}
	return cipher.NewGCM(block)
}

func (k *keyed) seal(answer []byte) ([]byte, error) {
	box, err := k.cipher()
	if err != nil {
		return nil, err
	}
	nonce := make([]byte, box.NonceSize())
	rand.Read(nonce)
	return box.Seal(nonce, nonce, answer, nil), nil
}

var errSealed = errors.New("an answer kept for a key cannot be opened with it")

func (k *keyed) open(sealed []byte) ([]byte, error) {
	box, err := k.cipher()
	if err != nil {
		return nil, err
	}
	if len(sealed) < box.NonceSize() {
		return nil, errSealed
	}
	return box.Open(nil, sealed[:box.NonceSize()], sealed[box.NonceSize():], nil)
}

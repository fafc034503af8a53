package web

import (
	"io"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"
	"time"
)

// Every answer says what a browser may do with it. The headers are those that
// the OWASP Secure Headers Project lists (as remembered).
func TestHeadersOfEveryAnswer(t *testing.T) {
	for _, secure := range []bool{false, true} {
		s, bank := sample(t, time.Now)
		server, err := New(Config{Store: s, Payments: bank, Now: time.Now, Log: slog.New(slog.NewTextHandler(io.Discard, nil)), Secure: secure})
		must(t, err)
		for _, path := range []string{"/api/shop", "/api/desk/orders", "/healthz", "/nothing"} {
			r := httptest.NewRequest(http.MethodGet, path, nil)
			r.Header.Set("X-Request-Id", "somebody else's")
			w := httptest.NewRecorder()
			server.ServeHTTP(w, r)
			h := w.Header()
			for name, want := range map[string]string{
				"X-Content-Type-Options": "nosniff", "Cross-Origin-Opener-Policy": "same-origin", "Cross-Origin-Resource-Policy": "same-origin",
				"Referrer-Policy": "same-origin", "Permissions-Policy": "camera=()", "Content-Security-Policy": "frame-ancestors 'none'",
			} {
				if !strings.Contains(h.Get(name), want) {
					t.Errorf("%s: %s is %q", path, name, h.Get(name))
				}
			}
			if got := h.Get("Strict-Transport-Security"); (got == "max-age=31536000; includeSubDomains") != secure || !secure && got != "" {
				t.Errorf("%s, secure %v: Strict-Transport-Security is %q", path, secure, got)
			}
			if id := h.Get("X-Request-Id"); id == "" || strings.Contains(id, "somebody") {
				t.Errorf("%s: the request's id is %q", path, id)
			}
		}
	}
}

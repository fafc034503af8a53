package web

import (
	"encoding/json"
	"io"
	"log/slog"
	"net/http/httptest"
	"net/url"
	"strings"
	"testing"
	"time"

	"ruvo/internal/link"
	"ruvo/internal/store"
)

// No secret but the right one opens anything, however near it is, and none makes
// anything fail.
func FuzzLinks(f *testing.F) {
	clock := func() time.Time { return today }
	s, bank := sample(f, clock)
	quiet := slog.New(slog.NewTextHandler(io.Discard, nil))
	slog.SetDefault(quiet)
	server, err := New(Config{Store: s, Payments: bank, Now: clock, Log: quiet})
	if err != nil {
		f.Fatal(err)
	}
	const secret = "AbCdEfGhIjKlMnOpQrStUv"
	if err := s.Write(f.Context(), func(tx *store.Tx) error {
		err := tx.AddLink(store.Link{Hash: link.Hash(secret), OrderID: 1, CreatedAt: today.UTC()})
		if err == nil {
			err = tx.AddPassSession(store.PassSession{Hash: link.Hash(secret), Email: "ida@example.org", CreatedAt: today.UTC()})
		}
		return err
	}); err != nil {
		f.Fatal(err)
	}
	for _, seed := range []string{secret, strings.ToLower(secret), secret + "=", secret[:21], secret + "\x00", " " + secret, link.Hash(secret), "", "%", "..", "../desk/today", "\xff", strings.Repeat("A", 5000), "' OR '1'='1"} {
		f.Add(seed)
	}
	ask := func(method, path, body, cookie string) (int, string) {
		r := httptest.NewRequest(method, "/", strings.NewReader(body))
		u, err := url.Parse("http://127.0.0.1" + path)
		if err != nil {
			return 400, ""
		}
		r.URL, r.RequestURI = u, path
		r.Header.Set("Content-Type", "application/json")
		if cookie != "" {
			r.Header.Set("Cookie", "ruvo_desk="+cookie+"; ruvo_pass="+cookie+"; ruvo_known="+cookie)
		}
		w := httptest.NewRecorder()
		server.ServeHTTP(w, r)
		return w.Code, w.Body.String()
	}
	if code, _ := ask("GET", "/api/shop/orders/"+secret, "", ""); code != 200 {
		f.Fatal("the link itself opens nothing: ", code)
	}
	f.Fuzz(func(t *testing.T, given string) {
		at := url.PathEscape(given)
		token, err := json.Marshal(map[string]string{"token": given})
		if err != nil {
			t.Fatal(err)
		}
		for _, c := range []struct{ method, path, body string }{
			{"GET", "/api/shop/orders/" + at, ""}, {"GET", "/api/shop/orders/" + at + "/known", ""}, {"POST", "/api/shop/orders/" + at + "/renew", ""},
			{"PATCH", "/api/shop/orders/" + at + "/lines/1/answers", `{"version":1,"answers":{}}`},
			{"GET", "/api/shop/checkouts/" + at, ""}, {"GET", "/api/shop/uploads/" + at, ""}, {"GET", "/api/shop/uploads/" + at + "/thumbnail", ""},
			{"POST", "/api/shop/pass/open", string(token)},
		} {
			code, body := ask(c.method, c.path, c.body, "")
			if code >= 500 || code < 300 && given != secret {
				t.Errorf("%s %q: %d %.200s", c.method, c.path, code, body)
			}
		}
		if strings.ContainsAny(given, "\r\n\x00;") || given != strings.TrimSpace(given) {
			return // no cookie
		}
		if code, body := ask("GET", "/api/desk/today", "", given); code < 400 || code >= 500 {
			t.Errorf("the desk: %d %.200s", code, body)
		}
		if code, body := ask("GET", "/api/shop/pass", "", given); code != 200 || strings.Contains(body, "ida@") && strings.Trim(given, `"`) != secret {
			t.Errorf("a pass: %d %.200s", code, body)
		}
	})
}

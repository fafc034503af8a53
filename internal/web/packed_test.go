package web

import (
	"compress/gzip"
	"io"
	"net/http/httptest"
	"strings"
	"testing"
	"testing/fstest"

	"github.com/labstack/echo/v5"
)

// Scripts and styles come packed to those who unpack them, the same each time, and whole
// to others; what is small already comes as it is.
func TestWhatPagesLoadComesPacked(t *testing.T) {
	script := strings.Repeat("say('moss');\n", 400)
	e := echo.New()
	e.GET("/assets/*", new(Server).assets(fstest.MapFS{"assets/desk-Ab1.js": {Data: []byte(script)}, "assets/letters-Cd2.woff2": {Data: []byte("letters")}}))
	get := func(path, takes string) (encoding, kind, body string) {
		t.Helper()
		r := httptest.NewRequest("GET", path, nil)
		r.Header.Set("Accept-Encoding", takes)
		w := httptest.NewRecorder()
		e.ServeHTTP(w, r)
		if w.Code != 200 || !strings.Contains(w.Header().Get("Cache-Control"), "immutable") {
			t.Errorf("%s: %d, %v", path, w.Code, w.Header())
		}
		var in io.Reader = w.Body
		if encoding = w.Header().Get("Content-Encoding"); encoding == "gzip" {
			if w.Body.Len() > len(script)/10 {
				t.Errorf("%s: %d bytes", path, w.Body.Len())
			}
			unpacked, err := gzip.NewReader(w.Body)
			must(t, err)
			in = unpacked
		}
		all, err := io.ReadAll(in)
		must(t, err)
		return encoding, w.Header().Get("Content-Type"), string(all)
	}
	for range 2 {
		if encoding, kind, body := get("/assets/desk-Ab1.js", "br, gzip"); encoding != "gzip" || body != script || !strings.HasPrefix(kind, "text/javascript") {
			t.Errorf("%q, %q, %q", encoding, kind, body)
		}
	}
	if encoding, _, body := get("/assets/desk-Ab1.js", ""); encoding != "" || body != script {
		t.Errorf("%q, %q", encoding, body)
	}
	if encoding, _, body := get("/assets/letters-Cd2.woff2", "gzip"); encoding != "" || body != "letters" {
		t.Errorf("%q, %q", encoding, body)
	}
}

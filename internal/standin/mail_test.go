package standin

import (
	"net/mail"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"ruvo/internal/port"
)

// Outside check: the post box holds mails that net/mail reads, with the text as
// it was written; a key is a name, and nothing that leads elsewhere.
func TestPostBox(t *testing.T) {
	m := Mail{Folder: filepath.Join(t.TempDir(), "box")}
	body := "Grüße,\n\nhttp://shop.example.org/o/AbCdEfGhIjKlMnOpQrStUv?x=1\n" + strings.Repeat("long ", 40) + "= end\n"
	for range 2 { // the same key twice is one mail
		if err := m.Send(t.Context(), port.Mail{Key: "order-1", To: "ada@example.org", Subject: "Grüße", Body: body}); err != nil {
			t.Fatal(err)
		}
	}
	if err := m.SendText(t.Context(), port.Text{Key: "remind-1", To: "+493023125014", Body: "Hello"}); err != nil {
		t.Fatal(err)
	}
	for key, want := range map[string]string{"order-1": body, "remind-1": "Hello"} {
		if got, ok := m.Text(key); !ok || got != want {
			t.Errorf("%s: %q", key, got)
		}
	}
	in, err := os.Open(filepath.Join(m.Folder, "order-1.eml"))
	if err != nil {
		t.Fatal(err)
	}
	defer in.Close()
	letter, err := mail.ReadMessage(in)
	if err != nil || letter.Header.Get("To") != "ada@example.org" {
		t.Errorf("%+v, %v", letter, err)
	}
	if _, err := letter.Header.Date(); err != nil {
		t.Error(err)
	}
	for _, bad := range []string{"", "../x", "a/b", "a\x00"} {
		if m.Send(t.Context(), port.Mail{Key: bad, To: "x", Body: "x"}) == nil {
			t.Errorf("%q was taken for a name", bad)
		}
		if _, ok := m.Text(bad); ok {
			t.Errorf("%q was read", bad)
		}
	}
	if entries, _ := os.ReadDir(m.Folder); len(entries) != 2 {
		t.Errorf("%v", entries)
	}
}

package standin

import (
	"bytes"
	"context"
	"fmt"
	"io"
	"mime"
	"mime/quotedprintable"
	"net/mail"
	"os"
	"path/filepath"
	"regexp"
	"time"

	"ruvo/internal/port"
)

// Mail stands in for whoever delivers mail and text messages: it lays each into
// a folder as a mail file (RFC 5322), as if that were everybody's post box.
type Mail struct{ Folder string }

// PostBox gives the stand-in's folder within a data folder.
func PostBox(folder string) string { return filepath.Join(folder, "post-box") }

var keyForm = regexp.MustCompile(`^[A-Za-z0-9@._+-]{1,200}$`)

func (m Mail) file(key string) (string, bool) {
	return filepath.Join(m.Folder, key+".eml"), keyForm.MatchString(key)
}

// Send implements port.Mailer.
func (m Mail) Send(_ context.Context, mail port.Mail) error {
	return m.put(mail.Key, mail.To, mail.Subject, mail.Body)
}

// SendText implements port.Texter.
func (m Mail) SendText(_ context.Context, t port.Text) error { return m.put(t.Key, t.To, "", t.Body) }

func (m Mail) put(key, to, subject, body string) error {
	path, ok := m.file(key)
	if !ok {
		return fmt.Errorf("no name for a mail file: %q", key)
	}
	if err := os.MkdirAll(m.Folder, 0o700); err != nil {
		return err
	}
	var out bytes.Buffer
	fmt.Fprintf(&out, "Date: %s\r\nTo: %s\r\n", time.Now().Format(time.RFC1123Z), to)
	if subject != "" {
		fmt.Fprintf(&out, "Subject: %s\r\n", mime.QEncoding.Encode("utf-8", subject))
	}
	fmt.Fprint(&out, "MIME-Version: 1.0\r\nContent-Type: text/plain; charset=utf-8\r\nContent-Transfer-Encoding: quoted-printable\r\n\r\n")
	w := quotedprintable.NewWriter(&out)
	if _, err := io.WriteString(w, body); err != nil {
		return err
	}
	if err := w.Close(); err != nil {
		return err
	}
	return os.WriteFile(path, out.Bytes(), 0o600)
}

// Text gives the text of what was delivered under a key.
func (m Mail) Text(key string) (string, bool) {
	path, ok := m.file(key)
	if !ok {
		return "", false
	}
	in, err := os.Open(path)
	if err != nil {
		return "", false
	}
	defer in.Close()
	letter, err := mail.ReadMessage(in)
	if err != nil {
		return "", false
	}
	body, err := io.ReadAll(quotedprintable.NewReader(letter.Body))
	return string(bytes.ReplaceAll(body, []byte("\r\n"), []byte("\n"))), err == nil
}

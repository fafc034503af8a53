package standin

import (
	"bytes"
	"context"
	"encoding/base64"
	"fmt"
	"io"
	"mime"
	"mime/multipart"
	"mime/quotedprintable"
	"net/mail"
	"net/textproto"
	"os"
	"path/filepath"
	"regexp"
	"strings"
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
	return m.put(mail.Key, mail.To, mail.Subject, mail.Body, mail.Pictures, mail.Calendar)
}

// SendText implements port.Texter.
func (m Mail) SendText(_ context.Context, t port.Text) error {
	return m.put(t.Key, t.To, "", t.Body, nil, "")
}

func (m Mail) put(key, to, subject, body string, pictures []port.Picture, calendar string) error {
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
	fmt.Fprint(&out, "MIME-Version: 1.0\r\n")
	if err := write(&out, body, pictures, calendar); err != nil {
		return err
	}
	return os.WriteFile(path, out.Bytes(), 0o600)
}

// write writes the text, and pictures and calendar as parts beside it (RFC 2046). The
// calendar's part says its method (RFC 6047, 2.4).
func write(out io.Writer, body string, pictures []port.Picture, calendar string) error {
	text := textproto.MIMEHeader{"Content-Type": {"text/plain; charset=utf-8"}, "Content-Transfer-Encoding": {"quoted-printable"}}
	if len(pictures) == 0 && calendar == "" {
		fmt.Fprintf(out, "Content-Type: %s\r\nContent-Transfer-Encoding: %s\r\n\r\n", text.Get("Content-Type"), text.Get("Content-Transfer-Encoding"))
		return quoted(out, body)
	}
	parts := multipart.NewWriter(out)
	fmt.Fprintf(out, "Content-Type: multipart/mixed; boundary=%s\r\n\r\n", parts.Boundary())
	part, err := parts.CreatePart(text)
	if err == nil {
		err = quoted(part, body)
	}
	for _, p := range pictures {
		if err != nil {
			return err
		}
		part, err = parts.CreatePart(textproto.MIMEHeader{
			"Content-Type": {"image/png"}, "Content-Transfer-Encoding": {"base64"}, "Content-Disposition": {mime.FormatMediaType("attachment", map[string]string{"filename": p.Name})},
		})
		if err == nil {
			_, err = io.WriteString(part, lines(base64.StdEncoding.EncodeToString(p.PNG)))
		}
	}
	for one := range strings.SplitAfterSeq(calendar, calendarEnd) { // each has a method of its own
		if err == nil && one != "" {
			err = attachCalendar(parts, one)
		}
	}
	if err != nil {
		return err
	}
	return parts.Close()
}

const calendarEnd = "END:VCALENDAR\r\n"

var methodLine = regexp.MustCompile(`(?m)^METHOD:([A-Z]+)\r?$`)

func attachCalendar(parts *multipart.Writer, calendar string) error {
	kind := map[string]string{"charset": "utf-8", "name": "booking.ics"}
	if m := methodLine.FindStringSubmatch(calendar); m != nil {
		kind["method"] = m[1]
	}
	part, err := parts.CreatePart(textproto.MIMEHeader{
		"Content-Type": {mime.FormatMediaType("text/calendar", kind)}, "Content-Transfer-Encoding": {"base64"}, "Content-Disposition": {mime.FormatMediaType("attachment", map[string]string{"filename": "booking.ics"})},
	})
	if err == nil {
		_, err = io.WriteString(part, lines(base64.StdEncoding.EncodeToString([]byte(calendar))))
	}
	return err
}

// lines breaks encoded bytes as mails have them (RFC 2045: 76 characters).
func lines(s string) string {
	var b strings.Builder
	for len(s) > 76 {
		b.WriteString(s[:76] + "\r\n")
		s = s[76:]
	}
	return b.String() + s
}

func quoted(out io.Writer, body string) error {
	w := quotedprintable.NewWriter(out)
	if _, err := io.WriteString(w, body); err != nil {
		return err
	}
	return w.Close()
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
	text := letter.Body
	if kind, params, err := mime.ParseMediaType(letter.Header.Get("Content-Type")); err == nil && kind == "multipart/mixed" {
		part, err := multipart.NewReader(letter.Body, params["boundary"]).NextRawPart()
		if err != nil {
			return "", false
		}
		text = part
	}
	body, err := io.ReadAll(quotedprintable.NewReader(text))
	return string(bytes.ReplaceAll(body, []byte("\r\n"), []byte("\n"))), err == nil
}

package upload

import (
	"bytes"
	"errors"
	"strings"
	"testing"
	"unicode"
)

// Whatever is sent in whatever pieces: a file never grows beyond what was
// announced, holds what was sent and in that order, and is told by its content;
// and its name can be shown and saved.
func FuzzUploads(f *testing.F) {
	f.Add("a.png", int64(10), int64(0), []byte("0123456789"))
	f.Add("invoice\u202egnp.exe", int64(3), int64(2), []byte("\x89PNG\r\n\x1a\n"))
	f.Add("../../x", int64(-1), int64(-1), []byte("%PDF-1.7"))
	f.Add("\xff\xfe.", int64(1<<40), int64(1<<40), []byte("PK\x03\x04"))
	f.Add("x", int64(4), int64(4), []byte("\x00\x00\x00\x18ftypmp42"))
	folder := Folder{f.TempDir()}
	f.Fuzz(func(t *testing.T, name string, size, offset int64, data []byte) {
		clean := CleanName(name)
		if clean == "" || clean != CleanName(clean) || strings.Contains(clean, "..") || strings.ContainsAny(clean, "/\\\x00\r\n") ||
			strings.ContainsFunc(clean, func(r rune) bool { return unicode.Is(unicode.Bidi_Control, r) }) {
			t.Errorf("%q becomes %q", name, clean)
		}
		if _, err := folder.Append(name, 0, 10, bytes.NewReader(data)); err == nil && !nameForm.MatchString(name) {
			t.Errorf("%q was taken for an upload", name)
		}
		const id = "AAAAAAAAAAAAAAAAAAAAAA"
		defer folder.Remove(id)
		half := data[:len(data)/2]
		for _, piece := range []struct {
			at   int64
			data []byte
		}{{offset, data}, {0, half}, {int64(len(half)), data[len(half):]}, {0, data}} {
			before, err := folder.Received(id)
			if err != nil {
				t.Fatal(err)
			}
			after, err := folder.Append(id, piece.at, size, bytes.NewReader(piece.data))
			now, rerr := folder.Received(id)
			if rerr != nil {
				t.Fatal(rerr)
			}
			if now > max(size, 0) || now < before || err == nil && now != after || errors.Is(err, ErrOffset) && now != before {
				t.Errorf("%d of %d bytes, %d before, %d told, %v", now, size, before, after, err)
			}
		}
		have, err := folder.Received(id)
		if err != nil || have == 0 {
			return
		}
		if c, err := folder.Inspect(id); err != nil || c.Type == "" || c.Width < 0 || c.Height < 0 {
			t.Errorf("%+v, %v", c, err)
		}
	})
}

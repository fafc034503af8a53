package handing

import (
	"archive/zip"
	"bytes"
	"io"
	"os"
	"path/filepath"
	"runtime"
	"strings"
	"testing"
	"time"

	"ruvo/internal/store"
	"ruvo/internal/upload"
)

func named(n int) string { return strings.Repeat("A", 21) + string(rune('a'+n)) }

// A zip of two gigabytes is written while it is read: what it takes of memory stays as
// small as for a small one.
func TestAZipOfTwoGigabytesInFlatMemory(t *testing.T) {
	folder := upload.Folder{Path: t.TempDir()}
	const each = 1 << 30
	var files []store.HandoverFile
	for i := range 2 {
		f, err := os.Create(filepath.Join(folder.Path, named(i)))
		if err != nil {
			t.Fatal(err)
		}
		if err := f.Truncate(each); err != nil { // a file of holes
			t.Fatal(err)
		}
		f.Close()
		files = append(files, store.HandoverFile{Upload: named(i), Name: "film.mp4", Size: each})
	}
	var before runtime.MemStats
	runtime.GC()
	runtime.ReadMemStats(&before)
	z := Zip(folder, files, time.Now())
	defer z.Close()
	buf := make([]byte, 1<<20)
	total, most := int64(0), uint64(0)
	for step := 0; ; step++ {
		n, err := z.Read(buf)
		total += int64(n)
		if step%4096 == 0 {
			var now runtime.MemStats
			runtime.ReadMemStats(&now)
			most = max(most, now.HeapAlloc)
		}
		if err == io.EOF {
			break
		}
		if err != nil {
			t.Fatal(err)
		}
	}
	if total < 2*each {
		t.Errorf("%d bytes", total)
	}
	if grown := int64(most) - int64(before.HeapAlloc); grown > 32<<20 {
		t.Errorf("it took %d MB", grown>>20)
	}
}

// Two files of one name are both there, one that is gone is left out, and whoever stops
// reading stops the packing.
func TestZip(t *testing.T) {
	folder := upload.Folder{Path: t.TempDir()}
	for i, text := range []string{"one", "two"} {
		if err := os.WriteFile(filepath.Join(folder.Path, named(i)), []byte(text), 0o600); err != nil {
			t.Fatal(err)
		}
	}
	now := time.Now()
	files := []store.HandoverFile{{Upload: named(0), Name: "a/b.txt"}, {Upload: named(1), Name: "a_b.txt"}, {Upload: named(1), Name: "old.txt", GoneAt: &now}, {Upload: named(5), Name: "lost.txt"}}
	raw, err := io.ReadAll(Zip(folder, files, now))
	if err != nil {
		t.Fatal(err)
	}
	packed, err := zip.NewReader(bytes.NewReader(raw), int64(len(raw)))
	if err != nil {
		t.Fatal(err)
	}
	var names []string
	for _, f := range packed.File {
		names = append(names, f.Name)
	}
	if got := strings.Join(names, " "); got != "a_b.txt a_b 2.txt" {
		t.Errorf("packed %s", got)
	}
	stopped := Zip(folder, files, now)
	if _, err := stopped.Read(make([]byte, 1)); err != nil {
		t.Fatal(err)
	}
	stopped.Close()
}

// What a page can show is shown as what it is; anything else is only saved, whatever is
// asked.
func TestOpening(t *testing.T) {
	folder := upload.Folder{Path: t.TempDir()}
	if err := os.WriteFile(filepath.Join(folder.Path, named(0)), []byte("<script>alert(1)</script>"), 0o600); err != nil {
		t.Fatal(err)
	}
	for kind, inline := range map[string]bool{"image/png": true, "application/pdf": true, "audio/wav": true, "video/mp4": true, "text/html; charset=utf-8": false, "image/svg+xml": false, "text/plain": false, "": false} {
		f, err := Open(folder, &store.HandoverFile{Upload: named(0), Name: "../x\r\n.html", Type: kind}, View, "en")
		if err != nil {
			t.Fatal(err)
		}
		if f.Inline != inline || !inline && f.Type != "application/octet-stream" || strings.ContainsAny(f.Name, "/\r\n") {
			t.Errorf("%s: %+v", kind, f)
		}
		f.Close()
		if saved, err := Open(folder, &store.HandoverFile{Upload: named(0), Name: "x", Type: kind}, Download, "en"); err != nil || saved.Inline {
			t.Errorf("%s is shown where it is saved", kind)
		} else {
			saved.Close()
		}
	}
	now := time.Now()
	if _, err := Open(folder, &store.HandoverFile{Upload: named(0), GoneAt: &now}, View, "en"); err == nil {
		t.Error("what is gone was opened")
	}
	if _, err := Open(folder, &store.HandoverFile{Upload: named(9)}, View, "en"); err == nil {
		t.Error("what is lost was opened")
	}
}

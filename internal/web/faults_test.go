package web

import (
	"bufio"
	"database/sql"
	"errors"
	"fmt"
	"io"
	"net"
	"net/http"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"ruvo/api"
	"ruvo/internal/storetest"
)

// fails makes the database say what it says in trouble.
func fails(t *testing.T, pragma string) error {
	t.Helper()
	db := storetest.SQL(t, filepath.Join(t.TempDir(), "x.db"))
	db.SetMaxOpenConns(1)
	for _, q := range []string{"CREATE TABLE t (x)", "PRAGMA " + pragma} {
		_, err := db.Exec(q)
		must(t, err)
	}
	_, err := db.Exec("INSERT INTO t VALUES (zeroblob(1000000))")
	return err
}

// People are told in their words what keeps the house from keeping anything, and
// when to try again; never a word of the database's own.
func TestFaultsAreTold(t *testing.T) {
	for _, c := range []struct {
		err    error
		status int
		after  time.Duration
		says   string
	}{
		{fails(t, "max_page_count=3"), 507, time.Minute, "disk is full"},
		{fails(t, "query_only=1"), 503, time.Minute, "cannot be written to"},
		{os.ErrPermission, 503, time.Minute, "cannot be written to"},
		{sql.ErrConnDone, 500, 0, "Something went wrong here"},
	} {
		if c.err == nil {
			t.Fatal("the database takes everything")
		}
		p := asProblem(fmt.Errorf("somewhere: %w", c.err), "en")
		if p.Status != c.status || p.After != c.after || !strings.Contains(p.Title, c.says) || p.Detail != "" {
			t.Errorf("%v is told as %+v", c.err, p)
		}
	}
}

// A disk that is full in the middle of an upload: the customer is told, what
// arrived stays, and the upload goes on where it was once there is room.
func TestADiskThatIsFullForUploads(t *testing.T) {
	if _, err := os.Stat("/dev/full"); errors.Is(err, os.ErrNotExist) {
		t.Skip("this system has no device that is always full")
	}
	h := open(t, nil)
	c := h.client()
	u := read[api.Upload](t, c.want(200, "POST", "/api/shop/uploads", fields{"name": "a.txt", "size": 10, "question": "scans"}))
	folder := Uploads(h.store.Folder())
	must(t, os.MkdirAll(folder, 0o700))
	must(t, os.Symlink("/dev/full", filepath.Join(folder, u.Id)))
	a := c.want(507, "PATCH", "/api/shop/uploads/"+u.Id, "0123456789", "Upload-Offset", "0", "Content-Type", "application/octet-stream")
	if p := read[problemDocument](t, a); !strings.Contains(p.Title, "disk is full") {
		t.Errorf("%+v", p)
	}
	must(t, os.Remove(filepath.Join(folder, u.Id)))
	c.want(200, "GET", "/api/shop/uploads/"+u.Id, nil)
	whole := read[api.Upload](t, c.want(200, "PATCH", "/api/shop/uploads/"+u.Id, "0123456789", "Upload-Offset", "0", "Content-Type", "application/octet-stream"))
	if whole.Received != 10 || *whole.Type == "" {
		t.Errorf("%+v", whole)
	}
}

// Who sends the head or the body of a request a drop at a time, asks for nothing
// more, or never reads the reply, is left; others are served meanwhile. The times
// are short here; those of Patience are for people.
func TestSlowConnections(t *testing.T) {
	h := open(t, nil)
	l, err := net.Listen("tcp", "127.0.0.1:0")
	must(t, err)
	left := make(chan struct{})
	short := 200 * time.Millisecond
	large := http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if r.URL.Path != "/large" {
			h.server.ServeHTTP(w, r)
			return
		}
		for range 1000 {
			if _, err := w.Write(make([]byte, 1<<20)); err != nil {
				break
			}
		}
		close(left)
	})
	server := Listening(large, Times{Head: short, Body: 2 * short, Reply: 2 * short, Idle: short})
	go server.Serve(l)
	t.Cleanup(func() { server.Close() })
	for what, sent := range map[string]string{
		"head":  "GET /api/shop HTTP/1.1\r\nHost: x\r\nX-Slow: ",
		"body":  "POST /api/shop/basket HTTP/1.1\r\nHost: x\r\nContent-Type: application/json\r\nContent-Length: 100000\r\n\r\n{",
		"idle":  "GET /healthz HTTP/1.1\r\nHost: x\r\n\r\n",
		"reply": "GET /large HTTP/1.1\r\nHost: x\r\n\r\n",
	} {
		t.Run(what, func(t *testing.T) {
			t.Parallel()
			c, err := net.Dial("tcp", l.Addr().String())
			must(t, err)
			defer c.Close()
			_, err = io.WriteString(c, sent)
			must(t, err)
			if what == "reply" {
				<-left // without a byte being read
				return
			}
			must(t, c.SetDeadline(time.Now().Add(time.Minute)))
			_, err = io.Copy(io.Discard, bufio.NewReader(c)) // until the server closes
			var late net.Error
			if errors.As(err, &late) && late.Timeout() {
				t.Error("the server holds the connection")
			}
			res, err := http.Get("http://" + l.Addr().String() + "/api/shop")
			must(t, err)
			res.Body.Close()
			if res.StatusCode != 200 {
				t.Error(res.Status)
			}
		})
	}
	if p := Patience; p.Head > time.Minute || p.Body > 5*time.Minute || p.Idle > 5*time.Minute || p.Reply > time.Hour || min(p.Head, p.Body, p.Reply, p.Idle) <= 0 {
		t.Errorf("%+v", p)
	}
}

package main

import (
	"bytes"
	"context"
	"fmt"
	"io"
	"net"
	"net/http"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/spf13/cobra"

	"ruvo/demo"
	"ruvo/internal/desk"
	"ruvo/internal/store"
	"ruvo/internal/storetest"
)

// run runs a command as a shell would.
func run(t *testing.T, c *cobra.Command, in string, args ...string) (string, error) {
	t.Helper()
	var out bytes.Buffer
	c.SetArgs(args)
	c.SetIn(strings.NewReader(in))
	c.SetOut(&out)
	c.SetErr(io.Discard)
	c.SilenceUsage, c.SilenceErrors = true, true
	err := c.ExecuteContext(context.Background())
	return out.String(), err
}

func TestUserAdd(t *testing.T) {
	folder := storetest.Folder(t)
	for _, bad := range [][]string{
		{"", "add", "ada@example.org"}, {"short\n", "add", "ada@example.org"}, {"password1\n", "add", "ada@example.org"}, {"iloveyou\n", "add", "ada@example.org"},
		{"ada@example.org\n", "add", "ada@example.org"}, {strings.Repeat("a b ", 300) + "\n", "add", "ada@example.org"}, {"long enough\n", "password", "nobody@example.org"}, {"long enough\n", "add", "ada"}, {"long enough\n", "add"}, {"long enough\n", "add", "Ada <ada@example.org>"},
	} {
		if _, err := run(t, userCommand(), bad[0], append(bad[1:], "--data", folder)...); err == nil {
			t.Errorf("%q was taken", bad)
		}
	}
	if _, err := run(t, userCommand(), "long enough\n", "add", "Ada@Example.org", "--data", folder); err != nil {
		t.Fatal(err)
	}
	if _, err := run(t, userCommand(), "long enough\n", "add", "ada@example.org", "--data", folder); err == nil || !strings.Contains(err.Error(), "already") {
		t.Errorf("the same person twice: %v", err)
	}
	s, err := store.Open(folder)
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	// A new password ends all sessions of the person and forgets their browsers.
	kept := func() (n int) {
		t.Helper()
		if err := storetest.SQL(t, filepath.Join(folder, store.File)).QueryRow("SELECT (SELECT COUNT(*) FROM sessions) + (SELECT COUNT(*) FROM known_browsers)").Scan(&n); err != nil {
			t.Fatal(err)
		}
		return n
	}
	d := &desk.Desk{Store: s, Now: time.Now}
	if _, _, err := d.SignIn(t.Context(), "ada@example.org", "long enough", desk.Browser{}, "en"); err != nil || kept() != 2 {
		t.Fatalf("%v, %d", err, kept())
	}
	if _, err := run(t, userCommand(), "longer than before\n", "password", "Ada@example.org", "--data", folder); err != nil || kept() != 0 {
		t.Errorf("%v, %d kept", err, kept())
	}
	if _, _, err := d.SignIn(t.Context(), "ada@example.org", "long enough", desk.Browser{}, "en"); err == nil {
		t.Error("the old password still lets in")
	}
	if _, _, err := d.SignIn(t.Context(), "ada@example.org", "longer than before", desk.Browser{}, "en"); err != nil {
		t.Error(err)
	}
	if err := s.Read(t.Context(), func(tx *store.Tx) error {
		u, err := tx.UserByEmail("ada@example.org")
		if u.Name != "ada" || !strings.HasPrefix(u.Password, "$argon2id$") || strings.Contains(u.Password, "long enough") {
			t.Errorf("%+v", u)
		}
		return err
	}); err != nil {
		t.Error(err)
	}
}

func TestCheck(t *testing.T) {
	folder := storetest.Folder(t)
	s, err := store.Open(folder)
	if err != nil {
		t.Fatal(err)
	}
	if err := demo.Fill(t.Context(), s, time.Now(), "http://127.0.0.1"); err != nil {
		t.Fatal(err)
	}
	out, err := run(t, checkCommand(), "", "--data", folder)
	if err != nil || out != "47 order lines computed again, 40 movements of the payment service compared, 0 differences\n" {
		t.Errorf("%q, %v", out, err)
	}
	if err := s.Write(t.Context(), func(tx *store.Tx) error {
		l, err := tx.LineByID(3)
		if err != nil {
			return err
		}
		l.Slip.Total++
		return tx.SaveLine(&l)
	}); err != nil {
		t.Fatal(err)
	}
	s.Close()
	out, err = run(t, checkCommand(), "", "--data", folder)
	if err == nil || !strings.Contains(out, ", line 3: its slip comes to") {
		t.Errorf("%q, %v", out, err)
	}
}

func TestClock(t *testing.T) {
	now, err := clock("2026-11-24T09:30:00+01:00")
	if err != nil {
		t.Fatal(err)
	}
	if at := now(); at.UTC().Format("2006-01-02 15:04") != "2026-11-24 08:30" {
		t.Errorf("the clock says %v", at)
	}
	if _, err := clock("tomorrow"); err == nil || !strings.Contains(err.Error(), "2026-11-24T09:30:00") {
		t.Errorf("%v", err)
	}
}

func TestAnotherPortWhenTaken(t *testing.T) {
	first, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	defer first.Close()
	port := first.Addr().(*net.TCPAddr).Port
	second, err := listen(port)
	if err != nil {
		t.Fatal(err)
	}
	defer second.Close()
	if second.Addr().(*net.TCPAddr).Port == port {
		t.Error("the port was taken twice")
	}
}

// Starting over leaves nothing of what customers sent, and touches nothing else.
func TestForgetLeavesOtherFiles(t *testing.T) {
	folder := storetest.Folder(t)
	for _, part := range []string{"uploads", "pictures", "post-box", "letters"} {
		if err := os.MkdirAll(filepath.Join(folder, part), 0o700); err != nil {
			t.Fatal(err)
		}
		if err := os.WriteFile(filepath.Join(folder, part, "file"), []byte("x"), 0o600); err != nil {
			t.Fatal(err)
		}
	}
	for _, name := range []string{store.File, store.File + "-wal", "letter.txt"} {
		if err := os.WriteFile(filepath.Join(folder, name), nil, 0o600); err != nil {
			t.Fatal(err)
		}
	}
	if err := forget(folder); err != nil {
		t.Fatal(err)
	}
	left, _ := os.ReadDir(folder)
	if len(left) != 2 || left[0].Name() != "letter.txt" || left[1].Name() != "letters" {
		t.Errorf("left are %v", left)
	}
}

func TestNetworks(t *testing.T) {
	all, err := networks([]string{"127.0.0.1", " 10.0.0.0/8", "::1", "fd00::/8", ""})
	if err != nil || fmt.Sprint(all) != "[127.0.0.1/32 10.0.0.0/8 ::1/128 fd00::/8]" {
		t.Errorf("%v, %v", all, err)
	}
	for _, bad := range []string{"proxy.example.org", "10.0.0.0/99", "everything"} {
		if _, err := networks([]string{bad}); err == nil || !strings.Contains(err.Error(), "such as 10.0.0.0/8") {
			t.Errorf("%q: %v", bad, err)
		}
	}
	for _, args := range [][]string{{"--proxies", "x"}, {"--idle", "5s"}} {
		if _, err := run(t, serveCommand(), "", append(args, "--data", storetest.Folder(t), "--addr", "127.0.0.1:0")...); err == nil {
			t.Errorf("%v was taken", args)
		}
	}
	t.Setenv("RUVO_IDLE", "an hour")
	if _, err := run(t, serveCommand(), "", "--data", storetest.Folder(t), "--addr", "127.0.0.1:0"); err == nil || !strings.Contains(err.Error(), "RUVO_IDLE must read like 60m") {
		t.Errorf("%v", err)
	}
}

// A folder that others can read is refused before anything is served from it.
func TestServeRefusesAnOpenFolder(t *testing.T) {
	folder := storetest.Folder(t)
	if err := os.Chmod(folder, 0o755); err != nil {
		t.Fatal(err)
	}
	if _, err := run(t, serveCommand(), "", "--data", folder, "--addr", "127.0.0.1:0"); err == nil || !strings.Contains(err.Error(), "run chmod 700 "+folder) {
		t.Errorf("%v", err)
	}
}

// Stopping lets a request that runs finish, and then ends.
func TestServeAndStop(t *testing.T) {
	s, err := store.Open(storetest.Folder(t))
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	if err := setUp(t.Context(), s, store.Business{Name: "Ada's", Zone: "Europe/Oslo", Country: "NO"}, "http://127.0.0.1"); err != nil {
		t.Fatal(err)
	}
	for _, bad := range []store.Business{{Zone: "Mars/Olympus"}, {Zone: "Europe/Oslo", Country: "Norway"}} {
		empty, err := store.Open(storetest.Folder(t))
		if err != nil {
			t.Fatal(err)
		}
		if setUp(t.Context(), empty, bad, "http://127.0.0.1") == nil {
			t.Errorf("%+v was taken", bad)
		}
		empty.Close()
	}
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	ctx, stop := context.WithCancel(t.Context())
	ended := make(chan error, 1)
	go func() { ended <- serve(ctx, s, l, running{now: time.Now, secure: true, limits: true}) }()
	res, err := http.Get("http://" + l.Addr().String() + "/healthz")
	if err != nil || res.StatusCode != 200 || res.Header.Get("Strict-Transport-Security") == "" {
		t.Errorf("%v, %v", res, err)
	}
	stop()
	if err := <-ended; err != nil {
		t.Error(err)
	}
	if _, err := http.Get("http://" + l.Addr().String() + "/healthz"); err == nil {
		t.Error("it still answers")
	}
}

// Copies of the sample's orders are as whole as the orders themselves.
func TestManyOrders(t *testing.T) {
	folder := storetest.Folder(t)
	s, err := store.Open(folder)
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	if err := demo.Fill(t.Context(), s, time.Now(), "http://127.0.0.1"); err != nil {
		t.Fatal(err)
	}
	told := 0
	if err := s.Multiply(t.Context(), 1200, func(percent int) { told = percent }); err != nil || told != 100 {
		t.Fatal(told, err)
	}
	out, err := run(t, checkCommand(), "", "--data", folder)
	var lines int
	if _, serr := fmt.Sscanf(out, "%d order lines", &lines); err != nil || serr != nil || lines < 1200 || !strings.Contains(out, " 0 differences") {
		t.Errorf("%s %v", out[max(0, len(out)-300):], err)
	}
}

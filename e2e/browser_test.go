// Package e2e drives the real interface in headless Chromium, by what a
// person does: find by role and name, type, press, read.
package e2e

import (
	"context"
	_ "embed"
	"encoding/json"
	"flag"
	"fmt"
	"io"
	"log/slog"
	"net"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/chromedp/cdproto/cdp"
	"github.com/chromedp/cdproto/emulation"
	cdplog "github.com/chromedp/cdproto/log"
	"github.com/chromedp/cdproto/runtime"
	"github.com/chromedp/chromedp"

	"ruvo/demo"
	"ruvo/internal/limit"
	"ruvo/internal/link"
	"ruvo/internal/message"
	"ruvo/internal/rehearsal"
	"ruvo/internal/standin"
	"ruvo/internal/standin/bank"
	"ruvo/internal/standin/cards"
	"ruvo/internal/store"
	"ruvo/internal/storetest"
	"ruvo/internal/web"
	front "ruvo/web"
)

// today is what the clock says in every test: a Tuesday, mid-morning.
var today = time.Date(2026, 11, 24, 9, 30, 0, 0, time.FixedZone("CET", 3600))

// patience is how long a test waits for something to appear before it fails.
// It is long, as machines are shared; nothing is expected to need it.
const patience = 30 * time.Second

var (
	template string // a data folder filled with the sample business
	browser  context.Context
)

// atOnce is how many tests run side by side, each with a server and a window of
// its own. They mostly wait, so that there are more of them than processors.
const atOnce = "4"

func TestMain(m *testing.M) {
	flag.Parse()
	given := false
	flag.Visit(func(f *flag.Flag) { given = given || f.Name == "test.parallel" })
	if !given {
		if err := flag.Set("test.parallel", atOnce); err != nil {
			panic(err)
		}
	}
	os.Exit(run(m))
}

func run(m *testing.M) int {
	slog.SetDefault(slog.New(slog.NewTextHandler(io.Discard, nil)))
	var err error
	if template, err = os.MkdirTemp("", "ruvo-e2e"); err != nil {
		panic(err)
	}
	defer os.RemoveAll(template)
	s, err := store.Open(template)
	if err == nil {
		err = demo.Fill(context.Background(), s, today, "http://127.0.0.1")
	}
	if err == nil {
		err = s.Close()
	}
	if err != nil {
		panic(err)
	}
	profile, err := os.MkdirTemp("", "ruvo-chromium")
	if err != nil {
		panic(err)
	}
	defer os.RemoveAll(profile)
	path, err := exec.LookPath("chromium-headless-shell")
	if err != nil {
		panic("chromium-headless-shell is needed: make tools installs it")
	}
	options := append(chromedp.DefaultExecAllocatorOptions[:len(chromedp.DefaultExecAllocatorOptions):len(chromedp.DefaultExecAllocatorOptions)],
		chromedp.ExecPath(path), chromedp.UserDataDir(profile), chromedp.NoSandbox, chromedp.DisableGPU, chromedp.NoFirstRun,
		chromedp.Flag("disable-quic", true), chromedp.Flag("disable-background-networking", true),
		chromedp.Flag("disable-component-update", true), chromedp.Flag("disable-sync", true), chromedp.Flag("lang", "en-GB"),
		chromedp.Flag("force-prefers-reduced-motion", true),
		// A window behind others goes on as one in front does.
		chromedp.Flag("disable-background-timer-throttling", true), chromedp.Flag("disable-renderer-backgrounding", true),
		chromedp.Flag("disable-backgrounding-occluded-windows", true),
	)
	allocator, cancel := chromedp.NewExecAllocator(context.Background(), options...)
	defer cancel()
	var stop context.CancelFunc
	browser, stop = chromedp.NewContext(allocator)
	defer stop()
	if err := chromedp.Do(browser); err != nil {
		panic(err)
	}
	return m.Run()
}

// A house is one running application with data of its own.
type house struct {
	t      *testing.T
	url    string
	store  *store.Store
	box    standin.Mail
	bank   *cards.Service
	server *web.Server
	ahead  atomic.Int64 // nanoseconds that the clock was moved forward
	cut    atomic.Int64 // whether the connection of uploads breaks
	slow   atomic.Int64 // nanoseconds that each reply of the API is late
	away   atomic.Bool  // whether requests to the API come to nothing
	silent sync.RWMutex // while it is locked, no reply of the API comes

	drafts  atomic.Int64 // how many drafts came in
	came    chan struct{}
	holding sync.Mutex  // while it is locked, drafts wait
	refuse  atomic.Bool // whether drafts and sheets come to nothing
}

func (h *house) now() time.Time { return today.Add(time.Duration(h.ahead.Load())) }

// open starts an application on a copy of the sample business. The test runs
// beside others from here on.
func open(t *testing.T) *house {
	t.Helper()
	t.Parallel()
	folder := storetest.Folder(t)
	must(t, os.CopyFS(folder, os.DirFS(template)))
	must(t, os.Chmod(filepath.Join(folder, store.File), 0o600))
	s, err := store.Open(folder)
	must(t, err)
	h := &house{t: t, store: s, came: make(chan struct{}, 100), box: standin.Mail{Folder: standin.PostBox(folder)}}
	must(t, os.Chmod(filepath.Join(folder, cards.File), 0o600))
	h.bank, err = cards.Open(folder, h.now)
	must(t, err)
	stage := &rehearsal.Stage{Store: s, Files: front.Files(), Now: h.now}
	h.server, err = web.New(web.Config{
		Stage: stage,
		Store: s, Payments: h.bank, Now: h.now, Files: front.Files(), Log: slog.Default(), Limits: limit.Default(h.now), Delivered: h.box.Text,
		Simulated: &web.Simulated{Path: cards.Pages, Pages: h.bank, Desk: cards.Control, Control: h.bank.ControlPage(), Bank: bank.Desk},
	})
	must(t, err)
	stage.Enter = h.server.Desk.Enter
	l, err := net.Listen("tcp", "127.0.0.1:0")
	must(t, err)
	h.url = "http://" + l.Addr().String()
	h.bank.Notices = h.url + web.NoticesPath
	stage.Address = h.url
	must(t, s.Write(t.Context(), func(tx *store.Tx) error {
		b, err := tx.Business()
		if err != nil {
			return err
		}
		b.Address = h.url
		return tx.SaveBusiness(b)
	}))
	server := &http.Server{Handler: h.late(h.severed(h.held(h.server))), ErrorLog: slog.NewLogLogger(slog.DiscardHandler, slog.LevelInfo)}
	go server.Serve(l)
	running, stop := context.WithCancel(context.Background())
	var clerk sync.WaitGroup
	clerk.Go(func() { h.server.Clerk.Run(running, time.Second) })
	t.Cleanup(func() {
		stop()
		clerk.Wait()
		server.Close()
		stage.Close()
		h.bank.Close()
		s.Close()
	})
	return h
}

// post sends the mails that wait.
func (h *house) post() {
	h.t.Helper()
	must(h.t, (&message.Postman{Store: h.store, Mailer: h.box, Texter: h.box, Now: h.now}).Round(h.t.Context()))
}

// linkOf makes a new private link to the newest order of a customer.
func (h *house) linkOf(customer string) string {
	h.t.Helper()
	return "/o/" + h.linked(customer, link.New)
}

// linked makes a link of a kind to the newest order of a customer.
func (h *house) linked(customer string, kind func(*store.Tx, int64, time.Time) (string, error)) string {
	h.t.Helper()
	secret := ""
	must(h.t, h.store.Write(h.t.Context(), func(tx *store.Tx) error {
		rows, err := tx.ListLines(store.LineFilter{Text: customer, Most: 1})
		if err != nil || len(rows) == 0 {
			return fmt.Errorf("no order of %s: %w", customer, err)
		}
		secret, err = kind(tx, rows[0].OrderID, h.now())
		return err
	}))
	return secret
}

// A person looks at pages in a window of their own.
type person struct {
	*house
	ctx context.Context
}

//go:embed finder.js
var finder string

// visitor opens a window, with nothing kept from others.
func (h *house) visitor(width, height int64) *person {
	h.t.Helper()
	ctx, cancel := chromedp.NewContext(browser, chromedp.WithNewBrowserContext())
	h.t.Cleanup(cancel)
	p := &person{house: h, ctx: ctx}
	options := []chromedp.EmulateViewportOption{}
	if width < 600 {
		options = append(options, chromedp.EmulateMobile, chromedp.EmulateTouch)
	}
	must(h.t, chromedp.Do(ctx, chromedp.EmulateViewport(width, height, options...)))
	// Every window has the focus, as if its person looked at nothing else.
	_, err := chromedp.Call(ctx, emulation.SetFocusEmulationEnabled, emulation.SetFocusEmulationEnabledParams{Enabled: true})
	must(h.t, err)
	_, err = chromedp.Call(ctx, cdplog.Enable, cdp.Empty{})
	must(h.t, err)
	// A page that throws is broken, whatever it shows; so is one that wants what
	// its own policy refuses.
	must(h.t, chromedp.Listen(ctx, func(ev any) {
		if e, ok := ev.(*cdplog.EventEntryAdded); ok && strings.Contains(e.Entry.Text, "Content Security Policy") {
			h.t.Errorf("the page's policy refused something: %s %s:%d", e.Entry.Text, e.Entry.URL, e.Entry.LineNumber)
		}
		if e, ok := ev.(*runtime.EventExceptionThrown); ok {
			text := e.ExceptionDetails.Text
			if x := e.ExceptionDetails.Exception; x != nil {
				text += " " + x.Description
			}
			h.t.Errorf("the page threw: %s", text)
		}
	}))
	return p
}

func (p *person) goTo(path string) {
	p.t.Helper()
	must(p.t, chromedp.Do(p.ctx, chromedp.Navigate(p.url+path)))
}

func (p *person) reload() {
	p.t.Helper()
	must(p.t, chromedp.Do(p.ctx, chromedp.Reload()))
}

func (p *person) back() {
	p.t.Helper()
	// The page answers before it is left.
	must(p.t, chromedp.Do(p.ctx, chromedp.Evaluate[chromedp.Void]("void setTimeout(() => history.back())")))
}

// ask evaluates an expression, with the finder at hand.
func ask[T any](p *person, expression string) (T, error) {
	code := fmt.Sprintf("(() => { if (!window.ruvo) { %s }; return (%s) })()", finder, expression)
	return chromedp.Run(p.ctx, chromedp.Evaluate[T](code))
}

// glance is how long the page itself waits for something before the test looks
// whether it is still the same page.
const glance = 2 * time.Second

// until waits for an expression to be true. The page looks by itself whenever
// something on it changes, so that waiting takes no time from other tests.
func (p *person) until(what, expression string) {
	p.t.Helper()
	code := fmt.Sprintf("(() => { if (!window.ruvo) { %s }; return window.ruvo.until(() => Boolean(%s), %d) })()", finder, expression, glance.Milliseconds())
	deadline := time.Now().Add(patience)
	for {
		ok, err := chromedp.Run(p.ctx, chromedp.Evaluate[bool](code, chromedp.EvalAwaitPromise))
		if ok && err == nil {
			return
		}
		if time.Now().After(deadline) {
			text, _ := ask[string](p, "ruvo.text() + ruvo.fields()")
			p.t.Fatalf("%s: not after %v (%v). The page reads:\n%s", what, patience, err, text)
		}
		if err != nil { // a page that is being left cannot answer; the next one can
			next, cancel := context.WithTimeout(p.ctx, glance)
			chromedp.Do(next, chromedp.WaitReady("body"))
			cancel()
		}
	}
}

func quote(args ...string) string {
	parts := make([]string, len(args))
	for i, a := range args {
		b, _ := json.Marshal(a)
		parts[i] = string(b)
	}
	return strings.Join(parts, ",")
}

// sees waits until the page, or a part of it, shows a text.
func (p *person) sees(text string, within ...string) {
	p.t.Helper()
	where := strings.Join(within, " ")
	p.until(fmt.Sprintf("seeing %q %s", text, where), fmt.Sprintf("ruvo.text(%s).includes(%s)", quote(where), quote(text)))
}

// misses waits until the page no longer shows a text. A page that shows nothing
// yet tells nothing.
func (p *person) misses(text string, within ...string) {
	p.t.Helper()
	where := strings.Join(within, " ")
	p.until(fmt.Sprintf("not seeing %q %s", text, where), fmt.Sprintf("ruvo.text() !== '' && !ruvo.text(%s).includes(%s)", quote(where), quote(text)))
}

// press finds something by role and name and presses it, so often.
func (p *person) press(role, name string, within ...string) {
	p.t.Helper()
	p.pressTimes(1, role, name, within...)
}

// pressTimes presses several times in a row. A press that meets something else,
// because the page moved under the finger, is a fault of the page.
func (p *person) pressTimes(times int, role, name string, within ...string) {
	p.t.Helper()
	args := quote(role, name, strings.Join(within, " "))
	p.until(fmt.Sprintf("the %s %q can be pressed", role, name), fmt.Sprintf("(window.aim = ruvo.spot(%s)) && ruvo.watch(%s)", args, args))
	at, err := ask[struct{ X, Y float64 }](p, "window.aim")
	must(p.t, err)
	for range times {
		must(p.t, chromedp.Do(p.ctx, chromedp.MouseClickXY(at.X, at.Y)))
	}
	// A page that was left meanwhile cannot tell, and needs no other press.
	if met, err := ask[string](p, "ruvo.strayed()"); err == nil && met != "" {
		p.t.Errorf("a press on the %s %q met %s", role, name, met)
	}
}

// types finds a field by its name and types into it in place of what is there.
func (p *person) types(name, text string, within ...string) {
	p.t.Helper()
	args := quote("field", name, strings.Join(within, " "))
	p.until(fmt.Sprintf("the field %q", name), fmt.Sprintf("ruvo.find(%s) && !ruvo.find(%s).disabled", args, args))
	for range 3 {
		_, err := ask[bool](p, fmt.Sprintf("(ruvo.find(%s).scrollIntoView({block:'center'}), ruvo.find(%s).focus(), ruvo.find(%s).select?.(), true)", args, args, args))
		must(p.t, err)
		must(p.t, chromedp.Do(p.ctx, chromedp.KeyEvent("\b")))
		// A page that is drawn anew meanwhile takes the field away.
		if empty, err := ask[bool](p, fmt.Sprintf("((e) => e === document.activeElement && !e.value)(ruvo.find(%s))", args)); err == nil && empty {
			break
		}
		p.t.Logf("the field %q was not emptied", name)
	}
	must(p.t, chromedp.Do(p.ctx, chromedp.KeyEvent(text)))
}

// picks gives a date field a day.
func (p *person) picks(name, day string) {
	p.t.Helper()
	args := quote("field", name)
	p.until(fmt.Sprintf("the field %q", name), fmt.Sprintf("ruvo.find(%s)", args))
	_, err := ask[bool](p, fmt.Sprintf(`((e) => { Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, "value").set.call(e, %s); e.dispatchEvent(new Event("input", {bubbles: true})); return true })(ruvo.find(%s))`, quote(day), args))
	must(p.t, err)
}

// taps takes a day in the month of a booking, which it turns to.
func (p *person) taps(key, day string) {
	p.t.Helper()
	in := fmt.Sprintf(`[data-question="%s"]`, key)
	at := fmt.Sprintf(`document.querySelector('%s [data-day="%s"]')`, in, day)
	p.until("a month", fmt.Sprintf(`document.querySelector('%s [data-day]')`, in))
	for range 24 {
		there, err := ask[bool](p, at+" !== null")
		must(p.t, err)
		if there {
			break
		}
		shown, err := ask[string](p, fmt.Sprintf(`document.querySelector('%s [data-day]').dataset.day`, in))
		must(p.t, err)
		p.press("button", "Month after", in)
		p.until("another month", fmt.Sprintf(`document.querySelector('%s [data-day]').dataset.day !== %s`, in, quote(shown)))
	}
	p.until("the day "+day+" is free", at+`?.getAttribute("aria-disabled") === "false"`)
	label, err := ask[string](p, at+`.getAttribute("aria-label")`)
	must(p.t, err)
	p.press("button", label, in)
}

// chooses opens a list and takes an option.
func (p *person) chooses(list, option string, within ...string) {
	p.t.Helper()
	p.press("list", list, within...)
	p.press("option", option)
}

// reads gives what a page, or a part of it, shows.
func (p *person) reads(within ...string) string {
	p.t.Helper()
	text, err := ask[string](p, fmt.Sprintf("ruvo.text(%s)", quote(strings.Join(within, " "))))
	must(p.t, err)
	return text
}

// path gives the address without the server.
func (p *person) path() string {
	p.t.Helper()
	at, err := ask[string](p, "location.pathname")
	must(p.t, err)
	return at
}

// signIn opens the desk.
func (p *person) signIn() {
	p.t.Helper()
	p.goTo("/desk")
	p.types("Mail address", demo.Email)
	p.types("Password", demo.Password)
	p.press("button", "Sign in")
	p.sees("Waits for me")
}

func must(t *testing.T, err error) {
	t.Helper()
	if err != nil {
		t.Fatal(err)
	}
}

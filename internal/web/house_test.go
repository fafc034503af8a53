package web

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"log/slog"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"net/netip"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/getkin/kin-openapi/openapi3"
	"github.com/getkin/kin-openapi/openapi3filter"
	"github.com/getkin/kin-openapi/routers"
	"github.com/getkin/kin-openapi/routers/gorillamux"

	"ruvo/api"
	"ruvo/demo"
	"ruvo/internal/audit"
	"ruvo/internal/limit"
	"ruvo/internal/port"
	"ruvo/internal/standin/bank"
	"ruvo/internal/standin/cards"
	"ruvo/internal/store"
	"ruvo/internal/storetest"
)

// today is what the clock says in every test: a Tuesday, mid-morning.
var today = time.Date(2026, 11, 24, 9, 30, 0, 0, time.FixedZone("CET", 3600))

// filled are the databases of the sample business, made once, by the names of
// their files.
var filled = sync.OnceValue(func() map[string][]byte {
	folder, err := os.MkdirTemp("", "ruvo-web")
	if err != nil {
		panic(err)
	}
	defer os.RemoveAll(folder)
	s, err := store.Open(folder)
	if err == nil {
		err = demo.Fill(context.Background(), s, today, "http://shop.example.org")
	}
	if err == nil {
		err = s.Close()
	}
	files := map[string][]byte{}
	for _, name := range []string{store.File, cards.File} {
		raw, rerr := os.ReadFile(filepath.Join(folder, name))
		if err != nil || rerr != nil {
			panic(fmt.Sprint(err, rerr))
		}
		files[name] = raw
	}
	return files
})

// sample opens the databases of the sample business anew.
func sample(t testing.TB, now func() time.Time) (*store.Store, *cards.Service) {
	t.Helper()
	folder := storetest.Folder(t)
	for name, raw := range filled() {
		if err := os.WriteFile(filepath.Join(folder, name), raw, 0o600); err != nil {
			t.Fatal(err)
		}
	}
	s, err := store.Open(folder)
	if err != nil {
		t.Fatal(err)
	}
	bank, err := cards.Open(folder, now)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() {
		bank.Close()
		s.Close()
	})
	return s, bank
}

// A house is one running application with data of its own.
type house struct {
	t      *testing.T
	store  *store.Store
	bank   *cards.Service
	server *Server
	site   *httptest.Server
	ahead  atomic.Int64
}

func (h *house) now() time.Time { return today.Add(time.Duration(h.ahead.Load())) }

// open opens a house; its bank can stand behind something else.
func open(t *testing.T, behind func(port.Payments) port.Payments) *house {
	t.Helper()
	return opened(t, func(c *Config) {
		if behind != nil {
			c.Payments = behind(c.Payments)
		}
	})
}

// guarded opens a house whose limits are those that Ruvo runs with.
func guarded(t *testing.T) *house {
	t.Helper()
	return opened(t, func(c *Config) {
		c.Limits = limit.Default(c.Now)
		c.Proxies = []netip.Prefix{netip.MustParsePrefix("127.0.0.0/8"), netip.MustParsePrefix("::1/128")}
	})
}

func opened(t *testing.T, set func(*Config)) *house {
	t.Helper()
	h := &house{t: t}
	h.store, h.bank = sample(t, h.now)
	c := Config{Store: h.store, Payments: h.bank, Now: h.now, Log: slog.New(slog.NewTextHandler(io.Discard, nil))}
	c.Simulated = &Simulated{Path: cards.Pages, Pages: h.bank, Desk: cards.Control, Control: h.bank.ControlPage(), Bank: bank.Desk}
	set(&c)
	var err error
	h.server, err = New(c)
	must(t, err)
	h.site = httptest.NewServer(h.server)
	h.bank.Notices = h.site.URL + NoticesPath
	t.Cleanup(h.site.Close)
	return h
}

// audit computes every order again and expects no difference.
func (h *house) audit() {
	h.t.Helper()
	lines, found, err := audit.Run(context.Background(), h.store, h.now())
	must(h.t, err)
	if lines < 25 || len(found) > 0 {
		h.t.Errorf("%d lines, differences: %v", lines, found)
	}
	list, err := h.bank.Moved(context.Background())
	must(h.t, err)
	if found, err = audit.Service(context.Background(), h.store, list); err != nil || len(found) > 0 {
		h.t.Errorf("the bank's list differs: %v, %v", found, err)
	}
}

// A client is somebody with a browser's cookies.
type client struct {
	*house
	http   *http.Client
	sender string // where the proxy in front says that they are; empty for no proxy
	turn   string // the secret of a turn that the browser keeps
}

// from gives the same browser somewhere else.
func (c *client) from(sender string) *client {
	return &client{house: c.house, http: c.http, sender: sender}
}

func (h *house) client() *client {
	jar, err := cookiejar.New(nil)
	must(h.t, err)
	return &client{house: h, http: &http.Client{Jar: jar}}
}

// desk is a client who signed in.
func (h *house) desk() *client {
	h.t.Helper()
	c := h.client()
	c.want(200, "POST", "/api/desk/session", map[string]any{"email": demo.Email, "password": demo.Password})
	return c
}

// contract checks answers against openapi.yaml.
var contract = sync.OnceValue(func() routers.Router {
	doc, err := openapi3.NewLoader().LoadFromFile("../../api/openapi.yaml")
	if err == nil {
		err = doc.Validate(context.Background())
	}
	if err != nil {
		panic(err)
	}
	doc.Servers = nil
	r, err := gorillamux.NewRouter(doc)
	if err != nil {
		panic(err)
	}
	return r
})

// An answer is a response read to its end.
type answer struct {
	status int
	body   []byte
	header http.Header
}

// read decodes the answer.
func read[T any](t *testing.T, a answer) T {
	t.Helper()
	var v T
	if err := json.Unmarshal(a.body, &v); err != nil {
		t.Fatalf("%v in %s", err, a.body)
	}
	return v
}

// send sends a request; body is a string taken as it is, or a value.
func (c *client) send(method, path string, body any, headers ...string) answer {
	c.t.Helper()
	var in io.Reader
	switch b := body.(type) {
	case nil:
	case string:
		in = strings.NewReader(b)
	default:
		raw, err := json.Marshal(b)
		must(c.t, err)
		in = bytes.NewReader(raw)
	}
	req, err := http.NewRequest(method, c.site.URL+path, in)
	must(c.t, err)
	if in != nil {
		req.Header.Set("Content-Type", "application/json")
	}
	if c.sender != "" {
		req.Header.Set("X-Forwarded-For", c.sender)
	}
	if c.turn != "" {
		req.Header.Set(turnHeader, c.turn)
	}
	for i := 0; i+1 < len(headers); i += 2 {
		req.Header.Set(headers[i], headers[i+1])
	}
	res, err := c.http.Do(req)
	must(c.t, err)
	defer res.Body.Close()
	raw, err := io.ReadAll(res.Body)
	must(c.t, err)
	c.conforms(req, res, raw)
	return answer{res.StatusCode, raw, res.Header}
}

// conforms holds an answer against the contract.
func (c *client) conforms(req *http.Request, res *http.Response, body []byte) {
	c.t.Helper()
	route, params, err := contract().FindRoute(req)
	if err != nil {
		return // no operation of the contract
	}
	in := &openapi3filter.ResponseValidationInput{
		RequestValidationInput: &openapi3filter.RequestValidationInput{Request: req, PathParams: params, Route: route},
		Status:                 res.StatusCode, Header: res.Header, Body: io.NopCloser(bytes.NewReader(body)),
		Options: &openapi3filter.Options{IncludeResponseStatus: true},
	}
	if err := openapi3filter.ValidateResponse(context.Background(), in); err != nil {
		c.t.Errorf("%s %s %d breaks the contract: %v\n%.600s", req.Method, req.URL.Path, res.StatusCode, err, body)
	}
}

// want sends a request and expects a status.
func (c *client) want(status int, method, path string, body any, headers ...string) answer {
	c.t.Helper()
	a := c.send(method, path, body, headers...)
	if a.status != status {
		c.t.Fatalf("%s %s: status %d, want %d: %.800s", method, path, a.status, status, a.body)
	}
	return a
}

// A problem is what a problem document says.
type problemDocument struct {
	Type   string
	Title  string
	Status int
	Detail string
	Errors []struct{ Key, Code, Message string }
}

func (p problemDocument) codes() string {
	var list []string
	for _, e := range p.Errors {
		list = append(list, e.Key+" "+e.Code)
	}
	return strings.Join(list, ", ")
}

// refused sends a request and expects a problem document that names fields.
func (c *client) refused(status int, codes, method, path string, body any) problemDocument {
	c.t.Helper()
	a := c.want(status, method, path, body)
	if got := a.header.Get("Content-Type"); got != "application/problem+json" {
		c.t.Errorf("%s %s answers a problem as %s", method, path, got)
	}
	p := read[problemDocument](c.t, a)
	if p.Status != status || p.Title == "" || strings.HasPrefix(p.Title, "problem.") || p.codes() != codes {
		c.t.Errorf("%s %s: %+v, want the fields %q", method, path, p, codes)
	}
	for _, e := range p.Errors {
		if e.Message == "" || strings.HasPrefix(e.Message, "fault.") {
			c.t.Errorf("the field %s has no words: %q", e.Key, e.Message)
		}
	}
	return p
}

func must(t *testing.T, err error) {
	t.Helper()
	if err != nil {
		t.Fatal(err)
	}
}

type fields = map[string]any

// chart is a basket line of a chart for 36.00 with all that is required.
func chart() fields {
	return fields{"product": "sky-chart", "quantity": 1, "answers": fields{
		"night": "2014-06-14", "place": "Lofthus", "title": "The night we met", "paper": "midnight", "size": "large",
	}}
}

// with gives a basket line with other answers; nil takes one away.
func with(line fields, answers fields) fields {
	merged := fields{}
	for k, v := range line["answers"].(fields) {
		merged[k] = v
	}
	for k, v := range answers {
		if v == nil {
			delete(merged, k)
		} else {
			merged[k] = v
		}
	}
	out := fields{}
	for k, v := range line {
		out[k] = v
	}
	out["answers"] = merged
	return out
}

func basket(lines ...fields) fields {
	return fields{"name": "Ada Quill", "email": "ada@example.org", "terms": terms, "lines": lines}
}

// terms is the version of the sample business's terms of sale that customers read.
const terms = 2

var agreed = terms

// try is the body that begins to pay, under a name.
func try(name string) fields { return fields{"attempt": name} }

var names atomic.Int64

// checkout gives a new checkout's path.
func checkout() string { return fmt.Sprintf("/api/shop/checkouts/%032x", names.Add(1)) }

// buys goes through a whole checkout and gives the order page's path.
func (c *client) buys(lines ...fields) string {
	c.t.Helper()
	at := checkout()
	c.want(200, "PUT", at, basket(lines...))
	return c.pay(at)
}

// pay pays a checkout and gives the order page's path.
func (c *client) pay(at string) string {
	c.t.Helper()
	p := c.pays(at, cards.Works, "attempt-0001")
	if p.State != "settled" || p.Link == nil {
		c.t.Fatalf("the payment is %+v", p)
	}
	return "/api/shop/orders/" + *p.Link
}

// pays begins to pay at a checkout or order page, uses a card on the bank's
// page, and comes back. A card that is to be confirmed leaves the bank's
// question open.
func (c *client) pays(at, number, name string) api.Payment {
	c.t.Helper()
	p, a := c.paying(at, number, name)
	if a.status != 200 {
		c.t.Fatalf("paying at %s: %d %s", at, a.status, a.body)
	}
	return p
}

// paying is pays where the shop may refuse.
func (c *client) paying(at, number, name string) (api.Payment, answer) {
	c.t.Helper()
	a := c.send("POST", at+"/pay", try(name))
	if a.status != 200 {
		return api.Payment{}, a
	}
	p := read[api.Payment](c.t, a)
	if p.Page == nil {
		return p, a
	}
	c.atBank(*p.Page, cards.DoPay, number)
	c.noticed()
	a = c.send("POST", at+"/pay", try(name))
	return read[api.Payment](c.t, a), a
}

// atBank decides something on the bank's page.
func (c *client) atBank(page, do, number string) {
	c.t.Helper()
	token := page[strings.LastIndex(page, "/")+1:]
	if _, wrong, err := c.bank.Decide(c.t.Context(), token, do, number, "08/29", "123"); err != nil || len(wrong) > 0 {
		c.t.Errorf("the bank's page says %v, %v", wrong, err)
	}
}

// paysUnheard pays on the only page of the bank's that waits, which the shop
// heard nothing of.
func (c *client) paysUnheard() {
	c.t.Helper()
	var token string
	must(c.t, storetest.SQL(c.t, filepath.Join(c.store.Folder(), cards.File)).QueryRow("SELECT token FROM movements WHERE state = 'confirm'").Scan(&token))
	c.atBank("/"+token, cards.DoPay, cards.Works)
}

// noticed has the bank's notices come and worked on.
func (h *house) noticed() {
	h.t.Helper()
	must(h.t, h.bank.Deliver(h.t.Context()))
	must(h.t, h.server.Attempts.WorkNotices(h.t.Context()))
}

func decode(in io.Reader, to any) error { return json.NewDecoder(in).Decode(to) }

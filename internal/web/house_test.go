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

	"ruvo/demo"
	"ruvo/internal/audit"
	"ruvo/internal/limit"
	"ruvo/internal/port"
	"ruvo/internal/standin"
	"ruvo/internal/store"
	"ruvo/internal/storetest"
)

// today is what the clock says in every test: a Tuesday, mid-morning.
var today = time.Date(2026, 11, 24, 9, 30, 0, 0, time.FixedZone("CET", 3600))

// filled is a database with the sample business, made once.
var filled = sync.OnceValue(func() []byte {
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
	raw, rerr := os.ReadFile(filepath.Join(folder, store.File))
	if err != nil || rerr != nil {
		panic(fmt.Sprint(err, rerr))
	}
	return raw
})

// A house is one running application with data of its own.
type house struct {
	t      *testing.T
	store  *store.Store
	server *Server
	site   *httptest.Server
	ahead  atomic.Int64
}

func (h *house) now() time.Time { return today.Add(time.Duration(h.ahead.Load())) }

func open(t *testing.T, cards func(*store.Store) port.Payments) *house {
	t.Helper()
	return opened(t, func(c *Config) {
		if cards != nil {
			c.Payments = cards(c.Store)
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
	folder := storetest.Folder(t)
	must(t, os.WriteFile(filepath.Join(folder, store.File), filled(), 0o600))
	s, err := store.Open(folder)
	must(t, err)
	h := &house{t: t, store: s}
	c := Config{Store: s, Now: h.now, Log: slog.New(slog.NewTextHandler(io.Discard, nil))}
	c.Payments = &standin.Cards{Store: s}
	set(&c)
	h.server, err = New(c)
	must(t, err)
	h.site = httptest.NewServer(h.server)
	t.Cleanup(func() {
		h.site.Close()
		s.Close()
	})
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
}

// A client is somebody with a browser's cookies.
type client struct {
	*house
	http   *http.Client
	sender string // where the proxy in front says that they are; empty for no proxy
}

// from gives the same browser somewhere else.
func (c *client) from(sender string) *client { return &client{c.house, c.http, sender} }

func (h *house) client() *client {
	jar, err := cookiejar.New(nil)
	must(h.t, err)
	return &client{h, &http.Client{Jar: jar}, ""}
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
	return fields{"name": "Ada Quill", "email": "ada@example.org", "lines": lines}
}

func card(number string) fields {
	return fields{"number": number, "expiry": "08/29", "code": "123", "attempt": "attempt-0001"}
}

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
	p := read[struct{ State, Link string }](c.t, c.want(200, "POST", at+"/pay", card(standin.CardWorks)))
	if p.State != "settled" || p.Link == "" {
		c.t.Fatalf("the payment is %+v", p)
	}
	return "/api/shop/orders/" + p.Link
}

func decode(in io.Reader, to any) error { return json.NewDecoder(in).Decode(to) }

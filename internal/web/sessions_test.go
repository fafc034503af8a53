package web

import (
	"net/http"
	"net/url"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"time"

	"ruvo/api"
	"ruvo/demo"
	"ruvo/internal/store"
	"ruvo/internal/storetest"
)

func signIn(password string) fields { return fields{"email": demo.Email, "password": password} }

// cookie gives a cookie that a browser has.
func (c *client) cookie(name string) string {
	at, err := url.Parse(c.site.URL)
	must(c.t, err)
	for _, k := range c.http.Jar.Cookies(at) {
		if k.Name == name {
			return k.Value
		}
	}
	return ""
}

// Wrong passwords from elsewhere, and from the same house, hold up nobody whose
// browser is known; pauses grow, and the owner gets one mail a day.
func TestWrongPasswordsHoldUpNobodyElse(t *testing.T) {
	h := guarded(t)
	owner := h.client().from("203.0.113.1")
	owner.want(200, "POST", "/api/desk/session", signIn(demo.Password))
	owner.want(204, "DELETE", "/api/desk/session", nil)
	eve := h.client().from("203.0.113.1") // behind the same proxy
	before := h.lastMail().ID
	var waits []string
	for i := range 12 {
		a := eve.send("POST", "/api/desk/session", signIn("guess"))
		if a.status == http.StatusTooManyRequests {
			waits = append(waits, a.header.Get("Retry-After"))
			d, err := time.ParseDuration(a.header.Get("Retry-After") + "s")
			must(t, err)
			h.ahead.Add(int64(d))
		}
		owner.want(200, "POST", "/api/desk/session", signIn(demo.Password))
		if i == 6 {
			owner.refused(401, "", "POST", "/api/desk/session", signIn("a typing mistake"))
		}
	}
	if !slices.Equal(waits, []string{"2", "4", "8", "16"}) { // a wait, then one more failure, in turn
		t.Errorf("the pauses are %v", waits)
	}
	m := h.lastMail()
	if m.ID != before+1 || m.Recipient != demo.Email || !strings.Contains(m.Subject, "passwords") || !strings.Contains(m.Body, "203.0.113.1") || strings.Contains(m.Body, "{") {
		t.Errorf("%d mails, %+v", m.ID-before, m)
	}
	// A stranger in another house is held up by nothing of it, and neither is
	// another address.
	h.client().from("203.0.113.2").want(200, "POST", "/api/desk/session", signIn(demo.Password))
	eve.refused(401, "", "POST", "/api/desk/session", fields{"email": "nobody@example.org", "password": "guess"})

	// A known browser is a way in for whoever has its person's password, and not
	// one to guess with for ever.
	stolen := h.client().from("203.0.113.7")
	stolen.want(200, "POST", "/api/desk/session", signIn(demo.Password))
	for range 20 {
		stolen.refused(401, "", "POST", "/api/desk/session", signIn("guess"))
	}
	for range 5 {
		stolen.refused(401, "", "POST", "/api/desk/session", signIn("guess"))
	}
	stolen.throttled("POST", "/api/desk/session", signIn("guess"))
}

// Fifty addresses are tried from one sender.
func TestManyAddressesAreTried(t *testing.T) {
	h := guarded(t)
	c := h.client().from("203.0.113.1")
	for i := range 50 {
		c.refused(401, "", "POST", "/api/desk/session", fields{"email": strings.Repeat("x", i+1) + "@example.org", "password": "summer"})
	}
	c.throttled("POST", "/api/desk/session", fields{"email": "y@example.org", "password": "summer"})
	if m := h.lastMail(); !strings.Contains(m.Body, "many addresses") {
		t.Errorf("%+v", m)
	}
}

// A session ends when it is not used for an hour, and after half a day in any
// case; another setting is another time.
func TestSessionsEnd(t *testing.T) {
	h := open(t, nil)
	c := h.desk()
	for range 13 { // used all the time
		h.ahead.Add(int64(55 * time.Minute))
		c.want(200, "GET", "/api/desk/session", nil)
	}
	h.ahead.Add(int64(10 * time.Minute))
	c.refused(401, "", "GET", "/api/desk/session", nil)
	c = h.desk()
	h.ahead.Add(int64(59 * time.Minute))
	c.want(200, "GET", "/api/desk/session", nil)
	h.ahead.Add(int64(61 * time.Minute))
	c.refused(401, "", "GET", "/api/desk/session", nil)

	// A desk that is left open asks by itself for ever.
	c = h.desk()
	for range 6 {
		h.ahead.Add(int64(9 * time.Minute))
		c.want(200, "GET", "/api/desk/today", nil, "Ruvo-Unattended", "1")
	}
	h.ahead.Add(int64(9 * time.Minute))
	c.want(401, "GET", "/api/desk/today", nil, "Ruvo-Unattended", "1")

	h = opened(t, func(c *Config) { c.Idle = 5 * time.Minute })
	c = h.desk()
	h.ahead.Add(int64(4 * time.Minute))
	c.want(200, "GET", "/api/desk/session", nil)
	h.ahead.Add(int64(6 * time.Minute))
	c.refused(401, "", "GET", "/api/desk/session", nil)
	must(t, h.server.Desk.Sweep(t.Context()))
	var n int
	must(t, storetest.SQL(t, filepath.Join(h.store.Folder(), store.File)).QueryRow("SELECT COUNT(*) FROM sessions").Scan(&n))
	if n != 0 {
		t.Errorf("%d sessions are kept that nobody can use", n)
	}
}

// People see where they are signed in, and end what is not theirs any more.
func TestEndingSessions(t *testing.T) {
	h := guarded(t)
	here := h.client().from("203.0.113.1")
	here.want(200, "POST", "/api/desk/session", signIn(demo.Password), "User-Agent", "Night/1.0 "+strings.Repeat("x", 400))
	phone := h.client().from("203.0.113.2")
	phone.want(200, "POST", "/api/desk/session", signIn(demo.Password))
	all := read[[]api.DeskSession](t, here.want(200, "GET", "/api/desk/sessions", nil))
	if len(all) != 2 || all[0].Here || !all[1].Here || all[0].Address != "203.0.113.2" || len(all[1].Browser) != 200 {
		t.Fatalf("%+v", all)
	}
	left := read[[]api.DeskSession](t, here.want(200, "DELETE", "/api/desk/sessions/"+itoa(all[0].Id), nil))
	if len(left) != 1 || !left[0].Here {
		t.Errorf("%+v", left)
	}
	phone.refused(401, "", "GET", "/api/desk/today", nil)
	here.want(200, "DELETE", "/api/desk/sessions/987654", nil)
	here.want(200, "GET", "/api/desk/today", nil)
}

// What browsers have is kept as its hash; names of cookies bind them to the host
// over TLS; signing out clears what the browser kept and ends the session, also
// for whoever copied it.
func TestCookies(t *testing.T) {
	for _, secure := range []bool{false, true} {
		h := opened(t, func(c *Config) { c.Secure = secure })
		res, err := http.Post(h.site.URL+"/api/desk/session", "application/json", strings.NewReader(`{"email":"`+demo.Email+`","password":"`+demo.Password+`"}`))
		must(t, err)
		res.Body.Close()
		db := storetest.SQL(t, filepath.Join(h.store.Folder(), store.File))
		var kept string
		must(t, db.QueryRow("SELECT group_concat(hash) FROM (SELECT hash FROM sessions UNION SELECT hash FROM known_browsers)").Scan(&kept))
		if len(res.Cookies()) != 2 {
			t.Fatalf("%v", res.Cookies())
		}
		var session *http.Cookie
		for _, k := range res.Cookies() {
			bare, host := strings.CutPrefix(k.Name, "__Host-")
			if host != secure || k.Secure != secure || !k.HttpOnly || k.SameSite != http.SameSiteStrictMode || k.Path != "/" || k.Domain != "" {
				t.Errorf("%+v", k)
			}
			if strings.Contains(kept, k.Value) {
				t.Errorf("%s is kept as it is", k.Name)
			}
			if bare == "ruvo_desk" {
				session = k
				if k.MaxAge != 0 {
					t.Errorf("%+v outlives the browser", k)
				}
			}
		}
		with := func(method, path string) *http.Response {
			req, err := http.NewRequest(method, h.site.URL+path, nil)
			must(t, err)
			req.AddCookie(session)
			res, err := http.DefaultClient.Do(req)
			must(t, err)
			res.Body.Close()
			return res
		}
		if res := with("GET", "/api/desk/today"); res.StatusCode != 200 {
			t.Error(res.Status)
		}
		out := with("DELETE", "/api/desk/session")
		if got := out.Header.Get("Clear-Site-Data"); !strings.Contains(got, `"cache"`) || !strings.Contains(got, `"storage"`) {
			t.Errorf("Clear-Site-Data: %s", got)
		}
		if res := with("GET", "/api/desk/today"); res.StatusCode != 401 {
			t.Error("a session that was ended goes on: ", res.Status)
		}
	}
}

// A pass is not a session of the desk, and a session is no pass, whatever they
// are called.
func TestPassesAndSessionsAreApart(t *testing.T) {
	h := open(t, nil)
	desk := h.desk()
	desk.want(200, "POST", "/api/desk/groups", fields{"name": "Night club", "domains": []string{"club.example.org"}})
	c := h.client()
	open := func(again int) string {
		t.Helper()
		c.want(204, "POST", "/api/shop/pass", fields{"email": "ida@club.example.org"})
		token := passLink.FindStringSubmatch(h.lastMail().Body)[1]
		c.want(200, "POST", "/api/shop/pass/open", fields{"token": token})
		h.client().refused(404, "", "POST", "/api/shop/pass/open", fields{"token": token}) // it works once
		return c.cookie("ruvo_pass")
	}
	first := open(0)
	second := open(1)
	if first == "" || first == second || c.cookie("ruvo_desk") != "" {
		t.Errorf("the pass was %q and is %q", first, second)
	}
	ask := func(cookie, secret, path string) int {
		req, err := http.NewRequest("GET", h.site.URL+path, nil)
		must(t, err)
		req.AddCookie(&http.Cookie{Name: cookie, Value: secret})
		res, err := http.DefaultClient.Do(req)
		must(t, err)
		defer res.Body.Close()
		return res.StatusCode
	}
	if ask("ruvo_desk", second, "/api/desk/today") != 401 || ask("ruvo_desk", desk.cookie("ruvo_known"), "/api/desk/today") != 401 {
		t.Error("a pass, or a known browser, lets in to the desk")
	}
	pass := func(secret string) *string {
		req, err := http.NewRequest("GET", h.site.URL+"/api/shop/pass", nil)
		must(t, err)
		req.AddCookie(&http.Cookie{Name: "ruvo_pass", Value: secret})
		res, err := http.DefaultClient.Do(req)
		must(t, err)
		defer res.Body.Close()
		var p api.Pass
		must(t, decode(res.Body, &p))
		return p.Email
	}
	if pass(first) != nil || pass(second) == nil || pass(desk.cookie("ruvo_desk")) != nil {
		t.Error("only the newest pass of a browser holds, and no session is one")
	}
	h.ahead.Add(int64(12*time.Hour + time.Minute))
	if pass(second) != nil {
		t.Error("a pass holds for ever")
	}
	h.ahead.Add(int64(48 * time.Hour))
	must(t, h.server.Shop.Sweep(t.Context()))
	var n int
	must(t, storetest.SQL(t, filepath.Join(h.store.Folder(), store.File)).QueryRow("SELECT COUNT(*) FROM passes").Scan(&n))
	if n != 0 {
		t.Errorf("%d passes are kept that open nothing", n)
	}
}

// Links to orders can end: by a setting, by hand, and a customer whose link is
// over has a new one mailed. In the database stands no link that works.
func TestPrivateLinksEnd(t *testing.T) {
	h := guarded(t)
	desk := h.desk()
	c := h.client()
	at := c.buys(chart())
	desk.terms(func(b *api.BusinessTerms) { days := 30; b.LinkDays = &days })
	h.ahead.Add(int64(29 * 24 * time.Hour))
	c.want(200, "GET", at, nil)
	c.want(204, "POST", at+"/renew", nil) // nothing to do yet
	before := h.lastMail().ID
	h.ahead.Add(int64(2 * 24 * time.Hour))
	p := c.refused(410, "", "GET", at, nil)
	if !strings.HasSuffix(p.Type, "ended_link") {
		t.Errorf("%+v", p)
	}
	c.refused(410, "", "GET", at+"/known", nil)
	c.want(204, "POST", at+"/renew", nil)
	m := h.lastMail()
	if m.ID != before+1 || m.Recipient != "ada@example.org" {
		t.Errorf("%+v", m)
	}
	fresh := "/api/shop/orders/" + strings.Fields(m.Body[strings.Index(m.Body, "/o/")+3:])[0]
	o := read[api.OrderPage](t, c.want(200, "GET", fresh, nil))
	for range 4 {
		c.want(204, "POST", at+"/renew", nil)
	}
	c.throttled("POST", at+"/renew", nil)
	c.refused(404, "", "POST", "/api/shop/orders/AAAAAAAAAAAAAAAAAAAAAA/renew", nil)

	desk = h.desk()
	line := itoa(o.Lines[0].Id)
	if d := read[api.Docket](t, desk.want(200, "GET", "/api/desk/dockets/"+line, nil)); d.Links != 5 {
		t.Errorf("%d links lead to the order, want the five that were mailed", d.Links)
	}
	if d := read[api.Docket](t, desk.want(200, "POST", "/api/desk/dockets/"+line+"/end_links", nil)); d.Links != 0 {
		t.Errorf("%d links lead to the order after they were ended", d.Links)
	}
	if p := c.refused(410, "", "GET", fresh, nil); !strings.HasSuffix(p.Type, "revoked_link") {
		t.Errorf("%+v", p)
	}
	c.refused(410, "", "POST", fresh+"/renew", nil)

	desk.refused(422, "link_days link_days", "PUT", "/api/desk/terms", func() api.BusinessTerms {
		b := read[api.BusinessTerms](t, desk.want(200, "GET", "/api/desk/terms", nil))
		days := -1
		b.LinkDays = &days
		return b
	}())
}

// The checkout's name gives the private link again for ten minutes, for a
// browser whose first answer was lost.
func TestALinkIsShownAgainForMinutes(t *testing.T) {
	h := open(t, nil)
	c := h.client()
	at := checkout()
	c.want(200, "PUT", at, basket(chart()))
	c.pay(at)
	h.ahead.Add(int64(9 * time.Minute))
	if v := read[api.Checkout](t, c.want(200, "GET", at, nil)); v.Payment == nil || v.Payment.Link == nil {
		t.Errorf("%+v", v)
	}
	h.ahead.Add(int64(2 * time.Minute))
	c.refused(409, "", "GET", at, nil)
}

package web

import (
	"encoding/json"
	"maps"
	"net/http"
	"slices"
	"strings"
	"testing"

	"github.com/getkin/kin-openapi/openapi3"
)

// nasty are values that no front end sends in a place.
var nasty = []string{
	`null`, `-1`, `0`, `1e308`, `99999999999999999999`, `true`, `""`, `"\u0000"`, `"` + strings.Repeat("x", 5000) + `"`, `[]`, `[null]`, `{}`, `{"a":[{}]}`,
	`"9999-12-31"`, `"../../etc/passwd"`, `"' OR 1=1 --"`, `"<script>alert(1)</script>"`, `"\u202egnp.exe"`, `"%00"`, `"EUR\r\nX-Evil: 1"`,
}

// inPath are the same for places in an address.
var inPath = []string{"0", "-1", "99999999999999999999", "x", "%00", "..%2f..%2fetc%2fpasswd", "%27%20OR%201%3D1", "%F0%9F%92%A5", strings.Repeat("9", 300), "%20", "%0d%0aX-Evil:1", "%ff"}

// made makes a value that fits a schema, as far as types go.
func made(s *openapi3.SchemaRef, deep int) any {
	v := s.Value
	switch {
	case deep > 6 || v == nil:
		return nil
	case len(v.Enum) > 0:
		return v.Enum[0]
	case len(v.AllOf) > 0:
		all := map[string]any{}
		for _, part := range v.AllOf {
			if m, ok := made(part, deep+1).(map[string]any); ok {
				maps.Copy(all, m)
			}
		}
		return all
	case v.Type.Is("object"):
		all := map[string]any{}
		for name, p := range v.Properties {
			if slices.Contains(v.Required, name) || deep < 2 {
				all[name] = made(p, deep+1)
			}
		}
		return all
	case v.Type.Is("array"):
		return []any{made(v.Items, deep+1)}
	case v.Type.Is("integer"), v.Type.Is("number"):
		return 1
	case v.Type.Is("boolean"):
		return true
	case v.Type.Is("string"):
		if v.Format == "date-time" {
			return "2026-11-24T09:30:00Z"
		}
		return "x"
	}
	return nil
}

// bent gives a value with one place in it at a time exchanged for a nasty one.
func bent(v any, by string, each func(any)) {
	switch v := v.(type) {
	case map[string]any:
		for _, k := range slices.Sorted(maps.Keys(v)) {
			old := v[k]
			v[k] = json.RawMessage(by)
			each(v)
			v[k] = old
			bent(old, by, func(any) { each(v) })
		}
	case []any:
		for i, old := range v {
			v[i] = json.RawMessage(by)
			each(v)
			v[i] = old
			bent(old, by, func(any) { each(v) })
		}
	}
}

// Every operation of the contract gets what no front end sends: nonsense in each
// place of its address, its questions and its body, and bodies that are none;
// from strangers and from people at the desk. It is refused in words or taken
// for what it is; nothing fails, and the books agree afterwards.
func TestHostileInputToEveryOperation(t *testing.T) {
	h := open(t, nil)
	doc, err := openapi3.NewLoader().LoadFromFile("../../api/openapi.yaml")
	must(t, err)
	desk, stranger := h.desk(), h.client()
	line := itoa(1)
	real := map[string]string{"id": "1", "line": line, "slug": "sky-chart", "checkout": strings.Repeat("0a", 16), "link": strings.Repeat("A", 22), "upload": strings.Repeat("A", 22),
		"product": "1", "step": "compute", "number": "1001", "direction": "undo", "thing": "1", "name": strings.Repeat("A", 22), "action": "close", "item": "1", "paper": "0", "handover": "1", "file": "1", "reply": "1", "filter": "1", "amendment": "1", "message": "1", "place": "0", "key": "phone", "what": "read", "window": "abc", "day": "2026-11-27", "secret": strings.Repeat("A", 22)}
	tried, operations := 0, 0
	check := func(c *client, id, method, path string, body any, headers ...string) {
		t.Helper()
		tried++
		a := c.send(method, path, body, headers...)
		if a.status == http.StatusUnauthorized && c == desk { // what came before signed us out
			c.want(200, "POST", "/api/desk/session", signIn("under the same sky"))
		}
		if a.status >= 500 || a.status >= 400 && a.header.Get("Content-Type") != "application/problem+json" || a.header.Get("X-Evil") != "" {
			t.Errorf("%s: %s %.120s %.300v: status %d %.200s", id, method, path, body, a.status, a.body)
		}
	}
	for _, path := range doc.Paths.InMatchingOrder() {
		item := doc.Paths.Value(path)
		for method, op := range item.Operations() {
			operations++
			c := desk
			if !strings.HasPrefix(path, "/api/desk") {
				c = stranger
			}
			at := func(swap, by string) string {
				out := path
				for name, v := range real {
					if name == swap {
						v = by
					}
					out = strings.ReplaceAll(out, "{"+name+"}", v)
				}
				return out
			}
			if strings.Contains(at("", ""), "{") {
				t.Fatalf("%s has a part that is not known here: %s", op.OperationID, at("", ""))
			}
			headers := []string{}
			if op.OperationID == "appendUpload" {
				headers = []string{"Upload-Offset", "0", "Content-Type", "application/octet-stream"}
			}
			for name := range real {
				if strings.Contains(path, "{"+name+"}") {
					for _, by := range inPath {
						check(c, op.OperationID, method, at(name, by), nil, headers...)
					}
				}
			}
			for _, p := range append(slices.Clone(op.Parameters), item.Parameters...) {
				switch p.Value.In {
				case "query":
					for _, by := range inPath {
						check(c, op.OperationID, method, at("", "")+"?"+p.Value.Name+"="+by, nil)
					}
				case "header":
					for _, by := range []string{"", "-1", "x", "9999999999999999999999"} {
						check(c, op.OperationID, method, at("", ""), nil, p.Value.Name, by)
					}
				}
			}
			if op.RequestBody == nil {
				check(c, op.OperationID, method, at("", ""), `{"surprise":1}`)
				continue
			}
			for _, raw := range []string{``, `{`, `[]`, `null`, `"x"`, `{}`, `{"surprise":1}`, "\xff\xfe", strings.Repeat(`[`, 20_000), strings.Repeat(`{"a":`, 20_000)} {
				check(c, op.OperationID, method, at("", ""), raw, headers...)
			}
			media := op.RequestBody.Value.Content.Get("application/json")
			if media == nil {
				continue
			}
			for _, by := range nasty {
				bent(made(media.Schema, 0), by, func(v any) {
					raw, err := json.Marshal(v)
					must(t, err)
					check(c, op.OperationID, method, at("", ""), string(raw))
				})
			}
			// What is the desk's is nobody else's, whatever comes with it.
			if c == desk && op.OperationID != "signIn" {
				stranger.want(401, method, at("", ""), `{}`)
			}
		}
	}
	t.Logf("%d requests to %d operations", tried, operations)
	if operations < 90 || tried < 9_000 {
		t.Errorf("only %d requests to %d operations", tried, operations)
	}
	// People can go on with all of it.
	h.client().buys(chart())
	h.audit()
}

package brief

import (
	"encoding/json"
	"testing"
	"time"
)

// When a brief closes is worked by hand, over the end of summer time in Berlin on
// 25 October 2026.
func TestEnds(t *testing.T) {
	zone, err := time.LoadLocation("Europe/Berlin")
	if err != nil {
		t.Fatal(err)
	}
	ordered := time.Date(2026, 10, 24, 22, 30, 0, 0, time.UTC) // Sunday at half past midnight
	booked := time.Date(2026, 10, 28, 18, 0, 0, 0, time.UTC)
	for _, c := range []struct {
		terms *Terms
		want  string
	}{
		{nil, ""}, {&Terms{}, ""}, {&Terms{Closes: WithWork}, ""},
		{&Terms{Closes: AfterOrder, Days: 3}, "2026-10-29 00:00"},
		{&Terms{Closes: AfterOrder}, "2026-10-26 00:00"},
		{&Terms{Closes: BeforeBooking, Days: 4}, "2026-10-24 00:00"},
	} {
		got := ""
		if at := c.terms.Ends(ordered, booked, zone); !at.IsZero() {
			got = at.In(zone).Format("2006-01-02 15:04")
		}
		if got != c.want {
			t.Errorf("%+v: %s, want %s", c.terms, got, c.want)
		}
	}
	if at := (&Terms{Closes: BeforeBooking}).Ends(ordered, time.Time{}, zone); !at.IsZero() {
		t.Errorf("with nothing booked: %v", at)
	}
}

func TestTermsAreChecked(t *testing.T) {
	for _, bad := range []Terms{{Closes: "soon"}, {Days: -1}, {Days: 366}, {Thanks: string(make([]rune, 2001))}, {Address: "javascript:alert(1)"}, {Address: "https://"}, {Address: "example.org"}} {
		if bad.Validate() == nil {
			t.Errorf("taken: %+v", bad)
		}
	}
	for _, good := range []Terms{{}, {Closes: WithWork, Thanks: "Thank you, {{customer}}.", Address: "https://example.org/thanks"}, {Closes: BeforeBooking, Days: 365}} {
		if err := good.Validate(); err != nil {
			t.Errorf("%+v: %v", good, err)
		}
	}
}

// Two devices on one field: the same said twice is no conflict, however it is written.
func TestOther(t *testing.T) {
	raw := func(s string) json.RawMessage { return json.RawMessage(s) }
	for _, c := range []struct {
		now, seen, next string
		want            bool
	}{
		{`"a"`, `"a"`, `"b"`, false}, {`"c"`, `"a"`, `"b"`, true}, {`"b"`, `"a"`, `"b"`, false},
		{``, `null`, `"b"`, false}, {`null`, ``, `1`, false},
		{`{"x":1,"y":2}`, `{ "y": 2, "x": 1 }`, `3`, false}, {`1.0`, `1`, `2`, true},
	} {
		if got := Other(raw(c.now), raw(c.seen), raw(c.next)); got != c.want {
			t.Errorf("%s, seen %s, next %s: %t", c.now, c.seen, c.next, got)
		}
	}
}

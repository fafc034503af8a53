package agreement

import (
	"strings"
	"testing"
	"time"
)

func TestATextHasVersions(t *testing.T) {
	var none Text
	if none.Asked() || none.Refused(0) != "" || none.Refused(3) != "" {
		t.Error("without a text something is asked")
	}
	one, err := none.Next("  Payment is due at once.\r\nNo returns.\n")
	if err != nil || one.Version != 1 || one.Text != "Payment is due at once.\nNo returns." {
		t.Fatalf("%+v, %v", one, err)
	}
	if _, err := one.Next(one.Text + "\n"); err == nil {
		t.Error("the same text makes another version")
	}
	if _, err := one.Next(strings.Repeat("a", longest+1)); err == nil {
		t.Error("a text without end is taken")
	}
	two, err := one.Next("Payment is due within a week.")
	if err != nil || two.Version != 2 {
		t.Fatalf("%+v, %v", two, err)
	}
	for agreed, want := range map[int]string{0: "terms_unread", 1: "terms_changed", 2: "", 9: "terms_changed"} {
		if got := two.Refused(agreed); got != want {
			t.Errorf("who agreed to version %d is told %q instead of %q", agreed, got, want)
		}
	}
	off, err := two.Next(" ")
	if err != nil || off.Asked() || off.Version != 3 || off.Refused(0) != "" {
		t.Errorf("%+v, %v", off, err)
	}
	if again, err := off.Next(two.Text); err != nil || again.Version != 4 {
		t.Errorf("what was once asked cannot be asked again: %+v, %v", again, err)
	}
}

func TestTheLastWordAboutNewsCounts(t *testing.T) {
	day := func(n int) time.Time { return time.Date(2026, 3, n, 12, 0, 0, 0, time.UTC) }
	yes := func(n, version int) Word { return Word{true, version, day(n)} }
	no := func(n int) Word { return Word{At: day(n)} }
	for name, c := range map[string]struct {
		said []Word
		want *Word
	}{
		"nothing":            {nil, nil},
		"yes":                {[]Word{yes(1, 1)}, &Word{true, 1, day(1)}},
		"yes twice":          {[]Word{yes(1, 1), yes(4, 1)}, &Word{true, 1, day(1)}},
		"yes to a new one":   {[]Word{yes(1, 1), yes(4, 2)}, &Word{true, 2, day(4)}},
		"no":                 {[]Word{yes(1, 1), no(2)}, nil},
		"yes after a no":     {[]Word{yes(1, 1), no(2), yes(3, 1)}, &Word{true, 1, day(3)}},
		"never said yes":     {[]Word{no(2)}, nil},
		"agreed elsewhere":   {[]Word{yes(5, 0)}, &Word{true, 0, day(5)}},
		"elsewhere and here": {[]Word{yes(5, 0), yes(6, 1)}, &Word{true, 1, day(6)}},
	} {
		got := Standing(c.said)
		if (got == nil) != (c.want == nil) || got != nil && *got != *c.want {
			t.Errorf("%s: %+v instead of %+v", name, got, c.want)
		}
	}
}

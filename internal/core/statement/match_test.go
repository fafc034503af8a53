package statement

import (
	"fmt"
	"slices"
	"testing"

	"ruvo/internal/core/money"
	"ruvo/internal/core/transfer"
)

func TestReferencesInTexts(t *testing.T) {
	ref := transfer.Reference(1034) // RF22 1034
	for _, c := range []struct {
		text string
		want int64
	}{
		{ref, 1034}, {"RF22 1034", 1034}, {"rf221034 thank you", 1034}, {"Order RF 22 10 34, thanks", 1034}, {"SVWZ+RF22 1034", 1034}, {"RF22 1034 2026", 1034}, {"RF22 1034 24.11.2026", 1034},
		{"RF23 1034", 0}, {"RF22 1043", 0}, {"1034", 0}, {"", 0}, {"PERF22 1034", 0}, {"first RF23 1034 then RF22 1034", 1034},
	} {
		r := Row{Text: c.text}
		if got, _ := r.OrderOf(); got != c.want {
			t.Errorf("%q: %d, want %d", c.text, got, c.want)
		}
	}
	r := Row{Reference: ref, Text: "RF18 5390"}
	if got, _ := r.OrderOf(); got != 1034 {
		t.Errorf("the place for it counts first: %d", got)
	}
	// Two digits turned about are no reference of another order.
	for n := int64(1000); n < 3000; n++ {
		s := []byte(transfer.Reference(n))
		for i := 4; i+1 < len(s); i++ {
			turned := slices.Clone(s)
			turned[i], turned[i+1] = turned[i+1], turned[i]
			r := Row{Text: string(turned)}
			if got, ok := r.OrderOf(); ok && got != n {
				t.Fatalf("%s is taken for order %d", turned, got)
			}
		}
	}
}

func TestProposals(t *testing.T) {
	open := []Open{
		{1001, "Jürgen Müller", []money.Amount{3600}}, {1002, "Ada Quill", []money.Amount{3600, 900}}, {1003, "Ada Quill", []money.Amount{3600}},
		{1004, "Bo", []money.Amount{700}}, {1005, "Zoë de la Cruz", []money.Amount{800}}, {1006, "张伟", []money.Amount{850}},
	}
	for _, c := range []struct {
		payer, text string
		amount      money.Amount
		want        string
	}{
		{"MUELLER, JUERGEN", "", 3600, "[1001]"}, {"Jurgen Muller", "", 3600, "[1001]"}, {"J. Müller", "", 3600, "[1001]"}, {"Müller", "", 3600, "[]"},
		{"Ada Quill", "", 3600, "[1002 1003]"}, {"Ada Quill", "order 1003", 3600, "[1003 1002]"}, {"Otto", "1003", 3600, "[1003]"}, {"Ada Quill", "", 900, "[1002]"}, {"Ada Quill", "", 3599, "[]"},
		{"Bo", "", 700, "[1004]"}, {"B", "", 700, "[]"}, {"Bob", "", 700, "[]"}, {"de la Cruz Zoe", "", 800, "[1005]"}, {"张伟", "", 850, "[1006]"}, {"", "", 700, "[]"},
	} {
		r := Row{Payer: c.payer, Text: c.text, Amount: c.amount}
		if got := fmt.Sprint(r.Propose(open)); got != c.want {
			t.Errorf("%q %q %d: %s, want %s", c.payer, c.text, c.amount, got, c.want)
		}
	}
}

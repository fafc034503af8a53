package audit

import (
	"slices"
	"testing"
	"time"

	"ruvo/demo"
	"ruvo/internal/port"
	"ruvo/internal/standin/cards"
	"ruvo/internal/store"
	"ruvo/internal/storetest"
)

// Each way in which the service's list can differ from ours is found.
func TestService(t *testing.T) {
	s, err := store.Open(storetest.Folder(t))
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	if err := demo.Fill(t.Context(), s, time.Date(2026, 11, 24, 9, 30, 0, 0, time.UTC), "http://127.0.0.1"); err != nil {
		t.Fatal(err)
	}
	bank, err := cards.Open(s.Folder(), time.Now)
	if err != nil {
		t.Fatal(err)
	}
	defer bank.Close()
	list, err := bank.Moved(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	codes := func(list []port.Moved) (codes []string) {
		t.Helper()
		found, err := Service(t.Context(), s, list)
		if err != nil {
			t.Fatal(err)
		}
		for _, d := range found {
			if codes = append(codes, d.Code); d.Said("en") == "check."+d.Code || d.Said("de") == d.Said("en") {
				t.Errorf("%s has no words", d.Code)
			}
		}
		return codes
	}
	if found := codes(list); len(found) != 0 {
		t.Fatal(found)
	}
	changed := func(change func(*port.Moved)) []port.Moved {
		other := slices.Clone(list)
		change(&other[3])
		return other
	}
	for _, c := range []struct {
		list []port.Moved
		want []string
	}{
		{list[1:], []string{"service_missing"}},
		{append(list[:len(list):len(list)], port.Moved{Attempt: "nobody", Amount: 5}), []string{"service_unknown"}},
		{changed(func(m *port.Moved) { m.Amount++ }), []string{"service_amount"}},
		{changed(func(m *port.Moved) { m.Fee++ }), []string{"service_amount"}},
		{changed(func(m *port.Moved) { m.Currency = "JPY" }), []string{"service_amount"}},
	} {
		if found := codes(c.list); !slices.Equal(found, c.want) {
			t.Errorf("%v, want %v", found, c.want)
		}
	}
	db := storetest.SQL(t, s.Folder()+"/"+store.File)
	for state, want := range map[string][]string{"refused": {"service_moved"}, "asked": nil} {
		if _, err := db.Exec("UPDATE attempts SET state = ? WHERE name = ?", state, list[3].Attempt); err != nil {
			t.Fatal(err)
		}
		if found := codes(list); !slices.Equal(found, want) {
			t.Errorf("%s here: %v, want %v", state, found, want)
		}
	}
}

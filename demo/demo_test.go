package demo

import (
	"context"
	"strings"
	"testing"
	"time"

	"ruvo/internal/audit"
	"ruvo/internal/core/order"
	"ruvo/internal/store"
	"ruvo/internal/storetest"
)

// The sample business can be filled in on any day, also on a Sunday, over the
// turn of the year and on the days of both clock changes, and what is stored
// computes to itself.
func TestFillOnAnyDay(t *testing.T) {
	for _, at := range []string{
		"2026-11-24T09:30:00+01:00", "2026-11-29T23:50:00+01:00", "2027-01-01T00:10:00+01:00", "2026-03-29T03:15:00+02:00",
		"2026-10-25T02:30:00+01:00", "2028-02-29T12:00:00+01:00", "2027-05-17T17:00:00+02:00",
	} {
		now, err := time.Parse(time.RFC3339, at)
		if err != nil {
			t.Fatal(err)
		}
		s, err := store.Open(storetest.Folder(t))
		if err != nil {
			t.Fatal(err)
		}
		ctx := context.Background()
		if err := Fill(ctx, s, now, "http://127.0.0.1"); err != nil {
			t.Errorf("on %s: %v", at, err)
			s.Close()
			continue
		}
		if err := Fill(ctx, s, now, "http://127.0.0.1:9"); err != nil {
			t.Errorf("a second time: %v", err)
		}
		lines, found, err := audit.Run(ctx, s, now)
		if err != nil || lines != 47 || len(found) > 0 {
			t.Errorf("on %s: %d lines, %v, %v", at, lines, found, err)
		}
		states := map[order.Brief]int{}
		if err := s.Read(ctx, func(tx *store.Tx) error {
			b, err := tx.Business()
			if err != nil || b.Address != "http://127.0.0.1:9" {
				t.Errorf("%+v, %v", b, err)
			}
			rows, err := tx.ListLines(store.LineFilter{Most: 100})
			for _, r := range rows {
				states[r.Brief]++
				if !strings.HasSuffix(r.Email, "@example.org") {
					t.Errorf("%s is not under example.org", r.Email)
				}
			}
			return err
		}); err != nil {
			t.Error(err)
		}
		for _, state := range []order.Brief{order.Waiting, order.Complete, order.Changed, order.Closed} {
			if states[state] == 0 {
				t.Errorf("on %s no brief is %s: %v", at, state, states)
			}
		}
		s.Close()
	}
}

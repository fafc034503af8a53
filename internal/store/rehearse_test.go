package store

import (
	"slices"
	"testing"

	"ruvo/internal/storetest"
)

// notRehearsed are the tables that are empty in a rehearsal: all that is known of
// customers, of orders and money, of who signed in, and what only the business itself
// follows.
var notRehearsed = []string{
	"amendments", "answer_changes", "answer_counts", "answered_requests", "attempts", "baskets", "booking_resources", "bookings", "card_charges", "change_requests", "coupon_uses",
	"credits", "customer_aliases", "customer_answers", "customer_sums", "customers", "draft_states", "feeds", "fetchings", "figures", "former_slips", "handover_files",
	"handovers", "kept_baskets", "known_browsers", "ledger_entries", "line_answers", "line_words", "lines_unread", "log_entries", "members", "migrations", "news_words", "notices", "open_orders", "order_lines", "order_links", "orders",
	"outbox", "pass_sessions", "passes", "replans", "saved_filters", "sessions", "settings_changes", "statements", "stock_changes",
	"stock_holds", "stop_counts", "talk", "things", "transfers", "voucher_entries", "voucher_holds", "vouchers", "waits", "work_items",
}

// Whoever adds a table says whether a rehearsal gets a copy of it.
func TestEveryTableIsRehearsedOrNot(t *testing.T) {
	s, err := Open(storetest.Folder(t))
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	var names []string
	if err := s.read.Raw("SELECT name FROM sqlite_master WHERE type = 'table' AND name NOT LIKE 'sqlite_%'").Scan(&names).Error; err != nil {
		t.Fatal(err)
	}
	for _, name := range names {
		_, copied := rehearsed[name]
		if copied == slices.Contains(notRehearsed, name) {
			t.Errorf("%s: is it copied (%v) or not?", name, copied)
		}
	}
	if n := len(rehearsed) + len(notRehearsed); n != len(names) {
		t.Errorf("%d tables are named, and there are %d", n, len(names))
	}
}

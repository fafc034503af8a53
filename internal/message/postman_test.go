package message

import (
	"context"
	"errors"
	"slices"
	"testing"
	"time"

	"ruvo/internal/port"
	"ruvo/internal/store"
	"ruvo/internal/storetest"
)

// flaky refuses mails to one address for some tries.
type flaky struct {
	to        string
	failures  int
	delivered []string
}

func (f *flaky) Send(_ context.Context, m port.Mail) error {
	if m.To == f.to && f.failures > 0 {
		f.failures--
		return errors.New("no such box")
	}
	f.delivered = append(f.delivered, m.Key)
	return nil
}

// SendText implements port.Texter.
func (f *flaky) SendText(_ context.Context, t port.Text) error {
	f.delivered = append(f.delivered, t.To+" "+t.Body)
	return nil
}

// Each message goes out by its own way.
func TestMailAndTextMessages(t *testing.T) {
	s, err := store.Open(storetest.Folder(t))
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	if err := s.Write(t.Context(), func(tx *store.Tx) error {
		return errors.Join(
			tx.WriteMessage(store.Message{Key: "a", Way: store.ByMail, Recipient: "a@example.org", Subject: "S", Body: "mail"}),
			tx.WriteMessage(store.Message{Key: "b", Way: store.ByText, Recipient: "+493023125014", Body: "text"}),
		)
	}); err != nil {
		t.Fatal(err)
	}
	mails, texts := &flaky{}, &flaky{}
	post := &Postman{Store: s, Mailer: mails, Texter: texts, Now: time.Now}
	for range 2 {
		if err := post.Round(t.Context()); err != nil {
			t.Fatal(err)
		}
	}
	if !slices.Equal(mails.delivered, []string{"a"}) || !slices.Equal(texts.delivered, []string{"+493023125014 text"}) {
		t.Errorf("by mail %v, as text %v", mails.delivered, texts.delivered)
	}
}

// A mail that fails holds up no other; it is tried again after pauses that grow,
// and goes out once in the end.
func TestOneFailingMailHoldsUpNoOther(t *testing.T) {
	s, err := store.Open(storetest.Folder(t))
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	at := time.Date(2026, 11, 24, 9, 0, 0, 0, time.UTC)
	if err := s.Write(t.Context(), func(tx *store.Tx) error {
		for _, k := range []string{"a", "b", "c"} {
			if err := tx.WriteMessage(store.Message{Key: k, Recipient: k + "@example.org", CreatedAt: at}); err != nil {
				return err
			}
		}
		return nil
	}); err != nil {
		t.Fatal(err)
	}
	mailer := &flaky{to: "a@example.org", failures: 3}
	post := &Postman{Store: s, Mailer: mailer, Now: func() time.Time { return at }}
	var rounds []string
	for second := range 120 {
		before := len(mailer.delivered)
		failed := mailer.failures
		at = at.Add(time.Second)
		if err := post.Round(t.Context()); err != nil {
			t.Fatal(err)
		}
		rounds = append(rounds, mailer.delivered[before:]...)
		if mailer.failures != failed {
			rounds = append(rounds, time.Duration(second*int(time.Second)).String())
		}
	}
	want := []string{"b", "c", "0s", "5s", "15s", "a"} // pauses of 5, 10 and 20 s
	if len(rounds) != len(want) {
		t.Fatalf("%v, want %v", rounds, want)
	}
	for i := range want {
		if rounds[i] != want[i] {
			t.Errorf("%v, want %v", rounds, want)
		}
	}
	if err := s.Read(t.Context(), func(tx *store.Tx) error {
		rest, err := tx.MessagesToSend(at.Add(24*time.Hour), 10)
		if len(rest) != 0 {
			t.Errorf("still to send: %+v", rest)
		}
		return err
	}); err != nil {
		t.Error(err)
	}
}

package cards

import (
	"bytes"
	"context"
	"crypto/hmac"
	"crypto/sha256"
	"encoding/base64"
	"encoding/json"
	"fmt"
	"io"
	"log/slog"
	"net/http"
	"strconv"
	"time"

	"gorm.io/gorm"

	"ruvo/internal/core/ledger"
	"ruvo/internal/port"
)

// The heads of a notice: when it was sent, in seconds since 1970, and the
// HMAC-SHA256 over that instant, a full stop and the body, in base64.
const (
	headInstant   = "Simulated-Instant"
	headSignature = "Simulated-Signature"
)

const largestNotice = 4 << 10 // bytes

// A letter is the body of a notice.
type letter struct {
	ID      string       `json:"id"`
	Attempt string       `json:"attempt"`
	State   ledger.State `json:"state"`
}

// tell puts a notice about a movement on its way, as the service was told to
// send them.
func (s *Service) tell(tx *gorm.DB, b Behaviour, m movement) error {
	if s.Notices == "" || b.Notices == NoticeNever {
		return nil
	}
	id := random()
	body, err := json.Marshal(letter{id, m.Attempt, m.State})
	if err != nil {
		return err
	}
	now := s.now().UTC()
	due := []time.Time{now}
	switch b.Notices {
	case NoticeAfter:
		due = []time.Time{now.Add(3 * time.Second)}
	case NoticeTwice:
		due = []time.Time{now, now.Add(3 * time.Second)}
	case NoticeLate:
		due = []time.Time{now.Add(time.Minute)}
	case NoticeShuffled: // that a payment was begun comes after what became of it
		if m.State == ledger.Confirm {
			due = []time.Time{now.Add(time.Minute)}
		}
	}
	for _, at := range due {
		if err := tx.Create(&errand{Notice: id, Body: string(body), DueAt: at}).Error; err != nil {
			return err
		}
	}
	return nil
}

// mostTries is after how many tries a notice is given up.
const mostTries = 12

// Deliver sends the notices whose time has come; what does not arrive is sent
// again after pauses that grow.
func (s *Service) Deliver(ctx context.Context) error {
	var due []errand
	if err := s.db.WithContext(ctx).Where("due_at <= ?", s.now().UTC()).Order("due_at, id").Limit(500).Find(&due).Error; err != nil {
		return err
	}
	for _, e := range due {
		err := s.send(ctx, e)
		if err == nil || e.Tries+1 >= mostTries {
			if err := s.db.WithContext(ctx).Delete(&e).Error; err != nil {
				return err
			}
			continue
		}
		e.Tries, e.DueAt = e.Tries+1, s.now().UTC().Add(port.Pause(e.Tries))
		if err := s.db.WithContext(ctx).Save(&e).Error; err != nil {
			return err
		}
	}
	return nil
}

func (s *Service) send(ctx context.Context, e errand) error {
	req, err := http.NewRequestWithContext(ctx, http.MethodPost, s.Notices, bytes.NewReader([]byte(e.Body)))
	if err != nil {
		return err
	}
	req.Header.Set("Content-Type", "application/json")
	s.Sign(req.Header, []byte(e.Body))
	res, err := s.Client.Do(req)
	if err != nil {
		return err
	}
	defer res.Body.Close()
	if _, err := io.Copy(io.Discard, io.LimitReader(res.Body, largestNotice)); err != nil {
		return err
	}
	if res.StatusCode/100 != 2 {
		return fmt.Errorf("the shop answered a notice with %d", res.StatusCode)
	}
	return nil
}

// Sign signs a body as sent now.
func (s *Service) Sign(head http.Header, body []byte) {
	instant := strconv.FormatInt(s.now().Unix(), 10)
	head.Set(headInstant, instant)
	head.Set(headSignature, base64.StdEncoding.EncodeToString(s.mac(instant, body)))
}

func (s *Service) mac(instant string, body []byte) []byte {
	h := hmac.New(sha256.New, s.secret)
	h.Write([]byte(instant))
	h.Write([]byte{'.'})
	h.Write(body)
	return h.Sum(nil)
}

// Notice implements port.Payments.
func (s *Service) Notice(head http.Header, body []byte, now time.Time) (port.Notice, error) {
	instant := head.Get(headInstant)
	given, err := base64.StdEncoding.DecodeString(head.Get(headSignature))
	if err != nil || !hmac.Equal(given, s.mac(instant, body)) {
		return port.Notice{}, port.ErrForged
	}
	seconds, err := strconv.ParseInt(instant, 10, 64)
	if err != nil {
		return port.Notice{}, port.ErrMalformed
	}
	if off := now.Sub(time.Unix(seconds, 0)); off.Abs() > port.NoticeTolerance {
		return port.Notice{}, port.ErrStale
	}
	var l letter
	if json.Unmarshal(body, &l) != nil || l.ID == "" || l.Attempt == "" || len(l.ID) > 100 || len(l.Attempt) > 100 {
		return port.Notice{}, port.ErrMalformed
	}
	return port.Notice{ID: l.ID, Attempt: l.Attempt}, nil
}

// Run delivers notices, and gives back what it was told to give back later,
// until the context ends, looking every interval.
func (s *Service) Run(ctx context.Context, interval time.Duration) {
	tick := time.NewTicker(interval)
	defer tick.Stop()
	for {
		select {
		case <-ctx.Done():
			return
		case <-tick.C:
		}
		for _, do := range []func(context.Context) error{s.Late, s.Deliver} {
			if err := do(ctx); err != nil && ctx.Err() == nil {
				slog.Error("the simulated payment service", "error", err)
			}
		}
	}
}

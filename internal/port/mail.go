package port

import "context"

// A Mail is what is sent to one address. Sending the same key twice must
// deliver once.
type Mail struct {
	Key      string
	To       string
	Subject  string
	Body     string // plain text
	Pictures []Picture
	Calendar string // that goes along (RFC 5545); empty for none
}

// A Picture goes along with a mail, as a file of its own.
type Picture struct {
	Name string
	PNG  []byte
}

// A Mailer is the port to whoever delivers mail.
type Mailer interface {
	Send(ctx context.Context, m Mail) error
}

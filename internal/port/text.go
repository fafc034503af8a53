package port

import "context"

// A Text is a text message to one phone. Sending the same key twice must
// deliver once.
type Text struct {
	Key  string
	To   string // E.164
	Body string
}

// A Texter is the port to whoever delivers text messages.
type Texter interface {
	SendText(ctx context.Context, t Text) error
}

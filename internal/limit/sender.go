package limit

import (
	"context"
	"net/netip"
)

type contextKey struct{}

// WithSender tells who a request came from: an IP address.
func WithSender(ctx context.Context, address string) context.Context {
	return context.WithValue(ctx, contextKey{}, address)
}

// Address gives the address that a request came from; empty when it came from
// nowhere, as what runs by itself does.
func Address(ctx context.Context) string {
	address, _ := ctx.Value(contextKey{}).(string)
	return address
}

// Sender gives the one whom an address stands for: with IPv6 a subscriber has
// a network of 64 bits and may take any address within (RFC 6177 and common
// practice).
func Sender(ctx context.Context) string {
	address := Address(ctx)
	ip, err := netip.ParseAddr(address)
	if err != nil {
		return address
	}
	ip = ip.Unmap().WithZone("")
	if ip.Is4() {
		return ip.String()
	}
	net, err := ip.Prefix(64)
	if err != nil {
		return address
	}
	return net.String()
}

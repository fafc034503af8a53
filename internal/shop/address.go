package shop

import (
	"context"
	"net"
	"net/url"
	"strings"

	"ruvo/internal/store"
)

type originKey struct{}

// WithOrigin notes the origin that a browser says its page has.
func WithOrigin(ctx context.Context, origin string) context.Context {
	return context.WithValue(ctx, originKey{}, origin)
}

// address gives where the customer reaches the shop, without a slash at the
// end: what their browser says, when that is only another name of this machine,
// as in the demo; otherwise what the business says. What a browser says is
// never believed about another host, which a customer could be led to.
func (s *Shop) address(ctx context.Context, b store.Business) string {
	origin, _ := ctx.Value(originKey{}).(string)
	u, err := url.Parse(origin)
	if err == nil && u.Scheme == "http" && u.Path == "" && u.User == nil {
		if ip := net.ParseIP(u.Hostname()); u.Hostname() == "localhost" || ip != nil && ip.IsLoopback() {
			return origin + pathOf(b.Address)
		}
	}
	return b.Address
}

// pathOf gives the path of an address: empty, unless the shop lies under one.
func pathOf(address string) string {
	u, err := url.Parse(address)
	if err != nil {
		return ""
	}
	return strings.TrimSuffix(u.Path, "/")
}

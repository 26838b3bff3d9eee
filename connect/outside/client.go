package outside

import (
	"context"
	"errors"
	"net"
	"net/http"
	"net/netip"
	"syscall"
	"time"

	"amvek/connect"
)

// errOwnMachine is a failure of what would call the hub's own machine where that was not allowed.
var errOwnMachine = errors.New("it leads to this machine itself or to a link-local address; allow that where the address stands, if you mean it")

// connectLimit bounds how long a connection may take to be made.
const connectLimit = 10 * time.Second

// Client returns a client that does not follow where an answer leads. Unless ownMachine says so, it calls no address of the
// machine that it runs on, and none that is good only on its own link (RFC 3927, RFC 4291 §2.5.6): that is decided by the
// address itself, whatever name it was found under.
func Client(ownMachine bool) *http.Client {
	dialer := &net.Dialer{Timeout: connectLimit}
	if !ownMachine {
		dialer.ControlContext = func(_ context.Context, _, address string, _ syscall.RawConn) error {
			to, err := netip.ParseAddrPort(address)
			if err == nil && connect.OwnAddress(to.Addr().Unmap()) {
				return errOwnMachine
			}
			return err
		}
	}
	return &http.Client{
		Transport:     &http.Transport{DialContext: dialer.DialContext, TLSHandshakeTimeout: connectLimit, IdleConnTimeout: time.Minute, MaxIdleConns: 20},
		CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse },
	}
}

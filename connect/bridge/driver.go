package bridge

import (
	"context"
	"errors"

	"amvek/connect"
	"amvek/core/thing"
)

// Driver makes connections to bridges.
func Driver() connect.Driver {
	return connect.Driver{
		Kind:  "bridge",
		Words: "Bridge over HTTP, with a key",
		Open: func(to connect.Access, profiles func(model string) *thing.Model) connect.Connection {
			return New(to.Address, to.Key, to.Serial, profiles)
		},
		Probe: func(ctx context.Context, address string) (connect.Box, error) {
			about, err := Probe(ctx, address)
			switch {
			case errors.Is(err, ErrNotABridge):
				err = connect.ErrStranger
			case errors.Is(err, ErrUnreachable):
				err = connect.CountsAs(connect.ErrNobody, err)
			}
			return connect.Box{Serial: about.Serial, Title: about.Label, Firmware: about.Firmware}, err
		},
		Pair: &connect.Pairing{RequestKey: RequestKey, Count: Count},
	}
}

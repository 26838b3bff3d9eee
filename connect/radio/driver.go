package radio

import (
	"context"
	"errors"

	"amvek/connect"
	"amvek/core/thing"
)

// Driver makes connections to transceivers.
func Driver() connect.Driver {
	return connect.Driver{
		Kind:  "transceiver",
		Words: "Transceiver for one-way radio, over TCP",
		Open: func(to connect.Access, profiles func(model string) *thing.Model) connect.Connection {
			return New(to.Address, profiles)
		},
		Probe: func(ctx context.Context, address string) (connect.Box, error) {
			about, err := Probe(ctx, address)
			switch {
			case errors.Is(err, ErrNotATransceiver):
				err = connect.ErrStranger
			case err != nil:
				err = connect.CountsAs(connect.ErrNobody, err)
			}
			return connect.Box{Serial: about.Serial, Title: "Haskett transceiver"}, err
		},
	}
}

package mqtt

import (
	"context"

	"amvek/connect"
	"amvek/core/thing"
)

// Kind is that of a broker elsewhere.
const Kind = "broker"

// Driver makes connections to brokers elsewhere.
func Driver() connect.Driver {
	external := func(to connect.Access) External {
		return External{Address: to.Address, User: to.User, Password: to.Key, TLS: to.TLS, Authority: to.Authority}
	}
	return connect.Driver{
		Kind:  Kind,
		Words: "MQTT broker elsewhere",
		Open: func(to connect.Access, profiles func(model string) *thing.Model) connect.Connection {
			return NewExternal(external(to), profiles)
		},
		Try: func(ctx context.Context, to connect.Access) (string, error) {
			return "Broker at " + to.Address, TryJoin(ctx, external(to))
		},
	}
}

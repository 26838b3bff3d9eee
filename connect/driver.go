package connect

import (
	"context"
	"errors"

	"amvek/core/thing"
)

// What can be found out of an address by probing it.
var (
	// ErrNobody says that nothing answers at an address.
	ErrNobody = errors.New("nothing answers there")
	// ErrStranger says that something answers which is not what was asked for.
	ErrStranger = errors.New("something answers at this address, but it is nothing that the hub knows how to speak with")
	// ErrNotPressed says that a box gives its key only once its button was pressed.
	ErrNotPressed = errors.New("the button has not been pressed")
)

// CountsAs returns an error that says what err says, and is kind as well.
func CountsAs(kind, err error) error { return countsAs{kind, err} }

type countsAs struct{ kind, err error }

func (c countsAs) Error() string   { return c.err.Error() }
func (c countsAs) Unwrap() []error { return []error{c.kind, c.err} }

// Access is how something elsewhere is reached.
type Access struct {
	// Address is host and port, or a whole address where the driver wants one.
	Address string
	// Key is a key or a password, User what goes with it.
	User, Key string
	// Serial is of the box that is to answer there.
	Serial string
	// TLS says that the way is encrypted, Authority is a certificate (PEM) to trust besides the system's.
	TLS       bool
	Authority string
}

// Box is what answers at an address.
type Box struct{ Serial, Title, Firmware string }

// Driver makes the connections of one kind. The hub knows drivers by their kind alone.
type Driver struct {
	// Kind is kept with each connection, so it does not change.
	Kind string
	// Words say what kind of way it is, in lists.
	Words string
	// Whole says that it is reached at a whole address, such as https://…, and not at host and port.
	Whole bool
	// Open makes a connection; profiles finds the profile of a model.
	Open func(to Access, profiles func(model string) *thing.Model) Connection
	// Probe asks which box answers at an address: [ErrNobody], or [ErrStranger], or why it cannot be told. It is nil for
	// what cannot be recognized.
	Probe func(ctx context.Context, address string) (Box, error)
	// Try proves that a connection could be opened and returns a title for it, where nothing is recognized by probing.
	Try func(ctx context.Context, to Access) (title string, err error)
	// Pair is how a box gives its key by the press of its button; nil for what has no button.
	Pair *Pairing
}

// Pairing is how a box gives its key.
type Pairing struct {
	// RequestKey asks for the key: [ErrNotPressed] until the button was pressed.
	RequestKey func(ctx context.Context, address string) (key string, err error)
	// Count proves a key and returns how many devices the box has.
	Count func(ctx context.Context, address, key string) (int, error)
}

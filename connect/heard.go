package connect

import "context"

// Message is what went over a connection, as it went.
type Message struct {
	// Sent says that the hub sent it; else it came in.
	Sent bool
	// Place is where it went or came from: a topic, a request's method and path, an address.
	Place string
	// Body is what was said, with no key in it. Whoever tells of it does not change it afterwards.
	Body []byte
}

// Listener is a sink that wants to know what goes over its connection.
type Listener interface {
	Sink
	// Heard takes a message, and returns the sink that is to be told what it became.
	Heard(m Message) Sink
	// Again returns the sink that is to be told what was said before.
	Again() Sink
}

// Heard tells a sink of a message that came in, if it wants to know, and returns the one to tell what that became.
func Heard(sink Sink, place string, body []byte) Sink {
	if l, listens := sink.(Listener); listens {
		return l.Heard(Message{Place: place, Body: body})
	}
	return sink
}

// Again returns the sink to tell what an answer says that is the same as before: it is no news to whoever listens.
func Again(sink Sink) Sink {
	if l, listens := sink.(Listener); listens {
		return l.Again()
	}
	return sink
}

type sendingKey struct{}

// Sending returns a context in which f is told what is sent by [Sent].
func Sending(ctx context.Context, f func(m Message)) context.Context {
	return context.WithValue(ctx, sendingKey{}, f)
}

// Sent tells what is sent: whoever gave the context, such as with a command, or else the sink, if it wants to know. The sink
// may be nil.
func Sent(ctx context.Context, sink Sink, place string, body []byte) {
	m := Message{Sent: true, Place: place, Body: body}
	if f, is := ctx.Value(sendingKey{}).(func(Message)); is {
		f(m)
		return
	}
	if l, listens := sink.(Listener); listens {
		l.Heard(m)
	}
}

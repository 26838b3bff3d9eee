package thing

import (
	"encoding/json"
	"fmt"
	"slices"
	"strings"
)

// Op is an operation that a form is for (W3C Thing Description 1.1 §5.3.4.2).
type Op string

// The operations that are used.
const (
	OpRead      Op = "readproperty"
	OpWrite     Op = "writeproperty"
	OpObserve   Op = "observeproperty"
	OpInvoke    Op = "invokeaction"
	OpSubscribe Op = "subscribeevent"
)

// Ops is one operation or a list of them, as "op" may be written.
type Ops []Op

// UnmarshalJSON implements [json.Unmarshaler].
func (o *Ops) UnmarshalJSON(data []byte) error {
	var one Op
	if json.Unmarshal(data, &one) == nil {
		*o = Ops{one}
		return nil
	}
	var many []Op
	if err := json.Unmarshal(data, &many); err != nil {
		return fmt.Errorf(`"op" is neither a text nor a list of texts`)
	}
	*o = many
	return nil
}

// Header is a header of an HTTP request (HTTP Vocabulary in RDF 1.0, W3C).
type Header struct {
	Name  string `json:"htv:fieldName" minLength:"1" maxLength:"100"`
	Value string `json:"htv:fieldValue" maxLength:"2000"`
}

// Form says how an affordance is reached (W3C Thing Description 1.1 §5.3.4.2), over HTTP, over
// MQTT (by the MQTT binding's terms) or by messages on a line of TCP (by terms of our own, with [Line]).
// In a message, a body, a header and an address, {value} is the place of the value that is set, and {NAME} that of an
// action's input or of what another property is at.
type Form struct {
	Href        string `json:"href,omitempty"`
	Op          Ops    `json:"op,omitempty"`
	ContentType string `json:"contentType,omitempty"`
	Subprotocol string `json:"subprotocol,omitempty"`
	// Method is the HTTP method, where it is not the one that the operation implies.
	Method  string   `json:"htv:methodName,omitempty"`
	Headers []Header `json:"htv:headers,omitempty"`
	// Topic is published to, Filter subscribed to.
	Topic  string `json:"mqv:topic,omitempty"`
	Filter string `json:"mqv:filter,omitempty"`
	Retain bool   `json:"mqv:retain,omitempty"`
	// Query is a message that asks for the value, Reply a pattern (RE2) whose first group is the value
	// in what is answered or told, and Send a message that sets it. Over HTTP, Reply reads a body that is not JSON.
	Query string `json:"amvek:query,omitempty"`
	Reply string `json:"amvek:reply,omitempty"`
	Send  string `json:"amvek:send,omitempty"`
	// PollSeconds says how often to ask where nothing tells of changes.
	PollSeconds float64 `json:"amvek:pollSeconds,omitempty"`
	// Body is the payload to send; without it the fields as JSON.
	Body string `json:"amvek:body,omitempty"`
}

// Scheme returns the scheme of the form's address, "" where it has none.
func (f *Form) Scheme() string {
	scheme, _, there := strings.Cut(f.Href, ":")
	if !there || strings.ContainsAny(scheme, "/{") {
		return ""
	}
	return strings.ToLower(scheme)
}

// Form returns the form for an operation on an affordance, such as "properties/power", or nil. A
// form without operations is for those that its kind of affordance implies.
func (m *Model) Form(affordance string, op Op) *Form {
	forms := m.Forms[affordance]
	for i := range forms {
		if slices.Contains(forms[i].Op, op) {
			return &forms[i]
		}
	}
	for i := range forms {
		if len(forms[i].Op) == 0 && op != OpObserve {
			return &forms[i]
		}
	}
	return nil
}

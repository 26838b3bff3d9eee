// Package compose makes a device of what its owner chose: the fields of a payload on a topic, of what an address answers, or of
// the messages on a line of TCP, with what sets them. It writes the Thing Model that describes such a device, and finds what in
// what a device says may count. It speaks with nothing, and keeps nothing.
package compose

import (
	"fmt"
	"net"
	"net/http"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"amvek/core/address"
	"amvek/core/thing"
)

// Sending is what is sent to read or to set a value, or to have something done. Over MQTT it is a payload on a topic, over HTTP a
// request, over a line of TCP a message. {value} stands for the value that is set, {NAME} for what another value is at.
type Sending struct {
	Topic       string         `json:"topic,omitempty" maxLength:"500"`
	Address     string         `json:"address,omitempty" maxLength:"2000" doc:"Of a request; absent for the device's own."`
	Method      string         `json:"method,omitempty" enum:"GET,POST,PUT,PATCH,DELETE"`
	Headers     []thing.Header `json:"headers,omitempty" maxItems:"20"`
	ContentType string         `json:"contentType,omitempty" maxLength:"100"`
	Body        string         `json:"body,omitempty" maxLength:"4000" doc:"The payload, the body of a request, or the message. In messages on a line, \\r, \\n, \\t and \\xHH stand for what cannot be typed."`
}

// Picked is a value that the owner chose to be a property, or a message to be an event.
type Picked struct {
	// Pointer leads to it in JSON; Pattern finds it in a text.
	Pointer string `json:"pointer,omitempty" maxLength:"500" doc:"JSON Pointer (RFC 6901) to the value; empty is the whole."`
	Pattern string `json:"pattern,omitempty" maxLength:"500" doc:"Pattern (RE2) that finds the value in a text by its first group, in place of a pointer."`
	// Event says that it is not a state but something that happens, each time that the pattern fits.
	Event bool `json:"event,omitempty"`
	// SetOnly says that it is set and never read.
	SetOnly bool       `json:"setOnly,omitempty"`
	Title   string     `json:"title" minLength:"1" maxLength:"80"`
	Type    thing.Type `json:"type" enum:"boolean,number,text"`
	Role    thing.Role `json:"role,omitempty"`
	Unit    thing.Unit `json:"unit,omitempty" maxLength:"20"`
	// Factor multiplies the device's number to give the unit; 0 leaves it.
	Factor float64 `json:"factor,omitempty"`
	// From and To are the ends of the device's own numbers, where they are known; in percent, From means 0 % and To 100 %.
	From *float64 `json:"from,omitempty"`
	To   *float64 `json:"to,omitempty"`
	// Words are the device's words for no and yes, where it writes words.
	Words []string `json:"words,omitempty" maxItems:"2"`
	// Choices are all that a text can be, where they are known.
	Choices []string `json:"choices,omitempty" maxItems:"50"`
	// Read is how it is asked for; absent where the device tells it by itself, or with the rest.
	Read *Sending `json:"read,omitempty"`
	// Set is how it is set; absent for what is read only.
	Set *Sending `json:"set,omitempty"`
}

// Command is something that the device can be asked to do.
type Command struct {
	Title string  `json:"title" minLength:"1" maxLength:"80"`
	Send  Sending `json:"send"`
}

// Security is how a device wants to be shown a key.
type Security struct {
	Scheme string `json:"scheme" enum:"basic,digest,bearer,apikey"`
	// In and Name say where an API key stands.
	In   string `json:"in,omitempty" enum:"header,query"`
	Name string `json:"name,omitempty" maxLength:"100"`
}

// Composed is a device that the owner makes of a topic, of an address that is asked over HTTP, or of a line of TCP.
type Composed struct {
	Title      string `json:"title" minLength:"1" maxLength:"80"`
	Connection string `json:"connection,omitempty" doc:"The broker's connection; absent for an address."`
	Topic      string `json:"topic,omitempty" maxLength:"500"`
	Address    string `json:"address,omitempty" maxLength:"2000" doc:"http://… or https://…, or host and port of a line."`
	// Read is how the address is read, where that is not a plain GET.
	Read *Sending `json:"read,omitempty"`
	// PollSeconds is how often the address is read, or the line asked.
	PollSeconds float64 `json:"pollSeconds,omitempty" minimum:"0" maximum:"86400"`
	// Line says how messages are told apart; absent for what is no line.
	Line *thing.Line `json:"line,omitempty"`
	// Security, User and Key are of a device that wants a key; the key is kept apart, encrypted.
	Security *Security `json:"security,omitempty"`
	User     string    `json:"user,omitempty" maxLength:"200"`
	Key      string    `json:"key,omitempty" maxLength:"500"`
	Fields   []Picked  `json:"fields,omitempty" maxItems:"50"`
	Commands []Command `json:"commands,omitempty" maxItems:"50"`
	// Profile is the model of a profile made before, in place of fields.
	Profile string `json:"profile,omitempty" maxLength:"200"`
}

// Error says what is wrong with a device that is composed, and where.
type Error struct {
	// Field is the path of what is wrong, such as fields[2].set.address.
	Field, Message string
}

func (e *Error) Error() string { return e.Field + ": " + e.Message }

func wrong(field, format string, args ...any) error {
	return &Error{field, fmt.Sprintf(format, args...)}
}

// Way is how a composed device is reached.
type Way int

// The ways.
const (
	OverTopic Way = iota
	OverHTTP
	OverLine
)

// Way returns how the device is reached.
func (c *Composed) Way() Way {
	switch {
	case c.Topic != "":
		return OverTopic
	case c.Line != nil:
		return OverLine
	}
	return OverHTTP
}

// CheckReach returns an [Error] when the device could not be spoken with. It writes the address as it is used.
func (c *Composed) CheckReach() error {
	c.Address = strings.TrimSpace(c.Address)
	if (c.Topic != "") == (c.Address != "") {
		return wrong("topic", "Choose a topic, or an address.")
	}
	switch c.Way() {
	case OverHTTP:
		if !web(c.Address) {
			return wrong("address", "This is not an address that begins with http:// or https://.")
		}
	case OverLine:
		c.Address = strings.TrimPrefix(c.Address, "tcp://")
		if err := checkLine(c.Address, c.Line); err != nil {
			return err
		}
	}
	if c.Read != nil {
		if err := c.checkMessage("read", c.Read, false); err != nil {
			return err
		}
	}
	return c.checkSecurity()
}

// Check returns an [Error] when no device can be made.
func (c *Composed) Check() error {
	if err := c.CheckReach(); err != nil {
		return err
	}
	if c.Profile == "" && len(c.Fields)+len(c.Commands) == 0 {
		return wrong("fields", "Choose at least one value.")
	}
	for i := range c.Fields {
		if err := c.checkField(fmt.Sprintf("fields[%d]", i), &c.Fields[i]); err != nil {
			return err
		}
	}
	for i := range c.Commands {
		if err := c.checkMessage(fmt.Sprintf("commands[%d].send", i), &c.Commands[i].Send, true); err != nil {
			return err
		}
	}
	return nil
}

func web(at string) bool {
	return strings.HasPrefix(at, "http://") || strings.HasPrefix(at, "https://")
}

func checkLine(at string, line *thing.Line) error {
	host, port, err := net.SplitHostPort(at)
	number, bad := strconv.Atoi(port)
	if err != nil || host == "" || bad != nil || number < 1 || number > 65535 || strings.ContainsAny(host, "@/?# ") {
		return wrong("address", "%q is not host and port, such as 192.168.1.20:23.", at)
	}
	for name, pattern := range map[string]string{"line.accepted": line.Accepted, "line.refused": line.Refused} {
		if _, err := regexp.Compile(pattern); err != nil && (name != "line.refused" || !line.JSON) {
			return wrong(name, "This is no pattern: %s.", strings.TrimPrefix(err.Error(), "error parsing regexp: "))
		}
	}
	for name, text := range map[string]string{"line.begin": line.Begin, "line.end": line.End} {
		if _, err := unescaped(text); err != nil {
			return wrong(name, "%q has an escape that is not known; there are \\r, \\n, \\t, \\\\ and \\xHH.", text)
		}
	}
	return nil
}

func (c *Composed) checkSecurity() error {
	switch s := c.Security; {
	case s == nil:
		return nil
	case c.Way() != OverHTTP:
		return wrong("security", "Only what is asked over HTTP is shown a key.")
	case s.Scheme == "apikey" && s.Name == "":
		return wrong("security.name", "Say what the header, or the part of the address, is called.")
	case c.Key == "" && c.Profile == "":
		return wrong("key", "Enter the key.")
	}
	return nil
}

func (c *Composed) checkField(at string, f *Picked) error {
	if f.Pattern != "" {
		pattern, err := regexp.Compile(f.Pattern)
		switch {
		case err != nil:
			return wrong(at+".pattern", "This is no pattern: %s.", strings.TrimPrefix(err.Error(), "error parsing regexp: "))
		case pattern.NumSubexp() < 1 && !f.Event:
			return wrong(at+".pattern", "The pattern needs a group in round brackets where the value stands.")
		}
	}
	switch {
	case f.Event && c.Way() != OverLine:
		return wrong(at+".event", "Only a line tells of events.")
	case f.Event && f.Pattern == "":
		return wrong(at+".pattern", "Say which message tells of it.")
	case f.SetOnly && f.Set == nil:
		return wrong(at+".set", "Say how it is set.")
	case !f.SetOnly && !f.Event && f.Pattern == "" && c.Way() == OverLine && !c.Line.JSON:
		return wrong(at+".pattern", "Say how it is found in what the device says.")
	case (f.From == nil) != (f.To == nil), f.From != nil && *f.From == *f.To:
		return wrong(at+".from", "A range has two different ends.")
	case f.From != nil && f.Factor != 0:
		return wrong(at+".factor", "A value has a range or a factor.")
	}
	if f.Read != nil {
		if err := c.checkMessage(at+".read", f.Read, false); err != nil {
			return err
		}
	}
	if f.Set == nil {
		return nil
	}
	if err := c.checkMessage(at+".set", f.Set, true); err != nil {
		return err
	}
	if !slices.Contains(thing.PlacesIn(c.written(f.Set)...), thing.ValuePlace) && (c.Way() != OverTopic || f.Set.Body != "") {
		return wrong(at+".set", "Write {value} where the value stands.")
	}
	return nil
}

// written are all texts of a message.
func (c *Composed) written(m *Sending) []string {
	all := []string{m.Address, m.Body}
	for _, h := range m.Headers {
		all = append(all, h.Value)
	}
	return all
}

// secret are headers in which a key stands.
var secret = []string{"Authorization", "Proxy-Authorization", "Cookie"}

func (c *Composed) checkMessage(at string, m *Sending, sends bool) error {
	switch way := c.Way(); {
	case way == OverTopic && sends && (m.Topic == "" || strings.ContainsAny(m.Topic, "+#")):
		return wrong(at+".topic", "A message goes to one topic, without + and #.")
	case way == OverLine && m.Body == "":
		return wrong(at+".body", "Say what is sent.")
	case way == OverLine && !c.Line.JSON:
		if _, err := unescaped(m.Body); err != nil {
			return wrong(at+".body", "%q has an escape that is not known; there are \\r, \\n, \\t, \\\\ and \\xHH.", m.Body)
		}
	case way == OverHTTP && m.Address != "" && !web(m.Address):
		return wrong(at+".address", "This is not an address that begins with http:// or https://.")
	case way == OverHTTP && m.Method == http.MethodGet && m.Body != "":
		return wrong(at+".body", "A request by GET carries no body.")
	}
	for i, h := range m.Headers {
		place := fmt.Sprintf("%s.headers[%d]", at, i)
		if slices.ContainsFunc(secret, func(name string) bool { return strings.EqualFold(name, h.Name) }) {
			return wrong(place, "Enter the key by itself, above: there it is kept encrypted.")
		}
		if h.Name == "" || strings.ContainsAny(h.Name, " :\r\n") || strings.ContainsAny(h.Value, "\r\n") {
			return wrong(place, "%q is no header.", h.Name)
		}
	}
	if rest := strings.Replace(m.Address, PlaceOf(*c), "", 1); c.Way() == OverHTTP && rest != "" && keyed(c, m.Address) {
		return wrong(at+".address", "There is a key in this address: enter it by itself, above, where it is kept encrypted.")
	}
	return nil
}

// keyed reports whether an address carries something that gives access outside of the part that is kept apart.
func keyed(c *Composed, at string) bool {
	place := PlaceOf(*c)
	if strings.HasPrefix(at, place) && len(place) > len(address.Origin(at)) && len(at) == len(place) {
		return false
	}
	hidden, err := address.Hide(at, func(address.Part) string { return "" })
	return err != nil || hidden != at
}

var escapes = regexp.MustCompile(`\\(r|n|t|\\|x[0-9A-Fa-f]{2}|.|$)`)

// unescaped writes what cannot be typed where its escape stands.
func unescaped(text string) (string, error) {
	var bad error
	return escapes.ReplaceAllStringFunc(text, func(escape string) string {
		plain, err := strconv.Unquote(`"` + escape + `"`)
		if err != nil {
			bad = err
		}
		return plain
	}), bad
}

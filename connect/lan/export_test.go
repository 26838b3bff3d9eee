package lan

import "amvek/core/thing"

// Hear lets a test read a line as a session does.
func Hear(m *thing.Model, line string) {
	t, err := newTranslator(m)
	if err != nil {
		panic(err)
	}
	fields, _, _ := t.hear(line)
	_ = m.Tell(fields, func(string, thing.Value) {}, func(string, thing.Value) {})
}

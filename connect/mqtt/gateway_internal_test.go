package mqtt

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/connect"
	"amvek/connect/connecttest"
)

func FuzzSay(f *testing.F) {
	g := NewGateways(nil, connecttest.Profiles(f))
	g.sink = connecttest.NewHeard()
	require.NoError(f, g.roster("g", []byte(`{"nodes":[{"node":"n1","model":"QM-2","hardware":"h1"},{"node":"n2","model":"QD-1","hardware":"h2"}]}`)))
	f.Add([]byte(`{"mv":1,"lx":32}`))
	f.Add([]byte(`{"tn":null}`))
	f.Fuzz(func(_ *testing.T, payload []byte) {
		_ = g.say(connect.Silence{}, "g/n1", payload)
		_ = g.say(connect.Silence{}, "g/n2", payload)
	})
}

func TestCovers(t *testing.T) {
	for _, c := range []struct {
		filter, topic string
		covered       bool
	}{
		{"quillet/g1/#", "quillet/g1/n1/say", true}, {"quillet/g1/#", "quillet/g2/n1/say", false}, {"quillet/g1/#", "quillet/#", false},
		{"quillet/g1/+/ask", "quillet/g1/+/ask", true}, {"quillet/g1/+/ask", "quillet/g1/n1/ask", true}, {"quillet/g1/+/ask", "quillet/g1/n1/say", false},
		{"quillet/g1/n1/ask", "quillet/g1/+/ask", false}, {"a/b", "a/b/c", false}, {"a/b/c", "a/b", false}, {"#", "$SYS/x", true},
		{"a/#", "a", true}, {"a/#", "a/b/c", true}, {"a/#", "b", false}, {"a/+", "a", false}, {"+", "a/b", false}, {"+/+", "a/b", true}, {"+", "#", false},
	} {
		assert.Equal(t, c.covered, covers(c.filter, c.topic), "%s and %s", c.filter, c.topic)
	}
}

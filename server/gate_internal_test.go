package server

import (
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/gate"
	"amvek/hub"
)

type described struct {
	Paths      map[string]map[string]struct{ OperationID string }
	Components struct {
		Schemas map[string]struct {
			Properties map[string]json.RawMessage
		}
	}
}

func openAPI(t *testing.T) (d described) {
	data, err := Document("test")
	require.NoError(t, err)
	require.NoError(t, json.Unmarshal(data, &d))
	return d
}

func TestWhatEachOperationNeedsIsSaid(t *testing.T) {
	there := map[string]bool{}
	for path, methods := range openAPI(t).Paths {
		for method, operation := range methods {
			there[operation.OperationID] = true
			n, named := needs[operation.OperationID]
			assert.True(t, named, "%s %s: nobody said what %s needs", method, path, operation.OperationID)
			if n.kind != "" {
				assert.Contains(t, path, "{id}", "%s is of one thing", operation.OperationID)
			}
			assert.Contains(t, append(gate.Permissions(), anyKind), n.permission)
			if n.permission == gate.See || n.permission == gate.Use {
				assert.NotEmpty(t, n.kind, "%s: of what?", operation.OperationID)
			}
		}
	}
	for id := range needs {
		assert.True(t, there[id], "there is no operation %s", id)
	}
	assert.Panics(t, func() { needsOf(map[gate.Permission][]string{gate.Read: {"home"}, gate.Own: {"home"}}, nil) })
}

func TestWhoIsToldOfEachKindIsSaid(t *testing.T) {
	told := append([]string{"clock", "property"}, hub.LookedAt()...)
	for kind := range openAPI(t).Components.Schemas["ShownEntries"].Properties {
		told = append(told, kind)
	}
	for _, kind := range told {
		assert.Contains(t, seen, kind)
	}
	for kind := range seen {
		assert.Contains(t, told, kind)
	}
}

// Whoever may not see all of the home is shown of each kind no member that was not chosen for them.
func TestWhatThoseAreShownWhoMayNotSeeAllIsChosen(t *testing.T) {
	nobody := caller{Principal: gate.Principal{Rank: gate.Operating, Within: &gate.Reach{}}}
	everything := caller{Principal: gate.Principal{Rank: gate.Operating, Within: &gate.Reach{Sees: map[gate.Thing]bool{}}}}
	for kind, permission := range seen {
		if permission == gate.See {
			everything.Within.Sees[gate.Thing{Kind: kind, ID: "one"}] = true
			assert.False(t, nobody.told(kind, "one", ""), kind)
			assert.True(t, everything.told(kind, "one", ""), kind)
			assert.False(t, everything.told(kind, "other", ""), kind)
		}
	}
	whole := json.RawMessage(`{"id":"r","title":"Lock up","note":"the key is under the pot","do":[{"kind":"web"}],"state":{"holds":true}}`)
	assert.JSONEq(t, `{"id":"r","title":"Lock up","state":{"holds":true},"when":[],"do":[],"labels":[],"usedBy":[]}`, string(trimmed("rule", whole, false)))
	assert.JSONEq(t, `{"state":{"holds":false}}`, string(trimmed("rule", json.RawMessage(`{"note":"x","do":[],"state":{"holds":false}}`), true)))
	assert.Contains(t, string(trimmed("rule", json.RawMessage(`{"whenever":{"device":"safe"}}`), false)), `"whenever":{"all":[]}`)
	assert.Nil(t, trimmed("rule", json.RawMessage(`{"note":"x"}`), true))
	assert.Nil(t, trimmed("rule", json.RawMessage(`nonsense`), false))
	assert.JSONEq(t, `{"latitude":0,"longitude":0,"namePattern":"","title":"Mill"}`,
		string(trimmed("home", json.RawMessage(`{"title":"Mill","latitude":51.5,"longitude":-2.6}`), false)))
	assert.Equal(t, `{"name":"on"}`, string(trimmed("property", json.RawMessage(`{"name":"on"}`), false)))
}

func TestWhatABrowserRunsOnIsSaidInAFewWords(t *testing.T) {
	for agent, said := range map[string]string{
		"Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/140.0 Safari/537.36":                  "Chrome on Linux",
		"Mozilla/5.0 (iPhone; CPU iPhone OS 26_0 like Mac OS X) AppleWebKit/605 (KHTML, like Gecko) Version/26 Safari/604.1": "Safari on iPhone",
		"Mozilla/5.0 (Windows NT 10.0) Gecko/20100101 Firefox/142.0":                                                         "Firefox on Windows",
		"curl/8":                          "Another program",
		"Mozilla/5.0 (Linux; Android 16)": "Android",
	} {
		assert.Equal(t, said, deviceOf(agent))
	}
	assert.Equal(t, "AB2C", plain(" ab-2c \n"))
}

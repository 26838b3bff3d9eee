package server_test

import (
	"context"
	"encoding/json"
	"fmt"
	"net/http"
	"regexp"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/connect"
	"amvek/core/almanac"
	"amvek/core/home"
	"amvek/core/light"
	"amvek/core/rule"
	"amvek/core/thing"
	"amvek/hub"
	"amvek/hub/docs"
)

// kilnWire is a connection to a kiln, which says what it was asked for.
type kilnWire struct {
	deaf
	sink  connect.Sink
	begun chan struct{}
	mu    sync.Mutex
	asked []string
}

func (w *kilnWire) Run(ctx context.Context, sink connect.Sink) {
	w.sink = sink
	sink.State(true, "")
	close(w.begun)
	<-ctx.Done()
}

func (w *kilnWire) note(what string) connect.Outcome {
	w.mu.Lock()
	defer w.mu.Unlock()
	w.asked = append(w.asked, what)
	return connect.Outcome{OK: true}
}

func (w *kilnWire) Write(_ context.Context, _, name string, v thing.Value, _ time.Duration) connect.Outcome {
	return w.note(name + " " + v.String())
}

func (w *kilnWire) Invoke(_ context.Context, _, name string, _ thing.Inputs) connect.Outcome {
	return w.note(name + "!")
}

// taken returns what was asked of the kiln since it was asked last.
func (w *kilnWire) taken() []string {
	w.mu.Lock()
	defer w.mu.Unlock()
	list := w.asked
	w.asked = nil
	return list
}

var pass = regexp.MustCompile(`<meta name="amvek-page" content="([^"]+)">`)

// TestWhoMaySetGoingWhatIsAttendedOnly goes every way that there is to a device, as everybody that there is.
func TestWhoMaySetGoingWhatIsAttendedOnly(t *testing.T) {
	wire := &kilnWire{begun: make(chan struct{})}
	address, h := serveHome(t, wire)
	<-wire.begun
	ctx := context.Background()
	save := func(kind docs.Kind, id string, doc any) {
		t.Helper()
		_, err := h.Save(ctx, hub.New{Kind: kind, ID: id, Document: doc})
		require.NoError(t, err)
	}
	save(docs.KindDevice, "kiln", &home.Device{Title: "Kiln", Connection: hub.GatewaysID, Hardware: "k", AttendedOnly: true, Description: thing.Description{
		Properties: []thing.Property{{Name: "power", Title: "Power", Role: thing.RolePower, Type: thing.TypeBoolean, Writable: true}},
		Actions: []thing.Action{
			{Name: "fire", Title: "Fire"},
			{Name: "stop", Title: "Stop", Role: thing.RoleStop},
			{Name: "identify", Title: "Identify", Role: thing.RoleIdentify},
		},
	}})
	on := rule.Step{Kind: rule.StepSet, Device: "kiln", Property: "power", Value: thing.Boolean(true)}
	unattended := on
	unattended.Unattended = true
	ask := rule.Step{Kind: rule.StepAction, Device: "kiln", Action: "fire"}
	asking := ask
	asking.Unattended = true
	phrase := func(words string, steps ...rule.Step) {
		save(docs.KindRule, "rule-"+words, &rule.Rule{Title: words, Enabled: true, When: []rule.Trigger{{Kind: rule.OnPhrase, Words: words}}, Do: steps})
	}
	save(docs.KindScene, "glow", &light.Scene{Title: "Glow", Targets: []light.Target{{Device: "kiln", Property: "power", Value: thing.Boolean(true)}}})
	save(docs.KindSequence, "glowing", &light.Sequence{Title: "Glowing", Passages: []light.Passage{{Scene: "glow", StaySeconds: 5}}, Ending: light.EndLetGo})
	save(docs.KindSchedule, "daily", &rule.Schedule{Title: "Daily", At: almanac.Daily{Anchor: almanac.ByClock, Clock: "22:30"}, Do: []rule.Step{on}})
	phrase("plain", on)
	phrase("allowed", unattended)
	phrase("ask", ask)
	phrase("ask allowed", asking)
	phrase("hold", rule.Step{Kind: rule.StepHold, Device: "kiln", Property: "power", Value: thing.Boolean(true), ForSeconds: 60})
	phrase("scene", rule.Step{Kind: rule.StepScene, Scene: "glow"})
	phrase("sequence", rule.Step{Kind: rule.StepSequence, Sequence: "glowing"})
	phrase("script", rule.Step{Kind: rule.StepScript, Script: `set("kiln", "power", True)`})
	phrase("script ask", rule.Step{Kind: rule.StepScript, Script: `ask("kiln", "fire")`})
	phrase(
		"put back",
		rule.Step{Kind: rule.StepRemember, Device: "kiln"},
		rule.Step{Kind: rule.StepSet, Device: "kiln", Property: "power", Value: thing.Boolean(false)},
		rule.Step{Kind: rule.StepPutBack, Device: "kiln"},
	)
	key, err := h.AddClient(ctx, "other", hub.ClientMay{Scope: hub.ScopeSetUp})
	require.NoError(t, err)

	page := pass.FindStringSubmatch(call(t, http.MethodGet, address+"/devices", "").body)
	panel := pass.FindStringSubmatch(call(t, http.MethodGet, address+"/panel/hall", "").body)
	require.Len(t, page, 2)
	require.Len(t, panel, 2)
	everybody := map[string][]string{
		"a person":                  {"Amvek-Page", page[1]},
		"a panel":                   {"Amvek-Page", panel[1]},
		"a program":                 nil,
		"a program with a key":      {"Authorization", "Bearer " + key},
		"a forged pass":             {"Amvek-Page", page[1][:strings.IndexByte(page[1], '.')] + ".AAAA"},
		"a pass of somebody's own":  {"Amvek-Page", "eyJ3aG8iOiJwZXJzb24ifQ.AAAA"},
		"a claim in the address":    nil,
		"a pass of another program": {"Amvek-Page", ""},
	}
	ways := []struct {
		name, method, path, body string
		// attended says that who is there may do it; always, that anybody may.
		attended, always bool
		thing            bool
		does             string
	}{
		{name: "write", method: http.MethodPut, path: "/api/devices/kiln/properties/power", body: `{"value":true}`, attended: true, does: "power true"},
		{name: "keep", method: http.MethodPost, path: "/api/devices/kiln/properties/power/keep", body: `{"value":true}`, attended: true, does: "power true"},
		{name: "action", method: http.MethodPost, path: "/api/devices/kiln/actions/fire", attended: true, does: "fire!"},
		{name: "stop", method: http.MethodPost, path: "/api/devices/kiln/actions/stop", always: true, does: "stop!"},
		{name: "identify", method: http.MethodPost, path: "/api/devices/kiln/actions/identify", always: true, does: "identify!"},
		{
			name:     "try a step",
			method:   http.MethodPost,
			path:     "/api/steps/try",
			body:     `{"kind":"set","device":"kiln","property":"power","value":true,"unattended":true}`,
			attended: true,
			does:     "power true",
		},
		{
			name:     "try an action",
			method:   http.MethodPost,
			path:     "/api/steps/try",
			body:     `{"kind":"action","device":"kiln","action":"fire","unattended":true}`,
			attended: true,
			does:     "fire!",
		},
		{
			name:     "try a hold",
			method:   http.MethodPost,
			path:     "/api/steps/try",
			body:     `{"kind":"hold","device":"kiln","property":"power","value":true,"forSeconds":5,"unattended":true}`,
			attended: true,
			does:     "power true",
		},
		{name: "scene", method: http.MethodPost, path: "/api/scenes/glow/apply"},
		{name: "try values", method: http.MethodPost, path: "/api/scenes/try", body: `{"targets":[{"device":"kiln","property":"power","value":true}]}`},
		{name: "sequence", method: http.MethodPost, path: "/api/sequences/glowing/start"},
		{name: "run a rule", method: http.MethodPost, path: "/api/rules/rule-plain/run"},
		{name: "phrase", method: http.MethodPost, path: "/api/phrases", body: `{"words":"plain"}`},
		{name: "phrase of a hold", method: http.MethodPost, path: "/api/phrases", body: `{"words":"hold"}`},
		{name: "phrase of a scene", method: http.MethodPost, path: "/api/phrases", body: `{"words":"scene"}`},
		{name: "phrase of a sequence", method: http.MethodPost, path: "/api/phrases", body: `{"words":"sequence"}`},
		{name: "phrase of a script", method: http.MethodPost, path: "/api/phrases", body: `{"words":"script"}`},
		{name: "phrase of a script that asks", method: http.MethodPost, path: "/api/phrases", body: `{"words":"script ask"}`},
		{name: "phrase of an action", method: http.MethodPost, path: "/api/phrases", body: `{"words":"ask"}`},
		{
			name:   "phrase of a step that is allowed to",
			method: http.MethodPost,
			path:   "/api/phrases",
			body:   `{"words":"allowed"}`,
			always: true,
			does:   "power true",
		},
		{
			name:   "phrase of an action that is allowed to",
			method: http.MethodPost,
			path:   "/api/phrases",
			body:   `{"words":"ask allowed"}`,
			always: true,
			does:   "fire!",
		},
		{name: "Thing property", method: http.MethodPut, path: "/things/kiln/properties/power", body: `true`, thing: true},
		{name: "Thing action", method: http.MethodPost, path: "/things/kiln/actions/fire", thing: true},
		{name: "Thing stop", method: http.MethodPost, path: "/things/kiln/actions/stop", thing: true, always: true, does: "stop!"},
	}
	rest := func() {
		t.Helper()
		wire.sink.Report("k", "power", thing.Boolean(false))
		require.NoError(t, h.Quiet(ctx))
		for _, path := range []string{"/api/sequences/glowing/stop"} {
			call(t, http.MethodPost, address+path, "")
		}
		call(t, http.MethodDelete, address+"/api/devices/kiln/properties/power/holds/hand", "", "Amvek-Page", page[1])
		call(t, http.MethodPut, address+"/api/devices/kiln/properties/power", `{"value":false}`, "Amvek-Page", page[1])
		require.NoError(t, h.Quiet(ctx))
		wire.sink.Report("k", "power", thing.Boolean(false))
		require.NoError(t, h.Quiet(ctx))
		wire.taken()
	}
	for name, headers := range everybody {
		there := name == "a person" || name == "a panel"
		for _, way := range ways {
			if way.thing && name != "a program with a key" {
				continue // nobody else is let in
			}
			rest()
			path := way.path
			if name == "a claim in the address" {
				path += "?actor=page&by=person"
			}
			got := call(t, way.method, address+path, way.body, headers...)
			require.NoError(t, h.Quiet(ctx))
			what := fmt.Sprintf("%s by %s: %d %s", way.name, name, got.status, got.body)
			if way.always || (way.attended && there) {
				assert.Less(t, got.status, 300, what)
				assert.Equal(t, []string{way.does}, wire.taken(), what)
				continue
			}
			assert.Empty(t, wire.taken(), what)
			if way.attended || way.thing {
				assert.Equal(t, http.StatusForbidden, got.status, what)
				assert.Contains(t, got.body, "attended only", what)
			}
		}
	}
	said := map[string]bool{}
	for before := int64(1 << 40); before > 1; {
		var entries []struct {
			ID   int64
			Text string
		}
		require.NoError(
			t,
			json.Unmarshal([]byte(call(t, http.MethodGet, fmt.Sprintf("%s/api/journal?limit=500&before=%d", address, before), "").body), &entries),
		)
		before = 0
		for _, e := range entries {
			said[e.Text], before = true, e.ID
		}
	}
	for _, text := range []string{"Kiln: power set to yes by hand", "Kiln: power set to yes by hand on a panel", "“plain” was said by the program other", "“plain” was said on a panel", "“plain” was said by a program"} {
		assert.True(t, said[text], text)
	}
}

package server

import (
	"context"
	"encoding/json"
	"fmt"
	"net/http"
	"slices"
	"strings"

	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/adapters/humafiber"
	"github.com/gofiber/fiber/v3"

	"amvek/core/cause"
	"amvek/core/gate"
	"amvek/hub"
	"amvek/hub/docs"
	"amvek/hub/sessions"
	"amvek/hub/show"
)

// caller is whoever asks for something, and how they were let in.
type caller struct {
	gate.Principal
	// session is that of the browser; its id is "" where it has none.
	session sessions.Session
	// owns says that it is an owner, also while they look through somebody else's eyes.
	owns bool
	// mayEnd says that they are in until a time.
	mayEnd bool
	// from is where the request comes from.
	from sessions.From
	// origin is that by which the browser asked for the hub, such as https://amvek.local:8420.
	origin string
}

// own names whoever uses the browser, also while they look through somebody else's eyes.
func (c *caller) own() cause.By {
	return cause.By{Who: cause.Person, ID: c.session.Person, Via: cause.ViaPage}
}

type callerKey struct{}

// who returns who asks for an operation.
func who(ctx context.Context) *caller {
	if c, is := ctx.Value(callerKey{}).(*caller); is {
		return c
	}
	return &caller{}
}

// by returns who asks for an operation, as causes name them.
func by(ctx context.Context) cause.By { return who(ctx).By }

// credentials are what a request shows of whoever asks.
type credentials struct {
	secret        string // of the browser's session
	authorization string
	passed        cause.By // who shows the pass of a page, by which way
	hasPass       bool
	from          sessions.From
	// foreign says that it is a page of another origin, which an owner named: it has nothing but a key.
	foreign bool
	// origin is that by which the browser asked for the hub, such as https://amvek.local:8420.
	origin string
}

func (s *Server) shows(c fiber.Ctx) credentials {
	shown := credentials{
		secret: c.Cookies(s.cookie()), authorization: c.Get("Authorization"), from: s.from(c),
		foreign: c.Locals(foreignKey) != nil, origin: s.schemeOf(c) + "://" + s.host(c),
	}
	shown.passed, shown.hasPass = s.passes.read(c.Get(pageHeader))
	return shown
}

// recognise returns whoever asks: a browser that was let in, a program with its key, or where the hub is open to its own machine
// whoever is there.
func (s *Server) recognise(ctx context.Context, shown credentials) *caller {
	c := s.asks(ctx, shown)
	c.from, c.origin = shown.from, shown.origin
	return c
}

func (s *Server) asks(ctx context.Context, shown credentials) *caller {
	via := cause.ViaPage
	if shown.hasPass {
		via = shown.passed.Via
	}
	here := s.open && shown.from.Here && !shown.foreign
	if shown.foreign {
		shown.secret = ""
	}
	if session, in := s.hub.Sessions.Find(ctx, shown.secret, shown.from.Address); in && (session.Person != "" || here) {
		if c := s.inSession(ctx, session, via); c != nil {
			return c
		}
	}
	if principal, is := s.program(ctx, shown.authorization, cause.ViaAPI); is {
		return &caller{Principal: principal}
	}
	if here {
		by := cause.By{Who: cause.Program, Via: cause.ViaAPI}
		if shown.hasPass {
			by = shown.passed
		}
		return &caller{Principal: gate.Principal{By: by, Rank: gate.Owning, Class: "all"}, owns: true}
	}
	return &caller{}
}

// inSession returns whoever uses a browser that was let in, nil where they are not any more.
func (s *Server) inSession(ctx context.Context, session sessions.Session, via cause.Via) *caller {
	own, in := s.hub.Principal(ctx, session.Person, "", via)
	if !in {
		s.hub.EndOverdue(ctx, session.Person)
		return nil
	}
	c := &caller{Principal: own, session: session, owns: own.Rank == gate.Owning, mayEnd: own.Within != nil}
	if session.LooksAs == "" || !c.owns {
		return c
	}
	if seen, there := s.hub.Principal(ctx, session.Person, session.LooksAs, via); there {
		c.Principal = seen
	}
	return c
}

// pass is the gate of the operations: it lets through whoever has the permission that an operation needs.
func (s *Server) pass(api huma.API) func(huma.Context, func(huma.Context)) {
	return func(ctx huma.Context, next func(huma.Context)) {
		c := s.recognise(ctx.Context(), s.shows(humafiber.Unwrap(ctx)))
		need, named := needs[ctx.Operation().OperationID]
		if !named { // a test sees to it that there is none
			_ = huma.WriteErr(api, ctx, http.StatusForbidden, "Nobody may do this.")
			return
		}
		permission, of := need.at(ctx.Param)
		if c.May(permission, of) || permission == gate.Own && c.owns && ownEyes[ctx.Operation().OperationID] {
			next(huma.WithValue(ctx, callerKey{}, c))
			return
		}
		status, text := s.refusal(c)
		_ = huma.WriteErr(api, ctx, status, text)
	}
}

// refusal says why somebody may not do something.
func (s *Server) refusal(c *caller) (status int, text string) {
	switch {
	case c.Rank > gate.Outside:
		return http.StatusForbidden, "This is not yours to see or to do."
	case !s.hub.Owned():
		return http.StatusUnauthorized, "This home has no owner yet."
	default:
		return http.StatusUnauthorized, "Sign in first."
	}
}

// need is what an operation needs.
type need struct {
	permission gate.Permission
	// kind is what it is of, where it is of one thing: that whose id is in its address.
	kind string
}

// at returns the permission that is needed, and of what, for the address that was asked for.
func (n need) at(param func(string) string) (gate.Permission, gate.Thing) {
	if n.permission == anyKind {
		if docs.Kind(meant(param("kind"))) == docs.KindPerson {
			return gate.Own, gate.Thing{}
		}
		return gate.SetUp, gate.Thing{}
	}
	of := gate.Thing{Kind: n.kind, ID: meant(param("id"))}
	switch n.kind {
	case "":
		of.ID = ""
	case "property", "action", "picture":
		of.Name = meant(param(n.kind))
	}
	return n.permission, of
}

// anyKind stands for what is needed to change a definition of any kind: people are their owner's.
const anyKind gate.Permission = "anyKind"

// ownEyes are the operations that owners also have while they look through somebody else's eyes.
var ownEyes = map[string]bool{"look-as": true}

// needs is what each operation needs; whatever is not in it is nobody's.
var needs = needsOf(map[gate.Permission][]string{
	gate.Anyone: {"session", "become-owner", "sign-in", "come-in", "ask-passkey", "show-passkey"},
	gate.SignedIn: {
		"about", "sign-out", "set-password", "passkeys", "offer-passkey", "keep-passkey", "remove-passkey", "shown", "live", "lines", "convert-color", "rule-schema",
	},
	gate.See: {"picture: picture", "uploaded: upload"},
	gate.Use: {
		"write-property: property", "keep-property: property", "let-go: property", "invoke-action: action", "apply-scene: scene", "lift-scene: scene",
		"run-rule: rule", "start-sequence: sequence", "stop-sequence: sequence", "light-room: light", "acknowledge: notice", "answer-question: notice",
	},
	gate.Read: {
		"home", "day", "needs", "devices", "device", "groups", "scenes", "sequences", "links", "link-samples", "try-stages", "mirrors", "lights", "curves", "curve-day", "effect-ahead",
		"rules", "schedules", "dashboards", "variables", "modes",
		"calendars", "connections", "notices", "removed", "revisions", "revision", "journal", "search-journal", "chain", "history",
		"history-sheet", "keeping", "care-sheet", "since", "prove", "own-light", "runs", "run", "why-not", "draft", "compare-rule", "compare-draft",
		"search-rules", "tell-rule", "read-rule", "check-expression", "expression-words", "check-text", "check-script", "script-words",
		"next-dates", "starting-points", "palettes", "people", "controls", "icons", "draft-dashboard", "favorites", "keep-at-hand", "leave-from-hand",
	},
	gate.Operate: {
		"say-phrase", "call-name", "read-calendar", "resume-rule", "settle-difference", "try-values", "press-key",
	},
	gate.SetUp: {
		"bench", "act-on-bench", "edit-home", "save-home", "arrange-rooms", "edit-devices", "add-devices", "propose-names-again",
		"save-device", "edit-device", "remove-device", "restore-device", "replace-hardware", "adjust", "take-as-it-comes", "take-off-own-light",
		"leave-own-light", "set-travel", "search-steady", "leave-steady",
		"forget-travel", "measure-travel", "trial", "try-device", "end-trial", "answer-trial", "found", "identify-found", "look", "propose-names",
		"pair", "pairing", "cancel-pairing", "connect", "edit-connection", "remove-connection", "join", "messages", "test-connection", "watch-topics",
		"compose", "look-at", "try-composed", "fetch", "profiles", "profile", "save-profile", "check-profile", "try-profile", "remove-profile",
		"install-profile", "given-things", "given-thing", "add-thing", "check-thing", "unlock-thing", "read-thing", "remove-thing", "restore-thing",
		"capture", "try-step", "pretend", "save-draft", "drop-draft", "start-with", "light-by-itself", "in-colors", "mix-scenes",
		"programs", "edit-modes", "save-modes", "keep-history",
		"set-aside", "repoint", "upload", "uploads",
	},
	anyKind: {"take-back", "restore", "mend", "remove-set-aside"},
	gate.Own: {
		"say", "broker", "broker-clients", "add-broker-client", "remove-broker-client", "clients", "add-client", "remove-client",
		"panel-pictures", "panel-picture", "reach", "admit", "seen-tried", "invite", "add-panel", "sessions", "end-session", "look-as",
	},
}, map[gate.Permission][]string{
	gate.SetUp: {"room", "group", "calendar", "variable", "scene", "sequence", "link", "mirror", "light", "curve", "rule", "schedule", "dashboard"},
	gate.Own:   {"person"},
})

// needsOf is a table by operations: of those that are named, and of making, changing, removing and restoring definitions.
func needsOf(named, defining map[gate.Permission][]string) map[string]need {
	table := map[string]need{}
	add := func(id string, n need) {
		if _, twice := table[id]; twice {
			panic(fmt.Sprintf("what %s needs is said twice", id))
		}
		table[id] = n
	}
	for permission, ids := range named {
		for _, id := range ids {
			id, kind, _ := strings.Cut(id, ": ")
			add(id, need{permission, kind})
		}
	}
	for permission, names := range defining {
		for _, name := range names {
			for _, verb := range []string{"create", "save", "edit", "remove", "restore"} {
				add(verb+"-"+name, need{permission: permission})
			}
		}
	}
	return table
}

// seen is what is needed to be told of each kind of what is shown, or told in passing.
var seen = map[string]gate.Permission{
	"home": gate.SignedIn, "day": gate.SignedIn, "clock": gate.SignedIn,
	"room": gate.See, "device": gate.See, "property": gate.See, "scene": gate.See, "sequence": gate.See, "light": gate.See,
	"rule": gate.See, "dashboard": gate.See,
	"modes": gate.See, "notice": gate.See, "mark": gate.See, "needs": gate.See,
	"group": gate.Read, "schedule": gate.Read, "link": gate.Read, "flow": gate.Read, "mirror": gate.Read, "curve": gate.Read, "variable": gate.Read, "person": gate.Read, "calendar": gate.Read,
	"journal": gate.Read, "connection": gate.Read,
	"found": gate.SetUp, "bridge": gate.SetUp, "pairing": gate.SetUp, "bench": gate.SetUp, "trial": gate.SetUp, "message": gate.SetUp,
}

// shownTo are the members of what is shown that those see who may not see all of the home: what their dashboards draw. Some
// are there and say nothing, in the JSON that is given; after a question mark only where they are there at all.
var shownTo = map[string]map[string]string{
	"home": {"title": "", "zone": "", "revision": "", "latitude": "0", "longitude": "0", "namePattern": `""`},
	"device": {
		"id": "", "title": "", "room": "", "lamp": "", "light": "", "description": "", "silent": "", "silentReason": "", "attendedOnly": "", "revision": "",
		"own": "", "states": "", "undone": "", "usedBy": "[]", "adjustments": "{}", "labels": "[]", "care": `{"attention":[]}`, "maker": `""`, "model": `""`,
		"connection": `""`, "hardware": `""`,
	},
	"rule": {
		"id": "", "title": "", "enabled": "", "state": "", "revision": "", "when": "[]", "do": "[]", "labels": "[]", "usedBy": "[]",
		"whenever": `?{"all":[]}`,
	},
	"scene": {
		"id": "", "title": "", "inEffect": "", "lights": "", "revision": "", "targets": "[]", "fadeSeconds": "", "usedBy": "[]",
	},
	"light": {
		"id": "", "title": "", "revision": "", "rooms": "[]", "scenes": "", "level": "", "on": "", "swatch": "", "members": "", "scene": "", "since": "",
		"differs": "", "usedBy": "[]",
	},
	"sequence": {"id": "", "title": "", "state": "", "revision": "", "passages": "[]", "totalSeconds": "", "usedBy": "[]"},
}

// trimmed returns an entry as those are shown it who may not see all of the home; of a patch what changed of that.
func trimmed(kind string, text json.RawMessage, patch bool) json.RawMessage {
	members, known := shownTo[kind]
	if !known || len(text) == 0 {
		return text
	}
	var is map[string]json.RawMessage
	if json.Unmarshal(text, &is) != nil {
		return nil
	}
	shown := map[string]json.RawMessage{}
	for name, constant := range members {
		value, there := is[name]
		constant, ifThere := strings.CutPrefix(constant, "?")
		switch {
		case constant == "" && there:
			shown[name] = value
		case constant != "" && !patch && (there || !ifThere):
			shown[name] = json.RawMessage(constant)
		}
	}
	if patch && len(shown) == 0 {
		return nil
	}
	data, err := json.Marshal(shown)
	if err != nil {
		return nil
	}
	return data
}

// told reports whether somebody is told of a thing of a kind.
func (c *caller) told(kind, id, name string) bool {
	permission, known := seen[kind]
	return known && c.May(permission, gate.Thing{Kind: kind, ID: id, Name: name})
}

// audience returns who somebody is to the feed: they get the home, and of what is told to those only who look at it what they
// look at.
func (c *caller) audience(look []string) show.Audience {
	look = slices.DeleteFunc(c.lookedAt(look), func(of string) bool { return !slices.Contains(hub.LookedAt(), of) })
	slices.Sort(look)
	a := show.Audience{Name: c.Class + ": " + strings.Join(look, " "), May: func(k show.Key) bool {
		return (!slices.Contains(hub.LookedAt(), k.Of) || slices.Contains(look, k.Of)) && c.told(k.Of, k.ID, k.Name)
	}}
	if c.Within != nil {
		a.Trim = trimmed
	}
	return a
}

// lookedAt returns which of what is told only to those who look at it somebody may look at.
func (c *caller) lookedAt(look []string) []string {
	return slices.DeleteFunc(slices.Clone(look), func(kind string) bool { return !c.told(kind, "", "") })
}

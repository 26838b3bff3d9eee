package hub

import (
	"context"
	"crypto/rand"
	"crypto/subtle"
	"encoding/json"
	"fmt"
	"slices"
	"strings"

	"amvek/core/cause"
	"amvek/core/gate"
	"amvek/hub/docs"
)

const clientKeysSecret = "clients of things"

// Scope is how much a program may.
type Scope string

// The scopes, each with what those before it have.
const (
	ScopeRead    Scope = "read"
	ScopeOperate Scope = "operate"
	ScopeSetUp   Scope = "setUp"
)

// ClientMay is what a program may.
type ClientMay struct {
	Scope Scope `json:"scope,omitempty" enum:"read,operate,setUp" doc:"read: sees; operate: and operates; setUp: and changes what the home is made of."`
	// Rooms are the ids of those that it reaches; none is all of the home.
	Rooms []string `json:"rooms,omitempty" maxItems:"100" doc:"The ids of the rooms whose devices it reaches; none is all of the home."`
}

// Client is a program that has a key.
type Client struct {
	Name string `json:"name"`
	ClientMay
}

// clientKey is a key as it is kept.
type clientKey struct {
	Key string `json:"key"`
	ClientMay
}

// UnmarshalJSON also reads a key of before, which is its text alone and may all that programs may.
func (k *clientKey) UnmarshalJSON(data []byte) error {
	if json.Unmarshal(data, &k.Key) == nil {
		k.Scope = ScopeSetUp
		return nil
	}
	type plain clientKey
	return json.Unmarshal(data, (*plain)(k))
}

func (h *Hub) clientKeys(ctx context.Context) (map[string]clientKey, error) {
	keys := map[string]clientKey{}
	secret, err := h.store.Secret(ctx, clientKeysSecret)
	if err != nil || secret == "" {
		return keys, err
	}
	return keys, json.Unmarshal([]byte(secret), &keys)
}

// sameKey compares in a time that says nothing of how much is the same.
func sameKey(a, b string) bool { return subtle.ConstantTimeCompare([]byte(a), []byte(b)) == 1 }

// ClientOf returns the program whose key this is; it is false where it is nobody's.
func (h *Hub) ClientOf(ctx context.Context, key string) (of Client, is bool) {
	keys, err := h.clientKeys(ctx)
	if err != nil {
		return of, false
	}
	for name, kept := range keys {
		if sameKey(kept.Key, key) {
			of, is = Client{name, kept.ClientMay}, true
		}
	}
	return of, is
}

// Clients returns the programs that have a key, by name.
func (h *Hub) Clients(ctx context.Context) ([]Client, error) {
	keys, err := h.clientKeys(ctx)
	all := make([]Client, 0, len(keys))
	for _, name := range sortedKeys(keys) {
		all = append(all, Client{name, keys[name].ClientMay})
	}
	return all, err
}

// AddClient makes a key for another program and returns it, this once.
func (h *Hub) AddClient(ctx context.Context, name string, may ClientMay) (string, error) {
	name = strings.TrimSpace(name)
	h.keying.Lock()
	defer h.keying.Unlock()
	keys, err := h.clientKeys(ctx)
	if err != nil {
		return "", err
	}
	if may.Scope == "" {
		may.Scope = ScopeOperate
	}
	switch _, there := keys[name]; {
	case name == "":
		return "", Invalid("name", "Give the program a name.")
	case there:
		return "", &ConflictError{"A program of that name has a key already."}
	case may.Scope == ScopeSetUp && len(may.Rooms) > 0:
		return "", Invalid("rooms", "What the home is made of is not changed by rooms: leave them out, or let it operate.")
	}
	if err := h.checkRooms(ctx, may.Rooms); err != nil {
		return "", err
	}
	keys[name] = clientKey{strings.ToLower(rand.Text()), may}
	return keys[name].Key, h.putClients(ctx, keys)
}

func (h *Hub) checkRooms(ctx context.Context, rooms []string) (err error) {
	if len(rooms) == 0 {
		return nil
	}
	failed := h.do(ctx, func() {
		for i, id := range rooms {
			if h.definitions.Rooms[id].Doc == nil {
				err = Invalid(fmt.Sprintf("rooms[%d]", i), "There is no such room.")
			}
		}
	})
	return firstError(failed, err)
}

// RemoveClient takes a program's key away.
func (h *Hub) RemoveClient(ctx context.Context, name string) error {
	h.keying.Lock()
	defer h.keying.Unlock()
	keys, err := h.clientKeys(ctx)
	if err != nil {
		return err
	}
	if _, there := keys[name]; !there {
		return Absent("No program of that name has a key.")
	}
	delete(keys, name)
	return h.putClients(ctx, keys)
}

func (h *Hub) putClients(ctx context.Context, keys map[string]clientKey) error {
	data, err := json.Marshal(keys)
	if err != nil {
		return err
	}
	defer h.GateChanged()
	return h.store.PutSecret(ctx, clientKeysSecret, string(data))
}

// ranks are those of the scopes.
var ranks = map[Scope]gate.Rank{ScopeRead: gate.Seeing, ScopeOperate: gate.Operating, ScopeSetUp: gate.Building}

// ClientPrincipal returns what a program may that is in by a way.
func (h *Hub) ClientPrincipal(ctx context.Context, of Client, via cause.Via) (gate.Principal, bool) {
	principal := gate.Principal{By: cause.By{Who: cause.Program, ID: of.Name, Via: via}, Rank: ranks[of.Scope], Class: "program " + string(of.Scope)}
	if len(of.Rooms) == 0 {
		return principal, true
	}
	reach, version, err := h.reach(ctx, "program "+of.Name, func() *gate.Reach {
		r := gate.NewReach()
		for id, device := range h.definitions.Devices {
			if slices.Contains(of.Rooms, device.Doc.Room) {
				r.AddDevice(id, device.Doc)
			}
		}
		for _, room := range of.Rooms {
			r.Sees[gate.Thing{Kind: string(docs.KindRoom), ID: room}] = true
		}
		return r
	})
	principal.Within, principal.Class = reach, fmt.Sprintf("program %s %d", of.Name, version)
	return principal, err == nil
}

const pageKeySecret = "pages"

// PageKey is what the passes of the hub's own pages are signed with; it is made once, so that open pages outlive a restart.
func (h *Hub) PageKey(ctx context.Context) ([]byte, error) {
	kept, err := h.store.Secret(ctx, pageKeySecret)
	if err != nil {
		return nil, err
	}
	if kept == "" {
		kept = rand.Text() + rand.Text()
		if err := h.store.PutSecret(ctx, pageKeySecret, kept); err != nil {
			return nil, err
		}
	}
	return []byte(kept), nil
}

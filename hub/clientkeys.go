package hub

import (
	"context"
	"crypto/rand"
	"encoding/json"
	"strings"
)

const clientKeysSecret = "clients of things"

// ClientKeys returns the keys by which other programs may use this home's devices, by their names.
func (h *Hub) ClientKeys(ctx context.Context) (map[string]string, error) {
	keys := map[string]string{}
	secret, err := h.store.Secret(ctx, clientKeysSecret)
	if err != nil || secret == "" {
		return keys, err
	}
	return keys, json.Unmarshal([]byte(secret), &keys)
}

// ClientNames returns the names of those who have a key.
func (h *Hub) ClientNames(ctx context.Context) ([]string, error) {
	keys, err := h.ClientKeys(ctx)
	return sortedKeys(keys), err
}

// AddClient makes a key for another program and returns it, this once.
func (h *Hub) AddClient(ctx context.Context, name string) (string, error) {
	name = strings.TrimSpace(name)
	h.keying.Lock()
	defer h.keying.Unlock()
	keys, err := h.ClientKeys(ctx)
	if err != nil {
		return "", err
	}
	switch _, there := keys[name]; {
	case name == "":
		return "", Invalid("name", "Give the program a name.")
	case there:
		return "", &ConflictError{"A program of that name has a key already."}
	}
	keys[name] = strings.ToLower(rand.Text())
	return keys[name], h.putClients(ctx, keys)
}

// RemoveClient takes a program's key away.
func (h *Hub) RemoveClient(ctx context.Context, name string) error {
	h.keying.Lock()
	defer h.keying.Unlock()
	keys, err := h.ClientKeys(ctx)
	if err != nil {
		return err
	}
	if _, there := keys[name]; !there {
		return Absent("No program of that name has a key.")
	}
	delete(keys, name)
	return h.putClients(ctx, keys)
}

func (h *Hub) putClients(ctx context.Context, keys map[string]string) error {
	data, err := json.Marshal(keys)
	if err != nil {
		return err
	}
	return h.store.PutSecret(ctx, clientKeysSecret, string(data))
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

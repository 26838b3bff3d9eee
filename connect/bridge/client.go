// Package bridge is the connection to Lumbrook bridges: JSON over HTTP, with a key
// that the bridge hands out after its button was pressed. It turns the bridge's lamps
// into reports and commands in canonical units; it decides nothing.
package bridge

import (
	"bufio"
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"maps"
	"net/http"
	"slices"
	"time"

	"amvek/connect"
)

// What can be wrong with a bridge. Each is told apart, since each is mended differently.
var (
	ErrUnreachable = errors.New("the bridge cannot be reached")
	ErrSlow        = errors.New("the bridge did not answer in time")
	ErrKey         = errors.New("the bridge does not accept the key; pair with it again")
	ErrNotPressed  = fmt.Errorf("%w at the bridge", connect.ErrNotPressed)
	ErrSwapped     = errors.New("another bridge answers at this address; pair with it anew")
	ErrNotABridge  = errors.New("something answers at this address, but it is not a Lumbrook bridge")
)

// timeLimit is how long one request to a bridge may take.
const timeLimit = 4 * time.Second

const maximumAnswer = 1 << 20

// About is what a bridge tells of itself without a key.
type About struct {
	Maker    string `json:"maker"`
	Model    string `json:"model"`
	Serial   string `json:"serial"`
	Firmware string `json:"firmware"`
	Label    string `json:"label"`
}

// refusal is an answer of the bridge that is not success.
type refusal struct {
	status int
	fault  string
}

func (r *refusal) Error() string {
	return fmt.Sprintf("the bridge answered %d (%s)", r.status, r.fault)
}

type client struct {
	http    *http.Client
	address string
	key     string
}

func newClient(address, key string) *client {
	transport := &http.Transport{MaxIdleConnsPerHost: 4, IdleConnTimeout: 30 * time.Second}
	return &client{http: &http.Client{Timeout: timeLimit, Transport: transport}, address: address, key: key}
}

func (c *client) do(ctx context.Context, method, path string, body, answer any) error {
	var reader io.Reader
	var data []byte
	if body != nil {
		var err error
		if data, err = json.Marshal(body); err != nil {
			return err
		}
		reader = bytes.NewReader(data)
	}
	connect.Sent(ctx, nil, method+" "+path, data)
	request, err := http.NewRequestWithContext(ctx, method, "http://"+c.address+"/lumbrook/"+path, reader)
	if err != nil {
		return fmt.Errorf("%w: %s is not an address", ErrUnreachable, c.address)
	}
	if c.key != "" {
		request.Header.Set("Lumbrook-Key", c.key)
	}
	response, err := c.http.Do(request)
	if err != nil {
		return unreachable(err)
	}
	defer func() { _ = response.Body.Close() }()
	data, err = io.ReadAll(io.LimitReader(response.Body, maximumAnswer))
	if err != nil {
		return unreachable(err)
	}
	switch {
	case response.StatusCode >= 300:
		return refused(response.StatusCode, data)
	case answer == nil:
		return nil
	}
	if err := json.Unmarshal(data, answer); err != nil {
		return ErrNotABridge
	}
	return nil
}

func unreachable(err error) error {
	if connect.Late(err) {
		return ErrSlow
	}
	return fmt.Errorf("%w: %s", ErrUnreachable, connect.Reason(err))
}

func refused(status int, data []byte) error {
	var body struct {
		Fault string `json:"fault"`
	}
	if json.Unmarshal(data, &body) != nil || body.Fault == "" {
		return ErrNotABridge
	}
	switch {
	case status == http.StatusUnauthorized:
		return ErrKey
	case body.Fault == "press-button":
		return ErrNotPressed
	}
	return &refusal{status, body.Fault}
}

// Probe asks what is at an address.
func Probe(ctx context.Context, address string) (About, error) {
	var about About
	if err := newClient(address, "").do(ctx, http.MethodGet, "about", nil, &about); err != nil {
		var r *refusal
		if errors.As(err, &r) {
			return about, ErrNotABridge
		}
		return about, err
	}
	if about.Maker != "Lumbrook" || about.Serial == "" {
		return about, ErrNotABridge
	}
	return about, nil
}

// RequestKey asks for a key; it fails with [ErrNotPressed] until the bridge's button was pressed.
func RequestKey(ctx context.Context, address string) (string, error) {
	var answer struct {
		Key string `json:"key"`
	}
	err := newClient(address, "").do(ctx, http.MethodPost, "keys", map[string]string{"for": "amvek"}, &answer)
	if err == nil && answer.Key == "" {
		err = ErrNotABridge
	}
	return answer.Key, err
}

// Count reads once with a key, to prove it, and returns how many devices there are.
func Count(ctx context.Context, address, key string) (int, error) {
	devices, err := newClient(address, key).devices(ctx)
	return len(devices), err
}

// resources are the bridge's lists of devices. A device's address is its resource and its number.
var resources = []string{"lamps", "plates"}

// devices returns what the bridge says of all its devices, by address such as lamps/7.
func (c *client) devices(ctx context.Context) (map[string]map[string]any, error) {
	devices := map[string]map[string]any{}
	for _, resource := range resources {
		var answer map[string]map[string]map[string]any
		if err := c.do(ctx, http.MethodGet, resource, nil, &answer); err != nil {
			return nil, err
		}
		list, there := answer[resource]
		if !there {
			return nil, ErrNotABridge
		}
		for id, device := range list {
			devices[resource+"/"+id] = device
		}
	}
	return devices, nil
}

// groups returns the labels of the bridge's own groups that each device is in, by address.
func (c *client) groups(ctx context.Context) (map[string][]string, error) {
	var answer struct {
		Groups map[string]struct {
			Label string   `json:"label"`
			Lamps []string `json:"lamps"`
		} `json:"groups"`
	}
	if err := c.do(ctx, http.MethodGet, "groups", nil, &answer); err != nil {
		return nil, err
	}
	groups := map[string][]string{}
	for _, id := range slices.Sorted(maps.Keys(answer.Groups)) {
		for _, lamp := range answer.Groups[id].Lamps {
			groups["lamps/"+lamp] = append(groups["lamps/"+lamp], answer.Groups[id].Label)
		}
	}
	return groups, nil
}

// stream follows the bridge's event stream until it ends, calling told for each event. It calls
// open once the bridge has answered.
func (c *client) stream(ctx context.Context, open func(), told func(event []byte)) error {
	request, err := http.NewRequestWithContext(ctx, http.MethodGet, "http://"+c.address+"/lumbrook/stream", nil)
	if err != nil {
		return err
	}
	request.Header.Set("Lumbrook-Key", c.key)
	// Without the time limit of the other requests: a stream has no end.
	response, err := (&http.Client{Transport: c.http.Transport}).Do(request)
	if err != nil {
		return unreachable(err)
	}
	defer func() { _ = response.Body.Close() }()
	if response.StatusCode != http.StatusOK {
		return &refusal{response.StatusCode, "no event stream"}
	}
	open()
	lines := bufio.NewScanner(io.Reader(response.Body))
	for lines.Scan() {
		if data, ok := bytes.CutPrefix(lines.Bytes(), []byte("data: ")); ok {
			told(data)
		}
	}
	return lines.Err()
}

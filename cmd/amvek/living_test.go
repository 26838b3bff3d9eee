package main

import (
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"net/url"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// page is the interface of a hub that runs.
type page struct {
	t       *testing.T
	address string
}

// ask asks for something and returns the status and the answer.
func (p page) ask(method, path, body string) (int, []byte) {
	p.t.Helper()
	request, err := http.NewRequest(method, "http://"+p.address+path, strings.NewReader(body))
	require.NoError(p.t, err)
	if body != "" {
		request.Header.Set("Content-Type", "application/json")
	}
	response, err := http.DefaultClient.Do(request)
	if !assert.NoError(p.t, err, "%s %s", method, path) {
		return 0, nil
	}
	defer func() { _ = response.Body.Close() }()
	answer, err := io.ReadAll(response.Body)
	assert.NoError(p.t, err)
	return response.StatusCode, answer
}

func (p page) get(path string, into any) {
	p.t.Helper()
	status, answer := p.ask(http.MethodGet, path, "")
	require.Equal(p.t, http.StatusOK, status, "%s: %s", path, answer)
	require.NoError(p.t, json.Unmarshal(answer, into))
}

// readings are the paths of all operations that only read, with the ids of what there is in the home.
func (p page) readings() (paths []string) {
	var document struct {
		Paths map[string]map[string]struct {
			Parameters []struct {
				Name     string `json:"name"`
				In       string `json:"in"`
				Required bool   `json:"required"`
			} `json:"parameters"`
		} `json:"paths"`
	}
	p.get("/api/openapi.json", &document)
	type named struct {
		ID    string `json:"id"`
		Model string `json:"model"`
	}
	ids := map[string][]string{}
	for _, kind := range []string{"devices", "rules", "scenes", "schedules", "dashboards", "connections", "profiles"} {
		var list []named
		p.get("/api/"+kind, &list)
		for _, n := range list {
			ids[kind] = append(ids[kind], n.ID+n.Model)
		}
	}
	for path, operations := range document.Paths {
		get, is := operations["get"]
		if !is || path == "/api/live" {
			continue
		}
		query := url.Values{}
		kind := strings.Split(strings.TrimPrefix(path, "/api/"), "/")[0]
		filled := []string{path}
		for _, parameter := range get.Parameters {
			if parameter.In == "query" && parameter.Required {
				query.Set(parameter.Name, "x")
			}
			if parameter.In != "path" {
				continue
			}
			choices := []string{"1", "brightness"}
			if parameter.Name == "id" || parameter.Name == "model" {
				choices = ids[kind][:min(len(ids[kind]), 12)]
			}
			var next []string
			for _, one := range filled {
				for _, choice := range choices {
					next = append(next, strings.ReplaceAll(one, "{"+parameter.Name+"}", url.PathEscape(choice)))
				}
			}
			filled = next
		}
		for _, one := range filled {
			if len(query) > 0 {
				one += "?" + query.Encode()
			}
			paths = append(paths, one)
		}
	}
	slices.Sort(paths)
	return paths
}

// TestEverythingIsReadWhileTheHouseLives reads all that can be read, by several at once and with the feed open, while the
// house lives many times faster than a house does. With the race detector it tells what leaves the loop by reference.
func TestEverythingIsReadWhileTheHouseLives(t *testing.T) {
	meanwhile(t, func(address, _ string) {
		p := page{t, address}
		status, answer := p.ask(http.MethodPost, "/api/bench", `{"what":"pace","pace":600}`)
		require.Equal(t, http.StatusNoContent, status, "%s", answer)
		p.watchMotion()
		paths := p.readings()
		require.Greater(t, len(paths), 60)
		feed, err := http.NewRequest(http.MethodGet, "http://"+address+"/api/live", nil)
		require.NoError(t, err)
		for name, value := range map[string]string{"Upgrade": "websocket", "Connection": "Upgrade", "Sec-WebSocket-Version": "13", "Sec-WebSocket-Key": "AAAAAAAAAAAAAAAAAAAAAA=="} {
			feed.Header.Set(name, value)
		}
		joined, err := http.DefaultTransport.RoundTrip(feed)
		require.NoError(t, err)
		go func() { _, _ = io.Copy(io.Discard, joined.Body) }()
		defer func() { _ = joined.Body.Close() }()
		// Somebody walks all the while, and what changes most is read.
		done, busiest := make(chan struct{}), sync.WaitGroup{}
		for _, path := range []string{"/api/rules", "/api/devices", "/api/connections", "/api/schedules"} {
			busiest.Go(func() {
				for {
					select {
					case <-done:
						return
					default:
						status, answer := p.ask(http.MethodGet, path, "")
						assert.Equal(t, http.StatusOK, status, "%s: %s", path, answer)
					}
				}
			})
		}
		busiest.Go(func() {
			for i := 0; ; i++ {
				select {
				case <-done:
					return
				default:
					room := []string{"Landing", "Hall", "Galley", "Mill room", "Reading loft", "Glasshouse"}[i%6]
					status, answer := p.ask(http.MethodPost, "/api/bench", fmt.Sprintf(`{"what":"walk","room":%q}`, room))
					assert.Equal(t, http.StatusNoContent, status, "%s", answer)
				}
			}
		})
		var readers sync.WaitGroup
		for reader := range 4 {
			readers.Go(func() {
				for i := range paths {
					path := paths[(i*(reader+1)+reader)%len(paths)]
					status, answer := p.ask(http.MethodGet, path, "")
					assert.Less(t, status, 500, "%s: %s", path, answer)
				}
			})
		}
		readers.Wait()
		close(done)
		busiest.Wait()
	}, append([]string{"demo", "--history", "0"}, free(t)...)...)
}

// watchMotion writes rules whose states change with every step that somebody takes in the house.
func (p page) watchMotion() {
	p.t.Helper()
	var devices []struct {
		ID          string
		Description struct{ Properties []struct{ Name, Role string } }
	}
	p.get("/api/devices", &devices)
	for _, d := range devices {
		for _, property := range d.Description.Properties {
			if property.Role != "motion" {
				continue
			}
			for _, truth := range []bool{true, false} {
				is := fmt.Sprintf(`{"device":%q,"property":%q,"comparison":"is","value":%v,"forAtLeastSeconds":1}`, d.ID, property.Name, truth)
				status, answer := p.ask(
					http.MethodPost,
					"/api/rules",
					fmt.Sprintf(
						`{"title":"Watch","enabled":true,"whenever":{"any":[%s,{"none":[%s]}]},"forAtLeastSeconds":2,"do":[{"kind":"wait","forSeconds":1}]}`,
						is,
						is,
					),
				)
				require.Equal(p.t, http.StatusOK, status, "%s", answer)
			}
		}
	}
}

// TestConnectionsAreChangedInQuickSuccession changes each kind of connection several times while its old session is still
// ending: afterwards it is up, and what its devices say is heard.
func TestConnectionsAreChangedInQuickSuccession(t *testing.T) {
	meanwhile(t, func(address, _ string) {
		p := page{t, address}
		type connection struct {
			ID, Title, Kind string
			Up              bool
			Devices         int
			PerMinute       int
		}
		var before []connection
		p.get("/api/connections", &before)
		kinds := map[string]bool{}
		for round := range 5 {
			for _, c := range before {
				kinds[c.Kind] = true
				status, answer := p.ask(http.MethodPatch, "/api/connections/"+c.ID, fmt.Sprintf(`{"title":"%s %d"}`, c.Title, round))
				require.Less(t, status, 300, "%s: %s", c.Title, answer)
			}
		}
		require.Greater(t, len(kinds), 3, "the demo home has connections of all kinds: %v", kinds)
		require.Eventually(t, func() bool {
			var after []connection
			p.get("/api/connections", &after)
			return !slices.ContainsFunc(after, func(c connection) bool { return !c.Up && c.Devices > 0 })
		}, 60*time.Second, 50*time.Millisecond, "all are up again")
		// Each lamp, plug or relay does as it is told, over every connection.
		for _, c := range before {
			if c.Devices > 0 {
				p.commanded(c.ID)
			}
		}
	}, append([]string{"demo", "--history", "0"}, free(t)...)...)
}

// commanded switches a device of a connection, and waits until the device says so.
func (p page) commanded(connection string) {
	p.t.Helper()
	type device struct {
		ID, Title, Connection string
		States                []struct {
			Name      string
			Value     any
			Certainty string
		}
		Description struct {
			Properties []struct {
				Name, Type, Role string
				Writable         bool
				Setting          any
			}
		}
	}
	var devices []device
	p.get("/api/devices", &devices)
	for _, d := range devices {
		if strings.Contains(d.Title, "shutter") {
			continue // its outputs do as its position says
		}
		for _, property := range d.Description.Properties {
			if d.Connection != connection || !property.Writable || property.Type != "boolean" || property.Setting != nil || property.Role != "power" {
				continue
			}
			at := slices.IndexFunc(d.States, func(s struct {
				Name      string
				Value     any
				Certainty string
			}) bool {
				return s.Name == property.Name
			})
			wanted := d.States[at].Value != true
			status, answer := p.ask(
				http.MethodPut,
				fmt.Sprintf("/api/devices/%s/properties/%s?actor=page", d.ID, property.Name),
				fmt.Sprintf(`{"value":%v}`, wanted),
			)
			require.Equal(p.t, http.StatusNoContent, status, "%s: %s", d.Title, answer)
			require.Eventually(p.t, func() bool {
				var now device
				p.get("/api/devices/"+d.ID, &now)
				return now.States[at].Value == wanted && slices.Contains([]string{"confirmed", "assumed"}, now.States[at].Certainty)
			}, 30*time.Second, 20*time.Millisecond, d.Title)
			return
		}
	}
}

package main

import (
	"database/sql"
	"encoding/json"
	"fmt"
	"io"
	"math/rand/v2"
	"net/http"
	"net/url"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/store"
)

// schema is as much of a JSON Schema as is needed to make a right value and to make it wrong.
type schema struct {
	Ref        string            `json:"$ref"`
	Type       any               `json:"type"`
	Properties map[string]schema `json:"properties"`
	Items      *schema           `json:"items"`
	Enum       []any             `json:"enum"`
	Required   []string          `json:"required"`
	AnyOf      []schema          `json:"anyOf"`
	Minimum    *float64          `json:"minimum"`
}

type operation struct {
	method, path string
	OperationID  string `json:"operationId"`
	Parameters   []struct {
		Name   string `json:"name"`
		In     string `json:"in"`
		Schema schema `json:"schema"`
	} `json:"parameters"`
	RequestBody *struct {
		Content map[string]struct {
			Schema schema `json:"schema"`
		} `json:"content"`
	} `json:"requestBody"`
}

// wire is the interface of the hub's, as its OpenAPI document tells it.
type wire struct {
	Paths      map[string]map[string]operation `json:"paths"`
	Components struct {
		Schemas map[string]schema `json:"schemas"`
	} `json:"components"`
}

// right makes a value that fits a schema, as small as may be.
func (i *wire) right(s schema, depth int) any {
	if s.Ref != "" {
		s = i.Components.Schemas[s.Ref[strings.LastIndexByte(s.Ref, '/')+1:]]
	}
	kind := fmt.Sprint(s.Type)
	switch {
	case len(s.Enum) > 0:
		return s.Enum[len(s.Enum)-1]
	case len(s.AnyOf) > 0:
		return true
	case strings.Contains(kind, "object"):
		object := map[string]any{}
		for name, inner := range s.Properties {
			if slices.Contains(s.Required, name) || depth < 2 {
				object[name] = i.right(inner, depth+1)
			}
		}
		return object
	case strings.Contains(kind, "array"):
		if s.Items == nil || depth > 3 {
			return []any{}
		}
		return []any{i.right(*s.Items, depth+1)}
	case strings.Contains(kind, "boolean"):
		return true
	case strings.Contains(kind, "integer"), strings.Contains(kind, "number"):
		if s.Minimum != nil {
			return *s.Minimum
		}
		return 1
	default:
		return "x"
	}
}

// wrongs are kinds of wrong input: each makes a request wrong in its own way.
var wrongs = []func(chance *rand.Rand, body any) string{
	func(*rand.Rand, any) string { return "" },
	func(*rand.Rand, any) string { return "{" },
	func(*rand.Rand, any) string { return "null" },
	func(*rand.Rand, any) string { return "[]" },
	func(*rand.Rand, any) string { return "7" },
	func(*rand.Rand, any) string { return `"x"` },
	func(*rand.Rand, any) string { return "\x00\xff\xfe" },
	func(*rand.Rand, any) string { return strings.Repeat("[", 3000) + strings.Repeat("]", 3000) },
	func(*rand.Rand, any) string {
		return `{"a":` + strings.Repeat(`{"a":`, 3000) + "1" + strings.Repeat("}", 3001)
	},
	func(*rand.Rand, any) string { return `{"title":"` + strings.Repeat("x", 700_000) + `"}` },
	func(*rand.Rand, any) string { return `[` + strings.Repeat("1,", 200_000) + `1]` },
	func(*rand.Rand, any) string { return `{"unknown":1}` },
	func(_ *rand.Rand, body any) string { return written(body) + "}" },
	func(_ *rand.Rand, body any) string { return written([]any{body, body}) },
	func(_ *rand.Rand, body any) string { return written(map[string]any{"body": body}) },
	with(
		nil,
	), with(-1.0), with(1e300), with(0.5), with(""), with(strings.Repeat("y", 5000)), with("\u0000"), with("../../etc/passwd"), with("'; DROP TABLE definitions; --"),
	with(
		[]any{},
	), with(map[string]any{}), with(true), with("2026-99-99T99:99:99Z"), with("http://127.0.0.1:1/"), with("gone-1"), with([]any{nil, nil}), with(9007199254740993.0),
}

func written(v any) string {
	data, _ := json.Marshal(v)
	return string(data)
}

// with exchanges one value somewhere in a right body.
func with(wrong any) func(*rand.Rand, any) string {
	return func(chance *rand.Rand, body any) string {
		copied := map[string]any{}
		if json.Unmarshal([]byte(written(body)), &copied) != nil || len(copied) == 0 {
			return written([]any{wrong})
		}
		at := copied
		for {
			keys := make([]string, 0, len(at))
			for key := range at {
				keys = append(keys, key)
			}
			slices.Sort(keys)
			key := keys[chance.IntN(len(keys))]
			inner, deeper := at[key].(map[string]any)
			if !deeper || len(inner) == 0 || chance.IntN(3) == 0 {
				at[key] = wrong
				return written(copied)
			}
			at = inner
		}
	}
}

// kept is all that the owner made, as the database has it.
func kept(t *testing.T, folder string) string {
	t.Helper()
	db, err := sql.Open("sqlite", filepath.Join(folder, store.FileName)+"?_pragma=query_only(1)&_pragma=busy_timeout(5000)")
	require.NoError(t, err)
	defer func() { _ = db.Close() }()
	var all strings.Builder
	for _, query := range []string{"SELECT kind || id, revision || ' ' || removed || document FROM definitions ORDER BY 1", "SELECT name, hex(sealed) FROM secrets ORDER BY 1", "SELECT name, value FROM settings ORDER BY 1", "SELECT kind || id, version || document FROM drafts ORDER BY 1"} {
		rows, err := db.Query(query)
		require.NoError(t, err)
		for rows.Next() {
			var name, value string
			require.NoError(t, rows.Scan(&name, &value))
			fmt.Fprintln(&all, name, value)
		}
		require.NoError(t, rows.Err())
		require.NoError(t, rows.Close())
	}
	return all.String()
}

var placeholder = regexp.MustCompile(`\{[^}]+\}`)

// TestRefusedMeansUnchanged is a law over all operations of the interface: whatever is wrong with a request, nothing falls,
// nothing is an error of the hub's own, and what is refused has changed nothing.
func TestRefusedMeansUnchanged(t *testing.T) {
	rounds, share := 1, 3
	if raced {
		share = 20
	}
	if n, err := strconv.Atoi(os.Getenv("AMVEK_WRONG_ROUNDS")); err == nil {
		rounds = n
	}
	folder := t.TempDir()
	meanwhile(t, func(address, _ string) {
		p := page{t, address}
		_, front := p.ask(http.MethodGet, "/", "")
		pass := regexp.MustCompile(`name="amvek-page" content="([^"]+)"`).FindSubmatch(front)
		var document wire
		p.get("/api/openapi.json", &document)
		ids := []string{"own", "gone-1", "x", url.PathEscape("a b/c?d"), strings.Repeat("z", 300), "%00", "mode", "home"}
		for path, body := range map[string]string{
			"/api/rooms":     `{"title":"Hall","order":1}`,
			"/api/rules":     `{"title":"R","enabled":true,"when":[{"kind":"phrase","words":"go"}],"do":[{"kind":"notify","text":"x"}]}`,
			"/api/scenes":    `{"title":"S","fadeSeconds":0,"targets":[]}`,
			"/api/schedules": `{"title":"D","enabled":false,"at":{"anchor":"clock","clock":"22:30"},"do":[{"kind":"notify","text":"x"}]}`,
			"/api/groups":    `{"title":"G","devices":[]}`, "/api/variables": `{"title":"V","type":"number","maximum":9}`,
			"/api/dashboards": `{"title":"B","controls":[]}`,
			"/api/sequences":  `{"title":"Q","passages":[],"ending":"hold"}`,
		} {
			status, answer := p.ask(http.MethodPost, path, body)
			require.Less(t, status, 300, "%s: %s", path, answer)
			var saved struct{ ID string }
			require.NoError(t, json.Unmarshal(answer, &saved))
			ids = append(ids, saved.ID)
		}
		_, _ = p.ask(http.MethodPost, "/api/broker/clients", `{"name":"weather","publish":["a/#"],"subscribe":["a/#"]}`)
		ids = append(ids, "weather")
		var operations []operation
		for path, methods := range document.Paths {
			for method, o := range methods {
				o.method, o.path = strings.ToUpper(method), path
				operations = append(operations, o)
			}
		}
		slices.SortFunc(operations, func(a, b operation) int { return strings.Compare(a.path+a.method, b.path+b.method) })
		chance := rand.New(rand.NewPCG(28, 11))
		client := &http.Client{Timeout: 60 * time.Second}
		tried, refused := 0, 0
		before := kept(t, folder)
		for range rounds {
			for _, o := range operations {
				if o.OperationID == "live" {
					continue
				}
				var body any
				if o.RequestBody != nil {
					body = document.right(o.RequestBody.Content["application/json"].Schema, 0)
				}
				for _, wrong := range wrongs {
					if rounds == 1 && chance.IntN(share) > 0 {
						continue // a third of them each time; make torture tries all
					}
					path := placeholder.ReplaceAllStringFunc(o.path, func(string) string { return ids[chance.IntN(len(ids))] })
					query := url.Values{}
					for _, parameter := range o.Parameters {
						if parameter.In == "query" && chance.IntN(2) == 0 {
							query.Set(
								parameter.Name,
								[]string{"", "x", "-1", "1e300", "18446744073709551616", "2026-11-28T22:30:00Z", "own/mode", "\x00"}[chance.IntN(8)],
							)
						}
					}
					text := ""
					if o.method != http.MethodGet {
						text = wrong(chance, body)
					}
					request, err := http.NewRequest(o.method, "http://"+address+path+"?"+query.Encode(), strings.NewReader(text))
					require.NoError(t, err)
					request.Header.Set("Content-Type", []string{"application/json", "application/json", "application/json", "text/plain"}[chance.IntN(4)])
					if chance.IntN(2) == 0 {
						request.Header.Set("Amvek-Page", string(pass[1]))
					}
					response, err := client.Do(request)
					require.NoError(t, err, "%s %s %.200s", o.method, path, text)
					answer, err := io.ReadAll(response.Body)
					_ = response.Body.Close()
					require.NoError(t, err)
					tried++
					what := fmt.Sprintf("%s %s?%s %.200s: %d %.300s", o.method, path, query.Encode(), text, response.StatusCode, answer)
					if !assert.NotEqual(t, http.StatusInternalServerError, response.StatusCode, what) {
						continue
					}
					after := before
					if o.method != http.MethodGet {
						after = kept(t, folder)
					}
					if response.StatusCode >= 400 {
						refused++
						require.Equal(t, before, after, what)
					}
					before = after
				}
			}
		}
		t.Logf("%d wrong inputs, of which %d were refused", tried, refused)
		status, _ := p.ask(http.MethodGet, "/api/home", "")
		assert.Equal(t, http.StatusOK, status)
	}, "serve", "--open", "--listen", "127.0.0.1:0", "--mqtt-listen", "127.0.0.1:0", "--data", folder)
}

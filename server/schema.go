package server

import (
	"encoding/json"
	"fmt"
	"strings"

	"github.com/danielgtaylor/huma/v2"
)

const schemaPrefix = "#/components/schemas/"

// schemaOf returns a schema of the interface's description as one that stands by itself (JSON Schema 2020-12).
func schemaOf(api huma.API, name string) (map[string]any, error) {
	data, err := json.Marshal(api.OpenAPI().Components.Schemas.Map())
	if err != nil {
		return nil, fmt.Errorf("writing the schema: %w", err)
	}
	var all map[string]any
	if err := json.Unmarshal([]byte(strings.ReplaceAll(string(data), schemaPrefix, "#/$defs/")), &all); err != nil {
		return nil, fmt.Errorf("writing the schema: %w", err)
	}
	defs := map[string]any{}
	gather(all, name, defs)
	schema, _ := defs[name].(map[string]any)
	if schema == nil {
		return nil, fmt.Errorf("there is no schema %q", name)
	}
	delete(defs, name)
	standing := map[string]any{"$schema": "https://json-schema.org/draft/2020-12/schema", "title": name, "$defs": defs}
	for key, value := range schema {
		standing[key] = value
	}
	return standing, nil
}

// gather takes a schema with all that it refers to.
func gather(all map[string]any, name string, into map[string]any) {
	if _, there := into[name]; there || all[name] == nil {
		return
	}
	into[name] = all[name]
	var look func(v any)
	look = func(v any) {
		switch v := v.(type) {
		case map[string]any:
			if to, is := v["$ref"].(string); is {
				gather(all, strings.TrimPrefix(to, "#/$defs/"), into)
			}
			for _, inner := range v {
				look(inner)
			}
		case []any:
			for _, inner := range v {
				look(inner)
			}
		}
	}
	look(all[name])
}

package thing

import (
	"encoding/json"
	"fmt"
	"strings"
)

// PlaceholderPlace stands, in a Thing Model, for where one device of the model is: the part of its
// topics, or its address, in which it differs from others.
const PlaceholderPlace = "PLACE"

// Derive makes the Thing Description of one device out of a Thing Model (W3C Thing Description 1.1
// §10.4): placeholders such as {{PLACE}} get their values, and the model is linked to as its type. A
// placeholder without a value is an error.
func Derive(model []byte, id, title string, values map[string]string) ([]byte, error) {
	if p := checkJSON(model); p != nil {
		return nil, &ProblemsError{[]DocumentProblem{*p}}
	}
	var doc map[string]any
	if err := json.Unmarshal(model, &doc); err != nil {
		return nil, fmt.Errorf("reading a Thing Model: %w", err)
	}
	pairs := make([]string, 0, 2*len(values))
	for name, value := range values {
		pairs = append(pairs, "{{"+name+"}}", value)
	}
	if missing := fill(doc, strings.NewReplacer(pairs...)); missing != "" {
		return nil, fmt.Errorf("the placeholder %s has no value", missing)
	}
	delete(doc, "@type")
	doc["id"], doc["title"] = id, title
	if name, _ := doc["amvek:model"].(string); name != "" {
		doc["links"] = []any{map[string]any{"rel": "type", "href": "urn:amvek:model:" + name, "type": "application/tm+json"}}
	}
	if _, there := doc["security"]; !there {
		doc["security"] = "nosec_sc"
		doc["securityDefinitions"] = map[string]any{"nosec_sc": map[string]any{"scheme": "nosec"}}
	}
	return json.MarshalIndent(doc, "", "  ")
}

// fill replaces placeholders in all texts below a value and returns the first that stays.
func fill(in any, replace *strings.Replacer) (missing string) {
	one := func(v any) any {
		text, is := v.(string)
		if !is {
			if m := fill(v, replace); missing == "" {
				missing = m
			}
			return v
		}
		text = replace.Replace(text)
		if _, rest, there := strings.Cut(text, "{{"); there && missing == "" {
			if name, _, closed := strings.Cut(rest, "}}"); closed {
				missing = name
			}
		}
		return text
	}
	switch v := in.(type) {
	case map[string]any:
		for key := range v {
			v[key] = one(v[key])
		}
	case []any:
		for i := range v {
			v[i] = one(v[i])
		}
	}
	return missing
}

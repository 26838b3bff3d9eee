// Package author is for what the owner types: rules as text, written and read, and expressions and scripts, checked and tried.
// It changes nothing in the home: what of it matters is given.
package author

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"regexp"
	"strconv"
	"strings"

	"go.yaml.in/yaml/v3"

	"amvek/core/expr"
	"amvek/core/rule"
)

// maximumRuleText is how long the text of a rule may be.
const maximumRuleText = 200 * 1024

// TellRule returns a rule as YAML 1.2, with the names of what it refers to by id beside it.
func TellRule(doc *rule.Rule, titleOf func(id string) string) (string, error) {
	data, err := json.Marshal(doc)
	if err != nil {
		return "", err
	}
	// JSON is YAML: read so, the order of the fields stays, and only the style is changed.
	var node yaml.Node
	if err := yaml.Unmarshal(data, &node); err != nil {
		return "", err
	}
	plainStyle(&node, titleOf)
	rename(node.Content[0], fieldWhenever, wordWhile)
	var b bytes.Buffer
	encoder := yaml.NewEncoder(&b)
	encoder.SetIndent(2)
	if err := encoder.Encode(&node); err != nil {
		return "", err
	}
	return b.String(), nil
}

func plainStyle(n *yaml.Node, titleOf func(id string) string) {
	n.Style &^= yaml.FlowStyle
	if n.Kind == yaml.ScalarNode {
		n.Style = 0
		if n.Tag == "!!str" && strings.Contains(n.Value, "\n") {
			n.Style = yaml.LiteralStyle
		} else if title := titleOf(n.Value); title != "" && n.Tag == "!!str" {
			n.LineComment = strings.Join(strings.Fields(title), " ")
		}
	}
	for _, c := range n.Content {
		plainStyle(c, titleOf)
	}
}

// A rule that lasts has its condition in the field whenever; in its text, as on the screen, that is while.
const (
	fieldWhenever = "whenever"
	wordWhile     = "while"
)

// rename gives a field of a rule another name, where it has one of that name.
func rename(n *yaml.Node, from, to string) {
	for i := 0; i < len(n.Content); i += 2 {
		if n.Content[i].Value == from {
			n.Content[i].Value = to
		}
	}
}

var yamlPlace = regexp.MustCompile(`line (\d+): (.*)`)

// ReadRule reads a rule from YAML or JSON. It returns the node that it was read from, in which [NodeAt] finds the place of a
// problem; where the text cannot be read, what is wrong with it where.
func ReadRule(text string) (*rule.Rule, *yaml.Node, *expr.Mistake) {
	wrong := func(n *yaml.Node, message string) (*rule.Rule, *yaml.Node, *expr.Mistake) {
		return nil, nil, &expr.Mistake{Line: max(1, n.Line), Column: max(1, n.Column), Message: message}
	}
	var root yaml.Node
	if len(text) > maximumRuleText {
		return wrong(&root, "It is too long for a rule.")
	}
	if err := yaml.Unmarshal([]byte(text), &root); err != nil {
		message := strings.TrimPrefix(err.Error(), "yaml: ")
		if m := yamlPlace.FindStringSubmatch(message); m != nil {
			root.Line, _ = strconv.Atoi(m[1])
			message = m[2]
		}
		return wrong(&root, "This is no YAML: "+message+".")
	}
	if len(root.Content) == 0 {
		return wrong(&root, "Write a rule.")
	}
	node := root.Content[0]
	if node.Kind != yaml.MappingNode {
		return wrong(node, "A rule is a list of fields, such as title: Stair light.")
	}
	rename(node, wordWhile, fieldWhenever)
	value, bad := plainValue(node, 0)
	if bad != nil {
		return wrong(bad, "Only plain values can be written here: no anchors, no tags, each field once.")
	}
	data, err := json.Marshal(value)
	if err != nil {
		return wrong(node, "It holds a number that is none.")
	}
	doc := &rule.Rule{}
	decoder := json.NewDecoder(bytes.NewReader(data))
	decoder.DisallowUnknownFields()
	if err := decoder.Decode(doc); err != nil {
		return wrong(fieldOf(node, err), decodeMessage(err))
	}
	return doc, node, nil
}

// plainValue returns a node as JSON has it, or the node that JSON cannot have.
func plainValue(n *yaml.Node, depth int) (any, *yaml.Node) {
	if depth > 60 || n.Anchor != "" {
		return nil, n
	}
	switch n.Kind {
	case yaml.MappingNode:
		fields := map[string]any{}
		for i := 0; i+1 < len(n.Content); i += 2 {
			key := n.Content[i]
			if _, twice := fields[key.Value]; twice || key.Kind != yaml.ScalarNode {
				return nil, key
			}
			value, bad := plainValue(n.Content[i+1], depth+1)
			if bad != nil {
				return nil, bad
			}
			fields[key.Value] = value
		}
		return fields, nil
	case yaml.SequenceNode:
		list := []any{}
		for _, c := range n.Content {
			value, bad := plainValue(c, depth+1)
			if bad != nil {
				return nil, bad
			}
			list = append(list, value)
		}
		return list, nil
	case yaml.ScalarNode:
		switch n.Tag {
		case "!!str", "!!timestamp":
			return n.Value, nil
		case "!!bool", "!!int", "!!float", "!!null":
			var value any
			if n.Decode(&value) != nil {
				return nil, n
			}
			return value, nil
		}
	}
	return nil, n
}

// NodeAt returns the node at a place such as do/0/value, or the innermost on the way to it.
func NodeAt(n *yaml.Node, path string) *yaml.Node {
	for part := range strings.SplitSeq(path, "/") {
		switch n.Kind {
		case yaml.MappingNode:
			found := false
			for i := 0; i+1 < len(n.Content); i += 2 {
				if n.Content[i].Value == part {
					n, found = n.Content[i+1], true
					break
				}
			}
			if !found {
				return n
			}
		case yaml.SequenceNode:
			i, err := strconv.Atoi(part)
			if err != nil || i < 0 || i >= len(n.Content) {
				return n
			}
			n = n.Content[i]
		default:
			return n
		}
	}
	return n
}

var unknownField = regexp.MustCompile(`unknown field "([^"]*)"`)

// fieldOf returns where a field is that could not be read.
func fieldOf(n *yaml.Node, err error) *yaml.Node {
	name := ""
	if m := unknownField.FindStringSubmatch(err.Error()); m != nil {
		name = m[1]
	}
	var kind *json.UnmarshalTypeError
	if errors.As(err, &kind) {
		name = kind.Field[strings.LastIndexByte(kind.Field, '.')+1:]
	}
	if found := keyNamed(n, name); found != nil {
		return found
	}
	return n
}

func keyNamed(n *yaml.Node, name string) *yaml.Node {
	for i, c := range n.Content {
		if n.Kind == yaml.MappingNode && i%2 == 0 && c.Value == name {
			return c
		}
		if found := keyNamed(c, name); found != nil {
			return found
		}
	}
	return nil
}

func decodeMessage(err error) string {
	if m := unknownField.FindStringSubmatch(err.Error()); m != nil {
		return fmt.Sprintf("A rule has no field %q.", m[1])
	}
	var kind *json.UnmarshalTypeError
	if errors.As(err, &kind) {
		return fmt.Sprintf("%s cannot be a %s.", kind.Field, kind.Value)
	}
	return strings.TrimPrefix(err.Error(), "json: ") + "."
}

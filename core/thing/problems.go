package thing

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"strings"

	"amvek/core/pointer"
)

// DocumentProblem is something wrong in a document, at its place.
type DocumentProblem struct {
	// Path is a JSON Pointer (RFC 6901) to the place.
	Path    string `json:"path"`
	Line    int    `json:"line" doc:"From 1."`
	Column  int    `json:"column" doc:"From 1."`
	Message string `json:"message"`
}

// ProblemsError is all that is wrong with a document.
type ProblemsError struct{ Problems []DocumentProblem }

func (e *ProblemsError) Error() string {
	lines := make([]string, len(e.Problems))
	for i, p := range e.Problems {
		lines[i] = fmt.Sprintf("line %d: %s", p.Line, p.Message)
	}
	return strings.Join(lines, "; ")
}

// Limits of documents from elsewhere.
const (
	MaximumDocument = 1 << 20
	maximumNesting  = 64
)

// checkJSON returns what keeps data from being read as a JSON object.
func checkJSON(data []byte) *DocumentProblem {
	if len(data) > MaximumDocument {
		return &DocumentProblem{Line: 1, Column: 1, Message: fmt.Sprintf("The document has %d bytes; at most %d are read.", len(data), MaximumDocument)}
	}
	decoder := json.NewDecoder(bytes.NewReader(data))
	depth := 0
	for {
		token, err := decoder.Token()
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			at := decoder.InputOffset()
			var syntax *json.SyntaxError
			if errors.As(json.Unmarshal(data, new(any)), &syntax) {
				at, err = syntax.Offset-1, syntax // a decoder counts from where its token begins
			}
			line, column := position(data, at)
			return &DocumentProblem{Line: line, Column: column, Message: "This is not JSON: " + strings.TrimPrefix(err.Error(), "json: ") + "."}
		}
		switch token {
		case json.Delim('{'), json.Delim('['):
			if depth++; depth > maximumNesting {
				line, column := position(data, decoder.InputOffset())
				return &DocumentProblem{Line: line, Column: column, Message: fmt.Sprintf("The document is nested more than %d deep.", maximumNesting)}
			}
		case json.Delim('}'), json.Delim(']'):
			depth--
		}
	}
	if depth > 0 || len(bytes.TrimSpace(data)) == 0 {
		line, column := position(data, int64(len(data)))
		return &DocumentProblem{Line: line, Column: column, Message: "The document ends too early."}
	}
	if first := bytes.TrimSpace(data)[0]; first != '{' {
		return &DocumentProblem{Line: 1, Column: 1, Message: "The document must be a JSON object."}
	}
	return nil
}

func position(data []byte, offset int64) (line, column int) {
	before := data[:min(max(offset, 0), int64(len(data)))]
	return bytes.Count(before, []byte("\n")) + 1, len(before) - bytes.LastIndexByte(before, '\n')
}

// locate returns line and column of the key or element at a JSON Pointer, or of the nearest place
// above it that is there.
func locate(data []byte, pointer string) (line, column int) {
	at := int64(0)
	l := &locator{decoder: json.NewDecoder(bytes.NewReader(data)), want: pointer, best: -1}
	l.value("")
	if l.best >= 0 {
		at = l.best
	}
	return position(data, at)
}

type locator struct {
	decoder *json.Decoder
	want    string
	best    int64
	length  int
}

// note remembers a place that lies on the way to the wanted one.
func (l *locator) note(path string, at int64) {
	if (path == l.want || strings.HasPrefix(l.want, path+"/")) && len(path) >= l.length {
		l.best, l.length = at, len(path)
	}
}

func (l *locator) value(path string) bool {
	token, err := l.decoder.Token()
	if err != nil {
		return false
	}
	delimiter, opens := token.(json.Delim)
	if !opens {
		return true
	}
	for n := 0; l.decoder.More(); n++ {
		key := fmt.Sprint(n)
		before := l.decoder.InputOffset()
		if delimiter == '{' {
			name, err := l.decoder.Token()
			if err != nil {
				return false
			}
			text, _ := name.(string)
			key = pointer.Escape(text)
			before = l.decoder.InputOffset() - int64(len(text)) - 2
		}
		inner := path + "/" + key
		l.note(inner, before+1)
		if !l.value(inner) {
			return false
		}
	}
	_, err = l.decoder.Token()
	return err == nil
}

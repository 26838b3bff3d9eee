// Package address finds the parts of web addresses that give access, such as keys and passwords, and puts marks in their
// place, so that an address can be kept, shown and told without them. It keeps nothing itself and does no I/O.
package address

import (
	"errors"
	"regexp"
	"strings"
)

// ErrFormula says that an address carries a key to a place that a formula decides.
var ErrFormula = errors.New("an address that carries a key needs a fixed host: a formula may stand only after it")

// Part is a part of an address that gives access. It belongs to its origin and goes nowhere else.
type Part struct {
	// Origin is the scheme, host and port as written, in lower case.
	Origin string `json:"origin"`
	Text   string `json:"text"`
}

// mark is what stands for a part: its id is made of 12 small letters and digits.
var mark = regexp.MustCompile(`\(hidden-([a-z0-9]{12})\)`)

// Mark returns what stands for a part in an address.
func Mark(id string) string { return "(hidden-" + id + ")" }

// chosen is how a writer says that a part is to be hidden, whatever it looks like.
var chosen = regexp.MustCompile(`\(hide:([^()]+)\)`)

// Hide puts marks in place of the parts of a web address that give access: a password before the host, what looks made by
// chance, what follows a word such as key or token, and what is written as (hide:…). keep is given each part and returns
// its id. An address without such parts, or what is no web address, comes back as it is. Expressions in braces are left.
func Hide(address string, keep func(Part) string) (string, error) {
	scheme, rest, found := strings.Cut(address, "://")
	if !found {
		return address, nil
	}
	end := strings.IndexAny(rest, "/?#")
	if end < 0 {
		end = len(rest)
	}
	authority, after := rest[:end], rest[end:]
	user, host := "", authority
	if at := strings.LastIndexByte(authority, '@'); at >= 0 {
		user, host = authority[:at], authority[at+1:]
	}
	h := hider{origin: strings.ToLower(scheme + "://" + host), keep: keep}
	if user != "" || len(host) < len(authority) {
		name, password, both := strings.Cut(user, ":")
		if both {
			user = name + ":" + h.hide(password)
		} else {
			user = h.hide(user)
		}
		user += "@"
	}
	after = chosen.ReplaceAllStringFunc(after, func(part string) string { return h.hide(chosen.FindStringSubmatch(part)[1]) })
	path, fragment, hasFragment := cut(after, '#')
	path, query, hasQuery := cut(path, '?')
	path = h.path(path)
	if hasQuery {
		path += "?" + h.query(query)
	}
	if hasFragment {
		path += "#" + fragment
	}
	if h.hidden && strings.ContainsAny(host, "{}") {
		return address, ErrFormula
	}
	return scheme + "://" + user + host + path, nil
}

// cut is strings.Cut at a character that does not stand within braces.
func cut(s string, at byte) (before, after string, found bool) {
	depth := 0
	for i := range len(s) {
		switch {
		case s[i] == '{':
			depth++
		case s[i] == '}':
			depth--
		case s[i] == at && depth <= 0:
			return s[:i], s[i+1:], true
		}
	}
	return s, "", false
}

// split parts a text at a character that does not stand within braces.
func split(s string, at byte) (parts []string) {
	for {
		before, after, found := cut(s, at)
		parts = append(parts, before)
		if !found {
			return parts
		}
		s = after
	}
}

type hider struct {
	origin string
	keep   func(Part) string
	hidden bool
}

func (h *hider) hide(text string) string {
	if text == "" || strings.ContainsAny(text, "{}") || mark.MatchString(text) {
		return text
	}
	h.hidden = true
	return Mark(h.keep(Part{Origin: h.origin, Text: text}))
}

func (h *hider) path(path string) string {
	parts := split(path, '/')
	for i, part := range parts {
		if byChance(part) || (i > 0 && givesAccess(parts[i-1])) {
			parts[i] = h.hide(part)
		}
	}
	return strings.Join(parts, "/")
}

func (h *hider) query(query string) string {
	parts := split(query, '&')
	for i, part := range parts {
		name, value, both := strings.Cut(part, "=")
		switch {
		case both && (givesAccess(name) || byChance(value)):
			parts[i] = name + "=" + h.hide(value)
		case !both && byChance(part):
			parts[i] = h.hide(part)
		}
	}
	return strings.Join(parts, "&")
}

// accessWords are the words by whose side keys stand.
var accessWords = regexp.MustCompile(
	`(?i)(^|[^a-z])(api)?(keys?|appid|token|secret|pass(word|wd|phrase)?|pwd|pin|auth|authorization|sig(nature)?|credentials?|session|private)($|[^a-z])|(?i:apikey|accesskey|token|secret|password)`,
)

func givesAccess(name string) bool {
	return !strings.ContainsAny(name, "{}") && accessWords.MatchString(name)
}

var (
	uuid = regexp.MustCompile(`(?i)^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$`)
	// runs are unbroken letters and digits.
	runs = regexp.MustCompile(`[A-Za-z0-9]+`)
)

// byChance reports whether a part looks like nothing that a person would think of: long, of letters and digits in turn.
func byChance(part string) bool {
	if uuid.MatchString(part) {
		return true
	}
	for _, run := range runs.FindAllString(part, -1) {
		turns := 0
		for i := 1; i < len(run); i++ {
			if digit(run[i]) != digit(run[i-1]) {
				turns++
			}
		}
		if (len(run) >= 10 && turns >= 3) || len(run) >= 40 {
			return true
		}
	}
	return false
}

func digit(b byte) bool { return b >= '0' && b <= '9' }

// Marks returns the ids of the parts that are hidden in a text.
func Marks(text string) (ids []string) {
	for _, found := range mark.FindAllStringSubmatch(text, -1) {
		ids = append(ids, found[1])
	}
	return ids
}

// Origin returns the scheme, host and port of a web address, as [Part] has it.
func Origin(address string) string {
	scheme, rest, _ := strings.Cut(address, "://")
	if end := strings.IndexAny(rest, "/?#"); end >= 0 {
		rest = rest[:end]
	}
	return strings.ToLower(scheme + "://" + rest[strings.LastIndexByte(rest, '@')+1:])
}

// Reveal puts the hidden parts of an address back. It fails where find does not know one.
func Reveal(address string, find func(id string) (text string, err error)) (string, error) {
	var wrong error
	revealed := mark.ReplaceAllStringFunc(address, func(part string) string {
		text, err := find(mark.FindStringSubmatch(part)[1])
		if err != nil {
			wrong = errors.Join(wrong, err)
		}
		return text
	})
	if wrong != nil {
		return "", wrong
	}
	return revealed, nil
}

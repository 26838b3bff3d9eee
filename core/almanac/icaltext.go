package almanac

import "strings"

// block is a component of an iCalendar text: its lines, unfolded, with those of the components within it.
type block struct {
	name  string
	lines []string
}

// blocks takes a text in the format of iCalendar apart into the components directly within its calendars (RFC 5545 §3.4).
// Names of components, properties and parameters are in capitals afterwards, since they may be written in any case (§2).
// It is not whole where it breaks off.
func blocks(text string) (all []block, whole bool) {
	var within []string // the components around, outermost first
	var open *block
	for _, line := range unfold(text) {
		line = capitals(line)
		name, value, _ := strings.Cut(line, ":")
		switch {
		case name == "BEGIN":
			value = strings.ToUpper(strings.TrimSpace(value))
			within = append(within, value)
			if len(within) == 2 {
				open = &block{name: value}
			} else if open != nil {
				open.lines = append(open.lines, "BEGIN:"+value)
			}
			continue
		case name == "END":
			if len(within) == 2 && open != nil {
				all = append(all, *open)
				open = nil
			} else if open != nil {
				open.lines = append(open.lines, "END:"+strings.ToUpper(strings.TrimSpace(value)))
			}
			if len(within) > 0 {
				within = within[:len(within)-1]
			}
			continue
		}
		if open != nil {
			open.lines = append(open.lines, line)
		}
	}
	return all, len(within) == 0
}

// unfold puts lines together that were folded (RFC 5545 §3.1).
func unfold(text string) (lines []string) {
	for line := range strings.SplitSeq(strings.ReplaceAll(text, "\r\n", "\n"), "\n") {
		if folded := strings.HasPrefix(line, " ") || strings.HasPrefix(line, "\t"); folded && len(lines) > 0 {
			lines[len(lines)-1] += line[1:]
			continue
		}
		if line != "" {
			lines = append(lines, line)
		}
	}
	return lines
}

// capitals writes the names of a line's property and parameters in capitals.
func capitals(line string) string {
	out := []byte(line)
	quoted, name := false, true
	for i, c := range out {
		switch {
		case c == '"':
			quoted = !quoted
		case quoted:
		case c == ':':
			return string(out)
		case c == ';':
			name = true
		case c == '=':
			name = false
		case name && c >= 'a' && c <= 'z':
			out[i] = c - 'a' + 'A'
		}
	}
	return string(out)
}

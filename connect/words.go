package connect

import "strings"

// Sentence makes a sentence for the owner out of an error; errors joined to one become one line.
func Sentence(err error) string {
	words := strings.ReplaceAll(err.Error(), "\n", "; ")
	if words == "" {
		return ""
	}
	sentence := strings.ToUpper(words[:1]) + words[1:]
	if strings.HasSuffix(sentence, ".") || strings.HasSuffix(sentence, "?") {
		return sentence
	}
	return sentence + "."
}

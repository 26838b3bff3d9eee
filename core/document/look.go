package document

import (
	"regexp"
	"slices"
)

var iconName = regexp.MustCompile(`^[a-z0-9][a-z0-9-]*$`)

// CheckIcon returns an error at a place where a name is that of no icon; none is "".
func CheckIcon(at, name string) error {
	if name != "" && !iconName.MatchString(name) {
		return Wrong(at, "there is no icon %q", name)
	}
	return nil
}

// CheckTint returns an error at a place where a name is no color of the house's palette; none is "".
func CheckTint(at, name string) error {
	if !slices.Contains([]string{"", "verdigris", "ember", "ochre", "slate", "plum"}, name) {
		return Wrong(at, "there is no color %q", name)
	}
	return nil
}

// Package profiles is the catalogue of profiles that ships with Amvek: Thing Models
// (W3C Thing Description 1.1 §10), one file a model.
package profiles

import (
	"embed"
	"fmt"

	"amvek/core/thing"
)

//go:embed *.tm.json
var files embed.FS

// Catalogue finds a profile by the maker's model number.
type Catalogue map[string]*thing.Model

// Load reads the shipped catalogue.
func Load() (Catalogue, error) {
	entries, err := files.ReadDir(".")
	if err != nil {
		return nil, err
	}
	catalogue := Catalogue{}
	for _, entry := range entries {
		data, err := files.ReadFile(entry.Name())
		if err != nil {
			return nil, err
		}
		model, err := thing.ParseModel(data)
		if err != nil {
			return nil, fmt.Errorf("%s: %w", entry.Name(), err)
		}
		if catalogue[model.Model] != nil {
			return nil, fmt.Errorf("%s: the model %s has two profiles", entry.Name(), model.Model)
		}
		catalogue[model.Model] = model
	}
	return catalogue, nil
}

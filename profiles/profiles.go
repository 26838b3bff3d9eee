// Package profiles is the catalogue of profiles that ships with Amvek: Thing Models
// (W3C Thing Description 1.1 §10), one file a model. Those in the folder more are there to be
// installed when a device needs them.
package profiles

import (
	"embed"
	"fmt"
	"path"

	"amvek/core/thing"
)

//go:embed *.tm.json more/*.tm.json
var files embed.FS

// Shipped is a profile that comes with Amvek.
type Shipped struct {
	Model *thing.Model
	// Document is the Thing Model as it is written.
	Document []byte
	// Installed says that it is in use without the owner's doing.
	Installed bool
}

// Load reads the shipped catalogue. No two profiles are for the same model.
func Load() ([]Shipped, error) {
	var all []Shipped
	seen := map[string]bool{}
	for _, folder := range []string{".", "more"} {
		entries, err := files.ReadDir(folder)
		if err != nil {
			return nil, err
		}
		for _, entry := range entries {
			if entry.IsDir() {
				continue
			}
			data, err := files.ReadFile(path.Join(folder, entry.Name()))
			if err != nil {
				return nil, err
			}
			model, err := thing.ParseModel(data)
			if err != nil {
				return nil, fmt.Errorf("%s: %w", entry.Name(), err)
			}
			if seen[model.Model] {
				return nil, fmt.Errorf("%s: the model %s has two profiles", entry.Name(), model.Model)
			}
			seen[model.Model] = true
			all = append(all, Shipped{Model: model, Document: data, Installed: folder == "."})
		}
	}
	return all, nil
}

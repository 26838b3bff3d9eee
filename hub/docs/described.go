package docs

import (
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"

	"amvek/core/thing"
)

// Profile is the definition of a profile that the owner installed, imported or wrote. Its id is
// made from its model, since there is one for each.
type Profile struct {
	Title    string          `json:"title"`
	Model    string          `json:"model"`
	Document json.RawMessage `json:"document"`
}

// ProfileID returns the id of the profile of a model.
func ProfileID(model string) string { return string(KindProfile) + "-" + model }

// Check returns an error when devices could not be described by the profile.
func (p *Profile) Check() error {
	_, err := thing.ParseModel(p.Document)
	return err
}

// Thing is the definition of a device by its own Thing Description, given by the owner.
type Thing struct {
	Title  string `json:"title"`
	Source string `json:"source,omitempty" doc:"The address at which it was read."`
	// Connection is the broker's by which it is reached; empty for HTTP.
	Connection string `json:"connection,omitempty"`
	// Hardware is the id in the description.
	Hardware string          `json:"hardware"`
	Document json.RawMessage `json:"document,omitempty"`
	// Profile is the model of the profile that the description is derived from, and Place where the
	// device is; both are empty where the description was given.
	Profile string `json:"profile,omitempty"`
	Place   string `json:"place,omitempty"`
}

// ThingID makes the id of a definition of what the device itself calls its id, which may be anything.
func ThingID(hardware string) string {
	sum := sha256.Sum256([]byte(hardware))
	return string(KindThing) + "-" + hex.EncodeToString(sum[:8])
}

package hub

import (
	"sync"

	"amvek/core/thing"
)

// ShippedProfile is a profile that comes with the program.
type ShippedProfile struct {
	Model    *thing.Model
	Document []byte
	// Installed says that it is in use from the beginning; the others wait to be installed.
	Installed bool
}

// Catalogue finds the profile of a model: the owner's own before what was shipped. It may be used
// from any goroutine.
type Catalogue struct {
	shipped map[string]ShippedProfile
	mu      sync.RWMutex
	own     map[string]*thing.Model
}

// NewCatalogue returns a catalogue of what was shipped.
func NewCatalogue(shipped []ShippedProfile) *Catalogue {
	c := &Catalogue{shipped: map[string]ShippedProfile{}, own: map[string]*thing.Model{}}
	for _, s := range shipped {
		c.shipped[s.Model.Model] = s
	}
	return c
}

// Find returns the profile in use for a model, nil when there is none.
func (c *Catalogue) Find(model string) *thing.Model {
	c.mu.RLock()
	defer c.mu.RUnlock()
	if own := c.own[model]; own != nil {
		return own
	}
	if s := c.shipped[model]; s.Installed {
		return s.Model
	}
	return nil
}

// put takes the owner's own profile of a model; nil takes it away.
func (c *Catalogue) put(model string, own *thing.Model) {
	c.mu.Lock()
	defer c.mu.Unlock()
	if own == nil {
		delete(c.own, model)
		return
	}
	c.own[model] = own
}

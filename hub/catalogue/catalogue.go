// Package catalogue finds the profile of a model of device: the owner's own before what was shipped. It keeps nothing on disk and
// speaks with no device.
package catalogue

import (
	"maps"
	"slices"
	"sync"

	"amvek/core/thing"
)

// Shipped is a profile that comes with the program.
type Shipped struct {
	Model    *thing.Model
	Document []byte
	// Installed says that it is in use from the beginning; the others wait to be installed.
	Installed bool
}

// Catalogue finds the profile of a model: the owner's own before what was shipped. It may be used
// from any goroutine.
type Catalogue struct {
	shipped map[string]Shipped
	mu      sync.RWMutex
	own     map[string]*thing.Model
}

// New returns a catalogue of what was shipped.
func New(shipped []Shipped) *Catalogue {
	c := &Catalogue{shipped: map[string]Shipped{}, own: map[string]*thing.Model{}}
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

// Put takes the owner's own profile of a model; nil takes it away.
func (c *Catalogue) Put(model string, own *thing.Model) {
	c.mu.Lock()
	defer c.mu.Unlock()
	if own == nil {
		delete(c.own, model)
		return
	}
	c.own[model] = own
}

// Shipped returns what was shipped for a model; it is false where nothing was.
func (c *Catalogue) Shipped(model string) (Shipped, bool) {
	s, there := c.shipped[model]
	return s, there
}

// AllShipped returns the models for which a profile was shipped, in order.
func (c *Catalogue) AllShipped() []string { return slices.Sorted(maps.Keys(c.shipped)) }

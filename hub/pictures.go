package hub

import (
	"context"
	"slices"

	"amvek/connect"
	"amvek/core/thing"
)

// Picture asks a device for one of the pictures of its description. Nothing of it is kept.
func (h *Hub) Picture(ctx context.Context, device, name string) (connect.Picture, error) {
	var shows connect.Pictured
	var address string
	found := false
	if err := h.do(ctx, func() {
		d := h.definitions.Device(device)
		if d == nil || !slices.ContainsFunc(d.Description.Pictures, func(p thing.Picture) bool { return p.Name == name }) {
			return
		}
		found = true
		if l := h.links[d.Connection]; l != nil && l.Running() {
			shows, _ = l.Connection.(connect.Pictured)
			address = l.AddressOf(d.Hardware, d.Address)
		}
	}); err != nil {
		return connect.Picture{}, err
	}
	switch {
	case !found:
		return connect.Picture{}, Absent("The device shows no such picture.")
	case shows == nil:
		return connect.Picture{}, &UnansweredError{"Its connection is down, so no picture can be shown."}
	}
	picture, err := shows.Picture(ctx, address, name)
	if err != nil {
		return connect.Picture{}, &UnansweredError{"No picture arrived. " + connect.Sentence(err)}
	}
	return picture, nil
}

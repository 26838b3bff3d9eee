package hub

import (
	"context"
	"slices"
	"sync"
	"time"

	"golang.org/x/sync/singleflight"

	"amvek/connect"
	"amvek/core/thing"
)

// pictureFor is for how long a picture is shown again to others: a camera on twenty panels is asked as often as on one.
const pictureFor = time.Second

// pictures are those that were asked for a moment ago. The zero value is useful.
type pictures struct {
	asking singleflight.Group
	mu     sync.Mutex
	last   map[string]connect.Picture
}

// get returns a picture by its key, asked for once by all who want it within a moment.
func (p *pictures) get(key string, ask func() (connect.Picture, error)) (connect.Picture, error) {
	asked, err, _ := p.asking.Do(key, func() (any, error) {
		p.mu.Lock()
		picture, there := p.last[key]
		p.mu.Unlock()
		if there {
			return picture, nil
		}
		picture, err := ask()
		if err != nil {
			return nil, err
		}
		p.mu.Lock()
		defer p.mu.Unlock()
		if p.last == nil {
			p.last = map[string]connect.Picture{}
		}
		p.last[key] = picture
		time.AfterFunc(pictureFor, func() {
			p.mu.Lock()
			defer p.mu.Unlock()
			delete(p.last, key)
		})
		return picture, nil
	})
	if err != nil {
		return connect.Picture{}, err
	}
	return asked.(connect.Picture), nil
}

// Picture asks a device for one of the pictures of its description. It is kept no longer than for those who look at the same time.
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
	picture, err := h.pictures.get(device+"/"+name, func() (connect.Picture, error) {
		return shows.Picture(context.WithoutCancel(ctx), address, name) // one who leaves takes it from nobody else
	})
	if err != nil {
		return connect.Picture{}, &UnansweredError{"No picture arrived. " + connect.Sentence(err)}
	}
	return picture, nil
}

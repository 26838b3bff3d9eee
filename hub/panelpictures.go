package hub

import (
	"bytes"
	"context"
	"image/jpeg"
	"time"
)

const (
	// panelPicturesAtMost is how many pictures of each panel are kept.
	panelPicturesAtMost = 50
	// widestPanelPicture is how many pixels wide and high a picture of a panel is at most.
	widestPanelPicture = 4096
)

// PanelPicture is a picture that a panel took.
type PanelPicture struct {
	Made time.Time `json:"made"`
	// At names it among those of its panel: when it was made, in ms since 1970.
	At int64 `json:"at" doc:"Names it among those of its panel: when it was made, in ms since 1970."`
}

// KeepPanelPicture keeps a picture that a panel took, which is named by its hardware.
func (h *Hub) KeepPanelPicture(ctx context.Context, hardware string, picture []byte) error {
	size, err := jpeg.DecodeConfig(bytes.NewReader(picture))
	if err != nil || size.Width > widestPanelPicture || size.Height > widestPanelPicture {
		return Invalid("picture", "The panel sent something that is not a picture.")
	}
	id := ""
	if panels := h.people.panels.Load(); panels != nil {
		for one, d := range *panels {
			if d.Hardware == hardware {
				id = one
			}
		}
	}
	if id == "" {
		return Absent("There is no such panel.")
	}
	return h.store.AddPanelPicture(ctx, id, h.clock.Now(), picture, panelPicturesAtMost)
}

// PanelPictures returns the pictures of a panel that are kept, the newest first.
func (h *Hub) PanelPictures(ctx context.Context, panel string) ([]PanelPicture, error) {
	made, err := h.store.PanelPictures(ctx, panel)
	if err != nil {
		return nil, err
	}
	all := make([]PanelPicture, 0, len(made))
	for _, at := range made {
		all = append(all, PanelPicture{at, at.UnixMilli()})
	}
	return all, nil
}

// PanelPictureOf returns a picture that a panel took, as JPEG.
func (h *Hub) PanelPictureOf(ctx context.Context, panel string, at int64) ([]byte, error) {
	data, err := h.store.PanelPicture(ctx, panel, time.UnixMilli(at))
	if err == nil && data == nil {
		return nil, Absent("There is no such picture.")
	}
	return data, err
}

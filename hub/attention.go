package hub

import (
	"time"

	"amvek/core/engine"
	"amvek/core/home"
	"amvek/core/thing"
	"amvek/hub/docs"
	"amvek/hub/show"
)

// attentionProperty is the number of devices that need attention.
const attentionProperty = "attention"

// own describes the home as a device of its own. It has no connection: the hub itself speaks for it.
func own() *home.Device {
	return &home.Device{
		Title: "This home", Hardware: docs.OwnID, Maker: "Amvek",
		Description: thing.Description{Properties: []thing.Property{{
			Name: attentionProperty, Title: "Devices that need attention", Help: "How many devices Care lists.",
			Role: thing.RoleAttention, Type: thing.TypeNumber, Maximum: 1_000_000, Resolution: 1,
		}}, Events: []thing.Event{}, Actions: []thing.Action{}},
	}
}

// attention counts the devices that need some. It belongs to the loop.
type attention struct {
	of      map[string]string   // what each needs it for, by its kinds
	changed map[string]struct{} // devices of which it is to be looked at anew
}

func newAttention() attention {
	return attention{of: map[string]string{}, changed: map[string]struct{}{}}
}

// attend lets a device be looked at anew once what is going on is dealt with.
func (h *Hub) attend(device string) {
	if device != docs.OwnID {
		h.attention.changed[device] = struct{}{}
		h.shown.board.Later(show.Key{Of: string(docs.KindDevice), ID: device}, time.Now().Add(careDelay))
	}
}

// countAttention looks at the devices of which something changed, and says how many need attention.
func (h *Hub) countAttention() {
	if len(h.attention.changed) == 0 || !h.linked {
		return
	}
	for id := range h.attention.changed {
		was, needs := h.attention.of[id], ""
		if d := h.definitions.Device(id); d != nil {
			for _, a := range h.reader.Condition(id, d).Attention {
				needs += a.Kind + " " + a.Property + "\n"
			}
		}
		if needs == was {
			continue
		}
		h.attention.of[id] = needs
		if needs == "" {
			delete(h.attention.of, id)
		}
		// What a device needs is told with the device, not with its properties.
		h.touch(docs.KindDevice, id)
	}
	clear(h.attention.changed)
	count := thing.Number(float64(len(h.attention.of)))
	if state, _ := h.engine.PropertyState(thing.Ref{Device: docs.OwnID, Name: attentionProperty}); state.Reported != count {
		h.handle(engine.Input{Kind: engine.InputReport, Device: docs.OwnID, Name: attentionProperty, Value: count})
	}
}

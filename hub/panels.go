package hub

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

	"amvek/connect/panel"
	"amvek/core/cause"
	"amvek/core/document"
	"amvek/core/gate"
	"amvek/core/home"
	"amvek/hub/docs"
)

// panelsChanged takes over which panels there are. It runs in the loop.
func (h *Hub) panelsChanged() {
	all := map[string]home.Device{}
	for id, d := range h.definitions.Devices {
		if d.Doc.Connection == PanelsID {
			all[id] = *d.Doc
		}
	}
	h.people.panels.Store(&all)
	h.GateChanged()
}

// describePanels has each panel offer what panels offer by now. It runs before the loop.
func (h *Hub) describePanels() {
	for _, d := range h.definitions.Devices {
		if d.Doc.Connection == PanelsID {
			d.Doc.Description = panel.Description()
		}
	}
}

// Panel returns a panel of the home; it is false where there is none of this id.
func (h *Hub) Panel(id string) (home.Device, bool) {
	all := h.people.panels.Load()
	if all == nil {
		return home.Device{}, false
	}
	d, there := (*all)[id]
	return d, there
}

// NewPanel is a panel that is about to be set up.
type NewPanel struct {
	Title      string   `json:"title" minLength:"1" maxLength:"120"`
	Room       string   `json:"room,omitempty" doc:"Id of the room that it hangs in."`
	Dashboards []string `json:"dashboards" minItems:"1" maxItems:"100" doc:"The ids of the dashboards that it is given, its own first."`
}

// AddPanel takes a panel into the home. No tablet is it yet: one is let in by a code.
func (h *Hub) AddPanel(ctx context.Context, of NewPanel) (id string, err error) {
	id = docs.NewID(docs.KindDevice)
	d := &home.Device{
		Title: strings.TrimSpace(of.Title), Room: of.Room, Dashboards: of.Dashboards, Connection: PanelsID, Hardware: id, Address: id,
		Maker: "Amvek", Model: panel.Model, Description: panel.Description(),
	}
	_, err = h.Save(ctx, New{Kind: docs.KindDevice, ID: id, Document: d})
	return id, err
}

// checkPanel returns an error where a device is given dashboards that there are not, or is no panel. It runs in the loop.
func (h *Hub) checkPanel(doc *home.Device) error {
	if doc.Connection != PanelsID {
		if len(doc.Dashboards) > 0 {
			return document.Wrong("dashboards", "only a panel is given dashboards")
		}
		return nil
	}
	for i, id := range doc.Dashboards {
		before, _ := h.Panel(doc.Hardware)
		if h.definitions.Dashboards[id].Doc == nil && !slices.Contains(before.Dashboards, id) {
			return document.Wrong(fmt.Sprintf("dashboards[%d]", i), "there is no such dashboard")
		}
	}
	return nil
}

// panelGone ends all by which tablets were let in as a panel. It runs in the loop.
func (h *Hub) panelGone(id string, doc *home.Device) {
	if doc.Connection != PanelsID {
		return
	}
	h.panelsChanged()
	h.workers.Go(func() {
		if err := h.Sessions.Forget(h.context, id); err != nil && !errors.Is(err, context.Canceled) {
			h.log.Error("the sessions of a panel that was removed could not be ended", "error", err)
		}
		if err := h.store.DropPanelPictures(h.context, id); err != nil && !errors.Is(err, context.Canceled) {
			h.log.Error("the pictures of a panel that was removed could not be forgotten", "error", err)
		}
		h.GateChanged()
	})
}

// panelPrincipal returns what a panel may: what stands on its dashboards, and what rules show there.
func (h *Hub) panelPrincipal(ctx context.Context, id string, doc home.Device) (gate.Principal, bool) {
	reach, version, err := h.reach(ctx, "panel "+id, func() *gate.Reach {
		reach := h.boards(doc.Dashboards, gate.Viewer{Role: gate.Panels, ID: id})
		reach.AddShown(doc.Dashboards)
		for _, id := range doc.Dashboards {
			if d := h.definitions.Dashboards[id].Doc; d != nil && d.Margin {
				reach.AddMargin(h.definitions.Device)
			}
		}
		return reach
	})
	if err != nil {
		return gate.Principal{}, false
	}
	return gate.Principal{
		By: cause.By{Who: cause.Panel, ID: id, Via: cause.ViaPanel}, Rank: gate.Operating, Within: reach, Class: fmt.Sprintf("panel %s %d", id, version),
	}, true
}

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
	"amvek/core/rule"
	"amvek/hub/docs"
)

// panelsChanged takes over which panels there are. It runs in the loop.
func (h *Hub) panelsChanged() {
	all := map[string]Panel{}
	for id, d := range h.definitions.Devices {
		if d.Doc.Connection == PanelsID {
			all[id] = h.panelOf(id, d.Doc)
		}
	}
	h.people.panels.Store(&all)
	h.GateChanged()
}

// Panel is a tablet on a wall, with its keys that do something.
type Panel struct {
	home.Device
	Keys []PanelKey
	// rules are those that its keys start, on or off.
	rules map[string]bool
}

// PanelKey is a key of a panel, with what stands on it.
type PanelKey struct {
	Name string `json:"name"`
	Sign string `json:"sign" doc:"What stands on it: what its owner chose, else what its one rule is called."`
}

// panelOf returns a panel with the keys by which a rule is started, in their order. It runs in the loop.
func (h *Hub) panelOf(id string, d *home.Device) Panel {
	titles := map[string][]string{} // of the rules that are on, by key
	p := Panel{Device: *d, rules: map[string]bool{}}
	for ruleID, r := range h.definitions.Rules {
		for _, key := range keysOf(r.Doc, id) {
			p.rules[ruleID] = true
			if r.Doc.Enabled {
				titles[key] = append(titles[key], r.Doc.Title)
			}
		}
	}
	for i := range d.Description.Events {
		event := &d.Description.Events[i]
		does := titles[event.Name]
		if len(does) == 0 {
			continue
		}
		key := PanelKey{event.Name, event.Title}
		if at, placed := d.Layout[event.Name]; placed && at.Sign != event.Layout.Sign {
			key.Sign = at.Sign
		} else if len(does) == 1 {
			key.Sign = doneBy(does[0], d.Title)
		}
		p.Keys = append(p.Keys, key)
	}
	return p
}

// keysOf returns the keys of a device that start a rule, each once.
func keysOf(r *rule.Rule, device string) (all []string) {
	for _, t := range r.When {
		if t.Device == device && t.Event != "" && !slices.Contains(all, t.Event) {
			all = append(all, t.Event)
		}
	}
	return all
}

// doneBy returns what a rule of a key does, by its title, where that was made of the key: "Plate, key 1 pressed: Film".
func doneBy(title, device string) string {
	if rest, is := strings.CutPrefix(title, device+", "); is {
		if _, what, says := strings.Cut(rest, ": "); says {
			return what
		}
	}
	return title
}

// ruleOfPanel follows when a rule came, went or was changed: where a key of a panel starts it, the panel shows other keys.
func (h *Hub) ruleOfPanel(id string, doc *rule.Rule) {
	panels := h.people.panels.Load()
	if panels == nil {
		return
	}
	for device, p := range *panels {
		if p.rules[id] || len(keysOf(doc, device)) > 0 {
			h.panelsChanged()
			return
		}
	}
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
func (h *Hub) Panel(id string) (Panel, bool) {
	all := h.people.panels.Load()
	if all == nil {
		return Panel{}, false
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
func (h *Hub) panelPrincipal(ctx context.Context, id string, doc Panel) (gate.Principal, bool) {
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

package hub

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	"reflect"

	"amvek/core/home"
	"amvek/core/thing"
	"amvek/hub/docs"
	"amvek/hub/links"
)

// behindSetting keeps by which gateway hardware was last listed, so that what left while nobody listened is noticed.
const behindSetting = "behind gateways"

// loadBehind reads by which gateway hardware was last listed.
func (h *Hub) loadBehind(ctx context.Context) error {
	h.behind = map[string]map[string]string{}
	kept, err := h.store.Setting(ctx, behindSetting)
	if err != nil || kept == "" {
		return err
	}
	if json.Unmarshal([]byte(kept), &h.behind) != nil {
		h.log.Warn("which device was behind which gateway cannot be read, and is learned anew")
		h.behind = map[string]map[string]string{}
	}
	return nil
}

// keepBehind keeps it, beside the loop. It runs in the loop.
func (h *Hub) keepBehind() {
	data, err := json.Marshal(h.behind)
	if err != nil {
		h.log.Error("which device is behind which gateway cannot be kept", "error", err)
		return
	}
	h.workers.Go(func() {
		if err := h.store.PutSetting(context.WithoutCancel(h.context), behindSetting, string(data)); err != nil {
			h.log.Error("which device is behind which gateway cannot be kept", "error", err)
		}
	})
}

// describeAnew takes what devices of the home now say of themselves, where that is another than before. It runs in the loop;
// what is saved is saved beside it.
func (h *Hub) describeAnew(l *links.Link) {
	var all []New
	for _, a := range l.Announcements() {
		id := l.Device(a.Hardware)
		if id == "" || !a.SelfDescribed || a.Profile == nil || h.catalogue.Find(a.Model) != nil {
			continue
		}
		kept := h.definitions.Devices[id]
		if kept.Doc == nil {
			continue
		}
		anew := describedBy(kept.Doc, &a.Profile.Description)
		if alike(&kept.Doc.Description, &anew.Description) {
			continue
		}
		all = append(all, New{Kind: docs.KindDevice, ID: id, Revision: kept.Revision, Document: anew})
	}
	if len(all) == 0 {
		return
	}
	h.workers.Go(func() {
		_, err := h.Commit(h.context, Together{Save: all})
		var clash *ClashError
		var conflict *ConflictError
		switch {
		case err == nil:
			h.log.Info("devices describe themselves anew", "connection", l.Definition.Title, "number", len(all))
		case h.context.Err() != nil, errors.As(err, &clash), errors.As(err, &conflict):
			// Somebody edits them at this moment: they are taken when they are next listed.
		default:
			h.log.Warn("devices that describe themselves anew could not be saved", "connection", l.Definition.Title, "error", err)
		}
	})
}

// alike reports whether two descriptions say the same.
func alike(a, b *thing.Description) bool {
	x, y := cloneDescription(a), cloneDescription(b)
	for _, d := range []*thing.Description{&x, &y} {
		if len(d.Events) == 0 {
			d.Events = nil
		}
		if len(d.Actions) == 0 {
			d.Actions = nil
		}
		if len(d.Properties) == 0 {
			d.Properties = nil
		}
	}
	if reflect.DeepEqual(x, y) {
		return true
	}
	// What was kept was written as JSON, which knows no difference between nothing and an empty list.
	one, failed := json.Marshal(x)
	other, wrong := json.Marshal(y)
	return failed == nil && wrong == nil && string(one) == string(other)
}

// describedBy returns a device with another description, and of its adjustments those that still fit.
func describedBy(before *home.Device, description *thing.Description) *home.Device {
	device := *before
	device.Description = cloneDescription(description)
	device.Description.CarryOver(&before.Description)
	if device.Check() != nil {
		device.Lighting = nil // it is another lamp now
	}
	device.FitLighting()
	device.Adjustments = maps.Clone(device.Adjustments)
	maps.DeleteFunc(device.Adjustments, func(name string, _ thing.Adjustment) bool {
		p := device.Description.Property(name)
		return p == nil || p.Type != thing.TypeNumber || p.Writable
	})
	return &device
}

// DevicesTag names the devices of the home as they are described now: another where one was added, removed, or described
// anew. Who follows a list of them asks for it again and again, so it costs no more than a look at each revision.
func (h *Hub) DevicesTag(ctx context.Context) (tag string, err error) {
	sum := sha256.New()
	err = h.do(ctx, func() {
		for _, id := range h.definitions.Devices.IDs() {
			kept := h.definitions.Devices[id]
			_, _ = fmt.Fprintf(sum, "%s %d\n", id, kept.Revision)
			if id == docs.OwnID { // it is made of variables and modes, and has no revisions of its own
				data, _ := json.Marshal(kept.Doc.Description)
				_, _ = sum.Write(data)
			}
		}
	})
	return hex.EncodeToString(sum.Sum(nil)[:12]), err
}

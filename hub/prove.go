package hub

import (
	"context"
	"fmt"
	"maps"
	"time"

	"amvek/connect"
	"amvek/core/sensor"
	"amvek/core/thing"
	"amvek/hub/docs"
)

const longestComparison = 14 * 24 * time.Hour

// Proof is a sensor compared with a trusted one.
type Proof struct {
	sensor.Comparison
	// Proposed is the calibration that would make the difference vanish; Sloped the one with a slope, absent where the
	// readings do not range far enough for one.
	Proposed thing.Adjustment  `json:"proposed"`
	Sloped   *thing.Adjustment `json:"sloped,omitempty"`
	Unit     thing.Unit        `json:"unit"`
}

// Prove compares a sensor's readings, as its present calibration takes them, with those of a trusted one over the last while.
func (h *Hub) Prove(ctx context.Context, suspect, trusted thing.Ref, last time.Duration) (Proof, error) {
	if last <= 0 || last > longestComparison {
		return Proof{}, Invalid("hours", "Compare over up to two weeks.")
	}
	if suspect == trusted {
		return Proof{}, Invalid("trusted", "Choose another sensor than this one.")
	}
	var a, b *thing.Property
	var now time.Time
	var present thing.Adjustment
	if err := h.do(ctx, func() {
		now = h.clock.Now()
		a, b = h.engine.Property(suspect.Device, suspect.Name), h.engine.Property(trusted.Device, trusted.Name)
		if d := h.definitions.Device(suspect.Device); d != nil {
			present = d.Adjustments[suspect.Name]
		}
	}); err != nil {
		return Proof{}, err
	}
	switch {
	case a == nil || b == nil:
		return Proof{}, Absent("There is no such device or property.")
	case a.Type != thing.TypeNumber || a.Writable:
		return Proof{}, Invalid("property", a.Title+" is no reading that can be calibrated.")
	case b.Type != thing.TypeNumber || b.Unit != a.Unit:
		return Proof{}, Invalid("trusted", fmt.Sprintf("%s is in another unit.", b.Title))
	}
	raw, err := h.store.Samples(ctx, suspect.Device, suspect.Name, now.Add(-last), now)
	if err != nil {
		return Proof{}, fmt.Errorf("reading the history: %w", err)
	}
	other, err := h.readings(ctx, trusted, now.Add(-last), now)
	if err != nil {
		return Proof{}, err
	}
	var says, said, right []sensor.Sample
	for _, s := range raw {
		says = append(says, sensor.Sample{At: s.At, Value: s.Value})
		said = append(said, sensor.Sample{At: s.At, Value: present.Calibrate(s.Value)})
	}
	for _, p := range other {
		right = append(right, sensor.Sample{At: p.At, Value: p.Value})
	}
	shown, err := sensor.Compare(said, right)
	if err != nil {
		return Proof{}, &ConflictError{connect.Sentence(err)}
	}
	anew, err := sensor.Compare(says, right)
	if err != nil {
		return Proof{}, &ConflictError{connect.Sentence(err)}
	}
	proof := Proof{Comparison: shown, Unit: a.Unit, Proposed: present}
	proof.Proposed.Offset, proof.Proposed.Slope = anew.Offset, 0
	if anew.Slope != 0 {
		sloped := present
		sloped.Offset, sloped.Slope = anew.SlopeOffset, anew.Slope
		proof.Sloped = &sloped
	}
	return proof, nil
}

// Adjust changes how a sensor's readings are taken; nil takes them as they come.
func (h *Hub) Adjust(ctx context.Context, ref thing.Ref, by *thing.Adjustment) error {
	view, err := h.Device(ctx, ref.Device)
	if err != nil {
		return err
	}
	device := view.Device
	if device.Description.Property(ref.Name) == nil {
		return Absent("The device has no such property.")
	}
	device.Adjustments = maps.Clone(device.Adjustments)
	if by == nil {
		delete(device.Adjustments, ref.Name)
	} else {
		if device.Adjustments == nil {
			device.Adjustments = map[string]thing.Adjustment{}
		}
		device.Adjustments[ref.Name] = *by
	}
	_, err = h.Save(ctx, New{Kind: docs.KindDevice, ID: ref.Device, Document: &device})
	return err
}

package hub

import (
	"context"
	"fmt"
	"strconv"
	"time"
)

// Kept is for how long, and how much, of what was is kept.
type Kept struct {
	// Days is how long readings are kept as they were; their means, least and most are kept for good.
	Days int `json:"days" minimum:"7" maximum:"36500" doc:"How long readings are kept as they were; their means, least and most are kept for good."`
	// JournalDays is how long the journal is kept.
	JournalDays int `json:"journalDays" minimum:"7" maximum:"36500" doc:"How long the journal is kept."`
	// Revisions is how many earlier versions of each definition are kept, besides the first.
	Revisions int `json:"revisions" minimum:"10" maximum:"100000" doc:"How many versions of each definition are kept, the newest; the first is always kept."`
}

// Keeping is how long things are kept, and what that costs.
type Keeping struct {
	Kept
	// Bytes is what the whole data takes on the disk, and BytesPerDay about what a day adds.
	Bytes       int64     `json:"bytes" readOnly:"true"`
	BytesPerDay int64     `json:"bytesPerDay" readOnly:"true"`
	Oldest      time.Time `json:"oldest,omitzero" readOnly:"true" doc:"The oldest reading that is still there as it was."`
}

// forgetEvery is how often what is too old is given up.
const forgetEvery = 6 * time.Hour

// bound is a setting of the owner that bounds how much is kept.
type bound struct {
	setting, field     string
	usual, least, most int
}

func bounds() (days, journal, revisions bound) {
	return bound{"history days", "days", 730, 7, 36500}, bound{"journal days", "journalDays", 730, 7, 36500}, bound{"revisions", "revisions", 500, 10, 100000}
}

func (h *Hub) bound(ctx context.Context, b bound) (int, error) {
	text, err := h.store.Setting(ctx, b.setting)
	if err != nil || text == "" {
		return b.usual, err
	}
	n, err := strconv.Atoi(text)
	if err != nil || n < b.least {
		return b.usual, nil // damaged by hand: the usual is safe
	}
	return n, nil
}

func (h *Hub) kept(ctx context.Context) (k Kept, err error) {
	days, journal, revisions := bounds()
	if k.Days, err = h.bound(ctx, days); err != nil {
		return k, err
	}
	if k.JournalDays, err = h.bound(ctx, journal); err != nil {
		return k, err
	}
	k.Revisions, err = h.bound(ctx, revisions)
	return k, err
}

// Keeping returns how long things are kept, and what that costs.
func (h *Hub) Keeping(ctx context.Context) (Keeping, error) {
	bounds, err := h.kept(ctx)
	if err != nil {
		return Keeping{}, err
	}
	size, err := h.store.Size(ctx)
	if err != nil {
		return Keeping{}, fmt.Errorf("measuring the data: %w", err)
	}
	k := Keeping{Kept: bounds, Bytes: size.Bytes, Oldest: size.Oldest}
	if past := h.clock.Now().Sub(size.Oldest); !size.Oldest.IsZero() && past > time.Hour {
		k.BytesPerDay = int64(float64(size.Bytes) / past.Hours() * 24)
	}
	return k, nil
}

// Keep says how long things are kept.
func (h *Hub) Keep(ctx context.Context, k Kept) error {
	days, journal, revisions := bounds()
	settings := map[string]string{}
	for _, wanted := range []struct {
		bound
		n int
	}{{days, k.Days}, {journal, k.JournalDays}, {revisions, k.Revisions}} {
		if wanted.n < wanted.least || wanted.n > wanted.most {
			return Invalid(wanted.field, fmt.Sprintf("From %d to %d.", wanted.least, wanted.most))
		}
		settings[wanted.setting] = strconv.Itoa(wanted.n)
	}
	if err := h.store.PutSettings(ctx, settings); err != nil {
		return err
	}
	h.workers.Go(func() { h.forgetOld(h.context) })
	return nil
}

// forgetOld gives up what is older, or more, than is to be kept.
func (h *Hub) forgetOld(ctx context.Context) {
	kept, err := h.kept(ctx)
	if err != nil {
		return
	}
	now := h.clock.Now()
	for _, one := range []struct {
		what   string
		forget func() (int64, error)
	}{
		{"readings", func() (int64, error) { return h.store.Forget(ctx, now.AddDate(0, 0, -kept.Days)) }},
		{"entries of the journal", func() (int64, error) { return h.store.ForgetJournal(ctx, now.AddDate(0, 0, -kept.JournalDays)) }},
		{"earlier versions of definitions", func() (int64, error) { return h.store.ForgetRevisions(ctx, kept.Revisions) }},
		{"hidden parts of addresses that nothing has any more", func() (int64, error) { return h.store.ForgetUnused(ctx, hiddenPart("")) }},
	} {
		gone, err := one.forget()
		switch {
		case ctx.Err() != nil:
			return
		case err != nil:
			h.log.Error("what is too old could not be given up", "what", one.what, "error", err)
		case gone > 0:
			h.log.Info("what is too old was given up", "what", one.what, "number", gone)
		}
	}
}

// forget does so now and again.
func (h *Hub) forget(ctx context.Context) {
	ticker := time.NewTicker(forgetEvery)
	defer ticker.Stop()
	for {
		h.forgetOld(ctx)
		select {
		case <-ctx.Done():
			return
		case <-ticker.C:
		}
	}
}

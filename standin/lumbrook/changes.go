package lumbrook

import (
	"encoding/json"
	"errors"
	"io"
	"net/http"
	"slices"
	"time"
)

// Change is a request to a lamp; what is nil stays.
type Change struct {
	Lit    *bool       `json:"lit"`
	Level  *int        `json:"level"`
	Mired  *int        `json:"mired"`
	Chroma *[2]float64 `json:"chroma"`
	Over   int         `json:"over"` // milliseconds
	Floor  *int        `json:"floor"`
	Soft   *int        `json:"soft"`
	Back   *string     `json:"back"`
	Output *string     `json:"output"`
	Self   *string     `json:"self"` // what it does by itself
}

var errUnknownLamp = errors.New("no-such-lamp")

func (b *Bridge) change(id string, c Change) error {
	b.mu.Lock()
	defer b.mu.Unlock()
	l := b.lamp(id)
	switch {
	case l == nil:
		return errUnknownLamp
	case c.Level != nil && (l.Kind == "switch" || *c.Level < 1 || *c.Level > 250):
		return errors.New("bad-level")
	case c.Mired != nil && ((l.Kind != "tune" && l.Kind != "tint") || *c.Mired < 153 || *c.Mired > 455):
		return errors.New("bad-mired")
	case c.Chroma != nil && (l.Kind != "tint" || c.Chroma[0] < 0 || c.Chroma[0] > 1 || c.Chroma[1] <= 0 || c.Chroma[1] > 1):
		return errors.New("bad-chroma")
	case c.Self != nil && (l.Kind != "tint" || !slices.Contains([]string{"none", "candle", "embers"}, *c.Self)):
		return errors.New("bad-self")
	case c.Over < 0 || c.Over > 3600_000:
		return errors.New("bad-over")
	}
	if err := l.setUp(c); err != nil {
		return err
	}
	now := b.now()
	l.from = l.level(now)
	if !l.Lit {
		l.from = 0
	}
	l.began, l.over = now, time.Duration(c.Over)*time.Millisecond
	if c.Over == 0 && (c.Lit != nil || c.Level != nil) {
		l.over = time.Duration(l.Soft) * time.Second / 10
	}
	if c.Lit != nil {
		l.Lit = *c.Lit
	}
	if c.Self != nil {
		l.Self = *c.Self
	} else if !l.Lit || c.Mired != nil || c.Chroma != nil { // whoever chooses another light does not want that any more
		l.rest()
	}
	if c.Level != nil {
		l.Level = *c.Level
	}
	if c.Mired != nil {
		l.Mired, l.Chroma = *c.Mired, nil // a lamp shows a white or a color, and says which
	}
	if c.Chroma != nil {
		chroma := *c.Chroma
		l.Mired, l.Chroma = 0, &chroma
	}
	b.tell(`{"lamp":"` + id + `"}`)
	return nil
}

func (b *Bridge) put(w http.ResponseWriter, r *http.Request) {
	var c Change
	decoder := json.NewDecoder(io.LimitReader(r.Body, maximumBody))
	decoder.DisallowUnknownFields()
	if err := decoder.Decode(&c); err != nil {
		fault(w, http.StatusBadRequest, "not-understood")
		return
	}
	id := r.PathValue("id")
	b.mu.Lock()
	var before *Lamp
	if l := b.lamp(id); l != nil {
		copied := *l
		before = &copied
		before.old = nil
	}
	b.commands++
	b.taken++
	stale := b.commands%staleEvery == 0
	b.mu.Unlock()
	if err := b.change(id, c); err != nil {
		status := http.StatusBadRequest
		if errors.Is(err, errUnknownLamp) {
			status = http.StatusNotFound
		}
		fault(w, status, err.Error())
		return
	}
	if stale && before != nil {
		b.mu.Lock()
		b.lamp(id).old = before
		b.mu.Unlock()
	}
	w.WriteHeader(http.StatusNoContent)
}

// frameGap is how long after a frame the bridge takes another.
const frameGap = 40 * time.Millisecond

// putFrame changes many lamps at once. It takes so many frames a second and no more, and of the lamps those that it knows.
func (b *Bridge) putFrame(w http.ResponseWriter, r *http.Request) {
	var frame struct {
		Lamps map[string]Change `json:"lamps"`
	}
	decoder := json.NewDecoder(io.LimitReader(r.Body, maximumBody))
	decoder.DisallowUnknownFields()
	if err := decoder.Decode(&frame); err != nil {
		fault(w, http.StatusBadRequest, "not-understood")
		return
	}
	b.mu.Lock()
	early := time.Since(b.framed) < frameGap
	if !early {
		b.framed = time.Now()
		b.taken++
	}
	b.mu.Unlock()
	if early {
		fault(w, http.StatusTooManyRequests, "too-fast")
		return
	}
	for id, c := range frame.Lamps {
		if err := b.change(id, c); err != nil && !errors.Is(err, errUnknownLamp) {
			fault(w, http.StatusBadRequest, err.Error())
			return
		}
	}
	w.WriteHeader(http.StatusNoContent)
}

func (b *Bridge) blink(w http.ResponseWriter, r *http.Request) {
	b.mu.Lock()
	l := b.lamp(r.PathValue("id"))
	if l != nil {
		l.blinked = b.now()
	}
	b.mu.Unlock()
	if l == nil {
		fault(w, http.StatusNotFound, errUnknownLamp.Error())
		return
	}
	go b.changed()
	w.WriteHeader(http.StatusNoContent)
}

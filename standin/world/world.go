// Package world puts the pretend house and the pretend makers together, keeps what
// they remember in a file, and moves them along with a clock that may jump. It knows nothing of the hub.
package world

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"os"
	"path/filepath"
	"sync"
	"syscall"
	"time"

	"amvek/standin/diary"
	"amvek/standin/haskett"
	"amvek/standin/house"
	"amvek/standin/lumbrook"
	"amvek/standin/marrowby"
	"amvek/standin/penrook"
	"amvek/standin/quillet"
	"amvek/standin/voxmere"
)

// World is the house with all its pretend devices.
type World struct {
	House    *house.House
	Lumbrook *lumbrook.Bridge
	Quillet  *quillet.Radio
	Marrowby *marrowby.Network
	Haskett  *haskett.Air
	Penrook  *penrook.Box
	Voxmere  *voxmere.Rack
	Diary    *diary.Diary

	now     func() time.Time
	path    string
	log     *slog.Logger
	saving  sync.Mutex
	waking  sync.Mutex
	changed func()
	wake    chan struct{}
}

// Options say where and when the world is.
type Options struct {
	// Now is the clock of house and makers.
	Now func() time.Time
	// File keeps what the house and the makers remember; empty keeps nothing.
	File                string
	Zone                *time.Location
	Latitude, Longitude float64
	// BridgeListen is the pretend bridge's address; port 0 takes any.
	BridgeListen string
	// BoxListen is the box of described devices, and Domain the one of multicast DNS in which it tells of itself.
	BoxListen, Domain string
	// TransceiverListen is the pretend radio transceiver's.
	TransceiverListen string
	// DiaryListen is the household calendar's.
	DiaryListen string
	// Changed is called when something in the house looks different.
	Changed func()
	Log     *slog.Logger
}

// New makes the world, from its file if there is one, and starts the pretend bridge.
func New(o Options) (*World, error) {
	w := &World{now: o.Now, path: o.File, log: o.Log, changed: o.Changed, wake: make(chan struct{}, 1)}
	w.House = house.New(o.Now(), o.Zone, o.Latitude, o.Longitude)
	w.Lumbrook = lumbrook.New(o.Now, w.different)
	w.Quillet = quillet.New(o.Now, w.House, w.different)
	w.Marrowby = marrowby.New(o.Now, w.House, w.different)
	w.Haskett = haskett.New(o.Now, w.House.Warmth, w.different)
	w.Penrook = penrook.New(o.Now, w.House.Warmth, w.different)
	w.Voxmere = voxmere.New(o.Now, w.different)
	w.Diary = diary.New(o.Zone, w.different)
	w.House.Lit(func(room string) float64 {
		return w.Lumbrook.Light(room) + w.Quillet.Light(room) + w.Marrowby.Light(room)
	})
	w.House.Shaded(w.Quillet.Shade)
	w.House.OnMove(w.different)
	w.House.OnOpening(w.different)
	w.House.OnDark(w.Lumbrook.PressNear)
	if err := w.restore(); err != nil {
		return nil, err
	}
	if err := errors.Join(
		// Those that had an address before come first, and take another where something else has it meanwhile.
		serve(o.BridgeListen, w.Lumbrook.Serve), serve(o.TransceiverListen, w.Haskett.Serve), serve(o.DiaryListen, w.Diary.Serve),
		serve(o.BoxListen, func(address string) error { return w.Penrook.Serve(address, o.Domain) }),
		w.Marrowby.Serve(), w.Voxmere.Serve(o.Domain),
	); err != nil {
		return nil, err
	}
	return w, nil
}

// different notes that something was done to the house or a device.
// serve lets a pretend box listen at an address, or at any port where that one is taken.
func serve(address string, f func(address string) error) error {
	err := f(address)
	if errors.Is(err, syscall.EADDRINUSE) {
		host, _, _ := net.SplitHostPort(address) // it was listened at
		return f(net.JoinHostPort(host, "0"))
	}
	return err
}

func (w *World) different() {
	if err := w.save(); err != nil {
		w.log.Error("the pretend house could not be kept", "error", err)
	}
	select {
	case w.wake <- struct{}{}:
	default:
	}
	w.changed()
}

type file struct {
	House    json.RawMessage `json:"house"`
	Lumbrook json.RawMessage `json:"lumbrook"`
	Quillet  json.RawMessage `json:"quillet"`
	Marrowby json.RawMessage `json:"marrowby"`
	Haskett  json.RawMessage `json:"haskett"`
	Penrook  json.RawMessage `json:"penrook"`
	Voxmere  json.RawMessage `json:"voxmere"`
	Diary    json.RawMessage `json:"diary"`
}

// maker is what remembers something when it loses power.
type maker interface {
	Save() ([]byte, error)
	Restore(data []byte) error
}

// makers are all makers, with the places of their memories in the file.
func (w *World) makers(f *file) map[*json.RawMessage]maker {
	return map[*json.RawMessage]maker{
		&f.Lumbrook: w.Lumbrook,
		&f.Quillet:  w.Quillet,
		&f.Marrowby: w.Marrowby,
		&f.Haskett:  w.Haskett,
		&f.Penrook:  w.Penrook,
		&f.Voxmere:  w.Voxmere,
		&f.Diary:    w.Diary,
	}
}

func (w *World) save() error {
	if w.path == "" {
		return nil
	}
	w.saving.Lock()
	defer w.saving.Unlock()
	state, err := json.Marshal(w.House.State())
	if err != nil {
		return err
	}
	f := file{House: state}
	for memory, m := range w.makers(&f) {
		if *memory, err = m.Save(); err != nil {
			return err
		}
	}
	data, err := json.Marshal(f)
	if err != nil {
		return err
	}
	temporary := w.path + ".new"
	if err := os.WriteFile(temporary, data, 0o600); err != nil {
		return err
	}
	return os.Rename(temporary, w.path)
}

func (w *World) restore() error {
	if w.path == "" {
		return nil
	}
	data, err := os.ReadFile(filepath.Clean(w.path))
	if errors.Is(err, os.ErrNotExist) {
		return nil
	}
	if err != nil {
		return fmt.Errorf("the pretend house cannot be read: %w", err)
	}
	var f file
	if err := json.Unmarshal(data, &f); err != nil {
		return fmt.Errorf("the pretend house in %s is damaged; start with --fresh: %w", w.path, err)
	}
	if err := w.House.Restore(f.House); err != nil {
		return err
	}
	for memory, m := range w.makers(&f) {
		if err := m.Restore(*memory); err != nil {
			return err
		}
	}
	return nil
}

// Next returns when something in the world happens by itself.
func (w *World) Next() time.Time {
	next := w.Quillet.Next()
	if move, ok := w.House.NextMove(w.now()); ok && move.Before(next) {
		next = move
	}
	if end, ok := w.Lumbrook.Next(); ok && end.Before(next) {
		next = end
	}
	if at, ok := w.Voxmere.Next(); ok && at.Before(next) {
		next = at
	}
	if at := w.Haskett.Next(); at.Before(next) {
		next = at
	}
	return next
}

// Wake lets everything happen that is due, and returns when all messages are with the
// broker. It reports whether any were sent.
func (w *World) Wake(ctx context.Context) bool {
	w.waking.Lock()
	defer w.waking.Unlock()
	w.House.LiveOn(w.now())
	w.House.Advance(w.now())
	heard := w.Haskett.Wake()
	return w.Quillet.Wake(ctx) || heard
}

// Woken is signaled when something was done to the world, so that Wake is worth calling.
func (w *World) Woken() <-chan struct{} { return w.wake }

// Close stops the pretend makers.
func (w *World) Close(ctx context.Context) error {
	return errors.Join(w.save(), w.Lumbrook.Close(ctx), w.Marrowby.Close(), w.Haskett.Close(), w.Penrook.Close(ctx), w.Voxmere.Close(), w.Diary.Close(ctx))
}

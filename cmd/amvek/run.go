package main

import (
	"context"
	"errors"
	"fmt"
	"io"
	"net/netip"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"amvek/connect"
	"amvek/connect/bridge"
	"amvek/connect/discovery"
	"amvek/connect/lan"
	"amvek/connect/mqtt"
	"amvek/connect/panel"
	"amvek/connect/radio"
	"amvek/connect/webthing"
	"amvek/core/home"
	"amvek/demo"
	"amvek/hub"
	"amvek/hub/catalogue"
	"amvek/hub/docs"
	"amvek/internal/announce"
	"amvek/internal/machine"
	"amvek/profiles"
	"amvek/server"
	"amvek/store"
	"amvek/web"
)

// shutdownLimit is how long the end may take, whatever is connected; past it the process ends with what is kept by then.
const shutdownLimit = 4500 * time.Millisecond

// run runs a home until the context ends.
func run(ctx context.Context, s settings, out io.Writer) (err error) {
	if s.open {
		if err := server.CheckOpen(s.listen); err != nil {
			return err
		}
		if len(s.behind) > 0 {
			return errors.New("behind a proxy everybody would seem to be at this machine and own the home; leave out --open or --behind")
		}
	}
	if err := server.CheckLoopback(s.mqttListen); err != nil {
		return err
	}
	if s.fresh || s.empty {
		if err := startOver(s.data); err != nil {
			return err
		}
	}
	models, err := shippedProfiles()
	if err != nil {
		return err
	}
	kept, err := store.Open(ctx, s.data, s.log)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, kept.Close()) }()
	defer endInTime(ctx, s, kept)()
	broker, err := mqtt.Listen(s.mqttListen, s.log)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, broker.Close()) }()

	options := hub.Options{Store: kept, Clock: &hub.WallClock{}, Log: s.log, Catalogue: models, Broker: broker, Programs: filepath.Join(s.data, "programs")}
	services := discovery.Network{Domain: "local"}
	network := lan.Options{Broadcast: "255.255.255.255:8423", Services: services}
	isNew, err := isNew(ctx, kept)
	if err != nil {
		return err
	}
	var played *demo.Demo
	if s.demo {
		days := 0
		if isNew && !s.empty {
			days = s.days
		}
		if played, err = demo.Prepare(ctx, demo.Options{Data: s.data, Store: kept, Log: s.log, DaysBack: days, Off: s.off, Boxes: s.boxes}); err != nil {
			return err
		}
		defer func() { err = errors.Join(err, played.Close(context.WithoutCancel(ctx))) }()
		options.Clock, options.Look = played.Clock(), played.Look()
		services = played.Services()
		network = lan.Options{Broadcast: played.Broadcast(), Services: services}
	}
	panels := panel.New()
	options.Standing = []hub.Standing{
		{
			ID:         hub.GatewaysID,
			Definition: docs.Connection{Title: "The hub's own broker", Kind: docs.HubBroker},
			Words:      "MQTT broker inside the hub",
			Connection: mqtt.NewGateways(broker, models.Find),
		},
		{
			ID:         hub.NetworkID,
			Definition: docs.Connection{Title: "Local network", Kind: docs.LocalNetwork},
			Words:      "Devices on the local network, found by a search or at an address that was given",
			Connection: lan.New(network, models.Find),
		},
		{
			ID:         hub.ThingsID,
			Definition: docs.Connection{Title: "Described devices", Kind: docs.WebThings},
			Words:      "Devices that describe themselves, over HTTP",
			Connection: webthing.New(webthing.Finder(services)),
		},
		{
			ID:         hub.PanelsID,
			Definition: docs.Connection{Title: "Wall panels", Kind: docs.WallPanels},
			Words:      "Tablets that were let in as panels",
			Connection: panels,
		},
	}
	options.Drivers = []connect.Driver{bridge.Driver(), radio.Driver(), mqtt.Driver(), webthing.DirectoryDriver()}
	h, err := hub.Start(ctx, options)
	if err != nil {
		return err
	}
	defer h.Close()
	panels.KeepPictures(h.KeepPanelPicture)
	if err := begin(ctx, s, h, played, broker, isNew, out); err != nil {
		return err
	}
	return listen(ctx, s, h, played, broker, panels, out)
}

// shippedProfiles is what ships with the program; the owner's own profiles are added when they are loaded.
func shippedProfiles() (*catalogue.Catalogue, error) {
	all, err := profiles.Load()
	if err != nil {
		return nil, err
	}
	shipped := make([]catalogue.Shipped, len(all))
	for i, p := range all {
		shipped[i] = catalogue.Shipped(p)
	}
	return catalogue.New(shipped), nil
}

// begin makes the home where there is none yet.
func begin(ctx context.Context, s settings, h *hub.Hub, played *demo.Demo, broker *mqtt.Broker, isNew bool, out io.Writer) error {
	if played != nil {
		if err := played.Join(ctx, h, broker); err != nil {
			return err
		}
	}
	switch {
	case !isNew:
		return nil
	case played != nil && !s.empty:
		_, _ = fmt.Fprintf(out, "Making the demo home: its pretend house lives through %d days …\n", s.days)
		return played.Seed(ctx, h)
	case played != nil:
		return demo.Empty(ctx, h)
	default:
		first := home.Home{Title: "Home", Latitude: demo.Mill.Latitude, Longitude: demo.Mill.Longitude, Zone: localZone(), NamePattern: "{room} {what}"}
		_, err := h.Save(ctx, hub.New{Kind: docs.KindHome, ID: docs.HomeID, Document: &first})
		return err
	}
}

func listen(ctx context.Context, s settings, h *hub.Hub, played *demo.Demo, broker *mqtt.Broker, panels *panel.Panels, out io.Writer) error {
	files, err := web.Files()
	if err != nil {
		return err
	}
	key, err := h.PageKey(ctx)
	if err != nil {
		return err
	}
	code := ownerCode{s.data}
	serverOptions := server.Options{PageKey: key, Hub: h, Log: s.log, Files: files, Version: version, Open: s.open, Panels: panels, Proxies: s.behind}
	if !s.open {
		serverOptions.Code, serverOptions.CodeUsed = code.read, code.used
	}
	if played != nil {
		serverOptions.Bench = played
	}
	if err := encrypt(s, h, &serverOptions); err != nil {
		return err
	}
	srv := server.New(serverOptions)
	if err := srv.Listen(s.listen); err != nil {
		return err
	}
	ended := make(chan error, 1)
	go func() { ended <- srv.Serve() }()
	if !s.open && !h.Owned() {
		if err := code.invite(srv.URL(), out); err != nil {
			return errors.Join(err, srv.Close(context.WithoutCancel(ctx)))
		}
	}
	defer announced(s, h, srv)()
	_, _ = fmt.Fprintf(out, "Amvek is ready at %s (MQTT at %s)\n", srv.URL(), broker.Address())
	select {
	case err := <-ended:
		return err
	case <-ctx.Done():
	}
	return srv.Close(context.WithoutCancel(ctx))
}

// addressesLookedAt is how often it is looked at whether the machine has other addresses than it had.
const addressesLookedAt = time.Minute

// announced tells the home's network where the hub is, where it is reached from there; end it with the function it returns.
func announced(s settings, h *hub.Hub, srv *server.Server) (end func()) {
	at, err := netip.ParseAddrPort(srv.Address())
	if err != nil || at.Addr().IsLoopback() {
		return func() {}
	}
	addresses := func() []netip.Addr { return []netip.Addr{at.Addr()} }
	if at.Addr().IsUnspecified() {
		names := &machine.Names{}
		addresses = func() []netip.Addr {
			_, all := names.All()
			all = slices.DeleteFunc(all, func(a netip.Addr) bool { return a.IsLoopback() || a.Is6() })
			slices.SortFunc(all, netip.Addr.Compare)
			return all
		}
	}
	look := time.NewTicker(addressesLookedAt)
	end = announce.Follow(announce.Options{Title: h.Title(), Port: at.Port(), Encrypted: strings.HasPrefix(srv.URL(), "https:")}, addresses, look.C,
		func(err error) { s.log.Warn("the hub is not found by its name on the home's network", "error", err) })
	return func() { look.Stop(); end() }
}

// endInTime ends the process when it does not end by itself soon after it was told to. The function it returns takes that
// it has.
func endInTime(ctx context.Context, s settings, kept *store.Store) (ended func()) {
	done := make(chan struct{})
	go func() {
		select {
		case <-ctx.Done():
		case <-done:
			return
		}
		select {
		case <-done:
		case <-time.After(shutdownLimit):
			s.log.Error("something did not end in time; the hub ends without it")
			last, cancel := context.WithTimeout(context.WithoutCancel(ctx), 300*time.Millisecond)
			_ = kept.Flush(last)
			cancel()
			os.Exit(1)
		}
	}()
	return func() { close(done) }
}

func isNew(ctx context.Context, s *store.Store) (bool, error) {
	_, err := s.Definition(ctx, string(docs.KindHome), docs.HomeID)
	if errors.Is(err, store.ErrAbsent) {
		return true, nil
	}
	return false, err
}

// startOver removes what Amvek keeps in a folder, and nothing else in it.
func startOver(folder string) error {
	probe, err := store.Probe(folder)
	if err != nil {
		return err
	}
	for _, name := range probe {
		if err := os.Remove(filepath.Join(folder, name)); err != nil && !errors.Is(err, os.ErrNotExist) {
			return fmt.Errorf("starting over in %s: %w", folder, err)
		}
	}
	return nil
}

// localZone is the machine's time zone, or UTC where it has no name.
func localZone() string {
	for _, name := range []string{os.Getenv("TZ"), time.Local.String(), linkedZone()} {
		if _, err := time.LoadLocation(name); err == nil && name != "" && name != "Local" {
			return name
		}
	}
	return "UTC"
}

func linkedZone() string {
	const zones = "/usr/share/zoneinfo"
	target, err := filepath.EvalSymlinks("/etc/localtime")
	if err != nil {
		return ""
	}
	name, err := filepath.Rel(zones, target)
	if err != nil {
		return ""
	}
	return name
}

package demo

import (
	"context"
	"crypto/rand"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"sync"
	"sync/atomic"
	"time"

	"amvek/connect/discovery"
	"amvek/connect/mqtt"
	"amvek/core/home"
	"amvek/hub"
	"amvek/standin/quillet"
	"amvek/standin/world"
	"amvek/store"
)

// Mill is the demo home's place.
var Mill = home.Home{Title: "Old Weir Mill", Latitude: 51.5, Longitude: -2.6, Zone: "Europe/London", NamePattern: "{room} {what}"}

const offsetSetting = "demo clock offset"

// Demo is the pretend house at work beside a hub.
type Demo struct {
	clock *Clock
	world *world.World
	// domain is that of multicast DNS: one of its own, so that homes side by side do not find each other's devices.
	domain string
	store  *store.Store
	log    *slog.Logger

	mu       sync.Mutex // one jump at a time
	hurries  bool       // whether the clock is moved along by the pace: only who was commanded is waited for then
	hub      *hub.Hub
	broker   *mqtt.Broker
	sent     uint64 // how many messages it had published when the house last heard them all
	notices  chan struct{}
	stop     context.CancelFunc
	workers  sync.WaitGroup
	released sync.Once
	pace     atomic.Value // a float64; none is 1
}

// Options say where the demo keeps its data.
type Options struct {
	Data  string
	Store *store.Store
	Log   *slog.Logger
	// Fresh says that the data folder is new, so that the clock starts some days back.
	DaysBack int
	// Off is how much later the clock goes on than it stopped.
	Off time.Duration
	// Boxes is the first of the ports at which the pretend boxes listen, one after the other. Where it is 0 they listen at those
	// of last time, or any.
	Boxes int
}

// Prepare makes the clock and the pretend house. Then a hub is started with Clock and
// Look, and Join called.
func Prepare(ctx context.Context, o Options) (*Demo, error) {
	kept, err := o.Store.Setting(ctx, offsetSetting)
	if err != nil {
		return nil, err
	}
	offset := -time.Duration(o.DaysBack) * 24 * time.Hour
	if kept != "" {
		if offset, err = time.ParseDuration(kept); err != nil {
			return nil, fmt.Errorf("the demo's clock in %s is damaged; start with --fresh: %w", o.Data, err)
		}
	}
	d := &Demo{
		clock:   NewClock(offset + o.Off),
		store:   o.Store,
		log:     o.Log,
		notices: make(chan struct{}, 1),
		domain:  strings.ToLower(rand.Text()[:10]) + ".local",
	}
	zone, err := time.LoadLocation(Mill.Zone)
	if err != nil {
		return nil, err
	}
	d.world, err = world.New(world.Options{
		Now: d.clock.Now, File: filepath.Join(o.Data, "house.json"), Zone: zone, Latitude: Mill.Latitude, Longitude: Mill.Longitude,
		BridgeListen: o.boxAddress(ctx, bridgePortSetting), TransceiverListen: o.boxAddress(ctx, transceiverPortSetting),
		BoxListen: o.boxAddress(ctx, boxPortSetting), DiaryListen: o.boxAddress(ctx, diaryPortSetting),
		Domain: d.domain, Changed: d.looksDifferent, Log: o.Log,
	})
	if err != nil {
		return nil, err
	}
	for setting, address := range map[string]string{
		bridgePortSetting:      d.world.Lumbrook.Address(),
		transceiverPortSetting: d.world.Haskett.Address(),
		boxPortSetting:         d.world.Penrook.Address(),
		diaryPortSetting:       d.world.Diary.Host(),
	} {
		_, port, err := net.SplitHostPort(address)
		if err != nil {
			return nil, err
		}
		if err := o.Store.PutSetting(ctx, setting, port); err != nil {
			return nil, err
		}
	}
	return d, nil
}

const (
	bridgePortSetting      = "demo bridge port"
	transceiverPortSetting = "demo transceiver port"
	boxPortSetting         = "demo box port"
	diaryPortSetting       = "demo diary port"
)

// boxAddress is where a pretend box listens, by the setting that keeps its port.
func (o *Options) boxAddress(ctx context.Context, setting string) string {
	port := keptPort(ctx, o.Store, setting)
	if place := slices.Index([]string{bridgePortSetting, transceiverPortSetting, boxPortSetting, diaryPortSetting}, setting); o.Boxes > 0 {
		port = strconv.Itoa(o.Boxes + place)
	}
	return net.JoinHostPort("127.0.0.1", port)
}

// keptPort is the port a pretend box had last time, so that its address stays; any when that is taken.
func keptPort(ctx context.Context, s *store.Store, setting string) string {
	port, err := s.Setting(ctx, setting)
	if err != nil || port == "" {
		return "0"
	}
	probe, err := net.Listen("tcp", "127.0.0.1:"+port)
	if err != nil {
		return "0"
	}
	_ = probe.Close()
	return port
}

// Clock returns the clock that hub and house share.
func (d *Demo) Clock() *Clock { return d.clock }

// Look returns the addresses at which the hub finds bridges and transceivers.
func (d *Demo) Look() []string { return []string{d.world.Lumbrook.Address()} }

// Services returns where the pretend makers tell of themselves by multicast DNS.
func (d *Demo) Services() discovery.Network {
	loopback, err := net.InterfaceByName("lo")
	if err != nil {
		return discovery.Network{}
	}
	return discovery.Network{Domain: d.domain, Interface: loopback}
}

// Broadcast returns the address at which the devices on the pretend local network hear questions.
func (d *Demo) Broadcast() string { return fmt.Sprintf("127.255.255.255:%d", d.world.Marrowby.Port()) }

// Join lets the pretend radio gateway join the hub's broker, with a key made for it, and
// sets the house going.
func (d *Demo) Join(ctx context.Context, h *hub.Hub, broker *mqtt.Broker) error {
	d.hub, d.broker = h, broker
	key := rand.Text()
	topics := "quillet/" + quillet.Gateway
	broker.Allow(mqtt.Client{Name: quillet.Gateway, Key: key, Publish: []string{topics + "/#"}, Subscribe: []string{topics + "/+/ask", topics + "/ask"}})
	running, stop := context.WithCancel(context.WithoutCancel(ctx))
	d.stop = stop
	if err := d.world.Quillet.Connect(running, "mqtt://"+broker.Address(), quillet.Gateway, key); err != nil {
		stop()
		return err
	}
	if err := h.Look(ctx, ""); err != nil {
		stop()
		return err
	}
	d.workers.Go(func() { d.live(running) })
	d.workers.Go(func() { d.tell(running) })
	d.workers.Go(func() { d.hurry(running) })
	return nil
}

// live wakes the house whenever something in it is due or was done to it.
func (d *Demo) live(ctx context.Context) {
	for {
		timer := time.NewTimer(min(max(d.clock.Until(d.world.Next()), 0), time.Minute))
		select {
		case <-ctx.Done():
			timer.Stop()
			return
		case <-d.world.Woken():
			timer.Stop()
		case <-timer.C:
		}
		d.world.Wake(ctx)
	}
}

func (d *Demo) looksDifferent() {
	select {
	case d.notices <- struct{}{}:
	default:
	}
}

// tell tells open browsers that the house looks different, a few times a second at most.
func (d *Demo) tell(ctx context.Context) {
	const atMost = 100 * time.Millisecond
	ticker := time.NewTicker(atMost)
	defer ticker.Stop()
	for {
		select {
		case <-ctx.Done():
			return
		case <-d.notices:
			d.hub.Tell("bench")
		}
		select {
		case <-ctx.Done():
			return
		case <-ticker.C:
		}
	}
}

// Jump moves the clock to a time; everything that falls due on the way happens, in order.
func (d *Demo) Jump(ctx context.Context, to time.Time) error {
	d.mu.Lock()
	defer d.mu.Unlock()
	return d.move(ctx, to, true)
}

// move moves the clock, and tells open browsers and the store if that is wanted; d.mu is held.
func (d *Demo) move(ctx context.Context, to time.Time, tells bool) error {
	if err := d.clock.jump(ctx, to, d); err != nil || !tells {
		return err
	}
	d.hub.ClockMoved()
	d.looksDifferent()
	// As much time has passed for the house as the clock says, so what was to be kept is kept.
	if err := d.hub.KeepStates(ctx); err != nil {
		return err
	}
	return d.store.PutSetting(ctx, offsetSetting, d.clock.Offset().String())
}

func (d *Demo) next(ctx context.Context) (time.Time, error) {
	next := d.world.Next()
	at, ok, err := d.hub.NextDeadline(ctx)
	if ok && at.Before(next) {
		next = at
	}
	return next, err
}

// echoes is how often, at one moment, the house may answer the hub and the hub the house.
const echoes = 6

func (d *Demo) wake(ctx context.Context) error {
	for range echoes {
		said := d.world.Wake(ctx)
		if err := d.hub.Wake(ctx); err != nil {
			return err
		}
		quiet := d.hub.Quiet
		if d.hurries {
			quiet = d.hub.Settle
		}
		if err := quiet(ctx); err != nil {
			return err
		}
		if sent := d.broker.Sent(); sent != d.sent {
			// What the hub asked of radio devices is on its way: it gets there, and is answered, before time goes on.
			d.sent, said = sent, true
			d.world.Quillet.Settle(ctx)
		}
		if !said {
			return nil
		}
	}
	return nil
}

// Close stops the pretend house.
func (d *Demo) Close(ctx context.Context) error {
	var err error
	d.released.Do(func() {
		if d.stop != nil {
			d.stop()
			d.workers.Wait()
		}
		err = errors.Join(d.world.Close(ctx))
	})
	return err
}

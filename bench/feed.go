package main

import (
	"bufio"
	"context"
	"fmt"
	"io"
	"log/slog"
	"net/http"
	"os"
	"os/exec"
	"slices"
	"sync"
	"sync/atomic"
	"time"

	"github.com/eclipse/paho.golang/paho"
	"github.com/fasthttp/websocket"

	"amvek/connect/mqtt"
	"amvek/server"
	"amvek/web"
)

const (
	browsers     = 20
	browserFlood = 1000 // readings a second meanwhile
	toldReadings = 200
	toldEvery    = 60 * time.Millisecond // longer than a frame, so that each reading is told by itself
	toldLate     = 22 * time.Second      // until what can wait, such as when a device was heard, is told and counted as well
	feedRounds   = 8
)

// served is a house with its server on a port of its own.
type served struct {
	*house
	address string
	close   func()
}

func (h *house) serve() (*served, error) {
	files, err := web.Files()
	if err != nil {
		return nil, err
	}
	s := server.New(server.Options{Hub: h.hub, Log: slog.New(slog.DiscardHandler), Files: files, Version: "bench", Open: true, PageKey: []byte("bench")})
	if err := s.Listen("127.0.0.1:0"); err != nil {
		return nil, err
	}
	done := make(chan struct{})
	go func() { defer close(done); _ = s.Serve() }()
	return &served{house: h, address: s.Address(), close: func() {
		_ = s.Close(context.Background())
		<-done
	}}, nil
}

// watch joins the live feed as a browser does, and returns how many bytes it was told; it ends with the context.
func watch(ctx context.Context, address string) (told *atomic.Int64, err error) {
	c, response, err := websocket.DefaultDialer.DialContext(ctx, "ws://"+address+"/api/live", nil)
	if err != nil {
		return nil, fmt.Errorf("joining the feed: %w", err)
	}
	_ = response.Body.Close()
	told = &atomic.Int64{}
	go func() {
		<-ctx.Done()
		_ = c.Close()
	}()
	go func() {
		for {
			_, data, err := c.ReadMessage()
			if err != nil {
				return
			}
			told.Add(int64(len(data)))
		}
	}()
	return told, nil
}

// look is twenty browsers in a process of their own, until its input ends.
func look(ctx context.Context, address string) error {
	for range browsers {
		if _, err := watch(ctx, address); err != nil {
			return err
		}
	}
	fmt.Println("all look")
	_, err := io.Copy(io.Discard, os.Stdin)
	return err
}

// looking has twenty browsers look, until what it returns is called.
func (s *served) looking(ctx context.Context) (leave func(), err error) {
	program, err := os.Executable()
	if err != nil {
		return nil, err
	}
	command := exec.CommandContext(ctx, program, "-look", s.address)
	command.Stderr = os.Stderr
	in, err := command.StdinPipe()
	if err != nil {
		return nil, err
	}
	out, err := command.StdoutPipe()
	if err != nil {
		return nil, err
	}
	if err := command.Start(); err != nil {
		return nil, err
	}
	leave = func() {
		_ = in.Close()
		_ = command.Wait()
	}
	if _, err := bufio.NewReader(out).ReadString('\n'); err != nil {
		leave()
		return nil, fmt.Errorf("the browsers did not come: %w", err)
	}
	return leave, nil
}

func (s *served) get(ctx context.Context, path string) error {
	request, err := http.NewRequestWithContext(ctx, http.MethodGet, "http://"+s.address+path, nil)
	if err != nil {
		return err
	}
	response, err := http.DefaultClient.Do(request)
	if err != nil {
		return err
	}
	defer func() { _ = response.Body.Close() }()
	if response.StatusCode != http.StatusOK {
		return fmt.Errorf("%s: %s", path, response.Status)
	}
	_, err = io.Copy(io.Discard, response.Body)
	return err
}

// measureFeed measures what a browser is told of one reading, and what twenty browsers do to everybody else while a thousand
// readings a second come: the p99 of the relay beside them, divided by that beside the readings alone.
func measureFeed(ctx context.Context) ([]figure, error) {
	made, err := furnished(ctx, nil)
	if err != nil {
		return nil, err
	}
	defer made.close()
	s, err := made.serve()
	if err != nil {
		return nil, err
	}
	defer s.close()
	made.broker.Allow(mqtt.Client{Name: "dial", Key: "dial", Publish: []string{"#"}})
	dial, err := join(ctx, made.broker.Address(), "dial", "dial", nil, func(string, []byte) {})
	if err != nil {
		return nil, err
	}
	report := func(eye int, value float64) {
		_, _ = dial.Publish(ctx, &paho.Publish{Topic: saidBy(eye), Payload: fmt.Appendf(nil, `{"count":%v}`, value)})
	}

	alone, stop := context.WithCancel(ctx)
	if err := s.get(ctx, "/api/shown"); err != nil {
		stop()
		return nil, err
	}
	told, err := watch(alone, s.address)
	if err != nil {
		stop()
		return nil, err
	}
	time.Sleep(toldLate)
	before := told.Load()
	for i := range toldReadings {
		report(i%relayPairs, float64(i%500))
		time.Sleep(toldEvery)
	}
	time.Sleep(toldLate)
	bytes := float64(told.Load()-before) / toldReadings
	stop()

	flooding, stopFlood := context.WithCancel(ctx)
	var done sync.WaitGroup
	done.Go(func() {
		began := time.Now()
		for i := 0; flooding.Err() == nil; i++ {
			time.Sleep(time.Until(began.Add(time.Duration(i) * time.Second / browserFlood)))
			report(i%relayPairs, float64(i%500))
		}
	})
	defer func() { stopFlood(); done.Wait() }()
	var delays [2][]time.Duration
	for range feedRounds {
		for watched := range delays {
			leave := func() {}
			if watched > 0 {
				if leave, err = s.looking(ctx); err != nil {
					return nil, err
				}
			}
			some, err := made.post.run(ctx, 100, disturbSeconds, saidBy)
			leave()
			if err != nil {
				return nil, err
			}
			delays[watched] = append(delays[watched], some...)
		}
	}
	var p99 [2]float64
	for i := range delays {
		slices.Sort(delays[i])
		_, p99[i] = quantiles(delays[i])
	}
	return []figure{
		{Name: "feed_bytes_per_change", Value: bytes, Unit: "bytes"},
		{Name: "hub_p99_ratio_20_browsers", Value: p99[1] / p99[0], Unit: "ratio"},
		{Name: "hub_p99_ms_20_browsers", Value: p99[1], Unit: "ms", Floor: &p99[0]},
	}, nil
}

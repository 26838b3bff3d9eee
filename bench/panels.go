package main

import (
	"bufio"
	"context"
	"encoding/json"
	"fmt"
	"os"
	"os/exec"
	"slices"
	"sync"
	"time"

	"github.com/eclipse/paho.golang/paho"

	"amvek/core/board"
	"amvek/hub"
	"amvek/hub/docs"
)

const (
	// manyBrowsers is how many panels are open at once where it is measured with many.
	manyBrowsers = 20
	// turnsEvery is how far apart the changes are whose way to the pixel is timed, and turnsCount how many they are.
	turnsEvery = 100 * time.Millisecond
	turnsCount = 100
	arranged   = 100 // controls on the dashboard that is arranged
)

// browserSaw is what a browser found.
type browserSaw struct {
	Ready bool
	// Shown are the values that were drawn, with when, in ms since 1970.
	Shown [][2]float64
	// Taps are how long each took from a tap to the picture with its mark, in ms.
	Taps []float64
	// Grown is by how much the memory of scripts grew, from Heap, both in bytes; Load is the share of the time that the page worked.
	Grown, Heap, Load float64
	// Worst is the longest time between two pictures while controls were dragged, in ms.
	Worst float64
}

// measurePanels measures the way of a change from its device to the pixel of a panel, with one panel open and with twenty, and the
// pictures while a large dashboard is arranged.
func measurePanels(ctx context.Context) ([]figure, error) {
	made, s, sixty, dials, err := boarded(ctx)
	if err != nil {
		return nil, err
	}
	defer made.close()
	defer s.close()
	hundred := board.Dashboard{Grid: board.Columns, Title: "Hundred"}
	for i := range arranged {
		hundred.Controls = append(hundred.Controls, board.Control{
			ID: fmt.Sprint(i), Kind: board.Clock, Label: fmt.Sprint("Clock ", i), Place: board.Place{Column: i % 6 * 4, Row: i / 6 * 4, Width: 4, Height: 4},
		})
	}
	if _, err := made.hub.Save(ctx, hub.New{Kind: docs.KindDashboard, ID: "hundred", Document: &hundred}); err != nil {
		return nil, err
	}
	var figures []figure
	for _, browsers := range []int{1, manyBrowsers} {
		late, err := s.changesToPixels(ctx, sixty, dials[0], browsers)
		if err != nil {
			return nil, err
		}
		figures = append(figures,
			figure{Name: fmt.Sprintf("change_pixel_p50_ms_%d", browsers), Value: share(late, 0.5), Unit: "ms"},
			figure{Name: fmt.Sprintf("change_pixel_p95_ms_%d", browsers), Value: share(late, 0.95), Unit: "ms"})
	}
	var saw browserSaw
	if err := s.browse(ctx, "taps", sixty, 1, nil, func(one browserSaw) { saw = one }); err != nil {
		return nil, err
	}
	figures = append(figures, figure{Name: "tap_mark_p50_ms", Value: share(saw.Taps, 0.5), Unit: "ms"},
		figure{Name: "tap_mark_p95_ms", Value: share(saw.Taps, 0.95), Unit: "ms"})
	if err := s.browse(ctx, "arrange", "hundred", 1, nil, func(one browserSaw) { saw = one }); err != nil {
		return nil, err
	}
	return append(figures, figure{Name: "arrange_frame_worst_ms", Value: saw.Worst, Unit: "ms"}), nil
}

// heapMoves is how often one of the instruments of a panel changes while its memory is watched.
const heapMoves = 20 * time.Millisecond

// measureHeap measures by how much a panel of sixty controls grows in ten minutes in which they change fifty times a second.
func measureHeap(ctx context.Context) ([]figure, error) {
	made, s, sixty, dials, err := boarded(ctx)
	if err != nil {
		return nil, err
	}
	defer made.close()
	defer s.close()
	moving, stop := context.WithCancel(ctx)
	var done sync.WaitGroup
	done.Go(func() {
		tick := time.NewTicker(heapMoves)
		defer tick.Stop()
		for n := 0; ; n++ {
			select {
			case <-moving.Done():
				return
			case <-tick.C:
				topic := fmt.Sprintf("quillet/%s/%s/say", gateway, dials[n%len(dials)])
				_, _ = s.post.client.Publish(ctx, &paho.Publish{Topic: topic, Payload: fmt.Appendf(nil, `{"level":%v}`, 1+n*7%100)})
			}
		}
	})
	defer func() { stop(); done.Wait() }()
	var saw browserSaw
	if err := s.browse(ctx, "heap", sixty, 1, nil, func(one browserSaw) { saw = one }); err != nil {
		return nil, err
	}
	return []figure{
		{Name: "panel_heap_growth_kb_10min", Value: saw.Grown / 1000, Unit: "kB"},
		{Name: "panel_heap_kb", Value: saw.Heap / 1000, Unit: "kB"},
		{Name: "panel_busy_percent", Value: 100 * saw.Load, Unit: "%"},
	}, nil
}

// share returns the value that so much of some values is at most.
func share(values []float64, of float64) float64 {
	if len(values) == 0 {
		return 0
	}
	slices.Sort(values)
	return values[min(len(values)-1, int(of*float64(len(values))))]
}

// changesToPixels returns how long changes took from being sent by their device to being drawn, in ms, of all browsers.
func (s *served) changesToPixels(ctx context.Context, dashboard, dial string, browsers int) (late []float64, err error) {
	sent := map[float64]float64{}
	var mu sync.Mutex
	turn := func() {
		for i := range turnsCount {
			mu.Lock()
			sent[float64(i+1)] = float64(time.Now().UnixMicro()) / 1000
			mu.Unlock()
			topic := fmt.Sprintf("quillet/%s/%s/say", gateway, dial)
			_, _ = s.post.client.Publish(ctx, &paho.Publish{Topic: topic, Payload: fmt.Appendf(nil, `{"level":%v}`, i+1)})
			time.Sleep(turnsEvery)
		}
	}
	err = s.browse(ctx, "changes", dashboard, browsers, turn, func(one browserSaw) {
		for _, shown := range one.Shown {
			if at, was := sent[shown[0]]; was && shown[1] >= at {
				late = append(late, shown[1]-at)
			}
		}
	})
	return late, err
}

// browse opens a dashboard in browsers, does something once they all are there, and takes what each found.
func (s *served) browse(ctx context.Context, what, dashboard string, browsers int, then func(), took func(browserSaw)) error {
	browser := exec.CommandContext(ctx, "node", "measure/panels.mjs", what, "http://"+s.address, dashboard, fmt.Sprint(browsers))
	browser.Dir, browser.Stderr = "e2e", os.Stderr
	out, err := browser.StdoutPipe()
	if err != nil {
		return err
	}
	if err := browser.Start(); err != nil {
		return fmt.Errorf("measuring in the browser: %w", err)
	}
	lines := bufio.NewScanner(out)
	lines.Buffer(nil, 1<<20)
	for lines.Scan() {
		var one browserSaw
		if err := json.Unmarshal(lines.Bytes(), &one); err != nil {
			return fmt.Errorf("reading what the browser measured: %w", err)
		}
		switch {
		case !one.Ready:
			took(one)
		case then != nil:
			then()
		}
	}
	return browser.Wait()
}

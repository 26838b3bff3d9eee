package main

import (
	"context"
	"encoding/json"
	"fmt"
	"math"
	"os"
	"os/exec"
	"sync"
	"time"

	"github.com/eclipse/paho.golang/paho"

	"amvek/core/board"
	"amvek/hub"
	"amvek/hub/docs"
)

const (
	instruments       = 60
	instrumentColumns = 6
	instrumentEvery   = 50 * time.Millisecond // each changes twenty times a second
	instrumentSwing   = 2 * time.Second       // from one end to the other and back
)

// measureInstruments measures a page of sixty instruments in the browser, each of which changes twenty times a second at its
// device: how many changes a second are drawn, and how long the frames take meanwhile.
func measureInstruments(ctx context.Context) ([]figure, error) {
	made, s, board, dials, err := boarded(ctx)
	if err != nil {
		return nil, err
	}
	defer made.close()
	defer s.close()

	moving, stop := context.WithCancel(ctx)
	var done sync.WaitGroup
	done.Go(func() { s.moveDials(moving, dials) })
	defer func() { stop(); done.Wait() }()
	browser := exec.CommandContext(ctx, "node", "measure/instruments.mjs", "http://"+s.address+"/panel/"+board, fmt.Sprint(instruments))
	browser.Dir, browser.Stderr = "e2e", os.Stderr
	out, err := browser.Output()
	if err != nil {
		return nil, fmt.Errorf("measuring in the browser: %w", err)
	}
	var found struct{ Changes, WorstFrame, P99Frame float64 }
	if err := json.Unmarshal(out, &found); err != nil {
		return nil, fmt.Errorf("reading what the browser measured: %w", err)
	}
	return []figure{
		{Name: "instrument_changes_per_s", Value: found.Changes, Unit: "1/s"},
		{Name: "instrument_frame_worst_ms", Value: found.WorstFrame, Unit: "ms"},
		{Name: "instrument_frame_p99_ms", Value: found.P99Frame, Unit: "ms"},
	}, nil
}

// boarded makes a house with a dashboard of sixty dials, and serves it. Both are to be closed, the server first.
func boarded(ctx context.Context) (made *house, s *served, board string, dials []string, err error) {
	if made, err = newHouse(ctx, func(string, []byte) {}); err != nil {
		return nil, nil, "", nil, err
	}
	if _, err = furnish(ctx, made.hub, made.post.client); err == nil {
		board, dials, err = instrumentBoard(ctx, made)
	}
	if err == nil {
		s, err = made.serve()
	}
	if err != nil {
		made.close()
	}
	return made, s, board, dials, err
}

// instrumentBoard makes a dashboard of sixty dials, and returns its id and the dials' names at their gateway.
func instrumentBoard(ctx context.Context, made *house) (id string, dials []string, err error) {
	const width, height = board.Columns / instrumentColumns, 4
	sixty := board.Dashboard{Grid: board.Columns, Title: "Sixty"}
	devices, err := made.hub.Devices(ctx)
	if err != nil {
		return "", nil, err
	}
	for _, d := range devices {
		if d.Model != "EYE" || len(sixty.Controls) == instruments {
			continue
		}
		n := len(sixty.Controls)
		dials = append(dials, d.Title)
		sixty.Controls = append(sixty.Controls, board.Control{
			ID: fmt.Sprint(n), Kind: board.Lamp, Aim: board.Aim{Device: d.ID, Property: "level"},
			Place: board.Place{Column: n % instrumentColumns * width, Row: n / instrumentColumns * height, Width: width, Height: height},
		})
	}
	if len(sixty.Controls) < instruments {
		return "", nil, fmt.Errorf("there are only %d dials", len(sixty.Controls))
	}
	_, err = made.hub.Save(ctx, hub.New{Kind: docs.KindDashboard, ID: "sixty", Document: &sixty})
	return "sixty", dials, err
}

// moveDials has dials turned to and fro until the context ends.
func (s *served) moveDials(ctx context.Context, dials []string) {
	began := time.Now()
	for tick := time.NewTicker(instrumentEvery); ; {
		select {
		case <-ctx.Done():
			tick.Stop()
			return
		case now := <-tick.C:
			for i, dial := range dials {
				turn := now.Sub(began).Seconds()/instrumentSwing.Seconds() + float64(i)/instruments
				level := math.Round(50 + 50*math.Sin(2*math.Pi*turn))
				topic := fmt.Sprintf("quillet/%s/%s/say", gateway, dial)
				_, _ = s.post.client.Publish(ctx, &paho.Publish{Topic: topic, Payload: fmt.Appendf(nil, `{"level":%v}`, level)})
			}
		}
	}
}

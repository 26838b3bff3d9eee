package main

import (
	"context"
	"encoding/json"
	"fmt"
	"os"
	"os/exec"
)

const listed = 10_000

// measureList measures the list of 10,000 devices in the browser: from a typed letter to the drawn
// result, and the longest frame while it is scrolled.
func measureList(ctx context.Context, program string) ([]figure, error) {
	folder, err := os.MkdirTemp("", "amvek-bench-")
	if err != nil {
		return nil, err
	}
	defer func() { _ = os.RemoveAll(folder) }()
	if err := furnishFolder(ctx, folder, listed, listed/devicesPerRule); err != nil {
		return nil, err
	}
	address, _, stop, err := serve(ctx, program, folder)
	if err != nil {
		return nil, err
	}
	defer stop()
	browser := exec.CommandContext(ctx, "node", "measure/list.mjs", address)
	browser.Dir, browser.Stderr = "e2e", os.Stderr
	out, err := browser.Output()
	if err != nil {
		return nil, fmt.Errorf("measuring in the browser: %w", err)
	}
	var found struct{ Search, WorstFrame, P99Frame float64 }
	if err := json.Unmarshal(out, &found); err != nil {
		return nil, fmt.Errorf("reading what the browser measured: %w", err)
	}
	return []figure{
		{Name: fmt.Sprintf("search_ms_%d", listed), Value: found.Search, Unit: "ms"},
		{Name: fmt.Sprintf("scroll_frame_worst_ms_%d", listed), Value: found.WorstFrame, Unit: "ms"},
		{Name: fmt.Sprintf("scroll_frame_p99_ms_%d", listed), Value: found.P99Frame, Unit: "ms"},
	}, nil
}

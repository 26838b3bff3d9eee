package main

import (
	"bufio"
	"context"
	"encoding/json"
	"fmt"
	"log/slog"
	"net/http"
	"os"
	"os/exec"
	"strings"
	"time"

	"amvek/core/home"
	"amvek/core/thing"
	"amvek/hub"
	"amvek/hub/docs"
	"amvek/store"
)

const (
	startRuns = 5
)

// measureStart measures from starting the program with 1,000 and 10,000 devices to its first answered
// request (the best of some starts, since the machine is shared), and the memory it then has resident.
func measureStart(ctx context.Context, program string) ([]figure, error) {
	var figures []figure
	for _, devices := range []int{1000, 10_000} {
		some, err := startWith(ctx, program, devices)
		if err != nil {
			return nil, err
		}
		figures = append(figures, some...)
	}
	return figures, nil
}

func startWith(ctx context.Context, program string, devices int) ([]figure, error) {
	folder, err := os.MkdirTemp("", "amvek-bench-")
	if err != nil {
		return nil, err
	}
	defer func() { _ = os.RemoveAll(folder) }()
	if err := furnishFolder(ctx, folder, devices, devices/devicesPerRule); err != nil {
		return nil, err
	}
	best, memory := time.Hour, 0.0
	for range startRuns {
		took, resident, err := startOnce(ctx, program, folder)
		if err != nil {
			return nil, err
		}
		if took < best {
			best, memory = took, resident
		}
	}
	return []figure{
		{Name: fmt.Sprintf("start_ms_%d", devices), Value: float64(best.Microseconds()) / 1000, Unit: "ms"},
		{Name: fmt.Sprintf("rss_mb_%d", devices), Value: memory, Unit: "MB"},
	}, nil
}

// furnishFolder makes a home with so many devices, which nobody is, and so many rules between them.
func furnishFolder(ctx context.Context, folder string, count, between int) error {
	kept, err := store.Open(ctx, folder, slog.New(slog.DiscardHandler))
	if err != nil {
		return err
	}
	description := thing.Description{Properties: []thing.Property{
		{Name: "brightness", Title: "Brightness", Role: thing.RoleBrightness, Type: thing.TypeNumber, Unit: "%", Maximum: 100, Resolution: 1, Writable: true},
		{
			Name:       "colorTemperature",
			Title:      "Color temperature",
			Role:       thing.RoleColorTemperature,
			Type:       thing.TypeNumber,
			Unit:       "K",
			Minimum:    2197,
			Maximum:    6537,
			Resolution: 60,
			Writable:   true,
		},
	}}
	devices := map[string]home.Device{}
	for i := range count {
		id := fmt.Sprintf("device-%05d", i)
		devices[id] = home.Device{Title: id, Connection: hub.GatewaysID, Hardware: id, Address: id, Description: description}
	}
	if err := fillHome(ctx, kept, devices); err != nil {
		return err
	}
	rules := make([]store.Change, between)
	for i := range rules {
		data, err := json.Marshal(ruleBetween(i, count, "brightness"))
		if err != nil {
			return err
		}
		rules[i] = store.Change{Kind: string(docs.KindRule), ID: fmt.Sprintf("rule-%04d", i), Document: data}
	}
	if _, err := kept.Write(ctx, time.Now(), rules...); err != nil {
		return err
	}
	return kept.Close()
}

// devicesPerRule is how many devices there are for each rule: 2,000 rules beside 10,000 devices.
const devicesPerRule = 5

// fillHome makes a home with devices.
func fillHome(ctx context.Context, kept *store.Store, devices map[string]home.Device) error {
	var changes []store.Change
	put := func(kind docs.Kind, id string, doc any) error {
		data, err := json.Marshal(doc)
		changes = append(changes, store.Change{Kind: string(kind), ID: id, Document: data})
		return err
	}
	if err := put(docs.KindHome, docs.HomeID, home.Home{Title: "Bench", Zone: "Europe/London", NamePattern: "{what}"}); err != nil {
		return err
	}
	for id, d := range devices {
		if err := put(docs.KindDevice, id, d); err != nil {
			return err
		}
	}
	_, err := kept.Write(ctx, time.Now(), changes...)
	return err
}

func startOnce(ctx context.Context, program, folder string) (time.Duration, float64, error) {
	began := time.Now()
	address, pid, stop, err := serve(ctx, program, folder)
	if err != nil {
		return 0, 0, err
	}
	defer stop()
	response, err := http.Get(address + "/api/devices")
	if err != nil {
		return 0, 0, err
	}
	_ = response.Body.Close()
	took := time.Since(began)
	return took, resident(pid), nil
}

// serve starts the program on a data folder and returns where it listens once it says so.
func serve(ctx context.Context, program, folder string) (address string, pid int, stop func(), err error) {
	return launch(ctx, program, "serve", "--open", "--data", folder)
}

func launch(ctx context.Context, program string, arguments ...string) (address string, pid int, stop func(), err error) {
	command := exec.CommandContext(ctx, program, append(arguments, "--listen", "127.0.0.1:0", "--mqtt-listen", "127.0.0.1:0")...)
	out, err := command.StdoutPipe()
	if err != nil {
		return "", 0, nil, err
	}
	command.Stderr = os.Stderr
	if err := command.Start(); err != nil {
		return "", 0, nil, err
	}
	stop = func() {
		_ = command.Process.Signal(os.Interrupt)
		_ = command.Wait()
	}
	for lines := bufio.NewReader(out); ; {
		line, err := lines.ReadString('\n')
		if err != nil {
			stop()
			return "", 0, nil, fmt.Errorf("the program did not say where it listens: %w", err)
		}
		if _, after, ready := strings.Cut(line, "ready at "); ready {
			address, _, _ = strings.Cut(after, " ")
			return address, command.Process.Pid, stop, nil
		}
	}
}

// resident returns a process's resident memory in MB.
func resident(pid int) float64 {
	data, err := os.ReadFile(fmt.Sprintf("/proc/%d/status", pid))
	if err != nil {
		return 0
	}
	var kilobytes float64
	for line := range strings.Lines(string(data)) {
		if rest, ok := strings.CutPrefix(line, "VmRSS:"); ok {
			_, _ = fmt.Sscanf(strings.TrimSpace(rest), "%f", &kilobytes)
		}
	}
	return kilobytes / 1024
}

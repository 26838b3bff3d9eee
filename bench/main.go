// Command bench measures a hub and writes what it measured as a table and as JSON. Each
// figure that can be compared with a bare way of doing the same stands beside it, measured
// in the same run. It asserts nothing.
package main

import (
	"context"
	"encoding/json"
	"flag"
	"fmt"
	"os"
	"text/tabwriter"

	"amvek/store"
)

// figure is one measured value. Floor is the bare measurement of the same run, nil where there is none.
type figure struct {
	Name  string   `json:"name"`
	Value float64  `json:"value"`
	Unit  string   `json:"unit"`
	Floor *float64 `json:"floor"`
}

func main() {
	store.MakeRoom()
	program := flag.String("amvek", "build/amvek", "the program to measure")
	out := flag.String("out", "build/bench.json", "where to write the figures")
	assets := flag.String("assets", "web/dist", "the built front end")
	only := flag.String(
		"only",
		"",
		"measure only this: engine, runs, relay, press, hands, light, effects, others, malformed, views, feed, hostile, interlock, history, years, demo, start, gate, instruments, panels, heap, list or sizes (years goes only by itself); writes no file",
	)
	rows := flag.Int("rows", 8_000_000, "how many readings the history is measured with")
	days := flag.Int("days", 30, "of how many days the three years of history keep each reading")
	folder := flag.String("furnish", "", "only make a home in this folder, with as many devices and rules as are said, to look at or to test")
	devices, rules := flag.Int("devices", 5000, "how many devices such a home has"), flag.Int("rules", 2000, "how many rules such a home has")
	looks := flag.String("look", "", "only look at the live feed at this address, as twenty browsers do; a measurement starts it")
	flag.Parse()
	if *folder != "" {
		if err := furnishFolder(context.Background(), *folder, *devices, *rules); err != nil {
			fmt.Fprintln(os.Stderr, "bench:", err)
			os.Exit(1)
		}
		return
	}
	if *looks != "" {
		if err := look(context.Background(), *looks); err != nil {
			fmt.Fprintln(os.Stderr, "bench:", err)
			os.Exit(1)
		}
		return
	}
	if err := run(*program, *out, *assets, *only, *rows, *days); err != nil {
		fmt.Fprintln(os.Stderr, "bench:", err)
		os.Exit(1)
	}
}

func run(program, out, assets, only string, rows, days int) error {
	ctx := context.Background()
	var all []figure
	for _, part := range []struct {
		name    string
		measure func() ([]figure, error)
	}{
		{"engine", func() ([]figure, error) { return measureEngine(), nil }},
		{"runs", measureRuns},
		{"relay", func() ([]figure, error) { return measureRelay(ctx) }},
		{"press", func() ([]figure, error) { return measurePress(ctx) }},
		{"hands", func() ([]figure, error) { return measureHands(ctx) }},
		{"light", func() ([]figure, error) { return measureLight(), nil }},
		{"effects", func() ([]figure, error) { return measureEffects(ctx) }},
		{"others", func() ([]figure, error) { return measureOthers(ctx) }},
		{"malformed", func() ([]figure, error) { return measureMalformed(ctx) }},
		{"views", func() ([]figure, error) { return measureViews(ctx) }},
		{"today", func() ([]figure, error) { return measureToday(ctx) }},
		{"feed", func() ([]figure, error) { return measureFeed(ctx) }},
		{"hostile", func() ([]figure, error) { return measureHostile(ctx) }},
		{"interlock", measureInterlock},
		{"history", func() ([]figure, error) { return measureHistory(ctx, rows) }},
		{"years", func() ([]figure, error) { return measureYears(ctx, days) }},
		{"demo", func() ([]figure, error) { return measureDemo(ctx, program) }},
		{"start", func() ([]figure, error) { return measureStart(ctx, program) }},
		{"gate", func() ([]figure, error) { return measureGate(ctx) }},
		{"instruments", func() ([]figure, error) { return measureInstruments(ctx) }},
		{"panels", func() ([]figure, error) { return measurePanels(ctx) }},
		{"heap", func() ([]figure, error) { return measureHeap(ctx) }},
		{"list", func() ([]figure, error) { return measureList(ctx, program) }},
		{"sizes", func() ([]figure, error) { return measureSizes(program, assets) }},
	} {
		if only != part.name && (only != "" || part.name == "years") { // years takes too long to go along
			continue
		}
		figures, err := part.measure()
		if err != nil {
			return err
		}
		all = append(all, figures...)
	}
	table := tabwriter.NewWriter(os.Stdout, 0, 0, 2, ' ', tabwriter.AlignRight)
	_, _ = fmt.Fprintln(table, "name\tvalue\tfloor\tunit\t")
	for _, f := range all {
		floor := "–"
		if f.Floor != nil {
			floor = fmt.Sprintf("%.4g", *f.Floor)
		}
		_, _ = fmt.Fprintf(table, "%s\t%.4g\t%s\t%s\t\n", f.Name, f.Value, floor, f.Unit)
	}
	if err := table.Flush(); err != nil {
		return err
	}
	if only != "" {
		return nil
	}
	data, err := json.MarshalIndent(all, "", "  ")
	if err != nil {
		return err
	}
	return os.WriteFile(out, append(data, '\n'), 0o644)
}

package main

import (
	"bytes"
	"context"
	"database/sql"
	"fmt"
	"log/slog"
	"math"
	"net/http"
	"os"
	"path/filepath"
	"slices"
	"sync/atomic"
	"time"

	_ "modernc.org/sqlite" // the raw driver, for the floor

	"amvek/connect"
	"amvek/core/home"
	"amvek/core/thing"
	"amvek/hub"
	"amvek/hub/catalogue"
	"amvek/hub/docs"
	"amvek/store"
)

const (
	historySeries = 200
	historyStep   = 190 * time.Second // with 10^8 readings of 200 series: three years
	historyBatch  = 500
	chartRuns     = 15
	chartPoints   = 800
	rawRowsAtMost = 2_000_000
)

// talker is a connection whose devices say what they are told to say.
type talker struct {
	sink  connect.Sink
	ready chan struct{}
}

func (t *talker) Run(ctx context.Context, sink connect.Sink) {
	t.sink = sink
	close(t.ready)
	<-ctx.Done()
}
func (*talker) Write(context.Context, string, string, thing.Value, time.Duration) connect.Outcome {
	return connect.Outcome{OK: true}
}
func (*talker) Invoke(context.Context, string, string, thing.Inputs) connect.Outcome {
	return connect.Outcome{OK: true}
}
func (*talker) Sync(context.Context)           {}
func (*talker) Recall(context.Context, string) {}

// setClock is a clock that stands where it was set.
type setClock struct{ at atomic.Int64 }

func (c *setClock) Set() time.Duration              { return 0 }
func (c *setClock) NotBefore(time.Time)             {}
func (c *setClock) set(t time.Time)                 { c.at.Store(t.UnixNano()) }
func (c *setClock) Now() time.Time                  { return time.Unix(0, c.at.Load()).UTC() }
func (c *setClock) Until(t time.Time) time.Duration { return t.Sub(c.Now()) }

// measureHistory measures how fast what sensors say goes through the hub into the history, rolled up as it comes,
// beside the raw driver that only inserts the same rows in batches; then charts of a year, one series and eight, with
// how all devices are doing, from all that is there; and what a reading takes on the disk.
func measureHistory(ctx context.Context, rows int) ([]figure, error) {
	folder, err := os.MkdirTemp("", "amvek-bench-")
	if err != nil {
		return nil, err
	}
	defer func() { _ = os.RemoveAll(folder) }()
	end := time.Now().Truncate(time.Hour)
	begin := end.Add(-historyStep * time.Duration(rows/historySeries))
	raw, err := rawInserts(ctx, filepath.Join(folder, "raw.db"), min(rows, rawRowsAtMost), begin)
	if err != nil {
		return nil, err
	}
	kept, err := store.Open(ctx, filepath.Join(folder, "kept"), slog.New(slog.DiscardHandler))
	if err != nil {
		return nil, err
	}
	defer func() { _ = kept.Close() }()
	if err := fillHome(ctx, kept, talkers()); err != nil {
		return nil, err
	}
	clock, said := &setClock{}, &talker{ready: make(chan struct{})}
	clock.set(begin)
	h, err := hub.Start(ctx, hub.Options{
		Store: kept, Clock: clock, Log: slog.New(slog.DiscardHandler), Catalogue: catalogue.New(nil),
		Standing: []hub.Standing{{ID: hub.GatewaysID, Definition: docs.Connection{Title: "Talker", Kind: docs.HubBroker}, Connection: said}},
	})
	if err != nil {
		return nil, err
	}
	defer h.Close()
	<-said.ready
	began := time.Now()
	for i := 0; i < rows; {
		clock.set(begin.Add(time.Duration(i/historySeries) * historyStep))
		for series := range historySeries {
			said.sink.Report(talkerID(series), "temperature", thing.Number(reading(i)))
			i++
		}
		if err := h.Wake(ctx); err != nil { // the hub has taken all, so that none is overtaken by the next of its series
			return nil, err
		}
	}
	if err := kept.Flush(ctx); err != nil {
		return nil, err
	}
	perSecond := float64(rows) / time.Since(began).Seconds()
	size, err := kept.Size(ctx)
	if err != nil {
		return nil, err
	}
	figures := []figure{
		{Name: "history_rows", Value: float64(rows), Unit: "rows"},
		{Name: "history_rows_per_s", Value: perSecond, Unit: "1/s", Floor: &raw},
		{Name: "history_mb_per_million", Value: float64(size.Bytes) / float64(rows), Unit: "MB"},
	}
	for _, series := range []int{1, 8} {
		took, err := median(chartRuns, func() error {
			for i := range series {
				ref := thing.Ref{Device: talkerID(i), Name: "temperature"}
				if _, err := h.History(ctx, ref, end.AddDate(-1, 0, 0), end, chartPoints); err != nil {
					return err
				}
			}
			return nil
		})
		if err != nil {
			return nil, err
		}
		figures = append(figures, figure{Name: fmt.Sprintf("chart_ms_1_year_%d", series), Value: took, Unit: "ms"})
	}
	took, err := median(chartRuns, func() error {
		_, err := h.CareSheet(ctx)
		return err
	})
	return append(figures, figure{Name: "care_ms", Value: took, Unit: "ms"}), err
}

// median returns the middle of how long some runs take, in milliseconds.
func median(runs int, do func() error) (float64, error) {
	took := make([]float64, runs)
	for run := range took {
		began := time.Now()
		if err := do(); err != nil {
			return 0, err
		}
		took[run] = float64(time.Since(began).Microseconds()) / 1000
	}
	slices.Sort(took)
	return took[len(took)/2], nil
}

func talkerID(series int) string { return fmt.Sprintf("talker-%03d", series) }

func talkers() map[string]home.Device {
	devices := map[string]home.Device{}
	for series := range historySeries {
		id := talkerID(series)
		devices[id] = home.Device{Title: id, Connection: hub.GatewaysID, Hardware: id, Address: id, Description: thing.Description{Properties: []thing.Property{
			{Name: "temperature", Title: "Temperature", Role: thing.RoleTemperature, Type: thing.TypeNumber, Unit: "°C", Minimum: -40, Maximum: 80},
		}}}
	}
	return devices
}

func reading(i int) float64 { return 20 + 5*math.Sin(float64(i)/40_000) + float64(i%7)/10 }

// rawInserts returns how many rows a second the bare driver inserts.
func rawInserts(ctx context.Context, path string, rows int, begin time.Time) (float64, error) {
	db, err := sql.Open("sqlite", path+"?_pragma=journal_mode(WAL)&_pragma=synchronous(NORMAL)")
	if err != nil {
		return 0, err
	}
	defer func() { _ = db.Close() }()
	db.SetMaxOpenConns(1)
	if _, err := db.ExecContext(ctx, `CREATE TABLE samples (series INTEGER NOT NULL, at INTEGER NOT NULL, value REAL NOT NULL, PRIMARY KEY (series, at)) WITHOUT ROWID`); err != nil {
		return 0, err
	}
	began := time.Now()
	for i := 0; i < rows; {
		tx, err := db.BeginTx(ctx, nil)
		if err != nil {
			return 0, err
		}
		insert, err := tx.PrepareContext(ctx, `INSERT OR REPLACE INTO samples (series, at, value) VALUES (?, ?, ?)`)
		if err != nil {
			return 0, err
		}
		for range historyBatch {
			if _, err := insert.ExecContext(ctx, i%historySeries, begin.Add(time.Duration(i/historySeries)*historyStep).UnixMilli(), reading(i)); err != nil {
				return 0, err
			}
			i++
		}
		if err := tx.Commit(); err != nil {
			return 0, err
		}
	}
	return float64(rows) / time.Since(began).Seconds(), nil
}

// measureDemo measures how many times faster than real time the whole demo lives through a day: the pretend house, its
// makers over real sockets, and the hub.
func measureDemo(ctx context.Context, program string) ([]figure, error) {
	folder, err := os.MkdirTemp("", "amvek-bench-")
	if err != nil {
		return nil, err
	}
	defer func() { _ = os.RemoveAll(folder) }()
	address, _, stop, err := launch(ctx, program, "demo", "--fresh", "--history", "1", "--data", folder)
	if err != nil {
		return nil, err
	}
	defer stop()
	const day = 86_400
	began := time.Now()
	response, err := http.Post(address+"/api/bench", "application/json", bytes.NewBufferString(fmt.Sprintf(`{"what":"advance","seconds":%d}`, day)))
	if err != nil {
		return nil, err
	}
	_ = response.Body.Close()
	if response.StatusCode != http.StatusNoContent && response.StatusCode != http.StatusOK {
		return nil, fmt.Errorf("the demo answers %s", response.Status)
	}
	return []figure{{Name: "demo_speed_x", Value: day / time.Since(began).Seconds(), Unit: "×"}}, nil
}

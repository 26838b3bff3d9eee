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
	"time"

	_ "modernc.org/sqlite" // the raw driver, for the floor

	"amvek/store"
)

const (
	historySeries = 8
	historyBatch  = 500
	chartRuns     = 15
	chartPoints   = 800
)

// measureHistory measures keeping readings, rolled up as they come, beside the raw driver that only inserts them
// in batches as large; the charts of a year of one series and of eight; and what a reading takes on the disk.
func measureHistory(ctx context.Context, rows int) ([]figure, error) {
	folder, err := os.MkdirTemp("", "amvek-bench-")
	if err != nil {
		return nil, err
	}
	defer func() { _ = os.RemoveAll(folder) }()
	end := time.Now().Truncate(time.Hour)
	begin := end.AddDate(-1, 0, 0)
	step := end.Sub(begin) / time.Duration(rows/historySeries)
	raw, err := rawInserts(ctx, filepath.Join(folder, "raw.db"), min(rows, 2_000_000), begin, step)
	if err != nil {
		return nil, err
	}
	kept, err := store.Open(ctx, filepath.Join(folder, "kept"), slog.New(slog.DiscardHandler))
	if err != nil {
		return nil, err
	}
	defer func() { _ = kept.Close() }()
	began := time.Now()
	for i := range rows {
		kept.AddSample(fmt.Sprint("device-", i%historySeries), "temperature", store.Sample{At: begin.Add(time.Duration(i/historySeries) * step), Value: reading(i)})
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
	for _, series := range []int{1, historySeries} {
		took := make([]float64, chartRuns)
		for run := range took {
			began := time.Now()
			for i := range series {
				if _, err := kept.History(ctx, fmt.Sprint("device-", i), "temperature", begin, end, chartPoints); err != nil {
					return nil, err
				}
			}
			took[run] = float64(time.Since(began).Microseconds()) / 1000
		}
		slices.Sort(took)
		figures = append(figures, figure{Name: fmt.Sprintf("chart_ms_1_year_%d", series), Value: took[len(took)/2], Unit: "ms"})
	}
	return figures, nil
}

func reading(i int) float64 { return 20 + 5*math.Sin(float64(i)/40_000) + float64(i%7)/10 }

// rawInserts returns how many rows a second the bare driver inserts.
func rawInserts(ctx context.Context, path string, rows int, begin time.Time, step time.Duration) (float64, error) {
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
			if _, err := insert.ExecContext(ctx, i%historySeries, begin.Add(time.Duration(i/historySeries)*step).UnixMilli(), reading(i)); err != nil {
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

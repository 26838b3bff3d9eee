package main

import (
	"context"
	"database/sql"
	"fmt"
	"log/slog"
	"math"
	"os"
	"path/filepath"
	"strings"
	"time"

	"amvek/core/thing"
	"amvek/hub"
	"amvek/hub/catalogue"
	"amvek/hub/docs"
	"amvek/store"
)

const (
	yearsStep   = 10 * time.Second
	yearsBack   = 3
	yearsStored = 50 // rows a statement
)

// measureYears makes what the store holds after three years of readings every ten seconds of 200 series: the roll-ups
// of all three years, and the readings themselves of as many days as they are kept. Then it starts a hub on it and
// measures charts and how all devices are doing. What a hub would take days to write is written to the tables directly.
func measureYears(ctx context.Context, days int) ([]figure, error) {
	folder, err := os.MkdirTemp("", "amvek-bench-")
	if err != nil {
		return nil, err
	}
	defer func() { _ = os.RemoveAll(folder) }()
	kept, err := store.Open(ctx, folder, slog.New(slog.DiscardHandler))
	if err != nil {
		return nil, err
	}
	if err := fillHome(ctx, kept, talkers()); err != nil {
		return nil, err
	}
	if err := kept.Close(); err != nil {
		return nil, err
	}
	end := time.Now().Truncate(24 * time.Hour)
	readings, rollups, err := makeYears(ctx, filepath.Join(folder, store.FileName), end, days)
	if err != nil {
		return nil, err
	}
	began := time.Now()
	if kept, err = store.Open(ctx, folder, slog.New(slog.DiscardHandler)); err != nil {
		return nil, err
	}
	defer func() { _ = kept.Close() }()
	clock, said := &setClock{}, &talker{ready: make(chan struct{})}
	clock.set(end)
	h, err := hub.Start(ctx, hub.Options{
		Store: kept, Clock: clock, Log: slog.New(slog.DiscardHandler), Catalogue: catalogue.New(nil),
		Standing: []hub.Standing{{ID: hub.GatewaysID, Definition: docs.Connection{Title: "Talker", Kind: docs.HubBroker}, Connection: said}},
	})
	if err != nil {
		return nil, err
	}
	defer h.Close()
	<-said.ready
	for series := range historySeries {
		said.sink.Report(talkerID(series), "temperature", thing.Number(reading(series)))
	}
	if err := kept.Flush(ctx); err != nil {
		return nil, err
	}
	figures := []figure{
		{Name: "years_readings", Value: float64(readings), Unit: "rows"},
		{Name: "years_rollups", Value: float64(rollups), Unit: "rows"},
		{Name: "years_first_readings_s", Value: time.Since(began).Seconds(), Unit: "s"},
	}
	size, err := kept.Size(ctx)
	if err != nil {
		return nil, err
	}
	figures = append(figures, figure{Name: "years_gb", Value: float64(size.Bytes) / 1e9, Unit: "GB"})
	for _, span := range []struct {
		name string
		from time.Time
	}{{"3_years", end.AddDate(-yearsBack, 0, 0)}, {"1_year", end.AddDate(-1, 0, 0)}, {"1_month", end.AddDate(0, -1, 0)}, {"1_day", end.AddDate(0, 0, -1)}, {"1_hour", end.Add(-time.Hour)}} {
		for _, series := range []int{1, 8} {
			took, err := median(chartRuns, func() error {
				for i := range series {
					h, err := h.History(ctx, thing.Ref{Device: talkerID(i), Name: "temperature"}, span.from, end, chartPoints)
					if err != nil {
						return err
					}
					if len(h.Points) == 0 {
						return fmt.Errorf("a chart of %s is empty", span.name)
					}
				}
				return nil
			})
			if err != nil {
				return nil, err
			}
			figures = append(figures, figure{Name: fmt.Sprintf("years_chart_ms_%s_%d", span.name, series), Value: took, Unit: "ms"})
		}
	}
	took, err := median(chartRuns, func() error {
		_, err := h.CareSheet(ctx)
		return err
	})
	return append(figures, figure{Name: "years_care_ms", Value: took, Unit: "ms"}), err
}

// makeYears writes roll-ups and readings, series by series, and returns how many of each.
func makeYears(ctx context.Context, path string, end time.Time, days int) (readings, rollups int, err error) {
	db, err := sql.Open("sqlite", path+"?_pragma=journal_mode(OFF)&_pragma=synchronous(OFF)&_pragma=cache_size(-200000)")
	if err != nil {
		return 0, 0, err
	}
	defer func() { _ = db.Close() }()
	db.SetMaxOpenConns(1)
	begin := end.AddDate(-yearsBack, 0, 0)
	rawFrom := end.AddDate(0, 0, -days)
	for series := 1; series <= historySeries; series++ {
		if _, err := db.ExecContext(ctx, `INSERT INTO series (id, device, name) VALUES (?, ?, 'temperature')`, series, talkerID(series-1)); err != nil {
			return 0, 0, err
		}
		for _, span := range []time.Duration{10 * time.Minute, time.Hour, 24 * time.Hour} {
			count := int(end.Sub(begin) / span)
			if err := insertMany(ctx, db, `INSERT INTO rollups (series, span, at, least, most, area, seconds) VALUES `, 7, count, func(i int) []any {
				at := begin.Add(time.Duration(i) * span)
				value := yearly(series, at)
				return []any{series, int64(span.Seconds()), at.UnixMilli(), value - 0.3, value + 0.3, value * span.Seconds(), span.Seconds()}
			}); err != nil {
				return 0, 0, err
			}
			rollups += count
		}
		count := int(end.Sub(rawFrom) / yearsStep)
		if err := insertMany(ctx, db, `INSERT INTO samples (series, at, value) VALUES `, 3, count, func(i int) []any {
			at := rawFrom.Add(time.Duration(i) * yearsStep)
			return []any{series, at.UnixMilli(), yearly(series, at) + float64(i%7)/10}
		}); err != nil {
			return 0, 0, err
		}
		readings += count
	}
	return readings, rollups, nil
}

// yearly is a temperature with the seasons and the days in it.
func yearly(series int, at time.Time) float64 {
	days := float64(at.Unix()) / 86_400
	return 15 + float64(series%10) + 6*math.Sin(2*math.Pi*days/365.25) + 2*math.Sin(2*math.Pi*days)
}

// insertMany inserts rows in one transaction, many with one statement.
func insertMany(ctx context.Context, db *sql.DB, into string, columns, count int, row func(i int) []any) error {
	tx, err := db.BeginTx(ctx, nil)
	if err != nil {
		return err
	}
	defer func() { _ = tx.Rollback() }()
	one := "(?" + strings.Repeat(",?", columns-1) + ")"
	many, err := tx.PrepareContext(ctx, into+one+strings.Repeat(","+one, yearsStored-1))
	if err != nil {
		return err
	}
	var values []any
	i := 0
	for ; i+yearsStored <= count; i += yearsStored {
		values = values[:0]
		for j := range yearsStored {
			values = append(values, row(i+j)...)
		}
		if _, err := many.ExecContext(ctx, values...); err != nil {
			return err
		}
	}
	for ; i < count; i++ {
		if _, err := tx.ExecContext(ctx, into+one, row(i)...); err != nil {
			return err
		}
	}
	return tx.Commit()
}

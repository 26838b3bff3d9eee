package main

import (
	"context"
	"fmt"

	"amvek/core/rule"
	"amvek/core/thing"
	"amvek/hub"
	"amvek/hub/docs"
)

const (
	viewedDevices = 10_000
	viewedRules   = 2_000
	viewRuns      = 5
)

// measureViews measures how long the list of 10,000 devices takes beside 2,000 rules, each of which looks at a device and
// sets another: all of it stands in the loop, where the house waits meanwhile.
func measureViews(ctx context.Context) ([]figure, error) {
	made, err := newHouseWith(ctx, manyDevices(viewedDevices), func(string) {})
	if err != nil {
		return nil, err
	}
	defer made.close()
	rules := make([]hub.New, viewedRules)
	for i := range rules {
		device := func(i int) string { return fmt.Sprintf("device-%05d", i%viewedDevices) }
		id := fmt.Sprintf("rule-%04d", i)
		rules[i] = hub.New{Kind: docs.KindRule, ID: id, Document: &rule.Rule{Title: id, Enabled: true,
			When: []rule.Trigger{{Device: device(i * 3), Property: "level", Comparison: rule.Is, Value: thing.Number(float64(i))}},
			Do:   []rule.Step{{Kind: rule.StepSet, Device: device(i*5 + 1), Property: "level", Value: thing.Number(1)}},
		}}
	}
	if _, err := made.hub.SaveAll(ctx, rules); err != nil {
		return nil, err
	}
	list, err := median(viewRuns, func() error {
		_, err := made.hub.Devices(ctx)
		return err
	})
	if err != nil {
		return nil, err
	}
	ruled, err := median(viewRuns, func() error {
		_, err := made.hub.Rules(ctx)
		return err
	})
	return []figure{
		{Name: "devices_list_ms_10000x2000", Value: list, Unit: "ms"},
		{Name: "rules_list_ms_10000x2000", Value: ruled, Unit: "ms"},
	}, err
}

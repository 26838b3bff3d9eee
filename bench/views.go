package main

import (
	"context"
	"fmt"
	"sync"

	"amvek/core/rule"
	"amvek/core/thing"
	"amvek/hub"
	"amvek/hub/docs"
)

const (
	viewedDevices = 10_000
	viewedRules   = 2_000
	viewRuns      = 9
)

// measureViews measures how long the list of 10,000 devices takes over HTTP beside 2,000 rules, each of which looks at a device
// and sets another, and what reading it again and again does to everybody else: the p99 of the relay beside it, divided by
// that without. The floor is the same of a bare relay, which the reading keeps from the machine's cores alone.
func measureViews(ctx context.Context) ([]figure, error) {
	made, err := furnished(ctx, manyDevices(viewedDevices))
	if err != nil {
		return nil, err
	}
	defer made.close()
	if err := makeRules(ctx, made.hub); err != nil {
		return nil, err
	}
	s, err := made.serve()
	if err != nil {
		return nil, err
	}
	defer s.close()
	first, err := median(1, func() error { return s.get(ctx, "/api/devices") })
	if err != nil {
		return nil, err
	}
	list, err := median(viewRuns, func() error { return s.get(ctx, "/api/devices") })
	if err != nil {
		return nil, err
	}
	ruled, err := median(viewRuns, func() error { return s.get(ctx, "/api/rules") })
	if err != nil {
		return nil, err
	}
	saved, err := median(viewRuns, func() error {
		_, err := made.hub.Save(ctx, hub.New{Kind: docs.KindRule, ID: "rule-0000", Document: viewedRule(0)})
		return err
	})
	if err != nil {
		return nil, err
	}
	bare, closeBare, err := bareRelay(ctx, made.broker.Address())
	if err != nil {
		return nil, err
	}
	defer closeBare()
	var wrong error
	var once sync.Once
	ratio, floor, err := made.beside(ctx, bare, func(ctx context.Context, _ *post) {
		for ctx.Err() == nil {
			if err := s.get(ctx, "/api/devices"); err != nil && ctx.Err() == nil {
				once.Do(func() { wrong = err })
			}
		}
	})
	if err == nil {
		err = wrong
	}
	return []figure{
		{Name: "devices_list_ms_10000x2000", Value: list, Unit: "ms"},
		{Name: "devices_list_first_ms_10000x2000", Value: first, Unit: "ms"},
		{Name: "rules_list_ms_10000x2000", Value: ruled, Unit: "ms"},
		{Name: "rule_save_ms_10000x2000", Value: saved, Unit: "ms"},
		{Name: "list_others_p99_ratio_10000x2000", Value: ratio, Unit: "ratio", Floor: &floor},
	}, err
}

func viewedRule(i int) *rule.Rule { return ruleBetween(i, viewedDevices, "level") }

// ruleBetween is a rule that looks at one of so many devices and sets another.
func ruleBetween(i, devices int, property string) *rule.Rule {
	device := func(i int) string { return fmt.Sprintf("device-%05d", i%devices) }
	return &rule.Rule{Title: fmt.Sprintf("Rule %04d", i), Enabled: true,
		When: []rule.Trigger{{Device: device(i * 3), Property: property, Comparison: rule.Is, Value: thing.Number(float64(i % 100))}},
		Do:   []rule.Step{{Kind: rule.StepSet, Device: device(i*5 + 1), Property: property, Value: thing.Number(1)}},
	}
}

func makeRules(ctx context.Context, h *hub.Hub) error {
	rules := make([]hub.New, viewedRules)
	for i := range rules {
		rules[i] = hub.New{Kind: docs.KindRule, ID: fmt.Sprintf("rule-%04d", i), Document: viewedRule(i)}
	}
	_, err := h.SaveAll(ctx, rules)
	return err
}

package board_test

import (
	"encoding/json"
	"fmt"
	"reflect"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amvek/core/board"
	"amvek/core/thing"
)

func clock(id string, column, row, width, height int) board.Control {
	return board.Control{ID: id, Kind: board.Clock, Place: board.Place{Column: column, Row: row, Width: width, Height: height}}
}

func dashboard(controls ...board.Control) *board.Dashboard {
	return &board.Dashboard{Title: "Hall", Grid: board.Columns, Controls: controls}
}

func TestAControlThatIsWrongIsNamed(t *testing.T) {
	for wrong, change := range map[string]func(*board.Control){
		"controls[1]: it lies outside the 24":            func(c *board.Control) { c.Column = 21 },
		"controls[1]: it lies outside":                   func(c *board.Control) { c.Row = -1 },
		"controls[1].tall: it lies outside the 12":       func(c *board.Control) { c.Tall = &board.Place{Column: 9, Width: 4, Height: 1} },
		`controls[1].kind: there is no control "gauge"`:  func(c *board.Control) { c.Kind = "gauge" },
		"controls[1]: choose what it is about":           func(c *board.Control) { c.Device = "" },
		"controls[1].id: each control needs an id":       func(c *board.Control) { c.ID = "a" },
		`controls[1].icon: there is no icon "../secret"`: func(c *board.Control) { c.Icon = "../secret" },
		"controls[1].seenBy[1]: somebody is named twice": func(c *board.Control) { c.SeenBy = []string{"member", "member"} },
		"controls[1].hold: choose what the touch":        func(c *board.Control) { c.Hold = &board.Touch{Do: board.DoScene} },
		"controls[1].tap: choose what the touch":         func(c *board.Control) { c.Tap = &board.Touch{Do: "explode"} },
		"controls[1].options.hours: a control":           func(c *board.Control) { c.Options = map[string]any{"hours": 3} },
		"controls[1].values: 24 values at most":          func(c *board.Control) { c.Values = make([]thing.Ref, 25) },
	} {
		lamp := board.Control{ID: "b", Kind: board.Lamp, Aim: board.Aim{Device: "d", Property: "on"}, Place: board.Place{Column: 4, Width: 4, Height: 2}}
		require.NoError(t, dashboard(clock("a", 0, 0, 4, 2), lamp).Check())
		change(&lamp)
		assert.ErrorContains(t, dashboard(clock("a", 0, 0, 4, 2), lamp).Check(), wrong)
	}
	assert.ErrorContains(t, (&board.Dashboard{Title: " ", Grid: board.Columns}).Check(), "title")
	assert.ErrorContains(t, (&board.Dashboard{Title: "Hall", Grid: 12}).Check(), "grid")
	assert.ErrorContains(t, (&board.Dashboard{Title: "Hall", Grid: board.Columns, Icon: "A b"}).Check(), "icon")
	assert.ErrorContains(t, (&board.Dashboard{Title: "Hall", Grid: board.Columns, SeenBy: []string{""}}).Check(), "seenBy[0]")
}

// Each limit is tried at it and one past it.
func TestTheLimitsOfPlaces(t *testing.T) {
	for place, fits := range map[board.Place]bool{
		{Column: 0, Row: 0, Width: 24, Height: 40}: true, {Column: 23, Row: 800, Width: 1, Height: 1}: true,
		{Column: -1, Row: 0, Width: 1, Height: 1}: false, {Column: 1, Row: 0, Width: 24, Height: 1}: false, {Row: 801, Width: 1, Height: 1}: false,
		{Width: 0, Height: 1}: false, {Width: 1, Height: 0}: false, {Width: 1, Height: 41}: false, {Row: -1, Width: 1, Height: 1}: false,
	} {
		c := clock("a", 0, 0, 1, 1)
		c.Place = place
		assert.Equal(t, fits, dashboard(c).Check() == nil, "%+v", place)
	}
	many := dashboard()
	for i := range 400 {
		many.Controls = append(many.Controls, clock(fmt.Sprint(i), 0, i, 1, 1))
	}
	assert.NoError(t, many.Check())
	many.Controls = append(many.Controls, clock("one more", 0, 0, 1, 1))
	assert.ErrorContains(t, many.Check(), "400")
}

func TestTouchesSayWhatTheyDoItTo(t *testing.T) {
	on := thing.Boolean(true)
	for name, c := range map[string]struct {
		touch    board.Touch
		complete bool
	}{
		"nothing":     {board.Touch{Do: board.DoNothing}, true},
		"explain":     {board.Touch{Do: board.DoExplain}, true},
		"set":         {board.Touch{Do: board.DoSet, Aim: board.Aim{Device: "d", Property: "p"}, Value: &on}, true},
		"set nothing": {board.Touch{Do: board.DoSet, Aim: board.Aim{Device: "d", Property: "p"}}, false},
		"toggle":      {board.Touch{Do: board.DoToggle, Aim: board.Aim{Device: "d", Property: "p"}}, true},
		"toggle none": {board.Touch{Do: board.DoToggle}, false},
		"ask":         {board.Touch{Do: board.DoAsk, Aim: board.Aim{Device: "d", Action: "a"}}, true},
		"ask for":     {board.Touch{Do: board.DoAsk, Aim: board.Aim{Device: "d"}}, false},
		"scene":       {board.Touch{Do: board.DoScene, Aim: board.Aim{Scene: "s"}}, true},
		"sequence":    {board.Touch{Do: board.DoSequence, Aim: board.Aim{Sequence: "s"}}, true},
		"no sequence": {board.Touch{Do: board.DoSequence, Aim: board.Aim{Scene: "s"}}, false},
		"rule":        {board.Touch{Do: board.DoRule, Aim: board.Aim{Rule: "r"}}, true},
		"no rule":     {board.Touch{Do: board.DoRule}, false},
		"dashboard":   {board.Touch{Do: board.DoOpen, Aim: board.Aim{Dashboard: "d"}}, true},
		"nowhere":     {board.Touch{Do: board.DoOpen}, false},
	} {
		control := clock("a", 0, 0, 1, 1)
		control.Double = &c.touch
		assert.Equal(t, c.complete, dashboard(control).Check() == nil, name)
	}
}

func TestOptionsAreCheckedByTheirSchema(t *testing.T) {
	with := func(kind board.Kind, name string, value any) error {
		c := board.Control{
			ID: "a", Kind: kind, Aim: board.Aim{Device: "d", Property: "p", Camera: "c", Action: "a"}, Upload: "u",
			Options: map[string]any{name: value}, Place: board.Place{Width: 1, Height: 1},
		}
		return dashboard(c).Check()
	}
	assert.NoError(t, with(board.Reading, "hours", 168.0))
	assert.NoError(t, with(board.Reading, "hours", 1))
	assert.ErrorContains(t, with(board.Reading, "hours", 169.0), "from 1 to 168")
	assert.ErrorContains(t, with(board.Reading, "hours", 0.0), "from 1 to 168")
	assert.ErrorContains(t, with(board.Reading, "hours", 1.5), "whole number")
	assert.ErrorContains(t, with(board.Reading, "hours", "8"), "whole number")
	assert.ErrorContains(t, with(board.Reading, "days", 1), `has no option "days"`)
	assert.NoError(t, with(board.Clock, "seconds", true))
	assert.ErrorContains(t, with(board.Clock, "seconds", 1), "yes or no")
	assert.NoError(t, with(board.Picture, "fit", "whole"))
	assert.ErrorContains(t, with(board.Picture, "fit", "tile"), "one of")
	assert.NoError(t, with(board.Label, "text", strings.Repeat("ü", 2000)))
	assert.ErrorContains(t, with(board.Label, "text", strings.Repeat("ü", 2001)), "2000 characters")
	assert.ErrorContains(t, with(board.Label, "text", nil), "2000 characters")
}

// The document and its schema name the same kinds.
func TestTheSchemaNamesEveryKind(t *testing.T) {
	var kinds []string
	for _, spec := range board.Specs() {
		kinds = append(kinds, string(spec.Kind))
		assert.NotEmpty(t, spec.Help, spec.Kind)
		assert.LessOrEqual(t, spec.Width, board.Columns)
		for _, o := range spec.Options {
			if o.Default != nil {
				assert.NoError(t, o.Check(o.Default), "%s %s", spec.Kind, o.Name)
			}
		}
	}
	for _, of := range []any{board.Control{}, board.ControlKind{}} {
		field, _ := reflect.TypeOf(of).FieldByName("Kind")
		assert.Equal(t, strings.Join(kinds, ","), field.Tag.Get("enum"))
	}
}

func TestAnOlderDashboardIsTakenOverIntoTheFinerGrid(t *testing.T) {
	var d board.Dashboard
	require.NoError(t, json.Unmarshal([]byte(`{"title":"Hall","controls":[{"id":"a","kind":"scene","scene":"s","column":8,"row":2,"width":4,"height":3}]}`), &d))
	assert.Equal(t, board.Place{Column: 16, Row: 4, Width: 8, Height: 6}, d.Controls[0].Place)
	require.NoError(t, d.Check())
	text, err := json.Marshal(d)
	require.NoError(t, err)
	var again board.Dashboard
	require.NoError(t, json.Unmarshal(text, &again))
	assert.Equal(t, d, again, "only once")
	assert.Error(t, json.Unmarshal([]byte(`{"title":7}`), &d))
}

func free(t assert.TestingT, columns int, places ...board.Place) {
	taken := map[[2]int]bool{}
	for _, p := range places {
		assert.LessOrEqual(t, p.Column+p.Width, columns)
		for x := range p.Width {
			for y := range p.Height {
				cell := [2]int{p.Column + x, p.Row + y}
				assert.False(t, taken[cell], "%v is taken twice", cell)
				taken[cell] = true
			}
		}
	}
}

func TestATallScreenShowsAllOneBelowTheOther(t *testing.T) {
	d := dashboard(clock("right", 12, 0, 8, 4), clock("left", 0, 0, 12, 4), clock("below", 0, 4, 4, 2), clock("beside", 4, 4, 8, 2))
	assert.Equal(t, map[string]board.Place{
		"left": {Width: 12, Height: 4}, "right": {Row: 4, Width: 6, Height: 5}, "below": {Column: 6, Row: 4, Width: 4, Height: 2},
		"beside": {Column: 6, Row: 6, Width: 6, Height: 2},
	}, d.Tall())
	d.Controls[1].Tall = &board.Place{Column: 2, Row: 9, Width: 4, Height: 3}
	tall := d.Tall()
	assert.Equal(t, *d.Controls[1].Tall, tall["left"], "as it was chosen")
	assert.Equal(t, 12, tall["right"].Row, "the others come below")
}

func TestNoTwoControlsCoverEachOtherOnATallScreen(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		d := dashboard()
		for i := range rapid.IntRange(0, 30).Draw(t, "controls") {
			width := rapid.IntRange(1, board.Columns).Draw(t, "width")
			d.Controls = append(d.Controls, clock(fmt.Sprint(i), rapid.IntRange(0, board.Columns-width).Draw(t, "column"),
				rapid.IntRange(0, 20).Draw(t, "row"), width, rapid.IntRange(1, 6).Draw(t, "height")))
		}
		tall := d.Tall()
		assert.Len(t, tall, len(d.Controls))
		places := make([]board.Place, 0, len(tall))
		for _, p := range tall {
			places = append(places, p)
		}
		free(t, board.TallColumns, places...)
	})
}

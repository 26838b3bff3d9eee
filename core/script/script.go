// Package script runs short programs for what steps cannot say. They are written in Starlark with the words of
// expressions. A script reads how things are and says what is to be done; nothing is done before it has come to its
// end, and nothing if it fails. It is bounded in steps and in memory, and the same world gives the same result. It
// does no I/O and never acts by itself.
package script

import (
	"errors"
	"fmt"
	"strings"

	"go.starlark.net/starlark"
	"go.starlark.net/syntax"

	"amvek/core/expr"
	"amvek/core/thing"
)

// Bounds of one run. All that grows is charged before it is made, so that no run takes more.
const (
	MaximumLength = 20_000  // characters of a script
	maximumSteps  = 100_000 // steps of Starlark's own counting
	maximumBudget = 8 << 20 // bytes made or gone through, about
	maximumText   = 64 << 10
	maximumBits   = 256 // of a whole number
	maximumAsked  = 500 // things that are to be done
	maximumSaid   = 50  // lines that are printed
)

// AskedKind says what a script wants done.
type AskedKind string

// What a script can want done.
const (
	Set    AskedKind = "set"    // set Device's property Name to Value
	Ask    AskedKind = "ask"    // ask Device for its action Name
	Apply  AskedKind = "apply"  // apply the scene Name
	Start  AskedKind = "start"  // run the rule Name
	Stop   AskedKind = "stop"   // stop what the rule Name has under way
	Notify AskedKind = "notify" // tell the household Text
)

// Asked is one thing that a script wants done.
type Asked struct {
	Kind   AskedKind
	Device string
	Name   string
	Value  thing.Value
	Given  thing.Inputs // with Ask
	Text   string
}

// World is what a script reads. All errors are words for the one who wrote the script.
type World interface {
	// Read returns what a property is at, none where that is not known. The property may be named by its role.
	Read(device, property string) (thing.Value, error)
	// Settable returns the property's own name and the value as it takes it.
	Settable(device, property string, v thing.Value) (name string, fitted thing.Value, err error)
	// Action says why a device cannot be asked for an action with what it is given; nil when it can.
	Action(device, action string, given thing.Inputs) error
	// Members and Inside return the devices of a group and of a room, in their order.
	Members(group string) ([]string, error)
	Inside(room string) ([]string, error)
	// Title returns the name of a device; it is false when there is none.
	Title(device string) (string, bool)
	// HasScene and HasRule report whether there is one.
	HasScene(id string) bool
	HasRule(id string) bool
	// Now returns what a word of the clock stands for: hour, weekday, day, month, sun.
	Now(word string) thing.Value
	// Chance returns a number from 0 to 1, without 1.
	Chance() float64
}

// Result is what a run came to.
type Result struct {
	Asked []Asked
	// Said are the lines that it printed.
	Said []string
}

// Program is a script that is ready to run. It may not be run by several goroutines at once.
type Program struct {
	program *starlark.Program
	// Mentions are the ids that it names.
	Mentions Mentions
}

// Compile reads a script. It returns what is wrong with it, and then no program.
func Compile(text string) (*Program, []expr.Mistake) {
	if len(text) > MaximumLength {
		return nil, []expr.Mistake{{Line: 1, Column: 1, Message: fmt.Sprintf("A script has at most %d characters.", MaximumLength)}}
	}
	if problem := tooDeep(text); problem != nil {
		return nil, []expr.Mistake{*problem}
	}
	options := &syntax.FileOptions{TopLevelControl: true, GlobalReassign: true}
	file, err := options.Parse("script", text, 0)
	if err != nil {
		return nil, mistakes(err, text)
	}
	w := &watcher{}
	w.statements(file.Stmts)
	if len(w.problems) > 0 {
		return nil, w.problems
	}
	program, err := starlark.FileProgram(file, func(name string) bool { return words[name] || strings.HasPrefix(name, hidden) })
	if err != nil {
		return nil, mistakes(err, text)
	}
	return &Program{program: program, Mentions: w.mentions}, nil
}

// tooDeep finds brackets within brackets deeper than anybody writes: the reader goes down into each.
func tooDeep(text string) *expr.Mistake {
	depth, line := 0, 1
	for i := 0; i < len(text); i++ {
		switch text[i] {
		case '\n':
			line++
		case '(', '[', '{':
			if depth++; depth > 200 {
				return &expr.Mistake{Line: line, Column: 1, Message: "Brackets within brackets are too deep here."}
			}
		case ')', ']', '}':
			depth = max(0, depth-1)
		}
	}
	return nil
}

// Run runs the script in a world. A mistake says where and why it failed; nothing is to be done then.
func (p *Program) Run(world World) (Result, *expr.Mistake) {
	r := &run{world: world, left: maximumBudget, kept: map[string]thing.Value{}}
	thread := &starlark.Thread{Name: "script", Print: func(*starlark.Thread, string) {}}
	thread.SetMaxExecutionSteps(maximumSteps)
	thread.OnMaxSteps = func(t *starlark.Thread) { t.Cancel(tooLong) }
	if _, err := p.program.Init(thread, r.words()); err != nil {
		return Result{Said: r.result.Said}, failure(err)
	}
	return r.result, nil
}

const tooLong = "it takes too many steps"

// failure says where a run failed.
func failure(err error) *expr.Mistake {
	m := &expr.Mistake{Line: 1, Column: 1, Message: plain(err.Error())}
	var failed *starlark.EvalError
	if errors.As(err, &failed) {
		m.Message = plain(failed.Msg)
		for i := range failed.CallStack {
			if at := failed.CallStack.At(i).Pos; at.Line > 0 {
				m.Line, m.Column = int(at.Line), max(1, int(at.Col))
				break
			}
		}
	}
	return m
}

// mistakes says what the reader does not understand.
func mistakes(err error, text string) []expr.Mistake {
	var unread syntax.Error
	var list interface{ Unwrap() []error }
	switch {
	case errors.As(err, &unread):
		if unread.Pos.Col == 1 && strings.HasPrefix(unread.Msg, "got newline") {
			// The end of a line is told at the beginning of the next.
			before := strings.Split(text, "\n")[:unread.Pos.Line-1]
			unread.Pos.Line, unread.Pos.Col = int32(len(before)), int32(len(before[len(before)-1])+1)
		}
		return []expr.Mistake{{Line: max(1, int(unread.Pos.Line)), Column: max(1, int(unread.Pos.Col)), Message: plain(unread.Msg)}}
	case errors.As(err, &list):
		var all []expr.Mistake
		for _, e := range list.Unwrap() {
			all = append(all, mistakes(e, text)...)
		}
		return all
	default:
		return resolved(err)
	}
}

// plain makes a sentence of an error.
func plain(message string) string {
	message = strings.TrimPrefix(message, "Starlark computation cancelled: ")
	for i := 0; i < len(message); i++ { // our own names of what stands in for an operator
		if rest, is := strings.CutPrefix(message[i:], hidden); is {
			_, after, found := strings.Cut(rest, ": ")
			if found {
				message = message[:i] + after
			}
			break
		}
	}
	if message == "" {
		return "It failed."
	}
	message = strings.ToUpper(message[:1]) + message[1:]
	if !strings.HasSuffix(message, ".") {
		message += "."
	}
	return message
}

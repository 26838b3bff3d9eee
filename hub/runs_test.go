package hub_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/cause"
	"amvek/core/engine"
	"amvek/core/expr"
	"amvek/core/home"
	"amvek/core/rehearse"
	"amvek/core/rule"
	"amvek/core/state"
	"amvek/core/tell"
	"amvek/core/thing"
	"amvek/hub"
	"amvek/hub/author"
	"amvek/hub/docs"
	"amvek/hub/views"
	"amvek/store"
)

func (b *bench) runs(id string) []views.RunView {
	runs, err := b.hub.Runs(b.ctx, id, 0)
	require.NoError(b, err)
	return runs
}

func TestARunIsToldInWordsAsTheRuleStoodThen(t *testing.T) {
	b := newBench(t)
	b.stairLight()
	b.report("hw-eye", "motion", thing.Boolean(true))
	b.report("hw-lamp", "brightness", thing.Number(60))
	running := b.runs("stair")
	require.Len(t, running, 1)
	assert.Equal(t, state.Running, running[0].Outcome)
	b.report("hw-eye", "motion", thing.Boolean(false))
	b.pass(31 * time.Second)
	b.stop() // what ended is still told after a restart, and after the rule has become another
	b.start()
	b.pass(time.Minute)
	b.save(docs.KindRule, "stair", &rule.Rule{Title: "Other", Do: []rule.Step{{Kind: rule.StepWait, ForSeconds: 1}}})
	runs := b.runs("stair")
	require.Len(t, runs, 1)
	assert.Equal(t, state.Finished, runs[0].Outcome)
	trace, err := b.hub.Run(b.ctx, "stair", runs[0].ID)
	require.NoError(t, err)
	assert.Equal(t, "Landing eye: motion moving", trace.Origin)
	var did []views.Did
	for _, l := range trace.Lines {
		if l.Path == "whenever" {
			assert.True(t, *l.Truth)
			assert.Equal(t, "moving", l.Value)
		}
		for _, taken := range l.Taken {
			did = append(did, taken.Did...)
		}
	}
	require.Len(t, did, 1)
	assert.Equal(t, "Lamp: brightness asked for 60 %", did[0].Text)
	assert.Equal(t, "confirmed", did[0].Outcome)
	assert.Positive(t, did[0].AfterMilliseconds)
	_, err = b.hub.Run(b.ctx, "stair", runs[0].ID+1)
	assert.Error(t, err)
	_, err = b.hub.Runs(b.ctx, "none", 0)
	assert.Error(t, err)
}

func TestATraceLeadsToTheRunsOfTheRulesThatAStepStarted(t *testing.T) {
	b := newBench(t)
	b.stairLight()
	b.save(docs.KindRule, "inner", &rule.Rule{Title: "Inner", Enabled: true, Do: []rule.Step{{Kind: rule.StepNotify, Text: "Inner was here."}}})
	b.save(docs.KindRule, "outer", &rule.Rule{Title: "Outer", Enabled: true, Do: []rule.Step{{Kind: rule.StepRun, Rule: "inner"}}})
	require.NoError(t, b.hub.Act(b.ctx, engine.Input{Kind: engine.InputRun, Rule: "outer", Doer: somebody}))
	outer, err := b.hub.Run(b.ctx, "outer", b.runs("outer")[0].ID)
	require.NoError(t, err)
	var did []views.Did
	for _, l := range outer.Lines {
		for _, taken := range l.Taken {
			did = append(did, taken.Did...)
		}
	}
	require.Len(t, did, 1, "what the other rule did is told with that one's run")
	assert.Equal(t, "inner", did[0].Rule)
	inner, err := b.hub.Run(b.ctx, did[0].Rule, did[0].Entry)
	require.NoError(t, err)
	assert.Equal(t, state.Finished, inner.Outcome)
	assert.Equal(t, "Rule Outer run by hand", inner.Origin)
}

func TestWhatKeepsARuleIsSaidWithItsValue(t *testing.T) {
	b := newBench(t)
	b.save(docs.KindRule, "r", &rule.Rule{Title: "r", Enabled: true, When: []rule.Trigger{{Kind: rule.OnPhrase, Words: "now"}},
		Provided: &rule.Condition{
			Device:     b.eye,
			Property:   "motion",
			Comparison: rule.Is,
			Value:      thing.Boolean(true),
		}, Do: []rule.Step{{Kind: rule.StepWait, ForSeconds: 1}}})
	require.NoError(t, b.hub.Phrase(b.ctx, "now", somebody))
	runs := b.runs("r")
	require.Len(t, runs, 1)
	assert.Equal(t, "not started: Landing eye: motion was clear", runs[0].Text)
	reasons, err := b.hub.WhyNot(b.ctx, "r")
	require.NoError(t, err)
	assert.Equal(t, "Provided: Landing eye motion is moving, now clear", reasons[0].Text)
	assert.Equal(t, runs[0].ID, reasons[1].Run)
	b.save(
		docs.KindRule,
		"r",
		&rule.Rule{Title: "r", When: []rule.Trigger{{Kind: rule.OnPhrase, Words: "now"}}, Do: []rule.Step{{Kind: rule.StepWait, ForSeconds: 1}}},
	)
	reasons, err = b.hub.WhyNot(b.ctx, "r")
	require.NoError(t, err)
	assert.Equal(t, "It is switched off.", reasons[0].Text)
}

func TestEarlierRevisionsAreToldWithWhatChanged(t *testing.T) {
	b := newBench(t)
	b.stairLight()
	first := b.rule("stair", 1)
	changed := first
	changed.EndedForAtLeastSeconds = 60
	b.save(docs.KindRule, "stair", &changed)
	list, err := b.hub.Revisions(b.ctx, docs.KindRule, "stair")
	require.NoError(t, err)
	require.Len(t, list, 2)
	var marks []string
	for _, c := range list[0].Changes {
		if c.Mark != tell.Same {
			marks = append(marks, string(c.Mark)+": "+c.Text)
		}
	}
	assert.Equal(t, []string{"gone: Once that has ended for at least 30 s, let go", "added: Once that has ended for at least 1 min, let go"}, marks)
	difference, err := b.hub.CompareRule(b.ctx, "stair", &first)
	require.NoError(t, err)
	assert.Contains(t, difference, tell.Change{Mark: tell.Added, Text: "Once that has ended for at least 30 s, let go"})
	_, err = b.hub.Revision(b.ctx, docs.KindRule, "stair", 9)
	assert.Error(t, err)
}

func TestPretendingSendsNothing(t *testing.T) {
	b := newBench(t)
	b.stairLight()
	doc := b.rule("stair", 1)
	view, err := b.hub.Pretend(
		b.ctx,
		"stair",
		hub.Pretence{Document: doc, Clock: "23:15", Then: []rehearse.Reading{{Device: b.eye, Name: "motion", Value: thing.Boolean(true)}}},
	)
	require.NoError(t, err)
	require.Len(t, view.Happens, 2)
	assert.Equal(t, "Lamp: brightness asked for 60 %", view.Happens[1].Text)
	assert.Equal(t, "23:15", view.Happens[1].At.Format("15:04"))
	assert.True(t, view.Happens[1].Mine)
	assert.Empty(t, b.wire.written())
	assert.Empty(t, b.runs("stair"))
	_, err = b.hub.Pretend(b.ctx, "none", hub.Pretence{})
	assert.Error(t, err)
	_, err = b.hub.Pretend(b.ctx, "stair", hub.Pretence{Document: doc, Trigger: 3})
	assert.Error(t, err)
}

func TestAStepIsTriedOrSaysWhatIsWrongWithIt(t *testing.T) {
	b := newBench(t)
	require.NoError(t, b.hub.TryStep(b.ctx, rule.Step{Kind: rule.StepHold, Device: b.lamp, Property: "brightness", Value: thing.Number(30)}, somebody))
	b.quiet()
	b.report("hw-lamp", "brightness", thing.Number(30))
	b.pass(11 * time.Second)
	assert.Equal(t, []thing.Value{thing.Number(30), thing.Number(0)}, b.wire.written(), "it is let go by itself")
	assert.ErrorContains(t, b.hub.TryStep(b.ctx, rule.Step{Kind: rule.StepSet, Device: b.lamp, Property: "brightness", Value: thing.Number(300)}, somebody), "")
}

func TestAComputedVariableMayNotDependOnItself(t *testing.T) {
	b := newBench(t)
	b.save(docs.KindVariable, "v1", &home.Variable{Title: "One", Type: thing.TypeNumber, Maximum: 100, Expression: "hour * 2"})
	b.save(docs.KindVariable, "v2", &home.Variable{Title: "Two", Type: thing.TypeNumber, Maximum: 100, Expression: `variable("v1") + 1`})
	for expression, want := range map[string]string{`variable("v2")`: "depend on itself", `hour > 3`: "another kind", `hour +`: "character 7"} {
		_, err := b.hub.Save(
			b.ctx,
			hub.New{Kind: docs.KindVariable, ID: "v1", Document: &home.Variable{Title: "One", Type: thing.TypeNumber, Maximum: 100, Expression: expression}},
		)
		assert.ErrorContains(t, err, want, expression)
	}
	view, err := b.hub.Expression(b.ctx, `variable("v2") + 1`)
	require.NoError(t, err)
	assert.Equal(t, thing.Number(46), view.Value, "22 h: 44, 45, 46")
	view, err = b.hub.Expression(b.ctx, `value("own", "gone")`)
	require.NoError(t, err)
	assert.Len(t, view.Problems, 1)
}

func TestRulesAreFoundByAllThatTheySpeakOf(t *testing.T) {
	b := newBench(t)
	b.stairLight()
	for words, want := range map[string]int{"landing EYE": 1, "lamp let go": 1, "stair": 1, "kiln": 0, "  ": 0} {
		found, err := b.hub.SearchRules(b.ctx, words)
		require.NoError(t, err)
		assert.Len(t, found, want, words)
	}
}

func TestARunGoesOnWhenTheClockIsSet(t *testing.T) {
	b := newBench(t)
	b.stairLight()
	b.save(
		docs.KindRule,
		"slow",
		&rule.Rule{Title: "Slow", Enabled: true, Do: []rule.Step{{Kind: rule.StepWait, ForSeconds: 60}, {Kind: rule.StepNotify, Text: "The minute is over."}}},
	)
	require.NoError(t, b.hub.Act(b.ctx, engine.Input{Kind: engine.InputRun, Rule: "slow", Doer: somebody}))
	told := func() bool { notices, err := b.hub.Notices(b.ctx); require.NoError(t, err); return len(notices) > 0 }
	b.pass(20 * time.Second)
	b.clock.jump(3 * time.Hour)
	b.pass(39 * time.Second)
	assert.False(t, told(), "only 59 seconds have passed")
	b.stop() // and that is what was kept
	b.start()
	assert.False(t, told())
	b.clock.jump(-26 * time.Hour)
	b.pass(2 * time.Second)
	assert.True(t, told())
	require.NoError(t, b.store.Flush(b.ctx))
	found, err := b.hub.Journal(b.ctx, store.JournalQuery{Kinds: []cause.Kind{cause.ClockSet}, Limit: 5})
	require.NoError(t, err)
	require.Len(t, found, 2)
	assert.Equal(t, "The clock of this machine was set back by 1 d 2 h", found[0].Text)
	assert.Equal(t, "The clock of this machine was set forward by 3 h", found[1].Text)
}

func TestWhenAConditionWasLastTrueIsKnownAfterARestart(t *testing.T) {
	b := newBench(t)
	b.stairLight()
	last := func(path string) time.Time {
		rules, err := b.hub.Rules(b.ctx)
		require.NoError(t, err)
		for _, c := range rules[0].State.Conditions {
			if c.Path == path {
				return c.LastTrue
			}
		}
		return time.Time{}
	}
	assert.Zero(t, last("whenever"))
	b.report("hw-eye", "motion", thing.Boolean(true))
	b.pass(time.Minute)
	b.report("hw-eye", "motion", thing.Boolean(false))
	was := b.clock.Now()
	b.pass(time.Hour)
	assert.Equal(t, was, last("whenever"))
	b.stop()
	b.start()
	assert.WithinDuration(t, was, last("whenever"), 0)
}

func TestATextIsSaidAsItIsTypedAndItsMistakesAreAtTheirPlaces(t *testing.T) {
	b := newBench(t)
	b.stairLight()
	told := func(text string) author.ToldView {
		view, err := b.hub.Told(b.ctx, text)
		require.NoError(t, err)
		return view
	}
	assert.Equal(t, author.ToldView{Problems: []expr.Mistake{}, Text: "Plain {words}"}, told("Plain {{words}}"))
	assert.Equal(t, "It is 3, In", told(`It is {1 + 2}, {mode}`).Text)
	view := told("Ä {1}\nand { 1 + }")
	require.Len(t, view.Problems, 1)
	assert.Equal(t, 2, view.Problems[0].Line)
	assert.Equal(t, len("and { 1 + ")-1, view.Problems[0].Column-1, "behind the plus")
	view = told(`Ä {nobody}`)
	require.Len(t, view.Problems, 1)
	assert.Equal(t, 4, view.Problems[0].Column, "characters, not bytes")
	assert.Equal(t, author.ToldView{Problems: []expr.Mistake{{Line: 2, Column: 3, Message: rule.Unshut}}, Text: "1\nÄ {open"}, told("{1}\nÄ {open"))
}

func TestWhereARunWaitsIsWrittenAtOnce(t *testing.T) {
	b := newBench(t)
	b.stairLight()
	b.save(docs.KindRule, "slow", &rule.Rule{Title: "Slow", Enabled: true, Do: []rule.Step{{Kind: rule.StepWait, ForSeconds: 60}}})
	require.NoError(t, b.hub.Act(b.ctx, engine.Input{Kind: engine.InputRun, Rule: "slow", Doer: somebody}))
	require.NoError(t, b.hub.Wake(b.ctx)) // the loop has gone round
	require.NoError(t, b.store.Flush(b.ctx))
	states, err := b.store.States(b.ctx)
	require.NoError(t, err)
	for _, s := range states {
		if s.Kind == "rule" && s.Owner == "slow" {
			assert.Contains(t, string(s.JSON), `"frames"`)
			return
		}
	}
	t.Fatal("a power cut now would forget the run")
}

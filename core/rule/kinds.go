package rule

import "slices"

// stepTraits are all that the model knows of a kind of step. Each kind is described once, in the file of its family
// (step_….go); its words are in [amvek/core/tell], and what it does in [amvek/core/engine], each in a file of the same name.
type stepTraits struct {
	// fields are those that count in it, by their names in the document. What else is there would do nothing, and is said to be
	// wrong.
	fields []string
	// formulas are the durations of it that a formula may give.
	formulas []string
	// atOnce says that it takes no time and decides nothing, so that a schedule may do it.
	atOnce bool
	// fails says that it may fail by itself, so that it says what is done then.
	fails bool
	// texts are those in which expressions may stand in braces, by their fields.
	texts []string
	// takesTime reports whether a step always waits somewhere; nil for one that never does.
	takesTime func(s *Step) bool
	// check says what is wrong with a step of it, besides what is looked at in all.
	check func(c *checker, path string, s *Step, lasts bool)
}

// stepKinds are the kinds of step. Each file of a family adds its own.
var stepKinds = map[StepKind]stepTraits{}

// triggerTraits are all that the model knows of a kind of trigger.
type triggerTraits struct {
	// fields are those that count in it.
	fields []string
	// check says what is wrong with a trigger of it.
	check func(c *checker, path string, t *Trigger)
}

// triggerKinds are the kinds of trigger.
var triggerKinds = map[TriggerKind]triggerTraits{}

// StepKinds returns the kinds of step there are, in order.
func StepKinds() []StepKind { return sortedKinds(stepKinds) }

// TriggerKinds returns the kinds of trigger there are, in order.
func TriggerKinds() []TriggerKind { return sortedKinds(triggerKinds) }

func sortedKinds[K ~string, T any](table map[K]T) (kinds []K) {
	for kind := range table {
		kinds = append(kinds, kind)
	}
	slices.Sort(kinds)
	return kinds
}

// decides reports whether the condition of a step is looked at.
func (s *Step) decides() bool {
	return s.Condition != nil && slices.Contains(stepKinds[s.Kind].fields, "condition")
}

// MayBeUnattended reports whether a step may be allowed to set going what is attended only.
func (s *Step) MayBeUnattended() bool {
	return slices.Contains(stepKinds[s.Kind].fields, "unattended")
}

// MayFail reports whether a kind of step may fail by itself, so that it says what is done then.
func MayFail(kind StepKind) bool { return stepKinds[kind].fails }

// fieldTexts calls f for each text of a step in which expressions may stand in braces, with its field.
func (s *Step) fieldTexts(f func(field, text string)) {
	for _, field := range stepKinds[s.Kind].texts {
		switch field {
		case "text":
			f(field, s.Text)
		case "address":
			f(field, s.Address)
		case "topic":
			f(field, s.Topic)
		case "arguments":
			for _, text := range s.Arguments {
				f(field, text)
			}
		}
	}
}

// Texts are those of a step in which expressions may stand in braces.
func (s *Step) Texts() (texts []string) {
	s.fieldTexts(func(_, text string) { texts = append(texts, text) })
	return texts
}

// takesTime reports whether a list of steps always waits somewhere.
func takesTime(steps []Step) bool {
	return slices.ContainsFunc(steps, func(s Step) bool {
		takes := stepKinds[s.Kind].takesTime
		return takes != nil && takes(&s)
	})
}

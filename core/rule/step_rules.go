package rule

// The steps about other rules.
func init() {
	other := func(c *checker, path string, s *Step, _ bool) {
		if s.Rule == "" {
			c.open(path+"/rule", "Choose a rule.")
		}
		c.other(path, s)
	}
	stepKinds[StepRun] = stepTraits{fields: []string{"rule"}, atOnce: true, check: other}
	stepKinds[StepPause] = stepTraits{fields: []string{"rule"}, atOnce: true, check: other}
	stepKinds[StepResume] = stepTraits{fields: []string{"rule"}, atOnce: true, check: other}
	stepKinds[StepStop] = stepTraits{
		fields: []string{"rule", "sequence"}, atOnce: true,
		check: func(c *checker, path string, s *Step, _ bool) {
			c.sequence(path, s)
			c.other(path, s)
		},
	}
}

// other checks that there is the rule that a step is about, where it is about one.
func (c *checker) other(path string, s *Step) {
	if s.Rule != "" && !c.lookup.HasRule(s.Rule) {
		c.say(path+"/rule", "This rule no longer exists.")
	}
}

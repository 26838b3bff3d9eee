package engine

// Suspect is a definition that the engine was busy with: a rule or a schedule that acts, or else what an input was about.
// Whoever catches a panic of the engine learns from it what to set aside. It has no kind where none is known.
type Suspect struct {
	Kind DefinitionKind
	ID   string
}

// Suspect returns what the engine was busy with last.
func (e *Engine) Suspect() Suspect { return e.suspect }

// busyWith takes that from now on the engine is busy with a definition.
func (e *Engine) busyWith(kind DefinitionKind, id string) { e.suspect.Kind, e.suspect.ID = kind, id }

// suspected returns the definition that an input is about.
func suspected(in *Input) Suspect {
	switch {
	case in.Definition != "":
		return Suspect{in.Definition, in.ID}
	case in.Rule != "":
		return Suspect{KindRule, in.Rule}
	case in.Scene != "":
		return Suspect{KindScene, in.Scene}
	case in.Kind == InputSequence:
		return Suspect{KindSequence, in.ID}
	case in.Device != "":
		return Suspect{KindDevice, in.Device}
	default:
		return Suspect{}
	}
}

package hub

// AbsentError says that something asked for does not exist.
type AbsentError struct{ Message string }

func (e *AbsentError) Error() string { return e.Message }

// Absent returns an [AbsentError].
func Absent(message string) error { return &AbsentError{message} }

// InvalidError says what is wrong with what was given, and where.
type InvalidError struct {
	// Place is the field, such as "title" or "targets[2]".
	Place   string
	Message string
}

func (e *InvalidError) Error() string { return e.Message }

// Invalid returns an [InvalidError].
func Invalid(place, message string) error { return &InvalidError{place, message} }

// ConflictError says that something stands in the way, such as an edit from another window.
type ConflictError struct{ Message string }

func (e *ConflictError) Error() string { return e.Message }

// UnansweredError says that a device that was asked for something did not give it.
type UnansweredError struct{ Message string }

func (e *UnansweredError) Error() string { return e.Message }

// ForbiddenError says that whoever asked may not do what they asked for.
type ForbiddenError struct{ Message string }

func (e *ForbiddenError) Error() string { return e.Message }

package views

import "amvek/core/home"

// PersonView is somebody of the household, or a guest.
type PersonView struct {
	ID       string `json:"id"`
	Revision int    `json:"revision"`
	home.Person
}

// Person returns somebody that there is.
func (r *Reader) Person(id string) PersonView {
	kept := r.Definitions.People[id]
	return PersonView{ID: id, Revision: kept.Revision, Person: *kept.Doc}
}

package document_test

import (
	"fmt"

	"amvek/core/document"
)

// Two windows changed one scene: one its name, the other a level. Both changes are there; had both set the level, it would be
// asked.
func ExampleJoin() {
	before := `{"title":"Supper","targets":[{"device":"lamp","property":"brightness","value":40}]}`
	mine := `{"title":"Late supper","targets":[{"device":"lamp","property":"brightness","value":40}]}`
	theirs := `{"title":"Supper","targets":[{"device":"lamp","property":"brightness","value":25}]}`
	joined, clashes, err := document.Join([]byte(before), []byte(mine), []byte(theirs), document.Neither)
	fmt.Println(string(joined), clashes, err)

	both := `{"title":"Supper","targets":[{"device":"lamp","property":"brightness","value":90}]}`
	_, clashes, _ = document.Join([]byte(before), []byte(both), []byte(theirs), document.Neither)
	fmt.Println(clashes)
	// Output:
	// {"targets":[{"device":"lamp","property":"brightness","value":25}],"title":"Late supper"} [] <nil>
	// [targets/0/value]
}

package show_test

import (
	"fmt"

	"amvek/hub/show"
)

// Of an entry only what became different is told (RFC 7396).
func ExamplePatch() {
	before := `{"title":"Stair lamp","state":{"value":20,"certainty":"confirmed"},"note":"old"}`
	after := `{"title":"Stair lamp","state":{"value":35,"certainty":"confirmed"}}`
	patch, could := show.Patch([]byte(before), []byte(after))
	fmt.Println(string(patch), could)
	// Output:
	// {"note":null,"state":{"value":35}} true
}

package compose_test

import (
	"fmt"

	"amvek/hub/compose"
)

// What may be a value is found in a message of a device that nothing describes, with the pattern by which it is found again.
func ExampleInText() {
	for _, field := range compose.InText("ZONE 2 VOL 40") {
		fmt.Println(field.Value, field.Type, field.Pattern)
	}
	// Output:
	// 2 number ZONE (-?\d+(?:\.\d+)?) VOL -?\d+(?:\.\d+)?
	// 40 number ZONE 2 VOL (-?\d+(?:\.\d+)?)
}

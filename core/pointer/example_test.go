package pointer_test

import (
	"encoding/json"
	"fmt"

	"amvek/core/pointer"
)

func ExampleAt() {
	var payload any
	_ = json.Unmarshal([]byte(`{"env":{"in/out":[18.4,7]}}`), &payload)
	warmth, err := pointer.At(payload, "/env/"+pointer.Escape("in/out")+"/0")
	fmt.Println(warmth, err)
	_, err = pointer.At(payload, "/env/humidity")
	fmt.Println(err)
	// Output:
	// 18.4 <nil>
	// there is no such part: "humidity"
}

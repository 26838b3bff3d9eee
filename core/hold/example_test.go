package hold_test

import (
	"fmt"
	"time"

	"amvek/core/hold"
	"amvek/core/thing"
)

// Who lets go puts nothing back: what lies below shows through, whatever it has become meanwhile.
func ExampleStack_Release() {
	at := time.Date(2026, 11, 20, 21, 0, 0, 0, time.UTC)
	var lamp hold.Stack
	lamp.Write(hold.Base{Value: thing.Number(20), Since: at})
	lamp.Place(hold.Hold{Owner: "film", Level: hold.Rule, Value: thing.Number(5), Since: at})
	lamp.Place(hold.Hold{Owner: "guests", Level: hold.Rule, Value: thing.Number(80), Since: at})
	fmt.Println(lamp.Effective())
	lamp.Release("film") // the older of the two ends first
	fmt.Println(lamp.Effective())
	lamp.Release("guests")
	fmt.Println(lamp.Effective())
	// Output:
	// 80
	// 80
	// 20
}

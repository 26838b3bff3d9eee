package thing_test

import (
	"fmt"

	"amvek/core/thing"
)

// A profile says once how a maker writes what a property is at: here percent of brightness as 1 to 250, and off as a word of its own.
func ExampleNative() {
	brightness := thing.Property{Title: "Brightness", Type: thing.TypeNumber, Unit: thing.UnitPercent, Maximum: 100, Writable: true}
	native := thing.Native{Field: "level", Gate: "lit", Range: []float64{1, 250}}
	half, err := native.Read(&brightness, map[string]any{"lit": true, "level": 126.0})
	fmt.Printf("%.0f %v\n", half.Number, err)
	off, err := native.Read(&brightness, map[string]any{"lit": false, "level": 126.0})
	fmt.Println(off.Number, err)
	fields, err := native.Write(&brightness, thing.Number(100))
	fmt.Println(fields, err)
	// Output:
	// 51 <nil>
	// 0 <nil>
	// map[level:250 lit:true] <nil>
}

// What stands in the places of a message is escaped for where it stands.
func ExampleFill() {
	places := thing.Places{"value": `say "hi"`}
	for _, message := range []struct{ kind, template string }{{"application/json", `{"text":"{value}"}`}, {"application/x-www-form-urlencoded", "text={value}"}} {
		filled, err := thing.Fill(message.template, places, thing.Escaper(message.kind, message.template))
		fmt.Println(filled, err)
	}
	_, err := thing.Fill("{volume}", places, thing.Escaper("", ""))
	fmt.Println(err)
	// Output:
	// {"text":"say \"hi\""} <nil>
	// text=say+%22hi%22 <nil>
	// it is not known yet what volume is at
}

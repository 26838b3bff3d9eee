package address_test

import (
	"fmt"

	"amvek/core/address"
)

// A key in an address is kept elsewhere; what is shown and saved has a mark in its place.
func ExampleHide() {
	kept := map[string]string{}
	shown, _ := address.Hide("https://weather.example/data?q=Bath&appid=ab12", func(p address.Part) string {
		kept["part00000001"] = p.Text
		return "part00000001"
	})
	fmt.Println(shown)
	back, _ := address.Reveal(shown, func(id string) (string, error) { return kept[id], nil })
	fmt.Println(back)
	// Output:
	// https://weather.example/data?q=Bath&appid=(hidden-part00000001)
	// https://weather.example/data?q=Bath&appid=ab12
}

package almanac_test

import (
	"fmt"
	"time"

	"amvek/core/almanac"
)

func ExamplePlace_On() {
	london, _ := time.LoadLocation("Europe/London")
	mill := almanac.Place{Latitude: 51.38, Longitude: -2.36}
	sun := mill.On(time.Date(2026, 6, 21, 12, 0, 0, 0, london))
	fmt.Println(sun.Rise.In(london).Format("15:04"), sun.Set.In(london).Format("15:04"))
	// Output:
	// 04:52 21:29
}

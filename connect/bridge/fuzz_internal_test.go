package bridge

import (
	"encoding/json"
	"testing"

	"amvek/connect"
	"amvek/connect/connecttest"
)

func FuzzEvent(f *testing.F) {
	profiles := connecttest.Profiles(f)
	f.Add([]byte(`{"plate":"41","count":3,"button":2,"gesture":"press"}`))
	f.Add([]byte(`{"lamp":"7"}`))
	f.Add([]byte(`{"lit":true,"level":120,"mired":370,"chroma":[0.4,0.4]}`))
	f.Fuzz(func(_ *testing.T, data []byte) {
		b, heard := New("127.0.0.1:1", "", "", profiles), connecttest.NewHeard()
		b.devices["plates/41"] = connect.Announcement{Hardware: "p", Model: "PLX4", Profile: profiles("PLX4")}
		b.devices["lamps/7"] = connect.Announcement{Hardware: "l", Model: "CLX8", Profile: profiles("CLX8")}
		b.happened(heard, data)
		var message map[string]any
		if json.Unmarshal(data, &message) == nil {
			b.tell(heard, "lamps/7", message)
			b.tell(heard, "plates/41", message)
		}
	})
}

package light_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"amvek/core/light"
	"amvek/core/thing"
)

func TestAValueMayHaveAFadeOfItsOwn(t *testing.T) {
	none, slow, wrong := 0.0, 90.0, -1.0
	assert.Equal(t, 4*time.Second, (&light.Target{}).Fade(4*time.Second))
	assert.Zero(t, (&light.Target{FadeSeconds: &none}).Fade(4*time.Second))
	assert.Equal(t, 90*time.Second, (&light.Target{FadeSeconds: &slow}).Fade(4*time.Second))

	lamp := &thing.Property{Name: "brightness", Title: "Brightness", Type: thing.TypeNumber, Maximum: 100, Writable: true, Role: thing.RoleBrightness}
	check := func(change func(s *light.Scene)) error {
		s := &light.Scene{Title: "Evening", Targets: []light.Target{{Device: "lamp", Property: "brightness", Value: thing.Number(40)}}}
		change(s)
		return s.Check(func(string, string) *thing.Property { return lamp }, func(string) bool { return false })
	}
	assert.NoError(t, check(func(s *light.Scene) {
		s.Targets[0].FadeSeconds, s.Icon, s.Color, s.Hidden = &slow, "sun", "ochre", true
	}))
	assert.ErrorContains(t, check(func(s *light.Scene) { s.Targets[0].FadeSeconds = &wrong }), "targets[0].fadeSeconds")
	assert.ErrorContains(t, check(func(s *light.Scene) { s.Icon = "../x" }), "icon")
	assert.ErrorContains(t, check(func(s *light.Scene) { s.Color = "pink" }), "color")
}

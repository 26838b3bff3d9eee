package mirror_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amvek/core/mirror"
	"amvek/core/thing"
)

var (
	percent = &thing.Property{
		Name: "brightness", Title: "Brightness", Type: thing.TypeNumber, Unit: thing.UnitPercent, Maximum: 100, Resolution: 1,
		Writable: true, Role: thing.RoleBrightness,
	}
	stages = &thing.Property{Name: "stage", Title: "Stage", Type: thing.TypeNumber, Maximum: 4, Resolution: 1, Writable: true}
	power  = &thing.Property{Name: "power", Title: "Power", Type: thing.TypeBoolean, Writable: true, Role: thing.RolePower}
	color  = &thing.Property{Name: "color", Title: "Color", Type: thing.TypeText, Writable: true, Role: thing.RoleColor}
	effect = &thing.Property{Name: "effect", Title: "Effect", Type: thing.TypeOption, Options: []string{"off", "slow"}, Writable: true}
	speed  = &thing.Property{Name: "speed", Title: "Speed", Type: thing.TypeOption, Options: []string{"off", "fast"}, Writable: true}
	read   = &thing.Property{Name: "light", Title: "Light", Type: thing.TypeNumber}
)

func TestWhatOneMemberSaysOfAnother(t *testing.T) {
	n, b := thing.Number, thing.Boolean
	cases := map[string]struct {
		from   *thing.Property
		v      thing.Value
		to     *thing.Property
		at     thing.Value
		lastOn float64
		want   thing.Value
	}{
		"the same unit":                    {percent, n(37), percent, n(0), 0, n(37)},
		"another range":                    {percent, n(40), stages, n(0), 0, n(2)},
		"back":                             {stages, n(1), percent, n(0), 0, n(25)},
		"a level is on":                    {percent, n(1), power, b(false), 0, b(true)},
		"its least is off":                 {percent, n(0), power, b(true), 0, b(false)},
		"on, as it was on with last":       {power, b(true), percent, n(0), 35, n(35)},
		"on, and it never was":             {power, b(true), percent, n(0), 0, n(100)},
		"on, as it is already":             {power, b(true), percent, n(12), 35, n(12)},
		"off":                              {power, b(false), percent, n(12), 35, n(0)},
		"a color":                          {color, thing.Color(0.3, 0.4), color, thing.Value{}, 0, thing.Color(0.3, 0.4)},
		"an option that both have":         {effect, thing.Text("off"), speed, thing.Text("fast"), 0, thing.Text("off")},
		"an option that the other has not": {effect, thing.Text("slow"), speed, thing.Text("fast"), 0, thing.Value{}},
		"nothing known":                    {percent, thing.Value{}, percent, n(4), 0, thing.Value{}},
	}
	for name, c := range cases {
		t.Run(name, func(t *testing.T) {
			assert.Equal(t, c.want, mirror.Reflected(c.from, c.v, c.to, c.at, c.lastOn))
		})
	}
}

// Whatever one member says of another, they agree then, and say nothing new of each other.
func TestWhatWasReflectedAgrees(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		all := []*thing.Property{percent, stages, power}
		draw := func(p *thing.Property, label string) thing.Value {
			if p.Type == thing.TypeBoolean {
				return thing.Boolean(rapid.Bool().Draw(t, label))
			}
			return thing.Number(float64(rapid.IntRange(0, int(p.Maximum)).Draw(t, label)))
		}
		from, to := rapid.SampledFrom(all).Draw(t, "from"), rapid.SampledFrom(all).Draw(t, "to")
		v, at := draw(from, "value"), draw(to, "at")
		want := mirror.Reflected(from, v, to, at, float64(rapid.IntRange(0, 100).Draw(t, "last on")))
		require.NoError(t, to.Check(want))
		require.True(t, mirror.Agrees(from, v, to, want), "%v is not %v", want, v)
		require.True(t, mirror.Agrees(to, want, from, v), "%v is not %v, seen from the other", v, want)
	})
}

type lookup map[string]*thing.Property

func (l lookup) Property(device, name string) *thing.Property { return l[device+"/"+name] }

func TestWhatIsWrongWithAMirrorIsSaidWhereItIs(t *testing.T) {
	home := lookup{"a/x": percent, "b/x": power, "c/x": color, "d/x": read, "e/x": effect}
	of := func(devices ...string) []mirror.Member {
		var all []mirror.Member
		for _, d := range devices {
			all = append(all, mirror.Member{Device: d, Property: "x"})
		}
		return all
	}
	assert.Empty(t, (&mirror.Mirror{Members: of("a", "b")}).Check(home))
	cases := map[string]struct {
		mirror mirror.Mirror
		path   string
		says   string
	}{
		"one":            {mirror.Mirror{Members: of("a")}, "members", "two or more"},
		"gone":           {mirror.Mirror{Members: of("a", "z")}, "members/1", "any more"},
		"not chosen":     {mirror.Mirror{Members: append(of("a"), mirror.Member{})}, "members/1", "Choose what"},
		"to be read":     {mirror.Mirror{Members: of("a", "d")}, "members/1", "Light can only be read."},
		"twice":          {mirror.Mirror{Members: of("a", "a")}, "members/1", "twice"},
		"not of a kind":  {mirror.Mirror{Members: of("a", "c")}, "members/1", "Brightness and Color cannot be at the same state."},
		"options":        {mirror.Mirror{Members: of("a", "e")}, "members/1", "cannot be at the same state"},
		"no such winner": {mirror.Mirror{Members: of("a", "b"), Winner: "best"}, "winner", `"best" is no winner.`},
	}
	for name, c := range cases {
		t.Run(name, func(t *testing.T) {
			faults := c.mirror.Check(home)
			if assert.Len(t, faults, 1) {
				assert.Equal(t, c.path, faults[0].Path)
				assert.Contains(t, faults[0].Message, c.says)
			}
		})
	}
	assert.ErrorContains(t, (&mirror.Mirror{}).WellFormed(), "give the mirror a name")
}

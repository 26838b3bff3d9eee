package expr_test

import (
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/expr"
	"amvek/core/thing"
)

// house is a small home to speak about.
type house struct{ values map[thing.Ref]thing.Value }

func (house) Property(device, name string) *thing.Property {
	switch name {
	case "temperature", "humidity":
		return &thing.Property{Name: name, Title: "Temperature", Type: thing.TypeNumber}
	case "motion":
		return &thing.Property{Name: name, Title: "Motion", Type: thing.TypeBoolean}
	case "mode":
		return &thing.Property{Name: name, Title: "Mode", Type: thing.TypeOption, Options: []string{"in", "out"}}
	case "color":
		return &thing.Property{Name: name, Title: "Color", Type: thing.TypeColor}
	default:
		return nil
	}
}

func (house) Members(group, role string) []thing.Ref {
	if group != "warm" {
		return nil
	}
	return []thing.Ref{{Device: "a", Name: role}, {Device: "b", Name: role}, {Device: "c", Name: role}}
}

func (h house) RoomMembers(room, role string) []thing.Ref { return h.Members(room, role) }

func (h house) Value(i *expr.Input) thing.Value {
	switch i.Kind {
	case expr.OfPast:
		return thing.Number(map[expr.Statistic]float64{expr.Mean: 20, expr.Least: 18, expr.Most: 22, expr.Change: -2}[i.Statistic])
	case expr.OfClock:
		return thing.Number(map[expr.Clock]float64{expr.Hour: 22.5, expr.Weekday: 7, expr.Day: 23, expr.Month: 11, expr.Sun: -12}[i.Clock])
	default:
		return h.values[i.Ref]
	}
}

func (h house) Values(i *expr.Input) []thing.Value {
	var all []thing.Value
	for _, ref := range i.Refs {
		if v := h.values[ref]; !v.IsNone() {
			all = append(all, v)
		}
	}
	return all
}

func (h house) Names(i *expr.Input) []string {
	var names []string
	for _, ref := range i.Refs {
		if h.values[ref] == i.Wanted {
			names = append(names, map[string]string{"a": "Hall", "b": "Loft", "c": "Yard"}[ref.Device])
		}
	}
	return names
}

func (house) Moment() time.Time { return time.Date(2026, 11, 22, 22, 30, 0, 0, time.UTC) }

func lived() house {
	return house{map[thing.Ref]thing.Value{
		{Device: "a", Name: "temperature"}: thing.Number(21.5),
		{Device: "b", Name: "temperature"}: thing.Number(18),
		{Device: "a", Name: "motion"}:      thing.Boolean(true),
		{Device: "b", Name: "motion"}:      thing.Boolean(false),
		{Device: "c", Name: "motion"}:      thing.Boolean(true),
		{Device: "own", Name: "mode"}:      thing.Text("in"),
	}}
}

func TestWhatExpressionsComeTo(t *testing.T) {
	var language expr.Language
	for _, c := range []struct {
		text string
		want thing.Value
	}{
		{`1 + 2`, thing.Number(3)},
		{`7 / 2`, thing.Number(3.5)}, // no whole numbers that would be cut
		{`value("a", "temperature") + 1`, thing.Number(22.5)},
		{`value("a", "temperature") > 21 && mode == "in"`, thing.Boolean(true)},
		{`known("c", "temperature")`, thing.Boolean(false)},
		{`known("c", "temperature") ? value("c", "temperature") : 7`, thing.Number(7)},
		{`value("c", "temperature") > 3 || value("a", "motion")`, thing.Boolean(true)}, // whatever the unknown is
		{`mean(group("warm", "temperature"))`, thing.Number(19.75)},
		{`most(room("warm", "temperature")) - least(room("warm", "temperature"))`, thing.Number(3.5)},
		{`median([3, 1, 2, 10])`, thing.Number(2.5)},
		{`sum([1, 2, 3.5])`, thing.Number(6.5)},
		{`count(group("warm", "motion"))`, thing.Number(2)},
		{`group("warm", "motion").exists(m, !m)`, thing.Boolean(true)},
		{`group("warm", "temperature").filter(t, t > 20).size() == 1`, thing.Boolean(true)},
		{`group("warm", "temperature")[1]`, thing.Number(18)},
		{`meanOver("a", "temperature", "10m") - mostOver("a", "temperature", "1h30m")`, thing.Number(-2)},
		{`changeOver("a", "temperature", "10m") < 0`, thing.Boolean(true)},
		{`hour >= 22 && weekday == 7 && sun < -6 && month == 11 && day == 23`, thing.Boolean(true)},
		{`now > timestamp("2026-01-01T00:00:00Z")`, thing.Boolean(true)},
		{`round(21.46, 1)`, thing.Number(21.5)},
		{`abs(round(-21.6))`, thing.Number(22)},
		{`"It is " + string(value("a", "temperature")) + " °C"`, thing.Text("It is 21.5 °C")},
		{`variable("mode")`, thing.Text("in")},
		{`which("warm", "motion", true)`, thing.Text("Hall and Yard")},
		{`which("warm", "motion", false) + "!"`, thing.Text("Loft!")},
		{`which("warm", "temperature", 18)`, thing.Text("Loft")},
		{`which("warm", "temperature", 99.5)`, thing.Text("none")},
	} {
		x, problems := language.Compile(c.text, lived())
		if assert.Empty(t, problems, c.text) {
			v, err := x.Evaluate(lived())
			assert.NoError(t, err, c.text)
			assert.True(t, c.want.Near(v, 1e-9), "%s comes to %v, not %v", c.text, v, c.want)
			assert.Equal(
				t,
				map[thing.Kind]thing.Type{thing.KindNumber: thing.TypeNumber, thing.KindBoolean: thing.TypeBoolean, thing.KindText: thing.TypeText}[v.Kind],
				x.Type,
			)
		}
	}
}

func TestWhatIsWrongIsSaidWhereItIs(t *testing.T) {
	var language expr.Language
	for _, c := range []struct {
		text    string
		column  int
		message string
	}{
		{``, 1, "missing at the end"},
		{`1 +`, 4, "missing at the end"},
		{`1 + 'a'`, 3, "“+” does not go with a number and a text"},
		{`landing sensor`, 9, "“sensor” was not expected here"},
		{`3 > 2 && 5`, 10, ""},
		{`temprature > 3`, 1, "“temprature” is not known here"},
		{`1 + value("z", "nothing")`, 10, "There is no such property"},
		{`value("a", "color")`, 6, "is a color"},
		{`value(mode, "temperature")`, 6, "two names in quotes"},
		{`group("none", "temperature")`, 6, "No device of this group"},
		{`meanOver("a", "temperature", "9 days")`, 30, "10s to 24h"},
		{`meanOver("a", "mode", "10m")`, 9, "neither a number"},
		{`which("warm", "motion")`, 6, "which needs two names in quotes, and the value"},
		{`which("warm", "motion", 1 + 1)`, 6, "which needs two names in quotes, and the value"},
		{`which("none", "motion", true)`, 6, "No device of this group has that"},
		{`which("warm", "motion", "open")`, 25, "No device of this group can be at that"},
		{`[1, 2]`, 1, "a list of numbers"},
		{`{"a": 1}`, 1, "Only lists"},
		{`1 # 2`, 3, ""},
		{strings.Repeat("(", 100) + "1" + strings.Repeat(")", 100), 1, "nested too deep"},
		{`group("warm", "temperature").all(a, group("warm", "temperature").all(b, group("warm", "temperature").all(c, a + b > c)))`, 1, ""},
		{`"` + strings.Repeat("a", 3000) + `"`, 1, "too long"},
	} {
		x, problems := language.Compile(c.text, lived())
		assert.Nil(t, x, c.text)
		if assert.NotEmpty(t, problems, c.text) {
			assert.Contains(t, problems[0].Message, c.message, c.text)
			if c.message != "" && c.message != "nested too deep" && c.message != "too long" {
				assert.Equal(t, c.column, problems[0].Column, c.text)
			}
		}
	}
}

func TestWhatCannotBeWorkedOutSaysWhy(t *testing.T) {
	var language expr.Language
	for text, want := range map[string]string{
		`value("c", "temperature") + 1`:   expr.ErrUnknown.Error(),
		`mean(group("warm", "humidity"))`: expr.ErrUnknown.Error(),
		`1 / (hour - hour)`:               "divided by 0",
		`group("warm", "temperature")[9]`: "9",
	} {
		x, problems := language.Compile(text, lived())
		require.Empty(t, problems, text)
		_, err := x.Evaluate(lived())
		assert.ErrorContains(t, err, want, text)
	}
}

func TestMentionsAreFoundWhateverIsThere(t *testing.T) {
	m := expr.Mention(
		`value("gone", "x") > 1 && count(group("g", "motion")) > 0 && mean(room("r", "temperature")) > meanOver("b", "y", "5m") && variable("v") && mode == "in"`,
	)
	assert.Equal(t, []string{"g"}, m.Groups)
	assert.Equal(t, []string{"r"}, m.Rooms)
	assert.ElementsMatch(
		t,
		[]thing.Ref{{Device: "gone", Name: "x"}, {Device: "b", Name: "y"}, {Device: "own", Name: "v"}, {Device: "own", Name: "mode"}},
		m.Properties,
	)
	assert.Empty(t, expr.Mention(`value(`).Properties)
}

func FuzzCompile(f *testing.F) {
	for _, text := range []string{`value("a","temperature") > 3`, `count(group("warm","motion"))`, `[1,2].map(x, x * 2)`, `"a" + string(hour)`, `meanOver("a","temperature","10m")`, `((((1`} {
		f.Add(text)
	}
	f.Fuzz(func(t *testing.T, text string) {
		var language expr.Language
		x, problems := language.Compile(text, lived())
		if (x == nil) == (len(problems) == 0) {
			t.Fatal("neither an expression nor a problem, or both")
		}
		if x == nil {
			for _, p := range problems {
				if p.Line < 1 || p.Column < 1 || p.Message == "" {
					t.Fatalf("a problem without a place or words: %+v", p)
				}
			}
			return
		}
		if v, err := x.Evaluate(lived()); err == nil && v.IsNone() {
			t.Fatal("a result that is none")
		}
	})
}

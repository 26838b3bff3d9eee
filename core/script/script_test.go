package script_test

import (
	"errors"
	"fmt"
	"runtime"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/script"
	"amvek/core/thing"
)

// mill is a small world: two lamps and a variable.
type mill struct{ draws int }

func (*mill) Read(device, property string) (thing.Value, error) {
	switch device + " " + property {
	case "lamp brightness":
		return thing.Number(40), nil
	case "lantern brightness":
		return thing.Number(20.5), nil
	case "own mode":
		return thing.Text("mode-in"), nil
	case "own guests":
		return thing.Number(3), nil
	case "lamp color":
		return thing.Color(0.25, 0.5), nil
	case "gauge level":
		return thing.Value{}, nil
	}
	return thing.Value{}, errors.New("there is no such device or property")
}

func (m *mill) Settable(device, property string, v thing.Value) (string, thing.Value, error) {
	if _, err := m.Read(device, property); err != nil {
		return "", v, err
	}
	if v.Kind != thing.KindNumber && property == "brightness" {
		return "", v, errors.New("brightness is a number")
	}
	return property, v, nil
}

func (*mill) Action(device, action string, given thing.Inputs) error {
	if device != "door" {
		return errors.New("there is no such device")
	}
	return (&thing.Action{Name: action, Title: "Open", Inputs: []thing.Input{{Property: thing.Property{Name: "wide", Title: "Wide", Type: thing.TypeNumber}}}}).Check(
		given,
	)
}

func (*mill) Members(group string) ([]string, error) {
	if group != "lamps" {
		return nil, errors.New("there is no such group")
	}
	return []string{"lamp", "lantern"}, nil
}

func (m *mill) Inside(string) ([]string, error) { return m.Members("lamps") }
func (*mill) Title(device string) (string, bool) {
	return map[string]string{"lamp": "Reading lamp", "lantern": "Yard lantern"}[device], device == "lamp" || device == "lantern"
}
func (*mill) HasScene(id string) bool     { return id == "evening" }
func (*mill) HasRule(id string) bool      { return id == "stairs" }
func (*mill) Now(word string) thing.Value { return thing.Number(float64(len(word))) }

func (m *mill) Chance() float64 {
	m.draws++
	return 0.75
}

func run(t *testing.T, text string) (script.Result, string) {
	t.Helper()
	p, problems := script.Compile(text)
	require.Empty(t, problems)
	result, failed := p.Run(&mill{})
	if failed != nil {
		return result, fmt.Sprintf("%d:%d %s", failed.Line, failed.Column, failed.Message)
	}
	return result, ""
}

func TestAScriptReadsAndSaysWhatIsToBeDone(t *testing.T) {
	result, failed := run(t, `
dim = [id for id in members("lamps") if value(id, "brightness") < 30]
for id in dim:
    set(id, "brightness", round(value(id, "brightness") * 1.5, 1))
if mode == "mode-in" and variable("guests") >= 3:
    keep("guests", variable("guests") - 1)
    print("now", variable("guests"), "guests")
ask("door", "open")
ask("door", "open", {"wide": hour / 2})
apply("evening")
start("stairs")
notify("It is %d, %s" % (hour, ", ".join(sorted(dim))))
`)
	require.Empty(t, failed)
	assert.Equal(t, []script.Asked{
		{Kind: script.Set, Device: "lantern", Name: "brightness", Value: thing.Number(30.8)},
		{Kind: script.Set, Device: "own", Name: "guests", Value: thing.Number(2)},
		{Kind: script.Ask, Device: "door", Name: "open"},
		{Kind: script.Ask, Device: "door", Name: "open", Given: thing.Inputs{"wide": thing.Number(2)}},
		{Kind: script.Apply, Name: "evening"},
		{Kind: script.Start, Name: "stairs"},
		{Kind: script.Notify, Text: "It is 4, lantern"},
	}, result.Asked)
	assert.Equal(t, []string{"now 2 guests"}, result.Said)
}

func TestWhatFailsDoesNothingAndSaysWhere(t *testing.T) {
	for text, want := range map[string]string{
		"set(\"lamp\", \"brightness\", 5)\nset(\"gone\", \"brightness\", 5)": `2:4 There is no such device or property.`,
		`set("lamp", "brightness", "much")`:                                  `1:4 Brightness is a number.`,
		`x = 1 / 0`:                                                          `1:7 Floating-point division by zero.`,
		`value("gauge", "level") + 1`:                                        `1:25 Unknown binary op: NoneType + int.`,
		`value(3, "x")`:                                                      `1:6 Its argument 1 must be a text in quotes, not a int.`,
		`fail("no way")`:                                                     `1:5 Fail: no way.`,
		"def f():\n    return [1][3]\n\nf()\n":                               `2:15 List index 3 out of range [-1:0].`,
		`pick([])`:                                                           `1:5 There is nothing to pick from.`,
		`mean([])`:                                                           `1:5 The mean of nothing: not one is known.`,
		`apply("dawn")`:                                                      `1:6 There is no such scene.`,
		`set("lamp", "brightness", float("nan"))`:                            `1:4 This number is not finite.`,
		`"a".shout()`:                                                        `1:4 A string has no .shout.`,
		`ask("door", "open", 3)`:                                             `1:4 What the action is given stands in braces, by its name, not in a int.`,
		`ask("door", "open", {"wide": "very"})`:                              `1:4 Wide: must be a number.`,
		`ask("door", "open", {"far": 1})`:                                    `1:4 Open: takes no far.`,
		`ask("door", "open", {1: 1})`:                                        `1:4 The name of what an action is given must be a text in quotes, not a int.`,
		`getattr("a", "upper")`:                                              `1:8 There is no getattr here.`,
	} {
		result, failed := run(t, text)
		assert.Equal(t, want, failed, text)
		assert.Empty(t, result.Asked, text)
	}
}

func TestWhatCannotBeReadSaysWhere(t *testing.T) {
	for text, want := range map[string]string{
		"x = = 1":                   "1:5 Got '=', want primary expression.",
		"for i in [1]\n    pass":    "1:13 Got newline, want ':'.",
		"print(1)\nblink(3)":        "2:1 Undefined: blink.",
		`load("net", "get")`:        "1:1 A script stands by itself: nothing can be loaded.",
		"while True:\n    pass":     "1:1 This Starlark dialect does not support while loops.",
		"a = [1]\na[0] += 1":        "2:6 Write it out here: such as a[i] = a[i] + 1.",
		strings.Repeat("(", 300):    "1:1 Brackets within brackets are too deep here.",
		strings.Repeat("#", 30_000): "1:1 A script has at most 20000 characters.",
		"·binary(1)":                "1:1 Unexpected input character '·'.",
	} {
		p, problems := script.Compile(text)
		assert.Nil(t, p)
		if assert.NotEmpty(t, problems, text) {
			assert.Equal(t, want, fmt.Sprintf("%d:%d %s", problems[0].Line, problems[0].Column, problems[0].Message), text)
		}
	}
}

// Each of these would take more time or memory than there is, one way or another.
func TestBombsEndAtTheirLimit(t *testing.T) {
	doubled := func(step string) string {
		return "a = " + step[:strings.Index(step, ";")] + "\nfor i in range(60):\n    " + step[strings.Index(step, ";")+1:] + "\n"
	}
	for _, text := range []string{
		"for i in range(100000):\n    for j in range(100000):\n        pass",
		"def f(x):\n    return f(x)\n\nf(1)",
		"f = lambda g: g(g)\nf(f)",
		`"x" * 1000000000`,
		`1000000000 * "x"`,
		`[0] * 1000000000`,
		`list(range(1000000000))`,
		`(1,) * (1 << 62)`,
		doubled(`"xx";a = a + a`),
		doubled(`"xx";a += a`),
		doubled(`[1, 2];a += a`),
		doubled(`[1, 2];a.extend(a)`),
		doubled(`[1];a = [a, a]`) + "str(a)",
		doubled(`[1];a = [a, a]`) + "a == [[1], [1]]",
		doubled(`[1];a = [a, a]`) + `"%s" % a`,
		doubled(`[1];a = [a, a]`) + `"{}".format(a)`,
		doubled(`[1];a = [a, a]`) + `[1] in a`,
		doubled(`[1];a = [a, a]`) + `sorted([a, a])`,
		doubled(`[1];a = [a, a]`) + `print(a)`,
		doubled(`(1,);a = (a, a)`) + "d = {}\nd[a] = 1",
		doubled(`(1,);a = (a, a)`) + "d = {a: 1}",
		doubled(`(1,);a = (a, a)`) + "d = {k: 1 for k in [a]}",
		doubled(`(1,);a = (a, a)`) + "{}.get(a)",
		doubled(`(1,);a = (a, a)`) + "dict([(a, 1)])",
		doubled(`7;a = a * a`),
		doubled(`7;a = a << 400`),
		doubled(`"%s%s";a = a % (a, a)`),
		doubled(`"{0}{0}";a = a.format(a)`),
		doubled(`"xx";a = a.replace("x", a)`),
		doubled(`"xx";a = a.join([a, a, a])`),
		"a = 'x' * 60000\nfor i in range(10000):\n    a.split('x')",
		"a = [1] * 60000\nfor i in range(10000):\n    a[1:]",
		"a = []\nfor i in range(1000):\n    a = [a] * 1000\na == [1]",
		"a = []\na.append(a)\nstr(a) + str(a)\na == [[[[1]]]]",
		"def f(*a):\n    return 1\n\nf(*range(1000000000))",
		"zip(range(1000000000))",
		"for i in range(501):\n    set('lamp', 'brightness', i)",
		"any([False for i in range(1000000000)])",
		"a = []\na.append(a)\nstr(a)",
		"a = []\na.append(a)\na in a",
		"a = {}\na[1] = a\nstr(a)",
	} {
		began := time.Now()
		p, problems := script.Compile(text)
		if len(problems) > 0 {
			t.Errorf("%s: %v", text, problems)
			continue
		}
		_, failed := p.Run(&mill{})
		require.NotNil(t, failed, text)
		assert.NotEmpty(t, failed.Message)
		if time.Since(began) > 20*time.Second { // minutes or years without its limit
			t.Errorf("%s took too long", text)
		}
		var memory runtime.MemStats
		runtime.ReadMemStats(&memory)
		require.Less(t, memory.StackSys, uint64(64<<20), "the stack grows with %s", text)
	}
}

func TestTheSameWorldGivesTheSameResult(t *testing.T) {
	text := "d = {}\nfor i in range(50):\n    d[str(i)] = pick([1, 2, 3]) * chance()\nprint(d)\nfor k in d:\n    set('lamp', 'brightness', d[k])"
	first, _ := run(t, text)
	second, _ := run(t, text)
	assert.Equal(t, first, second)
	assert.Len(t, first.Asked, 50)
}

func TestTheWordsForThoseWhoWriteAreAllThere(t *testing.T) {
	for _, w := range script.Words() {
		p, problems := script.Compile("x = " + w.Name)
		require.Empty(t, problems, w.Name)
		_, failed := p.Run(&mill{})
		assert.Nil(t, failed, w.Name)
	}
}

func TestAScriptsMentions(t *testing.T) {
	m := script.Mention(`
x = value("lamp", "brightness") + variable("guests")
set("lantern", "color", value("lamp", "color"))
for d in members("lamps") + inside("yard"):
    ask(d, "open")
ask("door", "open")
value("gauge", x)
apply("evening")
start("stairs")
`)
	assert.True(t, slices.Contains(m.Properties, thing.Ref{Device: "lantern", Name: "color"}))
	assert.True(t, slices.Contains(m.Properties, thing.Ref{Device: "own", Name: "guests"}))
	assert.Equal(t, []string{"door", "gauge"}, m.Devices)
	assert.Equal(t, []string{"lamps"}, m.Groups)
	assert.Equal(t, []string{"yard"}, m.Rooms)
	assert.Equal(t, []string{"evening"}, m.Scenes)
	assert.Equal(t, []string{"stairs"}, m.Rules)
}

func FuzzScript(f *testing.F) {
	for _, text := range []string{"x = 1", "for i in range(3):\n    print(i)", "a = {'x': [1, 2]}\na['x'] = a['x'][1:] + list('ab'.elems())", "set('lamp', 'brightness', 3 % 2)", "f = lambda *a, **k: a\nf(*[1], **{'b': 2})", "x = '%s' % [1]\nx += 'b'", "[x for y in [[1]] for x in y if x in y]"} {
		f.Add(text)
	}
	f.Fuzz(func(t *testing.T, text string) {
		p, problems := script.Compile(text)
		if (p == nil) == (len(problems) == 0) {
			t.Fatalf("a program %v and problems %v", p != nil, problems)
		}
		for _, m := range problems {
			if m.Line < 1 || m.Column < 1 || m.Message == "" {
				t.Fatalf("a mistake without its place: %+v", m)
			}
		}
		if p != nil {
			if result, failed := p.Run(&mill{}); failed != nil && len(result.Asked) > 0 {
				t.Fatal("what failed asks for something")
			}
		}
	})
}

func TestAScriptNamesDevicesAsPeopleDo(t *testing.T) {
	result, failed := run(t, `notify(" and ".join([title(d) for d in members("lamps")]))`)
	assert.Empty(t, failed)
	assert.Equal(t, "Reading lamp and Yard lantern", result.Asked[0].Text)
	_, failed = run(t, `title("gone")`)
	assert.Contains(t, failed, "There is no such device")
}

package script_test

import (
	"fmt"
	"math"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/script"
	"amvek/core/thing"
)

// well reports whether a script runs to its end.
func well(t *testing.T, text string) bool {
	t.Helper()
	_, failed := run(t, text)
	return failed == ""
}

// rounds does a statement so many times.
func rounds(before, statement string, times int) string {
	return fmt.Sprintf("%s\nfor i in range(%d):\n    %s\n", before, times, statement)
}

// What a script makes and goes through is charged by its size: 16 bytes for each value, and a byte for each of a text.
func TestWhatIsMadeAndGoneThroughIsChargedByItsSize(t *testing.T) {
	const text, list = "x = 'x' * 60000", "x = [1] * 3000" // each 120 kB or 96 kB to make, of 8 MB
	for _, c := range []struct {
		before, statement string
		most              int // how often it may be done; once more is too much
	}{
		{text, "x + ''", 60},
		{text, "'' + x", 60},
		{text, "x == x", 60},
		{text, "x in x", 60},
		{text, "x not in x", 60},
		{text, "x % ()", 60},
		{text, "x * 1", 60},
		{text, "1 * x", 60},
		{text, "x.upper()", 24},
		{text, "x.replace('y', 'z')", 60},
		{"x = 'xy' * 3000", "x.replace('y', '1234567890')", 120},
		{"x = '{0}' * 20", "x.format('1' * 2000)", 70},
		{"x = '%s' * 20", "x % (('1' * 100,) * 20)", 137},
		{list, "x == x", 42},
		{list, "'-'.join(['ab'] * 3000)", 31},
		{list, "x.index(1)", 28},
		{"x = [1] * 90000", "x.append(1)", 22},
		{"x = [1] * 90000", "x.insert(0, 1)", 22},
		{list, "x + x", 42},
		{"x = [1]\ny = [1] * 3000", "x += y", 85},
		{"x = []", "x += range(2000)", 87},
		{"x = {}", "x.update({str(k): [k] * 50 for k in range(50)})", 28},
		{"", "sum([1] * 3000)", 43},
		{"", "pick([1] * 3000)", 58},
		{"", "print('x' * 60000)", 7},
		{"x = [[[1] * 50] * 50]", "str(x)", 93},
		{"x = ([(1,) * 50],) * 50", "x == x", 50},
		{"x = {k: [1] * 50 for k in range(50)}", "x == x", 50},
		{text, "x[1:]", 121},
	} {
		_, failed := run(t, rounds(c.before, c.statement, c.most))
		assert.Empty(t, failed, "%s; %s", c.before, c.statement)
		_, failed = run(t, rounds(c.before, c.statement, c.most+1))
		assert.Contains(t, failed, "too much", "%s; %s", c.before, c.statement)
	}
}

func TestTheLimitsOfScriptsAreMetExactly(t *testing.T) {
	for _, c := range []struct {
		well, fails string
	}{
		{`"x" * 65536`, `"x" * 65537`},
		{`a = "x" * 65535 + "y"`, `a = "x" * 65536 + "y"`},
		{`1 << 255`, `1 << 256`},
		{`-(1 << 255)`, `-(1 << 256)`},
		{`notify("x" * 2000)`, `notify("x" * 2001)`},
		{`notify(" x ")`, `notify(" ")`},
		{`pick([7])`, `pick([])`},
		{`pick([7])`, `pick()`},
		{`pick([7])`, `pick([7], [8])`},
		{`sum([1, 2.5])`, `sum([1, "2"])`},
		{`"-".join(["a"])`, `"-".join(["a"], ["b"])`},
		{`for i in range(500):` + "\n" + `    set("lamp", "brightness", i)`, `for i in range(501):` + "\n" + `    set("lamp", "brightness", i)`},
		{`ask("door", "open", {"wide": 1})`, `ask("door", "open", {str(i): 1 for i in range(21)})`},
	} {
		_, failed := run(t, c.well)
		assert.Empty(t, failed, c.well)
		_, failed = run(t, c.fails)
		assert.NotEmpty(t, failed, c.fails)
	}
	_, problems := script.Compile("#" + strings.Repeat("x", script.MaximumLength-1))
	assert.Empty(t, problems)
	_, problems = script.Compile("#" + strings.Repeat("x", script.MaximumLength))
	assert.Len(t, problems, 1)
	nested := func(depth int) string {
		return "\n\na = " + strings.Repeat("(", depth) + "1" + strings.Repeat(")", depth)
	}
	_, problems = script.Compile(nested(60))
	assert.Empty(t, problems)
	_, problems = script.Compile(nested(200))
	require.Len(t, problems, 1)
	assert.Equal(t, "Excessive nesting.", problems[0].Message, "by the reader itself")
	_, problems = script.Compile(nested(201))
	require.Len(t, problems, 1)
	assert.Equal(t, 3, problems[0].Line)
	assert.Contains(t, problems[0].Message, "Brackets within brackets")
	_, problems = script.Compile(strings.Repeat("(1)\n", 300) + strings.Repeat("[1]\n", 300))
	assert.Empty(t, problems, "brackets that are shut are not nested")
	within := func(depth int) string {
		return "a = 1\nfor i in range(" + fmt.Sprint(depth) + "):\n    a = [a]\nstr(a)"
	}
	assert.True(t, well(t, within(200)))
	assert.False(t, well(t, within(201)))
}

func TestWhatAScriptSaysIsCutWhereItIsLong(t *testing.T) {
	result, _ := run(t, `print("x" * 500)`)
	assert.Equal(t, []string{strings.Repeat("x", 500)}, result.Said)
	result, _ = run(t, `print("x" * 501)`)
	assert.Equal(t, []string{strings.Repeat("x", 500) + " …"}, result.Said)
	result, _ = run(t, `print("x" * 499 + "é")`)
	assert.Equal(t, []string{strings.Repeat("x", 499) + " …"}, result.Said, "no letter is cut in two")
	result, _ = run(t, "for i in range(60):\n    print(i)")
	assert.Len(t, result.Said, 50)
	assert.Equal(t, "49", result.Said[49])
}

// numbered reads one number.
type numbered struct {
	mill
	number float64
}

func (n *numbered) Read(string, string) (thing.Value, error) { return thing.Number(n.number), nil }

func TestWholeNumbersAreReadAsWholeNumbers(t *testing.T) {
	p, problems := script.Compile(`print(value("lamp", "brightness"))`)
	require.Empty(t, problems)
	for number, want := range map[float64]string{3: "3", 3.5: "3.5", 1<<53 - 1: "9007199254740991", 1 << 53: "9.007199254740992e+15", -(1 << 53): "-9.007199254740992e+15", math.Inf(1): "+inf"} {
		result, failed := p.Run(&numbered{number: number})
		require.Nil(t, failed)
		assert.Equal(t, []string{want}, result.Said, number)
	}
}

func TestFormsThatAreRarelyWritten(t *testing.T) {
	for text, want := range map[string]string{
		"def f():\n    return\n\nprint(f())":                      "None",
		"def f(*a, **k):\n    return len(a)\n\nprint(f(*[1, 2]))": "2",
		"def f(a, *, b):\n    return a + b\n\nprint(f(1, b = 2))": "3",
		"x = [1, 2, 3, 4]\nprint(x[:2], x[2:], x[::2], x[:])":     "[1, 2] [3, 4] [1, 3] [1, 2, 3, 4]",
		"x = [1]\ny = x\nx += (2,)\nprint(y)":                     "[1, 2]",
		"x = (1,)\nx += (2,)\nprint(x)":                           "(1, 2)",
		"print(pick(['a', 'b', 'c', 'd']))":                       "d",
		"print(-3, +3, not 3)":                                    "-3 3 False",
	} {
		result, failed := run(t, text)
		if assert.Empty(t, failed, text) {
			assert.Equal(t, []string{want}, result.Said, text)
		}
	}
}

package expr_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/expr"
	"amvek/core/thing"
)

// What is mentioned twice is one input; what differs in anything is another.
func TestEachInputIsThereOnce(t *testing.T) {
	var language expr.Language
	different := []string{
		`value("a", "temperature")`, `value("a", "humidity")`, `value("b", "temperature")`,
		`known("a", "temperature")`,
		`count(group("warm", "motion"))`, `count(room("warm", "motion"))`, `count(group("warm", "temperature"))`,
		`which("warm", "motion", true)`, `which("warm", "motion", false)`,
		`meanOver("a", "temperature", "10m")`, `leastOver("a", "temperature", "10m")`, `meanOver("a", "temperature", "11m")`,
		`hour`, `sun`,
	}
	for i, text := range different {
		twice, problems := language.Compile("["+text+", "+text+"].size()", lived())
		require.Empty(t, problems, text)
		assert.Len(t, twice.Inputs, 1, text)
		for _, other := range different[i+1:] {
			both, problems := language.Compile(fmt.Sprintf(`string(%s) + string(%s)`, text, other), lived())
			require.Empty(t, problems, "%s and %s", text, other)
			assert.Len(t, both.Inputs, 2, "%s and %s", text, other)
		}
	}
	all, problems := language.Compile("string("+strings.Join(different, ") + string(")+")", lived())
	require.Empty(t, problems)
	assert.Len(t, all.Inputs, len(different))
	last, problems := language.Compile(`string(`+strings.Join(different, ") + string(")+`) + " " + string(value("a", "temperature"))`, lived())
	require.Empty(t, problems)
	v, err := last.Evaluate(house{map[thing.Ref]thing.Value{
		{Device: "a", Name: "temperature"}: thing.Number(21.5), {Device: "a", Name: "humidity"}: thing.Number(1), {Device: "b", Name: "temperature"}: thing.Number(2),
	}})
	require.NoError(t, err)
	assert.True(t, strings.HasPrefix(v.Text, "21.512"), v.Text)
	assert.True(t, strings.HasSuffix(v.Text, "22.5-12 21.5"), "the thirteenth and fourteenth input are what they are: %s", v.Text)
}

func TestPartsOfWhatWasSentAreInputsOfTheirOwn(t *testing.T) {
	var language expr.Language
	for _, c := range []struct {
		text   string
		inputs int
	}{
		{`sentNumber("/a") + sentNumber("/a")`, 1}, {`sentNumber("/a") + sentNumber("/b")`, 2}, {`string(sentNumber("/a")) + sentText("/a")`, 2},
	} {
		x, problems := language.Compile(c.text, lived())
		if assert.Empty(t, problems, c.text) {
			assert.Len(t, x.Inputs, c.inputs, c.text)
		}
	}
}

func TestThePastReachesFromTenSecondsToADay(t *testing.T) {
	var language expr.Language
	for span, well := range map[string]bool{"10s": true, "9.999s": false, "24h": true, "24h1s": false, "1h30m": true, "soon": false} {
		_, problems := language.Compile(`meanOver("a", "temperature", "`+span+`")`, lived())
		assert.Equal(t, well, len(problems) == 0, span)
	}
}

// kin is a group in which one has the role itself and another is a relative of it.
type kin struct{ house }

func (k kin) Property(device, name string) *thing.Property {
	p := k.house.Property(device, name)
	if p != nil && device == "b" {
		p.Role = thing.Role(name)
	}
	return p
}

func TestARelativeOfARoleCountsOnlyWhereNobodyHasIt(t *testing.T) {
	var language expr.Language
	x, problems := language.Compile(`count(group("warm", "motion"))`, kin{lived()})
	require.Empty(t, problems)
	assert.Equal(t, []thing.Ref{{Device: "b", Name: "motion"}}, x.Inputs[0].Refs)
	x, problems = language.Compile(`count(group("warm", "motion"))`, lived())
	require.Empty(t, problems)
	assert.Len(t, x.Inputs[0].Refs, 3)
}

func TestAtMostFiveMistakesAreTold(t *testing.T) {
	var language expr.Language
	_, problems := language.Compile(`a + b + c + d`, lived())
	assert.Len(t, problems, 4)
	_, problems = language.Compile(`a + b + c + d + e + f + g`, lived())
	assert.Len(t, problems, 5)
}

package expr

import (
	"fmt"
	"math"
	"slices"

	"cel.dev/cel-go/cel"
	"cel.dev/cel-go/common/types"
	"cel.dev/cel-go/common/types/ref"
	"cel.dev/cel-go/common/types/traits"

	"amvek/core/thing"
)

// Language compiles expressions. The zero value is ready to use; it may not be used by several goroutines at once.
type Language struct {
	base *cel.Env
}

// Word is something that an expression can call, for those who write one.
type Word struct {
	Name string `json:"name"`
	// Pattern is how it is written, and Help what it gives.
	Pattern string `json:"pattern"`
	Help    string `json:"help"`
}

// Words returns what an expression can call or name besides CEL's own.
func Words() []Word {
	return []Word{
		{"value", `value("device", "property")`, "What a property is at."},
		{"known", `known("device", "property")`, "Whether that is known."},
		{"variable", `variable("variable")`, "What a variable is at."},
		{"mode", `mode`, "The mode that the household is in."},
		{"group", `group("group", "role")`, "What the members of a group are at, as a list."},
		{"room", `room("room", "role")`, "What the devices of a room are at, as a list."},
		{
			"which",
			`which("group", "role", true)`,
			"The names of the members of a group that are at a value, such as: Hall door and Galley window; none where there is none.",
		},
		{"sentNumber", `sentNumber("/temp")`, "A number in what another program sent with its call, by a JSON pointer (RFC 6901)."},
		{"sentText", `sentText("/state")`, "A text in what was sent."},
		{"sentYes", `sentYes("/open")`, "Yes or no in what was sent."},
		{"coming", `coming`, "The value that comes in, in a stage of a link."},
		{"mean", `mean(list)`, "The mean of numbers."},
		{"median", `median(list)`, "The middle one of numbers."},
		{"least", `least(list)`, "The least of numbers."},
		{"most", `most(list)`, "The greatest of numbers."},
		{"sum", `sum(list)`, "The sum of numbers."},
		{"count", `count(list)`, "How many there are; of yes or no, how many are yes."},
		{
			"meanOver",
			`meanOver("device", "property", "10m")`,
			"The mean over the last so many minutes; of yes or no, the share of that time for which it was yes.",
		},
		{"leastOver", `leastOver("device", "property", "10m")`, "The least of the last so many minutes."},
		{"mostOver", `mostOver("device", "property", "10m")`, "The greatest of the last so many minutes."},
		{"changeOver", `changeOver("device", "property", "10m")`, "By how much it has changed in so many minutes."},
		{"round", `round(number)`, "The nearest whole number; round(number, 1) keeps one decimal."},
		{"abs", `abs(number)`, "The number without its sign."},
		{"hour", `hour`, "Hours since midnight, such as 13.5."},
		{"weekday", `weekday`, "1 is Monday, 7 is Sunday."},
		{"day", `day`, "The day of the month."},
		{"month", `month`, "1 is January."},
		{"sun", `sun`, "The sun's height in degrees, below 0 at night."},
		{"now", `now`, "The moment itself."},
	}
}

// environment returns what all expressions have in common, made at the first use.
func (l *Language) environment() (*cel.Env, error) {
	if l.base != nil {
		return l.base, nil
	}
	number, numbers := cel.DoubleType, cel.ListType(cel.DoubleType)
	options := []cel.EnvOption{
		cel.CrossTypeNumericComparisons(true),
		cel.ParserExpressionSizeLimit(maximumLength),
		cel.ParserRecursionLimit(maximumDepth),
		cel.RegexProgramSizeLimit(2000),
		cel.ASTValidators(
			cel.ValidateComprehensionNestingLimit(2),
			cel.ValidateRegexLiterals(),
			cel.ValidateDurationLiterals(),
			cel.ValidateTimestampLiterals(),
		),
		cel.Function(
			"count",
			cel.Overload("count_numbers", []*cel.Type{numbers}, number, cel.UnaryBinding(func(v ref.Val) ref.Val { return types.Double(len(elements(v))) })),
			cel.Overload(
				"count_texts",
				[]*cel.Type{cel.ListType(cel.StringType)},
				number,
				cel.UnaryBinding(func(v ref.Val) ref.Val { return types.Double(len(elements(v))) }),
			),
			cel.Overload("count_yes", []*cel.Type{cel.ListType(cel.BoolType)}, number, cel.UnaryBinding(countYes)),
		),
		cel.Function("round",
			cel.Overload("round_whole", []*cel.Type{number}, number, cel.UnaryBinding(func(v ref.Val) ref.Val { return types.Double(math.Round(float(v))) })),
			cel.Overload("round_digits", []*cel.Type{number, number}, number, cel.BinaryBinding(func(v, digits ref.Val) ref.Val {
				grain := math.Pow(10, max(-9, min(9, math.Trunc(float(digits)))))
				return types.Double(math.Round(float(v)*grain) / grain)
			}))),
		cel.Function(
			"abs",
			cel.Overload("abs_number", []*cel.Type{number}, number, cel.UnaryBinding(func(v ref.Val) ref.Val { return types.Double(math.Abs(float(v))) })),
		),
	}
	for _, f := range []struct {
		name string
		of   func(sorted []float64) float64
	}{
		{"mean", mean},
		{"sum", total},
		{"least", func(sorted []float64) float64 { return sorted[0] }},
		{"most", func(sorted []float64) float64 { return sorted[len(sorted)-1] }},
		{"median", func(sorted []float64) float64 {
			half := len(sorted) / 2
			if len(sorted)%2 == 0 {
				return (sorted[half-1] + sorted[half]) / 2
			}
			return sorted[half]
		}},
	} {
		options = append(options, cel.Function(f.name, cel.Overload(f.name+"_numbers", []*cel.Type{numbers}, number, cel.UnaryBinding(func(v ref.Val) ref.Val {
			var all []float64
			for _, e := range elements(v) {
				all = append(all, float(e))
			}
			if len(all) == 0 {
				return types.NewErr("%s of nothing: not one is known", f.name)
			}
			slices.Sort(all)
			return types.Double(f.of(all))
		}))))
	}
	env, err := cel.NewEnv(options...)
	if err != nil {
		return nil, fmt.Errorf("the language of expressions: %w", err)
	}
	l.base = env
	return env, nil
}

func total(all []float64) (sum float64) {
	for _, n := range all {
		sum += n
	}
	return sum
}

func mean(all []float64) float64 { return total(all) / float64(len(all)) }

func countYes(v ref.Val) ref.Val {
	n := 0
	for _, e := range elements(v) {
		if e == types.True {
			n++
		}
	}
	return types.Double(n)
}

func elements(v ref.Val) []ref.Val {
	lister, ok := v.(traits.Lister)
	if !ok {
		return nil
	}
	var all []ref.Val
	for it := lister.Iterator(); it.HasNext() == types.True; {
		all = append(all, it.Next())
	}
	return all
}

func float(v ref.Val) float64 {
	n, ok := v.(types.Double)
	if !ok {
		return math.NaN()
	}
	return float64(n)
}

// typeOf returns the type in CEL of a property's values, nil where expressions cannot have them.
func typeOf(t thing.Type) *cel.Type {
	switch t {
	case thing.TypeNumber:
		return cel.DoubleType
	case thing.TypeBoolean:
		return cel.BoolType
	case thing.TypeOption, thing.TypeText:
		return cel.StringType
	default:
		return nil
	}
}

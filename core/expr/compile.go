package expr

import (
	"fmt"
	"slices"
	"strconv"
	"strings"
	"time"

	"cel.dev/cel-go/cel"
	"cel.dev/cel-go/checker"
	celast "cel.dev/cel-go/common/ast"
	"cel.dev/cel-go/common/operators"
	"cel.dev/cel-go/common/types"

	"amvek/core/thing"
)

const slotPrefix = "@"

// slotIndex returns the index of the input that a variable of a program stands for, below 0 for none.
func slotIndex(name string) int {
	if len(name) < 2 || name[:1] != slotPrefix {
		return -1
	}
	i := 0
	for _, c := range name[1:] {
		if c < '0' || c > '9' {
			return -1
		}
		i = i*10 + int(c-'0')
	}
	return i
}

// own are the names that belong to the home itself: its device, and the property that is its mode.
const (
	ownDevice = "own"
	ownMode   = "mode"
)

// coming is the value that comes into a stage of a link.
const coming = "coming"

// Compile checks an expression and makes it ready. It returns what is wrong with it, in the order of its text, and then
// no expression.
func (l *Language) Compile(text string, lookup Lookup) (*Expression, []Mistake) {
	env, err := l.environment()
	if err != nil {
		return nil, []Mistake{{Line: 1, Column: 1, Message: err.Error()}}
	}
	parsed, issues := env.Parse(text)
	if issues.Err() != nil {
		return nil, mistakes(issues)
	}
	b := &binder{lookup: lookup, factory: celast.NewExprFactory(), source: parsed.NativeRep().SourceInfo()}
	b.bind(parsed.NativeRep().Expr())
	if len(b.problems) > 0 {
		return nil, b.problems
	}
	variables := make([]cel.EnvOption, len(b.inputs))
	for i := range b.inputs {
		variables[i] = cel.Variable(slotPrefix+strconv.Itoa(i), b.types[i])
	}
	if env, err = env.Extend(variables...); err != nil {
		return nil, []Mistake{{Line: 1, Column: 1, Message: err.Error()}}
	}
	checked, issues := env.Check(parsed)
	if issues.Err() != nil {
		return nil, mistakes(issues)
	}
	x := &Expression{Text: text, Inputs: b.inputs}
	switch kind := checked.OutputType(); {
	case kind.IsExactType(cel.BoolType):
		x.Type = thing.TypeBoolean
	case kind.IsExactType(cel.DoubleType), kind.IsExactType(cel.IntType):
		x.Type = thing.TypeNumber
	case kind.IsExactType(cel.StringType):
		x.Type = thing.TypeText
	default:
		return nil, []Mistake{{Line: 1, Column: 1, Message: "It comes to " + said(kind.String()) + "; it must come to a number, a text, or yes or no."}}
	}
	if cost, err := env.EstimateCost(checked, estimator{}); err != nil || cost.Max > maximumCost {
		return nil, []Mistake{{Line: 1, Column: 1, Message: "It would take too long to work out: go through fewer lists within lists."}}
	}
	program, err := env.Program(checked, cel.EvalOptions(cel.OptOptimize))
	if err != nil {
		return nil, []Mistake{{Line: 1, Column: 1, Message: plain(err.Error())}}
	}
	x.program, x.slots.inputs = program, b.inputs
	return x, nil
}

// estimator says how long lists and texts may be.
type estimator struct{}

func (estimator) EstimateSize(checker.AstNode) *checker.SizeEstimate {
	return &checker.SizeEstimate{Min: 0, Max: maximumMembers}
}
func (estimator) EstimateCallCost(string, string, *checker.AstNode, []checker.AstNode) *checker.CallEstimate {
	return nil
}

// binder puts variables in the place of what an expression reads of the home.
type binder struct {
	lookup   Lookup
	factory  celast.ExprFactory
	source   *celast.SourceInfo
	inputs   []Input
	types    []*cel.Type
	problems []Mistake
}

func (b *binder) say(at celast.Expr, format string, args ...any) {
	location := b.source.GetStartLocation(at.ID())
	b.problems = append(b.problems, Mistake{Line: max(1, location.Line()), Column: location.Column() + 1, Message: fmt.Sprintf(format, args...)})
}

// put puts a variable for an input in the place of a part of the expression.
func (b *binder) put(at celast.Expr, in Input, of *cel.Type) {
	i := slices.IndexFunc(b.inputs, func(x Input) bool { return x.same(&in) })
	if i < 0 {
		i = len(b.inputs)
		b.inputs, b.types = append(b.inputs, in), append(b.types, of)
	}
	at.SetKindCase(b.factory.NewIdent(at.ID(), slotPrefix+strconv.Itoa(i)))
}

// bind goes through an expression. Whole numbers become numbers like all others, but where they are an index.
func (b *binder) bind(e celast.Expr) {
	switch e.Kind() {
	case celast.LiteralKind:
		if n, whole := e.AsLiteral().(types.Int); whole {
			e.SetKindCase(b.factory.NewLiteral(e.ID(), types.Double(n)))
		}
	case celast.IdentKind:
		b.name(e)
	case celast.SelectKind:
		b.bind(e.AsSelect().Operand())
	case celast.CallKind:
		b.call(e)
	case celast.ListKind:
		for _, element := range e.AsList().Elements() {
			b.bind(element)
		}
	case celast.ComprehensionKind:
		c := e.AsComprehension()
		for _, part := range []celast.Expr{c.IterRange(), c.AccuInit(), c.LoopCondition(), c.LoopStep(), c.Result()} {
			b.bind(part)
		}
	case celast.MapKind, celast.StructKind:
		b.say(e, "Only lists can be written here.")
	}
}

func (b *binder) name(e celast.Expr) {
	name := e.AsIdent()
	switch clock := Clock(name); {
	case name == ownMode:
		b.property(e, thing.Ref{Device: ownDevice, Name: ownMode}, false)
	case name == coming:
		b.put(e, Input{Kind: OfComing}, cel.DoubleType)
	case clock == Now:
		b.put(e, Input{Kind: OfClock, Clock: Now}, cel.TimestampType)
	case slices.Contains(clocks, clock):
		b.put(e, Input{Kind: OfClock, Clock: clock}, cel.DoubleType)
	}
}

func (b *binder) call(e celast.Expr) {
	c := e.AsCall()
	if c.IsMemberFunction() {
		b.bind(c.Target())
	}
	switch c.FunctionName() {
	case "value", "known":
		if args := b.literals(e, c, 2); args != nil {
			b.property(e, thing.Ref{Device: args[0], Name: args[1]}, c.FunctionName() == "known")
		}
	case "variable":
		if args := b.literals(e, c, 1); args != nil {
			b.property(e, thing.Ref{Device: ownDevice, Name: args[0]}, false)
		}
	case "group":
		if args := b.literals(e, c, 2); args != nil {
			b.members(e, Input{Kind: OfMembers, Group: args[0], Role: args[1], Refs: b.lookup.Members(args[0], args[1])}, "No device of this group has that.")
		}
	case "room":
		if args := b.literals(e, c, 2); args != nil {
			b.members(e, Input{Kind: OfMembers, Room: args[0], Role: args[1], Refs: b.lookup.RoomMembers(args[0], args[1])}, "No device of this room has that.")
		}
	case "sentNumber":
		b.sent(e, c, thing.TypeNumber, cel.DoubleType)
	case "sentText":
		b.sent(e, c, thing.TypeText, cel.StringType)
	case "sentYes":
		b.sent(e, c, thing.TypeBoolean, cel.BoolType)
	case "which":
		b.which(e, c)
	case "meanOver":
		b.past(e, c, Mean)
	case "leastOver":
		b.past(e, c, Least)
	case "mostOver":
		b.past(e, c, Most)
	case "changeOver":
		b.past(e, c, Change)
	case operators.Index:
		b.bind(c.Args()[0]) // an index stays a whole number
	default:
		for _, arg := range c.Args() {
			b.bind(arg)
		}
		if slices.Contains(wholes, c.FunctionName()) {
			b.number(e)
		}
	}
}

// wholes are CEL's functions that give whole numbers, which CEL keeps apart from the others.
var wholes = []string{
	"size",
	"int",
	"getFullYear",
	"getMonth",
	"getDate",
	"getDayOfMonth",
	"getDayOfWeek",
	"getDayOfYear",
	"getHours",
	"getMinutes",
	"getSeconds",
	"getMilliseconds",
}

// number makes a number like all others of a part that gives a whole one.
func (b *binder) number(e celast.Expr) {
	const apart = 1 << 20 // above all ids of a text that is so short
	inner := b.factory.NewUnspecifiedExpr(e.ID() + apart)
	inner.SetKindCase(e)
	e.SetKindCase(b.factory.NewCall(e.ID(), "double", inner))
}

// literals returns the texts that a call has between its brackets, nil where they are no such texts.
func (b *binder) literals(e celast.Expr, c celast.CallExpr, count int) []string {
	texts, ok := literals(c, count)
	if !ok {
		b.say(e, "%s needs %s in quotes.", c.FunctionName(), map[int]string{1: "one name", 2: "two names", 3: "three names"}[count])
		return nil
	}
	return texts
}

func literals(c celast.CallExpr, count int) ([]string, bool) {
	if c.IsMemberFunction() || len(c.Args()) != count {
		return nil, false
	}
	texts := make([]string, count)
	for i, arg := range c.Args() {
		if arg.Kind() != celast.LiteralKind {
			return nil, false
		}
		text, ok := arg.AsLiteral().(types.String)
		if !ok {
			return nil, false
		}
		texts[i] = string(text)
	}
	return texts, true
}

func (b *binder) property(e celast.Expr, ref thing.Ref, known bool) {
	p := b.lookup.Property(ref.Device, ref.Name)
	if p == nil {
		b.say(e, "There is no such property in the home.")
		return
	}
	of := typeOf(p.Type)
	if of == nil {
		b.say(e, "%s is a color, which no expression can work with.", p.Title)
		return
	}
	if known {
		of = cel.BoolType
	}
	b.put(e, Input{Kind: OfProperty, Ref: ref, Known: known}, of)
}

func (b *binder) members(e celast.Expr, in Input, none string) {
	if len(in.Refs) == 0 {
		b.say(e, "%s", none)
		return
	}
	// A relative of the role, such as on and off for brightness, counts only where nobody has the role itself.
	if exact := slices.DeleteFunc(slices.Clone(in.Refs), func(ref thing.Ref) bool {
		p := b.lookup.Property(ref.Device, ref.Name)
		return p == nil || string(p.Role) != in.Role
	}); len(exact) > 0 {
		in.Refs = exact
	}
	var of *cel.Type
	for _, ref := range in.Refs {
		p := b.lookup.Property(ref.Device, ref.Name)
		if p == nil {
			continue
		}
		switch this := typeOf(p.Type); {
		case this == nil:
			b.say(e, "%s is a color, which no expression can work with.", p.Title)
			return
		case of == nil:
			of = this
		case of != this:
			b.say(e, "Its members have that in several kinds: name the devices one by one.")
			return
		}
	}
	b.put(e, in, cel.ListType(of))
}

// which asks for the names of the members of a group that are at a value.
func (b *binder) which(e celast.Expr, c celast.CallExpr) {
	args := c.Args()
	if c.IsMemberFunction() || len(args) != 3 || args[2].Kind() != celast.LiteralKind {
		b.say(e, "which needs two names in quotes, and the value: true, a number, or a text in quotes.")
		return
	}
	names, ok := literals(b.factory.NewCall(e.ID(), c.FunctionName(), args[0], args[1]).AsCall(), 2)
	if !ok {
		b.say(e, "which needs two names in quotes, and the value: true, a number, or a text in quotes.")
		return
	}
	var wanted thing.Value
	switch v := args[2].AsLiteral().(type) {
	case types.Bool:
		wanted = thing.Boolean(bool(v))
	case types.Int:
		wanted = thing.Number(float64(v))
	case types.Double:
		wanted = thing.Number(float64(v))
	case types.String:
		wanted = thing.Text(string(v))
	}
	in := Input{Kind: OfMembers, Group: names[0], Role: names[1], Refs: b.lookup.Members(names[0], names[1]), Wanted: wanted}
	fits := false
	for _, ref := range in.Refs {
		p := b.lookup.Property(ref.Device, ref.Name)
		fits = fits || p != nil && p.Check(wanted) == nil
	}
	switch {
	case len(in.Refs) == 0:
		b.say(e, "No device of this group has that.")
	case !fits:
		b.say(args[2], "No device of this group can be at that.")
	default:
		b.put(e, in, cel.StringType)
	}
}

// sent reads a part of what another program sends with its call.
func (b *binder) sent(e celast.Expr, c celast.CallExpr, as thing.Type, of *cel.Type) {
	args := b.literals(e, c, 1)
	if args == nil {
		return
	}
	if args[0] != "" && !strings.HasPrefix(args[0], "/") {
		b.say(c.Args()[0], "A part is written like /main/temp.")
		return
	}
	b.put(e, Input{Kind: OfSent, Pointer: args[0], As: as}, of)
}

func (b *binder) past(e celast.Expr, c celast.CallExpr, statistic Statistic) {
	args := b.literals(e, c, 3)
	if args == nil {
		return
	}
	span, err := time.ParseDuration(args[2])
	if err != nil || span < shortestPast || span > longestPast {
		b.say(c.Args()[2], "A time from 10s to 24h, such as \"10m\" or \"1h30m\".")
		return
	}
	ref := thing.Ref{Device: args[0], Name: args[1]}
	switch p := b.lookup.Property(ref.Device, ref.Name); {
	case p == nil:
		b.say(e, "There is no such property in the home.")
	case p.Type != thing.TypeNumber && p.Type != thing.TypeBoolean:
		b.say(e, "%s is neither a number nor yes or no.", p.Title)
	default:
		b.put(e, Input{Kind: OfPast, Ref: ref, Statistic: statistic, Span: span}, cel.DoubleType)
	}
}

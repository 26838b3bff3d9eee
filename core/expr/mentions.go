package expr

import (
	"cel.dev/cel-go/common"
	celast "cel.dev/cel-go/common/ast"
	"cel.dev/cel-go/common/types"
	"cel.dev/cel-go/parser"

	"amvek/core/thing"
)

// Mentions are the ids that an expression names, whether or not there is such a thing.
type Mentions struct {
	Properties []thing.Ref
	Groups     []string
	Rooms      []string
}

// Mention returns what an expression names; nothing where it cannot be read.
func Mention(text string) Mentions {
	var m Mentions
	reader, err := parser.NewParser(
		parser.Macros(parser.AllMacros...),
		parser.ExpressionSizeCodePointLimit(maximumLength),
		parser.MaxRecursionDepth(maximumDepth),
	)
	if err != nil {
		return m
	}
	parsed, errs := reader.Parse(common.NewTextSource(text))
	if len(errs.GetErrors()) > 0 {
		return m
	}
	celast.PostOrderVisit(parsed.Expr(), celast.NewExprVisitor(func(e celast.Expr) {
		if e.Kind() == celast.IdentKind && e.AsIdent() == ownMode {
			m.Properties = append(m.Properties, thing.Ref{Device: ownDevice, Name: ownMode})
		}
		if e.Kind() != celast.CallKind {
			return
		}
		c := e.AsCall()
		switch c.FunctionName() {
		case "value", "known":
			if args, ok := literals(c, 2); ok {
				m.Properties = append(m.Properties, thing.Ref{Device: args[0], Name: args[1]})
			}
		case "meanOver", "leastOver", "mostOver", "changeOver":
			if args, ok := literals(c, 3); ok {
				m.Properties = append(m.Properties, thing.Ref{Device: args[0], Name: args[1]})
			}
		case "variable":
			if args, ok := literals(c, 1); ok {
				m.Properties = append(m.Properties, thing.Ref{Device: ownDevice, Name: args[0]})
			}
		case "group":
			if args, ok := literals(c, 2); ok {
				m.Groups = append(m.Groups, args[0])
			}
		case "which":
			if args := c.Args(); len(args) == 3 {
				if id, is := args[0].AsLiteral().(types.String); is {
					m.Groups = append(m.Groups, string(id))
				}
			}
		case "room":
			if args, ok := literals(c, 2); ok {
				m.Rooms = append(m.Rooms, args[0])
			}
		}
	}))
	return m
}

package script

import (
	"errors"
	"slices"

	"go.starlark.net/resolve"
	"go.starlark.net/syntax"

	"amvek/core/expr"
	"amvek/core/thing"
)

// hidden begins the names of what stands in for operators; no script can write such a name.
const hidden = "·"

// The names of what stands in.
const (
	hiddenBinary = hidden + "binary"
	hiddenAdd    = hidden + "add" // += and its like
	hiddenMethod = hidden + "method"
	hiddenKey    = hidden + "key"
	hiddenWhole  = hidden + "whole" // a list that is copied: cut, or spread into a call
)

// Mentions are the ids that a script names in quotes, whether or not there is such a thing.
type Mentions struct {
	Properties []thing.Ref
	Devices    []string
	Groups     []string
	Rooms      []string
	Scenes     []string
	Rules      []string
}

// Mention returns what a script names; nothing where it cannot be read.
func Mention(text string) Mentions {
	if p, _ := Compile(text); p != nil {
		return p.Mentions
	}
	return Mentions{}
}

// watcher goes through a script that was read: it notes what is mentioned, and puts calls that are charged in the
// place of the operators that make something grow or go through something.
type watcher struct {
	mentions Mentions
	problems []expr.Mistake
}

func (w *watcher) statements(all []syntax.Stmt) {
	for _, s := range all {
		w.statement(s)
	}
}

func (w *watcher) statement(s syntax.Stmt) {
	switch s := s.(type) {
	case *syntax.AssignStmt:
		s.RHS = w.expression(s.RHS)
		w.target(s.LHS)
		if s.Op != syntax.EQ {
			w.augmented(s)
		}
	case *syntax.DefStmt:
		w.parameters(s.Params)
		w.statements(s.Body)
	case *syntax.ExprStmt:
		s.X = w.expression(s.X)
	case *syntax.ForStmt:
		w.target(s.Vars)
		s.X = w.expression(s.X)
		w.statements(s.Body)
	case *syntax.IfStmt:
		s.Cond = w.expression(s.Cond)
		w.statements(s.True)
		w.statements(s.False)
	case *syntax.LoadStmt:
		w.say(s.Load, "A script stands by itself: nothing can be loaded.")
	case *syntax.ReturnStmt:
		if s.Result != nil {
			s.Result = w.expression(s.Result)
		}
	case *syntax.WhileStmt:
		s.Cond = w.expression(s.Cond)
		w.statements(s.Body)
	}
}

func (w *watcher) say(at syntax.Position, message string) {
	w.problems = append(w.problems, expr.Mistake{Line: max(1, int(at.Line)), Column: max(1, int(at.Col)), Message: message})
}

// augmented makes x op= y an assignment of what is charged: x = add(op, x, y).
func (w *watcher) augmented(s *syntax.AssignStmt) {
	name, plain := s.LHS.(*syntax.Ident)
	if !plain {
		w.say(s.OpPos, "Write it out here: such as a[i] = a[i] + 1.")
		return
	}
	before := &syntax.Ident{NamePos: name.NamePos, Name: name.Name}
	s.RHS = standIn(s.OpPos, hiddenAdd, operator(s.OpPos, s.Op-syntax.PLUS_EQ+syntax.PLUS), before, s.RHS)
	s.Op = syntax.EQ
}

// target goes through what is assigned to: only the keys in it are worked out.
func (w *watcher) target(e syntax.Expr) {
	switch e := e.(type) {
	case *syntax.IndexExpr:
		e.X = w.expression(e.X)
		e.Y = standIn(e.Lbrack, hiddenKey, w.expression(e.Y))
	case *syntax.ParenExpr:
		w.target(e.X)
	case *syntax.ListExpr:
		for _, x := range e.List {
			w.target(x)
		}
	case *syntax.TupleExpr:
		for _, x := range e.List {
			w.target(x)
		}
	}
}

func (w *watcher) parameters(all []syntax.Expr) {
	for _, p := range all {
		if b, usual := p.(*syntax.BinaryExpr); usual {
			b.Y = w.expression(b.Y)
		}
	}
}

func (w *watcher) list(all []syntax.Expr) {
	for i := range all {
		all[i] = w.expression(all[i])
	}
}

func (w *watcher) expression(e syntax.Expr) syntax.Expr {
	switch e := e.(type) {
	case *syntax.BinaryExpr:
		if e.Op == syntax.EQ { // a named argument
			e.Y = w.expression(e.Y)
			return e
		}
		e.X, e.Y = w.expression(e.X), w.expression(e.Y)
		if e.Op == syntax.AND || e.Op == syntax.OR {
			return e
		}
		return standIn(e.OpPos, hiddenBinary, operator(e.OpPos, e.Op), e.X, e.Y)
	case *syntax.CallExpr:
		w.mention(e)
		e.Fn = w.expression(e.Fn)
		w.list(e.Args)
	case *syntax.Comprehension:
		e.Body = w.expression(e.Body)
		for _, c := range e.Clauses {
			switch c := c.(type) {
			case *syntax.ForClause:
				w.target(c.Vars)
				c.X = w.expression(c.X)
			case *syntax.IfClause:
				c.Cond = w.expression(c.Cond)
			}
		}
	case *syntax.CondExpr:
		e.Cond, e.True, e.False = w.expression(e.Cond), w.expression(e.True), w.expression(e.False)
	case *syntax.DictEntry:
		e.Key, e.Value = standIn(e.Colon, hiddenKey, w.expression(e.Key)), w.expression(e.Value)
	case *syntax.DictExpr:
		w.list(e.List)
	case *syntax.DotExpr:
		name := &syntax.Literal{Token: syntax.STRING, TokenPos: e.NamePos, Raw: e.Name.Name, Value: e.Name.Name}
		return standIn(e.Dot, hiddenMethod, w.expression(e.X), name)
	case *syntax.IndexExpr:
		w.target(e)
	case *syntax.LambdaExpr:
		w.parameters(e.Params)
		e.Body = w.expression(e.Body)
	case *syntax.ListExpr:
		w.list(e.List)
	case *syntax.ParenExpr:
		e.X = w.expression(e.X)
	case *syntax.SliceExpr:
		e.X = standIn(e.Lbrack, hiddenWhole, w.expression(e.X))
		for _, part := range []*syntax.Expr{&e.Lo, &e.Hi, &e.Step} {
			if *part != nil {
				*part = w.expression(*part)
			}
		}
	case *syntax.TupleExpr:
		w.list(e.List)
	case *syntax.UnaryExpr:
		if e.X != nil {
			e.X = w.expression(e.X)
			if e.Op == syntax.STAR || e.Op == syntax.STARSTAR {
				e.X = standIn(e.OpPos, hiddenWhole, e.X)
			}
		}
	}
	return e
}

// standIn is a call of what stands in for an operator.
func standIn(at syntax.Position, name string, arguments ...syntax.Expr) syntax.Expr {
	return &syntax.CallExpr{Fn: &syntax.Ident{NamePos: at, Name: name}, Lparen: at, Args: arguments, Rparen: at}
}

func operator(at syntax.Position, op syntax.Token) syntax.Expr {
	return &syntax.Literal{Token: syntax.INT, TokenPos: at, Raw: op.String(), Value: int64(op)}
}

// mention notes the ids in quotes of a call.
func (w *watcher) mention(call *syntax.CallExpr) {
	name, is := call.Fn.(*syntax.Ident)
	if !is {
		return
	}
	var quoted []string
	for _, a := range call.Args {
		text := ""
		if literal, is := a.(*syntax.Literal); is && literal.Token == syntax.STRING {
			text, _ = literal.Value.(string)
		}
		quoted = append(quoted, text)
	}
	quoted = append(quoted, "", "")
	first, second := quoted[0], quoted[1]
	add := func(list *[]string) {
		if first != "" && !slices.Contains(*list, first) {
			*list = append(*list, first)
		}
	}
	switch name.Name {
	case "value", "known", "set":
		if second == "" {
			add(&w.mentions.Devices)
		} else if first != "" {
			w.mentions.Properties = append(w.mentions.Properties, thing.Ref{Device: first, Name: second})
		}
	case "ask", "title":
		add(&w.mentions.Devices)
	case "variable", "keep":
		if first != "" {
			w.mentions.Properties = append(w.mentions.Properties, thing.Ref{Device: own, Name: first})
		}
	case "group", "members":
		add(&w.mentions.Groups)
	case "room", "inside":
		add(&w.mentions.Rooms)
	case "apply":
		add(&w.mentions.Scenes)
	case "start", "stop":
		add(&w.mentions.Rules)
	}
}

// resolved says which names a script uses that do not exist.
func resolved(err error) []expr.Mistake {
	var list resolve.ErrorList
	if !errors.As(err, &list) {
		return []expr.Mistake{{Line: 1, Column: 1, Message: plain(err.Error())}}
	}
	var all []expr.Mistake
	for _, e := range list {
		all = append(all, expr.Mistake{Line: max(1, int(e.Pos.Line)), Column: max(1, int(e.Pos.Col)), Message: plain(e.Msg)})
	}
	return all
}

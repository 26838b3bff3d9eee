package server

import (
	"context"
	"encoding/json"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"amvek/core/expr"
	"amvek/core/home"
	"amvek/core/script"
	"amvek/hub"
	"amvek/hub/author"
	"amvek/hub/docs"
	"amvek/hub/views"
)

func (s *Server) registerHousehold(api huma.API) {
	lists[views.GroupView](s, api, docs.KindGroup, "groups", "/groups", "All groups of devices")
	documents[home.Group](s, api, docs.KindGroup, "/groups", "group")
	lists[views.CalendarView](s, api, docs.KindCalendar, "calendars", "/calendars", "All calendars, with what comes next in them")
	documents[home.Calendar](s, api, docs.KindCalendar, "/calendars", "calendar")
	operation(s, api, "read-calendar", http.MethodPost, "/calendars/{id}/read", "Read a calendar now", func(ctx context.Context, in *IDPath) (*none, error) {
		return &none{}, s.hub.ReadCalendar(ctx, in.ID)
	})
	lists[views.VariableView](s, api, docs.KindVariable, "variables", "/variables", "All variables")
	documents[home.Variable](s, api, docs.KindVariable, "/variables", "variable")
	operation(s, api, "check-expression", http.MethodPost, "/expressions", "Check an expression and work it out", func(ctx context.Context, in *struct {
		Body struct {
			Text string `json:"text" maxLength:"4000"`
		}
	}) (*body[author.ExpressionView], error) {
		view, err := s.hub.Expression(ctx, in.Body.Text)
		return &body[author.ExpressionView]{view}, err
	})
	operation(
		s,
		api,
		"check-text",
		http.MethodPost,
		"/texts",
		"Check the expressions in a text that is told, and say it",
		func(ctx context.Context, in *struct {
			Body struct {
				Text string `json:"text" maxLength:"4000"`
			}
		}) (*body[author.ToldView], error) {
			view, err := s.hub.Told(ctx, in.Body.Text)
			return &body[author.ToldView]{view}, err
		},
	)
	operation(s, api, "check-script", http.MethodPost, "/scripts", "Check a script and say what it would do now", func(ctx context.Context, in *struct {
		Body struct {
			Text string `json:"text" maxLength:"20000"`
		}
	}) (*body[author.ScriptView], error) {
		view, err := s.hub.Script(ctx, in.Body.Text)
		return &body[author.ScriptView]{view}, err
	})
	get(s, api, "script-words", "/scripts/words", "What a script can call or name besides Starlark's own",
		func(context.Context) ([]expr.Word, error) { return script.Words(), nil })
	get(s, api, "programs", "/programs", "The programs that rules can run", func(context.Context) ([]string, error) { return s.hub.Programs(), nil })
	get(s, api, "expression-words", "/expressions/words", "What an expression can call or name besides CEL's own",
		func(context.Context) ([]expr.Word, error) { return expr.Words(), nil })
	get(s, api, "modes", "/modes", "The household's modes", func(ctx context.Context) (views.ModesView, error) { return s.hub.Modes(ctx) })
	joinsOnly[home.Modes](s, api, docs.KindModes, docs.ModesID, "/modes", "modes")
	operation(s, api, "save-modes", http.MethodPut, "/modes", "Change the household's modes", func(ctx context.Context, in *struct {
		Revision int `query:"revision" minimum:"0"`
		Body     home.Modes
	}) (*body[Saved], error) {
		revision, err := s.hub.Save(ctx, hub.New{Kind: docs.KindModes, ID: docs.ModesID, Revision: in.Revision, Document: &in.Body})
		return &body[Saved]{Saved{docs.ModesID, revision}}, err
	})
	get(
		s,
		api,
		"notices",
		"/notices",
		"What the household was told, newest first",
		func(ctx context.Context) ([]hub.Notice, error) { return s.hub.Notices(ctx) },
	)
	operation(s, api, "acknowledge", http.MethodPost, "/notices/{id}/acknowledge", "Say that a notice was seen",
		func(ctx context.Context, in *IDPath) (*none, error) {
			return &none{}, s.hub.Acknowledge(ctx, in.ID)
		})
	operation(s, api, "answer-question", http.MethodPost, "/notices/{id}/answer", "Answer a question that a rule asked", func(ctx context.Context, in *struct {
		IDPath
		Body struct {
			Answer string `json:"answer" minLength:"1" maxLength:"60"`
		}
	}) (*none, error) {
		return &none{}, s.hub.AnswerQuestion(ctx, in.ID, in.Body.Answer, by(ctx))
	})
	operation(s, api, "say-phrase", http.MethodPost, "/phrases", "Say a phrase, which may start rules", func(ctx context.Context, in *struct {
		Body struct {
			Words string `json:"words" minLength:"1" maxLength:"200"`
		}
	}) (*none, error) {
		return &none{}, s.hub.Phrase(ctx, in.Body.Words, by(ctx))
	})
	operation(s, api, "call-name", http.MethodPost, "/calls/{name}", "Call a name, which may start rules", func(ctx context.Context, in *struct {
		Name string           `path:"name" maxLength:"80"`
		Body *json.RawMessage `doc:"Any JSON, or nothing; the steps of rules reach it by sentNumber, sentText and sentYes."`
	}) (*none, error) {
		sent := ""
		if in.Body != nil {
			sent = string(*in.Body)
		}
		return &none{}, s.hub.Call(ctx, in.Name, sent, by(ctx))
	})
}

package server

import (
	"context"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"amvek/core/cause"
	"amvek/core/rule"
	"amvek/core/starting"
	"amvek/core/tell"
	"amvek/core/thing"
	"amvek/hub"
	"amvek/hub/docs"
	"amvek/hub/views"
)

// registerRuns offers what rules did and why, and how they once were.
func (s *Server) registerRuns(api huma.API) {
	operation(s, api, "runs", http.MethodGet, "/rules/{id}/runs", "What a rule did lately, newest first", func(ctx context.Context, in *struct {
		IDPath
		Before uint64 `query:"before" doc:"Only runs before this one."`
	}) (*body[[]views.RunView], error) {
		list, err := s.hub.Runs(ctx, in.ID, cause.ID(in.Before))
		return &body[[]views.RunView]{list}, err
	})
	operation(s, api, "run", http.MethodGet, "/rules/{id}/runs/{run}", "One run of a rule in full", func(ctx context.Context, in *struct {
		IDPath
		Run uint64 `path:"run"`
	}) (*body[views.RunTrace], error) {
		trace, err := s.hub.Run(ctx, in.ID, cause.ID(in.Run))
		return &body[views.RunTrace]{trace}, err
	})
	operation(s, api, "why-not", http.MethodGet, "/rules/{id}/why-not", "Why a rule does not act now",
		func(ctx context.Context, in *IDPath) (*body[[]views.Reason], error) {
			list, err := s.hub.WhyNot(ctx, in.ID)
			return &body[[]views.Reason]{list}, err
		})
	operation(s, api, "revision", http.MethodGet, "/rules/{id}/revisions/{revision}", "A rule as it once was", func(ctx context.Context, in *struct {
		IDPath
		Revision int `path:"revision" minimum:"1"`
	}) (*body[rule.Rule], error) {
		doc, err := s.hub.Revision(ctx, docs.KindRule, in.ID, in.Revision)
		if err != nil {
			return nil, err
		}
		return &body[rule.Rule]{*doc.(*rule.Rule)}, nil
	})
	operation(s, api, "tell-rule", http.MethodPost, "/rules/text", "A rule as YAML",
		func(ctx context.Context, in *struct{ Body rule.Rule }) (*body[hub.RuleText], error) {
			text, err := s.hub.TellRule(ctx, &in.Body)
			return &body[hub.RuleText]{hub.RuleText{Text: text}}, err
		})
	operation(s, api, "read-rule", http.MethodPost, "/rules/read", "Read a rule from YAML or JSON, with what is wrong where",
		func(ctx context.Context, in *struct{ Body hub.RuleText }) (*body[hub.RuleRead], error) {
			read, err := s.hub.ReadRule(ctx, in.Body.Text)
			return &body[hub.RuleRead]{read}, err
		})
	get(s, api, "rule-schema", "/schemas/rule", "The JSON Schema of a rule's document",
		func(context.Context) (map[string]any, error) { return schemaOf(api, "Rule") })
	get(s, api, "starting-points", "/starting-points", "Rules for common wishes, which ask only for devices",
		func(context.Context) ([]starting.Start, error) { return starting.Starts(), nil })
	operation(s, api, "start-with", http.MethodPost, "/starting-points/{id}", "Make the rule of a starting point, switched off",
		func(ctx context.Context, in *struct {
			IDPath
			Body struct {
				Devices map[string]thing.Ref `json:"devices" doc:"What was chosen, by slot."`
			}
		}) (*body[Saved], error) {
			id, revision, err := s.hub.StartWith(ctx, in.ID, in.Body.Devices)
			return &body[Saved]{Saved{id, revision}}, err
		})
	operation(s, api, "search-rules", http.MethodGet, "/rules/search", "The rules that speak of something: by words, devices or rooms",
		func(ctx context.Context, in *struct {
			Words string `query:"words" maxLength:"200"`
		}) (*body[[]views.FoundRule], error) {
			list, err := s.hub.SearchRules(ctx, in.Words)
			return &body[[]views.FoundRule]{list}, err
		})
	operation(s, api, "pretend", http.MethodPost, "/rules/{id}/pretend", "What a rule would do; nothing is sent", func(ctx context.Context, in *struct {
		IDPath
		Body hub.Pretence
	}) (*body[views.PretenceView], error) {
		view, err := s.hub.Pretend(ctx, in.ID, in.Body)
		return &body[views.PretenceView]{view}, err
	})
	operation(s, api, "try-step", http.MethodPost, "/steps/try", "Take one step now, as a rule would", func(ctx context.Context, in *struct {
		Body rule.Step
	}) (*none, error) {
		return &none{}, s.hub.TryStep(ctx, in.Body, by(ctx))
	})
	operation(s, api, "draft", http.MethodGet, "/rules/{id}/draft", "A rule as somebody works on it",
		func(ctx context.Context, in *IDPath) (*body[hub.Draft], error) {
			draft, err := s.hub.Draft(ctx, in.ID)
			return &body[hub.Draft]{draft}, err
		})
	operation(s, api, "save-draft", http.MethodPut, "/rules/{id}/draft", "Keep a rule that is worked on, beside what is live",
		func(ctx context.Context, in *struct {
			IDPath
			After int `query:"after" minimum:"0" doc:"The version of the draft that this follows on; 0 for none."`
			Based int `query:"based" minimum:"0" doc:"The revision of the rule that was edited."`
			Body  any
		}) (*body[views.DraftNote], error) {
			note, err := s.hub.SaveDraft(ctx, in.ID, in.After, in.Based, in.Body)
			return &body[views.DraftNote]{note}, err
		})
	operation(s, api, "drop-draft", http.MethodDelete, "/rules/{id}/draft", "Discard a draft", func(ctx context.Context, in *struct {
		IDPath
		After int `query:"after" minimum:"1" doc:"The version that is discarded."`
	}) (*none, error) {
		return &none{}, s.hub.DropDraft(ctx, in.ID, in.After)
	})
	operation(s, api, "compare-draft", http.MethodPost, "/rules/{id}/draft/compare", "How a document differs from the draft",
		func(ctx context.Context, in *struct {
			IDPath
			Body rule.Rule
		}) (*body[[]tell.Change], error) {
			lines, err := s.hub.CompareDraft(ctx, in.ID, &in.Body)
			return &body[[]tell.Change]{lines}, err
		})
	operation(s, api, "compare-rule", http.MethodPost, "/rules/{id}/compare", "How a document differs from the rule that is live",
		func(ctx context.Context, in *struct {
			IDPath
			Body rule.Rule
		}) (*body[[]tell.Change], error) {
			lines, err := s.hub.CompareRule(ctx, in.ID, &in.Body)
			return &body[[]tell.Change]{lines}, err
		})
}

package server

import (
	"context"
	"net/http"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"amvek/core/almanac"
	"amvek/core/board"
	"amvek/core/engine"
	"amvek/core/light"
	"amvek/core/rule"
	"amvek/hub/docs"
	"amvek/hub/views"
)

func (s *Server) registerAutomation(api huma.API) {
	lists[views.SceneView](s, api, docs.KindScene, "scenes", "/scenes", "All scenes")
	documents[light.Scene](s, api, docs.KindScene, "/scenes", "scene")
	operation(
		s,
		api,
		"capture",
		http.MethodPost,
		"/scenes/capture",
		"The present values of lights, as a scene's targets",
		func(ctx context.Context, in *struct {
			Body struct {
				Devices []string `json:"devices" maxItems:"1000" doc:"Ids of devices of which the light is taken."`
				Others  []string `json:"others,omitempty" maxItems:"1000" doc:"Ids of devices of which all is taken that a scene may set: no locks, nothing that is attended only, no announcements."`
			}
		}) (*body[[]light.Target], error) {
			targets, err := s.hub.Capture(ctx, in.Body.Devices, in.Body.Others)
			return &body[[]light.Target]{targets}, err
		},
	)
	operation(s, api, "try-values", http.MethodPost, "/scenes/try", "Apply values without saving them", func(ctx context.Context, in *struct {
		Body struct {
			Targets     []light.Target `json:"targets" maxItems:"1000"`
			FadeSeconds float64        `json:"fadeSeconds,omitempty" minimum:"0" maximum:"3600"`
		}
	}) (*none, error) {
		return &none{}, s.hub.Act(ctx, engine.Input{Kind: engine.InputTry, Targets: in.Body.Targets, FadeSeconds: in.Body.FadeSeconds, Doer: by(ctx)})
	})
	lists[views.SequenceView](s, api, docs.KindSequence, "sequences", "/sequences", "All sequences of scenes, with how they stand")
	documents[light.Sequence](s, api, docs.KindSequence, "/sequences", "sequence")
	for _, verb := range []string{"start", "stop"} {
		operation(
			s,
			api,
			verb+"-sequence",
			http.MethodPost,
			"/sequences/{id}/"+verb,
			strings.ToUpper(verb[:1])+verb[1:]+" a sequence",
			func(ctx context.Context, in *struct {
				IDPath
			}) (*none, error) {
				return &none{}, s.hub.Act(ctx, engine.Input{Kind: engine.InputSequence, ID: in.ID, Verb: verb, Doer: by(ctx)})
			},
		)
	}
	s.registerLinks(api)
	s.registerLights(api)
	operation(s, api, "lift-scene", http.MethodPost, "/scenes/{id}/lift", "Lift a scene off again that is laid on top of what is on",
		func(ctx context.Context, in *struct{ IDPath }) (*none, error) {
			return &none{}, s.hub.Act(ctx, engine.Input{Kind: engine.InputScene, Scene: in.ID, Verb: engine.VerbLift, Doer: by(ctx)})
		})
	operation(s, api, "apply-scene", http.MethodPost, "/scenes/{id}/apply", "Apply a scene", func(ctx context.Context, in *struct {
		IDPath
	}) (*none, error) {
		return &none{}, s.hub.Act(ctx, engine.Input{Kind: engine.InputScene, Scene: in.ID, Doer: by(ctx)})
	})

	lists[views.RuleView](s, api, docs.KindRule, "rules", "/rules", "All rules")
	documents[rule.Rule](s, api, docs.KindRule, "/rules", "rule")
	s.registerRuns(api)
	operation(s, api, "run-rule", http.MethodPost, "/rules/{id}/run", "Run a rule's steps now", func(ctx context.Context, in *struct {
		IDPath
	}) (*none, error) {
		return &none{}, s.hub.Act(ctx, engine.Input{Kind: engine.InputRun, Rule: in.ID, Doer: by(ctx)})
	})

	operation(s, api, "resume-rule", http.MethodPost, "/rules/{id}/resume", "Let a rule act again that another keeps from acting",
		func(ctx context.Context, in *struct {
			IDPath
		}) (*none, error) {
			return &none{}, s.hub.Act(ctx, engine.Input{Kind: engine.InputResume, Rule: in.ID, Doer: by(ctx)})
		})

	lists[views.ScheduleView](s, api, docs.KindSchedule, "schedules", "/schedules", "All schedules")
	documents[rule.Schedule](s, api, docs.KindSchedule, "/schedules", "schedule")
	operation(s, api, "next-dates", http.MethodPost, "/schedules/dates", "The next dates of a time that is not saved yet",
		func(ctx context.Context, in *struct{ Body almanac.Daily }) (*body[[]time.Time], error) {
			dates, err := s.hub.NextDates(ctx, in.Body)
			return &body[[]time.Time]{dates}, err
		})

	lists[views.DashboardView](s, api, docs.KindDashboard, "dashboards", "/dashboards", "All dashboards")
	documents[board.Dashboard](s, api, docs.KindDashboard, "/dashboards", "dashboard")
	s.registerBoards(api)
}

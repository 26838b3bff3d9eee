package server

import (
	"context"
	"net/http"
	"reflect"

	"github.com/danielgtaylor/huma/v2"

	"amvek/core/cause"
	"amvek/core/home"
	"amvek/hub"
	"amvek/hub/docs"
	"amvek/hub/show"
	"amvek/hub/views"
	"amvek/store"
)

// body wraps an answer.
type body[T any] struct{ Body T }

// none answers nothing.
type none struct{}

// IDPath is the path to a definition.
type IDPath struct {
	ID string `path:"id" maxLength:"80"`
}

// AsidePath is the path to a definition that is set aside.
type AsidePath struct {
	Kind string `path:"kind" maxLength:"40"`
	ID   string `path:"id" maxLength:"80"`
}

// Revised is the path to a definition to change, with the revision that was edited.
type Revised struct {
	ID       string `path:"id" maxLength:"80"`
	Revision int    `query:"revision" minimum:"0" doc:"The revision that was edited; refused when there is a newer one. 0 saves over it."`
}

// Saved tells the id and revision of a definition that was saved.
type Saved struct {
	ID       string `json:"id"`
	Revision int    `json:"revision"`
}

// operation registers one operation; its error becomes an RFC 9457 problem.
func operation[I, O any](s *Server, api huma.API, id, method, path, summary string, handler func(context.Context, *I) (*O, error)) {
	status := http.StatusOK
	if reflect.TypeFor[O]() == reflect.TypeFor[none]() {
		status = http.StatusNoContent
	}
	huma.Register(
		api,
		huma.Operation{OperationID: id, Method: method, Path: "/api" + path, Summary: summary, DefaultStatus: status, MaxBodyBytes: MaximumBody},
		func(ctx context.Context, in *I) (*O, error) {
			out, err := handler(ctx, in)
			if err != nil {
				return nil, s.problem(err)
			}
			return out, nil
		},
	)
}

// get registers a reading without arguments.
func get[T any](s *Server, api huma.API, id, path, summary string, read func(context.Context) (T, error)) {
	operation(s, api, id, http.MethodGet, path, summary, func(ctx context.Context, _ *struct{}) (*body[T], error) {
		value, err := read(ctx)
		return &body[T]{value}, err
	})
}

// documents registers making, changing, removing and restoring definitions of one kind.
func documents[T any](s *Server, api huma.API, kind docs.Kind, path, name string) {
	operation(s, api, "create-"+name, http.MethodPost, path, "Make a new "+name, func(ctx context.Context, in *struct{ Body T }) (*body[Saved], error) {
		id := docs.NewID(kind)
		revision, err := s.hub.Save(ctx, hub.New{Kind: kind, ID: id, Document: &in.Body})
		return &body[Saved]{Saved{id, revision}}, err
	})
	operation(s, api, "save-"+name, http.MethodPut, path+"/{id}", "Change a "+name, func(ctx context.Context, in *struct {
		Revised
		Body T
	}) (*body[Saved], error) {
		revision, err := s.hub.Replace(ctx, hub.New{Kind: kind, ID: in.ID, Revision: in.Revision, Document: &in.Body})
		return &body[Saved]{Saved{in.ID, revision}}, err
	})
	joins[T](s, api, kind, path, name)
	s.removal(api, kind, path, name)
}

func (s *Server) removal(api huma.API, kind docs.Kind, path, name string) {
	operation(s, api, "remove-"+name, http.MethodDelete, path+"/{id}", "Remove a "+name, func(ctx context.Context, in *IDPath) (*none, error) {
		return &none{}, s.hub.Remove(ctx, kind, in.ID)
	})
	operation(
		s,
		api,
		"restore-"+name,
		http.MethodPost,
		path+"/{id}/restore",
		"Bring a removed "+name+" back",
		func(ctx context.Context, in *IDPath) (*none, error) {
			return &none{}, s.hub.Restore(ctx, kind, in.ID)
		},
	)
}

func (s *Server) register(api huma.API) {
	s.registerSignIn(api)
	s.registerPasskeys(api)
	s.registerPeople(api)
	s.registerPanels(api)
	s.registerReach(api)
	s.registerHome(api)
	s.registerFound(api)
	s.registerProfiles(api)
	s.registerDevices(api)
	s.registerShutters(api)
	s.registerHistory(api)
	s.registerTrials(api)
	s.registerAutomation(api)
	s.registerHousehold(api)
	s.registerToday(api)
	s.registerJournal(api)
	s.registerRevisions(api)
	s.registerShown(api)
	s.registerBench(api)
	describeLive(api)
}

// describeLive describes the live feed: it is served beside huma, since it leaves HTTP.
func describeLive(api huma.API) {
	api.OpenAPI().Components.Schemas.Schema(reflect.TypeFor[Clash](), true, "")
	message := api.OpenAPI().Components.Schemas.Schema(reflect.TypeFor[show.Message](), true, "")
	api.OpenAPI().AddOperation(&huma.Operation{
		OperationID: "live", Method: http.MethodGet, Path: "/api/live", Summary: "The live feed (WebSocket, RFC 6455)",
		Description: "Each text message is one Message. Read all that is shown first, then put each change on top whose number is greater; a message that says anew means that some are missing, so read it again. Join again with run and since, of the last message that was taken, to get what was missed. What is looked at besides the home is named in look, or sent later as a Looking.",
		Parameters: []*huma.Param{
			{Name: "run", In: "query", Schema: &huma.Schema{Type: "string"}},
			{Name: "since", In: "query", Schema: &huma.Schema{Type: "integer"}},
			{Name: "look", In: "query", Schema: &huma.Schema{Type: "string"}, Description: "Some of journal, bench and trial, with commas."},
		},
		Responses: map[string]*huma.Response{"101": {
			Description: "Messages as they come.", Content: map[string]*huma.MediaType{"application/json": {Schema: message}},
		}},
	})
}

// About tells what program this is.
type About struct {
	Version string `json:"version"`
	Bench   bool   `json:"bench" doc:"Whether there is a pretend house to play with."`
}

func (s *Server) registerHome(api huma.API) {
	get(s, api, "about", "/about", "What program this is", func(context.Context) (About, error) {
		return About{s.version, s.bench != nil}, nil
	})
	get(s, api, "home", "/home", "The house with its rooms", func(ctx context.Context) (views.HomeView, error) { return s.hub.Home(ctx) })
	operation(s, api, "save-home", http.MethodPut, "/home", "Change the house", func(ctx context.Context, in *struct {
		Revision int `query:"revision" minimum:"0"`
		Body     home.Home
	}) (*body[Saved], error) {
		revision, err := s.hub.Save(ctx, hub.New{Kind: docs.KindHome, ID: docs.HomeID, Revision: in.Revision, Document: &in.Body})
		return &body[Saved]{Saved{docs.HomeID, revision}}, err
	})
	joinsOnly[home.Home](s, api, docs.KindHome, docs.HomeID, "/home", "home")
	documents[home.Room](s, api, docs.KindRoom, "/rooms", "room")
	operation(s, api, "arrange-rooms", http.MethodPost, "/rooms/arrange", "Put rooms into an order and on floors", func(ctx context.Context, in *struct {
		Body []hub.RoomPlace `maxItems:"500"`
	}) (*none, error) {
		return &none{}, s.hub.ArrangeRooms(ctx, in.Body)
	})
	get(
		s,
		api,
		"needs",
		"/needs",
		"What the owner has to see to about the hub itself",
		func(ctx context.Context) ([]hub.Need, error) { return s.hub.Needs(ctx) },
	)
	operation(s, api, "seen-tried", http.MethodPost, "/needs/tried/seen", "Say that one knows of those who tried to come in",
		func(ctx context.Context, _ *struct{}) (*none, error) { return &none{}, s.hub.SeenTried(ctx) })
	get(s, api, "set-aside", "/set-aside", "Definitions that are there and not at work",
		func(ctx context.Context) ([]hub.Aside, error) { return s.hub.SetAside(ctx) })
	operation(s, api, "mend", http.MethodPut, "/set-aside/{kind}/{id}", "Put another text in the place of a definition that is set aside",
		func(ctx context.Context, in *struct {
			AsidePath
			Body struct {
				Text string `json:"text,omitempty" maxLength:"600000" doc:"The definition as JSON."`
				// Revision is an earlier version to take instead.
				Revision int `json:"revision,omitempty" minimum:"0" doc:"An earlier version to take instead of a text."`
			}
		}) (*none, error) {
			if in.Body.Revision > 0 {
				return &none{}, s.hub.MendFrom(ctx, docs.Kind(in.Kind), in.ID, in.Body.Revision)
			}
			return &none{}, s.hub.Mend(ctx, docs.Kind(in.Kind), in.ID, in.Body.Text)
		})
	operation(s, api, "remove-set-aside", http.MethodDelete, "/set-aside/{kind}/{id}", "Remove a definition that is set aside",
		func(ctx context.Context, in *AsidePath) (*none, error) {
			return &none{}, s.hub.RemoveAside(ctx, docs.Kind(in.Kind), in.ID)
		})
	get(s, api, "day", "/day", "Today's day line", func(ctx context.Context) (views.Day, error) { return s.hub.Day(ctx) })
}

func (s *Server) registerJournal(api huma.API) {
	operation(s, api, "journal", http.MethodGet, "/journal", "What happened, newest first", func(ctx context.Context, in *struct {
		Device string   `query:"device" maxLength:"80"`
		Name   string   `query:"name" maxLength:"80" doc:"Of a property, event or action of the device."`
		Rule   string   `query:"rule" maxLength:"80"`
		Before cause.ID `query:"before" doc:"Only entries with lower ids, for reading on."`
		Limit  int      `query:"limit" minimum:"1" maximum:"500" default:"100"`
	}) (*body[[]views.EntryView], error) {
		entries, err := s.hub.Journal(ctx, store.JournalQuery{Device: in.Device, Name: in.Name, Rule: in.Rule, Before: in.Before, Limit: in.Limit})
		return &body[[]views.EntryView]{entries}, err
	})
	operation(s, api, "search-journal", http.MethodGet, "/journal/search", "What happened with words in its sentence, newest first",
		func(ctx context.Context, in *struct {
			Words  string   `query:"words" maxLength:"200"`
			Device string   `query:"device" maxLength:"80"`
			Rule   string   `query:"rule" maxLength:"80"`
			Day    string   `query:"day" format:"date" doc:"Only what happened until this day ended at the home."`
			Before cause.ID `query:"before" doc:"Only entries with lower ids, for searching on."`
			Limit  int      `query:"limit" minimum:"1" maximum:"500" default:"100"`
		}) (*body[hub.JournalFound], error) {
			found, err := s.hub.SearchJournal(ctx, store.JournalQuery{Device: in.Device, Rule: in.Rule, Before: in.Before, Limit: in.Limit}, in.Words, in.Day)
			return &body[hub.JournalFound]{found}, err
		})
	operation(s, api, "chain", http.MethodGet, "/journal/{entry}/chain", "From where an entry began to all that followed from it",
		func(ctx context.Context, in *struct {
			Entry cause.ID `path:"entry"`
		}) (*body[[]views.EntryView], error) {
			entries, err := s.hub.Chain(ctx, in.Entry)
			return &body[[]views.EntryView]{entries}, err
		})
}

func (s *Server) registerBench(api huma.API) {
	absent := func() error { return hub.Absent("This hub has no pretend house; start it with “amvek demo”.") }
	get(s, api, "bench", "/bench", "The pretend house", func(context.Context) (BenchState, error) {
		if s.bench == nil {
			return BenchState{}, absent()
		}
		return s.bench.State(), nil
	})
	operation(s, api, "act-on-bench", http.MethodPost, "/bench", "Do something to the pretend house",
		func(ctx context.Context, in *struct{ Body BenchAct }) (*none, error) {
			if s.bench == nil {
				return nil, absent()
			}
			return &none{}, s.bench.Act(ctx, in.Body)
		})
}

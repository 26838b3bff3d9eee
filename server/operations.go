package server

import (
	"context"
	"net/http"
	"reflect"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"amvek/core/almanac"
	"amvek/core/cause"
	"amvek/core/engine"
	"amvek/core/home"
	"amvek/core/light"
	"amvek/core/rule"
	"amvek/core/thing"
	"amvek/hub"
	"amvek/hub/docs"
	"amvek/hub/links"
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

// PropertyPath is the path to a property.
type PropertyPath struct {
	ID       string `path:"id" maxLength:"80"`
	Property string `path:"property" maxLength:"80"`
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
	s.registerHome(api)
	s.registerFound(api)
	s.registerProfiles(api)
	s.registerDevices(api)
	s.registerShutters(api)
	s.registerHistory(api)
	s.registerTrials(api)
	s.registerAutomation(api)
	s.registerHousehold(api)
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

func (s *Server) registerFound(api huma.API) {
	get(s, api, "connections", "/connections", "All ways to devices", func(ctx context.Context) ([]links.ConnectionView, error) { return s.hub.Connections(ctx) })
	operation(s, api, "remove-connection", http.MethodDelete, "/connections/{id}", "Remove a connection and its key", func(ctx context.Context, in *struct {
		IDPath
		Devices bool `query:"devices" doc:"Remove the devices that use it, too."`
	}) (*none, error) {
		return &none{}, s.hub.RemoveConnection(ctx, in.ID, in.Devices)
	})
	operation(s, api, "connect", http.MethodPost, "/connections", "Connect to what answers at an address",
		func(ctx context.Context, in *struct{ Body hub.NewConnection }) (*body[Saved], error) {
			id, err := s.hub.Connect(ctx, in.Body)
			return &body[Saved]{Saved{id, 1}}, err
		})
	operation(s, api, "edit-connection", http.MethodPatch, "/connections/{id}", "Rename, re-address, re-key, pause or resume a connection",
		func(ctx context.Context, in *struct {
			IDPath
			Body hub.ConnectionEdit
		}) (*none, error) {
			return &none{}, s.hub.EditConnection(ctx, in.ID, in.Body)
		})
	operation(s, api, "test-connection", http.MethodPost, "/connections/{id}/test", "Prove whether a connection works",
		func(ctx context.Context, in *IDPath) (*body[hub.TestResult], error) {
			result, err := s.hub.TestConnection(ctx, in.ID)
			return &body[hub.TestResult]{result}, err
		})
	operation(
		s,
		api,
		"join",
		http.MethodPost,
		"/connections/{id}/join",
		"Let new devices join a radio gateway for a while",
		func(ctx context.Context, in *struct {
			IDPath
			Body struct {
				Gateway string `json:"gateway" maxLength:"80"`
				Seconds int    `json:"seconds" doc:"For how long, up to 180; 0 shuts it now."`
			}
		}) (*none, error) {
			return &none{}, s.hub.Join(ctx, in.ID, in.Body.Gateway, time.Duration(in.Body.Seconds)*time.Second)
		},
	)
	get(s, api, "found", "/found", "What announced itself", func(ctx context.Context) (hub.Found, error) { return s.hub.Found(ctx) })
	operation(s, api, "look", http.MethodPost, "/found/look", "Look for devices and boxes, also at an address", func(ctx context.Context, in *struct {
		Body struct {
			Address string `json:"address,omitempty" maxLength:"255" doc:"Host and port."`
		}
	}) (*none, error) {
		return &none{}, s.hub.Look(ctx, in.Body.Address)
	})
	operation(s, api, "identify-found", http.MethodPost, "/found/identify", "Ask a found device to blink or click", func(ctx context.Context, in *struct {
		Body struct {
			Connection string `json:"connection"`
			Hardware   string `json:"hardware"`
		}
	}) (*none, error) {
		return &none{}, s.hub.IdentifyFound(ctx, in.Body.Connection, in.Body.Hardware)
	})
	operation(s, api, "propose-names", http.MethodPost, "/found/names", "Propose names by the owner's pattern",
		func(ctx context.Context, in *struct{ Body []hub.Adding }) (*body[[]hub.Proposal], error) {
			proposals, err := s.hub.Propose(ctx, in.Body)
			return &body[[]hub.Proposal]{proposals}, err
		})
	operation(s, api, "add-devices", http.MethodPost, "/devices", "Take found devices into the home",
		func(ctx context.Context, in *struct{ Body []hub.Adding }) (*body[[]string], error) {
			ids, err := s.hub.Add(ctx, in.Body)
			return &body[[]string]{ids}, err
		})
	operation(s, api, "pair", http.MethodPost, "/pairing", "Begin pairing with a bridge", func(ctx context.Context, in *struct {
		Body struct {
			Address string `json:"address" minLength:"1" maxLength:"255"`
		}
	}) (*body[hub.Pairing], error) {
		pairing, err := s.hub.Pair(ctx, in.Body.Address)
		return &body[hub.Pairing]{pairing}, err
	})
	get(s, api, "pairing", "/pairing", "How the last pairing stands; null when there was none",
		func(ctx context.Context) (*hub.Pairing, error) { return s.hub.Pairing(ctx) })
	operation(s, api, "cancel-pairing", http.MethodDelete, "/pairing", "Stop waiting for the bridge's button",
		func(ctx context.Context, _ *struct{}) (*none, error) {
			return &none{}, s.hub.CancelPairing(ctx)
		})
}

// DeviceBody is what the owner may change about a device.
type DeviceBody struct {
	Title  string   `json:"title" minLength:"1" maxLength:"120"`
	Room   string   `json:"room,omitempty"`
	Note   string   `json:"note,omitempty" maxLength:"2000"`
	Labels []string `json:"labels,omitempty" maxItems:"20"`
	// AttendedOnly says that only a hand switches it on.
	AttendedOnly bool `json:"attendedOnly,omitempty" doc:"Only a hand switches it on, never automation, unless a step is allowed to."`
	// Agreement is how differences between hub and device are dealt with.
	Agreement *home.Agreement `json:"agreement,omitempty" doc:"How differences between hub and device are dealt with; without one the device is believed."`
}

func (s *Server) registerDevices(api huma.API) {
	lists[views.DeviceView](s, api, docs.KindDevice, "devices", "/devices", "All devices with their states")
	operation(s, api, "device", http.MethodGet, "/devices/{id}", "One device", func(ctx context.Context, in *IDPath) (*body[views.DeviceView], error) {
		view, err := s.hub.Device(ctx, in.ID)
		return &body[views.DeviceView]{view}, err
	})
	operation(s, api, "save-device", http.MethodPut, "/devices/{id}", "Rename, move or annotate a device", func(ctx context.Context, in *struct {
		Revised
		Body DeviceBody
	}) (*body[Saved], error) {
		view, err := s.hub.Device(ctx, in.ID)
		if err != nil {
			return nil, err
		}
		device := in.Body.onto(view.Device)
		revision, err := s.hub.Replace(ctx, hub.New{Kind: docs.KindDevice, ID: in.ID, Revision: in.Revision, Document: &device})
		return &body[Saved]{Saved{in.ID, revision}}, err
	})
	operation(s, api, "edit-device", http.MethodPatch, "/devices/{id}", "Edit a device that others may change meanwhile", s.joinDevice)
	operation(s, api, "prove", http.MethodGet, "/devices/{id}/properties/{property}/proof", "Compare a sensor with a trusted one",
		func(ctx context.Context, in *struct {
			PropertyPath
			Trusted         string  `query:"trusted" required:"true" doc:"Id of the trusted device."`
			TrustedProperty string  `query:"trustedProperty" required:"true"`
			Hours           float64 `query:"hours" default:"4" minimum:"0.5" maximum:"336"`
		}) (*body[hub.Proof], error) {
			proof, err := s.hub.Prove(
				ctx,
				thing.Ref{Device: in.ID, Name: in.Property},
				thing.Ref{Device: in.Trusted, Name: in.TrustedProperty},
				time.Duration(in.Hours*float64(time.Hour)),
			)
			return &body[hub.Proof]{proof}, err
		})
	operation(s, api, "adjust", http.MethodPut, "/devices/{id}/properties/{property}/adjustment", "Calibrate, smooth or round a sensor's readings",
		func(ctx context.Context, in *struct {
			PropertyPath
			Body thing.Adjustment
		}) (*none, error) {
			return &none{}, s.hub.Adjust(ctx, thing.Ref{Device: in.ID, Name: in.Property}, &in.Body)
		})
	operation(s, api, "take-as-it-comes", http.MethodDelete, "/devices/{id}/properties/{property}/adjustment", "Take a sensor's readings as they come",
		func(ctx context.Context, in *PropertyPath) (*none, error) {
			return &none{}, s.hub.Adjust(ctx, thing.Ref{Device: in.ID, Name: in.Property}, nil)
		})
	operation(s, api, "care-sheet", http.MethodGet, "/care.csv", "How all devices are doing, as comma-separated values (RFC 4180)",
		func(ctx context.Context, _ *none) (*sheet, error) {
			rows, err := s.hub.CareSheet(ctx)
			return asSheet(rows, "care.csv"), err
		})
	operation(s, api, "edit-devices", http.MethodPatch, "/devices", "Rename, move or label several devices, all or none",
		func(ctx context.Context, in *struct{ Body []hub.DeviceEdit }) (*none, error) {
			return &none{}, s.hub.EditDevices(ctx, in.Body)
		})
	operation(s, api, "propose-names-again", http.MethodPost, "/devices/names", "Propose names for devices in the home, and warn of near-duplicates",
		func(ctx context.Context, in *struct {
			Body []hub.Renaming `maxItems:"1000"`
		}) (*body[[]hub.Renamed], error) {
			names, err := s.hub.ProposeAgain(ctx, in.Body)
			return &body[[]hub.Renamed]{names}, err
		})
	operation(s, api, "replace-hardware", http.MethodPost, "/devices/{id}/hardware", "Put found hardware in the place of a device",
		func(ctx context.Context, in *struct {
			IDPath
			Body struct {
				Connection string `json:"connection"`
				Hardware   string `json:"hardware"`
			}
		}) (*none, error) {
			return &none{}, s.hub.ReplaceHardware(ctx, in.ID, in.Body.Connection, in.Body.Hardware)
		})
	s.removal(api, docs.KindDevice, "/devices", "device")
	operation(s, api, "write-property", http.MethodPut, "/devices/{id}/properties/{property}", "Set a property once", func(ctx context.Context, in *struct {
		PropertyPath
		Body struct {
			Value thing.Value `json:"value"`
		}
	}) (*none, error) {
		return &none{}, s.hub.Act(ctx, engine.Input{Kind: engine.InputWrite, Device: in.ID, Name: in.Property, Value: in.Body.Value, Doer: by(ctx)})
	})
	operation(s, api, "keep-property", http.MethodPost, "/devices/{id}/properties/{property}/keep", "Keep a property at a value",
		func(ctx context.Context, in *struct {
			PropertyPath
			Body struct {
				Value thing.Value `json:"value"`
				Until time.Time   `json:"until,omitzero" doc:"When it ends by itself; without it, when it is let go."`
			}
		}) (*none, error) {
			return &none{}, s.hub.Act(
				ctx,
				engine.Input{Kind: engine.InputKeep, Device: in.ID, Name: in.Property, Value: in.Body.Value, Until: in.Body.Until, Doer: by(ctx)},
			)
		})
	operation(s, api, "let-go", http.MethodDelete, "/devices/{id}/properties/{property}/holds/{owner}", "Let a hold go", func(ctx context.Context, in *struct {
		PropertyPath
		Owner string `path:"owner" maxLength:"120"`
	}) (*none, error) {
		return &none{}, s.hub.Act(ctx, engine.Input{Kind: engine.InputLetGo, Device: in.ID, Name: in.Property, Owner: in.Owner, Doer: by(ctx)})
	})
	operation(s, api, "invoke-action", http.MethodPost, "/devices/{id}/actions/{action}", "Ask a device to do something", func(ctx context.Context, in *struct {
		ID     string `path:"id" maxLength:"80"`
		Action string `path:"action" maxLength:"80"`
		Body   *struct {
			Input thing.Inputs `json:"input,omitempty" doc:"What it is given, by the names of its inputs."`
		} `required:"false"`
	}) (*none, error) {
		input := engine.Input{Kind: engine.InputInvoke, Device: in.ID, Name: in.Action, Doer: by(ctx)}
		if in.Body != nil {
			input.Given = in.Body.Input
		}
		return &none{}, s.hub.Act(ctx, input)
	})
	operation(s, api, "settle-difference", http.MethodPost, "/devices/{id}/properties/{property}/difference", "Settle a difference between hub and device",
		func(ctx context.Context, in *struct {
			PropertyPath
			Body struct {
				Verb string `json:"verb" enum:"believe,set" doc:"Believe the device, or set it again."`
			}
		}) (*none, error) {
			return &none{}, s.hub.Act(ctx, engine.Input{Kind: engine.InputAgree, Device: in.ID, Name: in.Property, Verb: in.Body.Verb, Doer: by(ctx)})
		})
	operation(s, api, "convert-color", http.MethodGet, "/color", "The chromaticity of a screen color", func(_ context.Context, in *struct {
		Swatch string `query:"swatch" pattern:"^#[0-9a-fA-F]{6}$" required:"true"`
	}) (*body[thing.Value], error) {
		x, y, ok := light.FromSwatch(in.Swatch)
		if !ok {
			return nil, hub.Invalid("swatch", "Black has no tone of its own; choose another color.")
		}
		return &body[thing.Value]{thing.Color(x, y)}, nil
	})
}

func (s *Server) registerAutomation(api huma.API) {
	lists[views.SceneView](s, api, docs.KindScene, "scenes", "/scenes", "All scenes")
	documents[light.Scene](s, api, docs.KindScene, "/scenes", "scene")
	operation(
		s,
		api,
		"capture",
		http.MethodPost,
		"/scenes/capture",
		"The present values of devices, as a scene's targets",
		func(ctx context.Context, in *struct {
			Body struct {
				Devices []string `json:"devices" maxItems:"1000"`
			}
		}) (*body[[]light.Target], error) {
			targets, err := s.hub.Capture(ctx, in.Body.Devices)
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
	documents[home.Dashboard](s, api, docs.KindDashboard, "/dashboards", "dashboard")
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

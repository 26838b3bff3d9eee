package server

import (
	"context"
	"net/http"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"amvek/core/engine"
	"amvek/core/home"
	"amvek/core/light"
	"amvek/core/thing"
	"amvek/core/trial"
	"amvek/hub"
	"amvek/hub/docs"
	"amvek/hub/views"
)

// DeviceBody is what the owner may change about a device.
type DeviceBody struct {
	Title  string   `json:"title" minLength:"1" maxLength:"120"`
	Room   string   `json:"room,omitempty"`
	Note   string   `json:"note,omitempty" maxLength:"2000"`
	Labels []string `json:"labels,omitempty" maxItems:"20"`
	// AttendedOnly says that only a hand switches it on.
	AttendedOnly bool     `json:"attendedOnly,omitempty" doc:"Only a hand switches it on, never automation, unless a step is allowed to."`
	KeptTo       []string `json:"keptTo,omitempty" maxItems:"100" doc:"Ids of the people who alone set it going or unlock it, besides owners; none is everybody."`
	// Layout is where its keys sit as the owner has them.
	Layout map[string]thing.Layout `json:"layout,omitempty" doc:"Where its keys sit as the owner has them, by event; the others sit as its profile says."`
	// Keys say how presses of its keys are told apart.
	Keys *home.KeyTiming `json:"keys,omitempty" doc:"How presses of its keys are told apart; as usual where it is absent."`
	// Lamp says that its switch feeds a lamp; what can be dimmed is one anyway.
	Lamp bool `json:"lamp,omitempty" doc:"Its switch feeds a lamp; what can be dimmed is one anyway."`
	// Lighting is how the hub drives a lamp.
	Lighting *home.Lighting `json:"lighting,omitempty" doc:"How the hub drives a lamp, where that is not as its maker says."`
	// Dashboards are those that a panel was given.
	Dashboards []string `json:"dashboards,omitempty" maxItems:"100" doc:"The ids of the dashboards that a panel was given, its own first."`
	// Agreement is how differences between hub and device are dealt with.
	Agreement *home.Agreement `json:"agreement,omitempty" doc:"How differences between hub and device are dealt with; without one the device is believed."`
}

// shown is a picture of a device. Opened by itself it is a page of the hub's, in which nothing of the device's may run.
type shown struct {
	ContentType string `header:"Content-Type"`
	Policy      string `header:"Content-Security-Policy"`
	Caching     string `header:"Cache-Control"`
	Body        []byte
}

func (s *Server) registerDevices(api huma.API) {
	lists[views.DeviceView](s, api, docs.KindDevice, "devices", "/devices", "All devices with their states")
	operation(s, api, "device", http.MethodGet, "/devices/{id}", "One device", func(ctx context.Context, in *IDPath) (*body[views.DeviceView], error) {
		view, err := s.hub.Device(ctx, in.ID)
		return &body[views.DeviceView]{view}, err
	})
	operation(s, api, "picture", http.MethodGet, "/devices/{id}/pictures/{picture}", "What a device shows now, such as a camera", func(ctx context.Context, in *struct {
		IDPath
		Picture string `path:"picture" maxLength:"80"`
	}) (*shown, error) {
		if _, is := s.hub.Panel(in.ID); is && !who(ctx).owns {
			return nil, &hub.ForbiddenError{Message: "What a panel sees is for the owner alone."}
		}
		picture, err := s.hub.Picture(ctx, in.ID, in.Picture)
		return &shown{
			ContentType: picture.ContentType, Policy: "default-src 'none'; style-src 'unsafe-inline'; sandbox", Caching: "no-store", Body: picture.Data,
		}, err
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
	operation(s, api, "search-steady", http.MethodPost, "/devices/{id}/steady",
		"Search the least level at which a lamp does not flicker, by what was seen so far",
		func(ctx context.Context, in *struct {
			IDPath
			Body struct {
				Flickered []bool `json:"flickered" maxItems:"20" doc:"Whether it flickered, or stayed dark, at each level that was looked at, in order."`
			}
		}) (*body[trial.Steady], error) {
			next, err := s.hub.SearchSteady(ctx, in.ID, by(ctx), in.Body.Flickered)
			return &body[trial.Steady]{next}, err
		})
	operation(s, api, "leave-steady", http.MethodDelete, "/devices/{id}/steady", "Leave the search for the least level, and put the lamp back as it was",
		func(ctx context.Context, in *IDPath) (*none, error) {
			return &none{}, s.hub.LeaveSteady(ctx, in.ID, by(ctx))
		})
	operation(s, api, "own-light", http.MethodGet, "/devices/{id}/properties/{property}/own-light",
		"Learn from the record what lamps give a sensor that sees them",
		func(ctx context.Context, in *PropertyPath) (*body[hub.OwnLight], error) {
			own, err := s.hub.OwnLight(ctx, thing.Ref{Device: in.ID, Name: in.Property})
			return &body[hub.OwnLight]{own}, err
		})
	operation(s, api, "take-off-own-light", http.MethodPut, "/devices/{id}/properties/{property}/own-light",
		"Give a sensor a reading without the lamps that it sees",
		func(ctx context.Context, in *PropertyPath) (*none, error) {
			return &none{}, s.hub.TakeOffOwnLight(ctx, thing.Ref{Device: in.ID, Name: in.Property})
		})
	operation(s, api, "leave-own-light", http.MethodDelete, "/devices/{id}/properties/{property}/own-light",
		"Take away a sensor's reading without the lamps that it sees",
		func(ctx context.Context, in *PropertyPath) (*none, error) {
			return &none{}, s.hub.LeaveOwnLight(ctx, thing.Ref{Device: in.ID, Name: in.Property})
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
	const pressed = "Do what follows when a key of a device is pressed or turned"
	operation(s, api, "press-key", http.MethodPost, "/devices/{id}/events/{event}", pressed, func(ctx context.Context, in *struct {
		ID    string `path:"id" maxLength:"80"`
		Event string `path:"event" maxLength:"80"`
		Body  struct {
			Value thing.Value `json:"value,omitzero" doc:"What the event carries, such as a gesture."`
		}
	}) (*none, error) {
		return &none{}, s.hub.Act(ctx, engine.Input{Kind: engine.InputEvent, Device: in.ID, Name: in.Event, Value: in.Body.Value, Doer: by(ctx)})
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
		color, ok := light.FromSwatch(in.Swatch)
		if !ok {
			return nil, hub.Invalid("swatch", "Black has no tone of its own; choose another color.")
		}
		return &body[thing.Value]{color.Value()}, nil
	})
}

// PropertyPath is the path to a property.
type PropertyPath struct {
	ID       string `path:"id" maxLength:"80"`
	Property string `path:"property" maxLength:"80"`
}

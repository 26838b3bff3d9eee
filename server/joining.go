package server

import (
	"context"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"amvek/core/document"
	"amvek/core/home"
	"amvek/core/tell"
	"amvek/hub"
	"amvek/hub/docs"
)

// Edit is an edit of a document that others may change meanwhile.
type Edit[T any] struct {
	From T `json:"from" doc:"What it was when the editing began."`
	To   T `json:"to" doc:"What it is to be."`
	// Prefer says whose change counts where somebody else changed the same meanwhile.
	Prefer document.Side `json:"prefer,omitempty" enum:"mine,theirs" doc:"Whose change counts where somebody else changed the same meanwhile; absent to be asked."`
}

// Joined is a definition after an edit was laid over what others changed meanwhile.
type Joined[T any] struct {
	ID       string `json:"id"`
	Revision int    `json:"revision"`
	Document T      `json:"document" doc:"The edit together with what others changed meanwhile."`
}

// Clash is an RFC 9457 problem: somebody else changed the same meanwhile, in another way.
type Clash struct {
	huma.ErrorModel
	Changes []tell.Change `json:"changes" doc:"The lines that are different: gone is what is there now, added what was to be saved."`
}

// join saves an edit, and answers with what came of it.
func join[T any](ctx context.Context, s *Server, kind docs.Kind, id string, e *Edit[T]) (*body[Joined[T]], error) {
	doc, revision, err := s.hub.SaveEdit(ctx, hub.Edit{Kind: kind, ID: id, From: &e.From, To: &e.To, Prefer: e.Prefer})
	if err != nil {
		return nil, err
	}
	return &body[Joined[T]]{Joined[T]{id, revision, *doc.(*T)}}, nil
}

// joins registers the edit of a definition of a kind.
func joins[T any](s *Server, api huma.API, kind docs.Kind, path, name string) {
	operation(s, api, "edit-"+name, http.MethodPatch, path+"/{id}", "Edit a "+name+" that others may change meanwhile", func(ctx context.Context, in *struct {
		IDPath
		Body Edit[T]
	}) (*body[Joined[T]], error) {
		return join(ctx, s, kind, in.ID, &in.Body)
	})
}

// joinsOnly registers the edit of the one definition of a kind.
func joinsOnly[T any](s *Server, api huma.API, kind docs.Kind, id, path, name string) {
	operation(
		s,
		api,
		"edit-"+name,
		http.MethodPatch,
		path,
		"Edit the "+name+" that others may change meanwhile",
		func(ctx context.Context, in *struct{ Body Edit[T] }) (*body[Joined[T]], error) {
			return join(ctx, s, kind, id, &in.Body)
		},
	)
}

// joinDevice saves an edit of what the owner may change about a device.
func (s *Server) joinDevice(ctx context.Context, in *struct {
	IDPath
	Body Edit[DeviceBody]
}) (*body[Joined[DeviceBody]], error) {
	view, err := s.hub.Device(ctx, in.ID)
	if err != nil {
		return nil, err
	}
	from, to := in.Body.From.onto(view.Device), in.Body.To.onto(view.Device)
	doc, revision, err := s.hub.SaveEdit(ctx, hub.Edit{Kind: docs.KindDevice, ID: in.ID, From: &from, To: &to, Prefer: in.Body.Prefer})
	if err != nil {
		return nil, err
	}
	return &body[Joined[DeviceBody]]{Joined[DeviceBody]{in.ID, revision, deviceBody(doc.(*home.Device))}}, nil
}

// onto returns a device with what the owner may change about it.
func (b *DeviceBody) onto(device home.Device) home.Device {
	device.Title, device.Room, device.Note, device.Labels = b.Title, b.Room, b.Note, b.Labels
	device.AttendedOnly, device.KeptTo, device.Lamp, device.Agreement, device.Dashboards = b.AttendedOnly, b.KeptTo, b.Lamp, b.Agreement, b.Dashboards
	device.Keys, device.Layout, device.Lighting = b.Keys, b.Layout, b.Lighting
	device.FitLighting()
	return device
}

func deviceBody(d *home.Device) DeviceBody {
	return DeviceBody{
		Title: d.Title, Room: d.Room, Note: d.Note, Labels: d.Labels, AttendedOnly: d.AttendedOnly, KeptTo: d.KeptTo, Lamp: d.Lamp, Keys: d.Keys, Layout: d.Layout, Lighting: d.Lighting,
		Agreement: d.Agreement, Dashboards: d.Dashboards,
	}
}

// clashed makes a problem of a clash.
func clashed(e *hub.ClashError) error {
	problem := &Clash{
		ErrorModel: huma.ErrorModel{Status: http.StatusConflict, Title: http.StatusText(http.StatusConflict), Detail: e.Error()},
		Changes:    e.Changes,
	}
	for _, place := range e.Places {
		problem.Errors = append(problem.Errors, &huma.ErrorDetail{Location: place, Message: "This was changed in another window, too."})
	}
	return problem
}

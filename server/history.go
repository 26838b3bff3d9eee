package server

import (
	"context"
	"net/http"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"amvek/core/thing"
	"amvek/hub"
)

// SeriesQuery chooses histories.
type SeriesQuery struct {
	Series []string  `query:"series,explode" required:"true" minItems:"1" maxItems:"12" doc:"Devices and their properties, as DEVICE~PROPERTY."`
	From   time.Time `query:"from" required:"true"`
	To     time.Time `query:"to" required:"true"`
}

func (q *SeriesQuery) refs() ([]thing.Ref, error) {
	refs := make([]thing.Ref, len(q.Series))
	for i, s := range q.Series {
		device, name, ok := strings.Cut(s, "~")
		if !ok {
			return nil, hub.Invalid("series", "A history is chosen as DEVICE~PROPERTY.")
		}
		refs[i] = thing.Ref{Device: device, Name: name}
	}
	return refs, nil
}

func (s *Server) registerHistory(api huma.API) {
	operation(s, api, "history", http.MethodGet, "/history", "Histories of properties, rolled up where they are long", func(ctx context.Context, in *struct {
		SeriesQuery
		Points int `query:"points" minimum:"10" maximum:"5000" default:"800" doc:"How many points each has, at most, where it is rolled up."`
	}) (*body[[]hub.Series], error) {
		refs, err := in.refs()
		if err != nil {
			return nil, err
		}
		all := make([]hub.Series, len(refs))
		for i, ref := range refs {
			if all[i], err = s.hub.History(ctx, ref, in.From, in.To, in.Points); err != nil {
				return nil, err
			}
		}
		return &body[[]hub.Series]{all}, nil
	})
	operation(s, api, "history-sheet", http.MethodGet, "/history.csv", "Histories as comma-separated values (RFC 4180)",
		func(ctx context.Context, in *SeriesQuery) (*sheet, error) {
			refs, err := in.refs()
			if err != nil {
				return nil, err
			}
			rows, err := s.hub.HistorySheet(ctx, refs, in.From, in.To)
			if err != nil {
				return nil, err
			}
			return asSheet(rows, "history.csv"), nil
		})
	get(s, api, "keeping", "/history/keeping", "How long readings, the journal and earlier versions are kept, and what that costs",
		func(ctx context.Context) (hub.Keeping, error) { return s.hub.Keeping(ctx) })
	operation(s, api, "keep-history", http.MethodPut, "/history/keeping", "Say how long readings, the journal and earlier versions are kept",
		func(ctx context.Context, in *struct {
			Body hub.Kept
		}) (*none, error) {
			return &none{}, s.hub.Keep(ctx, in.Body)
		})
}

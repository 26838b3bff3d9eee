package hub

import (
	"bytes"
	"context"
	"encoding/json"
	"io"
	"strconv"

	"amvek/hub/docs"
	"amvek/hub/links"
	"amvek/hub/show"
	"amvek/hub/views"
)

// ShownHome is all that browsers are shown, by kinds and ids, as of a number: what is told after it comes on top.
type ShownHome struct {
	Run     string       `json:"run" doc:"Names the start of the hub: numbers of other starts say nothing."`
	Number  uint64       `json:"number" doc:"That of the newest change that it has."`
	Entries ShownEntries `json:"entries"`
}

// ShownEntries are the entries of a [ShownHome].
type ShownEntries struct {
	Home       map[string]views.HouseView      `json:"home"`
	Room       map[string]views.RoomView       `json:"room"`
	Connection map[string]links.ConnectionView `json:"connection"`
	Device     map[string]views.DeviceView     `json:"device"`
	Group      map[string]views.GroupView      `json:"group"`
	Scene      map[string]views.SceneView      `json:"scene"`
	Sequence   map[string]views.SequenceView   `json:"sequence"`
	Link       map[string]views.LinkView       `json:"link"`
	Mirror     map[string]views.MirrorView     `json:"mirror"`
	Light      map[string]views.LightView      `json:"light"`
	Rule       map[string]views.RuleView       `json:"rule"`
	Schedule   map[string]views.ScheduleView   `json:"schedule"`
	Dashboard  map[string]views.DashboardView  `json:"dashboard"`
	Variable   map[string]views.VariableView   `json:"variable"`
	Person     map[string]views.PersonView     `json:"person"`
	Curve      map[string]views.CurveView      `json:"curve"`
	Modes      map[string]views.ModesView      `json:"modes"`
	Calendar   map[string]views.CalendarView   `json:"calendar"`
	Found      map[string]FoundDevice          `json:"found"`
	Bridge     map[string]FoundBridge          `json:"bridge"`
	Notice     map[string]Notice               `json:"notice"`
	Needs      map[string]NeedsView            `json:"needs"`
	Pairing    map[string]Pairing              `json:"pairing"`
	Day        map[string]views.DayLight       `json:"day"`
	Mark       map[string]MarkView             `json:"mark"`
}

// shownKinds are the kinds of entries of a [ShownHome], in its order.
var shownKinds = []string{
	string(docs.KindHome), string(docs.KindRoom), string(docs.KindConnection), string(docs.KindDevice), string(docs.KindGroup), string(docs.KindScene),
	string(docs.KindSequence), string(docs.KindLink), string(docs.KindMirror), string(docs.KindLight), string(docs.KindCurve),
	string(docs.KindRule), string(docs.KindSchedule), string(docs.KindDashboard), string(docs.KindVariable), string(docs.KindPerson),
	string(docs.KindModes),
	string(docs.KindCalendar), shownFound, shownBridge, shownNotice, shownNeeds, shownPairing, shownDay, shownMark,
}

// Shown returns a [ShownHome] as an audience gets it, to be written as JSON. What is in it was put into words before it was
// asked for.
func (h *Hub) Shown(ctx context.Context, to show.Audience) (write func(io.Writer) error, err error) {
	if err := h.settleShown(ctx); err != nil {
		return nil, err
	}
	number := h.shown.board.Number()
	var text bytes.Buffer
	text.WriteString(`{"run":` + strconv.Quote(h.Feed.Run()) + `,"number":` + strconv.FormatUint(number, 10) + `,"entries":{`)
	for i, of := range shownKinds {
		if i > 0 {
			text.WriteByte(',')
		}
		text.WriteString(strconv.Quote(of) + ":{")
		for j, e := range h.entries(of, to) {
			if j > 0 {
				text.WriteByte(',')
			}
			id, err := json.Marshal(e.Key.ID)
			if err != nil {
				return nil, err
			}
			text.Write(id)
			text.WriteByte(':')
			text.Write(e.Text)
		}
		text.WriteByte('}')
	}
	text.WriteString("}}\n")
	return func(w io.Writer) error {
		_, err := text.WriteTo(w)
		return err
	}, nil
}

// List returns the views of all definitions of a kind, by name, to be written as JSON.
func (h *Hub) List(ctx context.Context, kind docs.Kind) (write func(io.Writer) error, err error) {
	if err := h.settleShown(ctx); err != nil {
		return nil, err
	}
	entries := byTitle(h.entries(string(kind), show.Audience{}), func(e *show.Shown) string { return e.Title })
	return func(w io.Writer) error {
		text := []byte{'['}
		for i, e := range entries {
			if i > 0 {
				text = append(text, ',')
			}
			text = append(text, e.Text...)
			if len(text) >= 1<<16 {
				if _, err := w.Write(text); err != nil {
					return err
				}
				text = text[:0]
			}
		}
		_, err := w.Write(append(text, "]\n"...))
		return err
	}, nil
}

// What stands around the properties of a device.
const statesOpen, statesShut = `,"states":[`, "]}"

// entries returns the entries of a kind that an audience gets, by their ids, devices with the properties that they have.
func (h *Hub) entries(of string, to show.Audience) []show.Shown {
	all := h.gotten(of, to)
	if of != string(docs.KindDevice) {
		return all
	}
	properties := h.gotten(shownProperty, to)
	for i := range all {
		for len(properties) > 0 && properties[0].Key.ID < all[i].Key.ID {
			properties = properties[1:] // of a device that is not there, or not yet
		}
		own, size := 0, len(all[i].Text)+len(statesOpen)
		for own < len(properties) && properties[own].Key.ID == all[i].Key.ID {
			size += len(properties[own].Text) + 1
			own++
		}
		text := make([]byte, 0, size+len(statesShut))
		text = append(append(text, bytes.TrimSuffix(all[i].Text, []byte{'}'})...), statesOpen...)
		for j := range own {
			if j > 0 {
				text = append(text, ',')
			}
			text = append(text, properties[j].Text...)
		}
		all[i].Text = append(text, statesShut...)
		properties = properties[own:]
	}
	return all
}

// gotten returns the entries of a kind as an audience gets them.
func (h *Hub) gotten(of string, to show.Audience) []show.Shown {
	all, _ := h.shown.board.All(of)
	if to.May == nil {
		return all
	}
	gets := all[:0]
	for _, e := range all {
		if e.Text = to.Gets(e.Key, e.Text); e.Text != nil {
			gets = append(gets, e)
		}
	}
	return gets
}

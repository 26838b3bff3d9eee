package hub

import (
	"cmp"
	"context"
	"errors"
	"slices"
	"strings"
	"time"

	"amvek/core/almanac"
	"amvek/core/cause"
	"amvek/core/check"
	"amvek/core/engine"
	"amvek/core/hold"
	"amvek/core/home"
	"amvek/core/light"
	"amvek/core/rule"
	"amvek/core/state"
	"amvek/core/thing"
	"amvek/hub/docs"
)

// Holder is one of those who have or want a property: the base or a hold.
type Holder struct {
	// Kind tells what By and Title are: a rule, a scene, a sequence, a schedule, a person here, the device itself, or nobody.
	Kind  string `json:"kind" enum:"rule,scene,sequence,schedule,hand,device,found"`
	Owner string `json:"owner,omitempty" doc:"Owner of a hold, for letting go; absent for the base."`
	ID    string `json:"id,omitempty" doc:"Id of the rule, scene or schedule."`
	Title string `json:"title,omitempty" doc:"Name of the rule, scene or schedule, or where a hand acted."`
	// Level is that of a hold; 0 for the base.
	Level     hold.Level  `json:"level"`
	ByHand    bool        `json:"byHand"`
	Value     thing.Value `json:"value"`
	Text      string      `json:"text"`
	Since     time.Time   `json:"since"`
	Until     time.Time   `json:"until,omitzero"`
	Cause     cause.ID    `json:"cause,omitempty"`
	Firm      bool        `json:"firm,omitempty"`
	Suspended bool        `json:"suspended,omitempty"`
	InEffect  bool        `json:"inEffect"`
}

// PropertyView is a property as it stands now.
type PropertyView struct {
	Name         string          `json:"name"`
	Value        thing.Value     `json:"value" doc:"What the device last said."`
	Text         string          `json:"text"`
	Target       thing.Value     `json:"target,omitzero" doc:"What it was asked for."`
	TargetText   string          `json:"targetText,omitempty"`
	On           bool            `json:"on" doc:"Whether a mark is drawn solid: on, open, moving, or a number above 0."`
	Certainty    state.Certainty `json:"certainty" enum:"unknown,confirmed,pending,assumed,failed"`
	Failure      string          `json:"failure,omitempty"`
	Milliseconds float64         `json:"milliseconds,omitempty" doc:"Delay of the last confirmed command."`
	ReportedAt   time.Time       `json:"reportedAt,omitzero"`
	ChangedAt    time.Time       `json:"changedAt,omitzero"`
	ChangedBy    cause.ID        `json:"changedBy,omitempty"`
	Swatch       string          `json:"swatch,omitempty" doc:"The light's color as #rrggbb."`
	// Idle says that it does not count, since the device is set up in another way.
	Idle    bool     `json:"idle,omitempty" doc:"It does not count, since the device is set up in another way."`
	Shutter *Shutter `json:"shutter,omitempty"`
	// Difference is what hub and device do not agree on, until that is settled.
	Difference *state.Difference `json:"difference,omitempty" doc:"What hub and device do not agree on, until that is settled."`
	// Holders are all who have or want a writable property, the one in effect first, the base last.
	Holders []Holder `json:"holders"`

	place int // in the description of its device
}

// Place implements [show.Placed].
func (v PropertyView) Place() int { return v.place }

// DeviceHead is a device as it stands now, without its properties.
type DeviceHead struct {
	ID       string `json:"id"`
	Revision int    `json:"revision"`
	home.Device
	// Own says that it is the home itself, which is no device that could be edited or removed.
	Own bool `json:"own,omitempty" doc:"It is the home itself, no device that could be edited or removed."`
	// Silent says that it cannot be reached, so that its values may be stale.
	Silent       bool   `json:"silent"`
	SilentReason string `json:"silentReason,omitempty" doc:"Why it cannot be reached."`
	// UsedBy are the definitions that refer to it.
	UsedBy []docs.Use `json:"usedBy"`
	Care   Care       `json:"care"`
}

// DeviceView is a device as it stands now.
type DeviceView struct {
	DeviceHead
	States []PropertyView `json:"states"`
}

// propertyView runs in the loop.
func (h *Hub) propertyView(ref thing.Ref, st state.PropertyState) PropertyView {
	p := h.engine.Property(ref.Device, ref.Name)
	v := PropertyView{
		Name: ref.Name, Value: st.Reported, Text: p.Say(st.Reported), Certainty: st.Certainty, Failure: st.Failure,
		Milliseconds: st.Milliseconds, ReportedAt: st.ReportedAt.Truncate(time.Millisecond), ChangedAt: st.ChangedAt.Truncate(time.Millisecond), ChangedBy: st.ChangedBy,
		On: isOn(p, st.Reported), Swatch: swatch(p, st.Reported), Holders: []Holder{},
		place: h.place(ref), Idle: !h.engine.Counts(ref), Shutter: h.shutter(ref, st.Cover), Difference: st.Difference,
	}
	if p.Assumed && v.Certainty == state.Confirmed {
		v.Certainty = state.Assumed // heard from whoever else sends to it
	}
	if !p.Writable {
		return v
	}
	if h.engine.Aside(ref) {
		v.Text = "not in use" // another that it excludes is: a color, say, and not this white
	}
	v.Target, v.TargetText = st.Target, p.Say(st.Target)
	top := st.Stack.Top()
	var base, suspended []Holder
	for i := range st.Stack.Holds {
		x := &st.Stack.Holds[i]
		holder := h.holder(x.Owner, x.Level == hold.Hand, p, x.Value)
		holder.Owner, holder.Level, holder.Since, holder.Until, holder.Cause = x.Owner, x.Level, x.Since, x.Until, x.Cause
		holder.Firm, holder.Suspended, holder.InEffect = x.Firm, x.Suspended, x == top
		if x.Suspended {
			suspended = append(suspended, holder)
			continue
		}
		v.Holders = append(v.Holders, holder)
	}
	if !st.Stack.Base.Value.IsNone() {
		b := st.Stack.Base
		holder := h.holder(b.By, b.ByHand, p, b.Value)
		holder.Since, holder.Cause, holder.InEffect = b.Since, b.Cause, top == nil
		base = append(base, holder)
	}
	// A hold suspended by a hand waits below the base it gave way to.
	v.Holders = append(append(v.Holders, base...), suspended...)
	return v
}

// place is where a property stands in the description of its device.
func (h *Hub) place(ref thing.Ref) int {
	d := h.definitions.Device(ref.Device)
	if d == nil {
		return 0
	}
	return slices.IndexFunc(d.Description.Properties, func(p thing.Property) bool { return p.Name == ref.Name })
}

func (h *Hub) holder(by string, byHand bool, p *thing.Property, value thing.Value) Holder {
	kind, id, _ := strings.Cut(by, ":")
	holder := Holder{Kind: kind, ByHand: byHand, Value: value, Text: p.Say(value)}
	switch kind {
	case "rule", "scene", "schedule", "sequence":
		holder.ID, holder.Title = id, h.titles[id]
	case "hand":
		holder.Title = id
	case "":
		holder.Kind = "found"
	}
	return holder
}

func isOn(p *thing.Property, v thing.Value) bool {
	switch p.Type {
	case thing.TypeBoolean:
		return v.True()
	case thing.TypeNumber:
		return v.Number > 0 && (p.Role == thing.RoleBrightness)
	default:
		return false
	}
}

func swatch(p *thing.Property, v thing.Value) string {
	switch {
	case v.IsNone():
		return ""
	case p.Role == thing.RoleColorTemperature:
		return light.Swatch(light.Chromaticity(v.Number))
	case p.Role == thing.RoleColor:
		return light.Swatch(v.Number, v.Second)
	default:
		return ""
	}
}

// deviceHead runs in the loop.
func (h *Hub) deviceHead(id string) DeviceHead {
	d := h.definitions.Devices[id]
	v := DeviceHead{ID: id, Revision: d.Revision, Device: *d.Doc, Own: id == docs.OwnID, UsedBy: h.definitions.UsedBy(id)}
	v.Silent, v.SilentReason = h.unreached(d.Doc)
	if said := h.fellSilent(id); said != "" && !v.Silent {
		v.Silent, v.SilentReason = true, said
	}
	v.Care = h.care(id, d.Doc)
	return v
}

// deviceView runs in the loop.
func (h *Hub) deviceView(id string) DeviceView {
	v := DeviceView{DeviceHead: h.deviceHead(id), States: []PropertyView{}}
	for _, p := range v.Description.Properties {
		ref := thing.Ref{Device: id, Name: p.Name}
		if state, ok := h.engine.PropertyState(ref); ok {
			v.States = append(v.States, h.propertyView(ref, state))
		}
	}
	return v
}

// unreached reports whether a device cannot be reached, and why.
func (h *Hub) unreached(d *home.Device) (silent bool, reason string) {
	l := h.links[d.Connection]
	switch {
	case d.Hardware == docs.OwnID && d.Connection == "":
		return false, ""
	case l == nil:
		return h.linked, "Its connection was removed."
	case l.definition.Paused:
		return true, "Its connection is paused."
	case l.known && !l.up:
		return true, "Its connection is down. " + l.reason
	}
	reason, silent = l.unreached[d.Hardware]
	return silent, reason
}

// Devices returns all devices, by name.
func (h *Hub) Devices(ctx context.Context) ([]DeviceView, error) {
	return listed(ctx, h, docs.KindDevice, h.deviceView, func(v *DeviceView) string { return v.Title + v.ID })
}

// listed returns the views of all definitions of a kind, by name.
func listed[T any](ctx context.Context, h *Hub, kind docs.Kind, view func(id string) T, title func(*T) string) ([]T, error) {
	views := []T{}
	err := h.do(ctx, func() {
		traits, _ := docs.Of(kind)
		for _, id := range traits.IDs(&h.definitions) {
			views = append(views, view(id))
		}
	})
	return byTitle(views, title), err
}

// Device returns one device.
func (h *Hub) Device(ctx context.Context, id string) (view DeviceView, err error) {
	err = Absent("There is no such device.")
	failed := h.do(ctx, func() {
		if h.definitions.Device(id) != nil {
			view, err = h.deviceView(id), nil
		}
	})
	return view, errors.Join(failed, err)
}

// SceneView is a scene as it stands now.
type SceneView struct {
	ID       string `json:"id"`
	Revision int    `json:"revision"`
	light.Scene
	InEffect bool       `json:"inEffect" doc:"Whether every value of it is what is in effect now."`
	UsedBy   []docs.Use `json:"usedBy"`
}

// sceneView runs in the loop.
func (h *Hub) sceneView(id string) SceneView {
	s := h.definitions.Scenes[id]
	return SceneView{ID: id, Revision: s.Revision, Scene: *s.Doc, InEffect: h.engine.InEffect(s.Doc), UsedBy: h.definitions.UsedBy(id)}
}

// Scenes returns all scenes, by name.
func (h *Hub) Scenes(ctx context.Context) ([]SceneView, error) {
	return listed(ctx, h, docs.KindScene, h.sceneView, func(v *SceneView) string { return v.Title })
}

// Capture returns the present values of devices as a scene's targets.
func (h *Hub) Capture(ctx context.Context, devices []string) (targets []light.Target, err error) {
	err = h.do(ctx, func() { targets = h.engine.Capture(devices) })
	return targets, err
}

// RuleState is how a rule stands now.
type RuleState struct {
	state.RuleState
	Problems   []rule.Problem          `json:"problems"`
	Conditions []engine.ConditionState `json:"conditions"`
	Findings   []check.Finding         `json:"findings" doc:"What is allowed and yet hardly meant."`
}

// ruleState runs in the loop.
func (h *Hub) ruleState(id string, v engine.RuleView) RuleState {
	s := RuleState{RuleState: v.State, Problems: v.Problems, Conditions: v.Conditions, Findings: []check.Finding{}}
	if len(v.Problems) == 0 {
		s.Findings = append(s.Findings, h.findingsOf(id)...)
	}
	if s.Problems == nil {
		s.Problems = []rule.Problem{}
	}
	if s.Conditions == nil {
		s.Conditions = []engine.ConditionState{}
	}
	return s
}

// findingsOf returns what is found in a rule, worked out again only where that may have become different. It runs in the loop.
func (h *Hub) findingsOf(id string) []check.Finding {
	findings, known := h.findings[id]
	if doc := h.definitions.Rules[id].Doc; !known && doc != nil {
		findings = check.Rule(doc, h.engine)
		h.findings[id] = findings
	}
	return findings
}

// RuleView is a rule as it stands now.
type RuleView struct {
	ID       string `json:"id"`
	Revision int    `json:"revision"`
	rule.Rule
	State  RuleState  `json:"state"`
	UsedBy []docs.Use `json:"usedBy"`
	// Draft says that somebody works on it.
	Draft *DraftNote `json:"draft,omitempty"`
}

// ruleView runs in the loop.
func (h *Hub) ruleView(id string) RuleView {
	r := h.definitions.Rules[id]
	view, _ := h.engine.RuleView(id)
	return RuleView{ID: id, Revision: r.Revision, Rule: *r.Doc, State: h.ruleState(id, view), UsedBy: h.definitions.UsedBy(id), Draft: h.draftNote(id)}
}

// Rules returns all rules, by name.
func (h *Hub) Rules(ctx context.Context) ([]RuleView, error) {
	return listed(ctx, h, docs.KindRule, h.ruleView, func(v *RuleView) string { return v.Title })
}

// ScheduleState is how a schedule stands now.
type ScheduleState struct {
	state.ScheduleState
	Upcoming []time.Time    `json:"upcoming" doc:"The next dates."`
	Problems []rule.Problem `json:"problems"`
}

// ScheduleView is a schedule as it stands now.
type ScheduleView struct {
	ID       string `json:"id"`
	Revision int    `json:"revision"`
	rule.Schedule
	State ScheduleState `json:"state"`
}

const upcomingDates = 7

func (h *Hub) scheduleState(id string, state state.ScheduleState, problems []rule.Problem) ScheduleState {
	s := ScheduleState{ScheduleState: state, Problems: problems, Upcoming: []time.Time{}}
	if s.Problems == nil {
		s.Problems = []rule.Problem{}
	}
	if !state.Next.IsZero() {
		s.Upcoming = h.engine.Next(h.definitions.Schedules[id].Doc.At, upcomingDates)
	}
	return s
}

// scheduleView runs in the loop.
func (h *Hub) scheduleView(id string) ScheduleView {
	s := h.definitions.Schedules[id]
	state, problems, _ := h.engine.ScheduleView(id)
	return ScheduleView{ID: id, Revision: s.Revision, Schedule: *s.Doc, State: h.scheduleState(id, state, problems)}
}

// Schedules returns all schedules, by name.
func (h *Hub) Schedules(ctx context.Context) ([]ScheduleView, error) {
	return listed(ctx, h, docs.KindSchedule, h.scheduleView, func(v *ScheduleView) string { return v.Title })
}

// NextDates returns the next dates of a daily time that need not be saved.
func (h *Hub) NextDates(ctx context.Context, at almanac.Daily) (dates []time.Time, err error) {
	if err := at.Check(); err != nil {
		return nil, placed(err)
	}
	err = h.do(ctx, func() { dates = h.engine.Next(at, upcomingDates) })
	return dates, err
}

// DashboardView is a dashboard.
type DashboardView struct {
	ID       string `json:"id"`
	Revision int    `json:"revision"`
	home.Dashboard
}

// dashboardView runs in the loop.
func (h *Hub) dashboardView(id string) DashboardView {
	d := h.definitions.Dashboards[id]
	return DashboardView{ID: id, Revision: d.Revision, Dashboard: *d.Doc}
}

// Dashboards returns all dashboards, by name.
func (h *Hub) Dashboards(ctx context.Context) ([]DashboardView, error) {
	return listed(ctx, h, docs.KindDashboard, h.dashboardView, func(v *DashboardView) string { return v.Title })
}

// RoomView is a room.
type RoomView struct {
	ID       string `json:"id"`
	Revision int    `json:"revision"`
	home.Room
}

// roomView runs in the loop.
func (h *Hub) roomView(id string) RoomView {
	r := h.definitions.Rooms[id]
	return RoomView{ID: id, Revision: r.Revision, Room: *r.Doc}
}

// HouseView is the house without its rooms.
type HouseView struct {
	Revision int `json:"revision"`
	home.Home
}

// houseView runs in the loop.
func (h *Hub) houseView(string) HouseView {
	return HouseView{Revision: h.definitions.Homes[docs.HomeID].Revision, Home: *h.definitions.House()}
}

// HomeView is the house with its rooms.
type HomeView struct {
	Revision int `json:"revision"`
	home.Home
	Rooms []RoomView `json:"rooms"`
	Now   time.Time  `json:"now" doc:"By the hub's clock."`
}

// Home returns the house with its rooms in the owner's order.
func (h *Hub) Home(ctx context.Context) (view HomeView, err error) {
	err = h.do(ctx, func() {
		view = HomeView{Revision: h.definitions.Homes[docs.HomeID].Revision, Home: *h.definitions.House(), Rooms: []RoomView{}, Now: h.clock.Now()}
		for _, id := range h.definitions.Rooms.IDs() {
			view.Rooms = append(view.Rooms, h.roomView(id))
		}
	})
	slices.SortStableFunc(view.Rooms, func(a, b RoomView) int { return a.Order - b.Order })
	return view, err
}

// byTitle returns views in the order of their titles, whatever their case; those of one title stay as they stand.
func byTitle[T any](views []T, title func(*T) string) []T {
	type place struct {
		title string
		at    int
	}
	order := make([]place, len(views))
	for i := range views {
		order[i] = place{strings.ToLower(title(&views[i])), i}
	}
	slices.SortFunc(order, func(a, b place) int { return cmp.Or(strings.Compare(a.title, b.title), cmp.Compare(a.at, b.at)) })
	sorted := make([]T, len(views))
	for i, p := range order {
		sorted[i] = views[p.at]
	}
	return sorted
}

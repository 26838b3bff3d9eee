package views

import "amvek/hub/show"

// Those of which lists are made, which are sorted by their titles.
var _ = []show.Titled{
	DeviceHead{}, SceneView{}, SequenceView{}, LinkView{}, MirrorView{}, LightView{},
	RuleView{}, ScheduleView{}, DashboardView{}, GroupView{}, VariableView{}, CalendarView{}, RoomView{}, PersonView{},
}

// ShownTitle implements [show.Titled].
func (v DeviceHead) ShownTitle() string { return v.Title }

// ShownTitle implements [show.Titled].
func (v SceneView) ShownTitle() string { return v.Title }

// ShownTitle implements [show.Titled].
func (v SequenceView) ShownTitle() string { return v.Title }

// ShownTitle implements [show.Titled].
func (v RuleView) ShownTitle() string { return v.Title }

// ShownTitle implements [show.Titled].
func (v ScheduleView) ShownTitle() string { return v.Title }

// ShownTitle implements [show.Titled].
func (v DashboardView) ShownTitle() string { return v.Title }

// ShownTitle implements [show.Titled].
func (v GroupView) ShownTitle() string { return v.Title }

// ShownTitle implements [show.Titled].
func (v VariableView) ShownTitle() string { return v.Title }

// ShownTitle implements [show.Titled].
func (v CalendarView) ShownTitle() string { return v.Title }

// ShownTitle implements [show.Titled].
func (v RoomView) ShownTitle() string { return v.Title }

// ShownTitle implements [show.Titled].
func (v PersonView) ShownTitle() string { return v.Title }

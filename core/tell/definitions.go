package tell

import (
	"bytes"
	"encoding/json"
	"fmt"
	"maps"
	"slices"
	"strconv"
	"strings"

	"amvek/core/board"
	"amvek/core/home"
	"amvek/core/light"
	"amvek/core/rule"
	"amvek/core/thing"
)

// Head says what rules and schedules begin with: the name, the note, and whether it is switched off.
func Head(title, note string, enabled bool) []Line {
	t := &teller{}
	t.head(title, note)
	if !enabled {
		t.say("enabled", 0, "Switched off")
	}
	return t.lines
}

func (t *teller) head(title, note string) {
	t.say("title", 0, "Name: %s", title)
	for i, line := range strings.Split(strings.TrimSpace(note), "\n") {
		if line != "" {
			t.say(fmt.Sprintf("note/%d", i), 0, "Note: %s", line)
		}
	}
}

// field says a field that has something to say.
func (t *teller) field(path, name, text string) {
	if text != "" {
		t.say(path, 0, "%s: %s", name, text)
	}
}

// Home says the home's place on earth and how its devices are named.
func Home(h *home.Home, _ Names) []Line {
	t := &teller{}
	t.head(h.Title, "")
	t.say("latitude", 0, "Place: %s, %s", degrees(h.Latitude), degrees(h.Longitude))
	t.field("zone", "Time zone", h.Zone)
	t.field("namePattern", "Names are proposed by", h.NamePattern)
	return t.lines
}

func degrees(d float64) string { return strconv.FormatFloat(d, 'f', -1, 64) + "°" }

// Room says where a room is.
func Room(r *home.Room, _ Names) []Line {
	t := &teller{}
	t.head(r.Title, "")
	t.field("floor", "Floor", r.Floor)
	t.say("order", 0, "Place in the list: %d", r.Order+1)
	return t.lines
}

// Calendar says where a calendar is read.
func Calendar(c *home.Calendar, _ Names) []Line {
	t := &teller{}
	t.head(c.Title, c.Note)
	t.field("address", "Address", c.Address)
	t.say("everyMinutes", 0, "Read every %s", duration(float64(c.EveryMinutes)*60))
	if c.OwnMachine {
		t.say("ownMachine", 0, "The address may be one of this machine")
	}
	return t.lines
}

// Device says what the owner settled about a device.
func Device(d *home.Device, names Names) []Line {
	t := &teller{names: names}
	t.head(d.Title, d.Note)
	if d.Room != "" {
		t.field("room", "Room", t.title(d.Room))
	}
	t.field("labels", "Labels", strings.Join(d.Labels, ", "))
	if d.AttendedOnly {
		t.say("attendedOnly", 0, "Only a hand switches it on")
	}
	for i, id := range d.KeptTo {
		t.say(fmt.Sprintf("keptTo/%d", i), 0, "Set going or unlocked by %s", t.title(id))
	}
	for i, id := range d.Dashboards {
		t.say(fmt.Sprintf("dashboards/%d", i), 0, "Dashboard: %s", t.title(id))
	}
	if d.Lamp {
		t.say("lamp", 0, "Its switch feeds a lamp")
	}
	if l := d.Lighting; l != nil {
		t.lighting(l)
	}
	if a := d.Agreement; a != nil {
		t.say("agreement", 0, "Where it differs from the hub: %s", map[home.Policy]string{
			home.Believe: "believe it", home.SetAgain: fmt.Sprintf("set it again, up to %d times", a.Tries), home.Ask: "ask",
		}[a.Policy])
	}
	for _, name := range slices.Sorted(maps.Keys(d.Travel)) {
		travel := d.Travel[name]
		t.say("travel/"+name, 0, "Travels up in %s, down in %s", duration(travel.UpSeconds), duration(travel.DownSeconds))
	}
	for _, name := range slices.Sorted(maps.Keys(d.Adjustments)) {
		t.say("adjustments/"+name, 0, "%s: %s", propertyTitle(d, name), adjustment(d.Adjustments[name]))
	}
	t.field("hardware", "Hardware", strings.Join(slices.DeleteFunc([]string{d.Maker, d.Model, d.Hardware}, func(s string) bool { return s == "" }), " "))
	for _, p := range d.Description.Properties {
		t.say("description/properties/"+p.Name, 1, "%s", p.Title)
	}
	return t.lines
}

// lighting says how a lamp is driven.
func (t *teller) lighting(l *home.Lighting) {
	if l.LeastLevel > 0 {
		t.say("lighting/leastLevel", 0, "Driven from %g %% on", l.LeastLevel)
	}
	t.field("lighting/fades", "Faded by", map[home.FadedBy]string{home.ByItself: "itself", home.ByHub: "the hub"}[l.Fades])
	if w := l.White; w != nil {
		t.say("lighting/white", 0, "Whites from %g to %g K", w.Warmest, w.Coolest)
	}
}

func propertyTitle(d *home.Device, name string) string {
	if p := d.Description.Property(name); p != nil {
		return p.Title
	}
	return name
}

func adjustment(a thing.Adjustment) string {
	var parts []string
	if a.Slope != 0 && a.Slope != 1 {
		parts = append(parts, fmt.Sprintf("times %g", a.Slope))
	}
	if a.Offset != 0 {
		parts = append(parts, fmt.Sprintf("%+g", a.Offset))
	}
	if a.SmoothSeconds > 0 {
		parts = append(parts, "smoothed over "+duration(a.SmoothSeconds))
	}
	if a.Precision > 0 {
		parts = append(parts, fmt.Sprintf("rounded to %g", a.Precision))
	}
	if len(parts) == 0 {
		return "as it comes"
	}
	return strings.Join(parts, ", ")
}

// Group says who is in a group.
func Group(g *home.Group, names Names) []Line {
	t := &teller{names: names}
	t.head(g.Title, g.Note)
	for i, id := range g.Devices {
		t.say(fmt.Sprintf("devices/%d", i), 1, "%s", t.title(id))
	}
	return t.lines
}

// Variable says what a value of the household may be.
func Variable(v *home.Variable, names Names) []Line {
	t := &teller{names: names}
	t.head(v.Title, v.Note)
	switch v.Type {
	case thing.TypeBoolean:
		t.say("type", 0, "Yes or no")
	case thing.TypeNumber:
		t.say("type", 0, "A number from %g to %g %s", v.Minimum, v.Maximum, v.Unit)
	case thing.TypeOption:
		t.say("type", 0, "One of: %s", strings.Join(v.Options, ", "))
	default:
		t.say("type", 0, "A text")
	}
	if !v.Initial.IsNone() {
		t.field("initial", "Until it is set", rule.Say(v.Initial))
	}
	if v.Expression != "" {
		t.field("expression", "Computed by", t.expression(v.Expression))
	}
	return t.lines
}

// Modes says which modes a house has.
func Modes(m *home.Modes, _ Names) []Line {
	t := &teller{}
	for i, mode := range m.Modes {
		t.say(fmt.Sprintf("modes/%d", i), 0, "%s", mode.Title)
	}
	return t.lines
}

// Scene says what a scene sets.
func Scene(s *light.Scene, names Names) []Line {
	t := &teller{names: names}
	t.head(s.Title, s.Note)
	switch {
	case s.FadeExpression != "":
		t.field("fadeExpression", "Fade, in seconds", t.expression(s.FadeExpression))
	case s.FadeSeconds > 0:
		t.field("fadeSeconds", "Fade", duration(s.FadeSeconds))
	}
	if s.Laid {
		t.say("laid", 0, "Laid on top of what is on, and lifted off again")
	}
	if len(s.Modes) > 0 {
		t.field("modes", "Applied by itself only in", t.modes(s.Modes))
	}
	t.field("icon", "Icon", s.Icon)
	t.field("color", "Color", s.Color)
	t.hidden(s.Hidden)
	for i, target := range s.Targets {
		subject, p := t.subject(target.Device, "", target.Property)
		to := value(p, target.Value)
		switch {
		case target.Curve != "":
			to = "follows " + t.title(target.Curve)
		case target.Expression != "" && target.Follows:
			to = "follows " + t.expression(target.Expression)
		case target.Expression != "":
			to = t.expression(target.Expression)
		}
		if own := target.FadeSeconds; own != nil {
			to += ", in " + duration(*own)
		}
		t.say(fmt.Sprintf("targets/%d", i), 1, "%s: %s", subject, to)
	}
	return t.lines
}

func (t *teller) hidden(is bool) {
	if is {
		t.say("hidden", 0, "Hidden from the household")
	}
}

func (t *teller) modes(ids []string) string {
	p := t.names.Property(rule.OwnDevice, home.ModeProperty)
	titles := make([]string, len(ids))
	for i, id := range ids {
		titles[i] = value(p, thing.Text(id))
	}
	return strings.Join(titles, ", ")
}

// Sequence says which scenes follow each other.
func Sequence(s *light.Sequence, names Names) []Line {
	t := &teller{names: names}
	t.head(s.Title, s.Note)
	t.hidden(s.Hidden)
	if e := s.Effect; e != nil {
		t.effect(e)
	}
	for i, p := range s.Passages {
		text := fmt.Sprintf("%s, in %s, for %s", t.title(p.Scene), duration(p.FadeSeconds), duration(p.StaySeconds))
		if p.Level > 0 {
			text += fmt.Sprintf(", at %g %% of its brightness", p.Level)
		}
		t.say(fmt.Sprintf("passages/%d", i), 1, "%s", text)
	}
	t.field("ending", "Then", map[light.Ending]string{
		light.EndRepeat: "from the first again", light.EndHold: "the last scene stays",
		light.EndFadeOut: "the lights go out", light.EndLetGo: "what lies below shows again",
	}[s.Ending])
	return t.lines
}

// effectWords say how light moves.
var effectWords = map[light.EffectKind]string{
	light.Drift: "Drifts around its colors", light.Candle: "Flickers like a candle", light.Embers: "Glows like embers",
	light.Storm: "A storm with lightning", light.Pulse: "Swells and ebbs", light.Sunrise: "The sun rises",
}

// effect says how light moves, of which lamps, and how fast, bright and deep.
func (t *teller) effect(e *light.Effect) {
	t.say("effect/kind", 0, "%s", effectWords[e.Kind])
	for i, id := range e.Lights {
		t.say(fmt.Sprintf("effect/lights/%d", i), 1, "the lamps of %s", t.title(id))
	}
	for i, id := range e.Lamps {
		t.say(fmt.Sprintf("effect/lamps/%d", i), 1, "%s", t.title(id))
	}
	if e.ByLamps {
		t.say("effect/byLamps", 1, "lamps that can do it by themselves do so")
	}
	if round := e.Round(); round > 0 {
		t.say("effect/roundSeconds", 1, "a round in %s", duration(round.Seconds()))
	}
	if e.Pace > 0 {
		t.say("effect/pace", 1, "at %g %% of its usual speed", e.Pace)
	}
	if e.Level > 0 {
		t.say("effect/level", 1, "at %g %% at its brightest", e.Level)
	}
	if e.Depth != nil {
		t.say("effect/depth", 1, "moving by %g %%", *e.Depth)
	}
	if len(e.Palette) > 0 {
		t.say("effect/palette", 1, "in %d colors of its own", len(e.Palette))
	}
	if e.Seconds > 0 {
		t.say("effect/seconds", 1, "for %s", duration(e.Seconds))
	}
	if e.AllStop {
		t.say("effect/allStop", 1, "until a hand takes one of its lamps")
	}
	if e.Flashing {
		t.say("effect/flashing", 1, "and it may flash more than three times a second")
	}
}

// Schedule says when a schedule acts, and what it does.
func Schedule(s *rule.Schedule, names Names) []Line {
	t := &teller{names: names, lines: Head(s.Title, s.Note, s.Enabled)}
	t.say("at", 0, "At %s", moment(&s.At))
	t.steps("do", s.Do, 1)
	return t.lines
}

// Dashboard says which controls stand where.
func Dashboard(d *board.Dashboard, names Names) []Line {
	t := &teller{names: names}
	t.head(d.Title, "")
	t.field("icon", "Icon", d.Icon)
	for i := range d.Controls {
		c := &d.Controls[i]
		t.say(fmt.Sprintf("controls/%d", i), 1, "%s, column %d, row %d, %d × %d", t.control(c), c.Column+1, c.Row+1, c.Width, c.Height)
	}
	return t.lines
}

// control says what a control is about.
func (t *teller) control(c *board.Control) string {
	spec, known := board.Of(c.Kind)
	switch {
	case c.Label != "":
		return c.Label
	case !known:
		return string(c.Kind)
	}
	for _, id := range []string{c.Scene, c.Sequence, c.Light, c.Rule, c.Dashboard} {
		if id != "" {
			return t.title(id)
		}
	}
	switch {
	case c.Property != "":
		subject, _ := t.subject(c.Device, "", c.Property)
		return subject
	case c.Device != "":
		return t.title(c.Device)
	default:
		return spec.Title
	}
}

// JSON gives a document that another maker wrote as the lines of its own text.
func JSON(data []byte) []Line {
	var out bytes.Buffer
	if json.Indent(&out, data, "", "  ") != nil {
		return []Line{{Text: string(data)}}
	}
	t := &teller{}
	for i, line := range strings.Split(out.String(), "\n") {
		text := strings.TrimLeft(line, " ")
		t.say(strconv.Itoa(i), (len(line)-len(text))/2, "%s", text)
	}
	return t.lines
}

// Person says who somebody is to the home.
func Person(p *home.Person, names Names) []Line {
	t := &teller{}
	t.head(p.Title, "")
	t.field("role", "Role", string(p.Role))
	t.field("color", "Color", p.Color)
	if !p.Until.IsZero() {
		t.say("until", 0, "Until %s", p.Until.Format("2 January 2006 15:04"))
	}
	for i, id := range p.Dashboards {
		t.say(fmt.Sprintf("dashboards/%d", i), 0, "Dashboard: %s", names.Title(id))
	}
	return t.lines
}

package views

import (
	"cmp"
	"slices"
	"strings"
	"time"

	"amvek/core/cause"
	"amvek/core/recap"
	"amvek/core/rule"
	"amvek/core/thing"
	"amvek/hub/docs"
)

// Since is what happened since a time that somebody who was away may want to know.
type Since struct {
	From time.Time `json:"from"`
	// Acted is how often rules acted.
	Acted int `json:"acted" doc:"How often rules acted."`
	// Most are the rules that acted most often.
	Most []RuleCount `json:"most" doc:"The rules that acted most often."`
	// Failed are runs that did not come to their end, by rule.
	Failed []RuleCount `json:"failed" doc:"Runs that did not come to their end, by rule."`
	// Commands are commands that were not carried out, by device.
	Commands []DeviceCount `json:"commands" doc:"Commands that were not carried out, by device."`
	// Never are rules that are switched on and did not act once.
	Never []NeverActed `json:"never" doc:"Rules that are switched on and did not act once."`
	// Corrections are where hands correct rules, of the last 30 days, and where they do no more.
	Corrections []Correction `json:"corrections" doc:"Where hands correct rules, over the last 30 days, and where they no longer do."`
	// New are devices that came into the home, and Silent those that fell silent and still are.
	New    []DeviceNote `json:"new" doc:"Devices that came into the home."`
	Silent []DeviceNote `json:"silent" doc:"Devices that fell silent and still are."`
}

// RuleActs is how often a rule acted, how often its runs failed, and how often a condition kept it back.
type RuleActs struct{ Acted, Failed, KeptBack int }

// RuleCount is a rule and how often.
type RuleCount struct {
	Rule  string `json:"rule"`
	Title string `json:"title"`
	Count int    `json:"count"`
}

// DeviceCount is a device, how often, and what was said last.
type DeviceCount struct {
	DeviceNote
	Count int      `json:"count"`
	Entry cause.ID `json:"entry" doc:"The last of them in the journal."`
}

// DeviceNote is a device and what is said of it.
type DeviceNote struct {
	Device string `json:"device"`
	Title  string `json:"title"`
	Text   string `json:"text,omitempty"`
}

// NeverActed is a rule that did not act, and by what.
type NeverActed struct {
	Rule  string `json:"rule"`
	Title string `json:"title"`
	// KeptBack is how often a condition kept it from beginning.
	KeptBack int    `json:"keptBack,omitempty" doc:"How often a condition kept it from beginning."`
	Reason   string `json:"reason,omitempty" doc:"What keeps it from acting now."`
}

// Corrected is that hands correct what a rule does, or did until it was changed.
type Corrected struct {
	recap.Correction
	Rule, Device, Property string
	// Changed is when the rule was changed, where hands corrected it until then and not in the ActsSince.
	Changed   time.Time
	ActsSince int
}

// Correction is [Corrected] in words.
type Correction struct {
	Rule        string  `json:"rule"`
	RuleTitle   string  `json:"ruleTitle"`
	Device      string  `json:"device"`
	DeviceTitle string  `json:"deviceTitle"`
	Property    string  `json:"property"`
	Acts        int     `json:"acts" doc:"How often the rule set it."`
	Corrected   int     `json:"corrected" doc:"After how many of these a hand set it otherwise, in the same direction."`
	Lower       bool    `json:"lower"`
	From        string  `json:"from" doc:"What the rule set it to."`
	To          string  `json:"to" doc:"What hands set it to, in the middle."`
	Chance      float64 `json:"chance" doc:"How likely it is that chance does as much, by a two-sided exact binomial test."`
	// Change is the rule as it would have spared that.
	Change *rule.Rule `json:"change,omitempty" doc:"The rule as it would have spared that; absent where its value is not fixed in the rule."`
	Based  int        `json:"based,omitempty" doc:"The revision of the rule that was changed for this."`
	// Ended is when the rule was changed, since when hands correct it no more in ActsSince acts.
	Ended     time.Time `json:"ended,omitzero" doc:"When the rule was changed, since when hands no longer correct it; absent where they do."`
	ActsSince int       `json:"actsSince,omitempty" doc:"How often it has acted since then."`
}

const (
	// mostRules bounds the rules that acted most often.
	mostRules = 5
	// reasonsAtMost bounds the rules of which it is told why they did not act.
	reasonsAtMost = 30
)

// Since puts together what happened since a time. Given is how often each rule acted, the commands that failed, newest first,
// and where hands correct rules.
func (r *Reader) Since(from time.Time, acts map[string]RuleActs, failed []cause.Entry, corrections []Corrected) Since {
	s := Since{
		From: from, Most: []RuleCount{}, Failed: []RuleCount{}, Never: []NeverActed{}, New: []DeviceNote{}, Silent: []DeviceNote{},
		Commands: r.failedCommands(failed), Corrections: []Correction{},
	}
	for _, id := range r.Definitions.Rules.IDs() {
		doc, of := r.Definitions.Rules[id].Doc, acts[id]
		s.Acted += of.Acted
		if of.Acted > 0 {
			s.Most = append(s.Most, RuleCount{id, doc.Title, of.Acted})
		}
		if of.Failed > 0 {
			s.Failed = append(s.Failed, RuleCount{id, doc.Title, of.Failed})
		}
		if of.Acted == 0 && doc.Enabled {
			s.Never = append(s.Never, NeverActed{Rule: id, Title: doc.Title, KeptBack: of.KeptBack})
		}
	}
	byCount := func(a, b RuleCount) int { return cmp.Or(b.Count-a.Count, cmp.Compare(a.Title, b.Title)) }
	slices.SortFunc(s.Most, byCount)
	slices.SortFunc(s.Failed, byCount)
	slices.SortFunc(s.Never, func(a, b NeverActed) int { return cmp.Or(b.KeptBack-a.KeptBack, cmp.Compare(a.Title, b.Title)) })
	s.Most = s.Most[:min(len(s.Most), mostRules)]
	for i := range s.Never[:min(len(s.Never), reasonsAtMost)] {
		s.Never[i].Reason = r.keeps(s.Never[i].Rule, r.Definitions.Rules[s.Never[i].Rule].Doc)
	}
	for _, c := range corrections {
		if words, there := r.correction(c); there {
			s.Corrections = append(s.Corrections, words)
		}
	}
	for _, id := range r.Definitions.Devices.IDs() {
		if id == docs.OwnID {
			continue
		}
		title := r.Definitions.Device(id).Title
		if r.Kept.AddedAt(id).After(from) {
			s.New = append(s.New, DeviceNote{Device: id, Title: title})
		}
		if said := r.fellSilent(id); said != "" {
			if known, _, _ := r.Engine.DeviceState(id); known.Rhythm.Heard.After(from) {
				s.Silent = append(s.Silent, DeviceNote{Device: id, Title: title, Text: said})
			}
		}
	}
	return s
}

// keeps says what keeps a rule from acting now, "" where nothing does: that what starts it did not come is plain from that it
// did not act.
func (r *Reader) keeps(id string, doc *rule.Rule) string {
	for _, reason := range r.WhyNot(id, doc, nil) {
		if reason.Keeps {
			return strings.TrimSuffix(reason.Text, ": "+notCome) // what it waits for
		}
	}
	return ""
}

func (r *Reader) failedCommands(failed []cause.Entry) []DeviceCount {
	list := []DeviceCount{}
	for _, e := range failed {
		if i := slices.IndexFunc(list, func(c DeviceCount) bool { return c.Device == e.Device }); i >= 0 {
			list[i].Count++
		} else if d := r.Definitions.Device(e.Device); d != nil {
			list = append(list, DeviceCount{DeviceNote{e.Device, d.Title, e.Note}, 1, e.ID})
		}
	}
	slices.SortStableFunc(list, func(a, b DeviceCount) int { return b.Count - a.Count })
	return list
}

// correction puts into words that hands correct a rule.
func (r *Reader) correction(c Corrected) (Correction, bool) {
	kept, d := r.Definitions.Rules[c.Rule], r.Definitions.Device(c.Device)
	p := r.Engine.Property(c.Device, c.Property)
	if kept.Doc == nil || d == nil || p == nil {
		return Correction{}, false
	}
	words := Correction{
		Rule: c.Rule, RuleTitle: kept.Doc.Title, Device: c.Device, DeviceTitle: d.Title, Property: c.Property,
		Acts: c.Acts, Corrected: c.Corrected, Lower: c.Lower, From: p.Say(c.From), To: p.Say(c.To), Chance: c.Chance,
		Ended: c.Changed, ActsSince: c.ActsSince,
	}
	if c.Changed.IsZero() && kept.Doc.Enabled && c.To.Kind == thing.KindNumber {
		if change, there := recap.Spare(kept.Doc, thing.Ref{Device: c.Device, Name: c.Property}, c.From, c.To); there {
			words.Change, words.Based = change, kept.Revision
		}
	}
	return words, true
}

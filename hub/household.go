package hub

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"time"

	"amvek/core/cause"
	"amvek/core/engine"
	"amvek/core/home"
	"amvek/core/thing"
	"amvek/hub/docs"
	"amvek/hub/show"
	"amvek/store"
)

// describeOwn describes the home itself as a device, with its modes and variables.
func (h *Hub) describeOwn() *home.Device {
	doc := own()
	modes := h.definitions.Modes()
	doc.Description.Properties = append(doc.Description.Properties, modes.Property())
	for _, id := range h.definitions.Variables.IDs() {
		doc.Description.Properties = append(doc.Description.Properties, h.definitions.Variables[id].Doc.Property(id))
	}
	return doc
}

// redefineOwn does so when a mode or a variable was made, changed or removed.
func (h *Hub) redefineOwn() {
	if h.linked {
		h.put(docs.KindDevice, docs.OwnID, 0, h.describeOwn(), "")
		h.firstValues()
	}
}

// firstValues gives what the home itself keeps a value where it has none, or one that it can have no longer.
func (h *Hub) firstValues() {
	modes := h.definitions.Modes()
	h.first(home.ModeProperty, thing.Text(modes.Modes[0].ID))
	for _, id := range h.definitions.Variables.IDs() {
		h.first(id, h.definitions.Variables[id].Doc.First())
	}
}

func (h *Hub) first(name string, value thing.Value) {
	ref := thing.Ref{Device: docs.OwnID, Name: name}
	state, there := h.engine.PropertyState(ref)
	p := h.engine.Property(ref.Device, ref.Name)
	switch {
	case !there || p == nil || p.Computed != "":
	case state.Target.IsNone():
		h.handle(engine.Input{Kind: engine.InputReport, Device: docs.OwnID, Name: name, Value: value})
	case p.Check(state.Target) != nil:
		h.handle(engine.Input{Kind: engine.InputWrite, Device: docs.OwnID, Name: name, Value: value, Doer: cause.By{Who: cause.Person, Via: cause.ViaPage}})
	}
}

// Notice is something that the household was told.
type Notice struct {
	ID   string    `json:"id"`
	At   time.Time `json:"at"`
	Text string    `json:"text"`
	// Entry is the journal entry that it follows from.
	Entry cause.ID `json:"entry"`
	// SeenAt is when somebody acknowledged it.
	SeenAt time.Time `json:"seenAt,omitzero" doc:"When somebody acknowledged it; absent until then."`
	// Answers are those that a question can be given, and Answer the one that it was.
	Answers []string `json:"answers,omitempty"`
	Answer  string   `json:"answer,omitempty"`
	// Question is the call that an answer is for.
	Question uint64 `json:"question,omitempty"`
	// Panels are those that show it: of one dashboard, all, or none; until a time or until it was seen.
	Panels string    `json:"panels,omitempty" doc:"Id of the dashboard whose panels show it, or all; absent for none."`
	Until  time.Time `json:"until,omitzero" doc:"Until when panels show it; absent for until it was seen."`
}

// noticesAtMost is how many notices are kept; the oldest acknowledged ones go first.
const noticesAtMost = 200

const stateNotice = "notice"

// notify tells the household something. It runs in the loop.
func (h *Hub) notify(out *engine.Output) {
	t := out.Telling
	n := Notice{
		ID:       docs.NewID("notice"),
		At:       h.clock.Now(),
		Text:     t.Text,
		Entry:    out.Cause,
		Answers:  t.Answers,
		Question: out.Command,
		Panels:   t.Panels,
		Until:    t.Until,
	}
	h.notices = append(h.notices, n)
	if len(h.notices) > noticesAtMost {
		oldest := slices.IndexFunc(h.notices, func(n Notice) bool { return !n.SeenAt.IsZero() })
		oldest = max(oldest, 0)
		h.store.RemoveState(stateNotice, h.notices[oldest].ID)
		forgotten := h.notices[oldest]
		h.notices = slices.Delete(h.notices, oldest, oldest+1)
		h.touchNotice(&forgotten)
	}
	if len(n.Answers) == 0 {
		h.keepNotice(n)
		return
	}
	// A question and the run that waits for its answer are kept together.
	h.putStates()
	h.keepNotice(n)
	h.store.Hurry()
}

func (h *Hub) keepNotice(n Notice) {
	data, err := json.Marshal(n)
	if err != nil {
		h.log.Error("a notice cannot be kept", "error", err)
		return
	}
	h.store.PutState(store.State{Kind: stateNotice, Owner: n.ID, JSON: data})
	h.touchNotice(&n)
}

func (h *Hub) touchNotice(n *Notice) {
	h.shown.board.Touch(show.Key{Of: shownNotice, ID: n.ID, Name: n.Panels})
}

// Notices returns what the household was told, the newest first.
func (h *Hub) Notices(ctx context.Context) (list []Notice, err error) {
	err = h.do(ctx, func() { list = slices.Clone(h.notices) })
	if list == nil {
		list = []Notice{}
	}
	slices.Reverse(list)
	return list, err
}

// Acknowledge takes that somebody has seen a notice.
func (h *Hub) Acknowledge(ctx context.Context, id string) error {
	err := Absent("There is no such notice.")
	if failed := h.do(ctx, func() {
		for i := range h.notices {
			if n := &h.notices[i]; n.ID == id {
				err = nil
				if n.SeenAt.IsZero() {
					n.SeenAt = h.clock.Now()
					h.keepNotice(*n)
				}
			}
		}
	}); failed != nil {
		return failed
	}
	return err
}

// AnswerQuestion gives a question the household's answer.
func (h *Hub) AnswerQuestion(ctx context.Context, id, answer string, by cause.By) error {
	err := Absent("There is no such question.")
	if failed := h.do(ctx, func() {
		i := slices.IndexFunc(h.notices, func(n Notice) bool { return n.ID == id && len(n.Answers) > 0 })
		if i < 0 {
			return
		}
		n := &h.notices[i]
		switch {
		case !slices.Contains(n.Answers, answer):
			err = Invalid("answer", "This is none of its answers.")
			return
		case n.Answer != "":
			err = &ConflictError{"It was answered already: " + n.Answer + "."}
			return
		case !h.engine.Awaited(n.Question):
			err = &ConflictError{"The rule that asked no longer waits for an answer."}
		default:
			err = nil
			n.Answer = answer
		}
		if n.SeenAt.IsZero() {
			n.SeenAt = h.clock.Now()
		}
		h.keepNotice(*n)
		if err == nil {
			h.handle(engine.Input{Kind: engine.InputAnswer, Command: n.Question, OK: true, Words: answer, Doer: by})
		}
	}); failed != nil {
		return failed
	}
	return err
}

// Phrase takes a phrase that was said or typed.
func (h *Hub) Phrase(ctx context.Context, words string, by cause.By) error {
	if strings.TrimSpace(words) == "" {
		return Invalid("words", "Say something.")
	}
	return h.Act(ctx, engine.Input{Kind: engine.InputPhrase, Words: words, Doer: by})
}

// MaximumSent is how much another program may send with a call, in bytes: runs keep it until they end.
const MaximumSent = 16 << 10

// Call takes a call of another program.
// What it sends with it is JSON, or nothing.
func (h *Hub) Call(ctx context.Context, name, sent string, by cause.By) error {
	switch {
	case len(sent) > MaximumSent:
		return Invalid("body", fmt.Sprintf("At most %d kB can be sent with a call.", MaximumSent/1024))
	case sent != "" && !json.Valid([]byte(sent)):
		return Invalid("body", "What is sent with a call is JSON.")
	}
	return h.Act(ctx, engine.Input{Kind: engine.InputCall, Words: name, Sent: sent, Doer: by})
}

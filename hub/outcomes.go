package hub

import (
	"amvek/connect"
	"amvek/connect/outside"
	"amvek/core/cause"
	"amvek/core/engine"
	"amvek/hub/docs"
	"amvek/hub/views"
)

func (h *Hub) undelivered(out engine.Output, reason string) {
	if out.Kind == engine.OutputInvoke {
		h.inbox.push(item{job: func() { h.actionFailed(out, reason) }})
		h.answer(out.Command, "", reason)
		return
	}
	h.inbox.push(
		item{input: &engine.Input{Kind: engine.InputOutcome, Device: out.Device, Name: out.Name, Command: out.Command, Unreached: true, Reason: reason}},
	)
}

func (h *Hub) outcome(out engine.Output, o connect.Outcome) {
	if out.Kind == engine.OutputInvoke {
		if !o.OK {
			h.inbox.push(item{job: func() { h.actionFailed(out, o.Reason) }})
		} else {
			h.inbox.push(item{patient: true, job: func() { h.carriedOut(out.Device, out.Name) }})
		}
		h.answered(out, o)
		return
	}
	h.inbox.push(item{patient: o.OK, input: &engine.Input{
		Kind: engine.InputOutcome, Device: out.Device, Name: out.Name, Command: out.Command,
		OK: o.OK, Assumed: o.Assumed, Unreached: o.Unreached, Reason: o.Reason,
	}})
}

// answered tells what a device answered an action with, and a run that waits for it.
func (h *Hub) answered(out engine.Output, o connect.Outcome) {
	words, reason := o.Answer, ""
	if !o.OK {
		reason = o.Reason
	} else if picked, err := outside.Pick(o.Answer, out.Pick); err != nil {
		words, reason = "", connect.Sentence(err)
	} else {
		words = picked
	}
	h.inbox.push(item{job: func() {
		if o.Answer != "" {
			h.note(cause.Entry{Kind: cause.Replied, Parent: out.Cause, Device: out.Device, Name: out.Name, Note: shortened(o.Answer)})
		}
	}})
	h.answer(out.Command, words, reason)
}

// answerShown is how many characters of an answer the journal tells.
const answerShown = 200

func shortened(text string) string {
	if letters := []rune(text); len(letters) > answerShown {
		return string(letters[:answerShown]) + " …"
	}
	return text
}

// note writes down what came of something, beside what the engine writes. It runs in the loop.
func (h *Hub) note(e cause.Entry) {
	entry := h.engine.Note(e, h.clock.Now())
	h.store.AddEntry(entry)
	h.tellEntry(entry)
}

// actionFailed writes down that an action was not carried out; it has no property to show it at.
func (h *Hub) actionFailed(out engine.Output, reason string) {
	h.log.Warn("an action was not carried out", "device", h.titles[out.Device], "action", out.Name, "reason", reason)
	h.note(cause.Entry{Kind: cause.Failed, Parent: out.Cause, Device: out.Device, Name: out.Name, Note: reason})
	if h.undone == nil {
		h.undone = map[string]map[string]views.Undone{}
	}
	if h.undone[out.Device] == nil {
		h.undone[out.Device] = map[string]views.Undone{}
	}
	h.undone[out.Device][out.Name] = views.Undone{Action: out.Name, Reason: reason, At: h.clock.Now()}
	h.touch(docs.KindDevice, out.Device)
}

// carriedOut takes it that a device did what it was asked. It runs in the loop.
func (h *Hub) carriedOut(device, action string) {
	if _, was := h.undone[device][action]; was {
		delete(h.undone[device], action)
		h.touch(docs.KindDevice, device)
	}
}

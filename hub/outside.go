package hub

import (
	"context"
	"errors"
	"net/http"

	"amvek/connect"
	"amvek/connect/outside"
	"amvek/core/engine"
	"amvek/core/rule"
)

// callsAtOnce bounds how many calls outside are under way; more are refused, so that nothing piles up.
const callsAtOnce = 32

var errNoBroker = errors.New("the hub runs without a broker of its own")

// reachOut does what a rule asks for outside, beside the loop, and gives the engine the answer. It runs in the loop.
func (h *Hub) reachOut(out *engine.Output) {
	call, id := *out.Call, out.Command
	if h.calling >= callsAtOnce {
		h.answer(id, "", "Too much is asked for outside at once.")
		return
	}
	h.calling++
	h.workers.Go(func() {
		ctx, cancel := context.WithTimeout(h.context, call.Limit)
		defer cancel()
		words, err := h.call(ctx, &call)
		if err == nil {
			words, err = outside.Pick(words, call.Pick)
		}
		reason := ""
		if err != nil {
			reason = connect.Sentence(err)
		}
		_ = h.do(h.context, func() { // the hub ends else
			h.calling--
			h.answer(id, words, reason)
		})
	})
}

// answer gives the engine an answer, after what is being handled.
func (h *Hub) answer(id uint64, words, reason string) {
	h.inbox.push(item{input: &engine.Input{Kind: engine.InputAnswer, Command: id, OK: reason == "", Words: words, Reason: reason}})
}

func (h *Hub) call(ctx context.Context, call *engine.Call) (string, error) {
	switch call.Kind {
	case rule.StepWeb:
		to, err := h.reveal(ctx, call.Address)
		if err != nil {
			return "", err
		}
		return outside.Web(ctx, h.web(call.OwnMachine), outside.Request{Address: to, Method: call.Method, Body: call.Body})
	case rule.StepPublish:
		if h.broker == nil {
			return "", errNoBroker
		}
		return "", h.broker.Publish(call.Topic, []byte(call.Body), call.Retain)
	default:
		return h.programs.Run(ctx, call.Program, call.Arguments)
	}
}

// web returns the client for what is called outside.
func (h *Hub) web(ownMachine bool) *http.Client {
	if ownMachine {
		return h.anywhere
	}
	return h.elsewhere
}

// Programs returns the names of the programs that rules can run.
func (h *Hub) Programs() []string { return h.programs.List() }

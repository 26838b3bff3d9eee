package hub

import (
	"context"
	"time"

	"amvek/core/cause"
	"amvek/hub/links"
)

// MessagesView is what went over connections.
type MessagesView struct {
	// Newest is the number of the newest message, wanted or not: ask for what came after it.
	Newest   uint64              `json:"newest" doc:"The number of the newest message: ask next for those after it."`
	Messages []links.WireMessage `json:"messages"`
	// Lost is how many were left out before they could be read.
	Lost uint64 `json:"lost,omitempty" doc:"How many came and were left out before they could be read."`
}

// NewestMessage is told to those who look at messages.
type NewestMessage struct {
	Newest uint64 `json:"newest" doc:"The number of the newest message."`
}

// messagesEvery is how often, at most, it is told that messages came.
const messagesEvery = 250 * time.Millisecond

// messaged is what was told of messages. It belongs to the loop.
type messaged struct {
	at   time.Time
	told uint64
}

// sayMessages tells those who look at messages that there are new ones. It returns how long until there is more to tell, and
// whether there may be. It runs in the loop.
func (h *Hub) sayMessages(now time.Time) (left time.Duration, waits bool) {
	if left = messagesEvery - now.Sub(h.messaged.at); left > 0 {
		return left, h.messaged.told != 0
	}
	h.messaged.at = now
	if !h.Feed.Looks(toldMessage) {
		h.messaged.told = 0
		return 0, false
	}
	if newest := h.messages.Newest(); newest != h.messaged.told {
		h.messaged.told = newest
		h.say(toldMessage, "", NewestMessage{newest})
	}
	return messagesEvery, true
}

// Messages returns what went over connections lately.
func (h *Hub) Messages(_ context.Context, wanted links.Wanted) MessagesView {
	newest := h.messages.Newest()
	list, lost := h.messages.Read(wanted)
	if len(list) > 0 {
		newest = max(newest, list[len(list)-1].Number)
	}
	if list == nil {
		list = []links.WireMessage{}
	}
	return MessagesView{Newest: newest, Messages: list, Lost: lost}
}

// SayByHand publishes a message that somebody wrote, and writes that down.
func (h *Hub) SayByHand(ctx context.Context, id, topic, payload string, by cause.By) error {
	if err := h.Say(ctx, id, topic, payload); err != nil {
		return err
	}
	return h.do(ctx, func() {
		entry := h.engine.Note(cause.Entry{Kind: cause.SentByHand, Connection: id, Name: topic, By: by}, h.clock.Now())
		h.store.AddEntry(entry)
		h.tellEntry(entry)
	})
}

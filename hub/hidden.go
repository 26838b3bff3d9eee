package hub

import (
	"bytes"
	"cmp"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"regexp"
	"slices"
	"strings"

	"amvek/core/address"
	"amvek/core/home"
	"amvek/core/rule"
	"amvek/hub/docs"
)

// hiddenPart is the name of the secret in which a part of an address is kept, by the id of its mark. A mark is good only for
// the origin that it was hidden at, so that no key goes to another host by an edit of the address.
func hiddenPart(id string) string { return "hidden/" + id }

// addressesOf calls f for each web address in a document, and the place of it; what f returns takes its place.
func addressesOf(doc any, f func(path, address string) string) {
	put := func(path string, field *string) {
		if now := f(path, *field); now != *field { // documents that are at work are read by others
			*field = now
		}
	}
	steps := func(path string, list []rule.Step) {
		rule.Walk(path, list, func(path string, s *rule.Step) {
			if s.Address != "" {
				put(path+"/address", &s.Address)
			}
		})
	}
	switch doc := doc.(type) {
	case *home.Calendar:
		put("address", &doc.Address)
	case *docs.Thing:
		put("source", &doc.Source)
		if strings.HasPrefix(doc.Place, "http") {
			put("place", &doc.Place)
		}
		if now := linksOf(doc.Document, doc.Source, f); !bytes.Equal(now, doc.Document) {
			doc.Document = now
		}
	case *rule.Rule:
		steps("do", doc.Do)
		steps("afterwards", doc.Afterwards)
	case *rule.Schedule:
		steps("do", doc.Do)
	}
}

// addressMembers are the members of a Thing Description in which addresses stand.
var addressMembers = regexp.MustCompile(`"(?:href|base)"\s*:\s*("(?:[^"\\]|\\.)*")`)

// linksOf calls f for each web address in a Thing Description and returns it with what f returns in its place, and nothing else
// changed. An address that is not whole counts from the description's base, or from where it was read.
func linksOf(document json.RawMessage, source string, f func(path, address string) string) json.RawMessage {
	var described struct {
		Base string `json:"base"`
	}
	if json.Unmarshal(document, &described) != nil {
		return document
	}
	origin := address.Origin(cmp.Or(described.Base, source))
	return addressMembers.ReplaceAllFunc(document, func(member []byte) []byte {
		at := addressMembers.FindSubmatchIndex(member)
		var link string
		if json.Unmarshal(member[at[2]:at[3]], &link) != nil {
			return member
		}
		whole, lead := link, ""
		switch {
		case strings.HasPrefix(link, "http://") || strings.HasPrefix(link, "https://"):
		case !strings.Contains(link, ":") && strings.HasPrefix(origin, "http"):
			lead = origin + "/"
			whole = lead + link
		default:
			return member // by another protocol, whose addresses carry no keys
		}
		now := strings.TrimPrefix(f("document", whole), lead)
		if now == link {
			return member
		}
		quoted, err := json.Marshal(now)
		if err != nil {
			return member
		}
		return slices.Concat(member[:at[2]], quoted, member[at[3]:])
	})
}

// revealThing returns the Thing Description of a definition, and where it was read, as they are spoken with. It runs in the loop.
func (h *Hub) revealThing(doc *docs.Thing) (text []byte, source string, err error) {
	reveal := func(_, written string) string {
		if len(address.Marks(written)) == 0 {
			return written
		}
		revealed, failed := h.reveal(h.context, written)
		err = errors.Join(err, failed)
		return revealed
	}
	open := *doc
	open.Source, open.Place = reveal("", doc.Source), reveal("", doc.Place)
	open.Document = linksOf(slices.Clone(doc.Document), open.Source, reveal)
	if err != nil {
		return nil, "", err
	}
	text, err = h.description(&open)
	return text, open.Source, err
}

// hide puts marks in place of what gives access in the addresses of a document, and returns the parts that are to be kept, by
// the names of their secrets. It fails at an address where a key would go to a host that a formula decides.
func (h *Hub) hide(doc any) (parts map[string]string, err error) {
	parts = map[string]string{}
	addressesOf(doc, func(path, written string) string {
		hidden, wrong := address.Hide(written, func(p address.Part) string {
			data, _ := json.Marshal(p) // two texts
			id := h.store.Mark(string(data))
			parts[hiddenPart(id)] = string(data)
			return id
		})
		if wrong != nil && err == nil {
			err = Invalid(path, "An address that carries a key needs a fixed host: a formula may stand only after it.")
		}
		return hidden
	})
	return parts, err
}

// checkHidden fails where an address carries the mark of a part that is not kept here, or that was hidden at another host.
func (h *Hub) checkHidden(ctx context.Context, doc any, parts map[string]string) (err error) {
	addressesOf(doc, func(path, written string) string {
		for _, id := range address.Marks(written) {
			text, new := parts[hiddenPart(id)]
			if !new {
				there, failed := h.store.HasSecret(ctx, hiddenPart(id))
				if failed != nil || !there {
					err = Invalid(path, "The hidden part of this address is not known here: enter it again.")
					continue
				}
				if text, failed = h.store.Secret(ctx, hiddenPart(id)); failed != nil {
					continue // the key file is lost, which is told; the rest of the document can be saved nevertheless
				}
			}
			var part address.Part
			if json.Unmarshal([]byte(text), &part) != nil || part.Origin != address.Origin(written) {
				err = Invalid(path, "At another address somebody else may listen: enter the hidden part again.")
			}
		}
		return written
	})
	return err
}

// reveal returns an address as it is called, with its hidden parts.
func (h *Hub) reveal(ctx context.Context, written string) (string, error) {
	return address.Reveal(written, func(id string) (string, error) {
		text, err := h.store.Secret(ctx, hiddenPart(id))
		if err != nil || text == "" {
			return "", fmt.Errorf("the hidden part of its address cannot be read: enter it again")
		}
		var part address.Part
		if err := json.Unmarshal([]byte(text), &part); err != nil || part.Origin != address.Origin(written) {
			return "", fmt.Errorf("the hidden part of its address belongs to another host: enter it again")
		}
		return part.Text, nil
	})
}

// addressesHidden is the setting that says that no document of before has a key in its address any more.
const addressesHidden = "addresses hidden"

// hideOld hides what gives access in the addresses of documents that were saved before that was done as they were saved.
func (h *Hub) hideOld(ctx context.Context) error {
	done, err := h.store.Setting(ctx, addressesHidden)
	if err != nil || done != "" {
		return err
	}
	kinds := []string{string(docs.KindCalendar), string(docs.KindRule), string(docs.KindSchedule), string(docs.KindThing)}
	err = h.store.Rewrite(ctx, kinds, func(kind string, document []byte) ([]byte, map[string]string) {
		doc, err := docs.Decode(docs.Kind(kind), document)
		if err != nil {
			return document, nil // set aside, when its turn comes
		}
		parts, err := h.hide(doc)
		if err != nil || len(parts) == 0 {
			return document, nil
		}
		hidden, err := json.Marshal(doc)
		if err != nil {
			return document, nil
		}
		return hidden, parts
	})
	if err != nil {
		return err
	}
	return h.store.PutSetting(ctx, addressesHidden, "yes")
}

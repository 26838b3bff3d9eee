package hub

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"sync"
	"sync/atomic"
	"time"

	"amvek/core/board"
	"amvek/core/cause"
	"amvek/core/gate"
	"amvek/core/home"
	"amvek/hub/docs"
	"amvek/hub/sessions"
)

// people are those of the home, as whoever asks who may what needs them: without waiting for the loop.
type people struct {
	all    atomic.Pointer[map[string]home.Person]
	panels atomic.Pointer[map[string]Panel]
	home   atomic.Pointer[string] // what the home is called
	// admitted is by which names the hub is reached besides those of its machine, and for whose pages.
	admitted  atomic.Pointer[Admitted]
	admitting sync.Mutex    // held while that is read and written anew
	version   atomic.Uint64 // grows with whatever may change who may what

	favorites sync.Mutex // held while somebody's are read and written anew

	mu      sync.Mutex
	reaches map[string]workedOut
	out     keptOut
}

type workedOut struct {
	version uint64
	reach   *gate.Reach
}

// whoIsThere takes over who may what as the home is loaded. It runs in the loop, or before it.
func (h *Hub) whoIsThere() {
	h.homeCalled(h.definitions.House().Title)
	h.peopleChanged()
	h.describePanels()
	h.panelsChanged()
}

// homeCalled takes over what the home is called. It runs in the loop.
func (h *Hub) homeCalled(title string) { h.people.home.Store(&title) }

// peopleChanged takes over who there is. It runs in the loop.
func (h *Hub) peopleChanged() {
	all := make(map[string]home.Person, len(h.definitions.People))
	for id, person := range h.definitions.People {
		all[id] = *person.Doc
	}
	h.people.all.Store(&all)
	h.GateChanged()
}

// GateChanged says that somebody may have become able to see or do other things than before.
func (h *Hub) GateChanged() { h.people.version.Add(1) }

// GateVersion grows whenever somebody may have become able to see or do other things than before.
func (h *Hub) GateVersion() uint64 { return h.people.version.Load() }

// Person returns somebody of the home; it is false where there is nobody of this id.
func (h *Hub) Person(id string) (home.Person, bool) {
	all := h.people.all.Load()
	if all == nil {
		return home.Person{}, false
	}
	person, there := (*all)[id]
	return person, there
}

// Owned reports whether the home has an owner.
func (h *Hub) Owned() bool { return owners(h.everybody(), "") > 0 }

func (h *Hub) everybody() map[string]home.Person {
	if all := h.people.all.Load(); all != nil {
		return *all
	}
	return nil
}

func owners(all map[string]home.Person, but string) (n int) {
	for id := range all {
		if id != but && all[id].Role == home.Owner {
			n++
		}
	}
	return n
}

// Named returns the id of a person by their name, whatever its case; it is false where nobody, or more than one, is called so.
func (h *Hub) Named(title string) (id string, is bool) {
	title = strings.TrimSpace(title)
	for one, person := range h.everybody() {
		if strings.EqualFold(person.Title, title) {
			if is {
				return "", false
			}
			id, is = one, true
		}
	}
	return id, is
}

// checkPerson returns an error where the home would have no owner any more, or two people of one name. It runs in the loop, with
// the document in its place.
func (h *Hub) checkPerson(id string, doc *home.Person) error {
	owned := false
	for other, person := range h.definitions.People {
		owned = owned || person.Doc.Role == home.Owner
		if other != id && strings.EqualFold(strings.TrimSpace(person.Doc.Title), strings.TrimSpace(doc.Title)) {
			return Invalid("title", fmt.Sprintf("There is somebody called %s already.", person.Doc.Title))
		}
	}
	before, _ := h.Person(id)
	for i, board := range doc.Dashboards {
		// One that was removed since it was given does no harm.
		if h.definitions.Dashboards[board].Doc == nil && !slices.Contains(before.Dashboards, board) {
			return Invalid(fmt.Sprintf("dashboards[%d]", i), "There is no such dashboard.")
		}
	}
	if !owned && h.Owned() {
		return Invalid("role", errOwned.Message)
	}
	return nil
}

// errOwned is that nobody would own the home any more.
var errOwned = &ConflictError{"Somebody has to own the home: make another person an owner first."}

// checkLeaving returns an error where a person cannot be removed. It runs in the loop.
func (h *Hub) checkLeaving(id string, doc *home.Person) error {
	if doc.Role == home.Owner && owners(h.everybody(), id) == 0 {
		return errOwned
	}
	return nil
}

// personGone ends all by which a person was let in. It runs in the loop.
func (h *Hub) personGone(id string, _ *home.Person) {
	h.peopleChanged()
	h.workers.Go(func() {
		if err := h.Sessions.Forget(h.context, id); err != nil && !errors.Is(err, context.Canceled) {
			h.log.Error("the sessions of somebody who was removed could not be ended", "error", err)
		}
		if err := h.store.PutSetting(h.context, favoritesOf(id), ""); err != nil && !errors.Is(err, context.Canceled) {
			h.log.Error("what somebody who was removed kept at hand could not be forgotten", "error", err)
		}
		h.GateChanged()
	})
}

// Principal returns what a person may who is in by a way, through the eyes of another where one is given. It is false where
// they are not let in: they were removed, or are guests whose time is over.
func (h *Hub) Principal(ctx context.Context, person, eyes string, via cause.Via) (gate.Principal, bool) {
	principal := gate.Principal{By: cause.By{Who: cause.Person, ID: person, Via: via}, Rank: gate.Owning, Class: "all"}
	seen := person
	if eyes != "" {
		seen = eyes
	}
	if seen == "" {
		return principal, true // whoever is at the machine itself
	}
	if panel, is := h.Panel(seen); is {
		as, there := h.panelPrincipal(ctx, seen, panel)
		if eyes != "" {
			as.By = principal.By // what is done through other eyes stays one's own
		}
		return as, there
	}
	doc, there := h.Person(seen)
	if !there || !doc.In(h.clock.Now()) {
		return gate.Principal{}, false
	}
	principal.Rank = gate.Of(doc.Role)
	if doc.Role != home.Guest {
		principal.Class = string(doc.Role)
		return principal, true
	}
	reach, version, err := h.reach(ctx, "person "+seen, func() *gate.Reach {
		return h.boards(doc.Dashboards, gate.Viewer{Role: string(doc.Role), ID: seen})
	})
	if err != nil {
		return gate.Principal{}, false
	}
	principal.Within, principal.Class = reach, fmt.Sprintf("guest %s %d", seen, version)
	return principal, true
}

// boards returns what somebody reaches who was given some dashboards. It runs in the loop.
func (h *Hub) boards(ids []string, by gate.Viewer) *gate.Reach {
	return gate.Boards(ids, by, func(id string) *board.Dashboard { return h.definitions.Dashboards[id].Doc }, h.definitions.Device)
}

// reach returns what somebody reaches who may not see all of the home, worked out anew in the loop only where something may have
// changed.
func (h *Hub) reach(ctx context.Context, who string, work func() *gate.Reach) (*gate.Reach, uint64, error) {
	version := h.GateVersion()
	h.people.mu.Lock()
	kept, there := h.people.reaches[who]
	h.people.mu.Unlock()
	if there && kept.version == version {
		return kept.reach, version, nil
	}
	var reach *gate.Reach
	if err := h.do(ctx, func() { reach = work() }); err != nil {
		return nil, 0, err
	}
	h.people.mu.Lock()
	defer h.people.mu.Unlock()
	if h.people.reaches == nil {
		h.people.reaches = map[string]workedOut{}
	}
	h.people.reaches[who] = workedOut{version, reach}
	return reach, version, nil
}

// BecomeOwner makes somebody an owner with a password: the owner of that name where there is one, else a new one. All who
// were let in as that owner before are out.
func (h *Hub) BecomeOwner(ctx context.Context, title, password string) (id string, err error) {
	if n := len([]rune(password)); n < sessions.ShortestPassword || n > sessions.LongestPassword {
		return "", Invalid("password", capital(sessions.ErrPassword.Error())+".")
	}
	id, there := h.Named(title)
	person, _ := h.Person(id)
	switch {
	case there && person.Role != home.Owner:
		return "", Invalid("title", fmt.Sprintf("%s is in the home already, and does not own it.", person.Title))
	case !there:
		id = docs.NewID(docs.KindPerson)
		owner := home.Person{Title: strings.TrimSpace(title), Role: home.Owner, Color: "verdigris"}
		if _, err := h.Save(ctx, New{Kind: docs.KindPerson, ID: id, Document: &owner}); err != nil {
			return "", err
		}
	}
	if err := h.Sessions.Forget(ctx, id); err != nil { // passkeys, too: the code may be wanted because one was lost
		return "", err
	}
	h.GateChanged()
	return id, h.Sessions.SetPassword(ctx, id, password)
}

func capital(s string) string { return strings.ToUpper(s[:1]) + s[1:] }

// EndOverdue ends the sessions of guests whose time is over, so that they stay out though the clock is set back.
func (h *Hub) EndOverdue(ctx context.Context, id string) {
	person, there := h.Person(id)
	if _, is := h.Panel(id); is || there && person.In(h.clock.Now()) {
		return
	}
	if err := h.Sessions.EndOf(ctx, id, ""); err != nil && !errors.Is(err, context.Canceled) {
		h.log.Error("the sessions of somebody who is out could not be ended", "error", err)
	}
	h.GateChanged()
}

// Of what is kept out no more than keptOutAtMost is written down in keptOutWithin, however much it is.
const (
	keptOutAtMost = 20
	keptOutWithin = time.Minute
)

// keptOut is what was kept out lately.
type keptOut struct {
	since time.Time
	said  map[string]bool
	more  int // that were not written down
}

// LetIn writes down that somebody was let in.
func (h *Hub) LetIn(ctx context.Context, by cause.By, how string) {
	_ = h.do(ctx, func() { h.note(cause.Entry{Kind: cause.LetIn, By: by, Note: how}) })
}

// WayIn writes down what somebody did to a way in: "made a passkey".
func (h *Hub) WayIn(ctx context.Context, by cause.By, did string) {
	_ = h.do(ctx, func() { h.note(cause.Entry{Kind: cause.WayIn, By: by, Note: did}) })
}

// KeptOut writes down that something was kept out, the same once a minute, and of a flood its beginning and how much it was.
func (h *Hub) KeptOut(ctx context.Context, what string) {
	if note, is := h.people.keepOut(what, time.Now()); is {
		_ = h.do(ctx, func() { h.note(cause.Entry{Kind: cause.KeptOut, Note: note}) })
	}
}

// keepOut returns what is written down of something that was kept out; it is false where that is nothing.
func (p *people) keepOut(what string, now time.Time) (note string, is bool) {
	p.mu.Lock()
	defer p.mu.Unlock()
	more := 0
	if now.Sub(p.out.since) >= keptOutWithin {
		more = p.out.more
		p.out = keptOut{since: now, said: map[string]bool{}}
	}
	if p.out.said[what] || len(p.out.said) >= keptOutAtMost {
		p.out.more++
		return "", false
	}
	p.out.said[what] = true
	switch more {
	case 0:
		return what, true
	case 1:
		return what + " One more was kept out before.", true
	default:
		return fmt.Sprintf("%s %d more were kept out before.", what, more), true
	}
}

// WithPasswords returns the ids of those who have a password.
func (h *Hub) WithPasswords(ctx context.Context) []string {
	ids := []string{}
	for id := range h.everybody() {
		if h.Sessions.HasPassword(ctx, id) {
			ids = append(ids, id)
		}
	}
	slices.Sort(ids)
	return ids
}

// Title returns what the home is called.
func (h *Hub) Title() string {
	if title := h.people.home.Load(); title != nil {
		return *title
	}
	return ""
}

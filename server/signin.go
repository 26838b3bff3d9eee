package server

import (
	"context"
	"crypto/subtle"
	"errors"
	"fmt"
	"net"
	"net/http"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"amvek/core/cause"
	"amvek/core/gate"
	"amvek/core/home"
	"amvek/hub"
	"amvek/hub/sessions"
)

// SessionView says who a browser is to the hub.
type SessionView struct {
	// State is whether somebody is in, or what is to be done for that.
	State string `json:"state" enum:"setUp,signIn,in" doc:"setUp: the home has no owner yet; signIn: nobody is in; in: somebody is."`
	// Home is what the home is called, for whoever is in.
	Home   string    `json:"home,omitempty"`
	Person string    `json:"person,omitempty" doc:"Who is in; absent for whoever is at the hub's own machine."`
	Title  string    `json:"title,omitempty" doc:"What they are called."`
	Role   home.Role `json:"role,omitempty" enum:",owner,member,guest,panel" doc:"What they may here."`
	// LooksAs is the person through whose eyes an owner looks.
	LooksAs string `json:"looksAs,omitempty" doc:"The person through whose eyes an owner looks."`
	Eyes    string `json:"eyes,omitempty" doc:"What that person is called."`
	// Dashboards are those that a guest was given.
	Dashboards []string `json:"dashboards,omitempty"`
	// Keys are those of a panel that do something.
	Keys    []hub.PanelKey `json:"keys,omitempty" doc:"The keys of a panel that do something."`
	Now     time.Time      `json:"now" doc:"By the hub's clock."`
	Session string         `json:"session,omitempty" doc:"Names this session among all."`
}

// letIn is an answer with the cookie of a session.
type letIn struct {
	SetCookie []http.Cookie `header:"Set-Cookie"`
	Body      SessionView
}

// sessionLasts is how long a browser keeps the cookie of its session; the hub may end it before.
const sessionLasts = 400 * 24 * time.Hour

// cookie is the name of the cookie, of this hub among those of one machine: cookies do not tell ports apart.
func (s *Server) cookie() string {
	if s.listener == nil {
		return "amvek"
	}
	_, port, err := net.SplitHostPort(s.Address())
	if err != nil {
		return "amvek"
	}
	return "amvek-" + port
}

// setCookie has the browser of a request keep the secret of its session.
func (s *Server) setCookie(ctx context.Context, secret string, lasts time.Duration) []http.Cookie {
	return []http.Cookie{{
		Name: s.cookie(), Value: secret, Path: "/", MaxAge: int(lasts.Seconds()), HttpOnly: true, Secure: strings.HasPrefix(who(ctx).origin, "https:"), SameSite: http.SameSiteStrictMode,
	}}
}

// account is what wrong passwords are counted by of somebody who is not there, together.
const account = "nobody"

func (s *Server) registerSignIn(api huma.API) {
	get(s, api, "session", "/session", "Who this browser is to the hub", func(ctx context.Context) (SessionView, error) {
		return s.sessionView(who(ctx)), nil
	})
	operation(s, api, "become-owner", http.MethodPost, "/owner", "Become an owner, by the code of the hub's machine", func(ctx context.Context, in *struct {
		UserAgent string `header:"User-Agent"`
		Body      struct {
			Code     string `json:"code" maxLength:"80"`
			Title    string `json:"title" minLength:"1" maxLength:"60"`
			Password string `json:"password" maxLength:"1000"`
		}
	}) (*letIn, error) {
		return s.becomeOwner(ctx, in.Body.Code, in.Body.Title, in.Body.Password, in.UserAgent)
	})
	operation(s, api, "sign-in", http.MethodPost, "/session", "Sign in with a name and a password", func(ctx context.Context, in *struct {
		UserAgent string `header:"User-Agent"`
		Body      struct {
			Title    string `json:"title" maxLength:"60"`
			Password string `json:"password" maxLength:"1000"`
		}
	}) (*letIn, error) {
		return s.signIn(ctx, in.Body.Title, in.Body.Password, in.UserAgent)
	})
	operation(s, api, "come-in", http.MethodPost, "/session/code", "Come in by a picture code", func(ctx context.Context, in *struct {
		UserAgent string `header:"User-Agent"`
		Body      struct {
			Code string `json:"code" maxLength:"80"`
		}
	}) (*letIn, error) {
		return s.comeIn(ctx, in.Body.Code, in.UserAgent)
	})
	operation(s, api, "sign-out", http.MethodDelete, "/session", "Sign out", func(ctx context.Context, _ *struct{}) (*letIn, error) {
		c := who(ctx)
		if c.session.ID == "" {
			return nil, &hub.ConflictError{Message: "Whoever is at this machine is always in."}
		}
		if _, is := s.hub.Panel(c.session.Person); is {
			return nil, &hub.ForbiddenError{Message: "A panel is left only by a code that its owner shows."}
		}
		if err := s.hub.Sessions.End(ctx, c.session.ID); err != nil {
			return nil, err
		}
		s.hub.GateChanged()
		return &letIn{SetCookie: s.setCookie(ctx, "", -time.Second), Body: s.sessionView(&caller{from: c.from})}, nil
	})
	operation(s, api, "set-password", http.MethodPut, "/session/password", "Give oneself a password", func(ctx context.Context, in *struct {
		Body struct {
			Now  string `json:"now,omitempty" maxLength:"1000" doc:"The present one, where there is one."`
			Next string `json:"next" maxLength:"1000"`
		}
	}) (*none, error) {
		return &none{}, s.setPassword(ctx, in.Body.Now, in.Body.Next)
	})
	operation(s, api, "look-as", http.MethodPut, "/session/eyes", "Look through somebody else's eyes, or one's own again", func(ctx context.Context, in *struct {
		UserAgent string `header:"User-Agent"`
		Body      struct {
			Person string `json:"person" maxLength:"80" doc:"Empty: one's own."`
		}
	}) (*letIn, error) {
		return s.lookAs(ctx, in.Body.Person, in.UserAgent)
	})
}

// sessionView says who somebody is.
func (s *Server) sessionView(c *caller) SessionView {
	view := SessionView{State: "signIn", Now: s.hub.Now()}
	if c.Rank == gate.Outside {
		if !s.hub.Owned() {
			view.State = "setUp"
		}
		return view
	}
	view.State, view.Person, view.LooksAs, view.Session, view.Home = "in", c.session.Person, c.session.LooksAs, c.session.ID, s.hub.Title()
	eyes := view.Person
	if view.LooksAs != "" {
		eyes = view.LooksAs
	}
	view.Role = home.Owner
	if person, there := s.hub.Person(eyes); there {
		view.Role, view.Dashboards = person.Role, person.Dashboards
		if view.LooksAs != "" {
			view.Eyes = person.Title
		}
	}
	if person, there := s.hub.Person(view.Person); there {
		view.Title = person.Title
	}
	if panel, is := s.hub.Panel(eyes); is {
		view.Role, view.Dashboards, view.Keys = gate.Panels, panel.Dashboards, panel.Keys
		if view.LooksAs != "" {
			view.Eyes = panel.Title
		} else {
			view.Title = panel.Title
		}
	}
	return view
}

// begin lets a browser in.
func (s *Server) begin(ctx context.Context, person, device, how string, from sessions.From) (*letIn, error) {
	secret, err := s.hub.Sessions.Begin(ctx, person, deviceOf(device), from.Address)
	if err != nil {
		return nil, err
	}
	c := s.recognise(ctx, credentials{secret: secret, from: from, origin: who(ctx).origin})
	if c.Rank == gate.Outside {
		return nil, &hub.ForbiddenError{Message: "You are not let in any more."}
	}
	if how != "" {
		s.hub.LetIn(ctx, cause.By{Who: cause.Person, ID: person, Via: cause.ViaPage}, how+", from "+from.Address)
	}
	return &letIn{SetCookie: s.setCookie(ctx, secret, sessionLasts), Body: s.sessionView(c)}, nil
}

// systems are what a browser says it runs on, the more special first.
var systems = []struct{ said, is string }{
	{"iPhone", "iPhone"}, {"iPad", "iPad"}, {"Android", "Android"}, {"CrOS", "ChromeOS"}, {"Windows", "Windows"}, {"Macintosh", "Mac"}, {"Linux", "Linux"},
}

// browsers are what they call themselves, those first that also call themselves others.
var browsers = []struct{ said, is string }{{"Firefox/", "Firefox"}, {"Edg/", "Edge"}, {"Chrome/", "Chrome"}, {"Safari/", "Safari"}}

// deviceOf says in a few words what a browser says at length of what it is.
func deviceOf(agent string) string {
	system, browser := "", ""
	for _, s := range systems {
		if system == "" && strings.Contains(agent, s.said) {
			system = s.is
		}
	}
	for _, b := range browsers {
		if browser == "" && strings.Contains(agent, b.said) {
			browser = b.is
		}
	}
	switch {
	case system != "" && browser != "":
		return browser + " on " + system
	case browser+system != "":
		return browser + system
	default:
		return "Another program"
	}
}

// wrong counts a wrong password or code, tells of it, and returns what is answered.
func (s *Server) wrong(ctx context.Context, of string, from sessions.From, note, place, said string) error {
	count := s.hub.Sessions.Wrong(of, from)
	s.hub.KeptOut(ctx, fmt.Sprintf("%s, from %s.", note, from.Address))
	s.hub.Tried(ctx, note, from.Address, count)
	return hub.Invalid(place, said)
}

func (s *Server) becomeOwner(ctx context.Context, code, title, password, device string) (*letIn, error) {
	from := who(ctx).from
	if err := s.hub.Sessions.Slowed("owner", from); err != nil {
		return nil, err
	}
	if s.code == nil {
		return nil, &hub.ForbiddenError{Message: "No owner can be made here: whoever is at this machine owns the home."}
	}
	right, err := s.code()
	if err != nil {
		return nil, fmt.Errorf("reading the owner's code: %w", err)
	}
	if right == "" || subtle.ConstantTimeCompare([]byte(plain(right)), []byte(plain(code))) != 1 {
		return nil, s.wrong(ctx, "owner", from, "a wrong owner's code", "code", "This is not the code that the hub's machine shows.")
	}
	id, err := s.hub.BecomeOwner(ctx, title, password)
	if err != nil {
		return nil, err
	}
	if err := s.codeUsed(); err != nil {
		s.log.Error("the owner's code could not be taken away", "error", err)
	}
	s.hub.Sessions.WasRight("owner", from)
	return s.begin(ctx, id, device, "as an owner, by the code of the hub's machine", from)
}

// plain is a code as it is compared: without what only makes it easier to read.
func plain(code string) string {
	return strings.ToUpper(strings.Map(func(r rune) rune {
		if r == '-' || r == ' ' || r == '\n' || r == '\r' || r == '\t' {
			return -1
		}
		return r
	}, code))
}

func (s *Server) signIn(ctx context.Context, title, password, device string) (*letIn, error) {
	from := who(ctx).from
	id, there := s.hub.Named(title)
	of := account
	if there {
		of = id
	}
	if err := s.hub.Sessions.Slowed(of, from); err != nil {
		return nil, err
	}
	right, err := s.hub.Sessions.Right(ctx, id, password)
	if err != nil {
		return nil, err
	}
	if !right {
		name := "somebody who is not there"
		if person, there := s.hub.Person(id); there {
			name = person.Title
		}
		return nil, s.wrong(ctx, of, from, "a wrong password for "+name, "password", "Name and password do not fit.")
	}
	s.hub.Sessions.WasRight(of, from)
	return s.begin(ctx, id, device, "with a password", from)
}

func (s *Server) comeIn(ctx context.Context, code, device string) (*letIn, error) {
	from := who(ctx).from
	if err := s.hub.Sessions.Slowed(sessions.ByAddress, sessions.From{Address: from.Address}); err != nil {
		return nil, err
	}
	person, accepted := s.hub.Sessions.Accept(code)
	_, there := s.hub.Person(person)
	if _, panel := s.hub.Panel(person); panel {
		there = true
	}
	if !accepted || !there {
		const said = "This code was used already, or is older than five minutes. Have a new one shown."
		return nil, s.wrong(ctx, sessions.ByAddress, from, "a picture code that is used, late or wrong", "code", said)
	}
	return s.begin(ctx, person, device, "by a picture code", from)
}

func (s *Server) setPassword(ctx context.Context, now, next string) error {
	c := who(ctx)
	person := c.session.Person
	if _, is := s.hub.Panel(person); is {
		return &hub.ForbiddenError{Message: "A panel has no password."}
	}
	if person == "" {
		return &hub.ConflictError{Message: "Whoever is at this machine needs no password."}
	}
	if s.hub.Sessions.HasPassword(ctx, person) {
		if err := s.hub.Sessions.Slowed(person, c.from); err != nil {
			return err
		}
		right, err := s.hub.Sessions.Right(ctx, person, now)
		if err != nil {
			return err
		}
		if !right {
			return s.wrong(ctx, person, c.from, "a wrong password as it was to be changed", "now", "This is not your password.")
		}
	}
	if err := s.hub.Sessions.SetPassword(ctx, person, next); err != nil {
		if errors.Is(err, sessions.ErrPassword) {
			return hub.Invalid("next", "A password has from 8 to 200 characters.")
		}
		return err
	}
	s.hub.WayIn(ctx, c.own(), "changed the password, from "+c.from.Address)
	// Whoever else was in with the old one is out.
	if err := s.hub.Sessions.EndOf(ctx, person, c.session.ID); err != nil {
		return err
	}
	s.hub.GateChanged()
	return nil
}

func (s *Server) lookAs(ctx context.Context, person, device string) (*letIn, error) {
	c := who(ctx)
	_, there := s.hub.Person(person)
	if _, panel := s.hub.Panel(person); person != "" && !there && !panel {
		return nil, hub.Absent("There is nobody of this name.")
	}
	out := &letIn{}
	if c.session.ID == "" { // whoever is at the machine has no session yet
		begun, err := s.begin(ctx, "", device, "", c.from)
		if err != nil {
			return nil, err
		}
		out.SetCookie, c.session.ID = begun.SetCookie, begun.Body.Session
	}
	if err := s.hub.Sessions.LookAs(ctx, c.session.ID, person); err != nil {
		return nil, err
	}
	s.hub.GateChanged()
	c.session.LooksAs = person
	out.Body = s.sessionView(c)
	return out, nil
}

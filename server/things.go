package server

import (
	"context"
	"encoding/json"
	"errors"
	"net/http"
	"net/url"
	"strings"
	"time"

	"github.com/gofiber/fiber/v3"

	"amvek/core/cause"
	"amvek/core/engine"
	"amvek/core/gate"
	"amvek/core/thing"
	"amvek/hub"
	"amvek/hub/show"
	"amvek/hub/views"
)

// longestPoll is how long an observer is kept waiting before it is told that nothing changed.
const longestPoll = 25 * time.Second

// things serves the home's devices as W3C Things: a directory at /things, their Thing Descriptions
// below it, and the forms that these name. Reading a description is free on this machine; using
// its forms wants a key, which the owner makes.
func (s *Server) things() {
	s.app.Get("/things", s.thingReader, s.thingDirectory)
	s.app.Get("/.well-known/wot", func(c fiber.Ctx) error { return c.Redirect().To("/things") })
	s.app.Get("/things/:id", s.thingReader, s.thingDescription)
	guarded := s.app.Group("/things/:id", s.thingKey)
	guarded.Get("/properties/:name", thingNeeds(gate.See, "property"), s.readProperty)
	guarded.Put("/properties/:name", thingNeeds(gate.Use, "property"), s.writeProperty)
	guarded.Get("/properties/:name/changes", thingNeeds(gate.See, "property"), s.observeProperty)
	guarded.Post("/actions/:name", thingNeeds(gate.Use, "action"), s.invokeAction)
	guarded.Get("/events/:name", thingNeeds(gate.See, "event"), s.awaitEvent)
}

func (s *Server) base(c fiber.Ctx, id string) string {
	return s.schemeOf(c) + "://" + s.host(c) + "/things/" + url.PathEscape(id)
}

// thingDirectory lists all descriptions. Who follows the list asks again and again whether it is still the same (RFC 9110 §13.1.2).
func (s *Server) thingDirectory(c fiber.Ctx) error {
	tag, err := s.hub.DevicesTag(c.Context())
	if err != nil {
		return s.asFiber(err)
	}
	tag = `W/"` + tag + asks(c).Class + `"` // weak: the list is packed on the way
	c.Set("ETag", tag)
	if c.Get("If-None-Match") == tag {
		return c.SendStatus(http.StatusNotModified)
	}
	devices, err := s.hub.Devices(c.Context())
	if err != nil {
		return s.asFiber(err)
	}
	list := make([]map[string]any, 0, len(devices))
	for i := range devices {
		d := &devices[i]
		if !asks(c).told("device", d.ID, "") {
			continue
		}
		list = append(list, thing.Describe(d.ID, d.Title, d.Note, s.base(c, d.ID), &d.Description))
	}
	return c.JSON(list, "application/ld+json")
}

func (s *Server) thingDescription(c fiber.Ctx) error {
	if !asks(c).told("device", c.Params("id"), "") {
		return fiber.NewError(http.StatusNotFound, "There is no such device.")
	}
	d, err := s.hub.Device(c.Context(), c.Params("id"))
	if err != nil {
		return s.asFiber(err)
	}
	return c.JSON(thing.Describe(d.ID, d.Title, d.Note, s.base(c, d.ID), &d.Description), "application/td+json")
}

// thingReader lets in whoever may read descriptions: programs of this machine, and whoever may see the devices.
func (s *Server) thingReader(c fiber.Ctx) error {
	caller := s.recognise(c.Context(), s.shows(c))
	if caller.Rank == gate.Outside && caller.from.Here && s.hub.Owned() {
		caller.Rank = gate.Seeing // what there is in the home is told on its own machine
	}
	if caller.Rank == gate.Outside || caller.By.Who == cause.Person && caller.Within != nil {
		return keyNeeded(c)
	}
	c.Locals(thingCaller, caller)
	return c.Next()
}

// thingCaller is where a request for Things keeps who asks.
const thingCaller = "caller"

func asks(c fiber.Ctx) *caller {
	if of, is := c.Locals(thingCaller).(*caller); is {
		return of
	}
	return &caller{}
}

func keyNeeded(c fiber.Ctx) error {
	c.Set("WWW-Authenticate", `Bearer realm="amvek"`)
	return fiber.NewError(http.StatusUnauthorized, "A key that the owner made is needed, as a bearer token.")
}

// thingKey lets in whoever gives a key that the owner made.
func (s *Server) thingKey(c fiber.Ctx) error {
	principal, is := s.program(c.Context(), c.Get("Authorization"), cause.ViaThing)
	if !is {
		return keyNeeded(c)
	}
	c.Locals(thingCaller, &caller{Principal: principal})
	return c.Next()
}

// thingNeeds lets through whoever has a permission of what is asked for.
func thingNeeds(permission gate.Permission, kind string) fiber.Handler {
	return func(c fiber.Ctx) error {
		if !asks(c).May(permission, gate.Thing{Kind: kind, ID: c.Params("id"), Name: name(c)}) {
			return fiber.NewError(http.StatusForbidden, "The key that was given does not open this.")
		}
		return c.Next()
	}
}

// asFiber gives an error of the hub its status.
func (s *Server) asFiber(err error) error {
	var absent *hub.AbsentError
	var invalid *hub.InvalidError
	var conflict *hub.ConflictError
	var forbidden *hub.ForbiddenError
	switch {
	case errors.As(err, &absent):
		return fiber.NewError(http.StatusNotFound, absent.Message)
	case errors.As(err, &invalid):
		return fiber.NewError(http.StatusBadRequest, invalid.Message)
	case errors.As(err, &conflict):
		return fiber.NewError(http.StatusConflict, conflict.Message)
	case errors.As(err, &forbidden):
		return fiber.NewError(http.StatusForbidden, forbidden.Message)
	}
	return err
}

func name(c fiber.Ctx) string {
	return strings.ReplaceAll(meant(c.Params("name")), "%2F", "/")
}

func (s *Server) property(ctx context.Context, id, name string) (views.PropertyView, error) {
	d, err := s.hub.Device(ctx, id)
	if err != nil {
		return views.PropertyView{}, err
	}
	for _, state := range d.States {
		if state.Name == name {
			return state, nil
		}
	}
	return views.PropertyView{}, hub.Absent("The device has no such property.")
}

func (s *Server) readProperty(c fiber.Ctx) error {
	state, err := s.property(c.Context(), c.Params("id"), name(c))
	if err != nil {
		return s.asFiber(err)
	}
	return c.JSON(state.Value)
}

func (s *Server) writeProperty(c fiber.Ctx) error {
	var value thing.Value
	if err := json.Unmarshal(c.Body(), &value); err != nil {
		return fiber.NewError(http.StatusBadRequest, "The value is not a JSON value that a property can have.")
	}
	err := s.hub.Act(c.Context(), engine.Input{Kind: engine.InputWrite, Device: c.Params("id"), Name: name(c), Value: value, Doer: asks(c).By})
	if err != nil {
		return s.asFiber(err)
	}
	return c.SendStatus(http.StatusNoContent)
}

func (s *Server) invokeAction(c fiber.Ctx) error {
	d, err := s.hub.Device(c.Context(), c.Params("id"))
	if err != nil {
		return s.asFiber(err)
	}
	input := engine.Input{Kind: engine.InputInvoke, Device: d.ID, Name: name(c), Doer: asks(c).By}
	if action := d.Description.Action(input.Name); action != nil {
		if input.Given, err = action.Read(c.Body()); err != nil {
			return fiber.NewError(http.StatusBadRequest, err.Error()+".")
		}
	}
	if err := s.hub.Act(c.Context(), input); err != nil {
		return s.asFiber(err)
	}
	return c.SendStatus(http.StatusNoContent)
}

// observeProperty answers as soon as the property is another than when it was asked.
func (s *Server) observeProperty(c fiber.Ctx) error {
	id, property := c.Params("id"), name(c)
	feed := s.hub.Feed.Subscribe(show.Audience{}, "", 0)
	defer feed.Close()
	before, err := s.property(c.Context(), id, property)
	if err != nil {
		return s.asFiber(err)
	}
	return s.await(c, feed, func(c *show.Update) (any, bool) {
		if now, is := c.View.(views.PropertyView); is && c.ID == id && now.Name == property && now.Value != before.Value {
			return now.Value, true
		}
		return nil, false
	})
}

// awaitEvent answers when the event next happens, with what it carries.
func (s *Server) awaitEvent(c fiber.Ctx) error {
	id, event := c.Params("id"), name(c)
	feed := s.hub.Feed.Subscribe(show.Audience{}, "", 0)
	defer feed.Close()
	d, err := s.hub.Device(c.Context(), id)
	if err != nil {
		return s.asFiber(err)
	}
	if d.Description.Event(event) == nil {
		return fiber.NewError(http.StatusNotFound, "The device has no such event.")
	}
	return s.await(c, feed, func(c *show.Update) (any, bool) {
		if e, is := c.View.(views.EntryView); is && e.Device == id && e.Name == event && e.Kind == "happened" {
			return e.Value, true
		}
		return nil, false
	})
}

func (s *Server) await(c fiber.Ctx, feed *show.Subscription, wanted func(*show.Update) (any, bool)) error {
	if c.Method() == http.MethodHead {
		return c.SendStatus(http.StatusOK) // whoever asks so wants to know whether there is something to wait for
	}
	limit := time.NewTimer(longestPoll)
	defer limit.Stop()
	for {
		select {
		case frame, open := <-feed.C:
			if !open {
				return c.SendStatus(http.StatusNoContent)
			}
			for i := range frame.Changes {
				if value, is := wanted(&frame.Changes[i]); is {
					return c.JSON(value)
				}
			}
		case <-limit.C:
			return c.SendStatus(http.StatusNoContent)
		case <-s.closing:
			return fiber.NewError(http.StatusServiceUnavailable, "The hub is stopping.")
		}
	}
}

// Package server is the hub's interface for browsers and programs: HTTP described by an
// OpenAPI 3.1 document made from the very types that serve it, a live feed over
// WebSocket, and the front end's files. It decides nothing.
package server

import (
	"context"
	"crypto/tls"
	"errors"
	"fmt"
	"io/fs"
	"log/slog"
	"math"
	"net"
	"net/http"
	"net/netip"
	"reflect"
	"strconv"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/adapters/humafiber"
	"github.com/gofiber/fiber/v3"
	"github.com/gofiber/fiber/v3/middleware/compress"
	recovery "github.com/gofiber/fiber/v3/middleware/recover"
	"github.com/valyala/fasthttp"

	"amvek/core/cause"
	"amvek/core/thing"
	"amvek/hub"
	"amvek/hub/sessions"
	"amvek/hub/uploads"
	"amvek/internal/listen"
	"amvek/internal/machine"
	"amvek/store"
)

// MaximumBody is the largest request body, in bytes.
const MaximumBody = 1 << 20

// livePath and panelPath are where connections are asked for that stay: the feed of changes, and that of a panel.
const (
	livePath  = "/api/live"
	panelPath = "/api/panel"
)

// longestHead is how long the head of a request may be, in bytes: other programs on this machine may leave large cookies,
// which a browser sends to every port of it.
const longestHead = 32 << 10

// Options are what a server needs.
type Options struct {
	Hub *hub.Hub
	Log *slog.Logger
	// Files is the built front end.
	Files fs.FS
	// Version is told to whoever asks.
	Version string
	// Panels take the tablets on the walls; nil where there can be none.
	Panels Panels
	// Bench is the pretend house; nil where there is none.
	Bench Bench
	// Open says that whoever is at this machine owns the home, without signing in.
	Open bool
	// Code returns the code by which somebody becomes an owner, "" where there is none, and CodeUsed that it was used.
	Code     func() (string, error)
	CodeUsed func() error
	// Proxies are those whose word is taken for who asks, by which name and how; see [ParseProxies].
	Proxies []netip.Prefix
	// Names are those by which the machine is reached; nil is those that it has.
	Names *machine.Names
	// TLS encrypts what goes over the wire; nil is plain HTTP.
	TLS *tls.Config
	// Authority is the one of this hub's own certificates; nil where it has none.
	Authority Authority
	// PageKey is what the passes of the hub's own pages are signed with.
	PageKey []byte
}

// Authority is a certificate authority that devices have to trust.
type Authority interface {
	// Certificate returns its certificate in DER.
	Certificate() []byte
	Fingerprint() string
}

// Server serves one hub.
type Server struct {
	app       *fiber.App
	hub       *hub.Hub
	log       *slog.Logger
	bench     Bench
	version   string
	listener  *listen.Listener
	passes    passes
	panels    Panels
	icons     icons
	names     *machine.Names
	proxies   []netip.Prefix
	tls       *tls.Config
	authority Authority
	open      bool
	code      func() (string, error)
	codeUsed  func() error
	closing   chan struct{}
}

// New returns a server that does not listen yet.
func New(o Options) *Server {
	s := &Server{hub: o.Hub, log: o.Log, bench: o.Bench, version: o.Version, passes: passes{o.PageKey}, open: o.Open, code: o.Code, codeUsed: o.CodeUsed, names: o.Names, tls: o.TLS, authority: o.Authority, closing: make(chan struct{})}
	s.icons, s.panels, s.proxies = newIcons(o.Files, o.Log), o.Panels, o.Proxies
	if s.names == nil {
		s.names = &machine.Names{}
	}
	// Immutable: ids out of a request are kept for longer than the request, whose memory Fiber uses again.
	s.app = fiber.New(
		fiber.Config{
			AppName:        "Amvek",
			Immutable:      true,
			BodyLimit:      MaximumBody,
			ErrorHandler:   s.failed,
			ReadBufferSize: longestHead,
			ReadTimeout:    30 * time.Second,
			IdleTimeout:    2 * time.Minute,
		},
	)
	s.app.Server().HeaderReceived = s.takes
	s.app.Use(recovery.New())
	s.app.Use(func(c fiber.Ctx) error {
		// On whatever is answered; pages of the front end say what they need.
		c.Set("X-Content-Type-Options", "nosniff")
		c.Set("Content-Security-Policy", "default-src 'none'; frame-ancestors 'self'")
		return c.Next()
	})
	s.app.Use(s.known, s.ownPages, s.elsewhere())
	s.app.Use(livePath, s.live())
	s.app.Get(panelPath, s.panel())
	s.app.Use(compress.New(compress.Config{Level: compress.LevelBestSpeed}))
	api := humafiber.New(s.app, config(o.Version))
	api.UseMiddleware(s.pass(api), decode)
	s.register(api)
	s.things()
	s.authorityFile()
	s.serveIcons()
	if o.Files != nil {
		s.files(o.Files)
	}
	return s
}

// takes says how much may be sent with a request: more than usual where a picture is uploaded, by whoever was let in. A stranger
// must not fill the memory.
func (s *Server) takes(head *fasthttp.RequestHeader) (config fasthttp.RequestConfig) {
	if string(head.Method()) != http.MethodPost || string(head.RequestURI()) != "/api"+uploadsPath {
		return config
	}
	ctx := context.Background()
	in := s.open // there is nobody but who is at the machine
	if !in && s.hub.Sessions.Known(string(head.Cookie(s.cookie()))) {
		in = true
	}
	if !in {
		_, in = s.program(ctx, string(head.Peek("Authorization")), cause.ViaAPI)
	}
	if in {
		config.MaxRequestBodySize = uploads.MaximumBytes
	}
	return config
}

// Document returns the OpenAPI 3.1 document as JSON.
func Document(version string) ([]byte, error) {
	s := &Server{}
	api := humafiber.New(fiber.New(), config(version))
	s.register(api)
	return api.OpenAPI().MarshalJSON()
}

func config(version string) huma.Config {
	speakPlainly()
	huma.DefaultArrayNullable = false // lists are empty, never null
	c := huma.DefaultConfig("Amvek", version)
	c.Info.Description = "The interface of an Amvek hub. Times are RFC 3339, errors RFC 9457, values in canonical units."
	c.OpenAPIPath = "/api/openapi"
	c.DocsPath = ""
	c.SchemasPath = ""
	c.CreateHooks = nil
	c.Components.Schemas.RegisterTypeAlias(reflect.TypeFor[thing.Value](), reflect.TypeFor[valueSchema]())
	return c
}

// valueSchema describes a thing.Value.
type valueSchema struct{}

// Schema implements [huma.SchemaProvider].
func (valueSchema) Schema(registry huma.Registry) *huma.Schema {
	const name = "Value"
	coordinate := &huma.Schema{Type: "number", Minimum: new(float64), Maximum: pointer(1.0)}
	color := &huma.Schema{
		Type:                 "object",
		Required:             []string{"x", "y"},
		AdditionalProperties: false,
		Properties:           map[string]*huma.Schema{"x": coordinate, "y": coordinate},
	}
	color.PrecomputeMessages()
	registry.Map()[name] = &huma.Schema{
		Description: "A value in the property's canonical unit: a boolean, a number, a text, or a color as CIE 1931 x and y. Null: nothing known.",
		AnyOf:       []*huma.Schema{{Type: "boolean"}, {Type: "number"}, {Type: "string"}, color, {Type: "null"}},
	}
	return &huma.Schema{Ref: "#/components/schemas/" + name}
}

func pointer[T any](v T) *T { return &v }

// Listen opens the address.
func (s *Server) Listen(address string) error {
	if s.open {
		if err := CheckOpen(address); err != nil {
			return err
		}
	}
	listener, err := listen.Open(address, listen.Bounds{Connections: listen.Share(0.3, 16, 2000), FirstWord: firstWord, Write: writeLimit}, s.log)
	if err != nil {
		return fmt.Errorf("the hub cannot listen on %s; choose another address with --listen: %w", address, err)
	}
	s.listener = listener
	return nil
}

// CheckOpen returns an error when a home that is open to whoever is at this machine would listen beyond it.
func CheckOpen(address string) error {
	if err := CheckLoopback(address); err != nil {
		return fmt.Errorf("%w, while whoever is at this machine owns the home without signing in; leave out --open", err)
	}
	return nil
}

// CheckLoopback returns an error when an address is not on this machine alone.
func CheckLoopback(address string) error {
	host, _, err := net.SplitHostPort(address)
	if err != nil {
		return fmt.Errorf("%q is not an address such as 127.0.0.1:8420", address)
	}
	if host == "localhost" {
		return nil
	}
	if ip, err := netip.ParseAddr(host); err == nil && ip.IsLoopback() {
		return nil
	}
	return fmt.Errorf("refusing to listen on %s, which others reach", address)
}

// Address returns host and port.
func (s *Server) Address() string { return s.listener.Addr().String() }

// Serve serves until Close.
func (s *Server) Serve() error {
	var listener net.Listener = s.listener
	if s.tls != nil {
		listener = tls.NewListener(listener, s.tls)
	}
	return s.app.Listener(listener, fiber.ListenConfig{DisableStartupMessage: true})
}

// firstWord is within what time a connection must begin its first request, and closing for how long requests under way are
// waited for when the server ends.
const (
	firstWord = 20 * time.Second
	closing   = 1500 * time.Millisecond
)

// Close ends feeds at once, and open requests, which have a moment to come to their end.
func (s *Server) Close(ctx context.Context) error {
	close(s.closing)
	limited, cancel := context.WithTimeout(ctx, closing)
	defer cancel()
	err := s.app.ShutdownWithContext(limited)
	s.listener.CloseConnections()
	if errors.Is(err, context.DeadlineExceeded) {
		s.log.Warn("requests were under way when the hub ended, and were cut off")
		return nil
	}
	return err
}

// failed answers what no operation answered, as RFC 9457 says.
func (s *Server) failed(c fiber.Ctx, err error) error {
	status := http.StatusInternalServerError
	message := "Something went wrong inside the hub; its log says more."
	var known *fiber.Error
	if errors.As(err, &known) {
		status, message = known.Code, known.Message
	} else {
		s.log.Error("a request failed", "path", c.Path(), "error", err)
	}
	return c.Status(status).JSON(&huma.ErrorModel{Status: status, Title: http.StatusText(status), Detail: message}, "application/problem+json")
}

// problem turns the hub's errors into RFC 9457 problems at the place where something is wrong.
func (s *Server) problem(err error) error {
	var absent *hub.AbsentError
	var invalid *hub.InvalidError
	var conflict *hub.ConflictError
	var forbidden *hub.ForbiddenError
	var clash *hub.ClashError
	var unanswered *hub.UnansweredError
	var slowed *sessions.SlowedError
	switch {
	case err == nil:
		return nil
	case errors.As(err, &absent):
		return huma.Error404NotFound(absent.Message)
	case errors.As(err, &invalid):
		return huma.Error422UnprocessableEntity(invalid.Message, &huma.ErrorDetail{Location: invalid.Place, Message: invalid.Message})
	case errors.As(err, &conflict):
		return huma.Error409Conflict(conflict.Message)
	case errors.As(err, &clash):
		return clashed(clash)
	case errors.As(err, &forbidden):
		return huma.Error403Forbidden(forbidden.Message)
	case errors.As(err, &slowed):
		return huma.ErrorWithHeaders(huma.Error429TooManyRequests(slowed.Error()), http.Header{
			"Retry-After": {strconv.Itoa(int(math.Ceil(slowed.For.Seconds())))},
		})
	case errors.As(err, &unanswered):
		return huma.NewError(http.StatusBadGateway, unanswered.Message)
	case errors.Is(err, store.ErrFull):
		return huma.NewError(http.StatusInsufficientStorage, "This could not be saved: "+store.ErrFull.Error()+". Nothing was changed.")
	case errors.Is(err, store.ErrGone):
		return huma.Error503ServiceUnavailable("This could not be saved: " + store.ErrGone.Error() + ". Nothing was changed.")
	case errors.Is(err, context.Canceled), errors.Is(err, context.DeadlineExceeded):
		return huma.Error503ServiceUnavailable("The hub is stopping.")
	default:
		s.log.Error("a request failed", "error", err)
		return huma.Error500InternalServerError("Something went wrong inside the hub; its log says more.")
	}
}

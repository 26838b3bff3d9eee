package server

import (
	"bytes"
	"crypto/rand"
	"io/fs"
	"mime"
	"net/http"
	"path"
	"strings"

	"github.com/gofiber/fiber/v3"
)

// files serves the built front end; addresses of its pages all lead to its one document.
func (s *Server) files(files fs.FS) {
	s.app.Get("/*", func(c fiber.Ctx) error {
		name := strings.TrimPrefix(path.Clean(c.Path()), "/")
		if strings.HasPrefix(name, "api/") || name == "api" {
			return fiber.NewError(http.StatusNotFound, "There is nothing at this address.")
		}
		data, err := fs.ReadFile(files, name)
		switch {
		case err != nil && path.Ext(name) != "":
			return fiber.NewError(http.StatusNotFound, "There is nothing at this address.")
		case err != nil:
			name = "index.html"
			if data, err = fs.ReadFile(files, name); err != nil {
				return fiber.NewError(http.StatusNotFound, "The front end was not built into this program.")
			}
		}
		if kind, packed, ok := compressed(c, files, name); ok {
			data = packed
			c.Set("Content-Encoding", kind)
		}
		nonce := ""
		if name == "index.html" {
			nonce = rand.Text()
			head := `<meta name="amvek-page" content="` + s.passes.issue(c.Path()) + `"><meta name="amvek-styles" content="` + nonce + `">`
			data = bytes.Replace(data, []byte(passMark), []byte(head), 1)
			c.Set("Referrer-Policy", "same-origin")
		}
		c.Set("Content-Type", contentType(name))
		c.Set("Cache-Control", "no-cache")
		c.Vary("Accept-Encoding")
		if strings.HasPrefix(name, "assets/") {
			c.Set("Cache-Control", "public, max-age=31536000, immutable")
		}
		c.Set("Content-Security-Policy", rulesOf(nonce))
		return c.Send(data)
	})
}

// contentType is that of a file by its name. What the machine's own list may lack is said here.
func contentType(name string) string {
	if ending := path.Ext(name); ending != ".webmanifest" {
		return mime.TypeByExtension(ending)
	}
	return "application/manifest+json"
}

// encodings are the ways in which files lie compressed beside themselves, the smaller first, with what their names end in.
var encodings = []struct{ kind, ending string }{{"br", ".br"}, {"gzip", ".gz"}}

// compressed returns a file as it was compressed when the front end was built, where it was and the client takes it so.
func compressed(c fiber.Ctx, files fs.FS, name string) (kind string, data []byte, ok bool) {
	for _, e := range encodings {
		if c.AcceptsEncodings(e.kind) == "" {
			continue
		}
		if data, err := fs.ReadFile(files, name+e.ending); err == nil {
			return e.kind, data, true
		}
	}
	return "", nil, false
}

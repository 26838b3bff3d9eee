package server

import (
	"cmp"
	"encoding/json"
	"fmt"
	"io/fs"
	"log/slog"
	"net/http"
	"slices"
	"strings"
	"sync"

	"github.com/gofiber/fiber/v3"
)

// iconsFile is where the front end is built with the shipped icons, by their names.
const iconsFile = "icons.json"

// icon is one of the shipped icons.
type icon struct {
	// Tags are words by which it is found, besides its name.
	Tags []string `json:"tags"`
	// Body is what is inside its SVG, drawn by strokes in a square of 24.
	Body string `json:"body"`
}

// icons are those that ship with the front end. They are read when one is asked for first.
type icons struct {
	all func() map[string]icon
}

func newIcons(files fs.FS, log *slog.Logger) icons {
	return icons{sync.OnceValue(func() map[string]icon {
		all := map[string]icon{}
		if files == nil {
			return all
		}
		data, err := fs.ReadFile(files, iconsFile)
		if err == nil {
			err = json.Unmarshal(data, &all)
		}
		if err != nil && log != nil {
			log.Error("the icons cannot be read", "error", err)
		}
		return all
	})}
}

const mostIcons = 60

// find returns the names of the icons that all of some words are in: in a name at its beginning first, then in a name, then in a
// tag. No words find nothing.
func (i icons) find(words string) []string {
	type hit struct {
		name  string
		score int
	}
	found := []hit{}
	wanted := strings.Fields(strings.ToLower(words))
	for name, icon := range i.all() {
		score := 0
		for _, word := range wanted {
			best := 0
			switch {
			case name == word:
				best = 8
			case strings.HasPrefix(name, word):
				best = 4
			case strings.Contains(name, word):
				best = 2
			case slices.ContainsFunc(icon.Tags, func(tag string) bool { return strings.HasPrefix(tag, word) }):
				best = 1
			}
			if best == 0 {
				score = 0
				break
			}
			score += best
		}
		if score > 0 {
			found = append(found, hit{name, score})
		}
	}
	slices.SortFunc(found, func(a, b hit) int {
		return cmp.Or(b.score-a.score, len(a.name)-len(b.name), strings.Compare(a.name, b.name))
	})
	names := []string{}
	for _, h := range found[:min(len(found), mostIcons)] {
		names = append(names, h.name)
	}
	return names
}

// serveIcons serves each icon as an SVG of its own.
func (s *Server) serveIcons() {
	s.app.Get("/icons/:name.svg", func(c fiber.Ctx) error {
		icon, there := s.icons.all()[c.Params("name")]
		if !there {
			return fiber.NewError(http.StatusNotFound, "There is no such icon.")
		}
		c.Set("Content-Type", "image/svg+xml")
		c.Set("Cache-Control", "public, max-age=604800")
		c.Set("Content-Security-Policy", "default-src 'none'")
		return c.SendString(fmt.Sprintf(`<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 24 24" fill="none" stroke="black" `+
			`stroke-width="1.5" stroke-linecap="round" stroke-linejoin="round">%s</svg>`, icon.Body))
	})
}

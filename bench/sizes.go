package main

import (
	"encoding/json"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
)

// chunk is an entry of the front end's build manifest.
type chunk struct {
	File    string   `json:"file"`
	CSS     []string `json:"css"`
	Imports []string `json:"imports"`
}

// measureSizes measures the program, and what a browser loads to show the first page: document,
// scripts and styles as they are sent, by gzip and by Brotli, and the two fonts, which are compressed already.
func measureSizes(program, assets string) ([]figure, error) {
	info, err := os.Stat(program)
	if err != nil {
		return nil, err
	}
	data, err := os.ReadFile(filepath.Join(assets, ".vite", "manifest.json"))
	if err != nil {
		return nil, fmt.Errorf("the front end is not built: %w", err)
	}
	var manifest map[string]chunk
	if err := json.Unmarshal(data, &manifest); err != nil {
		return nil, err
	}
	total := map[string]int{}
	for load, views := range map[string][]string{
		"first_load": {"src/components/shell/HomeShell.vue", "src/views/TodayView.vue"}, // where one arrives
		"panel_load": {"src/components/panel/PanelHome.vue", "src/views/PanelView.vue"},
	} {
		files := filesOf(manifest, append(views, "index.html"))
		for _, ending := range []string{".gz", ".br"} {
			size, err := sizeOf(assets, files, ending)
			if err != nil {
				return nil, err
			}
			total[load+ending] = size
		}
	}
	return []figure{
		{Name: "binary_mb", Value: float64(info.Size()) / (1 << 20), Unit: "MB"},
		{Name: "first_load_kb_gz", Value: float64(total["first_load.gz"]) / 1000, Unit: "kB"},
		{Name: "panel_load_kb_gz", Value: float64(total["panel_load.gz"]) / 1000, Unit: "kB"},
		{Name: "first_load_kb_br", Value: float64(total["first_load.br"]) / 1000, Unit: "kB"},
	}, nil
}

// sent returns how large a file is as it is sent: compressed beside itself, where it is.
func sent(path, ending string) (int, error) {
	info, err := os.Stat(path + ending)
	if errors.Is(err, fs.ErrNotExist) {
		info, err = os.Stat(path)
	}
	if err != nil {
		return 0, err
	}
	return int(info.Size()), nil
}

// filesOf returns the files that some parts of the front end need, and what those import.
func filesOf(manifest map[string]chunk, parts []string) map[string]bool {
	files := map[string]bool{"index.html": true}
	var add func(name string)
	add = func(name string) {
		c := manifest[name]
		if c.File == "" || files[c.File] {
			return
		}
		files[c.File] = true
		for _, css := range c.CSS {
			files[css] = true
		}
		for _, imported := range c.Imports {
			add(imported)
		}
	}
	for _, part := range parts {
		add(part)
	}
	return files
}

// sizeOf returns how much of files is sent, compressed in a way, with the two fonts, which are compressed already.
func sizeOf(assets string, files map[string]bool, ending string) (total int, err error) {
	fonts, err := filepath.Glob(filepath.Join(assets, "assets", "*-latin-wght-normal-*.woff2"))
	if err != nil {
		return 0, err
	}
	for _, font := range fonts {
		size, err := sent(font, ending)
		if err != nil {
			return 0, err
		}
		total += size
	}
	for file := range files {
		size, err := sent(filepath.Join(assets, file), ending)
		if err != nil {
			return 0, err
		}
		total += size
	}
	return total, nil
}

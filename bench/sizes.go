package main

import (
	"compress/gzip"
	"encoding/json"
	"fmt"
	"io"
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
// scripts and styles as gzip sends them, and the two fonts, which are compressed already.
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
	add("index.html")
	add("src/views/DevicesView.vue")
	fonts, err := filepath.Glob(filepath.Join(assets, "assets", "*-latin-wght-normal-*.woff2"))
	if err != nil {
		return nil, err
	}
	total := 0
	for _, font := range fonts {
		info, err := os.Stat(font)
		if err != nil {
			return nil, err
		}
		total += int(info.Size())
	}
	for file := range files {
		size, err := gzipped(filepath.Join(assets, file))
		if err != nil {
			return nil, err
		}
		total += size
	}
	return []figure{
		{Name: "binary_mb", Value: float64(info.Size()) / (1 << 20), Unit: "MB"},
		{Name: "first_load_kb_gz", Value: float64(total) / 1000, Unit: "kB"},
	}, nil
}

type counter int

func (c *counter) Write(p []byte) (int, error) {
	*c += counter(len(p))
	return len(p), nil
}

func gzipped(path string) (int, error) {
	file, err := os.Open(path)
	if err != nil {
		return 0, err
	}
	defer func() { _ = file.Close() }()
	var n counter
	w := gzip.NewWriter(&n)
	if _, err := io.Copy(w, file); err != nil {
		return 0, err
	}
	return int(n), w.Close()
}

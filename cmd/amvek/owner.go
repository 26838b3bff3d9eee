package main

import (
	"crypto/rand"
	"errors"
	"flag"
	"fmt"
	"io"
	"io/fs"
	"os"
	"path/filepath"
	"strings"

	"amvek/store"
)

// ownerCode is the code by which whoever has this machine becomes an owner of the home. It lies in the data folder, readable by
// the hub's user alone, until it is used.
type ownerCode struct{ folder string }

func (c ownerCode) file() string { return filepath.Join(c.folder, "owner-code.txt") }

// read returns the code, "" where there is none.
func (c ownerCode) read() (string, error) {
	data, err := os.ReadFile(c.file())
	if errors.Is(err, fs.ErrNotExist) {
		return "", nil
	}
	return strings.TrimSpace(string(data)), err
}

// make makes a new code, in the place of the one that there was.
func (c ownerCode) make() (string, error) {
	const letters, together = 16, 4
	text := rand.Text()[:letters]
	var parts []string
	for i := 0; i < letters; i += together {
		parts = append(parts, text[i:i+together])
	}
	code := strings.Join(parts, "-")
	next := c.file() + ".new"
	if err := os.WriteFile(next, []byte(code+"\n"), 0o600); err != nil {
		return "", fmt.Errorf("the owner's code cannot be kept: %w", err)
	}
	if err := os.Rename(next, c.file()); err != nil {
		return "", fmt.Errorf("the owner's code cannot be kept: %w", err)
	}
	return code, nil
}

// used takes the code away.
func (c ownerCode) used() error {
	if err := os.Remove(c.file()); err != nil && !errors.Is(err, fs.ErrNotExist) {
		return err
	}
	return nil
}

// invite says how the first owner comes in, where the home has none.
func (c ownerCode) invite(address string, out io.Writer) error {
	code, err := c.read()
	if err == nil && code == "" {
		code, err = c.make()
	}
	if err != nil {
		return err
	}
	_, err = fmt.Fprintf(out, "This home has no owner yet. Open %s and enter this code: %s\n", address, code)
	return err
}

// owner makes a new code for whoever has the machine, also while the hub runs.
func owner(args []string, out, errOut io.Writer) error {
	set := flag.NewFlagSet("amvek owner", flag.ContinueOnError)
	set.SetOutput(errOut)
	set.Usage = func() { _, _ = io.WriteString(errOut, help) }
	var reset bool
	var folder string
	set.BoolVar(&reset, "reset", false, "")
	set.StringVar(&folder, "data", "data", "")
	if err := fromEnvironment(set); err != nil {
		return err
	}
	if err := set.Parse(args); err != nil || set.NArg() > 0 || !reset {
		_, _ = io.WriteString(errOut, help)
		return errUsage
	}
	if _, err := os.Stat(filepath.Join(folder, store.FileName)); err != nil {
		return fmt.Errorf("there is no home in %s; say which with --data", folder)
	}
	code, err := ownerCode{folder}.make()
	if err != nil {
		return err
	}
	_, err = fmt.Fprintf(out, "Choose “I have an owner’s code” where one signs in, and enter this one: %s\n", code)
	return err
}

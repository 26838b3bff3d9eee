// Package diary is a pretend household calendar: a service that gives the family's entries as iCalendar (RFC 5545)
// over HTTP. It shares no code with the hub.
package diary

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net"
	"net/http"
	"sort"
	"strings"
	"sync"
	"time"
)

// Entry is something that somebody wrote into the diary.
type Entry struct {
	Title string    `json:"title"`
	Begin time.Time `json:"begin"`
	End   time.Time `json:"end"`
}

// Diary is the service.
type Diary struct {
	mu       sync.Mutex
	zone     *time.Location
	changed  func()
	entries  []Entry
	listener net.Listener
	server   *http.Server
}

// New returns a diary that nobody has written into yet; what comes every week stands in it already.
func New(zone *time.Location, changed func()) *Diary { return &Diary{zone: zone, changed: changed} }

// Serve begins to answer at an address; port 0 takes any.
func (d *Diary) Serve(listen string) error {
	listener, err := net.Listen("tcp", listen)
	if err != nil {
		return fmt.Errorf("the pretend diary cannot listen: %w", err)
	}
	mux := http.NewServeMux()
	mux.HandleFunc("GET /household.ics", func(w http.ResponseWriter, _ *http.Request) {
		w.Header().Set("Content-Type", "text/calendar; charset=utf-8")
		_, _ = w.Write([]byte(d.Text()))
	})
	d.listener, d.server = listener, &http.Server{Handler: mux, ReadHeaderTimeout: 10 * time.Second}
	go func() { _ = d.server.Serve(listener) }()
	return nil
}

// Address returns where the diary is read.
func (d *Diary) Address() string { return "http://" + d.listener.Addr().String() + "/household.ics" }

// Host returns host and port.
func (d *Diary) Host() string { return d.listener.Addr().String() }

// Close ends the service.
func (d *Diary) Close(ctx context.Context) error {
	if d.server == nil {
		return nil
	}
	return d.server.Shutdown(ctx)
}

// Write adds an entry.
func (d *Diary) Write(e Entry) error {
	if strings.TrimSpace(e.Title) == "" {
		return errors.New("say what is written into the diary")
	}
	d.mu.Lock()
	d.entries = append(d.entries, e)
	sort.SliceStable(d.entries, func(i, k int) bool { return d.entries[i].Begin.Before(d.entries[k].Begin) })
	d.mu.Unlock()
	d.changed()
	return nil
}

// Entries returns what was written into the diary, by its beginning.
func (d *Diary) Entries() []Entry {
	d.mu.Lock()
	defer d.mu.Unlock()
	return append([]Entry(nil), d.entries...)
}

// weekly are what comes every week, at hours of the house's zone.
var weekly = []string{
	"UID:potters\nSUMMARY:Potters\\, evening class\nLOCATION:Wheel room\nDTSTART;TZID=%[1]s:20250101T190000\nDTEND;TZID=%[1]s:20250101T213000\nRRULE:FREQ=WEEKLY;BYDAY=WE",
	"UID:bins\nSUMMARY:Bins out\nDTSTART;VALUE=DATE:20250103\nDTEND;VALUE=DATE:20250104\nRRULE:FREQ=WEEKLY;INTERVAL=2;BYDAY=FR",
	"UID:market\nSUMMARY:Market stall\nDTSTART;TZID=%[1]s:20250104T073000\nDURATION:PT6H\nRRULE:FREQ=MONTHLY;BYDAY=1SA",
}

// Text is the diary as iCalendar.
func (d *Diary) Text() string {
	d.mu.Lock()
	defer d.mu.Unlock()
	const stamp = "\nDTSTAMP:20250101T000000Z"
	text := "BEGIN:VCALENDAR\nVERSION:2.0\nPRODID:-//Old Weir Mill//Diary//EN\n"
	for _, event := range weekly {
		if strings.Contains(event, "%") {
			event = fmt.Sprintf(event, d.zone)
		}
		text += "BEGIN:VEVENT\n" + event + stamp + "\nEND:VEVENT\n"
	}
	escape := strings.NewReplacer("\\", "\\\\", ",", "\\,", ";", "\\;", "\n", "\\n", "\r", "")
	const format = "20060102T150405Z"
	for i, e := range d.entries {
		text += fmt.Sprintf(
			"BEGIN:VEVENT\nUID:entry-%d\nSUMMARY:%s\nDTSTART:%s\nDTEND:%s%s\nEND:VEVENT\n",
			i,
			escape.Replace(e.Title),
			e.Begin.UTC().Format(format),
			e.End.UTC().Format(format),
			stamp,
		)
	}
	return strings.ReplaceAll(text+"END:VCALENDAR\n", "\n", "\r\n")
}

// Save returns what was written into the diary.
func (d *Diary) Save() ([]byte, error) {
	d.mu.Lock()
	defer d.mu.Unlock()
	return json.Marshal(d.entries)
}

// Restore takes what Save returned.
func (d *Diary) Restore(data []byte) error {
	d.mu.Lock()
	defer d.mu.Unlock()
	if len(data) == 0 {
		return nil // from before there was a diary
	}
	return json.Unmarshal(data, &d.entries)
}

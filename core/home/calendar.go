package home

import (
	"net/url"
	"strings"

	"amvek/core/document"
)

// Calendar is a calendar elsewhere that the hub reads now and again, in the format of iCalendar (RFC 5545).
type Calendar struct {
	Title string `json:"title" minLength:"1" maxLength:"80"`
	Note  string `json:"note,omitempty" maxLength:"2000"`
	// Address is where it is read, by http or https.
	Address string `json:"address" minLength:"1" maxLength:"2000" doc:"Where it is read, by http or https."`
	// OwnMachine allows an address of the hub's own machine, or one that is good only on its own link.
	OwnMachine bool `json:"ownMachine,omitempty" doc:"The address may be one of the hub's own machine, or link-local."`
	// EveryMinutes is how often it is read.
	EveryMinutes int `json:"everyMinutes" minimum:"1" maximum:"1440" doc:"How often it is read."`
}

// Check returns an error naming the field that is wrong.
func (c *Calendar) Check() error {
	if strings.TrimSpace(c.Title) == "" {
		return document.Wrong("title", "give the calendar a name")
	}
	if c.EveryMinutes < 1 || c.EveryMinutes > 24*60 {
		return document.Wrong("everyMinutes", "from every minute to once a day")
	}
	at, err := url.Parse(c.Web())
	if err != nil || (at.Scheme != "http" && at.Scheme != "https") || at.Host == "" {
		return document.Wrong("address", "%q is no web address such as https://calendar.example/house.ics", c.Address)
	}
	return nil
}

// Web is the address as it is called: what is written with webcal is read by https.
func (c *Calendar) Web() string {
	address := strings.TrimSpace(c.Address)
	if rest, is := strings.CutPrefix(address, "webcal://"); is {
		return "https://" + rest
	}
	return address
}

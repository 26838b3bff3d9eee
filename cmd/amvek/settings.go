package main

import (
	"errors"
	"flag"
	"fmt"
	"io"
	"log/slog"
	"net/netip"
	"os"
	"strings"
	"time"

	"amvek/server"
)

// settings are what the flags and environment say.
type settings struct {
	demo       bool
	listen     string
	mqttListen string
	data       string
	verbose    bool
	tls        string // auto, or off
	tlsCert    string // a file with a certificate, and tlsKey one with its key
	tlsKey     string
	behind     []netip.Prefix // proxies that are believed
	open       bool           // whoever is at this machine owns the home
	fresh      bool
	empty      bool
	days       int           // that the demo's house lives before the present
	off        time.Duration // how much later the demo's clock goes on than it stopped
	boxes      int           // the first of the ports of the pretend boxes, 0 for any
	log        *slog.Logger
}

func parse(command string, args []string, errOut io.Writer) (settings, error) {
	s := settings{demo: command == "demo"}
	set := flag.NewFlagSet("amvek "+command, flag.ContinueOnError)
	set.SetOutput(errOut)
	set.Usage = func() { _, _ = io.WriteString(errOut, help) }
	folder := "data"
	if s.demo {
		folder = "demo-data"
	}
	set.StringVar(&s.listen, "listen", "127.0.0.1:8420", "")
	set.StringVar(&s.mqttListen, "mqtt-listen", "127.0.0.1:8421", "")
	set.StringVar(&s.data, "data", folder, "")
	set.BoolVar(&s.verbose, "verbose", false, "")
	set.StringVar(&s.tls, "tls", "off", "")
	set.StringVar(&s.tlsCert, "tls-cert", "", "")
	set.StringVar(&s.tlsKey, "tls-key", "", "")
	set.BoolVar(&s.open, "open", s.demo, "")
	behind := set.String("behind", "", "")
	if s.demo {
		set.BoolVar(&s.fresh, "fresh", false, "")
		set.BoolVar(&s.empty, "empty", false, "")
		set.IntVar(&s.days, "history", 3, "")
		set.DurationVar(&s.off, "off", 0, "")
		set.IntVar(&s.boxes, "boxes", 0, "")
	}
	if err := fromEnvironment(set); err != nil {
		return s, err
	}
	if err := set.Parse(args); err != nil {
		if errors.Is(err, flag.ErrHelp) {
			return s, errUsage
		}
		return s, errUsage
	}
	const most = 60
	if s.days < 0 || s.days > most {
		fmt.Fprintf(errOut, "amvek: --history is from 0 to %d days\n", most)
		return s, errUsage
	}
	switch {
	case s.tls != "off" && s.tls != "auto":
		fmt.Fprintf(errOut, "amvek: --tls is auto or off\n")
		return s, errUsage
	case (s.tlsCert == "") != (s.tlsKey == ""):
		fmt.Fprintf(errOut, "amvek: --tls-cert and --tls-key go together\n")
		return s, errUsage
	case s.tlsCert != "" && s.tls == "auto":
		fmt.Fprintf(errOut, "amvek: --tls auto makes a certificate of its own; leave it out where you give one\n")
		return s, errUsage
	}
	if *behind != "" {
		proxies, err := server.ParseProxies(*behind)
		if err != nil {
			fmt.Fprintf(errOut, "amvek: --behind: %v\n", err)
			return s, errUsage
		}
		s.behind = proxies
	}
	if s.off < 0 || s.off > most*24*time.Hour {
		fmt.Fprintf(errOut, "amvek: --off is from 0 to %d days, such as 45m or 30h\n", most)
		return s, errUsage
	}
	if s.boxes < 0 || s.boxes > 65530 {
		fmt.Fprintf(errOut, "amvek: --boxes is a port from 1 to 65530, or 0 for any\n")
		return s, errUsage
	}
	if set.NArg() > 0 {
		fmt.Fprintf(errOut, "amvek: %q is not understood\n\n%s", set.Arg(0), help)
		return s, errUsage
	}
	return s, nil
}

// fromEnvironment sets each flag from its variable, --mqtt-listen from AMVEK_MQTT_LISTEN; flags come after and win.
func fromEnvironment(set *flag.FlagSet) error {
	var errs []error
	set.VisitAll(func(f *flag.Flag) {
		name := "AMVEK_" + strings.ToUpper(strings.ReplaceAll(f.Name, "-", "_"))
		if value, there := os.LookupEnv(name); there && value != "" {
			if err := f.Value.Set(value); err != nil {
				errs = append(errs, fmt.Errorf("the environment variable %s: %q is not understood", name, value))
			}
		}
	})
	return errors.Join(errs...)
}

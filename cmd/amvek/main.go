// Command amvek is the hub: serve runs a home, demo runs the demo home with its pretend makers.
package main

import (
	"context"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"os"
	"os/signal"
	"syscall"
	_ "time/tzdata" // times of day need the zones, whatever the machine has

	"amvek/server"
	"amvek/store"
)

// version is set when the program is built.
var version = "development"

func main() {
	store.MakeRoom()
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	err := command(ctx, os.Args[1:], os.Stdout, os.Stderr)
	switch {
	case errors.Is(err, errUsage):
		os.Exit(2)
	case err != nil:
		fmt.Fprintln(os.Stderr, "amvek:", err)
		os.Exit(1)
	}
}

var errUsage = errors.New("usage")

const help = `Amvek, a hub for the devices of a home, on your own machine.

  amvek serve     run your home
  amvek demo      run the demo home with its pretend makers
  amvek owner     with --reset: print a code by which whoever has this machine becomes an owner; also --data
  amvek openapi   print the OpenAPI 3.1 document of the interface

Flags of serve and demo (each also as an environment variable):
  --listen ADDRESS        where browsers connect (AMVEK_LISTEN, default 127.0.0.1:8420; port 0: any)
  --mqtt-listen ADDRESS   where radio gateways connect (AMVEK_MQTT_LISTEN, default 127.0.0.1:8421)
  --data DIR              where everything is kept (AMVEK_DATA, default data, for the demo demo-data)
  --tls auto              encrypt, with certificates that the hub makes by itself (AMVEK_TLS, off)
  --tls-cert FILE         encrypt with this certificate, and --tls-key FILE its key (AMVEK_TLS_CERT, AMVEK_TLS_KEY)
  --behind ADDRESS        believe what a proxy at this address, or in this network, says of who asks; several with
                          commas between (AMVEK_BEHIND)
  --open                  whoever is at this machine owns the home, without signing in (AMVEK_OPEN; the demo
                          unless --open=false)
  --verbose               say more in the log (AMVEK_VERBOSE)
Flags of demo:
  --fresh                 start over with a new demo home (AMVEK_FRESH)
  --empty                 start over with an empty home beside the pretend makers (AMVEK_EMPTY)
  --history DAYS          days that the pretend house lives before the present, when it starts over; 0 to 60 (AMVEK_HISTORY, 3)
  --off DURATION          go on so much later than it stopped, as if the hub had been off, such as 45m (AMVEK_OFF)
  --boxes PORT            the first of four ports at which the pretend boxes listen (AMVEK_BOXES, 0: those of last time, or any)

  --version, --help
`

func command(ctx context.Context, args []string, out, errOut io.Writer) error {
	if len(args) == 0 {
		_, _ = io.WriteString(errOut, help)
		return errUsage
	}
	switch args[0] {
	case "serve", "demo":
		settings, err := parse(args[0], args[1:], errOut)
		if err != nil {
			return err
		}
		level := slog.LevelWarn
		if settings.verbose {
			level = slog.LevelDebug
		}
		settings.log = slog.New(slog.NewTextHandler(errOut, &slog.HandlerOptions{Level: level}))
		return run(ctx, settings, out)
	case "owner":
		return owner(args[1:], out, errOut)
	case "openapi":
		document, err := server.Document(version)
		if err == nil {
			_, err = out.Write(append(document, '\n'))
		}
		return err
	case "version", "--version", "-version":
		_, err := fmt.Fprintln(out, "amvek", version)
		return err
	case "help", "--help", "-help", "-h":
		_, err := io.WriteString(out, help)
		return err
	default:
		fmt.Fprintf(errOut, "amvek: there is no command %q\n\n%s", args[0], help)
		return errUsage
	}
}

package main

import (
	"crypto/tls"
	"fmt"
	"time"

	"amvek/hub"
	"amvek/internal/certificates"
	"amvek/internal/machine"
	"amvek/server"
)

// encrypt has the server encrypt, where the settings say so.
func encrypt(s settings, h *hub.Hub, o *server.Options) error {
	o.Names = &machine.Names{}
	switch {
	case s.tlsCert != "":
		certificate, err := tls.LoadX509KeyPair(s.tlsCert, s.tlsKey)
		if err != nil {
			return fmt.Errorf("the certificate cannot be used: %w", err)
		}
		o.TLS = &tls.Config{MinVersion: tls.VersionTLS12, Certificates: []tls.Certificate{certificate}}
	case s.tls == "auto":
		authority, err := certificates.Open(s.data, h.Title()+", Amvek", o.Names.All, time.Now)
		if err != nil {
			return err
		}
		o.TLS, o.Authority = &tls.Config{MinVersion: tls.VersionTLS12, GetCertificate: authority.Get}, authority
	}
	return nil
}

package connect

import (
	"context"
	"crypto/tls"
	"crypto/x509"
	"errors"
	"fmt"
	"io"
	"net"
	"os"
	"syscall"
)

// Reason says in the owner's words why a machine on the network cannot be spoken with, as the end of a sentence without its
// full stop: by the kind of the error, never by its text.
func Reason(err error) string {
	var name *net.DNSError
	switch {
	case err == nil:
		return ""
	case Late(err):
		return "there was no answer in time"
	case errors.As(err, &name):
		return "no machine is known by the name " + name.Name
	case errors.Is(err, syscall.ECONNREFUSED):
		return "nothing listens at this address and port"
	case errors.Is(err, syscall.EHOSTUNREACH), errors.Is(err, syscall.ENETUNREACH):
		return "the network does not lead there"
	case errors.Is(err, syscall.ECONNRESET), errors.Is(err, syscall.EPIPE),
		errors.Is(err, io.EOF), errors.Is(err, io.ErrUnexpectedEOF), errors.Is(err, net.ErrClosed):
		return "it ended the connection"
	}
	if why := Distrust(err); why != "" {
		return why
	}
	for inner := errors.Unwrap(err); inner != nil; inner = errors.Unwrap(err) {
		err = inner // what wraps it repeats the address and the library's own names
	}
	return err.Error()
}

// Late reports whether an error is that there was no answer in time.
func Late(err error) bool {
	var timeout interface{ Timeout() bool }
	return errors.Is(err, os.ErrDeadlineExceeded) || errors.Is(err, context.DeadlineExceeded) || (errors.As(err, &timeout) && timeout.Timeout())
}

// Unanswered reports whether an error is that there is nobody to speak with, or no answer.
func Unanswered(err error) bool {
	var name *net.DNSError
	return Late(err) || errors.As(err, &name) ||
		errors.Is(err, syscall.ECONNREFUSED) || errors.Is(err, syscall.EHOSTUNREACH) || errors.Is(err, syscall.ENETUNREACH)
}

// Distrust says why a certificate is not trusted, "" where the error is another.
func Distrust(err error) string {
	var (
		host      x509.HostnameError
		authority x509.UnknownAuthorityError
		invalid   x509.CertificateInvalidError
		plain     tls.RecordHeaderError
		alert     tls.AlertError
	)
	switch {
	case errors.As(err, &plain):
		return "it does not speak TLS at this port"
	case errors.As(err, &host):
		return fmt.Sprintf("its certificate is not for %s", host.Host)
	case errors.As(err, &authority):
		return "nobody known signed its certificate"
	case errors.As(err, &invalid) && invalid.Reason == x509.Expired:
		return "its certificate has expired, or is not valid yet"
	case errors.As(err, &invalid):
		return "its certificate is not valid for this use"
	case errors.As(err, &alert):
		return "it refuses to agree on encryption: " + alert.Error()
	}
	var verification *tls.CertificateVerificationError
	if errors.As(err, &verification) {
		return "its certificate cannot be verified"
	}
	return ""
}

package connect_test

import (
	"context"
	"crypto/tls"
	"crypto/x509"
	"errors"
	"fmt"
	"io"
	"net"
	"net/http"
	"net/http/httptest"
	"net/url"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/connect"
)

func TestWhyAMachineCannotBeSpokenWith(t *testing.T) {
	free, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	nobody := free.Addr().String()
	require.NoError(t, free.Close())
	_, err = http.Get("http://" + nobody + "/status")
	assert.Equal(t, "nothing listens at this address and port", connect.Reason(err))
	assert.True(t, connect.Unanswered(err))

	late, cancel := context.WithTimeout(t.Context(), time.Nanosecond)
	defer cancel()
	request, err := http.NewRequestWithContext(late, http.MethodGet, "http://"+nobody, nil)
	require.NoError(t, err)
	_, err = http.DefaultClient.Do(request)
	assert.Equal(t, "there was no answer in time", connect.Reason(err))
	assert.True(t, connect.Late(err))
	assert.True(t, connect.Unanswered(err))

	assert.Empty(t, connect.Reason(nil))
	for want, err := range map[string]error{
		"no machine is known by the name lamp.lan":         &net.OpError{Op: "dial", Net: "tcp", Err: &net.DNSError{Name: "lamp.lan", IsNotFound: true}},
		"it ended the connection":                          &url.Error{Op: "Get", URL: "http://x", Err: io.EOF},
		"it said something else":                           &url.Error{Op: "Get", URL: "http://x: y", Err: fmt.Errorf("reading: %w", errors.New("it said something else"))},
		"its certificate is not for lamp.lan":              &tls.CertificateVerificationError{Err: x509.HostnameError{Certificate: &x509.Certificate{}, Host: "lamp.lan"}},
		"its certificate has expired, or is not valid yet": &tls.CertificateVerificationError{Err: x509.CertificateInvalidError{Reason: x509.Expired}},
		"its certificate is not valid for this use":        x509.CertificateInvalidError{Reason: x509.NotAuthorizedToSign},
		"its certificate cannot be verified":               &tls.CertificateVerificationError{Err: errors.New("x")},
	} {
		assert.Equal(t, want, connect.Reason(err))
	}
}

func TestACertificateThatNobodyKnownSignedIsSaidToBeSo(t *testing.T) {
	server := httptest.NewTLSServer(http.NotFoundHandler())
	defer server.Close()
	server.Config.ErrorLog = nil
	_, err := http.Get(server.URL)
	assert.Equal(t, "nobody known signed its certificate", connect.Reason(err))
	assert.False(t, connect.Unanswered(err), "there is somebody")
	plain := httptest.NewServer(http.NotFoundHandler())
	defer plain.Close()
	_, err = tls.Dial("tcp", plain.Listener.Addr().String(), nil)
	assert.Equal(t, "it does not speak TLS at this port", connect.Distrust(err))
}

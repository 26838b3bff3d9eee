package server_test

import (
	"crypto/tls"
	"crypto/x509"
	"encoding/json"
	"io"
	"net/http"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/hub"
	"amvek/internal/certificates"
	"amvek/internal/machine"
	"amvek/server"
)

func TestEncryptedByTheHubsOwnAuthority(t *testing.T) {
	var names machine.Names
	authority, err := certificates.Open(t.TempDir(), "Mill", names.All, time.Now)
	require.NoError(t, err)
	url, _ := serveWith(t, deaf{}, server.Options{
		Open: true, TLS: &tls.Config{MinVersion: tls.VersionTLS12, GetCertificate: authority.Get}, Authority: authority,
	})
	url = strings.Replace(url, "http:", "https:", 1)
	trusted := x509.NewCertPool()
	get := func(path string) (*http.Response, []byte) {
		client := http.Client{Transport: &http.Transport{TLSClientConfig: &tls.Config{RootCAs: trusted}}}
		defer client.CloseIdleConnections()
		answer, err := client.Get(url + path)
		if err != nil {
			return nil, nil
		}
		defer func() { _ = answer.Body.Close() }()
		data, err := io.ReadAll(answer.Body)
		require.NoError(t, err)
		return answer, data
	}
	refused, _ := get("/authority.crt")
	assert.Nil(t, refused, "whoever does not trust the authority")
	own, err := x509.ParseCertificate(authority.Certificate())
	require.NoError(t, err)
	trusted.AddCert(own)
	answer, data := get("/authority.crt")
	require.NotNil(t, answer)
	assert.Equal(t, authority.Certificate(), data)
	_, data = get("/api/reach")
	var reach server.Reach
	require.NoError(t, json.Unmarshal(data, &reach))
	assert.Equal(t, server.Reach{
		Addresses: []string{url}, Encrypted: true, Fingerprint: authority.Fingerprint(),
		Proxies: []string{}, Admitted: hub.Admitted{Hosts: []string{}, Origins: []string{}},
	}, reach)
	assert.Equal(t, 404, call(t, "GET", serve(t)+"/authority.crt", "").status)
}

package certificates_test

import (
	"crypto/x509"
	"net/netip"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/internal/certificates"
)

func TestTheHubsCertificatesAreTrustedByWhoTrustsItsAuthority(t *testing.T) {
	folder, at := t.TempDir(), time.Date(2026, 11, 30, 12, 0, 0, 0, time.UTC)
	hosts := []string{"amvek.local", "localhost"}
	names := func() ([]string, []netip.Addr) {
		return append([]string{}, hosts...), []netip.Addr{netip.MustParseAddr("192.168.1.5"), netip.MustParseAddr("::1")}
	}
	now := func() time.Time { return at }
	a, err := certificates.Open(folder, "Old Weir Mill", names, now)
	require.NoError(t, err)
	assert.Regexp(t, `^([0-9A-F]{2}:){31}[0-9A-F]{2}$`, a.Fingerprint())
	trusts := func(host string) error {
		roots := x509.NewCertPool()
		authority, err := x509.ParseCertificate(a.Certificate())
		require.NoError(t, err)
		roots.AddCert(authority)
		served, err := a.Get(nil)
		require.NoError(t, err)
		_, err = served.Leaf.Verify(x509.VerifyOptions{Roots: roots, DNSName: host, CurrentTime: at})
		return err
	}
	for _, host := range []string{"amvek.local", "localhost", "192.168.1.5", "::1"} {
		assert.NoError(t, trusts(host), host)
	}
	assert.Error(t, trusts("bank.example"))

	// The same as long as nothing changed; another for new names, before its end, and where the clock was set back.
	first, err := a.Get(nil)
	require.NoError(t, err)
	again, err := a.Get(nil)
	require.NoError(t, err)
	assert.Same(t, first, again)
	hosts = append(hosts, "mill.local")
	assert.NoError(t, trusts("mill.local"))
	before, err := a.Get(nil)
	require.NoError(t, err)
	at = at.Add(151 * 24 * time.Hour)
	after, err := a.Get(nil)
	require.NoError(t, err)
	assert.NotSame(t, before, after)
	assert.NoError(t, trusts("mill.local"))
	at = at.Add(-400 * 24 * time.Hour)
	back, err := a.Get(nil)
	require.NoError(t, err)
	assert.NotSame(t, after, back)
	at = at.Add(400 * 24 * time.Hour)

	// The authority outlives a restart, and its key is for the hub's user alone.
	kept, err := certificates.Open(folder, "Old Weir Mill", names, now)
	require.NoError(t, err)
	assert.Equal(t, a.Fingerprint(), kept.Fingerprint())
	info, err := os.Stat(filepath.Join(folder, "authority.key"))
	require.NoError(t, err)
	assert.Equal(t, os.FileMode(0o600), info.Mode().Perm())
	at = at.Add(20 * 365 * 24 * time.Hour)
	renewed, err := certificates.Open(folder, "Old Weir Mill", names, now)
	require.NoError(t, err)
	assert.NotEqual(t, a.Fingerprint(), renewed.Fingerprint())
}

func TestADamagedAuthorityIsSaidAndNotReplaced(t *testing.T) {
	names := func() ([]string, []netip.Addr) { return nil, nil }
	for name, damage := range map[string]func(folder, other string) error{
		"nonsense": func(folder, _ string) error {
			return os.WriteFile(filepath.Join(folder, "authority.crt"), []byte("x"), 0o600)
		},
		"another key": func(folder, other string) error {
			data, err := os.ReadFile(filepath.Join(other, "authority.key"))
			if err != nil {
				return err
			}
			return os.WriteFile(filepath.Join(folder, "authority.key"), data, 0o600)
		},
	} {
		folder, other := t.TempDir(), t.TempDir()
		for _, f := range []string{folder, other} {
			_, err := certificates.Open(f, "Mill", names, time.Now)
			require.NoError(t, err)
		}
		require.NoError(t, damage(folder, other))
		_, err := certificates.Open(folder, "Mill", names, time.Now)
		assert.ErrorContains(t, err, "cannot be read", name)
	}
}

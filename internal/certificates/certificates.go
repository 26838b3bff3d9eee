// Package certificates makes the certificates by which browsers on the home's network know the hub: an authority of its own,
// kept in a folder, and certificates for the machine's names and addresses that it renews by itself (RFC 5280). It asks nobody
// outside, and listens to nothing.
package certificates

import (
	"crypto/ecdsa"
	"crypto/elliptic"
	"crypto/rand"
	"crypto/sha256"
	"crypto/tls"
	"crypto/x509"
	"crypto/x509/pkix"
	"encoding/pem"
	"errors"
	"fmt"
	"io/fs"
	"math/big"
	"net"
	"net/netip"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"time"
)

const (
	// authorityFor is how long the authority lasts: whoever trusts it once is not asked again.
	authorityFor = 20 * 365 * 24 * time.Hour
	// leafFor is how long a certificate of the hub lasts, less than what browsers take at most, and renewedBefore how long
	// before its end there is a new one.
	leafFor       = 180 * 24 * time.Hour
	renewedBefore = 30 * 24 * time.Hour
	// backdated is how much earlier than now a certificate begins, for clocks that are slow.
	backdated = 24 * time.Hour
)

// The files in the folder.
const (
	certificateFile = "authority.crt"
	keyFile         = "authority.key"
)

// Names returns by what names and addresses the machine is reached now.
type Names func() (hosts []string, addresses []netip.Addr)

// Authority makes the hub's certificates. Its methods may be called from any goroutine.
type Authority struct {
	certificate *x509.Certificate
	key         *ecdsa.PrivateKey
	names       Names
	now         func() time.Time

	mu      sync.Mutex
	current *tls.Certificate
	covers  string // the names and addresses of the current certificate
}

// Open returns the authority that is kept in a folder; where there is none, or its time is nearly over, a new one is made there.
func Open(folder, title string, names Names, now func() time.Time) (*Authority, error) {
	a := &Authority{names: names, now: now}
	err := a.read(folder)
	switch {
	case err == nil && now().Before(a.certificate.NotAfter.Add(-leafFor)):
		return a, nil
	case err != nil && !errors.Is(err, fs.ErrNotExist):
		return nil, fmt.Errorf("the hub's own certificate authority in %s cannot be read: %w", folder, err)
	}
	if err := a.make(folder, title); err != nil {
		return nil, fmt.Errorf("the hub's own certificate authority cannot be made: %w", err)
	}
	return a, nil
}

func (a *Authority) read(folder string) error {
	certificate, err := decoded(filepath.Join(folder, certificateFile), "CERTIFICATE")
	if err != nil {
		return err
	}
	key, err := decoded(filepath.Join(folder, keyFile), "EC PRIVATE KEY")
	if err != nil {
		return err
	}
	if a.certificate, err = x509.ParseCertificate(certificate); err != nil {
		return err
	}
	if a.key, err = x509.ParseECPrivateKey(key); err != nil {
		return err
	}
	if public, is := a.certificate.PublicKey.(*ecdsa.PublicKey); !is || !public.Equal(a.key.Public()) {
		return errors.New("its key is not that of its certificate")
	}
	return nil
}

func decoded(file, kind string) ([]byte, error) {
	data, err := os.ReadFile(file)
	if err != nil {
		return nil, err
	}
	block, _ := pem.Decode(data)
	if block == nil || block.Type != kind {
		return nil, fmt.Errorf("%s holds no %s", file, strings.ToLower(kind))
	}
	return block.Bytes, nil
}

func (a *Authority) make(folder, title string) (err error) {
	if a.key, err = ecdsa.GenerateKey(elliptic.P256(), rand.Reader); err != nil {
		return err
	}
	now := a.now()
	template := &x509.Certificate{
		SerialNumber:          serial(),
		Subject:               pkix.Name{CommonName: title, Organization: []string{"Amvek"}},
		NotBefore:             now.Add(-backdated),
		NotAfter:              now.Add(authorityFor),
		IsCA:                  true,
		MaxPathLenZero:        true,
		BasicConstraintsValid: true,
		KeyUsage:              x509.KeyUsageCertSign,
	}
	der, err := x509.CreateCertificate(rand.Reader, template, template, a.key.Public(), a.key)
	if err != nil {
		return err
	}
	if a.certificate, err = x509.ParseCertificate(der); err != nil {
		return err
	}
	key, err := x509.MarshalECPrivateKey(a.key)
	if err != nil {
		return err
	}
	if err := write(filepath.Join(folder, keyFile), "EC PRIVATE KEY", key); err != nil {
		return err
	}
	return write(filepath.Join(folder, certificateFile), "CERTIFICATE", der)
}

func write(file, kind string, data []byte) error {
	next := file + ".new"
	if err := os.WriteFile(next, pem.EncodeToMemory(&pem.Block{Type: kind, Bytes: data}), 0o600); err != nil {
		return err
	}
	return os.Rename(next, file)
}

func serial() *big.Int {
	n, err := rand.Int(rand.Reader, new(big.Int).Lsh(big.NewInt(1), 120))
	if err != nil {
		return big.NewInt(time.Now().UnixNano())
	}
	return n.Add(n, big.NewInt(1))
}

// Certificate returns the authority's certificate in DER, as devices take it to trust it.
func (a *Authority) Certificate() []byte { return a.certificate.Raw }

// Fingerprint returns the SHA-256 of the authority's certificate, as devices show it.
func (a *Authority) Fingerprint() string {
	sum := sha256.Sum256(a.certificate.Raw)
	parts := make([]string, len(sum))
	for i, b := range sum {
		parts[i] = fmt.Sprintf("%02X", b)
	}
	return strings.Join(parts, ":")
}

// Get returns the hub's certificate for a connection. It is made anew in time before its end, and when the machine has come to
// be reached by other names or addresses.
func (a *Authority) Get(*tls.ClientHelloInfo) (*tls.Certificate, error) {
	a.mu.Lock()
	defer a.mu.Unlock()
	hosts, addresses := a.names()
	slices.Sort(hosts)
	slices.SortFunc(addresses, netip.Addr.Compare)
	covers := fmt.Sprint(hosts, addresses)
	if a.current != nil && a.covers == covers && a.now().Before(a.current.Leaf.NotAfter.Add(-renewedBefore)) && !a.now().Before(a.current.Leaf.NotBefore) {
		return a.current, nil
	}
	key, err := ecdsa.GenerateKey(elliptic.P256(), rand.Reader)
	if err != nil {
		return nil, err
	}
	now := a.now()
	template := &x509.Certificate{
		SerialNumber: serial(),
		Subject:      pkix.Name{CommonName: "Amvek hub"},
		NotBefore:    now.Add(-backdated),
		NotAfter:     now.Add(leafFor),
		KeyUsage:     x509.KeyUsageDigitalSignature,
		ExtKeyUsage:  []x509.ExtKeyUsage{x509.ExtKeyUsageServerAuth},
		DNSNames:     hosts,
	}
	for _, ip := range addresses {
		template.IPAddresses = append(template.IPAddresses, net.IP(ip.AsSlice()))
	}
	der, err := x509.CreateCertificate(rand.Reader, template, a.certificate, key.Public(), a.key)
	if err != nil {
		return nil, fmt.Errorf("making a certificate: %w", err)
	}
	leaf, err := x509.ParseCertificate(der)
	if err != nil {
		return nil, err
	}
	a.current, a.covers = &tls.Certificate{Certificate: [][]byte{der, a.certificate.Raw}, PrivateKey: key, Leaf: leaf}, covers
	return a.current, nil
}

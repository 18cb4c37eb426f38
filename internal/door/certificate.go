package door

import (
	"crypto/ecdsa"
	"crypto/elliptic"
	"crypto/rand"
	"crypto/sha256"
	"crypto/tls"
	"crypto/x509"
	"crypto/x509/pkix"
	"encoding/hex"
	"encoding/pem"
	"errors"
	"fmt"
	"io/fs"
	"math/big"
	"net"
	"os"
	"strings"
	"time"
)

// A certificate of the program's own lasts for years: each new one has to be compared by everybody anew.
const (
	lasts = 5 * 365 * 24 * time.Hour
	early = 30 * 24 * time.Hour // before its end another is made
)

// Certificate gives the certificate of the program, made now and kept in the file where there is none, or where it is over.
func (d *Door) Certificate(path string) (tls.Certificate, error) {
	c, err := tls.LoadX509KeyPair(path, path)
	switch {
	case err == nil && d.covers(&c):
		return c, nil
	case err != nil && !errors.Is(err, fs.ErrNotExist):
		return c, fmt.Errorf("%s holds no certificate that can be read: %w. Remove it, and another is made", path, err)
	}
	data, err := d.make(time.Now())
	if err != nil {
		return c, err
	}
	if err := os.WriteFile(path+".making", data, 0o600); err != nil {
		return c, err
	}
	if err := os.Rename(path+".making", path); err != nil {
		return c, err
	}
	return tls.LoadX509KeyPair(path, path)
}

// covers tells whether a certificate is good for some time yet, and for the names that were told.
func (d *Door) covers(c *tls.Certificate) bool {
	if time.Until(c.Leaf.NotAfter) < early {
		return false
	}
	for _, name := range d.Names {
		if c.Leaf.VerifyHostname(name) != nil {
			return false
		}
	}
	return true
}

// make makes a certificate signed by itself and its key, both in PEM (RFC 7468).
func (d *Door) make(now time.Time) ([]byte, error) {
	key, err := ecdsa.GenerateKey(elliptic.P256(), rand.Reader)
	if err != nil {
		return nil, err
	}
	const bits = 120
	serial, err := rand.Int(rand.Reader, new(big.Int).Lsh(big.NewInt(1), bits))
	if err != nil {
		return nil, err
	}
	template := x509.Certificate{
		SerialNumber:          serial,
		Subject:               pkix.Name{CommonName: "Step Trace of this workshop"},
		NotBefore:             now.Add(-time.Hour),
		NotAfter:              now.Add(lasts),
		KeyUsage:              x509.KeyUsageDigitalSignature,
		ExtKeyUsage:           []x509.ExtKeyUsage{x509.ExtKeyUsageServerAuth},
		BasicConstraintsValid: true,
		DNSNames:              append([]string{"localhost"}, d.Names...),
	}
	for _, ip := range d.addresses() {
		template.IPAddresses = append(template.IPAddresses, net.IP(ip.AsSlice()))
	}
	der, err := x509.CreateCertificate(rand.Reader, &template, &template, &key.PublicKey, key)
	if err != nil {
		return nil, err
	}
	private, err := x509.MarshalPKCS8PrivateKey(key)
	if err != nil {
		return nil, err
	}
	return append(
		pem.EncodeToMemory(&pem.Block{Type: "CERTIFICATE", Bytes: der}),
		pem.EncodeToMemory(&pem.Block{Type: "PRIVATE KEY", Bytes: private})...,
	), nil
}

// Fingerprint is that of a certificate as browsers show it: SHA-256 in pairs of hexadecimal digits.
func Fingerprint(c *tls.Certificate) string {
	sum := sha256.Sum256(c.Certificate[0])
	pairs := make([]string, len(sum))
	for i, b := range sum {
		pairs[i] = strings.ToUpper(hex.EncodeToString([]byte{b}))
	}
	return strings.Join(pairs, ":")
}

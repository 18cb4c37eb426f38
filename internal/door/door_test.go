package door

import (
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"
)

// By its own addresses and the names it was told the program is known, by others not, however they are written.
func TestHostsThatAreItsOwn(t *testing.T) {
	d := &Door{Names: []string{"bench.local"}, Port: "4780"}
	for host, want := range map[string]bool{
		"localhost:4780": true, "127.0.0.1": true, "127.8.9.1:1": true, "[::1]:4780": true, "BENCH.local:4780": true,
		"elsewhere.test": false, "bench.local.elsewhere.test": false, "203.0.113.7:4780": false, "": false,
		"localhost.elsewhere.test": false,
		"[2001:db8::1]:4780":       false, "0.0.0.0": false,
	} {
		if got := d.Knows(host); got != want {
			t.Errorf("%q: %v", host, got)
		}
	}
	for _, ip := range d.addresses() {
		if !d.Knows(ip.String()) {
			t.Errorf("its own address %s is not known", ip)
		}
	}
	if ways := d.Ways("elsewhere.test"); len(ways) == 0 || ways[0] != "http://bench.local:4780" {
		t.Errorf("%v", ways)
	}
}

// A certificate is made once, for the names that were told, and again near its end or where a name is missing.
func TestACertificateIsMadeOnce(t *testing.T) {
	path := filepath.Join(t.TempDir(), "c.pem")
	d := &Door{Names: []string{"bench.local"}}
	first, err := d.Certificate(path)
	if err != nil || first.Leaf.VerifyHostname("bench.local") != nil || first.Leaf.VerifyHostname("127.0.0.1") != nil {
		t.Fatal(err)
	}
	if info, err := os.Stat(path); err != nil || info.Mode().Perm() != 0o600 {
		t.Error(info.Mode(), err)
	}
	again, err := d.Certificate(path)
	if err != nil || Fingerprint(&again) != Fingerprint(&first) || strings.Count(Fingerprint(&first), ":") != 31 {
		t.Error(err, Fingerprint(&again))
	}
	d.Names = append(d.Names, "other.local")
	other, err := d.Certificate(path)
	if err != nil || Fingerprint(&other) == Fingerprint(&first) || other.Leaf.VerifyHostname("other.local") != nil {
		t.Error(err)
	}
	old, err := d.make(time.Now().Add(early - lasts - time.Hour))
	if err != nil {
		t.Fatal(err)
	}
	if err := os.WriteFile(path, old, 0o600); err != nil {
		t.Fatal(err)
	}
	if renewed, err := d.Certificate(path); err != nil || time.Until(renewed.Leaf.NotAfter) < lasts-time.Hour*2 {
		t.Error(err)
	}
	if err := os.WriteFile(path, []byte("none"), 0o600); err != nil {
		t.Fatal(err)
	}
	if _, err := d.Certificate(path); err == nil || !strings.Contains(err.Error(), "Remove it") {
		t.Error(err)
	}
}

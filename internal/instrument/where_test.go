package instrument

import (
	"context"
	"errors"
	"net"
	"strings"
	"testing"
)

// Only what is in the workshop's own network is connected to, whatever a name leads to, unless more was allowed.
func TestOnlyTheWorkshopsNetworkIsConnectedTo(t *testing.T) {
	for address, want := range map[string]bool{
		"127.0.0.1:5025": true, "[::1]:5025": true, "10.1.2.3:5025": true, "172.31.0.1:5025": true, "192.168.7.7:5025": true,
		"[fd00::7]:5025": true, "[::ffff:192.168.1.1]:5025": true,
		"192.0.2.1:5025": false, "203.0.113.9:5025": false, "169.254.169.254:5025": false, "[2001:db8::1]:5025": false,
		"172.32.0.1:5025": false, "[::ffff:203.0.113.9]:5025": false, "0.0.0.0:5025": false, "[::]:5025": false, "100.64.0.1:5025": false,
	} {
		if err := near("tcp", address, nil); (err == nil) != want {
			t.Errorf("%s: %v", address, err)
		}
	}
	b := NewBench()
	defer b.Close()
	ctx, cancel := context.WithCancel(t.Context())
	b.Put(Instrument{ID: "x", Name: "it", Kind: Meter, Address: "203.0.113.9:5025", Words: Usual(Meter)}) // RFC 5737
	if _, err := b.Identify(ctx, "x"); err == nil || !strings.Contains(err.Error(), "outside of the workshop's network") {
		t.Error(err)
	}
	b.Put(Instrument{ID: "x", Name: "it", Kind: Meter, Address: "203.0.113.9:5025", Words: Usual(Meter), Wide: true})
	cancel() // it is tried now, and given up
	var away afar
	if _, err := b.Identify(ctx, "x"); err == nil || errors.As(err, &away) {
		t.Error(err)
	}
}

// Ports on which other services are known to answer are no instrument's.
func TestPortsOfOtherServices(t *testing.T) {
	for port, want := range map[string]bool{
		"22": false, "25": false, "80": false, "443": false, "631": false, "1023": false, "3306": false, "6379": false, "9200": false,
		"1024": true, "5025": true, "5555": true, "4000": true, "40000": true, "0": false, "65536": false, "-1": false, "x": false,
	} {
		if err := portOf(port); (err == nil) != want {
			t.Errorf("%s: %v", port, err)
		}
	}
	in := Instrument{Name: "x", Kind: Meter, Address: "127.0.0.1:6379", Words: Usual(Meter)}
	if err := in.Check(); err == nil || !strings.Contains(err.Error(), "another service") {
		t.Error(err)
	}
}

// What other services say to the words of an instrument is not shown.
func TestAnswersOfOtherServicesAreNotShown(t *testing.T) {
	for name, says := range map[string]string{
		"web":       "HTTP/1.1 400 Bad Request\r\n\r\nsecret",
		"shell":     "SSH-2.0-secret_9.9\r\n",
		"mail":      "220 secret.example ESMTP\r\n",
		"post":      "+OK secret ready\r\n",
		"store":     "-ERR unknown command 'secret'\r\n",
		"page":      "<html>secret\n",
		"documents": "{\"secret\":1}\n",
		"bytes":     "J\x00\x00\x00\x0asecret\n",
	} {
		l, err := net.Listen("tcp", "127.0.0.1:0")
		if err != nil {
			t.Fatal(err)
		}
		go func() {
			for {
				c, err := l.Accept()
				if err != nil {
					return
				}
				_, _ = c.Write([]byte(says))
			}
		}()
		b := NewBench()
		b.Put(Instrument{ID: "x", Name: "it", Kind: Meter, Address: l.Addr().String(), Words: Usual(Meter)})
		text, err := b.Identify(t.Context(), "x")
		if err == nil || strings.Contains(text+err.Error(), "secret") {
			t.Errorf("%s: %q %v", name, text, err)
		}
		if x, err := b.Measure(t.Context(), "x", "dc"); err == nil || strings.Contains(err.Error(), "secret") {
			t.Errorf("%s: %v %v", name, x, err)
		}
		b.Close()
		if err := l.Close(); err != nil {
			t.Error(err)
		}
	}
	for _, good := range []string{"Generic Works,BM-1,000001,1.0", "2.5E+00", "0,\"No error\"", "µV;Ω", ""} {
		if !reads(good) {
			t.Errorf("%q", good)
		}
	}
}

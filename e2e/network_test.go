package e2e

import (
	"crypto/sha256"
	"crypto/tls"
	"fmt"
	"net/http"
	"net/url"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"steptrace/internal/server"
)

// network starts the program for devices in the network too, which come by the name bench.test.
func network(t *testing.T, flags ...string) *program {
	t.Helper()
	p := &program{t: t, data: filepath.Join(t.TempDir(), "workshop.db"), port: "0.0.0.0:0"}
	p.run(append([]string{"-demo", "-name", "bench.test"}, flags...)...)
	t.Cleanup(p.kill)
	return p
}

// A phone is let in by a code for one job: what is read on it stands on the bench within a second, with who read it; of the rest it is
// told nothing; sent out, it is asked for the words.
func TestAPhoneReadsBesideTheBench(t *testing.T) {
	p := network(t, "-plain")
	bench := open(t, 1280, 800)
	var v server.PhoneView
	if !postJSON(t, p.url+"/api/invite", `{"job":147}`, &v) || len(v.Ways) == 0 {
		t.Fatalf("%+v", v)
	}
	address, err := url.Parse(v.Ways[0].Address)
	must(t, err)
	if address.Hostname() != "bench.test" || v.Encrypted {
		t.Fatalf("%+v", v)
	}
	must(t, bench.Go(p.url+"/#/jobs/147"))
	must(t, bench.See("K1-4"))
	phone := open(t, 390, 844)
	must(t, phone.Go(address.String()))
	must(t, phone.See("readings of No. 147"))
	must(t, phone.Fill("[name=initials]", "ph"))
	must(t, phone.Click("button"))
	must(t, phone.See("Take or choose a photograph"))
	must(t, phone.Button("Readings"))
	must(t, phone.See("Probe K1-4"))
	must(t, phone.Click("#entry"))
	must(t, phone.Keys("4.9 V\r"))
	must(t, phone.Until(`document.querySelector('[aria-label=Evidence]')?.textContent.includes('4.9 V')`))
	sent := time.Now()
	must(t, bench.Until(`document.querySelector('[aria-label=Evidence]')?.textContent.includes('4.9 V')`))
	if took := time.Since(sent); took > time.Second {
		t.Errorf("the bench saw it after %v", took)
	}
	must(t, bench.Until(`document.querySelector('[aria-label=Evidence] [title="noted by ph"]') !== null`))
	// While something is typed at the bench, what it is typed under stays; then the rest comes.
	must(t, bench.Fill("#entry", "3"), phone.Click("#entry"), phone.Keys("4.8 V\r"))
	must(t, phone.Until(`document.querySelector('[aria-label=Evidence]')?.textContent.includes('4.8 V')`))
	time.Sleep(time.Second)
	const there = `document.querySelector('[aria-label=Evidence]').textContent.includes('4.8 V')`
	must(t, bench.Until("!"+there), bench.Fill("#entry", ""), bench.Until(there))
	must(t, phone.Go(address.Scheme+"://"+address.Host+"/#/"))
	must(t, phone.See("let in for pictures and readings of one job"))
	var d server.DoorView
	if getJSON(t, p.url+"/api/door", &d); len(d.Devices) != 1 {
		t.Fatalf("%+v", d)
	}
	must(t, bench.Go(p.url+"/#/"))
	must(t, bench.See("On the bench"))
	must(t, bench.Keys("i"))
	must(t, bench.See("readings of No. 147"))
	must(t, bench.Button("Send out"))
	must(t, bench.See("No device is let in"))
	must(t, phone.Go(address.Scheme+"://"+address.Host+"/"))
	must(t, phone.See("The words"))
}

// Encrypted, the machine itself is served as ever; a device gives the words over TLS alone, with the certificate whose fingerprint is
// shown, and what it was given stays good when the program begins anew.
func TestTheNetworkIsEncrypted(t *testing.T) {
	p := network(t)
	var d server.DoorView
	if getJSON(t, p.url+"/api/door", &d); len(strings.Fields(d.Words)) != 5 || len(d.Fingerprint) != 32*3-1 {
		t.Fatalf("%+v", d)
	}
	port := p.url[strings.LastIndex(p.url, ":"):]
	seen := ""
	client := http.Client{
		CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse },
		Transport: &http.Transport{TLSClientConfig: &tls.Config{
			ServerName: "bench.test", InsecureSkipVerify: true, // a certificate signed by itself is compared by its fingerprint
			VerifyConnection: func(c tls.ConnectionState) error {
				seen = fingerprint(c.PeerCertificates[0].Raw)
				return c.PeerCertificates[0].VerifyHostname("bench.test")
			},
		}},
	}
	ask := func(method, scheme, path, body string, cookies []*http.Cookie) *http.Response {
		r, err := http.NewRequestWithContext(t.Context(), method, scheme+"://127.0.0.1"+port+path, strings.NewReader(body))
		must(t, err)
		r.Host = "bench.test" + port
		if body != "" {
			r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
		}
		for _, c := range cookies {
			r.AddCookie(c)
		}
		res, err := client.Do(r)
		must(t, err)
		must(t, res.Body.Close())
		return res
	}
	words := url.Values{"words": {d.Words}}.Encode()
	if res := ask("POST", "http", "/enter", words, nil); res.StatusCode != http.StatusUpgradeRequired {
		t.Errorf("plainly: %d", res.StatusCode)
	}
	if res := ask("GET", "http", "/", "", nil); !strings.HasPrefix(res.Header.Get("Location"), "https://bench.test") {
		t.Errorf("%d %v", res.StatusCode, res.Header)
	}
	res := ask("POST", "https", "/enter", words, nil)
	cookies := res.Cookies()
	if res.StatusCode != http.StatusSeeOther || len(cookies) != 1 || !cookies[0].HttpOnly || !cookies[0].Secure ||
		cookies[0].SameSite != http.SameSiteLaxMode {
		t.Fatalf("%d %v", res.StatusCode, cookies)
	}
	if seen != d.Fingerprint {
		t.Errorf("the certificate is %s, shown was %s", seen, d.Fingerprint)
	}
	p.stop()
	p.port = "0.0.0.0" + port
	p.run("-name", "bench.test")
	client.CloseIdleConnections()
	if res := ask("GET", "https", "/api/jobs", "", cookies); res.StatusCode != http.StatusOK {
		t.Errorf("after it began anew: %d", res.StatusCode)
	}
	var again server.DoorView
	if getJSON(t, p.url+"/api/door", &again); again.Words != "" || again.Fingerprint != d.Fingerprint || len(again.Devices) != 1 {
		t.Errorf("%+v", again)
	}
	p.stop()
	if out, err := command(p.data, "words"); err != nil || !strings.Contains(out, "let devices in") {
		t.Errorf("%v %s", err, out)
	}
	p.port = "0.0.0.0" + port
	p.run("-name", "bench.test")
	client.CloseIdleConnections()
	if res := ask("GET", "https", "/api/jobs", "", cookies); res.StatusCode != http.StatusUnauthorized {
		t.Errorf("with other words: %d", res.StatusCode)
	}
}

// fingerprint is the SHA-256 of a certificate, in pairs of digits.
func fingerprint(der []byte) string {
	return strings.ReplaceAll(strings.TrimSpace(fmt.Sprintf("% X", sha256.Sum256(der))), " ", ":")
}

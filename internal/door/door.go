// Package door knows how the program is reached from the network: by which names, with what encryption, and by what words.
package door

import (
	"cmp"
	"net"
	"net/http"
	"net/netip"
	"slices"
	"strings"
	"sync"
	"time"
)

// Door is how the program is reached from beyond the machine it runs on.
type Door struct {
	Names       []string // host names it was told, in lower case
	Port        string
	Encrypted   bool
	Fingerprint string // of its certificate; empty where nothing is encrypted

	mu   sync.Mutex
	at   time.Time
	here []netip.Addr
}

// stale is how long the machine's addresses are taken to be what they were.
const stale = 5 * time.Second

// addresses are the machine's own, looked up now and then: a network that is joined later counts too.
func (d *Door) addresses() []netip.Addr {
	d.mu.Lock()
	defer d.mu.Unlock()
	if time.Since(d.at) < stale {
		return d.here
	}
	all, err := net.InterfaceAddrs()
	if err != nil {
		return d.here
	}
	d.at, d.here = time.Now(), nil
	for _, a := range all {
		if p, err := netip.ParsePrefix(a.String()); err == nil {
			d.here = append(d.here, p.Addr().Unmap().WithZone(""))
		}
	}
	return d.here
}

// Knows tells whether the program is reached by a host, as it stands in a request: by a loopback name or address, an address that this
// machine has, or a name it was told. Another name that leads here is somebody else's.
func (d *Door) Knows(host string) bool {
	name := hostOf(host)
	if Loopback(host) {
		return true
	}
	if ip, err := netip.ParseAddr(name); err == nil {
		return slices.Contains(d.addresses(), ip.Unmap().WithZone(""))
	}
	return slices.Contains(d.Names, name)
}

// Loopback tells whether a host is this machine alone.
func Loopback(host string) bool {
	name := hostOf(host)
	ip, err := netip.ParseAddr(name)
	return name == "localhost" || err == nil && ip.Unmap().IsLoopback()
}

// hostOf is a host without its port.
func hostOf(host string) string {
	if h, _, err := net.SplitHostPort(host); err == nil {
		host = h
	}
	return strings.ToLower(strings.Trim(host, "[]"))
}

// Ways are the addresses by which others in the network reach the program: that by which it was asked first, then the told names, then
// the machine's addresses.
func (d *Door) Ways(asked string) []string {
	var hosts []string
	if name := hostOf(asked); !Loopback(asked) && d.Knows(asked) {
		hosts = append(hosts, name)
	}
	hosts = append(hosts, d.Names...)
	var ips []string
	for _, ip := range d.addresses() {
		if ip.Is4() && !ip.IsLoopback() && !ip.IsLinkLocalUnicast() {
			ips = append(ips, ip.String())
		}
	}
	slices.Sort(ips)
	var out []string
	for _, h := range append(hosts, ips...) {
		way := d.scheme() + "://" + net.JoinHostPort(h, cmp.Or(d.Port, "80"))
		if !slices.Contains(out, way) {
			out = append(out, way)
		}
	}
	return out
}

func (d *Door) scheme() string {
	if d.Encrypted {
		return "https"
	}
	return "http"
}

// Says tells what can be read along in the network, and what not.
func (d *Door) Says() string {
	if d.Encrypted {
		return "Everything between a device and this program is encrypted. The browser asks once whether the certificate is right: " +
			"compare the fingerprint it shows with the one here. What lies in the data file and its copies is not encrypted."
	}
	return "Nothing is encrypted: whoever is in this network can read along, the words too, and browsers do not let pages use the " +
		"microphone. Start it without -plain to encrypt."
}

// Here tells whether a request comes from the machine itself: from its loopback, by a loopback name, and not passed on by something
// that answers for others.
func Here(r *http.Request) bool {
	at, err := netip.ParseAddrPort(r.RemoteAddr)
	if err != nil || !at.Addr().Unmap().IsLoopback() || !Loopback(r.Host) {
		return false
	}
	for _, passed := range []string{"Forwarded", "X-Forwarded-For", "X-Real-Ip", "Via"} {
		if r.Header.Get(passed) != "" {
			return false
		}
	}
	return true
}

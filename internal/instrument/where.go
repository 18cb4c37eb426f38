package instrument

import (
	"fmt"
	"net"
	"net/netip"
	"slices"
	"strconv"
	"strings"
	"syscall"
	"unicode"
)

// Where instruments are: in the workshop's own network, or on this machine. Whoever may name an address is not to reach other services by
// it, nor read what they say.

// services are ports beyond the well-known ones (below 1024, RFC 6335) on which something else than an instrument answers: databases,
// remote desktops, proxies, what runs other programs.
var services = []int{
	1433, 1521, 2049, 2375, 2376, 3128, 3306, 3389, 5432, 5672, 5900, 5901, 5985, 5986, 6379, 6443, 8000, 8080, 8443, 8888, 9000, 9090,
	9200, 10250, 11211, 27017,
}

const wellKnown = 1024

// portOf tells of a port whether an instrument may be behind it.
func portOf(port string) error {
	n, err := strconv.Atoi(port)
	if err != nil || n < 1 || n > 65535 {
		return fmt.Errorf("%q is no port", port)
	}
	if n < wellKnown || slices.Contains(services, n) {
		return fmt.Errorf("on port %d another service answers, not an instrument: its manual says which port takes remote messages", n)
	}
	return nil
}

// afar says that an address is beyond the workshop's network.
type afar struct{ ip netip.Addr }

func (a afar) Error() string {
	return fmt.Sprintf("%s is outside of the workshop's network (private and loopback addresses, RFC 1918, RFC 4193). "+
		"At the machine that the program runs on it can be allowed", a.ip)
}

// near looks at the address that is really connected to: a name may lead anywhere, and elsewhere a moment later.
func near(_, address string, _ syscall.RawConn) error {
	at, err := netip.ParseAddrPort(address)
	if err != nil {
		return err
	}
	if ip := at.Addr().Unmap(); !ip.IsPrivate() && !ip.IsLoopback() {
		return afar{ip}
	}
	return portOf(fmt.Sprint(at.Port()))
}

// dialer connects to an instrument.
func dialer(wide bool) net.Dialer {
	d := net.Dialer{Timeout: dialTime}
	if !wide {
		d.Control = near
	}
	return d
}

// foreign are beginnings of what other services say.
var foreign = []string{"HTTP/", "SSH-", "RFB ", "+OK", "* OK", "-ERR", "-NOAUTH", "<", "{", "[", "220 ", "220-", "EHLO", "ERROR\t"}

// reads tells whether an answer reads like an instrument's: printable, and not the greeting of another service.
func reads(text string) bool {
	if slices.ContainsFunc(foreign, func(begins string) bool {
		rest, ok := strings.CutPrefix(text, begins)
		return ok && strings.ContainsFunc(rest, unicode.IsLetter)
	}) {
		return false
	}
	return !strings.ContainsFunc(text, func(r rune) bool { return r != '\t' && r != unicode.ReplacementChar && unicode.IsControl(r) })
}

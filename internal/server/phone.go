package server

import (
	"encoding/base64"
	"fmt"
	"net"
	"net/http"
	"slices"
	"sync"
	"time"

	"github.com/google/uuid"
	"github.com/skip2/go-qrcode"
)

// A phone in the same network sends photographs of a board to a page whose address has a code, shown as a
// QR code (ISO/IEC 18004) to be pointed at.

// codeLasts is long enough to photograph a set from all sides.
const codeLasts = time.Hour

// codes are given out for a sheet and run out.
type codes struct {
	mu sync.Mutex
	of map[string]code
}

type code struct {
	sheet int64
	until time.Time
}

// give makes a code for a sheet.
func (c *codes) give(sheet int64) string {
	c.mu.Lock()
	defer c.mu.Unlock()
	now := time.Now()
	if c.of == nil {
		c.of = map[string]code{}
	}
	for k, x := range c.of {
		if now.After(x.until) {
			delete(c.of, k)
		}
	}
	k := uuid.NewString()[:8]
	c.of[k] = code{sheet, now.Add(codeLasts)}
	return k
}

// sheet tells what a code was given out for.
func (c *codes) sheet(k string) (int64, error) {
	c.mu.Lock()
	defer c.mu.Unlock()
	x, ok := c.of[k]
	if !ok || time.Now().After(x.until) {
		return 0, problem(
			http.StatusNotFound,
			"Code has run out",
			"This code is not valid any more: show a new one at the bench and point the phone at it.",
		)
	}
	return x.sheet, nil
}

// PhoneWay is one address that a phone may reach. QR is a picture of it, a data URL of a PNG.
type PhoneWay struct {
	Address string `json:"address"`
	QR      string `json:"qr"`
}

// PhoneView is how a phone sends pictures. Says tells what to do where it cannot.
type PhoneView struct {
	Ways []PhoneWay `json:"ways"`
	Says string     `json:"says"`
}

const qrSide = 264 // pixels

// invitePhone gives a code for a sheet's pictures.
func (s *Server) invitePhone(r *http.Request) (PhoneView, error) {
	x, err := s.loadSheet(r)
	if err != nil {
		return PhoneView{}, err
	}
	if s.local {
		return PhoneView{Says: "Step Trace answers on this computer only. Started with -listen :4780 it also answers a phone in the " +
			"same network, and whoever else is in it. Until then: a file, a picture dropped here, or one pasted."}, nil
	}
	here, port, err := net.SplitHostPort(r.Host)
	if err != nil {
		here, port = r.Host, "80"
	}
	out, k := PhoneView{}, s.codes.give(x.ID)
	for _, host := range hosts(here) {
		address := fmt.Sprintf("http://%s/#/send/%s", net.JoinHostPort(host, port), k)
		png, err := qrcode.Encode(address, qrcode.Medium, qrSide)
		if err != nil {
			return out, err
		}
		out.Ways = append(out.Ways, PhoneWay{address, "data:image/png;base64," + base64.StdEncoding.EncodeToString(png)})
	}
	if len(out.Ways) == 0 {
		out.Says = "This computer is in no network that a phone could be in too."
	}
	return out, nil
}

// hosts are this machine's addresses in the networks it is in, first that by which the bench knows it.
func hosts(here string) []string {
	var out []string
	all, err := net.InterfaceAddrs()
	if err != nil {
		return nil
	}
	for _, a := range all {
		if n, ok := a.(*net.IPNet); ok && n.IP.To4() != nil && !n.IP.IsLoopback() && !n.IP.IsLinkLocalUnicast() {
			out = append(out, n.IP.String())
		}
	}
	slices.Sort(out)
	out = slices.Compact(out)
	if ip := net.ParseIP(here); ip != nil && !ip.IsLoopback() && !ip.IsUnspecified() {
		out = append([]string{here}, slices.DeleteFunc(out, func(x string) bool { return x == here })...)
	}
	return out
}

// PhoneSet is the set that a phone sends pictures of.
type PhoneSet struct {
	Set string `json:"set"`
}

func (s *Server) phoneSet(r *http.Request) (PhoneSet, error) {
	id, err := s.codes.sheet(param(r, "code"))
	if err != nil {
		return PhoneSet{}, err
	}
	x, err := s.store.Sheet(r.Context(), id)
	if err != nil {
		return PhoneSet{}, err
	}
	return PhoneSet{x.Document.Name()}, nil
}

// phoneSends takes a picture from a phone.
func (s *Server) phoneSends(w http.ResponseWriter, r *http.Request) (PhoneSet, error) {
	id, err := s.codes.sheet(param(r, "code"))
	if err == nil {
		err = s.keepBoard(w, r, id)
	}
	if err != nil {
		return PhoneSet{}, err
	}
	return s.phoneSet(r)
}

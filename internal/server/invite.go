package server

import (
	"context"
	"encoding/base64"
	"errors"
	"fmt"
	"net/http"
	"slices"
	"strings"
	"sync"
	"time"

	"github.com/google/uuid"
	"github.com/skip2/go-qrcode"

	"steptrace/internal/store"
)

// A device is let in by a code too, shown as a QR code (ISO/IEC 18004) to be pointed at: for everything, or for pictures and readings of
// one set alone.

const (
	onceWithin = 10 * time.Minute // a code for everything is used once, within that
	codeLasts  = time.Hour        // one for a job: long enough to photograph a set from all sides
	codeDigits = 16               // hexadecimal: as many as may have to be typed
)

// invited is what a code lets in for.
type invited struct {
	job   int
	sheet int64
	until time.Time
}

// codes are given out and run out.
type codes struct {
	mu    sync.Mutex
	given map[string]invited
}

// give makes a code.
func (c *codes) give(x invited) string {
	c.mu.Lock()
	defer c.mu.Unlock()
	if c.given == nil {
		c.given = map[string]invited{}
	}
	for k, was := range c.given {
		if time.Now().After(was.until) {
			delete(c.given, k)
		}
	}
	k := strings.ReplaceAll(uuid.NewString(), "-", "")[:codeDigits]
	c.given[k] = x
	return k
}

// of tells what a code is for, if it is good.
func (c *codes) of(k string) (invited, bool) {
	c.mu.Lock()
	defer c.mu.Unlock()
	x, ok := c.given[k]
	return x, ok && time.Now().Before(x.until)
}

// use takes a code; one for everything is good once.
func (c *codes) use(k string) (invited, bool) {
	c.mu.Lock()
	defer c.mu.Unlock()
	x, ok := c.given[k]
	if ok && x.job == 0 && x.sheet == 0 {
		delete(c.given, k)
	}
	return x, ok && time.Now().Before(x.until)
}

// forget makes all of them good for nothing.
func (c *codes) forget() {
	c.mu.Lock()
	defer c.mu.Unlock()
	c.given = nil
}

// Invitation says what for: a job, a sheet (its pictures alone), or neither, for everything.
type Invitation struct {
	Job   int   `json:"job,omitempty"`
	Sheet int64 `json:"sheet,omitempty"`
}

// PhoneWay is one address by which a phone may come. QR is a picture of it, a data URL of a PNG.
type PhoneWay struct {
	Address string `json:"address"`
	QR      string `json:"qr"`
}

// PhoneView is how a phone, or another device, comes in. Says tells what to do where it cannot.
type PhoneView struct {
	Ways        []PhoneWay `json:"ways"`
	For         string     `json:"for"`
	Until       time.Time  `json:"until"`
	Says        string     `json:"says"`
	Encrypted   bool       `json:"encrypted"`
	Fingerprint string     `json:"fingerprint"`
}

const qrSide = 264 // pixels

// alone is what to do where the machine itself is served only.
const alone = "Step Trace answers on this computer only. Started with -listen :4780 it also answers devices in the same network that are " +
	"let in, by a code shown here or by the words that it makes then."

// invite gives a code.
func (s *Server) invite(r *http.Request, req Invitation) (PhoneView, error) {
	c := invited{until: time.Now().Add(codeLasts)}
	switch {
	case req.Job != 0:
		j, err := s.store.Job(r.Context(), req.Job)
		if err != nil {
			return PhoneView{}, err
		}
		c.job, c.sheet = req.Job, j.Sheet.ID
	case req.Sheet != 0:
		if _, err := s.store.Sheet(r.Context(), req.Sheet); err != nil {
			return PhoneView{}, err
		}
		c.sheet = req.Sheet
	case deviceOf(r) != nil:
		return PhoneView{}, problem(http.StatusForbidden, "Not from here", "Devices are let in for everything at the machine itself.")
	default:
		c.until = time.Now().Add(onceWithin)
	}
	d := s.letting.door
	if d == nil {
		return PhoneView{Says: alone}, nil
	}
	out := PhoneView{Until: c.until, For: s.sayFor(r.Context(), c), Encrypted: d.Encrypted, Fingerprint: d.Fingerprint}
	k := s.letting.codes.give(c)
	for _, way := range d.Ways(r.Host) {
		address := way + enterPath + "?code=" + k
		png, err := qrcode.Encode(address, qrcode.Medium, qrSide)
		if err != nil {
			return out, err
		}
		out.Ways = append(out.Ways, PhoneWay{address, "data:image/png;base64," + base64.StdEncoding.EncodeToString(png)})
	}
	if len(out.Ways) == 0 {
		out.Says = "This computer is in no network that another device could be in too."
	}
	return out, nil
}

// sayFor tells what a code lets in for.
func (s *Server) sayFor(ctx context.Context, c invited) string {
	if c.sheet == 0 {
		return "everything in this workshop"
	}
	set := "a set"
	if x, err := s.store.Sheet(ctx, c.sheet); err == nil {
		set = x.Document.Name()
	}
	if c.job == 0 {
		return "pictures of " + set + ", until " + c.until.Format("15:04")
	}
	return fmt.Sprintf("pictures and readings of No. %d, %s, until %s", c.job, set, c.until.Format("15:04"))
}

// Me is who asks: at the machine itself, or on a device, by its name and initials. Job and Sheet are set where it was let in for them
// alone. Open: others in the network can be let in.
type Me struct {
	Here     bool   `json:"here"`
	Open     bool   `json:"open"`
	Name     string `json:"name"`
	Initials string `json:"initials"`
	Job      int    `json:"job,omitempty"`
	Sheet    int64  `json:"sheet,omitempty"`
}

func (s *Server) me(r *http.Request) (Me, error) {
	m := Me{Here: true, Open: s.letting.door != nil, Name: "this machine"}
	if d := deviceOf(r); d != nil {
		m.Here, m.Name, m.Initials, m.Job, m.Sheet = false, d.Name, d.Initials, d.Job, d.Sheet
		return m, nil
	}
	d, err := s.store.Device(r.Context(), store.ThisMachine)
	if err != nil && !errors.Is(err, store.ErrNotFound) {
		return m, err
	}
	m.Initials = d.Initials
	return m, nil
}

// Named is what a device is called, and the initials of who uses it.
type Named struct {
	Name     string `json:"name,omitempty"`
	Initials string `json:"initials"`
}

// callMe keeps who uses a device.
func (s *Server) callMe(r *http.Request, req Named) (Me, error) {
	req.Name, req.Initials = strings.TrimSpace(req.Name), strings.TrimSpace(req.Initials)
	if wrong := tooLong(req.Name, req.Initials); wrong != "" {
		return Me{}, problem(http.StatusUnprocessableEntity, "Too long", wrong)
	}
	now := time.Now()
	d := store.Device{ID: store.ThisMachine, Name: "this machine", Since: now, Seen: now, Until: now.AddDate(1000, 0, 0)} // for good
	if of := deviceOf(r); of != nil {
		d = *of
		if req.Name != "" {
			d.Name = req.Name
		}
	}
	d.Initials = req.Initials
	if err := s.store.PutDevice(r.Context(), d); err != nil {
		return Me{}, err
	}
	m, err := s.me(r)
	m.Name, m.Initials = d.Name, d.Initials
	return m, err
}

// leave sends the device that asks out.
func (s *Server) leave(r *http.Request, _ Nothing) (Nothing, error) {
	d := deviceOf(r)
	if d == nil {
		return Nothing{}, problem(http.StatusConflict, "The machine itself", "The machine that the program runs on is always let in.")
	}
	if err := s.store.SendOut(r.Context(), d.ID); err != nil {
		return Nothing{}, err
	}
	return Nothing{}, s.letting.sessions.Destroy(r.Context())
}

// DoorView is how the program is reached from the network, and who is let in. Words are there as long as the program runs that made them.
type DoorView struct {
	Open        bool          `json:"open"`
	Says        string        `json:"says"`
	Ways        []string      `json:"ways"`
	Fingerprint string        `json:"fingerprint"`
	Words       string        `json:"words"`
	Devices     []DeviceShown `json:"devices"`
}

// DeviceShown is a device that is let in. For is what for.
type DeviceShown struct {
	ID       string    `json:"id"`
	Name     string    `json:"name"`
	Initials string    `json:"initials"`
	For      string    `json:"for"`
	Since    time.Time `json:"since"`
	Seen     time.Time `json:"seen"`
}

func (s *Server) seeDoor(r *http.Request) (DoorView, error) {
	v := DoorView{Says: alone, Ways: []string{}, Devices: []DeviceShown{}}
	if d := s.letting.door; d != nil {
		v.Open, v.Says, v.Ways, v.Fingerprint = true, d.Says(), d.Ways(r.Host), d.Fingerprint
	}
	s.letting.mu.Lock()
	v.Words = s.letting.words
	s.letting.mu.Unlock()
	list, err := s.store.Devices(r.Context())
	if err != nil {
		return v, err
	}
	for _, d := range slices.DeleteFunc(list, func(d store.Device) bool { return d.ID == store.ThisMachine }) {
		v.Devices = append(
			v.Devices,
			DeviceShown{d.ID, d.Name, d.Initials, s.sayFor(r.Context(), invited{d.Job, d.Sheet, d.Until}), d.Since, d.Seen},
		)
	}
	return v, nil
}

func (s *Server) newWords(r *http.Request, _ Nothing) (DoorView, error) {
	if _, err := s.NewWords(r.Context()); err != nil {
		return DoorView{}, err
	}
	return s.seeDoor(r)
}

func (s *Server) sendOut(r *http.Request, _ Nothing) (DoorView, error) {
	id := param(r, "id")
	if id == store.ThisMachine {
		return DoorView{}, store.ErrNotFound
	}
	if err := s.store.SendOut(r.Context(), id); err != nil && !errors.Is(err, store.ErrNotFound) {
		return DoorView{}, err
	}
	return s.seeDoor(r)
}

// PhoneSet is the set that a device was let in for alone. Job is 0 where that is pictures of a sheet.
type PhoneSet struct {
	Set string `json:"set"`
	Job int    `json:"job"`
}

func (s *Server) phoneSet(r *http.Request) (PhoneSet, error) {
	d := deviceOf(r)
	if d == nil || !d.Limited() {
		return PhoneSet{}, problem(http.StatusNotFound, "For a phone",
			"This page is for a device that was let in for one set. Show the code at the set’s pictures, and point the phone at it.")
	}
	x, err := s.store.Sheet(r.Context(), d.Sheet)
	if err != nil {
		return PhoneSet{}, err
	}
	return PhoneSet{x.Document.Name(), d.Job}, nil
}

// phoneSends takes a picture from a phone.
func (s *Server) phoneSends(w http.ResponseWriter, r *http.Request) (PhoneSet, error) {
	v, err := s.phoneSet(r)
	if err == nil {
		err = s.keepBoard(w, r, deviceOf(r).Sheet)
	}
	return v, err
}

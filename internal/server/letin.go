package server

import (
	"bytes"
	"context"
	_ "embed"
	"errors"
	"fmt"
	"html/template"
	"log/slog"
	"net"
	"net/http"
	"strings"
	"sync"
	"time"
	"unicode/utf8"

	"github.com/alexedwards/scs/v2"
	"github.com/go-chi/httprate"
	"github.com/google/uuid"

	"steptrace/core/entry"
	"steptrace/internal/door"
	"steptrace/internal/store"
)

// Beyond the machine itself nothing is served but the page that asks for the words, until a device was let in.

const (
	letInFor  = 180 * 24 * time.Hour // a device asks anew after that
	unseenFor = 45 * 24 * time.Hour  // or after so long without being there
	noteSeen  = time.Minute          // how often it is noted that one is there
)

// Tries at the words, each minute.
const (
	triesByOne = 10
	triesByAll = 60
)

// letting is how devices are let in.
type letting struct {
	door     *door.Door // nil: the machine itself alone is served
	sessions *scs.SessionManager
	codes    codes
	byOne    *httprate.RateLimiter
	byAll    *httprate.RateLimiter

	mu    sync.Mutex
	words string // as long as the program runs that made them; they are kept hashed alone
}

func newLetting(s *store.Store, d *door.Door) *letting {
	l := &letting{door: d, sessions: scs.New()}
	l.sessions.Store = store.Sessions{Store: s}
	l.sessions.HashTokenInStore = true
	l.sessions.Lifetime = letInFor
	l.sessions.Cookie.Name = "steptrace"
	l.sessions.Cookie.Secure = d != nil && d.Encrypted
	l.sessions.ErrorFunc = fail
	l.byOne = httprate.NewRateLimiter(triesByOne, time.Minute)
	l.byAll = httprate.NewRateLimiter(triesByAll, time.Minute)
	return l
}

// Words has the words made that let devices in, where there are none yet, and gives them; empty where they were made before.
func (s *Server) Words(ctx context.Context) (string, error) {
	if _, err := s.store.Passphrase(ctx); !errors.Is(err, store.ErrNotFound) {
		return "", err
	}
	return s.NewWords(ctx)
}

// NewWords makes others; who was let in by those before is sent out.
func (s *Server) NewWords(ctx context.Context) (string, error) {
	words, err := door.Words()
	if err != nil {
		return "", err
	}
	hash, err := door.Hash(words)
	if err == nil {
		err = s.store.SetPassphrase(ctx, hash)
	}
	if err != nil {
		return "", err
	}
	s.letting.codes.forget()
	s.letting.mu.Lock()
	defer s.letting.mu.Unlock()
	s.letting.words = words
	return words, nil
}

type deviceKey struct{}

// deviceOf is the device that asks; nil where that is the machine itself.
func deviceOf(r *http.Request) *store.Device {
	d, _ := r.Context().Value(deviceKey{}).(*store.Device)
	return d
}

// ourOwn refuses hosts that are not this program's, and pages elsewhere that ask through a browser here.
func (s *Server) ourOwn(next http.Handler) http.Handler {
	elsewhere := http.NewCrossOriginProtection()
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		switch d := s.letting.door; {
		case d == nil && !door.Loopback(r.Host):
			fail(w, r, problem(http.StatusMisdirectedRequest, "Wrong host",
				"This Step Trace answers on this machine only: use 127.0.0.1 or localhost in the address."))
		case d != nil && !d.Knows(r.Host):
			fail(w, r, problem(http.StatusMisdirectedRequest, "Wrong host",
				"This Step Trace does not know itself by this name: use one of its addresses, or start it with -name and the name."))
		case elsewhere.Check(r) != nil || strings.Contains(r.URL.Path, "/api/") && r.Header.Get("Sec-Fetch-Site") == "cross-site":
			fail(
				w,
				r,
				problem(http.StatusForbidden, "From elsewhere", "This was asked by a page that is not Step Trace's. Use its own pages."),
			)
		default:
			next.ServeHTTP(w, r)
		}
	})
}

// letIn has the machine itself and devices that were let in go on; others are asked for the words.
func (s *Server) letIn(next http.Handler) http.Handler {
	return s.letting.sessions.LoadAndSave(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		by := store.Sender{Page: r.Header.Get("Step-Trace-Page")}
		if door.Here(r) {
			if d, err := s.store.Device(r.Context(), store.ThisMachine); err == nil {
				by.Who = d.Initials
			}
			next.ServeHTTP(w, r.WithContext(store.From(r.Context(), by)))
			return
		}
		if d := s.letting.door; d == nil || d.Encrypted && r.TLS == nil {
			s.plainly(w, r)
			return
		}
		if r.URL.Path == enterPath {
			s.enter(w, r)
			return
		}
		device, err := s.device(r)
		if err != nil {
			s.askFirst(w, r, err)
			return
		}
		by.Who = device.Initials
		ctx := context.WithValue(store.From(r.Context(), by), deviceKey{}, device)
		next.ServeHTTP(w, r.WithContext(ctx))
	}))
}

// plainly answers one in the network who came without encryption.
func (s *Server) plainly(w http.ResponseWriter, r *http.Request) {
	if s.letting.door == nil {
		fail(w, r, problem(http.StatusForbidden, "Not from here",
			"This Step Trace serves the machine itself only, and this came through something that passes on for others."))
		return
	}
	if r.Method == http.MethodGet && !strings.Contains(r.URL.Path, "/api/") {
		http.Redirect(w, r, "https://"+r.Host+r.URL.RequestURI(), http.StatusTemporaryRedirect)
		return
	}
	fail(w, r, problem(http.StatusUpgradeRequired, "Not encrypted", "Use https:// in the address. Nothing was taken over."))
}

// device is the one whose session a request has.
func (s *Server) device(r *http.Request) (*store.Device, error) {
	id := s.letting.sessions.GetString(r.Context(), "device")
	if id == "" || id == store.ThisMachine {
		return nil, store.ErrNotFound
	}
	d, err := s.store.Device(r.Context(), id)
	if err != nil {
		return nil, err
	}
	now := time.Now()
	if !now.Before(d.Until) || now.Sub(d.Seen) > unseenFor {
		return nil, store.ErrNotFound
	}
	if now.Sub(d.Seen) > noteSeen {
		if err := s.store.SeenDevice(r.Context(), id, now); err != nil { // a full disk is no reason to show nothing
			slog.Warn("it was not noted that a device is there", "device", d.Name, "error", err)
		}
	}
	return &d, nil
}

// askFirst answers one that was not let in, or is not any more.
func (s *Server) askFirst(w http.ResponseWriter, r *http.Request, err error) {
	switch {
	case !errors.Is(err, store.ErrNotFound):
		fail(w, r, err)
	case r.Method == http.MethodGet && (r.URL.Path == "/" || r.URL.Path == "/index.html" || r.URL.Path == practisePath+"/"):
		w.Header().Set("Cache-Control", "no-store")
		http.Redirect(w, r, enterPath, http.StatusSeeOther)
	default:
		fail(w, r, problem(http.StatusUnauthorized, "Not let in",
			"This device is not let in, or not any more. Load the page again and give the words; nothing was taken over."))
	}
}

// only keeps devices to the routes that they were let in for.
func (s *Server) only(route Route, next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		d := deviceOf(r)
		switch {
		case route.Here && d != nil:
			fail(w, r, problem(http.StatusForbidden, "Not from here", "That is done at the machine that the program runs on."))
		case d != nil && d.Limited() && !(route.Guest && mayTouch(d, r)):
			fail(w, r, problem(http.StatusForbidden, "Not for this device",
				"This device was let in for pictures and readings of one job alone."))
		default:
			next.ServeHTTP(w, r)
		}
	})
}

// mayTouch tells whether the job or the sheet in the address is that of a device.
func mayTouch(d *store.Device, r *http.Request) bool {
	return !strings.HasPrefix(r.URL.Path, "/api/jobs/") || d.Job != 0 && param(r, "number") == fmt.Sprint(d.Job)
}

// enterPath is where a device is let in.
const enterPath = "/enter"

//go:embed enter.html
var enterHTML string

var enterPage = template.Must(template.New("enter").Parse(enterHTML))

// entering is what the page shows.
type entering struct {
	Code, For, Trouble, Name, Initials string
	Plain                              bool
}

// What a device says of itself.
const (
	maxDeviceName = 60
	maxTry        = 4 << 10 // bytes of what the page sends
)

// tooLong says so of what a device is called, or of the initials of who uses it; empty where they are not.
func tooLong(name, initials string) string {
	if utf8.RuneCountInString(name) <= maxDeviceName && utf8.RuneCountInString(initials) <= entry.MaxWho {
		return ""
	}
	return fmt.Sprintf("A name has up to %d characters, initials up to %d.", maxDeviceName, entry.MaxWho)
}

// enter shows the page that asks for the words, and lets in who gives them, or has a code that is good.
func (s *Server) enter(w http.ResponseWriter, r *http.Request) {
	if r.Method != http.MethodGet && r.Method != http.MethodPost {
		fail(w, r, problem(http.StatusMethodNotAllowed, "Wrong method", "This page is fetched, and sent."))
		return
	}
	r.Body = http.MaxBytesReader(w, r.Body, maxTry)
	if err := r.ParseForm(); err != nil {
		fail(w, r, problem(http.StatusBadRequest, "Not understood", "Load the page again and give the words once more."))
		return
	}
	e := entering{
		Code: r.Form.Get("code"), Name: strings.TrimSpace(r.Form.Get("name")), Initials: strings.TrimSpace(r.Form.Get("initials")),
		Plain: !s.letting.door.Encrypted,
	}
	if e.Code != "" {
		if c, ok := s.letting.codes.of(e.Code); ok {
			e.For = s.sayFor(r.Context(), c)
		} else {
			e.Code, e.Trouble = "", "That code is over, or was used. Show a new one, or give the words."
		}
	}
	status := http.StatusOK
	if r.Method == http.MethodPost {
		var done bool
		if status, done = s.tryIn(w, r, &e); done {
			return
		}
	}
	var page bytes.Buffer
	if err := enterPage.Execute(&page, e); err != nil {
		fail(w, r, err)
		return
	}
	w.Header().Set("Content-Type", "text/html; charset=utf-8")
	w.Header().Set("Cache-Control", "no-store")
	w.WriteHeader(status)
	_, _ = w.Write(page.Bytes()) // who asked may be gone
}

// tryIn lets a device in, or says on the page why it was not.
func (s *Server) tryIn(w http.ResponseWriter, r *http.Request, e *entering) (status int, done bool) {
	from, _, _ := net.SplitHostPort(r.RemoteAddr)
	if s.letting.byOne.OnLimit(w, r, httprate.CanonicalizeIP(from)) || s.letting.byAll.OnLimit(w, r, "") {
		e.Trouble = "Too many tries. Wait a minute, then try again."
		return http.StatusTooManyRequests, false
	}
	if e.Trouble = tooLong(e.Name, e.Initials); e.Trouble != "" {
		return http.StatusUnprocessableEntity, false
	}
	c, err := s.admit(r, e.Code)
	if errors.Is(err, store.ErrNotFound) {
		e.Trouble = "Those are not the words."
		return http.StatusUnauthorized, false
	}
	now := time.Now()
	d := store.Device{ID: uuid.NewString(), Name: e.Name, Initials: e.Initials, Job: c.job, Sheet: c.sheet, Since: now, Seen: now}
	if d.Until = now.Add(letInFor); d.Limited() {
		d.Until = c.until
	}
	if d.Name == "" {
		d.Name = "device at " + from
	}
	if err == nil {
		err = s.store.PutDevice(r.Context(), d)
	}
	if err == nil {
		err = s.letting.sessions.RenewToken(r.Context()) // what was set before is of no use
	}
	if err != nil {
		fail(w, r, err)
		return 0, true
	}
	s.letting.sessions.Put(r.Context(), "device", d.ID)
	to := "/"
	if d.Limited() {
		to = "/#/send"
	}
	http.Redirect(w, r, to, http.StatusSeeOther)
	return 0, true
}

// admit checks a code, or the words; ErrNotFound where neither lets in.
func (s *Server) admit(r *http.Request, code string) (invited, error) {
	if code != "" {
		if c, ok := s.letting.codes.use(code); ok {
			return c, nil
		}
		return invited{}, store.ErrNotFound
	}
	hash, err := s.store.Passphrase(r.Context())
	if err != nil {
		return invited{}, err
	}
	ok, err := door.Match(r.PostForm.Get("words"), hash)
	if err == nil && !ok {
		err = store.ErrNotFound
	}
	return invited{}, err
}

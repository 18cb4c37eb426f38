package server

import (
	"bufio"
	"errors"
	"fmt"
	"io"
	"net"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"
	"time"
)

// What goes over slowly but steadily is let be; what holds a connection for next to nothing is left. The sums are against the rule that
// stands in the figures: a grace, and then so many bytes a second on the whole.
func TestPace(t *testing.T) {
	began := time.Date(2026, 11, 1, 0, 0, 0, 0, time.UTC)
	for _, x := range []struct {
		after time.Duration
		bytes int64
		slow  bool
	}{
		{19 * time.Second, 0, false},
		{21 * time.Second, 8191, true},
		{21 * time.Second, 8192, false},
		{10 * time.Minute, 8192*580 - 1, true},
		{10 * time.Minute, 8192 * 580, false},
		{9 * time.Hour, 512 << 20, false}, // the largest job file at 16 kB/s
		{time.Hour, 60 * 60, true},        // a byte a second
	} {
		if p := (pace{usualPace, began, x.bytes}); p.slow(began.Add(x.after)) != x.slow {
			t.Errorf("%d bytes in %v: slow should be %v", x.bytes, x.after, x.slow)
		}
	}
}

// Over a real connection: a body that comes in pieces over longer than any single limit arrives whole; an answer larger than what goes out
// at once too; and one who stops in the middle is told so.
func TestSlowTransfersArrive(t *testing.T) {
	large := strings.Repeat("0123456789", 200_000)
	left := make(chan struct{})
	quick := pacing{stall: 300 * time.Millisecond, grace: time.Second, least: 1000}
	s := httptest.NewServer(quick.handler(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		n, err := io.Copy(io.Discard, r.Body)
		if errors.Is(err, errSlow) {
			http.Error(w, "slow", http.StatusRequestTimeout)
			return
		}
		if r.URL.Path == "/endless" {
			for err == nil {
				_, err = w.Write(make([]byte, 1<<20))
			}
			close(left)
			return
		}
		if r.URL.Path == "/large" {
			_, _ = io.WriteString(w, large)
			return
		}
		_, _ = fmt.Fprint(w, n)
	})))
	defer s.Close()
	from, to := io.Pipe()
	go func() {
		for range 10 {
			time.Sleep(20 * time.Millisecond)
			_, _ = to.Write(make([]byte, 1000))
		}
		_ = to.Close()
	}()
	res, err := http.Post(s.URL, "text/plain", from)
	if err != nil {
		t.Fatal(err)
	}
	if data, _ := io.ReadAll(res.Body); string(data) != "10000" {
		t.Errorf("%s", data)
	}
	if res, err = http.Get(s.URL + "/large"); err != nil {
		t.Fatal(err)
	}
	if data, err := io.ReadAll(res.Body); err != nil || string(data) != large {
		t.Errorf("%d bytes, %v", len(data), err)
	}
	// One that announces much and sends a little is left.
	c, err := net.Dial("tcp", s.Listener.Addr().String())
	if err != nil {
		t.Fatal(err)
	}
	defer func() { _ = c.Close() }()
	_, _ = io.WriteString(c, "POST / HTTP/1.1\r\nHost: x\r\nContent-Length: 100000\r\n\r\nab")
	began := time.Now()
	if line, err := bufio.NewReader(c).ReadString('\n'); err != nil || !strings.Contains(line, "408") ||
		time.Since(began) > 5*time.Second {
		t.Errorf("%q %v after %v", line, err, time.Since(began))
	}
	// One that never takes what it asked for, too.
	far, err := net.Dial("tcp", s.Listener.Addr().String())
	if err != nil {
		t.Fatal(err)
	}
	defer func() { _ = far.Close() }()
	_, _ = io.WriteString(far, "GET /endless HTTP/1.1\r\nHost: x\r\n\r\n")
	select {
	case <-left:
	case <-time.After(5 * time.Second):
		t.Error("it is served for ever")
	}
}

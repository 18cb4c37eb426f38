package door

import (
	"bufio"
	"crypto/tls"
	"net"
	"sync"
	"time"

	"steptrace/core/beside"
)

// Both answers encrypted and plain connections on one port: who begins with a TLS handshake (RFC 8446: a record of type 22) gets it.
// So the machine itself is served as ever, and who types the address without https can be told.
func Both(l net.Listener, config *tls.Config) net.Listener {
	b := &both{Listener: l, config: config, ready: make(chan net.Conn), ended: make(chan struct{})}
	b.work.Go(b.take)
	return b
}

type both struct {
	net.Listener
	config *tls.Config
	ready  chan net.Conn
	ended  chan struct{}
	failed error
	once   sync.Once
	work   beside.Work
}

// handshake is the type of a TLS record that begins a connection.
const handshake = 22

// opening is how long a connection has to say something.
const opening = 5 * time.Second

func (b *both) take() {
	for {
		c, err := b.Listener.Accept()
		if err != nil {
			b.end(err)
			return
		}
		b.work.Go(func() { b.tell(c) })
	}
}

// tell looks at the first byte of a connection.
func (b *both) tell(c net.Conn) {
	first := &peeked{Conn: c, from: bufio.NewReaderSize(c, 1)}
	err := c.SetReadDeadline(time.Now().Add(opening))
	var head []byte
	if err == nil {
		head, err = first.from.Peek(1)
	}
	if err == nil {
		err = c.SetReadDeadline(time.Time{})
	}
	if err != nil {
		_ = c.Close() // who opens a connection and says nothing
		return
	}
	var out net.Conn = first
	if head[0] == handshake {
		out = tls.Server(first, b.config)
	}
	select {
	case b.ready <- out:
	case <-b.ended:
		_ = c.Close() // nobody answers any more
	}
}

func (b *both) end(err error) {
	b.once.Do(func() {
		b.failed = err
		close(b.ended)
	})
}

// Accept implements net.Listener.
func (b *both) Accept() (net.Conn, error) {
	select {
	case c := <-b.ready:
		return c, nil
	case <-b.ended:
		return nil, b.failed
	}
}

// Close implements net.Listener.
func (b *both) Close() error {
	b.end(net.ErrClosed)
	return b.Listener.Close()
}

// peeked is a connection whose first byte was looked at.
type peeked struct {
	net.Conn
	from *bufio.Reader
}

func (p *peeked) Read(data []byte) (int, error) { return p.from.Read(data) }

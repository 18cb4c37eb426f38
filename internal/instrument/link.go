package instrument

import (
	"bufio"
	"context"
	"encoding/binary"
	"errors"
	"fmt"
	"io"
	"math"
	"net"
	"strconv"
	"strings"
	"sync"
	"time"
)

// Trouble is why an instrument did not do what it was asked. Its message tells a
// person what to do.
type Trouble struct {
	Name string // of the instrument
	What string
	Err  error
}

func (t *Trouble) Error() string { return t.Name + ": " + t.What }

// Unwrap gives what lies beneath.
func (t *Trouble) Unwrap() error { return t.Err }

// How long is waited. A message is answered at once by an instrument that is well; a
// capture takes as long as its span besides.
const (
	dialTime    = 2 * time.Second
	messageTime = 4 * time.Second
	maxLine     = 64 << 10
	maxBlock    = 64 << 20 // bytes
)

// link is the connection to one instrument: one conversation at a time, made when it
// is needed, and anew after anything went wrong.
type link struct {
	mu      sync.Mutex
	name    string
	address string
	wide    bool
	conn    net.Conn
	reader  *bufio.Reader
}

// errBroken marks what may be cured by connecting anew: the other side had let go of
// the connection since it was used last.
var errBroken = errors.New("the connection was lost")

// converse has a conversation. Where the connection that was kept turns out to be
// gone, it is made anew and the conversation begins again, once.
func (l *link) converse(ctx context.Context, talk func(c *talk) error) error {
	l.mu.Lock()
	defer l.mu.Unlock()
	kept := l.conn != nil
	err := l.attempt(ctx, talk)
	if kept && errors.Is(err, errBroken) && ctx.Err() == nil {
		err = l.attempt(ctx, talk)
	}
	return err
}

func (l *link) attempt(ctx context.Context, say func(c *talk) error) error {
	if l.conn == nil {
		d := dialer(l.wide)
		conn, err := d.DialContext(ctx, "tcp", l.address)
		var beyond afar
		if errors.As(err, &beyond) {
			return &Trouble{l.name, beyond.Error(), err}
		}
		if err != nil {
			return &Trouble{
				l.name,
				fmt.Sprintf("nothing answers at %s. Is it switched on and in this network, and is the address right?", l.address),
				err,
			}
		}
		l.conn, l.reader = conn, bufio.NewReaderSize(conn, maxLine)
	}
	stop := context.AfterFunc(ctx, func() { _ = l.conn.SetDeadline(time.Now()) })
	defer stop()
	t := &talk{link: l, patience: messageTime}
	err := say(t)
	if err != nil {
		_ = l.conn.Close() // what was said so far means nothing to the next conversation
		l.conn, l.reader = nil, nil
	}
	return err
}

// close lets go of the connection.
func (l *link) close() {
	l.mu.Lock()
	defer l.mu.Unlock()
	if l.conn != nil {
		_ = l.conn.Close()
		l.conn, l.reader = nil, nil
	}
}

// talk is one conversation.
type talk struct {
	*link
	patience time.Duration
}

func (t *talk) trouble(err error, format string, args ...any) error {
	return &Trouble{t.name, fmt.Sprintf(format, args...), err}
}

// lost tells apart what happened to a connection.
func (t *talk) lost(err error, message string) error {
	var timeout net.Error
	if errors.As(err, &timeout) && timeout.Timeout() {
		return t.trouble(
			err,
			"no answer to %q within %s. Is it busy, or does it not know these words? Its table of messages can be changed",
			message,
			t.patience,
		)
	}
	return t.trouble(
		errors.Join(errBroken, err),
		"the connection was lost at %q. Is it still switched on? It is connected anew with the next try",
		message,
	)
}

// tell sends a message, ended by a newline (IEEE 488.2).
func (t *talk) tell(message string) error {
	_ = t.conn.SetDeadline(time.Now().Add(t.patience)) // fails only on a closed connection, which the write reports
	if _, err := io.WriteString(t.conn, message+"\n"); err != nil {
		return t.lost(err, message)
	}
	return nil
}

// ask sends a message and reads the line that answers it.
func (t *talk) ask(message string) (string, error) {
	if err := t.tell(message); err != nil {
		return "", err
	}
	line, err := t.reader.ReadSlice('\n')
	if errors.Is(err, bufio.ErrBufferFull) {
		return "", t.trouble(err, "its answer to %q has no end: it may not be what is expected here", message)
	}
	if err != nil {
		return "", t.lost(err, message)
	}
	text := strings.TrimSpace(string(line))
	if !reads(text) {
		return "", t.stranger()
	}
	return text, nil
}

// stranger is trouble with what does not answer like an instrument; what it says is not shown.
func (t *talk) stranger() error {
	return t.trouble(nil, "what answers at %s is no instrument. Are host and port right?", t.address)
}

// number asks for a number.
func (t *talk) number(message string) (float64, error) {
	line, err := t.ask(message)
	if err != nil {
		return 0, err
	}
	return t.parse(message, line)
}

func (t *talk) parse(message, text string) (float64, error) {
	x, err := strconv.ParseFloat(strings.TrimSpace(text), 64)
	// Out of its range many an instrument answers with ±9.9E37, "not a number" with 9.91E37 (SCPI-99).
	if err != nil && !reads(text) {
		return 0, t.stranger()
	}
	if err != nil || math.IsNaN(x) || math.IsInf(x, 0) {
		return 0, t.trouble(err, "it answers %q to %q, which is no number", clip(text), message)
	}
	if math.Abs(x) >= 9.8e37 {
		return 0, t.trouble(nil, "it is over its range, or has nothing to measure")
	}
	return x, nil
}

func clip(text string) string {
	if len(text) > 60 {
		return strings.ToValidUTF8(text[:60], "") + "…"
	}
	return strings.ToValidUTF8(text, "?")
}

// samples asks for samples, in the form that is told.
func (t *talk) samples(message string, form Answer) ([]float64, error) {
	if form == Numbers {
		if err := t.tell(message); err != nil {
			return nil, err
		}
		return t.list(message)
	}
	if err := t.tell(message); err != nil {
		return nil, err
	}
	block, err := t.block(message)
	if err != nil {
		return nil, err
	}
	width := map[Answer]int{Int8: 1, Int16: 2, Float32: 4}[form]
	if width == 0 {
		return nil, t.trouble(
			nil,
			"its table of messages calls the answer to %q %q: samples come as int8, int16, float32 or numbers",
			message,
			string(form),
		)
	}
	if len(block)%width != 0 || len(block) == 0 {
		return nil, t.trouble(nil, "it sent %d bytes of samples, which are no whole number of %s", len(block), form)
	}
	out := make([]float64, len(block)/width)
	for i := range out {
		switch form {
		case Int8:
			out[i] = float64(int8(block[i]))
		case Int16:
			out[i] = float64(int16(binary.LittleEndian.Uint16(block[2*i:])))
		case Float32:
			out[i] = float64(math.Float32frombits(binary.LittleEndian.Uint32(block[4*i:])))
			if math.IsNaN(out[i]) || math.IsInf(out[i], 0) {
				return nil, t.trouble(nil, "sample %d is no number", i+1)
			}
		}
	}
	return out, nil
}

// block reads a block of definite length: #, how many digits, the length, the bytes,
// and the newline that ends the message (IEEE 488.2, 8.7.9).
func (t *talk) block(message string) ([]byte, error) {
	head := make([]byte, 2)
	if _, err := io.ReadFull(t.reader, head); err != nil {
		return nil, t.lost(err, message)
	}
	if head[0] != '#' || head[1] < '1' || head[1] > '9' {
		return nil, t.trouble(nil, "it answers %q to %q, where a block of stated length is expected (#…)", clip(string(head)), message)
	}
	digits := make([]byte, head[1]-'0')
	if _, err := io.ReadFull(t.reader, digits); err != nil {
		return nil, t.lost(err, message)
	}
	n, err := strconv.ParseUint(string(digits), 10, 31) // a sign is no digit
	if err != nil || n > maxBlock {
		return nil, t.trouble(err, "it announces a block of %q bytes: up to %d are taken", string(digits), maxBlock)
	}
	data := make([]byte, n)
	if _, err := io.ReadFull(t.reader, data); err != nil {
		return nil, t.lost(err, message)
	}
	if end, err := t.reader.ReadByte(); err != nil || end != '\n' && end != '\r' {
		return nil, t.trouble(err, "its block does not end where it said")
	} else if end == '\r' {
		_, _ = t.reader.ReadByte() // the newline behind it; whatever else breaks the next answer
	}
	return data, nil
}

// list reads numbers with commas between, up to the newline.
func (t *talk) list(message string) ([]float64, error) {
	var line []byte
	for {
		piece, err := t.reader.ReadSlice('\n')
		line = append(line, piece...)
		if err == nil {
			break
		}
		if !errors.Is(err, bufio.ErrBufferFull) {
			return nil, t.lost(err, message)
		}
		if len(line) > maxBlock {
			return nil, t.trouble(nil, "its answer to %q has no end: up to %d bytes are taken", message, maxBlock)
		}
	}
	var out []float64
	for text := range strings.SplitSeq(string(line), ",") {
		x, err := t.parse(message, text)
		if err != nil {
			return nil, err
		}
		out = append(out, x)
	}
	return out, nil
}

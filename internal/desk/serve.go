package desk

import (
	"bufio"
	"fmt"
	"net"
	"strings"
	"time"
)

// device answers the commands of one instrument. A command comes as its header, in
// capitals, and what stands behind it. The answer is empty for one that only sets; false
// where the command is not known, or what stands behind it is nothing it can take.
type device interface {
	do(header, rest string) (answer string, ok bool)
}

// The errors of SCPI-99 that are given here.
const (
	noError   = `0,"No error"`
	undefined = `-113,"Undefined header"`
)

const (
	maxCommand = 4 << 10
	idleTime   = 10 * time.Minute
)

// serve takes connections for a device until its listener is closed.
func (d *Desk) serve(l net.Listener, device device) {
	for {
		conn, err := l.Accept()
		if err != nil {
			return
		}
		d.mu.Lock()
		if d.closed {
			d.mu.Unlock()
			_ = conn.Close()
			return
		}
		d.conns[conn] = true
		d.mu.Unlock()
		d.serving.Go(func() {
			converse(conn, device)
			d.mu.Lock()
			delete(d.conns, conn)
			d.mu.Unlock()
		})
	}
}

// converse answers one connection: messages end with a newline, commands in one are
// parted by semicolons, and what they answer is put together the same way.
func converse(conn net.Conn, device device) {
	defer func() { _ = conn.Close() }()
	r := bufio.NewReaderSize(conn, maxCommand)
	trouble := noError
	for {
		_ = conn.SetDeadline(time.Now().Add(idleTime)) // a closed connection is seen by the read
		line, err := r.ReadSlice('\n')
		if err != nil {
			return
		}
		var answers []string
		for command := range strings.SplitSeq(string(line), ";") {
			header, rest, _ := strings.Cut(strings.TrimSpace(command), " ")
			header = strings.ToUpper(strings.TrimPrefix(header, ":"))
			switch {
			case header == "":
			case is(header, "SYSTem:ERRor?"):
				answers = append(answers, trouble)
				trouble = noError
			case header == "*OPC?":
				answers = append(answers, "1")
			default:
				answer, ok := device.do(header, strings.TrimSpace(rest))
				if !ok {
					trouble = undefined
				} else if answer != "" {
					answers = append(answers, answer)
				}
			}
		}
		if len(answers) > 0 {
			if _, err := conn.Write([]byte(strings.Join(answers, ";") + "\n")); err != nil {
				return
			}
		}
	}
}

// is compares a header with a command as SCPI-99 writes it: each of its words may come
// whole or as its capitals, and # stands for a channel's number.
func is(header, command string) bool {
	_, ok := channelOf(header, command)
	return ok
}

// channelOf is the number in a header that is a command; 1 where it has none.
func channelOf(header, command string) (channel int, ok bool) {
	words, wanted := strings.Split(header, ":"), strings.Split(command, ":")
	if len(words) != len(wanted) {
		return 0, false
	}
	channel = 1
	for i, w := range wanted {
		got, asks := strings.CutSuffix(words[i], "?")
		w, wantsAsk := strings.CutSuffix(w, "?")
		w, numbered := strings.CutSuffix(w, "#")
		if asks != wantsAsk {
			return 0, false
		}
		if numbered {
			bare := strings.TrimRight(got, "0123456789")
			if bare != got {
				if _, err := fmt.Sscan(got[len(bare):], &channel); err != nil {
					return 0, false
				}
				got = bare
			}
		}
		short := strings.Map(func(r rune) rune {
			if r >= 'a' && r <= 'z' {
				return -1
			}
			return r
		}, w)
		if got != short && got != strings.ToUpper(w) {
			return 0, false
		}
	}
	return channel, true
}

package instrument

import (
	"bufio"
	"context"
	"errors"
	"fmt"
	"net"
	"strings"
	"testing"
	"time"
)

// peer is a scripted instrument: what it answers to each message; "" for nothing, and
// "!" to hang up.
type peer struct {
	listener net.Listener
	answers  map[string]string
	heard    chan string
}

func newPeer(t *testing.T, answers map[string]string) *peer {
	t.Helper()
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	p := &peer{l, answers, make(chan string, 1000)}
	t.Cleanup(func() { _ = l.Close() })
	go func() {
		for {
			conn, err := l.Accept()
			if err != nil {
				return
			}
			go p.serve(conn)
		}
	}()
	return p
}

func (p *peer) serve(conn net.Conn) {
	defer func() { _ = conn.Close() }()
	r := bufio.NewReader(conn)
	for {
		line, err := r.ReadString('\n')
		if err != nil {
			return
		}
		line = strings.TrimSpace(line)
		p.heard <- line
		answer := p.answers[line]
		if answer == "!" {
			return
		}
		if answer != "" {
			_, _ = conn.Write([]byte(answer))
		}
	}
}

func (p *peer) bench(kind Role, words string) *Bench {
	b := NewBench()
	b.Put(Instrument{ID: "x", Name: "it", Kind: kind, Address: p.listener.Addr().String(), Words: words})
	return b
}

// A scope with words of its own, two channels of 16 bits, is set, asked and read: value
// × scale + offset.
func TestAScopeWithItsOwnWordsIsRead(t *testing.T) {
	p := newPeer(t, map[string]string{
		"GO": "", "OK?": "1\n", "DT?": "2.5e-05\n", "K1?": "0.001\n", "K2?": "0.01\n", "O1?": "-1\n", "O2?": "0\n",
		"D1?": "#16\x01\x00\x02\x00\xff\xff\n", "D2?": "#206\x0a\x00\x14\x00\x00\x80\r\n", "E?": "+0,\"none\"\n", "R1?": "4\n",
		"R2?": "8\n",
	})
	b := p.bench(
		Scope,
		"action,message,answer\nspan,T={seconds},\nrange,R{channel}={volts},\ncoupling,C{channel}={coupling},\ntake,GO,\ndone,OK?,number\n"+
			"interval,DT?,number\nscale,K{channel}?,number\noffset,O{channel}?,number\nsamples,D{channel}?,int16\nrange "+
			"is,R{channel}?,number\nerror,E?,error\n",
	)
	got, err := b.Capture(context.Background(), "x", View{Seconds: 0.01, Points: 1000, Channels: []Channel{{4, true, 10}, {8, false, 1}}})
	if err != nil {
		t.Fatal(err)
	}
	if got.Interval != 2.5e-5 || fmt.Sprint(got.Samples) != "[[-0.999 -0.998 -1.001] [0.1 0.2 -327.68]]" {
		t.Errorf("%+v", got)
	}
	if got.Settings != "it: channel 1 DC, 4 V high, ×10; channel 2 AC, 8 V high, ×1" {
		t.Errorf("%q", got.Settings)
	}
	var heard []string
	for len(p.heard) > 0 {
		heard = append(heard, <-p.heard)
	}
	if want := "T=0.01 C1=DC R1=4 C2=AC R2=8 GO OK? DT? K1? O1? D1? R1? K2? O2? D2? R2? E?"; strings.Join(heard, " ") != want {
		t.Errorf("it heard %s", heard)
	}
}

// Whatever goes wrong is said, within its time, and nothing hangs; afterwards it is
// connected anew by itself.
func TestTroubleIsToldAndCured(t *testing.T) {
	const words = "action,message,answer\ndc,V?,number\nac,A?,number\nerror,E?,error\nidentify,N?,text\n"
	for _, x := range []struct{ name, answer, says string }{
		{"no number", "twelve\n", `"twelve" to "V?", which is no number`},
		{"over range", "9.9E37\n", "over its range"},
		{"hangs up", "!", "the connection was lost"},
		{"never ends", strings.Repeat("1", maxLine+10), "has no end"},
		{"silent", "", "no answer to \"V?\" within"},
	} {
		p := newPeer(t, map[string]string{"V?": x.answer, "A?": "1.5\n", "E?": "0,\"\"\n", "N?": "a box\n"})
		b := p.bench(Meter, words)
		began := time.Now()
		_, err := b.Measure(context.Background(), "x", "dc")
		var trouble *Trouble
		if !errors.As(err, &trouble) || !strings.Contains(err.Error(), x.says) || !strings.HasPrefix(err.Error(), "it: ") {
			t.Errorf("%s: %v", x.name, err)
		}
		if time.Since(began) > messageTime+2*time.Second {
			t.Errorf("%s took %s", x.name, time.Since(began))
		}
		if v, err := b.Measure(context.Background(), "x", "ac"); err != nil || v != 1.5 {
			t.Errorf("after %s: %g, %v", x.name, v, err)
		}
	}
}

// A connection that was let go of since it was used last is made anew without anybody
// noticing; an instrument that is off is named with its address.
func TestAConnectionIsMadeAnew(t *testing.T) {
	p := newPeer(t, map[string]string{"V?": "1\n", "A?": "2\n", "BYE": "!"})
	b := p.bench(Meter, "dc,V?,number\nac,A?,number\nesr,BYE,\n")
	ctx := context.Background()
	if _, err := b.Measure(ctx, "x", "dc"); err != nil {
		t.Fatal(err)
	}
	b.mu.Lock()
	l := b.links["x"]
	b.mu.Unlock()
	_, _ = l.conn.Write([]byte("BYE\n")) // the other side hangs up
	time.Sleep(50 * time.Millisecond)
	if v, err := b.Measure(ctx, "x", "ac"); err != nil || v != 2 {
		t.Errorf("%g, %v", v, err)
	}
	_ = p.listener.Close()
	b.Close()
	off := NewBench()
	off.Put(Instrument{ID: "x", Name: "meter", Kind: Meter, Address: p.listener.Addr().String(), Words: Usual(Meter)})
	if _, err := off.Measure(ctx, "x", "dc"); err == nil || !strings.Contains(err.Error(), "meter: nothing answers at 127.0.0.1:") {
		t.Errorf("%v", err)
	}
	soon, cancel := context.WithTimeout(ctx, 30*time.Millisecond)
	defer cancel()
	mute := newPeer(t, nil)
	began := time.Now()
	if _, err := mute.bench(Meter, Usual(Meter)).Measure(soon, "x", "dc"); err == nil || time.Since(began) > time.Second {
		t.Errorf("called off after %s: %v", time.Since(began), err)
	}
}

// An instrument that says it did not understand, or is set otherwise than it was told,
// is not believed.
func TestAnInstrumentIsAskedWhetherItDidIt(t *testing.T) {
	p := newPeer(t, map[string]string{"E?": "-113,\"Undefined header\"\n", "F?": "5000\n", "L?": "0.1\n"})
	words := "frequency,F {hz},\nlevel,L {volts},\non,ON,\noff,OFF,\nerror,E?,error\n"
	_, err := p.bench(Generator, words).Feed(context.Background(), "x", &Fed{"SIN", 0.1, 1000})
	if err == nil || !strings.Contains(err.Error(), "Undefined header (-113)") {
		t.Errorf("%v", err)
	}
	_, err = p.bench(Generator, words+"frequency is,F?,number\nlevel is,L?,number\n").
		Feed(context.Background(), "x", &Fed{"SIN", 0.1, 1000})
	if err == nil || !strings.Contains(err.Error(), "says it is set to 5 kHz") {
		t.Errorf("%v", err)
	}
}

// Blocks that lie are refused.
func TestBlocksThatLie(t *testing.T) {
	for name, x := range map[string]struct{ block, says string }{
		"no length": {"#0abc\n", "stated length"},
		"no block":  {"1,2,3\n", "stated length"},
		"huge":      {"#9999999999", "up to"},
		"half":      {"#13abc\n", "no whole number of int16"},
		"wrong end": {"#12abcd\n", "does not end where it said"},
		"cut off":   {"#15ab", "no answer"},
		"no digits": {"#2x1", "announces"},
		"negative":  {"#7-0010000", "announces"},
	} {
		p := newPeer(t, map[string]string{"D1?": x.block, "I?": "1e-6\n", "S?": "1\n"})
		b := p.bench(Scope, "span,T,\nrange,R,\ntake,G,\ninterval,I?,number\nscale,S?,number\noffset,S?,number\nsamples,D1?,int16\n")
		if _, err := b.Capture(context.Background(), "x", View{Seconds: 1e-3, Channels: []Channel{{Volts: 1}}}); err == nil ||
			!strings.Contains(err.Error(), x.says) {
			t.Errorf("%s: %v", name, err)
		}
	}
	p := newPeer(t, map[string]string{"D1?": "1,-2.5,3e2\n", "I?": "1e-6\n", "S?": "1\n"})
	b := p.bench(Scope, "span,T,\nrange,R,\ntake,G,\ninterval,I?,number\nscale,S?,number\noffset,S?,number\nsamples,D1?,numbers\n")
	if got, err := b.Capture(context.Background(), "x", View{Seconds: 1e-3, Channels: []Channel{{Volts: 1}}}); err != nil ||
		fmt.Sprint(got.Samples) != "[[2 -1.5 301]]" {
		t.Errorf("%v, %v", got, err)
	}
}

// A table of messages is checked as it is written.
func TestTablesOfMessages(t *testing.T) {
	for _, kind := range Roles {
		in := Instrument{Name: "x", Kind: kind, Address: "192.0.2.1:5025", Words: Usual(kind)}
		if err := in.Check(); err != nil {
			t.Errorf("the usual table of a %s: %v", kind, err)
		}
	}
	for text, says := range map[string]string{
		"dc,V?,number\n":                      `no message for "ac"`,
		"dc,V?,numbr\nac,A?,number\n":         "line 1",
		"dc,V?,number\nac,A {colour}?,number": "line 2: nothing is known to fill in for {colour}",
		"dc,,number\n":                        "has no message",
		"dc,\"V?\n":                           "cannot be read",
	} {
		if _, err := ReadWords(Meter, text); err == nil || !strings.Contains(err.Error(), says) {
			t.Errorf("%q: %v", text, err)
		}
	}
	for _, address := range []string{"", "host", "host:", "host:0", "host:99999", ":5025"} {
		in := Instrument{Name: "x", Kind: Meter, Address: address, Words: Usual(Meter)}
		if err := in.Check(); err == nil || !strings.Contains(err.Error(), "address") {
			t.Errorf("%q is taken", address)
		}
	}
}

func FuzzAnswers(f *testing.F) {
	forms := []Answer{Int8, Int16, Float32, Numbers, Text}
	for i := range forms {
		f.Add(uint8(i), []byte("#18abcdefgh\n"))
		f.Add(uint8(i), []byte("#210abcdefghij\r\n"))
		f.Add(uint8(i), []byte("1,2.5E3,-3\n"))
		f.Add(uint8(i), []byte("#7-0010000\n"))
	}
	f.Fuzz(func(t *testing.T, form uint8, data []byte) {
		client, server := net.Pipe()
		go func() {
			_, _ = bufio.NewReader(server).ReadString('\n')
			_, _ = server.Write(data)
			_ = server.Close()
		}()
		l := &link{name: "it", conn: client, reader: bufio.NewReaderSize(client, maxLine)}
		talk := &talk{link: l, patience: time.Second}
		if x, err := talk.samples("D?", forms[int(form)%len(forms)]); err == nil && len(x) == 0 {
			t.Fatal("nothing is taken for samples")
		}
		_ = client.Close()
	})
}

// Tables of messages as somebody types them: refused with a reason, or usable.
func FuzzWords(f *testing.F) {
	for i, role := range Roles {
		f.Add(uint8(i), Usual(role))
	}
	f.Add(uint8(0), "identify,*IDN?,text\nsample,D{channel}?,int8\n")
	f.Fuzz(func(t *testing.T, role uint8, text string) {
		words, err := ReadWords(Roles[int(role)%len(Roles)], text)
		if err != nil {
			if strings.TrimSpace(err.Error()) == "" {
				t.Fatal("refused without a reason")
			}
			return
		}
		for _, w := range words {
			_ = w.fill(map[string]string{"channel": "1"})
		}
	})
}

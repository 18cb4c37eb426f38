package desk

import (
	"bufio"
	"net"
	"strings"
	"testing"
	"time"
)

// Headers are taken whole or short, in any mixture, with a channel's number where one
// belongs, and nothing else.
func TestHeadersAreTakenAsTheStandardHasThem(t *testing.T) {
	for _, x := range []struct {
		header, command string
		ok              bool
		channel         int
	}{
		{"SENS:SWE:TIME", "SENSe:SWEep:TIME", true, 1},
		{"SENSE:SWEEP:TIME", "SENSe:SWEep:TIME", true, 1},
		{"SENS:SWEEP:TIME?", "SENSe:SWEep:TIME?", true, 1},
		{"SENS:SWE:TIME?", "SENSe:SWEep:TIME", false, 0},
		{"SENSO:SWE:TIME", "SENSe:SWEep:TIME", false, 0},
		{"SENS:TIME", "SENSe:SWEep:TIME", false, 0},
		{"TRAC2:DATA?", "TRACe#:DATA?", true, 2},
		{"TRACE:DATA?", "TRACe#:DATA?", true, 1},
		{"TRAC2:DATA", "TRACe#:DATA?", false, 0},
	} {
		channel, ok := channelOf(x.header, x.command)
		if ok != x.ok || ok && channel != x.channel {
			t.Errorf("%s for %s: %d, %v", x.header, x.command, channel, ok)
		}
	}
}

// Several commands in one message are answered together; what is not known, or cannot be,
// is told when errors are asked for, once; after that the desk goes on.
func TestTheDeskAnswersAsInstrumentsDo(t *testing.T) {
	d, list, err := Start()
	if err != nil {
		t.Fatal(err)
	}
	defer func() {
		if err := d.Close(); err != nil {
			t.Error(err)
		}
	}()
	conn, err := net.Dial("tcp", list[1].Address) // the generator
	if err != nil {
		t.Fatal(err)
	}
	defer func() { _ = conn.Close() }()
	_ = conn.SetDeadline(time.Now().Add(5 * time.Second))
	r := bufio.NewReader(conn)
	ask := func(message string) string {
		t.Helper()
		if _, err := conn.Write([]byte(message + "\n")); err != nil {
			t.Fatal(err)
		}
		line, err := r.ReadString('\n')
		if err != nil {
			t.Fatalf("%s: %v", message, err)
		}
		return strings.TrimSpace(line)
	}
	for message, answer := range map[string]string{
		"SOUR:FREQ 2500;:SOURce:VOLTage 0.5;SOUR:FREQ?;SOUR:VOLT?": "2.500000E+03;5.000000E-01",
		"*OPC?;SYST:ERR?":                      `1;0,"No error"`,
		"SOUR:COLOUR blue;SYST:ERR?;SYST:ERR?": `-113,"Undefined header";0,"No error"`,
		"SOUR:FREQ soon;SYST:ERR?":             `-113,"Undefined header"`,
		"SOUR:FUNC SQU;OUTP ON;SYSTEM:ERROR?":  `0,"No error"`,
		"SOUR:VOLT 1000;SYST:ERR?;*IDN?":       `-113,"Undefined header";Step Trace,practice generator,0,1`,
	} {
		if got := ask(message); got != answer {
			t.Errorf("%s: %s", message, got)
		}
	}
	if said := d.Generating(); !strings.Contains(said, "Hz") {
		t.Errorf("it is on, and says %q", said)
	}
}

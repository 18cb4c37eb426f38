package wave

import (
	"bytes"
	"context"
	"encoding/binary"
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
	"strconv"
	"strings"
	"testing"
	"time"

	"steptrace/core/exchange"
)

// wanted are the samples that every file below holds, in volts at 1 ms.
var wanted = []float64{0, 0.5, -0.25, 1e-3}

func TestTablesAsTheyAreWritten(t *testing.T) {
	t.Parallel()
	for name, x := range map[string]struct {
		text string
		o    Options
		rate float64
		name string
	}{
		"plain":             {"time,v\n0,0\n0.001,0.5\n0.002,-0.25\n0.003,0.001\n", Options{}, 1000, "v"},
		"no header":         {"0.000,0\n0.001,0.5\n0.002,-0.25\n0.003,0.001", Options{}, 1000, "channel 1"},
		"mark, CRLF":        {"\ufefftime,v\r\n0,0\r\n0.001,0.5\r\n0.002,-0.25\r\n0.003,0.001\r\n", Options{}, 1000, "v"},
		"CR alone":          {"time,v\r0,0\r0.001,0.5\r0.002,-0.25\r0.003,0.001\r", Options{}, 1000, "v"},
		"decimal comma":     {"t;U\n0;0\n0,001;0,5\n0,002;-0,25\n0,003;0,001\n", Options{}, 1000, "U"},
		"tabs, units row":   {"Time\tProbe\nms\tmV\n0\t0\n1\t500\n2\t-250\n3\t1\n", Options{}, 1000, "Probe"},
		"units in brackets": {"Time (ms),CH1 (mV)\n0,0\n1,500\n2,-250\n3,1\n", Options{}, 1000, "CH1"},
		"preamble": {
			"Model,anything\nSample Interval,1e-3,s\nProbe,10\n\nCH1\n0\n0.5\n-0.25\n0.001\n",
			Options{}, 1000, "CH1",
		},
		"rate in the preamble":            {"# sample rate: 1 kHz\n0\n5e-1\n-.25\n+1.0E-3\n", Options{}, 1000, "channel 1"},
		"numbered":                        {"n,V,\n0,0,\n1,0.5,\n2,-0.25,\n3,0.001,\n", Options{Interval: 1e-3}, 1000, "V"},
		"values alone":                    {"0\n0.5\n-0.25\n0.001\n", Options{Interval: 1e-3}, 1000, "channel 1"},
		"comma by hand":                   {"0\n0,5\n-0,25\n0,001\n", Options{Interval: 1e-3, Decimal: ","}, 1000, "channel 1"},
		"semicolons above decimal commas": {"Sample interval;0,001;s\nU;\n0,000\n0,500\n-0,250\n0,001\n", Options{}, 1000, "U"},
		"digits behind commas":            {"0,000\n0,500\n-0,250\n0,001\n", Options{Interval: 1e-3}, 1000, "channel 1"},
		"the minus of print":              {"t,v\n0,0\n0.001,0.5\n0.002,−0.25\n0.003,0.001\n", Options{}, 1000, "v"},
		"quotes and blanks": {"\"time\", \"v\"\n \"0\", \"0\"\n\"0.001\", \"0.5\"\n\"0.002\", \"-0.25\"\n\"0.003\", " +
			"\"0.001\"\n", Options{}, 1000, "v"},
		"blanks":           {"  0.000   0\n  0.001   0.5\n  0.002  -0.25\n  0.003   0.001\n", Options{}, 1000, "channel 1"},
		"cut off":          {"time,v\n0,0\n0.001,0.5\n0.002,-0.25\n0.003,0.001\n0.00", Options{}, 1000, "v"},
		"a probe's factor": {"time,v\n0,0\n0.001,0.05\n0.002,-0.025\n0.003,0.0001\n", Options{Factor: 10}, 1000, "v"},
	} {
		c, err := Read(context.Background(), []byte(x.text), x.o)
		if err != nil {
			t.Errorf("%s: %v", name, err)
			continue
		}
		if len(c.Channels) != 1 || c.Channels[0].Unit != "V" || c.Channels[0].Name != x.name || math.Abs(c.Rate/x.rate-1) > 1e-9 ||
			len(c.Channels[0].Samples) != len(wanted) {
			t.Errorf("%s: %g a second, %+v", name, c.Rate, c.Channels)
			continue
		}
		for i, want := range wanted {
			if got := c.Channels[0].Samples[i]; math.Abs(got-want) > 1e-12 {
				t.Errorf("%s: sample %d is %g, want %g", name, i, got, want)
			}
		}
		if len(c.Understood) < 2 {
			t.Errorf("%s: %q", name, c.Understood)
		}
	}
}

func TestWhatIsNoCapture(t *testing.T) {
	t.Parallel()
	for name, x := range map[string]struct {
		data string
		o    Options
		line int
		says string
	}{
		"empty":             {"", Options{}, 1, "empty"},
		"words":             {"dear sir\nplease find\n", Options{}, 1, "no lines of numbers"},
		"a zip":             {"PK\x03\x04zzzz", Options{}, 1, "zip"},
		"UTF-16":            {"\xff\xfet\x00i\x00", Options{}, 1, "UTF-16"},
		"junk":              {"\x00\x01\x02\x03", Options{}, 1, "neither text"},
		"one endless line":  {strings.Repeat("1,", 100000), Options{}, 1, "longer than"},
		"text in a cell":    {"t,v\n0,0\n1,1\n2,OL\n3,1\n", Options{}, 4, `"2,OL" is no line of 2 numbers`},
		"not a number":      {"t,v\n0,0\n1,1\n2,NaN\n3,1\n", Options{}, 4, "NaN"},
		"uneven columns":    {"t,v\n0,0\n1,1\n2,1,7\n3,1\n", Options{}, 4, "3 columns, those before have 2"},
		"no interval":       {"0.1\n0.2\n0.4\n", Options{}, 1, "how many seconds"},
		"numbered, no rate": {"n,v\n0,3\n1,4\n2,3\n", Options{}, 2, "how many seconds"},
		"time stands":       {"time,v\n0,1\n0,2\n0,3\n", Options{}, 2, "does not rise"},
		"time jumps":        {"time,v\n0,1\n1,2\n2,3\n9,4\n10,3\n", Options{}, 5, "not even"},
		"bad unit":          {"time,v\n0,1\n1,2\n2,3\n", Options{Unit: "bananas"}, 1, "no unit"},
		"bad decimal":       {"0\n1\n", Options{Decimal: "x"}, 1, "point or a comma"},
		"too fast":          {"0\n1\n2\n", Options{Interval: 1e-30}, 1, "cannot be"},
		"RIFF, no wave":     {"RIFF\x04\x00\x00\x00AVI ", Options{}, 1, "holds no WAVE"},
		"WAV, no samples":   {"RIFF\x04\x00\x00\x00WAVE", Options{}, 1, "no samples"},
	} {
		_, err := Read(context.Background(), []byte(x.data), x.o)
		var f *exchange.FileError
		if !errors.As(err, &f) || f.Line != x.line || !strings.Contains(f.Problem, x.says) {
			t.Errorf("%s: %v, want line %d, %q", name, err, x.line, x.says)
		}
	}
}

// wav writes a WAV by hand.
func wav(kind, bits, channels int, rate uint32, size int, body []byte, extra ...byte) []byte {
	var b bytes.Buffer
	put := func(x any) { _ = binary.Write(&b, binary.LittleEndian, x) }
	b.WriteString("RIFF")
	put(uint32(36 + len(body)))
	b.WriteString("WAVE")
	b.Write(extra)
	b.WriteString("fmt ")
	put(uint32(16))
	put([]uint16{uint16(kind), uint16(channels)})
	put([]uint32{rate, rate * uint32(channels*bits/8)})
	put([]uint16{uint16(channels * bits / 8), uint16(bits)})
	b.WriteString("data")
	put(uint32(size))
	b.Write(body)
	return b.Bytes()
}

func TestWAVsOfEveryWidth(t *testing.T) {
	t.Parallel()
	le := binary.LittleEndian
	half := map[string][]byte{ // half of full scale up, then down
		"8":    {0xc0, 0x40},
		"16":   {0x00, 0x40, 0x00, 0xc0},
		"24":   {0, 0, 0x40, 0, 0, 0xc0},
		"32":   {0, 0, 0, 0x40, 0, 0, 0, 0xc0},
		"f32":  le.AppendUint32(le.AppendUint32(nil, math.Float32bits(0.5)), math.Float32bits(-0.5)),
		"f64":  le.AppendUint64(le.AppendUint64(nil, math.Float64bits(0.5)), math.Float64bits(-0.5)),
		"odd":  {0x00, 0x40, 0x00, 0xc0},
		"lies": {0x00, 0x40, 0x00, 0xc0},
	}
	for name, x := range map[string][]byte{
		"8": wav(1, 8, 1, 8000, 2, half["8"]), "16": wav(1, 16, 1, 8000, 4, half["16"]), "24": wav(1, 24, 1, 8000, 6, half["24"]),
		"32":  wav(1, 32, 1, 8000, 8, half["32"]),
		"f32": wav(3, 32, 1, 8000, 8, half["f32"]), "f64": wav(3, 64, 1, 8000, 16, half["f64"]),
		"odd":  wav(1, 16, 1, 8000, 4, half["odd"], 'L', 'I', 'S', 'T', 3, 0, 0, 0, 1, 2, 3, 0),
		"lies": wav(1, 16, 1, 8000, 0x7fffffff, half["lies"]),
	} {
		c, err := Read(context.Background(), x, Options{})
		if err != nil || c.Rate != 8000 || len(c.Channels) != 1 || len(c.Channels[0].Samples) != 2 || c.Channels[0].Samples[0] != 0.5 ||
			c.Channels[0].Samples[1] != -0.5 ||
			c.Channels[0].Unit != "FS" {
			t.Errorf("%s: %v %+v", name, err, c)
		}
	}
	c, err := Read(context.Background(), wav(1, 16, 2, 48000, 8, append(half["16"], half["16"]...)), Options{Unit: "mV"})
	if err != nil || len(c.Channels) != 2 || c.Channels[0].Name != "left" || c.Channels[1].Samples[1] != -0.5e-3 ||
		c.Channels[0].Unit != "V" {
		t.Errorf("%v %+v", err, c)
	}
	for name, x := range map[string][]byte{"no channels": wav(1, 16, 0, 8000, 4, half["16"]), "no rate": wav(1, 16, 1, 0, 4, half["16"]),
		"12 bits":      wav(1, 12, 1, 8000, 4, half["16"]),
		"not a number": wav(3, 32, 1, 8000, 4, le.AppendUint32(nil, math.Float32bits(float32(math.NaN()))))} {
		if _, err := Read(context.Background(), x, Options{}); err == nil {
			t.Errorf("%s was read", name)
		}
	}
}

// Numbers read by hand are those of the standard library, to the last bit.
func TestNumbersAreExact(t *testing.T) {
	t.Parallel()
	rng := rand.New(rand.NewPCG(5, 5))
	for range 200000 {
		var text string
		switch x := math.Pow(10, 12*rng.Float64()-8) * (rng.Float64() - 0.5); rng.IntN(3) {
		case 0:
			text = strconv.FormatFloat(x, 'e', rng.IntN(18), 64)
		case 1:
			text = strconv.FormatFloat(x, 'f', rng.IntN(14), 64)
		default:
			text = strconv.FormatFloat(x, 'g', -1, 64)
		}
		want, _ := strconv.ParseFloat(text, 64)
		if got, ok := number([]byte(text), '.'); !ok || got != want {
			t.Fatalf("%s is read as %g", text, got)
		}
	}
}

// Whatever comes in: an answer or an error with a line, and no samples that are
// no numbers.
func FuzzRead(f *testing.F) {
	f.Add([]byte("time,v\n0,0\n0.001,0.5\n0.002,-0.25\n"), 0.0, "")
	f.Add([]byte("0\n0,5\n-0,25\n"), 1e-3, ",")
	f.Add([]byte("Sample Interval;1 ms\n\nA;B\nV;mV\n1;2\n3;4\n"), 0.0, "")
	f.Add(wav(1, 16, 2, 44100, 8, []byte{1, 2, 3, 4, 5, 6, 7, 8}), 0.0, "")
	f.Fuzz(func(t *testing.T, data []byte, interval float64, decimal string) {
		c, err := Read(context.Background(), data, Options{Interval: interval, Decimal: decimal})
		if err != nil {
			var fe *exchange.FileError
			if !errors.As(err, &fe) || fe.Line < 1 || fe.Problem == "" {
				t.Fatalf("%v", err)
			}
			return
		}
		if !(c.Rate > 0) || math.IsInf(c.Rate, 0) || len(c.Channels) == 0 {
			t.Fatalf("%+v", c)
		}
		for _, ch := range c.Channels {
			if len(ch.Samples) == 0 || len(ch.Samples) != len(c.Channels[0].Samples) {
				t.Fatal("channels of unequal length")
			}
			for _, x := range ch.Samples {
				if math.IsNaN(x) || math.IsInf(x, 0) {
					t.Fatal("a sample is no number")
				}
			}
		}
	})
}

// A long text is read in parts beside each other: it comes out whole and in order, and
// what is wrong deep inside has its line.
func TestLongTextsAreReadInOrder(t *testing.T) {
	t.Parallel()
	const n = 400_000
	for _, end := range []string{"\n", "\r\n", "\r"} {
		var text bytes.Buffer
		text.WriteString("Sample Interval,1e-6" + end + "CH1 (V)" + end)
		for i := range n {
			fmt.Fprintf(&text, "%d.25%s", i, end)
			if i%1000 == 0 {
				text.WriteString(end) // empty lines are left out
			}
		}
		c, err := Read(context.Background(), text.Bytes(), Options{})
		if err != nil || len(c.Channels[0].Samples) != n {
			t.Fatal(err)
		}
		for i, v := range c.Channels[0].Samples {
			if v != float64(i)+0.25 {
				t.Fatalf("sample %d is %g", i, v)
			}
		}
	}
	var text bytes.Buffer
	text.WriteString("Sample Interval,1e-6\nCH1 (V)\n")
	for i := range n {
		if i == 300_000 {
			text.WriteString("OL\n")
		}
		fmt.Fprintf(&text, "%d.5\n", i)
	}
	var fe *exchange.FileError
	if _, err := Read(context.Background(), text.Bytes(), Options{}); !errors.As(err, &fe) || fe.Line != 300_003 ||
		!strings.Contains(fe.Problem, `"OL"`) {
		t.Errorf("%v", err)
	}
	long := append([]byte("1\n2\n"), bytes.Repeat([]byte("7"), 5<<20)...)
	if _, err := Read(context.Background(), long, Options{Interval: 1}); !errors.As(err, &fe) || fe.Line != 3 {
		t.Errorf("an endless line: %v", err)
	}
}

func BenchmarkReadAndMeasureTenMillionSamples(b *testing.B) {
	var text bytes.Buffer
	text.WriteString("Sample Interval,1e-6\nCH1 (V)\n")
	for i := range 10_000_000 {
		text.Write(strconv.AppendFloat(nil, math.Sin(float64(i)*1e-3), 'f', 5, 64))
		text.WriteByte('\n')
	}
	b.SetBytes(int64(text.Len()))
	for b.Loop() {
		c, err := Read(context.Background(), text.Bytes(), Options{})
		if err != nil || len(c.Channels[0].Samples) != 10_000_000 {
			b.Fatal(err, fmt.Sprint(c.Understood))
		}
		if f := c.Channels[0].Measure(c.Rate, Site{Mains: 50}); f.Kind != Tone {
			b.Fatal(f.Kind)
		}
	}
}

// Whoever goes away while a long table is read stops it: a text that takes far longer is given up
// soon after.
func TestReadingStopsWhenNobodyWaits(t *testing.T) {
	t.Parallel()
	text := bytes.Repeat([]byte("0.123456,1.5,2.5,3.5\n"), 4_000_000)
	ctx, stop := context.WithTimeout(t.Context(), 20*time.Millisecond)
	defer stop()
	began := time.Now()
	if _, err := Read(ctx, text, Options{}); !errors.Is(err, context.DeadlineExceeded) {
		t.Fatalf("read on: %v", err)
	}
	if took := time.Since(began); took > 500*time.Millisecond {
		t.Errorf("given up only after %s", took)
	}
}

// A cell that cannot be read in the middle of a table parts it: what stands before is not taken for a heading without a
// word.
func TestABadCellIsSaid(t *testing.T) {
	t.Parallel()
	var text strings.Builder
	text.WriteString("time,volts\n")
	for i := range 500 {
		if i == 99 {
			text.WriteString("0.00099,12,x\n")
			continue
		}
		fmt.Fprintf(&text, "%.5f,%.3f\n", float64(i)*1e-5, math.Sin(float64(i)/20))
	}
	c, err := Read(context.Background(), []byte(text.String()), Options{})
	if err != nil {
		t.Fatal(err)
	}
	const want = "Lines 2 to 100 hold numbers too and are left out, for line 101 cannot be read"
	if said := strings.Join(c.Understood, " "); !strings.Contains(said, want) {
		t.Errorf("%s", said)
	}
}

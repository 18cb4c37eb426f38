package wave

import (
	"bytes"
	"compress/gzip"
	"context"
	"encoding/binary"
	"errors"
	"fmt"
	"math"
	"strings"
	"testing"
	"unicode/utf16"

	"steptrace/core/exchange"
)

// table400 is a table of 400 good lines under a head, with those changed that are given (by the number of the sample).
func table400(change map[int]string) string {
	var b strings.Builder
	b.WriteString("time (s),probe (V)\n")
	for i := range 400 {
		line, ok := change[i]
		if !ok {
			line = fmt.Sprintf("%.4f,%.4f", float64(i)*1e-4, math.Sin(float64(i)/20))
		}
		if line != "-" {
			b.WriteString(line + "\n")
		}
	}
	return b.String()
}

// each400 is one with every line made so.
func each400(head string, line func(i int) string) string {
	var b strings.Builder
	b.WriteString(head)
	for i := range 400 {
		b.WriteString(line(i) + "\n")
	}
	return b.String()
}

func zipped(text string) string {
	var b bytes.Buffer
	z := gzip.NewWriter(&b)
	_, _ = z.Write([]byte(text))
	_ = z.Close()
	return b.String()
}

func wide16(text string, order binary.ByteOrder) string {
	var b []byte
	for _, u := range utf16.Encode([]rune("\ufeff" + text)) {
		b = append(b, 0, 0)
		order.PutUint16(b[len(b)-2:], u)
	}
	return string(b)
}

// riff is a WAV whose head says what it is told.
func riff(kind, channels int, rate, bytesASecond uint32, align, bits int, data []byte) string {
	le := binary.LittleEndian
	f := le.AppendUint16(nil, uint16(kind))
	f = le.AppendUint16(f, uint16(channels))
	f = le.AppendUint32(f, rate)
	f = le.AppendUint32(f, bytesASecond)
	f = le.AppendUint16(f, uint16(align))
	f = le.AppendUint16(f, uint16(bits))
	out := append([]byte("RIFF\x00\x00\x00\x00WAVEfmt "), le.AppendUint32(nil, uint32(len(f)))...)
	out = append(out, f...)
	out = append(append(out, "data"...), le.AppendUint32(nil, uint32(len(data)))...)
	return string(append(out, data...))
}

// Files as they should not be: each is refused for a reason that a person can do something about, or taken with a sentence
// of what was left out or guessed; and what was guessed can be said otherwise.
func TestMalformedFilesAreRefusedOrSaid(t *testing.T) {
	t.Parallel()
	good := func(i int) (float64, float64) { return float64(i) * 1e-4, math.Sin(float64(i) / 20) }
	tone := make([]byte, 4000)
	for i := range len(tone) / 2 {
		binary.LittleEndian.PutUint16(tone[2*i:], uint16(int16(9000*math.Sin(float64(i)/9))))
	}
	floats := func(x ...float32) []byte {
		var b []byte
		for _, v := range x {
			b = binary.LittleEndian.AppendUint32(b, math.Float32bits(v))
		}
		return b
	}
	type outcome struct {
		text    string
		refused string // part of why
		said    string // part of what is said of it, at so many seconds between samples where it does not say
	}
	cases := map[string]outcome{
		// cells
		"a word in the middle":     {table400(map[int]string{200: "0.0200,overload"}), "line 202", ""},
		"dashes in the middle":     {table400(map[int]string{200: "0.0200,----"}), "line 202", ""},
		"a word near the end":      {table400(map[int]string{395: "0.0395,overload"}), "line 397", ""},
		"a word in the first line": {table400(map[int]string{0: "0.0000,wait"}), "", "Line 2 is left out"},
		"nan":                      {table400(map[int]string{200: "0.0200,NaN"}), "line 202", ""},
		"infinity":                 {table400(map[int]string{390: "0.0390,Inf"}), "line 392", ""},
		"an empty cell":            {table400(map[int]string{390: "0.0390,"}), "line 392", ""},
		"an empty cell in front":   {table400(map[int]string{390: ",0.5"}), "line 392", ""},
		"a unit in a cell":         {table400(map[int]string{390: "0.0390,1.2 V"}), "line 392", ""},
		"units in every cell": {
			each400("time,v\n", func(i int) string { x, y := good(i); return fmt.Sprintf("%.4f s,%.4f V", x, y) }),
			"no lines of numbers",
			"",
		},
		"two points in a number": {table400(map[int]string{390: "0.0390,1.2.3"}), "line 392", ""},
		"a minus of print": {
			each400("time,v\n", func(i int) string { x, _ := good(i); return fmt.Sprintf("%.4f,−%.4f", x, 0.5) }),
			"",
			"",
		},
		"an exponent with D":        {table400(map[int]string{390: "0.0390,1.2D-3"}), "line 392", ""},
		"hexadecimal":               {table400(map[int]string{390: "0.0390,0x1F"}), "line 392", ""},
		"a percentage":              {table400(map[int]string{390: "0.0390,12%"}), "line 392", ""},
		"far too large":             {table400(map[int]string{390: "0.0390,1e30"}), "line 392", ""},
		"an exponent without end":   {table400(map[int]string{390: "0.0390,1e999999"}), "line 392", ""},
		"a number of a thousand":    {table400(map[int]string{390: "0.0390," + strings.Repeat("9", 1000)}), "line 392", ""},
		"thousands parted":          {table400(map[int]string{390: "0.0390,\"1,234.5\""}), "line 392", ""},
		"a quote that does not end": {table400(map[int]string{390: "0.0390,\"0.5"}), "", ""},
		"letters of another tongue": {table400(map[int]string{390: "0.0390,пять"}), "line 392", ""},
		"a bell":                    {table400(map[int]string{390: "0.0390,\a"}), "line 392", ""},
		"a zero byte in the middle": {table400(map[int]string{390: "0.0390,\x00"}), "line 392", ""},
		"a zero byte at the front":  {"\x00" + table400(nil), "neither text nor", ""},
		// lines
		"a cell too many":        {table400(map[int]string{390: "0.0390,0.5,0.5"}), "3 columns", ""},
		"a cell too few":         {table400(map[int]string{390: "0.0390"}), "columns", ""},
		"a cell too few, early":  {table400(map[int]string{150: "0.0150"}), "", "line 152"},
		"cut off":                {strings.TrimSuffix(table400(map[int]string{399: "0.03"}), "\n"), "", "cut off"},
		"a head in the middle":   {table400(nil) + table400(nil), "line 402", ""},
		"a second block":         {table400(nil) + "\n\nsegment 2\n" + table400(nil), "line 404", ""},
		"a remark in the middle": {table400(map[int]string{200: "# trigger"}), "line 202", ""},
		"a missing line":         {table400(map[int]string{200: "-"}), "not even", ""},
		"fifty missing lines": {table400(func() map[int]string {
			m := map[int]string{}
			for i := 200; i < 250; i++ {
				m[i] = "-"
			}
			return m
		}()), "not even", ""},
		"a line twice":              {table400(map[int]string{200: "0.0199,0.1\n0.0199,0.1"}), "not even", ""},
		"a line far too long":       {table400(map[int]string{390: strings.Repeat("1,", 60000)}), "longer", ""},
		"a first line far too long": {strings.Repeat("x", 70000) + "\n" + table400(nil), "longer", ""},
		"blank lines between": {
			each400("time,v\n", func(i int) string { x, y := good(i); return fmt.Sprintf("%.4f,%.4f\n", x, y) }),
			"",
			"",
		},
		"all in one line":     {strings.ReplaceAll(table400(nil), "\n", " "), "no lines of numbers", ""},
		"only a head":         {"time (s),probe (V)\n", "no lines of numbers", ""},
		"a head and one line": {"time (s),probe (V)\n0,1\n", "one sample", ""},
		"only blank lines":    {"\n\n\n\n", "no lines of numbers", ""},
		"nothing":             {"", "empty", ""},
		"one number":          {"1\n", "interval", ""},
		"prose":               {"Dear colleague,\nhere is what the scope shows.\nBest regards\n", "no lines of numbers", ""},
		// times
		"time backwards": {
			each400("time (s),v\n", func(i int) string { x, y := good(399 - i); return fmt.Sprintf("%.4f,%.4f", x, y) }),
			"does not rise",
			"",
		},
		"time that stands": {
			each400("time (s),v\n", func(i int) string { _, y := good(i); return fmt.Sprintf("0.5,%.4f", y) }),
			"does not rise",
			"",
		},
		"time by the logarithm": {
			each400("time (s),v\n", func(i int) string { return fmt.Sprintf("%.6g,1", math.Exp(float64(i)/40)) }),
			"not even",
			"",
		},
		"time that jumps back": {
			each400("time (s),v\n", func(i int) string { x, y := good(i % 200); return fmt.Sprintf("%.4f,%.4f", x, y) }),
			"not even",
			"",
		},
		"time of day": {
			each400("time,v\n", func(i int) string { return fmt.Sprintf("12:00:%02d,%d", i%60, i) }),
			"no lines of numbers",
			"",
		},
		"time in nothing known": {
			each400("time (fortnight),v\n", func(i int) string { x, y := good(i); return fmt.Sprintf("%.4f,%.4f", x, y) }),
			"",
			"seconds are assumed",
		},
		"neither time nor interval": {
			each400("a,b\n", func(i int) string { return fmt.Sprintf("%.3f,%.3f", math.Sin(float64(i)), math.Cos(float64(i))) }),
			"interval",
			"",
		},
		"an interval of nothing": {
			each400("Sample interval,0,s\nv\n", func(i int) string { return fmt.Sprint(i % 7) }),
			"interval",
			"",
		},
		"an interval below nothing": {
			each400("Sample interval,-1e-3,s\nv\n", func(i int) string { return fmt.Sprint(i % 7) }),
			"interval",
			"",
		},
		"an interval in words": {
			each400("Sample interval,fast\nv\n", func(i int) string { return fmt.Sprint(i % 7) }),
			"interval",
			"",
		},
		"an interval beyond any": {
			each400("Sample interval,1e-30,s\nv\n", func(i int) string { return fmt.Sprint(i % 7) }),
			"cannot be",
			"",
		},
		"two intervals": {
			each400("Sample interval,1e-3,s\ntime (s),v\n", func(i int) string { x, y := good(i); return fmt.Sprintf("%.4f,%.4f", x, y) }),
			"",
			"1 ms",
		},
		"a rate of nothing": {each400("Sample rate: 0 Hz\nv\n", func(i int) string { return fmt.Sprint(i % 7) }), "interval", ""},
		"fewer samples than it says": {
			each400("Samples,1000\nSample interval,1e-3,s\nv\n", func(i int) string { return fmt.Sprint(i % 7) }),
			"",
			"1000",
		},
		// columns
		"3000 columns": {
			each400("", func(i int) string { return strings.TrimSuffix(strings.Repeat(fmt.Sprint(i%7)+",", 3000), ",") }),
			"3000",
			"",
		},
		"17 channels": {
			each400("", func(i int) string { x, _ := good(i); return fmt.Sprintf("%.4f", x) + strings.Repeat(",1.5", 17) }),
			"18 columns",
			"",
		},
		"decimal commas, commas between": {
			each400("t,v\n", func(i int) string { return fmt.Sprintf("0,%04d,1,%03d", i, (i*7)%1000) }),
			"",
			"decimal",
		},
		"decimal commas in one column": {
			each400("U\n", func(i int) string { return fmt.Sprintf("%d,%03d", i%3, (i*7)%1000) }),
			"",
			"decimal",
		},
		"the same under semicolons": {
			each400(
				"Kanal;1\nIntervall;0,001\nSample interval;0,001;s\nU;\n",
				func(i int) string { return fmt.Sprintf("%d,%03d", i%3, (i*7)%1000) },
			),
			"",
			"comma",
		},
		"semicolons and points": {
			each400("t;v\n", func(i int) string { x, y := good(i); return fmt.Sprintf("%.4f;%.4f", x, y) }),
			"",
			"",
		},
		"tabs and blanks mixed": {
			each400("t v\n", func(i int) string { x, y := good(i); return fmt.Sprintf("%.4f%s%.4f", x, []string{"\t", "  "}[i%2], y) }),
			"",
			"",
		},
		"a column of words": {
			each400("t,state,v\n", func(i int) string { x, y := good(i); return fmt.Sprintf("%.4f,on,%.4f", x, y) }),
			"no lines of numbers",
			"",
		},
		"an empty column": {
			each400("t,,v\n", func(i int) string { x, y := good(i); return fmt.Sprintf("%.4f,,%.4f", x, y) }),
			"no lines of numbers",
			"",
		},
		"a unit that is none": {
			each400("time (s),v (furlong)\n", func(i int) string { x, y := good(i); return fmt.Sprintf("%.4f,%.4f", x, y) }),
			"",
			"volts are assumed",
		},
		"volts and decibels": {
			each400("time (s),a (V),b (dBV)\n", func(i int) string { x, y := good(i); return fmt.Sprintf("%.4f,%.4f,%.4f", x, y, y) }),
			"",
			"dBV",
		},
		"names twice": {
			each400("time (s),CH1 (V),CH1 (V)\n", func(i int) string { x, y := good(i); return fmt.Sprintf("%.4f,%.4f,%.4f", x, y, y) }),
			"",
			"",
		},
		"a name of a thousand letters": {
			each400(
				"time (s),"+strings.Repeat("x", 1000)+"\n",
				func(i int) string { x, y := good(i); return fmt.Sprintf("%.4f,%.4f", x, y) },
			),
			"",
			"name",
		},
		"all alike": {
			each400("time (s),v\n", func(i int) string { x, _ := good(i); return fmt.Sprintf("%.4f,1.25", x) }),
			"",
			"",
		},
		"time and a remark": {
			each400("time (s),v,remark\n", func(i int) string { x, y := good(i); return fmt.Sprintf("%.4f,%.4f,ok", x, y) }),
			"no lines of numbers",
			"",
		},
		// other files
		"zip":                    {"PK\x03\x04rest of it", "zip", ""},
		"gzip":                   {zipped(table400(nil)), "compressed", ""},
		"a picture":              {"\x89PNG\r\n\x1a\n\x00\x00\x00\rIHDR", "neither text nor", ""},
		"a page":                 {"%PDF-1.7\n%\xe2\xe3\xcf\xd3\n1 0 obj\n<<>>\nendobj\n", "no lines of numbers", ""},
		"a web page":             {"<html><body><table><tr><td>1</td><td>2</td></tr></table></body></html>", "no lines of numbers", ""},
		"JSON":                   {`{"samples": [0.1, 0.2, 0.3]}`, "no lines of numbers", ""},
		"UTF-16, low end first":  {wide16(table400(nil), binary.LittleEndian), "UTF-16", ""},
		"UTF-16, high end first": {wide16(table400(nil), binary.BigEndian), "UTF-16", ""},
		"Latin letters": {
			each400("Zeit (s),Gr\xf6\xdfe (V)\n", func(i int) string { x, y := good(i); return fmt.Sprintf("%.4f,%.4f", x, y) }),
			"",
			"?",
		},
		"bytes at random": {string(bytes.Repeat([]byte{0xde, 0xad, 0xbe, 0xef, '\n'}, 500)), "no lines of numbers", ""},
		// WAVs
		"a RIFF of another kind":     {"RIFF\x00\x00\x00\x00AVI LIST", "no WAVE", ""},
		"RIFF and no more":           {"RIFF", "no WAVE", ""},
		"a WAV without a format":     {"RIFF\x00\x00\x00\x00WAVEdata\x04\x00\x00\x00abcd", "before their format", ""},
		"a WAV cut in its format":    {riff(1, 1, 8000, 16000, 2, 16, tone)[:30], "cut off", ""},
		"a WAV without samples":      {riff(1, 1, 8000, 16000, 2, 16, nil), "no samples", ""},
		"a WAV of one sample":        {riff(1, 1, 8000, 16000, 2, 16, tone[:2]), "one sample", ""},
		"a WAV of no channels":       {riff(1, 0, 8000, 16000, 2, 16, tone), "channels", ""},
		"a WAV of 200 channels":      {riff(1, 200, 8000, 16000, 400, 16, tone), "channels", ""},
		"a WAV of 12 bits":           {riff(1, 1, 8000, 16000, 2, 12, tone), "12 bits", ""},
		"a WAV of another coding":    {riff(6, 1, 8000, 8000, 1, 8, tone), "kind 6", ""},
		"a WAV at no rate":           {riff(1, 1, 0, 0, 2, 16, tone), "no samples a second", ""},
		"a WAV at 4 GHz":             {riff(1, 1, 4_000_000_000, 0, 2, 16, tone), "no rate of a WAV", ""},
		"a WAV with a wrong frame":   {riff(1, 1, 8000, 16000, 7, 16, tone), "", "7 bytes"},
		"a WAV with wrong bytes":     {riff(1, 1, 8000, 99, 2, 16, tone), "", "99"},
		"a WAV longer than it is":    {riff(1, 1, 8000, 16000, 2, 16, tone)[:3000], "", "was cut off"},
		"a WAV ending in a sample":   {riff(1, 1, 8000, 16000, 2, 16, tone[:999]), "", "no whole sample"},
		"a WAV of NaN":               {riff(3, 1, 8000, 32000, 4, 32, floats(0, 1, float32(math.NaN()), 0)), "no number", ""},
		"a WAV beyond full scale":    {riff(3, 1, 8000, 32000, 4, 32, floats(0, 1, 1e20, 0)), "no voltage", ""},
		"a WAV that begins with CSV": {"RIFFtime,v\n0,1\n1,2\n", "no WAVE", ""},
		"an extended WAV cut short":  {riff(0xfffe, 1, 8000, 16000, 2, 16, tone), "cut off", ""},
		"a WAV with silence only":    {riff(1, 1, 8000, 16000, 2, 16, make([]byte, 4000)), "", ""},
	}
	handled := 0
	for name, x := range cases {
		c, err := Read(context.Background(), []byte(x.text), Options{})
		if err != nil && x.said != "" && strings.Contains(err.Error(), "neither times nor an interval") {
			c, err = Read(context.Background(), []byte(x.text), Options{Interval: 1e-3})
		}
		var file *exchange.FileError
		switch {
		case err != nil && !errors.As(err, &file):
			t.Errorf("%s: an error that is for nobody: %v", name, err)
		case err != nil && (x.refused == "" || !strings.Contains(err.Error(), x.refused)):
			t.Errorf("%s: refused by %q, wanted %q or %q", name, err, x.refused, x.said)
		case err == nil && x.refused != "":
			t.Errorf("%s: taken as %d samples at %g: %q", name, len(c.Channels[0].Samples), c.Rate, c.Understood)
		case err == nil && !strings.Contains(strings.Join(c.Understood, " "), x.said):
			t.Errorf("%s: said %q, wanted %q", name, c.Understood, x.said)
		case err == nil && x.said == "" && len(c.Channels[0].Samples) != 400 && len(c.Channels[0].Samples) != 2000:
			t.Errorf("%s: %d samples are left, and nothing is said of it", name, len(c.Channels[0].Samples)) // a table has 400, a WAV 2000
		case err == nil && c.Prove() != nil:
			t.Errorf("%s: cannot be measured", name)
		default:
			handled++
		}
	}
	if len(cases) < 100 {
		t.Errorf("%d files are too few", len(cases))
	}
	t.Logf("%d of %d", handled, len(cases))
}

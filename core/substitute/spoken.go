package substitute

import (
	"regexp"
	"strconv"
	"strings"

	"steptrace/core/mend"
	"steptrace/core/quantity"
)

// Parts are typed as one speaks: "47u 63v film 5mm", "0.22 Ω 3 W flameproof", "T1.6A 250V".

// joined puts a figure and its unit together that stand apart.
var joined = regexp.MustCompile(`(\d)\s+(pF|nF|[uµμ]F|mF|F|[kmM]?V(?:ac|dc)?|[mu]?A|°C|mm|h|ohms?|[mkM]?Ω|[mk]?W|%)(\s|$|,)`)

// words cuts a text where people do.
func wordsOf(text string) []string {
	text = joined.ReplaceAllString(strings.TrimSpace(text), "$1$2$3")
	text = joined.ReplaceAllString(text, "$1$2$3") // neighbours share the blank between them
	return strings.FieldsFunc(text, func(r rune) bool { return r == ' ' || r == '/' || r == ';' || r == '\t' || r == '\u00a0' })
}

// Commas are left to the figures ("2,2u"); one behind a word goes.
func bare(word string) string { return strings.ToLower(strings.TrimSuffix(word, ",")) }

var dielectricWords = map[string]Dielectric{
	"electrolytic": Electrolytic, "elko": Electrolytic, "lytic": Electrolytic,
	"bipolar": Bipolar, "nonpolar": Bipolar, "non-polar": Bipolar, "tantalum": Tantalum,
	"film": Film, "polyester": Film, "polypropylene": Film, "foil": Film, "polystyrene": Polystyrene, "styrene": Polystyrene,
	"ceramic": Ceramic, "x7r": Ceramic, "y5v": Ceramic, "z5u": Ceramic, "np0": Stable, "c0g": Stable, "npo": Stable, "cog": Stable,
	"mica": Mica, "paper": Paper,
}

var (
	millimetres = regexp.MustCompile(`^(\d+(?:[.,]\d+)?)mm$`)
	farads      = regexp.MustCompile(`^[\d.,]+[pnuµμ]$`)
	hours       = regexp.MustCompile(`^(\d+)h$`)
	celsius     = regexp.MustCompile(`^(\d+)°?c$`)
	sized       = regexp.MustCompile(`^(\d+(?:[.,]\d+)?)x(\d+(?:[.,]\d+)?)(mm)?$`)
)

func figure(text string) float64 {
	x, _ := strconv.ParseFloat(strings.Replace(text, ",", ".", 1), 64) // the pattern admits nothing else
	return x
}

// CapacitorOf reads a capacitor as it is spoken of, and the volts that it works at where they stand behind "at".
//
// Long: the words that people use, each with what it says.
func CapacitorOf(text string) (c Capacitor, at float64, err error) {
	words := wordsOf(text)
	for i := 0; i < len(words); i++ {
		w, lower := strings.TrimSuffix(words[i], ","), bare(words[i])
		next := ""
		if i+1 < len(words) {
			next = bare(words[i+1])
		}
		switch d, known := dielectricWords[lower]; {
		case lower == "" || lower == "class" || lower == "stable" && next == "ceramic":
			if lower == "stable" {
				c.Dielectric = Stable
				i++
			}
		case lower == "low" && next == "esr", lower == "low" && next == "impedance":
			c.LowOhms = true
			i++
		case known && c.Dielectric == Electrolytic && d == Bipolar, known && c.Dielectric == Bipolar && d == Electrolytic:
			c.Dielectric = Bipolar
		case known:
			c.Dielectric = d
			if c.Dielectric == Ceramic && (next == "np0" || next == "c0g") {
				i++
				c.Dielectric = Stable
			}
		case lower == "x1" || lower == "x2" || lower == "y1" || lower == "y2":
			c.Class = strings.ToUpper(lower)
		case lower == "surface" || lower == "smd":
			c.Surface = true
			if next == "mount" {
				i++
			}
		case lower == "esr" && next != "":
			v, err := quantity.ParseAs(next, quantity.Ohm)
			if err != nil {
				return c, at, err
			}
			c.Ohms = v.SI
			i++
		case lower == "at" || lower == "on":
			if next == "" {
				return c, at, mend.Errorf("behind %q the volts that it works at are missing", lower)
			}
			v, err := quantity.ParseAs(strings.TrimSuffix(words[i+1], ","), quantity.Volt)
			if err != nil {
				return c, at, err
			}
			at = v.SI
			i++
		case hours.MatchString(lower):
			c.Hours = figure(hours.FindStringSubmatch(lower)[1])
		case celsius.MatchString(lower):
			c.Celsius = figure(celsius.FindStringSubmatch(lower)[1])
		case millimetres.MatchString(lower):
			c.Pitch = figure(millimetres.FindStringSubmatch(lower)[1])
		case sized.MatchString(lower):
			m := sized.FindStringSubmatch(lower)
			c.Across, c.High = figure(m[1]), figure(m[2])
		default:
			if farads.MatchString(lower) {
				w += "F"
			}
			v, err := quantity.Parse(w, quantity.Farad)
			if err != nil {
				return c, at, mend.Errorf(
					"%q is nothing that is said of a capacitor: value, volts, film or electrolytic, 105C, 5000h, 5mm, x2",
					words[i],
				)
			}
			if err := c.take(v); err != nil {
				return c, at, err
			}
		}
	}
	if c.Farads <= 0 {
		return c, at, mend.Errorf("no capacitance stands in %q: begin with it, for example 47u 63v", text)
	}
	return c, at, nil
}

// take keeps a figure by its unit.
func (c *Capacitor) take(v quantity.Value) error {
	to := map[quantity.Unit]*float64{
		quantity.Farad: &c.Farads, quantity.Volt: &c.Volts, quantity.Ratio: &c.Tolerance, quantity.Ampere: &c.Amps, quantity.Ohm: &c.Ohms,
	}[v.Unit]
	switch {
	case to == nil:
		return mend.Errorf("%s says nothing of a capacitor", v)
	case *to != 0:
		return mend.Errorf("%s stands there, and so does %s: one of them is too many", v, quantity.Value{SI: *to, Unit: v.Unit})
	case v.SI <= 0 || v.Unit == quantity.Farad && v.SI > 100:
		return mend.Errorf("%s cannot be", v)
	}
	*to = v.SI
	return nil
}

// ResistorOf reads a resistor as it is spoken of: "0.22 Ω 3 W flameproof", "4k7 1 %".
func ResistorOf(text string) (r Resistor, err error) {
	for _, word := range wordsOf(text) {
		switch w := bare(word); w {
		case "":
		case "flameproof":
			r.Flame = true
		case "fusible":
			r.Fusible = true
		case "wound", "wirewound", "wire":
			r.Wound = true
		case "carbon", "metal", "film", "oxide", "resistor":
		default:
			v, err := quantity.Parse(strings.TrimSuffix(word, ","), quantity.Ohm)
			to := map[quantity.Unit]*float64{
				quantity.Ohm: &r.Ohms, quantity.Watt: &r.Watts, quantity.Volt: &r.Volts, quantity.Ratio: &r.Tolerance,
			}[v.Unit]
			switch {
			case err != nil || to == nil:
				return r, mend.Errorf(
					"%q is nothing that is said of a resistor: ohms, watts, per cent, flameproof, fusible, wire wound",
					word,
				)
			case *to != 0 || v.SI <= 0:
				return r, mend.Errorf("%s cannot be, or stands there twice", v)
			}
			*to = v.SI
		}
	}
	if r.Ohms <= 0 {
		return r, mend.Errorf("no resistance stands in %q: begin with it, for example 4k7 0.5 W", text)
	}
	return r, nil
}

// Says writes a resistor as it is ordered: "0.22 Ω 3 W, flameproof".
func (r *Resistor) Says() string {
	out := quantity.Rounded(r.Ohms, quantity.Ohm)
	if r.Watts > 0 {
		out += " " + quantity.Rounded(r.Watts, quantity.Watt)
	}
	if r.Tolerance > 0 {
		out += ", " + strconv.FormatFloat(100*r.Tolerance, 'g', 3, 64) + " %"
	}
	for _, x := range []struct {
		is   bool
		word string
	}{{r.Flame, "flameproof"}, {r.Fusible, "fusible"}, {r.Wound, "wire wound"}} {
		if x.is {
			out += ", " + x.word
		}
	}
	return out
}

// fuseLetters are the speeds as IEC 60127 prints them.
var fuseLetters = map[string]string{"FF": "very quick", "F": "quick", "M": "medium", "T": "slow", "TT": "very slow"}

var fuseMark = regexp.MustCompile(`^(FF|F|M|TT|T)(\d.*)$`)

// FuseOf reads a fuse as it is printed or spoken of: "T1.6A 250V", "1.6 A slow 5x20".
func FuseOf(text string) (f Fuse, err error) {
	words := wordsOf(text)
	for i := 0; i < len(words); i++ {
		w, lower := strings.TrimSuffix(words[i], ","), bare(words[i])
		switch {
		case lower == "very" && i+1 < len(words):
			f.Speed = "very " + bare(words[i+1])
			i++
		case lower == "quick" || lower == "medium" || lower == "slow":
			f.Speed = lower
		case lower == "fast":
			f.Speed = "quick"
		case sized.MatchString(lower):
			f.Size = strings.TrimSuffix(lower, "mm") + " mm"
		case fuseLetters[w] != "":
			f.Speed = fuseLetters[w]
		default:
			unit := quantity.None // "47u" is no fuse
			if m := fuseMark.FindStringSubmatch(w); m != nil {
				f.Speed, w, unit = fuseLetters[m[1]], m[2], quantity.Ampere
			}
			v, err := quantity.Parse(w, unit)
			to := map[quantity.Unit]*float64{quantity.Ampere: &f.Amps, quantity.Volt: &f.Volts}[v.Unit]
			if err != nil || to == nil || *to != 0 || v.SI <= 0 {
				return f, mend.Errorf("%q is nothing that is said of a fuse: amperes, volts, quick or slow, 5x20", words[i])
			}
			*to = v.SI
		}
	}
	if f.Amps <= 0 {
		return f, mend.Errorf("no current stands in %q: begin with it, for example T1.6A", text)
	}
	return f, nil
}

// RelayOf reads a relay as it is spoken of: "relay 12 V 400 ohm 2 changeover 5 A signal".
//
// Long: the words that people use, each with what it says.
func RelayOf(text string) (r Relay, err error) {
	words := wordsOf(text)
	for i := 0; i < len(words); i++ {
		w, lower := strings.TrimSuffix(words[i], ","), bare(words[i])
		switch {
		case lower == "relay" || lower == "dc":
		case lower == "ac":
			r.AC = true
		case lower == "signal":
			r.Signal = true
		case lower == "changeover" || lower == "make" || lower == "break":
			r.Contacts = "1 " + lower
		case i+1 < len(words) && len(w) == 1 && w[0] >= '1' && w[0] <= '9' && contact(bare(words[i+1])):
			i++
			r.Contacts = w + " " + bare(words[i])
		case lower == "at" && i+1 < len(words):
			i++
			v, err := quantity.ParseAs(strings.TrimSuffix(words[i], ","), quantity.Volt)
			if err != nil {
				return r, err
			}
			r.Across = v.SI
		default:
			v, err := quantity.Parse(w, quantity.Ohm)
			to := map[quantity.Unit]*float64{quantity.Volt: &r.Volts, quantity.Ohm: &r.Ohms, quantity.Ampere: &r.Amps}[v.Unit]
			if err != nil || to == nil || *to != 0 || v.SI <= 0 {
				const example = "relay 12 V 400 ohm 2 changeover 5 A at 250 V, ac, signal"
				return r, mend.Errorf("%q is nothing that is said of a relay: %s", words[i], example)
			}
			r.AC = r.AC || v.Unit == quantity.Volt && v.Form == quantity.RMS
			*to = v.SI
		}
	}
	if r.Volts == 0 {
		return r, mend.Errorf("the volts of its coil stand nowhere in %q", text)
	}
	return r, nil
}

func contact(w string) bool { return w == "changeover" || w == "make" || w == "break" }

var laws = map[string]string{
	"linear": "linear", "lin": "linear", "logarithmic": "logarithmic", "log": "logarithmic", "audio": "logarithmic", "reverse": "reverse",
}

// ControlOf reads a control as it is spoken of: "control 50k log 2 gangs 6 mm flat".
//
// Long: the words that people use, each with what it says.
func ControlOf(text string) (c Control, err error) {
	words := wordsOf(text)
	for i := 0; i < len(words); i++ {
		w, lower := strings.TrimSuffix(words[i], ","), bare(words[i])
		switch {
		case lower == "control" || lower == "pot" || lower == "potentiometer":
		case laws[lower] != "":
			c.Law = laws[lower]
		case lower == "switch":
			c.Switch = true
		case lower == "stereo" || lower == "tandem":
			c.Gangs = 2
		case i+1 < len(words) && (bare(words[i+1]) == "gangs" || bare(words[i+1]) == "gang") && len(w) == 1 && w[0] >= '1' && w[0] <= '9':
			i++
			c.Gangs = int(w[0] - '0')
		case millimetres.MatchString(lower):
			c.Shaft = strings.TrimSuffix(lower, "mm") + " mm"
			if i+1 < len(words) && (bare(words[i+1]) == "flat" || bare(words[i+1]) == "split" || bare(words[i+1]) == "round") {
				i++
				c.Shaft += " " + bare(words[i])
			}
		default:
			v, err := quantity.Parse(w, quantity.Ohm)
			to := map[quantity.Unit]*float64{quantity.Ohm: &c.Ohms, quantity.Watt: &c.Watts}[v.Unit]
			if err != nil || to == nil || *to != 0 || v.SI <= 0 {
				return c, mend.Errorf("%q is nothing that is said of a control: control 50k log 2 gangs 6 mm flat", words[i])
			}
			*to = v.SI
		}
	}
	if c.Ohms == 0 {
		return c, mend.Errorf("its resistance stands nowhere in %q", text)
	}
	return c, nil
}

// MatchedFor is the verdict of a part that few figures tell of: a crystal, a winding. What must match is said; whether it does
// is for the person to see.
func MatchedFor(kind string) Verdict {
	v := begin()
	for _, m := range Matches[kind] {
		v.change("to match: %s", m)
	}
	return v.settle()
}

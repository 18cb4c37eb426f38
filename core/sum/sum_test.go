package sum

import (
	"strings"
	"testing"
)

// Each against its closed form, worked out by hand.
func TestSums(t *testing.T) {
	for _, x := range []struct{ text, says, line string }{
		{"120k || 33k", "25.9 kΩ", ""},                 // 3960/153
		{"1u || 2.2u", "3.2 µF", ""},                   // capacitors add
		{"10k || 10k || 10k", "3.33 kΩ", ""},           //
		{"4k7 + 330", "5.03 kΩ", ""},                   //
		{"100n + 100n", "50 nF", ""},                   //
		{"10 mV +34 dB", "501 mV", "50.12"},            // 10^(34/20)
		{"2 V -6 dB", "1 V", "0.5012"},                 //
		{"10k 1u", "15.9 Hz", "10 ms"},                 // 1/2πRC
		{"100n 1 kHz", "1.59 kΩ", ""},                  //
		{"100 nF at 1 kHz", "1.59 kΩ", ""},             //
		{"10 mH 1 kHz", "62.8 Ω", ""},                  // 2πfL
		{"10 mH 100 nF", "5.03 kHz", "316 Ω"},          // 1/2π√LC
		{"12 V 10k 4k7", "3.84 V", "3.2 kΩ"},           // 12·4.7/14.7
		{"18 V to 12 V 30 mA", "200 Ω", "180 mW"},      //
		{"1200u 76 V to 10 V 2k2", "5.35 s", "2.63 W"}, // 2.64 s·ln 7.6; 76²/2200
		{"1200u 76 V to 10 V 2k2", "", "3.47 J"},       // ½·1.2 mF·76²
		{"5 V 220 ohm", "22.7 mA", "114 mW"},           //
		{"2 A 0.47", "940 mV", "1.88 W"},               //
		{"12 V 0.5 A", "6 W", "24 Ω"},                  //
		{"1 A 100 Hz 4700u", "2.13 Vpp", ""},           // I/fC
		{"47u 63v at 58", "79.1 mJ", "fifth less"},     // ½CV²
		{"47u 63v at 40", "37.6 mJ", "enough"},         //
		{"47u 63v at 70", "115 mJ", "too little"},      //
		{"2000 h 105C at 65C", "32,000 hours", "3.7"},  // 2^4
		{"make 4k7", "4.7 kΩ", "exact"},                //
		{"make 3.74k", "", "%"},                        //
		{"50 W 8 ohm", "20 V rms", "28.3 V"},           // √(PR)
		{"100 mV 2 V", "+26 dB", "20"},                 //
		{"20 dB", "×10 in volts", "×100"},              //
		{"5 W 62.5 K/W at 40C", "352 °C", ""},          // 40 + 312.5, to the even figure
		{"selenium 125 V 100 mA", "39 Ω", "400 mW"},    // five plates, 4 V
		{"share 220u 250v 400v", "at most 182 kΩ", ""}, // 100 V / (0.01·220·250 µA)
		{"sink 20 W 50C 150C 1.5 K/W", "3.5 K/W or less", ""},
		{"1 V", "", "dBu"}, //
		{"100k reads 101k", "good: 101 kΩ within its 5 %", ""},
		{"100k reads 132k", "", "bad: "},
		{"100k reads OL", "bad: open", ""},
		{"100k reads 64.3k || 180k", "good: 100 kΩ by itself, within its 5 %", ""}, // 100·180/280
		{"100k reads 150k || 180k", "", "bad: "},                                   // 150·180/30 = 900 kΩ
		{"47u 63v reads 46u 0.4 ohm", "", "good"},
		{"47u 63v reads 31u", "", "bad: "},
	} {
		a, err := Of(x.text)
		all := a.Says
		for _, l := range a.Lines {
			all += "; " + l.What + " " + l.Text
		}
		if err != nil || x.says != "" && a.Says != x.says || !strings.Contains(all, x.line) {
			t.Errorf("%q: %q, %q (%v)", x.text, a.Says, all, err)
		}
	}
	for _, text := range Examples {
		if _, err := Of(text); err != nil {
			t.Errorf("the example %q: %v", text, err)
		}
	}
}

func TestWhatIsNoSum(t *testing.T) {
	for _, text := range []string{"1200u 10 V to 76 V 2k2", "1200u 76 V to 0 V 2k2"} {
		if _, err := Of(text); err == nil || !strings.Contains(err.Error(), "the larger first") {
			t.Errorf("%q: %v", text, err)
		}
	}
	for _, x := range []struct{ text, says string }{
		{"selenium 20 V 1 A", "no resistor is needed"}, {"share 1u 100v 300v", "do not bear"}, {"sink 5 W", "something is missing"},
		{"sink 50 W 50C 150C 3 K/W", "no sink is large enough"},
		{"", "type a sum"}, {"blue", ""}, {"120k ||", ""}, {"120k || 1u", "ohms with ohms"}, {"0 || 0", "cannot be"},
		{"make -3", "ohms or farads"}, {"make 3 V", "ohms or farads"}, {"12 V to 18 V 30 mA", "the larger first"},
		{"47u at", "missing"}, {"1 V 1 A 1 W 1 Hz", "not known"}, {"0 V 0", "comes to nothing"}, {"-1 V 2 V", "above zero"},
		{strings.Repeat("1 ", 200), "few words"}, {"1 V || 2 V", "ohms with ohms"},
	} {
		if a, err := Of(x.text); err == nil || !strings.Contains(err.Error(), x.says) {
			t.Errorf("%q: %+v %v", x.text, a, err)
		}
	}
}

func FuzzOf(f *testing.F) {
	for _, text := range Examples {
		f.Add(text)
	}
	f.Fuzz(func(t *testing.T, text string) {
		a, err := Of(text)
		bad := a.Says == "" || strings.Contains(a.Says, "NaN") || strings.Contains(a.Says, "Inf") ||
			strings.Contains(a.Says, "not a number")
		if err == nil && bad {
			t.Errorf("%q: %+v", text, a)
		}
	})
}

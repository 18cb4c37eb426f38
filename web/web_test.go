package web

import (
	"math"
	"os"
	"regexp"
	"strconv"
	"testing"
)

// luminance is the relative luminance of #rrggbb after WCAG 2.2.
func luminance(t *testing.T, hex string) float64 {
	t.Helper()
	n, err := strconv.ParseUint(hex[1:7], 16, 32)
	if err != nil {
		t.Fatal(err)
	}
	linear := func(c uint64) float64 {
		x := float64(c&255) / 255
		if x <= 0.04045 {
			return x / 12.92
		}
		return math.Pow((x+0.055)/1.055, 2.4)
	}
	return 0.2126*linear(n>>16) + 0.7152*linear(n>>8) + 0.0722*linear(n)
}

// Every colour that text is set in stands out from every ground it is set on,
// 4.5 to 1 or better (WCAG 2.2, 1.4.3), in the light version and the dark.
func TestTextIsReadable(t *testing.T) {
	css, err := os.ReadFile("src/app.css")
	if err != nil {
		t.Fatal(err)
	}
	blocks := regexp.MustCompile(`(?s)(:root|\.dark) \{(.*?)\n\}`).FindAllStringSubmatch(string(css), -1)
	if len(blocks) != 2 {
		t.Fatalf("%d sets of colours in app.css", len(blocks))
	}
	for _, b := range blocks {
		colour := map[string]string{}
		for _, m := range regexp.MustCompile(`--(\w+): (#[0-9a-f]{6,8});`).FindAllStringSubmatch(b[2], -1) {
			colour[m[1]] = m[2]
		}
		for _, text := range []string{"ink", "soft", "measured", "fault", "expect"} {
			for _, ground := range []string{"ground", "panel"} {
				x, y := luminance(t, colour[text]), luminance(t, colour[ground])
				if ratio := (max(x, y) + 0.05) / (min(x, y) + 0.05); ratio < 4.5 {
					t.Errorf("%s: %s on %s is %.2f to 1", b[1], text, ground, ratio)
				}
			}
		}
	}
}

package report

import (
	"encoding/xml"
	"fmt"
	"io"
	"math"
	"slices"
	"strings"
	"testing"
)

// Round numbers, at most six of them within what is drawn.
func TestSteps(t *testing.T) {
	for _, x := range []struct {
		from, to float64
		want     []float64
	}{
		{0, 160, []float64{0, 50, 100, 150}}, {18, 63, []float64{20, 30, 40, 50, 60}}, {-28.4, 28.4, []float64{-20, -10, 0, 10, 20}},
		{0, 1, []float64{0, 0.2, 0.4, 0.6, 0.8, 1}}, {3, 3, nil}, {5, 2, nil}, {math.NaN(), 1, nil},
	} {
		got := steps(x.from, x.to)
		if len(got) != len(x.want) || !slices.EqualFunc(got, x.want, func(a, b float64) bool { return math.Abs(a-b) < 1e-9 }) {
			t.Errorf("%g to %g: %v, want %v", x.from, x.to, got, x.want)
		}
	}
}

// A course runs through the places that it has, by its own box: what is highest is at the top but for the room, a gap stays one, and
// what a person wrote is text.
func TestAPlotIsDrawnToScale(t *testing.T) {
	p := Plot{
		Title: "<b>warm & wet</b>", Along: "minutes", Unit: "°C", From: 0, To: 100,
		Courses: []Course{{
			Name: "sink <1>", At: []float64{0, 50, 60, 100}, Least: []float64{20, 60, 60, 80}, Greatest: []float64{20, 60, 60, 80},
			Breaks: []int{2},
		}, {Name: "lid", At: []float64{0, 100}, Least: []float64{20, 30}, Greatest: []float64{20, 40}}},
	}
	svg := p.SVG()
	// 20 to 80 with a twelfth of room at each end: 20 is at 1/14 of the height.
	y := func(v float64) float64 { return plotBottom - ((v-20)/60*12+1)/14*(plotBottom-plotTop) }
	x := func(v float64) float64 { return plotLeft + v/100*(plotRight-plotLeft) }
	want := fmt.Sprintf(`d="M%.1f %.1fL%.1f %.1fM%.1f %.1fL%.1f %.1f"`, x(0), y(20), x(50), y(60), x(60), y(60), x(100), y(80))
	if !strings.Contains(svg, want) {
		t.Errorf("no %s in %s", want, svg)
	}
	if band := fmt.Sprintf(`L%.1f %.1fL%.1f %.1f"`, x(100), y(30), x(100), y(40)); !strings.Contains(svg, band) {
		t.Errorf("no %s in %s", band, svg)
	}
	if strings.Contains(svg, "<b>") || !strings.Contains(svg, "warm &amp; wet") || !strings.Contains(svg, "sink &lt;1&gt;") {
		t.Error(svg)
	}
	for _, p := range []Plot{p, {}, {To: 1, Courses: []Course{{At: []float64{0, 1}, Least: []float64{5, 5}, Greatest: []float64{5, 5}}}}} {
		d := xml.NewDecoder(strings.NewReader(p.SVG()))
		for {
			if _, err := d.Token(); err == io.EOF {
				break
			} else if err != nil {
				t.Fatal(err)
			}
		}
		if strings.Contains(p.SVG(), "NaN") || strings.Contains(p.SVG(), "Inf") {
			t.Error(p.SVG())
		}
	}
}

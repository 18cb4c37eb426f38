package report

import (
	"fmt"
	"html"
	"math"
	"strings"
)

// Plot is a drawing for an owner: courses along a line of time, each a band between least and greatest. Title says what it is in plain
// words, Along what stands along the line, Unit in what the courses are.
type Plot struct {
	Title, Along, Unit string
	From, To           float64 // along the line
	Courses            []Course
}

// Course is one of them. At are the places along the line; Breaks the indices among them where nothing was read before.
type Course struct {
	Name                string
	At, Least, Greatest []float64
	Breaks              []int
}

// How it is drawn, in the units of its own box: for paper, so light alone, and each course told by its dashes and its name, not by
// its colour only.
const (
	plotWidth, plotHeight = 520.0, 190.0
	plotLeft, plotRight   = 46.0, 512.0
	plotTop, plotBottom   = 24.0, 160.0
	mostSteps             = 6
)

var dashes = []string{"", "7 3", "2 3", "9 3 2 3"}

var inks = []string{"#a84d19", "#456e65", "#14201d", "#4f615c"}

// SVG draws it (Scalable Vector Graphics 1.1). A plot without courses is an empty frame.
func (p *Plot) SVG() string {
	var b strings.Builder
	fmt.Fprintf(&b, `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 %g %g" font-family="sans-serif" font-size="10">`,
		plotWidth, plotHeight)
	fmt.Fprintf(
		&b,
		`<rect width="%g" height="%g" fill="#fff"/><text x="4" y="13" font-size="11" font-weight="bold" fill="#14201d">%s</text>`,
		plotWidth,
		plotHeight,
		html.EscapeString(p.Title),
	)
	low, high := p.bounds()
	x := func(v float64) float64 { return plotLeft + (v-p.From)/(p.To-p.From)*(plotRight-plotLeft) }
	y := func(v float64) float64 { return plotBottom - (v-low)/(high-low)*(plotBottom-plotTop) }
	for _, v := range steps(low, high) {
		fmt.Fprintf(&b, `<path d="M%g %.1fH%g" stroke="#dde5e2"/><text x="%g" y="%.1f" text-anchor="end" fill="#4f615c">%s</text>`,
			plotLeft, y(v), plotRight, plotLeft-4, y(v)+3.5, label(v))
	}
	for _, v := range steps(p.From, p.To) {
		fmt.Fprintf(&b, `<path d="M%.1f %gv4" stroke="#4f615c"/><text x="%.1f" y="%g" text-anchor="middle" fill="#4f615c">%s</text>`,
			x(v), plotBottom, x(v), plotBottom+14, label(v))
	}
	fmt.Fprintf(&b, `<path d="M%g %gV%gH%g" fill="none" stroke="#14201d"/>`, plotLeft, plotTop, plotBottom, plotRight)
	fmt.Fprintf(&b, `<text x="%g" y="%g" text-anchor="end" fill="#4f615c">%s</text><text x="4" y="%g" fill="#4f615c">%s</text>`,
		plotRight, plotHeight-4, html.EscapeString(p.Along), plotTop+4, html.EscapeString(p.Unit))
	for i := range p.Courses {
		c := &p.Courses[i]
		ink, dash := inks[i%len(inks)], dashes[i%len(dashes)]
		fmt.Fprintf(&b, `<path d="%s" fill="none" stroke="%s" stroke-width="1.4" stroke-dasharray="%s"/>`, c.path(x, y), ink, dash)
		if len(p.Courses) > 1 || c.Name != "" {
			at := plotLeft + 8 + float64(i)*(plotRight-plotLeft)/float64(len(p.Courses))
			fmt.Fprintf(&b, `<path d="M%.1f %gh22" stroke="%s" stroke-width="1.6" stroke-dasharray="%s"/>`+
				`<text x="%.1f" y="%g" fill="%s">%s</text>`, at, plotHeight-7, ink, dash, at+26, plotHeight-4, ink, html.EscapeString(c.Name))
		}
	}
	b.WriteString("</svg>")
	return b.String()
}

// path is the course as one line: up and down where a stretch has a least and a greatest apart.
func (c *Course) path(x, y func(float64) float64) string {
	var b strings.Builder
	next := 0
	for i, at := range c.At {
		to := "L"
		if i == 0 {
			to = "M"
		}
		for next < len(c.Breaks) && c.Breaks[next] <= i {
			if c.Breaks[next] == i {
				to = "M"
			}
			next++
		}
		fmt.Fprintf(&b, "%s%.1f %.1f", to, x(at), y(c.Least[i]))
		if c.Greatest[i] != c.Least[i] {
			fmt.Fprintf(&b, "L%.1f %.1f", x(at), y(c.Greatest[i]))
		}
	}
	return b.String()
}

// bounds are those of all courses, with some room.
func (p *Plot) bounds() (low, high float64) {
	low, high = math.Inf(1), math.Inf(-1)
	for i := range p.Courses {
		for k := range p.Courses[i].At {
			low, high = min(low, p.Courses[i].Least[k]), max(high, p.Courses[i].Greatest[k])
		}
	}
	switch {
	case low > high:
		return 0, 1
	case high-low < 1e-9*max(math.Abs(low), math.Abs(high), 1e-9):
		return low - 1, high + 1
	}
	room := (high - low) / 12
	return low - room, high + room
}

// steps are round numbers between two: one, two or five of a power of ten apart, a handful of them.
func steps(from, to float64) []float64 {
	if !(to > from) {
		return nil
	}
	step := math.Pow(10, math.Floor(math.Log10((to-from)/mostSteps)))
	for _, times := range []float64{1, 2, 5, 10} {
		if (to-from)/(step*times) <= mostSteps {
			step *= times
			break
		}
	}
	var out []float64
	for k := math.Ceil(from/step - 1e-9); k*step <= to*(1+1e-12)+1e-12*step; k++ {
		out = append(out, k*step)
	}
	return out
}

func label(v float64) string { return strings.ReplaceAll(fmt.Sprintf("%.4g", v+0), "-", "−") }

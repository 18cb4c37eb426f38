package circuit

import (
	"math"
	"strings"
	"testing"
)

// Whatever is typed into a circuit's table, it is solved, or what is wrong is named; nothing
// crashes or comes to a NaN.
func FuzzTable(f *testing.F) {
	for _, family := range Families() {
		var rows []string
		for i := range family.Parts {
			p := &family.Parts[i]
			rows = append(rows, strings.Join([]string{p.Name, string(p.Kind), p.NodesText(), p.Value, p.AlsoText(), p.In}, "|"))
		}
		f.Add(strings.Join(rows, "\n"))
	}
	f.Add("R1|resistor|a; a|1k||\nC1|capacitor|a; 0|-1||\nX|crystal|; |4 MHz||")
	f.Add(
		"V1|voltage|a; 0|1e5||\nQ1|npn|a; a; 0||bf=1e6; is=1e-3|\nK1|relay|a; 0; a; b|1|pull=0.01; rests=1|\nT1|transformer|b; 0; c; " +
			"0|1n|ratio=1e4; coupling=0.99999|",
	)
	f.Fuzz(func(t *testing.T, text string) {
		if len(text) > 2000 {
			return
		}
		c := &Circuit{}
		for _, row := range strings.Split(text, "\n") {
			cells := append(strings.Split(row, "|"), make([]string, 6)...)
			c.Parts = append(c.Parts, PartOf(cells[0], cells[1], cells[2], cells[3], cells[4], cells[5]))
		}
		n, problems := c.Read()
		if len(problems) > 0 {
			for _, p := range problems {
				if p.Where == "" || p.Message == "" {
					t.Errorf("a problem without words: %+v", p)
				}
			}
			return
		}
		rest, err := n.Rest()
		if err != nil {
			return
		}
		for node, v := range rest.Volts {
			if math.IsNaN(v) || math.IsInf(v, 0) {
				t.Errorf("%g V at %s", v, node)
			}
		}
		responses, err := n.Respond(rest, []float64{1, 1e6})
		if err != nil {
			return
		}
		for _, r := range responses {
			for node, g := range r.Gain {
				if math.IsNaN(g) {
					t.Errorf("a gain of %g at %s", g, node)
				}
			}
		}
		figure := n.Figure(rest)
		if len(figure.Columns) != len(c.Parts) || len(figure.Lines) != len(n.Nodes)+1 {
			t.Errorf("%d columns of %d parts, %d lines of %d nodes", len(figure.Columns), len(c.Parts), len(figure.Lines), len(n.Nodes))
		}
	})
}

package sheet

import (
	"strings"
	"testing"
)

// What a spreadsheet would take for a formula goes out marked as text, and comes back as it was.
func TestNoFormulaGoesOut(t *testing.T) {
	s := &Sheet{
		Model: "=HYPERLINK(1)", Note: "@SUM(A1)",
		Points: []Point{{Name: "-12 V in", Note: "=1+1"}, {Name: "+x|y"}}, Stages: []Stage{{Name: "S", From: "-12 V in", To: "+x|y"}},
	}
	out := s.WriteCSV()
	for _, line := range strings.Split(string(out), "\n") {
		for _, cell := range strings.Split(line, ",") {
			if strings.HasPrefix(cell, "=") || strings.HasPrefix(cell, "@") || strings.HasPrefix(cell, "+x") {
				t.Errorf("%q goes out", cell)
			}
		}
	}
	tables, problems, err := ReadCSV(out)
	if err != nil || len(problems) > 0 {
		t.Fatal(err, problems)
	}
	back, _ := FromTables(tables)
	if back.Model != s.Model || back.Note != s.Note || back.Points[0].Name != "-12 V in" || back.Points[0].Note != "=1+1" ||
		back.Points[1].Name != "+x|y" || back.Stages[0].To != "+x|y" {
		t.Errorf("%s", back.WriteJSON())
	}
}

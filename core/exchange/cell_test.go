package exchange_test

import (
	"testing"

	"steptrace/core/exchange"
)

// What a spreadsheet would carry out is marked as text, and reads back as it was; values with a sign are left alone.
func TestCellsAreNoFormulas(t *testing.T) {
	for text, want := range map[string]string{
		"=1+1": "'=1+1", "@SUM(A1)": "'@SUM(A1)", "+cmd|' /C calc'!A0": "'+cmd|' /C calc'!A0", "-1+cmd|x!A0": "'-1+cmd|x!A0", "-": "'-",
		"-12.5 V": "-12.5 V", "+4 dBu": "+4 dBu", "-20dBm/50": "'-20dBm/50", "+15 V": "+15 V", "−5 V": "−5 V", "R12": "R12", "": "",
		"'=x": "''=x", "'quoted": "'quoted", "''=x": "'''=x", "-8 V/°C": "-8 V/°C",
	} {
		cell := exchange.Cell(text)
		if cell != want {
			t.Errorf("%q becomes %q, want %q", text, cell, want)
		}
		if back := exchange.Plain(cell); back != text {
			t.Errorf("%q comes back as %q", text, back)
		}
	}
}

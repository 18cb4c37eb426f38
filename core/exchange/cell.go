package exchange

import (
	"regexp"
	"strings"
)

// value is what begins with a sign and is no formula: a number with its unit, -12.5 V, +4 dBu.
var value = regexp.MustCompile(`^[+-][0-9][0-9.,]*( ?[\p{L}%°Ω/²√-]+)*$`)

// Cell is a text as it goes into a table that spreadsheets open: one that they would take for a formula, and carry out, gets the mark
// ' before it, by which they take it for text (OWASP, CSV injection).
func Cell(text string) string {
	if formula(text) || strings.HasPrefix(text, "'") && formula(strings.TrimLeft(text, "'")) {
		return "'" + text
	}
	return text
}

// Plain is the text of a cell that Cell wrote.
func Plain(cell string) string {
	if strings.HasPrefix(cell, "'") && formula(strings.TrimLeft(cell, "'")) {
		return cell[1:]
	}
	return cell
}

func formula(text string) bool {
	if text == "" || !strings.ContainsRune("=@+-\t\r", rune(text[0])) {
		return false
	}
	return !value.MatchString(text)
}

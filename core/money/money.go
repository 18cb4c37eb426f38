// Package money reads and writes amounts of money as people write them, whatever marks their currency has for thousands and
// decimals.
package money

import (
	"fmt"
	"strings"
	"unicode"

	"steptrace/core/mend"
)

// Amount is an amount of money in hundredths of its unit.
type Amount int64

// most is the largest amount that is taken: nothing on a bench is worth more.
const most Amount = 1e11

// Read reads an amount: 12, 12.50, 12,50 €, 1.234,50, 1'234.–, $ 1,234. Marks of currencies are left out. Of one mark that
// may be either, three digits behind it make it one for thousands, since money has two decimals. Errors can be mended by a
// person.
//
// Long: which mark is which.
func Read(text string) (Amount, error) {
	wrong := mend.Errorf("%q is no amount of money: write it as 12.50, or 12,50", strings.TrimSpace(text))
	if !marked(text) {
		return 0, wrong
	}
	kept := strings.Map(func(r rune) rune {
		switch {
		case unicode.Is(unicode.Sc, r) || unicode.IsLetter(r) || unicode.IsSpace(r) || r == '\'' || r == '’':
			return -1
		case r == '–' || r == '—' || r == '−':
			return '-'
		}
		return r
	}, text)
	kept = strings.TrimPrefix(strings.TrimPrefix(kept, "."), ",") // of a currency's own: Kr. 12
	whole := false
	for _, end := range []string{".-", ",-"} {
		if cut, ok := strings.CutSuffix(kept, end); ok {
			kept, whole = cut, true
		}
	}
	dots, commas := strings.Count(kept, "."), strings.Count(kept, ",")
	decimal := ""
	switch last := strings.LastIndexAny(kept, ".,"); {
	case last < 0 || whole:
	case dots > 0 && commas > 0:
		decimal = kept[last : last+1]
	case dots+commas == 1 && len(kept)-last-1 != thousand:
		decimal = kept[last : last+1]
	}
	units, cents := kept, ""
	if decimal != "" {
		at := strings.LastIndex(kept, decimal)
		units, cents = kept[:at], kept[at+1:]
		if strings.Contains(units, decimal) {
			return 0, wrong
		}
	}
	if !grouped(units) || len(cents) > 2 {
		return 0, wrong
	}
	var out Amount
	for _, r := range digits(units) + (cents + "00")[:2] {
		if r < '0' || r > '9' {
			return 0, wrong
		}
		if out = out*10 + Amount(r-'0'); out > most {
			return 0, mend.Errorf("%s is more than a repair is worth", strings.TrimSpace(text))
		}
	}
	if digits(units)+cents == "" {
		return 0, wrong
	}
	return out, nil
}

// marked tells whether the letters of an amount can be the mark of a currency: before all digits or behind them, and not such as are
// mistaken for digits (1OO, l2).
func marked(text string) bool {
	const likeDigits = "OoIlS"
	first, last := strings.IndexFunc(text, unicode.IsDigit), strings.LastIndexFunc(text, unicode.IsDigit)
	if first < 0 || strings.ContainsFunc(text[first:last], unicode.IsLetter) {
		return false
	}
	letters := strings.Join(strings.FieldsFunc(text, func(r rune) bool { return !unicode.IsLetter(r) }), "")
	return letters == "" || strings.Trim(letters, likeDigits) != ""
}

const thousand = 3 // digits of a group

// digits are those of a text, without the marks between groups.
func digits(text string) string { return strings.NewReplacer(".", "", ",", "").Replace(text) }

// grouped tells whether marks stand between groups of three digits.
func grouped(units string) bool {
	groups := strings.FieldsFunc(units, func(r rune) bool { return r == '.' || r == ',' })
	for i, group := range groups {
		if i > 0 && len(group) != thousand || i == 0 && len(groups) > 1 && strings.HasPrefix(group, "0") {
			return false
		}
	}
	return true
}

// Text writes an amount with its currency's mark behind it; decimals only where there are some.
func (a Amount) Text(mark string) string {
	const hundred = 100
	units := fmt.Sprint(int64(a / hundred))
	for at := len(units) - thousand; at > 0; at -= thousand {
		units = units[:at] + "\u202f" + units[at:] // a narrow space, which is no decimal mark anywhere
	}
	if a%hundred != 0 {
		units += fmt.Sprintf(".%02d", int64(a%hundred))
	}
	return strings.TrimSpace(units + "\u00a0" + strings.TrimSpace(mark))
}

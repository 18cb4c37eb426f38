package wave

import (
	"bytes"
	"strconv"
	"strings"
)

func trimCell(cell []byte) []byte {
	for len(cell) > 0 && (cell[0] == ' ' || cell[0] == '"' || cell[0] == '\t') {
		cell = cell[1:]
	}
	for len(cell) > 0 && (cell[len(cell)-1] == ' ' || cell[len(cell)-1] == '"' || cell[len(cell)-1] == '\t') {
		cell = cell[:len(cell)-1]
	}
	return cell
}

var tens = [...]float64{
	1,
	1e1,
	1e2,
	1e3,
	1e4,
	1e5,
	1e6,
	1e7,
	1e8,
	1e9,
	1e10,
	1e11,
	1e12,
	1e13,
	1e14,
	1e15,
	1e16,
	1e17,
	1e18,
	1e19,
	1e20,
	1e21,
	1e22,
}

// number reads a number with a decimal mark, and with either minus.
func number(cell []byte, decimal byte) (float64, bool) {
	digits, ok := bytes.CutPrefix(cell, []byte(printed))
	x, is := plainNumber(digits, decimal)
	if ok {
		return -x, is && digits[0] != '-' && digits[0] != '+'
	}
	return x, is
}

// printed is the minus of print, U+2212.
const printed = "−"

// plainNumber reads a number with a decimal mark: exactly for up to 15 digits and
// exponents to 22 (both are exact in a float64), otherwise by the standard library.
func plainNumber(cell []byte, decimal byte) (float64, bool) {
	i, negative := 0, false
	if i < len(cell) && (cell[i] == '-' || cell[i] == '+') {
		negative = cell[i] == '-'
		i++
	}
	digits, value, exp := 0, uint64(0), 0 // value wraps around beyond 19 digits, and is not used then
	point := false
	for ; i < len(cell); i++ {
		b := cell[i]
		switch {
		case b >= '0' && b <= '9':
			value = value*10 + uint64(b-'0')
			digits++
			if point {
				exp--
			}
		case b == decimal && !point:
			point = true
		case (b == 'e' || b == 'E') && digits > 0:
			e, ok := exponent(cell[i+1:])
			if !ok {
				return 0, false
			}
			exp += e
			i = len(cell)
		default:
			return 0, false
		}
	}
	if digits == 0 {
		return 0, false
	}
	if digits > 15 || exp < -22 || exp > 22 {
		x, err := strconv.ParseFloat(strings.Replace(string(cell), string(decimal), ".", 1), 64)
		return x, err == nil
	}
	x := float64(value)
	if exp < 0 {
		x /= tens[-exp]
	} else {
		x *= tens[exp]
	}
	if negative {
		x = -x
	}
	return x, true
}

func exponent(b []byte) (int, bool) {
	if len(b) == 0 || len(b) > 5 {
		return 0, false
	}
	e, err := strconv.Atoi(string(b))
	return e, err == nil
}

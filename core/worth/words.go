package worth

import (
	"fmt"
	"math"

	"steptrace/core/money"
)

// rounded brings an amount in hundredths to what one says: two figures, below twenty whole ones, from there to a hundred fives; up or
// down as to says.
func rounded(x float64, to func(float64) float64) float64 {
	units := x / 100
	step := 1.0
	switch {
	case units <= 0:
		return 0
	case units >= 100:
		step = math.Pow(10, math.Floor(math.Log10(units))-1)
	case units >= 20:
		step = 5
	}
	return to(units/step) * step * 100
}

// money writes an amount, rounded as one says it; below zero too.
func (f *Facts) money(x float64) string {
	out := amount(rounded(math.Abs(x), math.Round)).Text(f.Currency)
	if x < 0 && out != money.Amount(0).Text(f.Currency) {
		return "−" + out
	}
	return out
}

func (f *Facts) between(low, high float64) string {
	a, b := amount(rounded(low, math.Round)), amount(rounded(high, math.Round))
	if a == b {
		return a.Text(f.Currency)
	}
	return a.Text("") + " to " + b.Text(f.Currency)
}

// About writes minutes as one speaks of them: 5 minutes, 40 minutes, an hour, 2½ hours.
func About(minutes float64) string {
	const hour, quarters = 60, 4
	switch {
	case minutes < 2.5:
		return "a few minutes"
	case minutes < hour-5:
		return fmt.Sprintf("%.0f minutes", math.Round(minutes/5)*5)
	}
	q := int(math.Round(minutes / hour * quarters))
	if q > 6*quarters {
		q = q / quarters * quarters
	}
	if q == quarters {
		return "an hour"
	}
	return hours(q) + " hours"
}

// hours writes quarters of an hour.
func hours(quarters int) string {
	const of = 4
	part := [...]string{"", "¼", "½", "¾"}[quarters%of]
	if quarters < of {
		return part
	}
	return fmt.Sprintf("%d%s", quarters/of, part)
}

// Between writes two times as one speaks of them.
func Between(low, high float64) string {
	a, b := About(low), About(high)
	if a == b {
		return a
	}
	const minutes, hours = " minutes", " hours"
	for _, unit := range []string{minutes, hours} {
		if len(a) > len(unit) && len(b) > len(unit) && a[len(a)-len(unit):] == unit && b[len(b)-len(unit):] == unit {
			return a[:len(a)-len(unit)] + " to " + b
		}
	}
	return a + " to " + b
}

// InTen writes a chance as one speaks of it.
func InTen(p float64) string {
	switch n := math.Round(p * 10); {
	case p >= 0.95:
		return "nearly every case"
	case n < 1:
		return "hardly any case"
	default:
		return fmt.Sprintf("%.0f of 10 cases", n)
	}
}

// Package shop knows what holds for the whole workshop: its name and address at the head of what it prints, what an hour
// costs, its currency, its warranty and its paper.
package shop

import (
	"slices"
	"strconv"
	"strings"
	"time"
	"unicode/utf8"

	"steptrace/core/exchange"
	"steptrace/core/mend"
	"steptrace/core/money"
	"steptrace/core/past"
)

// Paper is a size of paper.
type Paper string

// The sizes, as ISO 216 and ANSI have them.
const (
	A4     Paper = "A4"
	Letter Paper = "letter"
)

// Words implements exchange.Enumerated.
func (Paper) Words() []string { return exchange.WordsOf([]Paper{A4, Letter}) }

// Settings are those of a workshop, as typed. Address stands below the name, several lines. Rate is what an hour costs.
// Months is for how long it stands for a repair; Warranty says for what.
type Settings struct {
	Name     string `json:"name"`
	Address  string `json:"address"`
	Currency string `json:"currency" jsonschema:"description=its mark: €\\, kr"`
	Rate     string `json:"rate" jsonschema:"description=of an hour"`
	Months   int    `json:"months" jsonschema:"description=of warranty"`
	Warranty string `json:"warranty" jsonschema:"description=what it stands for\\, and not"`
	Thanks   string `json:"thanks" jsonschema:"description=the last line of a report"`
	Paper    Paper  `json:"paper" jsonschema:"enum=A4,enum=letter"`
	// Times are the minutes that a step of a job usually takes here, Prices what a class of part costs; what is left out is as usual.
	Times  map[past.Step]string  `json:"times,omitempty"`
	Prices map[past.Class]string `json:"prices,omitempty"`
}

// Usual are the settings of a workshop that has said nothing yet.
func Usual() Settings {
	return Settings{
		Currency: "€",
		Months:   6,
		Warranty: "on the work and the parts that were renewed; not on other faults, nor on damage from outside",
		Paper:    A4,
	}
}

const (
	maxText  = 600 // characters of each text
	mostYear = 120 // months of warranty
)

// Check tidies settings. Errors can be mended by a person.
func (s *Settings) Check() error {
	for _, text := range []*string{&s.Name, &s.Address, &s.Currency, &s.Rate, &s.Warranty, &s.Thanks} {
		if utf8.RuneCountInString(*text) > maxText || !utf8.ValidString(*text) {
			return mend.Errorf("a text of the workshop's has at most %d characters, and can be read", maxText)
		}
		*text = strings.TrimSpace(*text)
	}
	const mark = 8
	switch {
	case utf8.RuneCountInString(s.Currency) > mark || strings.ContainsAny(s.Currency, "0123456789.,"):
		return mend.Errorf("a currency is told by its mark: €, kr")
	case s.Months < 0 || s.Months > mostYear:
		return mend.Errorf("a warranty is of 0 to %d months", mostYear)
	case !slices.Contains([]Paper{A4, Letter}, s.Paper):
		return mend.Errorf("paper is A4 or letter")
	}
	if err := s.checkUsual(); err != nil || s.Rate == "" {
		return err
	}
	_, err := money.Read(s.Rate)
	return err
}

const mostMinutes = 1000 // of a step

// checkUsual tidies the times and prices.
func (s *Settings) checkUsual() error {
	for step, text := range s.Times {
		text = strings.TrimSpace(text)
		m, err := strconv.ParseFloat(text, 64)
		switch {
		case !slices.Contains(past.Steps[:], step):
			return mend.Errorf("%q is no step of a job", step)
		case text == "":
			delete(s.Times, step)
		case err != nil || !(m > 0 && m <= mostMinutes):
			return mend.Errorf("%q are no minutes that a step takes: write 1 to %d, or leave it out", text, mostMinutes)
		default:
			s.Times[step] = text
		}
	}
	for class, text := range s.Prices {
		text = strings.TrimSpace(text)
		_, err := money.Read(text)
		switch {
		case !slices.Contains(past.Classes, class):
			return mend.Errorf("%q is no class of part", class)
		case text == "":
			delete(s.Prices, class)
		case err != nil:
			return err
		default:
			s.Prices[class] = text
		}
	}
	return nil
}

// Minutes are the times as numbers.
func (s *Settings) Minutes() map[past.Step]float64 {
	out := map[past.Step]float64{}
	for step, text := range s.Times {
		out[step], _ = strconv.ParseFloat(text, 64) // checked when they were kept
	}
	return out
}

// PartPrices are the prices as numbers.
func (s *Settings) PartPrices() map[past.Class]money.Amount {
	out := map[past.Class]money.Amount{}
	for class, text := range s.Prices {
		out[class], _ = money.Read(text) // checked when they were kept
	}
	return out
}

// Until is the last day of the warranty on a repair that was finished on a day; false where there is none. The day is the
// same of a later month, or the last one of that.
func (s *Settings) Until(finished time.Time) (time.Time, bool) {
	if s.Months == 0 {
		return time.Time{}, false
	}
	y, m, d := finished.Date()
	last := time.Date(y, m+time.Month(s.Months)+1, 0, 0, 0, 0, 0, finished.Location()).Day()
	return time.Date(y, m+time.Month(s.Months), min(d, last), 0, 0, 0, 0, finished.Location()), true
}

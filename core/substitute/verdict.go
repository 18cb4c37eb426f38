// Package substitute judges what may take the place of a part: by what the part has to do and bear there (its duty), by what
// was there, and by what is offered. Every rule tells its source; every verdict its reasons.
//
//	v := substitute.Semiconductor(before, after, substitute.Place{Volts: 38, Sink: true})
//
// A rating that nobody knows is never taken for good.
package substitute

import (
	"fmt"
	"slices"
	"strings"

	"steptrace/core/device"
	"steptrace/core/exchange"
	"steptrace/core/quantity"
)

// Grade is how far something fits.
type Grade string

// The three grades.
const (
	Fits    Grade = "fits as it is"
	Changed Grade = "fits with a change"
	Unfit   Grade = "does not fit"
)

// Words implements exchange.Enumerated.
func (Grade) Words() []string { return exchange.WordsOf([]Grade{Fits, Changed, Unfit}) }

// Bar is a figure that is asked for beside the one that is offered.
type Bar struct {
	What   string        `json:"what"`
	Needed float64       `json:"needed"`
	Has    float64       `json:"has"` // 0: not known
	Unit   quantity.Unit `json:"unit"`
	AtMost bool          `json:"atMost"` // needed is the most that will do, not the least
	Met    bool          `json:"met"`
}

// Verdict is whether something fits, and why.
type Verdict struct {
	Grade   Grade    `json:"grade"`
	Changes []string `json:"changes"` // what has to be done for it
	Against []string `json:"against"` // why it does not fit
	Mind    []string `json:"mind"`    // what to look at all the same
	Bars    []Bar    `json:"bars"`
	// Fitting is how its legs get into the holes; nil where that is not to be told.
	Fitting *device.Fitting `json:"fitting,omitempty"`

	supplied bool // what feeds it is its own
}

// begin is a verdict that nothing speaks against yet.
func begin() *Verdict {
	return &Verdict{Grade: Fits, Changes: []string{}, Against: []string{}, Mind: []string{}, Bars: []Bar{}}
}

func (v *Verdict) no(format string, args ...any) { v.Against = add(v.Against, format, args...) }

func (v *Verdict) change(format string, args ...any) { v.Changes = add(v.Changes, format, args...) }

// needs are changes that what goes in asks for by itself, a line each.
func (v *Verdict) needs(changes string) {
	for c := range strings.Lines(changes) {
		v.change("%s", strings.TrimSpace(c))
	}
}

func (v *Verdict) mind(format string, args ...any) { v.Mind = add(v.Mind, format, args...) }

func add(to []string, format string, args ...any) []string {
	if text := fmt.Sprintf(format, args...); !slices.Contains(to, text) {
		return append(to, text)
	}
	return to
}

// settle grades it.
func (v *Verdict) settle() Verdict {
	switch {
	case len(v.Against) > 0:
		v.Grade = Unfit
	case len(v.Changes) > 0:
		v.Grade = Changed
	}
	return *v
}

// atLeast asks for a figure; what is not known is not enough. Nothing is asked where the need is not known.
func (v *Verdict) atLeast(what string, needed, has float64, unit quantity.Unit) {
	if needed <= 0 {
		return
	}
	met := has >= needed*(1-1e-9)
	v.Bars = append(v.Bars, Bar{what, needed, has, unit, false, met})
	switch {
	case has == 0:
		v.no("its %s is not known, and %s is needed: look at its sheet", what, quantity.Rounded(needed, unit))
	case !met:
		v.no("%s: %s needed, it has %s", what, quantity.Rounded(needed, unit), quantity.Rounded(has, unit))
	}
}

// atMost asks for a figure that must not be larger.
func (v *Verdict) atMost(what string, needed, has float64, unit quantity.Unit) {
	if needed <= 0 {
		return
	}
	met := has > 0 && has <= needed*(1+1e-9)
	v.Bars = append(v.Bars, Bar{what, needed, has, unit, true, met})
	switch {
	case has == 0:
		v.no("its %s is not known, and must be %s at most: look at its sheet", what, quantity.Rounded(needed, unit))
	case !met:
		v.no("%s: %s at most, it has %s", what, quantity.Rounded(needed, unit), quantity.Rounded(has, unit))
	}
}

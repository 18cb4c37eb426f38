package replace

import (
	"strings"
	"testing"

	"steptrace/core/device"
	"steptrace/core/sheet"
)

// By years and heat: 2000 hours at 85 °C are 2000·2^3 = 16,000 at 55 °C and 2000·2^(8/2) = 32,000 at 45. 30 years of 1000 hours use
// up the one, and nearly the other; 5 years at 45 °C a sixth of it.
func TestYearsAndHeatSayWhatIsRenewed(t *testing.T) {
	a := About{Plan: &sheet.Plan{Sheet: &sheet.Sheet{}}, Table: device.Shipped(), Schools: []School{WhatIsBad}}
	advised := func(list string) map[string]Part {
		a.Entries = []Entry{{List: list}}
		if err := Take(&a.Entries[0]); err != nil {
			t.Fatal(err)
		}
		out := map[string]Part{}
		for _, p := range Look(a, "", "").Parts {
			out[p.Part] = p
		}
		return out
	}
	got := advised(
		"all 30 years, at 55 °C\nC1 47u 63v electrolytic; coupling, 24 V\nC2 10u 25v electrolytic; at 45 °C\nC3 100n 63v film\n" +
			"C4 22u 25v electrolytic; 5 years, at 45 °C",
	)
	for name, want := range map[string]struct {
		advice Advice
		says   string
	}{
		"C1": {Renew, "lasts 16,000 there"}, "C2": {First, "only what tests bad"},
		"C3": {Stays, "nearly always good"}, "C4": {First, "5 years"},
	} {
		if p := got[name]; p.Advice != want.advice || !strings.Contains(p.Why, want.says) {
			t.Errorf("%s: %s, %q", name, p.Advice, p.Why)
		}
	}
	if !strings.HasPrefix(got["C1"].Duty, "30 years, at 55 °C, coupling") {
		t.Errorf("%q", got["C1"].Duty)
	}
	for _, list := range []string{"all thirty summers\nC1 1u 50v electrolytic", "all 30 years"} {
		if err := Take(&Entry{List: list}); err == nil {
			t.Errorf("%q was taken", list)
		}
	}
}

package replace

import (
	"strings"
	"testing"

	"steptrace/core/device"
	"steptrace/core/sheet"
)

// What is under a shield waits for it; a chip's joints are touched up, or the board is changed, by the school; a bias diode is made
// of single ones; a small electrolytic on the surface has its own way out.
func TestTheWorkByWhatIsSaidOfThePlace(t *testing.T) {
	a := About{Plan: &sheet.Plan{Sheet: &sheet.Sheet{}}, Table: device.Shipped()}
	a.Entries = []Entry{
		{Subject: &Subject{Part: "C12", Was: "22u 16v electrolytic smd", Duty: "coupling, under a shield"}},
		{Chosen: &Chosen{Part: "C12", New: "22u 16v electrolytic smd", From: Order, Count: 1, Price: "0.30"}},
		{Subject: &Subject{Part: "D7", Was: "bias diode of 2, 30 mA"}},
		{Subject: &Subject{Part: "U3", Was: "hot chip"}},
	}
	for i := range a.Entries {
		if err := Take(&a.Entries[i]); err != nil {
			t.Fatal(err)
		}
	}
	steps := func(v View) string {
		var out []string
		for _, s := range v.Steps {
			out = append(out, s.Text+" ["+s.Caution+"]")
		}
		return strings.Join(out, "\n")
	}
	v := Look(a, "D7", "3 x 1N4148 in series")
	all := steps(v)
	shield, out := strings.Index(all, "Shield over C12 off"), strings.Index(all, "Old C12 out")
	if shield < 0 || out < shield || !strings.Contains(all, "twisted off") || !strings.Contains(all, "shield back on") ||
		!strings.Contains(all, "flux along the joints") {
		t.Errorf("%s", all)
	}
	if len(v.Offers) != 2 || v.Offers[0].New != "2 x 1N4148 in series" || v.Tried == nil || v.Tried.Verdict.Grade != "does not fit" {
		t.Errorf("%+v %+v", v.Offers, v.Tried)
	}
	if len(v.Orders) != 1 || v.Orders[0].Price != "0.30" {
		t.Errorf("%+v", v.Orders)
	}
	a.Entries = append(a.Entries, Entry{School: WholeBoard})
	if all := steps(Look(a, "", "")); strings.Contains(all, "flux along the joints") || !strings.Contains(all, "written down first") {
		t.Errorf("%s", all)
	}
	tv := &sheet.Plan{Sheet: &sheet.Sheet{Hazards: []sheet.Hazard{{Kind: "picture tube", Where: "T7"}}}}
	if all := steps(Look(About{Plan: tv, Table: a.Table, Entries: a.Entries}, "", "")); !strings.Contains(all, "anode discharged") ||
		strings.Index(all, "anode discharged") > strings.Index(all, "Old C12 out") || !strings.Contains(all, "old solder is lead") {
		t.Errorf("%s", all)
	}
	// What is not sold is made of two, typed as one speaks.
	r := About{Plan: a.Plan, Table: a.Table, Entries: []Entry{{Subject: &Subject{Part: "R4", Was: "5k0 0.5 W"}}}}
	if v := Look(r, "R4", "4k7 0.5 W + 300 0.5 W"); v.Tried == nil || v.Tried.Verdict.Grade != "fits with a change" ||
		len(v.Offers) != 2 {
		t.Errorf("%+v %+v", v.Tried, v.Offers)
	}
	r.Entries = append(r.Entries, Entry{Chosen: &Chosen{Part: "R4", New: "2 x 10k 0.5 W in parallel", From: Order, Count: 1}})
	v = Look(r, "R4", "")
	if len(v.Orders) != 1 || v.Orders[0].What != "10k 0.5 W" || v.Orders[0].Count != 2 || len(v.Orders[0].For) != 1 ||
		v.Tried == nil || v.Tried.New != "2 x 10k 0.5 W in parallel" {
		t.Errorf("%+v %+v", v.Orders, v.Tried)
	}
	for _, was := range []string{"bias diode", "bias diode of 9", "bias diode 1.3 V 2 H"} {
		v := Look(About{Plan: a.Plan, Table: a.Table, Entries: []Entry{{Subject: &Subject{Part: "D1", Was: was}}}}, "", "")
		if len(v.Offers) > 0 || v.Trouble == "" {
			t.Errorf("%s: %+v", was, v.Offers)
		}
	}
}

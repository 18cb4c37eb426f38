package money

import (
	"testing"
)

func TestAmountsAsPeopleWriteThem(t *testing.T) {
	for text, want := range map[string]Amount{
		"12": 1200, "12.5": 1250, "12,50 €": 1250, "€ 12,50": 1250, "1.234,50": 123450, "1,234.50": 123450, "1'234.–": 123400,
		"1.234": 123400, "1,234": 123400, "$ 1,234,567": 123456700, "1 234,05 kr": 123405, "0.08": 8, ".5": 500,
		"Kr. 12": 1200, "12 Fr.": 1200,
		"48,-": 4800, "CHF 12.-": 1200, "12.3": 1230,
	} {
		got, err := Read(text)
		if err != nil || got != want {
			t.Errorf("%q: %d, %v; want %d", text, got, err, want)
		}
	}
	for _, text := range []string{"", "free", "-5", "1.2.3", "12.345.6", "1,23,4", "12.5.", "99999999999999", "1.234.56",
		"12;5", "٣", "0,999", "1OO", "l2", "1O5", "I0 kr 5", "4k7"} {
		if got, err := Read(text); err == nil {
			t.Errorf("%q is taken for %d", text, got)
		}
	}
	for want, a := range map[string]Amount{"12\u00a0€": 1200, "12.05\u00a0€": 1205, "1\u202f234\u00a0€": 123400, "0\u00a0€": 0,
		"1\u202f234\u202f567.80\u00a0€": 123456780} {
		if got := a.Text("€"); got != want {
			t.Errorf("%d: %q, want %q", a, got, want)
		}
	}
}

// What is written reads back as it was, with every mark.
func FuzzReadsBack(f *testing.F) {
	f.Add(int64(123450))
	f.Fuzz(func(t *testing.T, n int64) {
		a := Amount(n)
		if a < 0 || a > most {
			t.Skip()
		}
		for _, mark := range []string{"€", "kr", ""} {
			if got, err := Read(a.Text(mark)); err != nil || got != a {
				t.Errorf("%q: %d, %v", a.Text(mark), got, err)
			}
		}
	})
}

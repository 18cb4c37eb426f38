package shop

import (
	"strings"
	"testing"
	"time"
)

func TestSettingsAreChecked(t *testing.T) {
	s := Usual()
	s.Name, s.Rate = "  Workshop at the quay ", "48,50 €"
	if err := s.Check(); err != nil || s.Name != "Workshop at the quay" {
		t.Errorf("%v %q", err, s.Name)
	}
	for text, change := range map[string]func(s *Settings){
		"amount of money": func(s *Settings) { s.Rate = "a lot" },
		"its mark":        func(s *Settings) { s.Currency = "12" },
		"0 to 120 months": func(s *Settings) { s.Months = -1 },
		"A4 or letter":    func(s *Settings) { s.Paper = "napkin" },
		"at most 600":     func(s *Settings) { s.Address = strings.Repeat("x", 601) },
	} {
		s := Usual()
		change(&s)
		if err := s.Check(); err == nil || !strings.Contains(err.Error(), text) {
			t.Errorf("%v, want %q", err, text)
		}
	}
}

// The end of a warranty is the same day months later, or the last of a shorter month.
func TestWarrantyEnds(t *testing.T) {
	day := func(y int, m time.Month, d int) time.Time { return time.Date(y, m, d, 0, 0, 0, 0, time.UTC) }
	for _, x := range []struct {
		from   time.Time
		months int
		want   time.Time
	}{
		{day(2026, 8, 31), 6, day(2027, 2, 28)}, {day(2027, 8, 31), 6, day(2028, 2, 29)},
		{day(2026, 11, 10), 6, day(2027, 5, 10)}, {day(2026, 1, 31), 1, day(2026, 2, 28)}, {day(2026, 2, 28), 24, day(2028, 2, 28)},
	} {
		s := Settings{Months: x.months}
		if got, ok := s.Until(x.from); !ok || !got.Equal(x.want) {
			t.Errorf("%v and %d months: %v", x.from, x.months, got)
		}
	}
	if _, ok := (&Settings{}).Until(day(2026, 1, 1)); ok {
		t.Error("no months are a warranty")
	}
}

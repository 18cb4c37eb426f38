package shop

import (
	"testing"
	"time"

	"steptrace/core/wait"
)

// The most pressing comes first; what lies days ahead is not of today.
func TestTheDaysOrder(t *testing.T) {
	now := time.Date(2026, 11, 29, 18, 30, 0, 0, time.FixedZone("there", 5*3600))
	waits := func(until string) []wait.Entry {
		return []wait.Entry{{At: now.AddDate(0, 0, -9), Wait: &wait.Wait{For: wait.Part, What: "K3", Until: until}}}
	}
	got := Day([]Standing{
		{Number: 1, Promised: "2026-11-30"}, {Number: 2, Ready: true, Place: "shelf 3", Promised: "2026-11-20"},
		{Number: 3, Promised: "2026-11-29"}, {Number: 4, Soak: &Running{Left: 4800, Says: "all is within its limits"}},
		{Number: 5, Promised: "2026-11-28"}, {Number: 6, Waits: waits("2026-11-26")}, {Number: 7, Waits: waits("2026-12-20")},
		{Number: 8, Promised: "2026-12-24"}, {Number: 9, Soak: &Running{Bad: true, Says: "board 2 will pass its limit"}},
		{Number: 10, Waits: waits("")}, {Number: 11, Promised: "soon"},
	}, now)
	want := []Line{
		{6, "", "waits", "waits for part: K3, overdue by 3 days", true},
		{5, "", "promised", "was promised for 28 November, 1 day ago", true},
		{9, "", "soak", "soak, 0:00 left: board 2 will pass its limit", true},
		{3, "", "promised", "is promised for today", false},
		{4, "", "soak", "soak, 1:20 left: all is within its limits", false},
		{2, "", "ready", "ready to be fetched, shelf 3", false},
		{1, "", "promised", "is promised for tomorrow", false},
	}
	if len(got) != len(want) {
		t.Fatalf("%+v", got)
	}
	for i := range want {
		if got[i] != want[i] {
			t.Errorf("%d: %+v, want %+v", i, got[i], want[i])
		}
	}
}

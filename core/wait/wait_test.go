package wait

import (
	"strings"
	"testing"
	"time"
)

func TestWhatIsWaitedForStands(t *testing.T) {
	var entries []Entry
	note := func(e Entry) error {
		err := Take(entries, &e)
		if err == nil {
			entries = append(entries, e)
		}
		return err
	}
	for _, x := range []struct {
		entry Entry
		says  string // why it is refused; empty: it is taken
	}{
		{Entry{ID: "a", Wait: &Wait{For: Part, What: "C9", Until: "2026-12-03"}}, ""},
		{Entry{ID: "b", Wait: &Wait{For: Owner, What: "whether it is worth it"}}, ""},
		{Entry{ID: "c", Over: &Over{Entry: "a", How: "came"}}, ""},
		{Entry{ID: "d", Over: &Over{Entry: "a"}}, "not waited for any more"},
		{Entry{ID: "e", Over: &Over{Entry: "z"}}, "never waited for"},
		{Entry{ID: "f"}, "something that is waited for"},
		{Entry{ID: "g", Wait: &Wait{For: Part, What: "C9"}, Over: &Over{Entry: "b"}}, "something that is waited for"},
		{Entry{ID: "h", Wait: &Wait{For: "luck", What: "x"}}, "use part, manual, owner, other"},
		{Entry{ID: "i", Wait: &Wait{For: Part, What: " "}}, "say what it waits for"},
		{Entry{ID: "j", Wait: &Wait{For: Part, What: "x", Until: "3.12."}}, "no day"},
		{Entry{ID: "k", Wait: &Wait{For: Part, What: strings.Repeat("x", 301)}}, "longer than"},
	} {
		if err := note(x.entry); (err == nil) != (x.says == "") || err != nil && !strings.Contains(err.Error(), x.says) {
			t.Errorf("%s: %v, want %q", x.entry.ID, err, x.says)
		}
	}
	if left := Standing(entries); len(left) != 1 || left[0].ID != "b" {
		t.Errorf("%+v", left)
	}
	entries[1].Struck = true
	if left := Standing(entries); len(left) != 0 {
		t.Errorf("struck out: %+v", left)
	}
}

func TestOverdue(t *testing.T) {
	berlin, err := time.LoadLocation("Europe/Berlin") // its clocks change in March and in October
	if err != nil {
		t.Fatal(err)
	}
	for _, x := range []struct {
		until string
		now   time.Time
		late  int
		says  string
	}{
		{"2026-12-03", time.Date(2026, 12, 1, 23, 59, 0, 0, time.UTC), -2, "expected in 2 days"},
		{"2026-12-03", time.Date(2026, 12, 2, 0, 0, 0, 0, time.UTC), -1, "expected in 1 day"},
		{"2026-12-03", time.Date(2026, 12, 3, 8, 0, 0, 0, time.UTC), 0, "expected today"},
		{"2026-12-03", time.Date(2026, 12, 4, 0, 1, 0, 0, time.UTC), 1, "overdue by 1 day"},
		{"2026-03-28", time.Date(2026, 3, 30, 0, 30, 0, 0, berlin), 2, "overdue by 2 days"},
		{"2026-10-24", time.Date(2026, 10, 26, 23, 30, 0, 0, berlin), 2, "overdue by 2 days"},
		{"", time.Date(2026, 12, 4, 0, 1, 0, 0, time.UTC), 0, "part: C9, for 5 days"},
	} {
		e := Entry{At: x.now.AddDate(0, 0, -5), Wait: &Wait{For: Part, What: "C9", Until: x.until}}
		if got := e.Wait.Late(x.now); got != x.late {
			t.Errorf("%s on %s: %d days late, want %d", x.until, x.now, got, x.late)
		}
		if got := e.Says(x.now); !strings.Contains(got, x.says) {
			t.Errorf("%s on %s: %q, want %q", x.until, x.now, got, x.says)
		}
	}
}

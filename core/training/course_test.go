package training_test

import (
	"context"
	"slices"
	"strings"
	"testing"

	"steptrace/core/training"
)

// Each lesson of the course can be worked: it has a text, and cases of its kind are drawn from its set, one after the other.
func TestEveryLessonHasCases(t *testing.T) {
	t.Parallel()
	all := training.Course()
	if len(all) != 12 {
		t.Fatalf("%d lessons", len(all))
	}
	for _, l := range all {
		from := training.Sources()
		if l.Set != "" {
			from = slices.DeleteFunc(from, func(s training.Source) bool { return s.Name != l.Set })
		}
		if len(l.Text) < 2 || strings.Contains(strings.Join(l.Text, ""), "#") || len(from) == 0 {
			t.Errorf("%d %s: %d paragraphs, %d sets called %q", l.Number, l.Title, len(l.Text), len(from), l.Set)
			continue
		}
		for seed := range uint64(2) {
			if _, err := training.Draw(context.Background(), training.Wish{Level: l.Level, Kind: l.Kind, Seed: seed}, from); err != nil {
				t.Errorf("%d %s: %v", l.Number, l.Title, err)
			}
		}
	}
}

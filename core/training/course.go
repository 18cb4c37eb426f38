package training

import (
	"bytes"
	_ "embed"
	"strings"
)

// The course is a dozen lessons in the order of the work: each a short text, one case with advice all the time, and three to work alone.

// Lesson is one of them. Set and Kind are what its cases are drawn from; empty: any.
type Lesson struct {
	Number int      `json:"number"`
	Title  string   `json:"title"`
	Text   []string `json:"text"` // paragraphs
	Level  Level    `json:"level"`
	Kind   Kind     `json:"kind"`
	Set    string   `json:"set"`
	Done   int      `json:"done"` // cases of it that were found
}

// ToWork is how many cases a lesson has to work alone.
const ToWork = 3

//go:embed course.txt
var course []byte

// Course lists the lessons.
func Course() []Lesson {
	var out []Lesson
	for block := range strings.SplitSeq(string(bytes.TrimSpace(course)), "\n# ") {
		head, text, _ := strings.Cut(strings.TrimPrefix(block, "# "), "\n")
		wish, text, _ := strings.Cut(text, "\n")
		l := Lesson{Number: len(out) + 1, Title: head, Text: []string{}}
		for i, field := range strings.Split(wish, ";") {
			switch field = strings.TrimSpace(field); i {
			case 0:
				l.Level = Level(field)
			case 1:
				l.Kind = Kind(field)
			case 2:
				l.Set = field
			}
		}
		for paragraph := range strings.SplitSeq(strings.TrimSpace(text), "\n\n") {
			l.Text = append(l.Text, strings.Join(strings.Fields(paragraph), " "))
		}
		out = append(out, l)
	}
	return out
}

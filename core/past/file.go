package past

import (
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"slices"
	"strings"
	"time"
	"unicode/utf8"

	"steptrace/core/exchange"
)

// Format and Version mark the files in which a workshop lends what its jobs taught.
const (
	Format  = "steptrace-experience"
	Version = 1
)

// File is such a file: whose it is, and the jobs. Nothing of owners is in it; complaints are, as they were written, unless they were
// left out.
type File struct {
	Format   string `json:"format" jsonschema:"enum=steptrace-experience"`
	Version  int    `json:"version" jsonschema:"enum=1"`
	Workshop string `json:"workshop"`
	Jobs     []Job  `json:"jobs"`
}

// Limits of what is taken in.
const (
	MostJobs  = 5000
	mostText  = 2000
	mostEnds  = 50
	mostHours = 100
)

// Make makes a file of jobs, without the complaints where they are not to go with it.
func Make(workshop string, jobs []Job, complaints bool) *File {
	f := &File{Format: Format, Version: Version, Workshop: workshop, Jobs: slices.Clone(jobs)}
	for i := range f.Jobs {
		if !complaints {
			f.Jobs[i].Complaint = ""
		}
	}
	return f
}

// Read reads a file. Errors are *exchange.FileError.
func Read(data []byte) (*File, error) {
	var f File
	if err := exchange.Decode(data, &f); err != nil {
		return nil, err
	}
	switch {
	case f.Format != Format:
		return nil, exchange.Wrong("this is no workshop's experience: its format is %q, expected %q", f.Format, Format)
	case f.Version != Version:
		return nil, exchange.Wrong("version %d of the format is not known here; this program reads version %d", f.Version, Version)
	case strings.TrimSpace(f.Workshop) == "" || bad(f.Workshop):
		return nil, exchange.Wrong("it does not say whose it is: the workshop's name is missing")
	case len(f.Jobs) == 0:
		return nil, exchange.Wrong("there are no jobs in it")
	case len(f.Jobs) > MostJobs:
		return nil, exchange.Wrong("there are more than %d jobs in it", MostJobs)
	}
	for i := range f.Jobs {
		if wrong := f.Jobs[i].wrong(); wrong != "" {
			return nil, exchange.Wrong("job %d: %s", i+1, wrong)
		}
		f.Jobs[i].tidy()
	}
	return &f, nil
}

// tidy has lists where there is nothing.
func (j *Job) tidy() {
	if j.Ends == nil {
		j.Ends = []End{}
	}
	if j.Mistaken == nil {
		j.Mistaken = []string{}
	}
	if j.Prices == nil {
		j.Prices = []Price{}
	}
}

func bad(text string) bool { return utf8.RuneCountInString(text) > mostText || !utf8.ValidString(text) }

// wrong is what is wrong with a job; empty where nothing is.
func (j *Job) wrong() string {
	const mostMinutes = mostHours * 60
	texts := append([]string{j.Set, j.Kind, j.Complaint, j.Was}, j.Mistaken...)
	for _, e := range j.Ends {
		texts = append(texts, e.Block, e.Kind, e.Part, e.What)
	}
	_, day := time.Parse(time.DateOnly, j.Finished)
	switch {
	case strings.TrimSpace(j.Set) == "":
		return "it does not say which set it was"
	case slices.ContainsFunc(texts, bad):
		return "a text is too long, or cannot be read"
	case j.Finished != "" && day != nil:
		return "the day it was finished is no day: 2026-12-03"
	case len(j.Ends) > mostEnds || len(j.Mistaken) > mostEnds || len(j.Prices) > mostEnds:
		return "more ended there than a job has"
	case len(j.Ends) == 0 && !j.GaveUp:
		return "it does not say where it ended"
	}
	for _, of := range []Minutes{j.Work, j.Usual} {
		for s, m := range of {
			if !slices.Contains(Steps[:], s) || !(m >= 0 && m <= mostMinutes) {
				return "its minutes are not those of a step"
			}
		}
	}
	for _, p := range j.Prices {
		if !slices.Contains(Classes, p.Class) || !(p.Hours >= 0 && p.Hours <= mostHours) {
			return "a price is none"
		}
	}
	return ""
}

// WriteJSON writes the file; Read gives the same back.
func (f *File) WriteJSON() []byte { return exchange.Encode(f) }

// Hash tells one job from another, so that the same one taken in twice counts once, with its complaint and without.
func (j *Job) Hash() string {
	bare := *j
	bare.Complaint = ""
	text, _ := json.Marshal(bare) // plain values
	sum := sha256.Sum256(text)
	const enough = 16
	return hex.EncodeToString(sum[:enough])
}

// Jobs are own jobs without their numbers.
func Jobs(own []Own) []Job {
	out := make([]Job, len(own))
	for i := range own {
		out[i] = own[i].Job
	}
	return out
}

// Without leaves the workshop's own out of jobs that are lent.
func Without(jobs []Job, own []Own) []Job {
	known := map[string]bool{}
	for i := range own {
		known[own[i].Hash()] = true
	}
	return slices.DeleteFunc(jobs, func(j Job) bool { return known[j.Hash()] })
}

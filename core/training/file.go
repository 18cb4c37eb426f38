package training

import (
	"bytes"
	"compress/gzip"
	"crypto/sha256"
	"encoding/base64"
	"encoding/hex"
	"encoding/json"
	"io"
	"slices"
	"time"
	"unicode/utf8"

	"steptrace/core/exchange"
	"steptrace/core/sheet"
	"steptrace/core/standin"
)

// A case goes to others as a file, so that a class can work the same one: what the owner says is to be read in it, the rest is sealed
// against a glance, and not against somebody who unpacks it. What each made of it comes back as a file of its own.

// The formats of the files, and their version.
const (
	CaseFormat   = "steptrace-case"
	ResultFormat = "steptrace-result"
	FileVersion  = 1
)

// File is a case as it is handed on. Sealed is the case as JSON, packed (gzip, base64); Sum its SHA-256.
type File struct {
	Format  string `json:"format" jsonschema:"enum=steptrace-case"`
	Version int    `json:"version" jsonschema:"enum=1"`
	Set     string `json:"set"`
	Level   Level  `json:"level"`
	Told    Told   `json:"told"`
	Sealed  string `json:"sealed"`
	Sum     string `json:"sum"`
}

func wrong(problem string, args ...any) error { return exchange.Wrong(problem, args...) }

// sumOf tells cases apart: by the set, what is wrong with it, and its tolerances.
func (c *Case) sumOf() string {
	data := exchange.Encode(struct {
		Manual, True *sheet.Sheet
		Faults       []Fault
		Seed         uint64
	}{c.Manual, c.True, c.Faults, c.Seed})
	sum := sha256.Sum256(data)
	return hex.EncodeToString(sum[:])
}

// WriteFile gives a case as a file.
func (c *Case) WriteFile() []byte {
	var packed bytes.Buffer
	z := gzip.NewWriter(&packed)
	_, _ = z.Write(exchange.Encode(c)) // into memory
	_ = z.Close()
	return exchange.Encode(File{
		Format: CaseFormat, Version: FileVersion, Set: c.Manual.Name(), Level: c.Level, Told: c.Told,
		Sealed: base64.StdEncoding.EncodeToString(packed.Bytes()), Sum: c.sumOf(),
	})
}

// mostCase is how long a case is at the most, unpacked (bytes): a sheet of 2000 points twice.
const mostCase = 4 << 20

// of refuses a file of another format, before anything else of it is asked; what is no JSON is for the decoder to say.
func of(format, what string, data []byte) error {
	var f struct {
		Format *string `json:"format"`
	}
	if err := json.Unmarshal(data, &f); err == nil && f.Format != nil && *f.Format != format {
		return wrong("this is no %s: its format is %q", what, *f.Format)
	}
	return nil
}

// ReadFile reads one. Errors are *exchange.FileError: it is another file, of a later version, altered, or its set does not work.
func ReadFile(data []byte) (*Case, error) {
	if err := of(CaseFormat, "case", data); err != nil {
		return nil, err
	}
	var f File
	if err := exchange.Decode(data, &f); err != nil {
		return nil, err
	}
	switch {
	case f.Version != FileVersion:
		return nil, wrong(
			"this case was written by a later Step Trace (version %d, this one reads %d). Get that one",
			f.Version,
			FileVersion,
		)
	}
	packed, err := base64.StdEncoding.DecodeString(f.Sealed)
	if err != nil {
		return nil, wrong("its sealed part was cut or changed on the way. Get it once more")
	}
	z, err := gzip.NewReader(bytes.NewReader(packed))
	if err != nil {
		return nil, wrong("its sealed part was cut or changed on the way. Get it once more")
	}
	text, err := io.ReadAll(io.LimitReader(z, mostCase+1))
	if err != nil || len(text) > mostCase {
		return nil, wrong("its sealed part was cut or changed on the way. Get it once more")
	}
	c := &Case{}
	if err := exchange.Decode(text, c); err != nil {
		return nil, wrong("its sealed part is no case")
	}
	return c, c.check(f.Sum)
}

// check refuses a case that was altered, or cannot be worked.
func (c *Case) check(sum string) error {
	const mostFaults = 8
	switch {
	case c.Manual == nil || len(c.Faults) == 0 || len(c.Faults)+len(c.Worn) > mostFaults || !slices.Contains(Levels, c.Level):
		return wrong("there is no set with something wrong with it in it")
	case c.sumOf() != sum:
		return wrong("it was altered after it was written: what is sealed in it is another case")
	case utf8.RuneCountInString(c.Told.Complaint) > maxTold || c.Told.Complaint == "":
		return wrong("nothing is told of its set")
	}
	if c.Advice != Hidden && c.Advice != Always {
		c.Advice = Asked
	}
	c.Lesson = 0
	for _, s := range []*sheet.Sheet{c.Manual, c.True} {
		if s == nil {
			continue
		}
		if _, problems := s.Plan(); sheet.Blocked(problems) {
			return wrong("its set cannot be worked out: %s", problems[0].Message)
		}
	}
	plan, err := c.Plan()
	if err != nil {
		return wrong("%s", err.Error())
	}
	set, good, err := c.Set(plan, c.Faults)
	if err != nil {
		return wrong("what is wrong with its set cannot be: %s", err.Error())
	}
	if !slices.ContainsFunc(Shows(set, good, plan, standin.Stand{Warm: true}), Shown.bad) {
		return wrong("what is wrong with its set shows nowhere")
	}
	if c.Best, err = c.Solve(); err != nil { // computed here, whatever it says of itself
		return wrong("its set cannot be traced: %s", err.Error())
	}
	return nil
}

// maxTold is how long a complaint is at the most, in characters.
const maxTold = 2000

// Result is what somebody made of a case.
type Result struct {
	Format      string    `json:"format" jsonschema:"enum=steptrace-result"`
	Version     int       `json:"version" jsonschema:"enum=1"`
	Who         string    `json:"who"`
	Case        string    `json:"case"` // its sum
	Set         string    `json:"set"`
	Level       Level     `json:"level"`
	Ended       time.Time `json:"ended"`
	Found       int       `json:"found"`
	Faults      int       `json:"faults"`
	InVain      int       `json:"inVain"` // repairs of something good
	Minutes     float64   `json:"minutes"`
	Probes      int       `json:"probes"`
	BestProbes  int       `json:"bestProbes"`
	BestMinutes float64   `json:"bestMinutes"`
	Lost        float64   `json:"lost"` // minutes, over all readings
	Stopped     int       `json:"stopped"`
	Asked       int       `json:"asked"`
	Costliest   string    `json:"costliest"` // decision, in words
}

// Result sums a review up, for a name.
func (c *Case) Result(r *Review, who string, ended time.Time) Result {
	out := Result{
		Format: ResultFormat, Version: FileVersion, Who: who, Case: c.sumOf(), Set: c.Manual.Name(), Level: c.Level, Ended: ended.UTC(),
		Faults: len(r.Found), Minutes: r.Minutes, Probes: r.Probes, BestProbes: r.BestProbes, BestMinutes: r.BestMinutes,
		Stopped: len(r.Stopped), Asked: r.Asked,
	}
	for _, ok := range r.Found {
		if ok {
			out.Found++
		}
	}
	for _, d := range r.Done {
		if !d.Right && !d.Worn {
			out.InVain++
		}
	}
	for _, t := range r.Taken {
		out.Lost += t.Lost
	}
	if r.Costliest >= 0 {
		t := r.Taken[r.Costliest]
		out.Costliest = t.Point + ", instead of: " + t.Best
	}
	return out
}

// ReadResult reads one. Errors are *exchange.FileError.
func ReadResult(data []byte) (Result, error) {
	var r Result
	if err := of(ResultFormat, "result", data); err != nil {
		return r, err
	}
	if err := exchange.Decode(data, &r); err != nil {
		return r, err
	}
	const mostName = 80
	switch {
	case r.Version != FileVersion:
		return r, wrong("this result was written by a later Step Trace (version %d, this one reads %d)", r.Version, FileVersion)
	case r.Found < 0 || r.Found > r.Faults || r.Minutes < 0 || r.Probes < 0 || utf8.RuneCountInString(r.Who) > mostName:
		return r, wrong("its figures cannot be")
	}
	return r, nil
}

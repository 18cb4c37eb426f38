// Package pin knows where the points and parts of a set are on its pictures: photographs of its
// boards, pages of its manual.
//
// A Picture belongs to a sheet and carries Pins, each a name at a place. What a name means follows
// from the sheet and from the readings: Marks tells how each pinned place stands, Ask which names
// are to be placed next.
package pin

import (
	"math"
	"slices"
	"strings"
	"time"
	"unicode/utf8"

	"steptrace/core/exchange"
	"steptrace/core/mend"
	"steptrace/core/sheet"
)

// Seen is what a picture shows.
type Seen string

// What pictures show. A copper side is the parts side turned over.
const (
	PartsSide  Seen = "parts"
	CopperSide Seen = "copper"
	Drawing    Seen = "drawing"
	Other      Seen = "other"
)

// Sides lists it, in the order it is offered.
var Sides = []Seen{PartsSide, CopperSide, Drawing, Other}

// Words implements exchange.Enumerated.
func (Seen) Words() []string { return exchange.WordsOf(Sides) }

// Picture is a photograph or a manual's pages, and how they are looked at. Turn is in quarter turns to
// the right, Mirror is done before. Changes counts how often its file was replaced.
type Picture struct {
	ID      string    `json:"id"`
	Name    string    `json:"name"`
	Seen    Seen      `json:"seen"`
	Type    string    `json:"type" jsonschema:"description=image/jpeg\\, image/png or application/pdf"`
	Width   int       `json:"width,omitempty" jsonschema:"description=in pixels; 0 for a PDF"`
	Height  int       `json:"height,omitempty"`
	Turn    int       `json:"turn,omitempty"`
	Mirror  bool      `json:"mirror,omitempty"`
	Added   time.Time `json:"added"`
	Changes int       `json:"changes,omitempty"`
	Struck  bool      `json:"struck,omitempty" jsonschema:"description=taken out\\, but kept"`
	Pins    []Pin     `json:"pins"`
}

// Held is a picture with its file, as a job's file brings it along.
type Held struct {
	Picture
	Data []byte `json:"data"`
}

// Pin is a place on a picture: X from its left, Y from its top, of the file as it is, each 0 to 1. Page
// is of a PDF, from 1; 0 for an image. Doubt: the picture was replaced by one of another shape since.
type Pin struct {
	Name  string  `json:"name"`
	Page  int     `json:"page,omitempty"`
	X     float64 `json:"x"`
	Y     float64 `json:"y"`
	Doubt bool    `json:"doubt,omitempty"`
}

// PDF is the type of a manual's pages.
const PDF = "application/pdf"

const (
	maxName = 60
	maxPins = 3000 // on one picture; a large board has some hundreds of places of interest
	maxPage = 5000
)

// text checks what names a picture or a pin.
func text(what, s string) (string, error) {
	s = strings.Join(strings.Fields(s), " ")
	switch n := utf8.RuneCountInString(s); {
	case n == 0:
		return "", mend.Errorf("%s has no name: write what it is", what)
	case n > maxName || !utf8.ValidString(s):
		return "", mend.Errorf("the name of %s has %d characters: up to %d fit on a picture", what, n, maxName)
	}
	return s, nil
}

// Check puts a picture as it came from outside in order, or says what is wrong with it.
func (p *Picture) Check() (err error) {
	if p.Name, err = text("the picture", p.Name); err != nil {
		return err
	}
	if !slices.Contains(Sides, p.Seen) {
		return mend.Errorf("a picture shows %s, not %q", strings.Join(p.Seen.Words(), ", "), p.Seen)
	}
	if p.Turn < 0 || p.Turn > 3 {
		return mend.Errorf("a picture is turned by 0 to 3 quarters, not by %d", p.Turn)
	}
	if p.Changes < 0 {
		return mend.Errorf("a picture cannot have been replaced %d times", p.Changes)
	}
	placed := p.Pins
	p.Pins = []Pin{}
	for _, x := range placed {
		if err := p.Put(x); err != nil {
			return err
		}
	}
	return nil
}

// Put places a pin, or moves the one of its name on its page.
func (p *Picture) Put(x Pin) (err error) {
	if x.Name, err = text("the pin", x.Name); err != nil {
		return err
	}
	for _, v := range []float64{x.X, x.Y} {
		if math.IsNaN(v) || v < 0 || v > 1 {
			return mend.Errorf("%s would be beside the picture: its place is counted from 0 to 1 across and down", x.Name)
		}
	}
	if paged := p.Type == PDF; paged != (x.Page > 0) || x.Page < 0 || x.Page > maxPage {
		return mend.Errorf("page %d: a PDF's pins are on pages 1 to %d, an image's on none", x.Page, maxPage)
	}
	i := slices.IndexFunc(p.Pins, func(y Pin) bool { return y.Name == x.Name && y.Page == x.Page })
	switch {
	case i >= 0:
		p.Pins[i] = x
	case len(p.Pins) >= maxPins:
		return mend.Errorf("%d pins are on this picture: more cannot be told apart. Take one out first", maxPins)
	default:
		p.Pins = append(p.Pins, x)
	}
	return nil
}

// Pull takes the pin of a name on a page out; false where there is none.
func (p *Picture) Pull(name string, page int) bool {
	n := len(p.Pins)
	p.Pins = slices.DeleteFunc(p.Pins, func(x Pin) bool { return x.Name == name && x.Page == page })
	return len(p.Pins) < n
}

// sameShape is how far the proportions of two pictures of the same thing may differ.
const sameShape = 0.02

// Replaced is the picture after its file was replaced by another. Where that has another shape its pins
// are in doubt: nothing tells where on it they belong.
func (p *Picture) Replaced(kind string, width, height int) {
	was, is := float64(p.Width)/float64(max(p.Height, 1)), float64(width)/float64(max(height, 1))
	if kind == PDF || p.Type == PDF || math.Abs(was-is) > sameShape*was {
		for i := range p.Pins {
			p.Pins[i].Doubt = true
			if kind != PDF {
				p.Pins[i].Page = 0
			} else if p.Pins[i].Page == 0 {
				p.Pins[i].Page = 1
			}
		}
		p.Pins = firstOfName(p.Pins)
	}
	p.Type, p.Width, p.Height = kind, width, height
	p.Changes++
}

// firstOfName leaves one pin of a name on a page.
func firstOfName(pins []Pin) []Pin {
	out := []Pin{}
	for _, x := range pins {
		if !slices.ContainsFunc(out, func(y Pin) bool { return y.Name == x.Name && y.Page == x.Page }) {
			out = append(out, x)
		}
	}
	return out
}

// Asked is a name that is to be placed on a picture.
type Asked struct {
	Name string `json:"name"`
	What string `json:"what"` // what it is, in words
	// Elsewhere: it has a pin on another picture already.
	Elsewhere bool `json:"elsewhere"`
}

// Ask lists the names that have no pin on a picture yet, in the order in which they are placed: along a
// route, then the supplies and controls, then the rest of the points, then the parts of the circuits.
func Ask(plan *sheet.Plan, route string, pictures []Picture, on string) []Asked {
	out, seen := []Asked{}, map[string]bool{}
	elsewhere := map[string]bool{}
	for _, p := range pictures {
		for _, x := range p.Pins {
			name := plan.NowOf(x.Name)
			seen[name] = seen[name] || p.ID == on && !x.Doubt
			elsewhere[name] = elsewhere[name] || p.ID != on && !p.Struck
		}
	}
	add := func(name, what string) {
		if name != "" && !seen[name] {
			seen[name] = true
			out = append(out, Asked{name, what, elsewhere[name]})
		}
	}
	point := func(i int) {
		if p := &plan.Points[i]; !p.Source {
			add(p.Name, p.Note)
		}
	}
	if r, ok := plan.Route(route); ok {
		for _, i := range r.Points {
			point(i)
		}
	}
	for i := range plan.Rails {
		add(plan.Rails[i].Name, "where this supply is read")
	}
	for i := range plan.Controls {
		add(plan.Controls[i].Name, "where this control is read")
	}
	for i := range plan.Points {
		point(i)
	}
	for _, c := range plan.Sheet.Circuits {
		for _, part := range c.Parts {
			if part.There() {
				add(part.Name, "part of "+c.Stage)
			}
		}
	}
	return out
}

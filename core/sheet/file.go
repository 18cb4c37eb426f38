package sheet

import (
	"slices"

	"steptrace/core/exchange"
)

// ReadJSON reads a sheet file. Unknown fields, a foreign format or a newer
// version are refused; errors are *exchange.FileError.
func ReadJSON(data []byte) (*Sheet, error) {
	var s Sheet
	if err := exchange.Decode(data, &s); err != nil {
		return nil, err
	}
	if s.Format != Format {
		return nil, exchange.Wrong("this is no service sheet: its format is %q, expected %q", s.Format, Format)
	}
	if s.Version != Version {
		return nil, exchange.Wrong("version %d of the sheet format is not known here; this program reads version %d", s.Version, Version)
	}
	s.fill()
	return &s, nil
}

// fill makes absent lists empty ones, so that what is written has them all.
func (s *Sheet) fill() {
	if s.Points == nil {
		s.Points = []Point{}
	}
	if s.Stages == nil {
		s.Stages = []Stage{}
	}
	if s.Rails == nil {
		s.Rails = []Rail{}
	}
	if s.Routes == nil {
		s.Routes = []RouteName{}
	}
	for i := range s.Points {
		if s.Points[i].Expect == nil {
			s.Points[i].Expect = []Expectation{}
		}
	}
}

// WriteJSON writes the sheet file; ReadJSON gives the same sheet back.
func (s *Sheet) WriteJSON() []byte {
	out := *s // the sheet may be in use elsewhere
	out.Points = slices.Clone(s.Points)
	out.Format, out.Version = Format, Version
	out.fill()
	return exchange.Encode(out)
}

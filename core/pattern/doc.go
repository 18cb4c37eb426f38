// Package pattern knows kinds of set: what usually is in one, before anything is known of this one.
//
// A pattern is a file in the sheet's own table form, with two columns before each table's own, and
// lines before the tables (docs/formats.md). Pattern.Sheet makes a service sheet of it for the
// options that were chosen: what this set has is repeated and named by rule, what it does not have
// goes. Every value in it is a usual one. The files are in sets/.
//
//	p, _ := pattern.ByName("stereo amplifier")
//	s, err := p.Sheet(pattern.Chosen{"relay": "no"})
package pattern

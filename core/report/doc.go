// Package report makes what an owner is told of a repair: in plain words, from what the record has, section by section, each
// to be written otherwise by a person. It knows no job: Facts are what it goes by.
//
//	r := report.Make(facts, settings, entries)
package report

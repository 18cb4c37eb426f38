// Package soak knows long runs: hours under a signal that moves, with temperatures, levels, offsets and currents logged,
// board against board, until a repair is proved or something climbs that should not. It has the plan and its limits, tells
// the end early from the curve (fit.go), judges what is logged (judge.go), keeps the time through sleep, restarts and clocks
// that are set back (clock.go), and offers plans by kind of set (offer.go).
//
//	f, ok := soak.Fit(points, 1)
//	end := f.At(4 * 3600)
//
// What is logged are values over time, far more than entries of a job; those say that a soak began, what happened, how it
// ended.
package soak

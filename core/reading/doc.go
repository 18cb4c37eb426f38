// Package reading takes what is read on a set and judges it.
//
// A Bench is a set's plan with how it stands to be read: the route being traced, what is fed in,
// by which instrument, whether the power is on. Bench.Take turns what was typed at a point into a
// Reading, with its conditions; Bench.Judge says what it means beside what a good set would show
// under the same conditions with the same instrument. Bench.JudgeAll does so for all readings of a
// round, one beside the other: where the sheet is silent the good channel stands in, and what was
// read again agrees with what was read before, or not. Evidence picks those that speak of the
// signal.
//
//	bench := reading.Bench{Plan: plan, Route: route, Power: reading.PowerOn}
//	r, err := bench.Take(reading.Aim{Point: "J2"}, "174 mV")
//	judged := bench.Judge(r) // low, −17.2 dB
//
// What must not be read is refused here too: ohms in a live set, a point above what the instrument
// bears, a touch where it would hurt. What follows from readings is no matter of this package.
package reading

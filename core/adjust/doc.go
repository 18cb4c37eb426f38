// Package adjust knows how sets are set right by hand: which adjustment comes when, what has to be so before it, what is
// read and what that means, whether it still drifts, where a least or most lies, what idle current makes of heat, and
// what the cabinet can get rid of.
//
//	all := adjust.Look(plan, entries, adjust.Now{At: time.Now(), On: since})
//	null, err := adjust.Search(readings, false)
//
// What was done is a log of entries, as everything in a job is; how each adjustment stands follows from it.
package adjust

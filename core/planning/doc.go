// Package planning works out what to read next among suspects, and writes it out for a person.
//
// A Situation is where a trace stands: the bench, what was read, what is suspected and how likely
// each is at fault: stages of the route, and what they need beside it, rails, controls, what makes
// another signal. What can be read are the points of every route in every mode, signals fed in
// further down, loops opened, touches with a finger, rails and controls (access.go, touchplan.go).
// Each parts the suspects in those that are left if it reads good, and if it reads bad. The plan is the tree of
// readings of least expected time (search.go), where opening the set, moving the generator,
// switching the mode and lifting a part cost their minutes once; other ways of working choose
// otherwise among the same readings (ways.go). A proposal says how the bench has to stand, what to
// expect, what to mind and why (next.go). All minutes stand in figures.go.
package planning

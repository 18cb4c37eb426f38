// Package trace reasons from readings to the stage at fault.
//
// A Case is a sheet worked out, the route being traced, and how the bench stands.
// Case.Take turns what was typed at a point into a Reading; Case.Find takes all
// readings and gives Findings: a verdict for each, which stages are cleared and
// which are suspect, what to read next and why, and, when one stage is left, its
// name with the grounds for condemning it. It is a pure function.
//
//	findings := trace.Case{Bench: trace.Bench{Plan: plan, Route: route}}.Find(readings)
//
// # What is left
//
// The reasoning supposes one fault, in a block: a stage, a rail, a control or a
// ground (core/sheet's blocks, narrowed in blocks.go). A good reading clears every block on any way between the
// place where the signal is fed in and the point; a bad one puts the fault on one
// of them; where nothing arrives it is on every way. A way depends on its stages,
// the lines they need with those these are made from, and the signals they need,
// such as an oscillator's, or the pulses that a rail is rectified from. Stages swapped for good ones or bridged do not count.
// Feedback that is not opened makes one block of what it goes around (loop.go). A
// touch with a finger counts as a crude injection: what may be heard of it falls
// with the gain left to the exit. Where the sheet is silent the good channel
// stands in (core/reading).
//
// # What is likely
//
// A hypothesis is a block with an effect. Given the readings,
//
//	P(block, effect | readings) ∝ prior(block) · share(effect | kind) · Π P(verdict | effect, place)
//
// The prior is the mean of a Dirichlet distribution over the blocks:
//
//	prior = (pseudoJobs · rate/Σrate + jobs that ended there) / (pseudoJobs + all jobs)
//
// where a job of another workshop counts for lentJob of one, and all of those for lentMost together,
// with a rate by kind of block, three times as high for a usual fault, six times
// where the complaint fits it, higher for the kinds that damp, heat, years in store
// or a fall go for, and three times for what somebody worked on before. A verdict
// has the likelihoods
//
//	not in the way:  good 1−m;  bad m·mistaken(verdict)
//	on every way:    good (1−m)·shows(effect, within) + m·o;  bad (1−m)·shows(effect, verdict) + m·(1−o)·mistaken(verdict)
//	on one of several ways: w·(not in the way) + (1−w)·(on every way)
//	right behind:    (1−l)·(not in the way) + l·(a weak block on every way)
//
// m is the misread probability, o how often a misreading overlooks the fault, w
// how often a whole way covers for a bad one, l how often a block loads the one
// before it. Readings repeated in a row count each. A fault that comes and goes
// lets good readings pass (shows(comesAndGoes, within)), so that they weaken and
// do not clear; provocations weigh by how a block of its kind answers to being
// tapped, flexed, cooled, warmed (fleeting.go). A bias voltage weighs for the
// stages at its point (bias.go). All figures with their sources stand in
// figures.go.
//
// # What to read next
//
// core/planning has it: a suspicion gives it the situation.
//
// # When it does not fit
//
// Where no single fault fits, the reading that stands against the rest is asked
// for again; then the pair of faults that would explain all is named (conflict.go), and
// the error of the manual that would (manual.go). A line that reads bad is at fault
// before what hangs on it (blame.go). A stage is condemned on grounds:
// input, output, rails, controls, needed signals, load, twin, and little doubt
// left (condemn.go).
package trace

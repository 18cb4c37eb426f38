// Package circuit solves the circuit of one stage: its voltages, currents and
// dissipation at rest, how it passes small signals and moves in time; and weighs which
// failure of a part explains what was read in it.
//
//	net, problems := c.Read()
//	rest, err := net.Rest()
//	response, err := net.Respond(rest, []float64{1000})
//	diagnosis, problems := c.Diagnose(ctx, readings, circuit.Past{})
//
// It is modified nodal analysis: the unknowns are the voltages of the nodes against
// ground, and the currents through voltage sources, inductors, windings and the outputs of
// operational amplifiers. What is not linear is solved by Newton's method, each junction
// held back from running away, and where that does not settle by approaching: first with a
// conductance across every junction that is taken away step by step, then with the
// sources brought up step by step.
//
// The equations of the parts, at 27 °C (V_T = kT/q = 25.865 mV), voltages in volts and
// currents in amperes:
//
//	diode         I = is·(exp(V/(n·V_T)) − 1), and beyond its breakdown −is·exp(−(V + zener)/V_T);
//	              is and n by its drop at one or two currents
//	bipolar       I_C = is·(exp(V_BE/V_T) − exp(V_BC/V_T))·(1 − V_BC/V_A) − is/β_R·(exp(V_BC/V_T) − 1)
//	              I_B = is/β_F·(exp(V_BE/V_T) − 1) + is/β_R·(exp(V_BC/V_T) − 1)     (transport form; V_A: Early voltage)
//	junction FET  I_D = IDSS/V_P²·((V_GS + V_P)² or, below saturation, 2·(V_GS + V_P)·V_DS − V_DS²)·(1 + V_DS/V_A)
//	MOS FET       I_D = k/2·(…)·(1 + V_DS/V_A) likewise, with V_GS less its threshold; k by its current at a gate voltage
//	capacitor     I = C·dV_c/dt, V = V_c + ESR·I, and its leakage beside it
//	inductor      V = R·I + L·dI/dt; windings V₁ = R·I₁ + L₁·dI₁/dt + M·dI₂/dt, M = k·√(L₁·L₂)
//	relay         its coil as an inductor; its contact changes where the coil has its pull-in volts, to its other side where it has one
//	crystal       a series circuit of L, C and R beside the capacitance of its holder
//	op-amp        V = middle + half·tanh(gain·(V₊ − V₋)/half) behind its output resistance; half the
//	              supply less what it does not reach; one pole at unity gain/gain for small signals
//
// In time they go by the trapezoidal rule, with a step of backward Euler where a drive jumps or a
// stiff node rings; the step follows from the third difference. Whether and how fast a circuit
// swings follows from its natural modes.
//
// What charges until something turns has no rest. It is followed until a turn is as long as the one before (cycle.go): its meters
// show the mean of one, its frequency and duty are that one's. Such a net is known by a latch, or by something that grows from its rest
// and does not swing.
//
// A fault is a change of a copy of the net, of one severity or of any of a range (fault.go). How likely
// it is: how often such a part fails and fails so, times the density of all readings together about
// what they would show with it: normal, with the covariance that the parts' tolerances make (first
// order, by the adjoint circuit) and each reading's own spread, one of them perhaps misread, and in
// the mean over the severities (joint.go). What the readings say so counts a little less than that, as circuits are less as they
// are supposed to be than the spreads have it. Gains and ripple are weighed by their logarithm, but not
// below what noise makes of them.
//
// The formulas are those of Gummel and Poon (1970) without high-level injection, and of
// Shichman and Hodges (1968); the method is Ho, Ruehli and Brennan's (1975).
package circuit

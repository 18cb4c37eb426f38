package circuit

import "math"

// slewing is what a drive moves towards one end or the other, −1 to 1, no faster than it can, and that holds itself there
// where holds is more than one:
//
//	dy/dt = fastest·u/√(1 + u²),  u = eager·(drive + holds·y − artanh y)/fastest
//
// At rest y = tanh(drive + holds·y). Of small drives it is a pole at eager (1/s), of large ones a ramp of fastest (1/s).
type slewing struct{ eager, fastest, holds float64 }

// farthest is how near its ends it comes: what is further is as good as there.
const farthest = 1 - 1e-15

// pace is dy/dt, and what that changes by with the drive; z is artanh y.
func (w slewing) pace(drive, y, z float64) (pace, byDrive float64) {
	u := w.eager / w.fastest * (drive + w.holds*y - z)
	root := math.Sqrt(1 + u*u)
	return w.fastest * u / root, w.eager / (root * root * root)
}

// stays tells whether it is at an end, and held there.
func (w slewing) stays(s state, drive float64) bool {
	return math.Abs(s.held) >= farthest && (drive+w.holds*s.held)*math.Copysign(1, s.held) > endDrive
}

// endDrive is what drives it to its end: artanh of the farthest.
var endDrive = artanh(farthest)

func artanh(y float64) float64 { return math.Log((1+y)/(1-y)) / 2 }

// after is where it stands a moment later, and what that changes by with the drive then: of the solutions of the moment's
// rule the first on its way from where it stood. They are looked for in artanh y, in which neither end is crowded.
func (w slewing) after(m *moment, s state, drive float64) (y, slope float64) {
	if w.stays(s, drive) {
		return math.Copysign(farthest, s.held), 0
	}
	far := m.h * m.theta
	before := s.held + m.h*(1-m.theta)*s.flow
	from := max(-farthest, min(s.held, farthest))
	at := artanh(from)
	pace, _ := w.pace(drive, from, at)
	begin := from - before - far*pace
	end := endDrive
	if begin > 0 {
		end = -endDrive
	}
	to := math.Copysign(farthest, end)
	if from == to { // it is at its end, and stays there
		return to, 0
	}
	pace, _ = w.pace(drive, to, end)
	beyond := math.Signbit(to - before - far*pace)
	if beyond == math.Signbit(begin) { // it comes to its end
		return to, 0
	}
	ramp := before + far*math.Copysign(w.fastest, to) // where it comes to at its fastest
	low, high := at, end
	z := (low + high) / 2
	if math.Abs(ramp) < farthest {
		if guess := artanh(ramp); guess > min(low, high) && guess < max(low, high) {
			z = guess
		}
	}
	var byDrive float64
	for range 100 { // Newton's method, kept between what is known to lie on either side
		y = math.Tanh(z)
		pace, byDrive = w.pace(drive, y, z)
		miss := y - before - far*pace
		if math.Signbit(miss) == beyond {
			high = z
		} else {
			low = z
		}
		flat := (1 - y) * (1 + y)
		next := z - miss/(flat-far*byDrive*(w.holds*flat-1))
		if !(next > min(low, high) && next < max(low, high)) {
			next = (low + high) / 2
		}
		if math.Abs(next-z) < 1e-12*(1+math.Abs(z)) {
			break
		}
		z = next
	}
	if beside := 1 - far*byDrive*(w.holds-1/((1-y)*(1+y))); beside > 0 {
		slope = far * byDrive / beside
	}
	return y, slope
}

// stood is its state a moment later: at an end it stands still.
func (w slewing) stood(m *moment, s state, drive float64) state {
	y, _ := w.after(m, s, drive)
	if math.Abs(y) >= farthest {
		return state{held: y}
	}
	pace, _ := w.pace(drive, y, artanh(y))
	return state{y, pace}
}

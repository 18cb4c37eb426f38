package circuit

import "math"

// slewing is what a drive moves towards one end or the other, −1 to 1, no faster than it can, and that holds itself there
// where holds is more than one:
//
//	dy/dt = fastest·tanh(eager·(drive + holds·y − artanh y)/fastest)
//
// At rest y = tanh(drive + holds·y). Of small drives it is a pole at eager (1/s), of large ones a ramp of fastest (1/s).
type slewing struct{ eager, fastest, holds float64 }

// farthest is how near its ends it comes: what is further is as good as there.
const farthest = 1 - 1e-15

// pace is dy/dt, and what that changes by with the drive and with y.
func (w slewing) pace(drive, y float64) (pace, byDrive, byY float64) {
	t := math.Tanh(w.eager / w.fastest * (drive + w.holds*y - math.Atanh(y)))
	byDrive = w.eager * (1 - t*t)
	return w.fastest * t, byDrive, byDrive * (w.holds - 1/((1-y)*(1+y)))
}

// after is where it stands a moment later, and what that changes by with the drive then: of the solutions of the moment's
// rule the first on its way from where it stood.
func (w slewing) after(m *moment, s state, drive float64) (y, slope float64) {
	far := m.h * m.theta
	before := s.held + m.h*(1-m.theta)*s.flow
	off := func(y float64) float64 {
		pace, _, _ := w.pace(drive, y)
		return y - before - far*pace
	}
	from := max(-farthest, min(s.held, farthest))
	back := off(from) > 0
	to := farthest
	if back {
		to = -farthest
	}
	if from == to { // it is at its end, and stays there
		return to, 0
	}
	ramp := before + far*math.Copysign(w.fastest, to) // where it comes to at its fastest
	if math.Abs(ramp) < farthest {
		if pace, _, _ := w.pace(drive, ramp); math.Abs(pace) > (1-1e-12)*w.fastest && math.Signbit(pace) == back {
			return ramp, 0
		}
	}
	beyond := math.Signbit(off(to))
	if beyond == math.Signbit(off(from)) { // it comes to its end
		return to, 0
	}
	y = from
	for range 100 { // Newton's method, kept between what is known to lie on either side
		pace, _, byY := w.pace(drive, y)
		miss := y - before - far*pace
		if math.Signbit(miss) == beyond {
			to = y
		} else {
			from = y
		}
		next := y - miss/(1-far*byY)
		if !(next > min(from, to) && next < max(from, to)) {
			next = (from + to) / 2
		}
		if math.Abs(next-y) < 1e-14 {
			break
		}
		y = next
	}
	_, byDrive, byY := w.pace(drive, y)
	if beside := 1 - far*byY; beside > 0 {
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
	pace, _, _ := w.pace(drive, y)
	return state{y, pace}
}

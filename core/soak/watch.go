package soak

// Bound is a limit of a trace: what is passed, upwards where most, by which time (seconds) that would matter, and the
// scale of the trace's values.
type Bound struct {
	Limit float64
	Most  bool
	By    float64
	Scale float64
}

// Watch looks at a trace from time to time, and remembers since when it has looked bad.
type Watch struct {
	bad   bool
	since float64
}

const (
	sureEnough = 0.99
	lasting    = 4 * 60.0 // s
)

// Early tells whether it is sure, and has been for some minutes, that a limit will be passed by the end. What has only just
// changed is looked at a little longer.
func (w *Watch) Early(points []Point, b Bound) bool {
	f, ok := Fit(points, b.Scale)
	if !ok || !f.Holds {
		w.bad = false
		return false
	}
	return w.early(f, b, points[len(points)-1].T)
}

// early is that for a curve that is fitted already.
func (w *Watch) early(f *Fitted, b Bound, now float64) bool {
	if f.Passes(b.Limit, b.By, b.Most) < sureEnough {
		w.bad = false
		return false
	}
	if !w.bad {
		w.bad, w.since = true, now
	}
	return now-w.since >= lasting
}

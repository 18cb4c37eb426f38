package wave

// Overview tells quickly what any stretch of a waveform looks like, at any width:
// the least and the greatest sample of blocks are worked out once.
type Overview struct {
	samples   []float64
	low, high []float64 // of each block
}

// overviewBlock is the length of a block: a stretch of ten million samples is then
// answered from forty thousand.
const overviewBlock = 256

// Overview prepares a channel for looking at.
func (ch *Channel) Overview() *Overview {
	o := &Overview{samples: ch.Samples}
	for at := 0; at+overviewBlock <= len(ch.Samples); at += overviewBlock {
		low, high := extremes(ch.Samples[at : at+overviewBlock])
		o.low, o.high = append(o.low, low), append(o.high, high)
	}
	return o
}

func extremes(x []float64) (low, high float64) {
	low, high = x[0], x[0]
	for _, v := range x[1:] {
		low, high = min(low, v), max(high, v)
	}
	return low, high
}

// Envelope is the least and the greatest sample of so many equal parts of the
// samples from one to before another: a spike of one sample shows at any width.
// Parts are no shorter than a sample. From must be below to, both within the
// waveform.
func (o *Overview) Envelope(from, to, parts int) (low, high []float64) {
	n := to - from
	parts = min(parts, n)
	low, high = make([]float64, parts), make([]float64, parts)
	for p := range parts {
		low[p], high[p] = o.extremes(from+p*n/parts, from+(p+1)*n/parts)
	}
	return low, high
}

// extremes are those of a stretch: its whole blocks, and what is beside them.
func (o *Overview) extremes(from, to int) (low, high float64) {
	first, last := (from+overviewBlock-1)/overviewBlock, min(to/overviewBlock, len(o.low))
	if last <= first {
		return extremes(o.samples[from:to])
	}
	low, _ = extremes(o.low[first:last])
	_, high = extremes(o.high[first:last])
	for _, beside := range [][]float64{o.samples[from : first*overviewBlock], o.samples[last*overviewBlock : to]} {
		if len(beside) > 0 {
			l, h := extremes(beside)
			low, high = min(low, l), max(high, h)
		}
	}
	return low, high
}

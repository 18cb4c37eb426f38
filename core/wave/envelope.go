package wave

// Envelope is the least and the greatest sample of so many equal parts of a
// waveform, for drawing: a spike of one sample shows at any width. Parts are no
// shorter than a sample.
func (ch *Channel) Envelope(parts int) (low, high []float64) {
	n := len(ch.Samples)
	parts = min(parts, n)
	low, high = make([]float64, parts), make([]float64, parts)
	for p := range parts {
		from, to := p*n/parts, (p+1)*n/parts
		low[p], high[p] = ch.Samples[from], ch.Samples[from]
		for _, v := range ch.Samples[from+1 : to] {
			low[p], high[p] = min(low[p], v), max(high[p], v)
		}
	}
	return low, high
}

package wave

import (
	"fmt"

	"steptrace/core/beside"
	"steptrace/core/exchange"
)

// provedParts are as many pieces as a screen's spectrum has.
const provedParts = 900

// Prove works a capture through once, as a screen does that shows it: nothing is kept
// that was not measured. The error is a *exchange.FileError for a person, wrapping what
// broke for the log.
func (c *Capture) Prove() error {
	err := beside.Try(func() {
		for i := range c.Channels {
			ch := &c.Channels[i]
			ch.Measure(c.Rate, Site{})
			ch.Spectrum(c.Rate, provedParts)
			ch.Overview()
			ch.Rises()
		}
		if len(c.Channels) > 1 {
			c.Between(0, 1)
		}
	})
	if err == nil {
		return nil
	}
	return fmt.Errorf(
		"%w: %w",
		&exchange.FileError{
			Problem: "Step Trace cannot measure this recording, and did not keep it: the reason is in its log. Cut it shorter, or save " +
				"it in another form",
		},
		err,
	)
}

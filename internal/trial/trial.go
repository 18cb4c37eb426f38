// Package trial says how often the tests run their simulations: in full where a whole check is
// made, and less often while somebody works.
package trial

import "os"

// Runs gives how often a simulation is run: full times with STEPTRACE_FULL set, as make test has
// it; otherwise a fifth of that, but eight times at least where full is not less.
func Runs(full int) int {
	if os.Getenv("STEPTRACE_FULL") != "" {
		return full
	}
	return max(full/5, min(full, 8))
}

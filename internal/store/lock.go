package store

import (
	"errors"
	"fmt"

	"github.com/gofrs/flock"
)

// lock keeps a second program off a file: it is held by the system, so that it ends with the program however that ends.
func lock(path string) (*flock.Flock, error) {
	l := flock.New(path + ".lock")
	got, err := l.TryLock()
	if err != nil {
		return nil, fmt.Errorf("%s cannot be locked: %w", path, err)
	}
	if !got {
		return nil, errors.Join(
			&Refused{path, "is in use: Step Trace runs on it already. Open its page in the browser, or stop it first"},
			l.Close(),
		)
	}
	return l, nil
}

package beside_test

import (
	"errors"
	"strings"
	"sync/atomic"
	"testing"

	"steptrace/core/beside"
)

// Work that panics does not end the program: the rest is done, and whoever waits is told.
func TestAPanicComesOutWhereItIsWaitedFor(t *testing.T) {
	var done atomic.Int64
	err := beside.Try(func() {
		var work beside.Work
		for i := range 20 {
			work.Go(func() {
				if i == 7 {
					panic("seven")
				}
				done.Add(1)
			})
		}
		work.Wait()
	})
	var broke *beside.Broke
	if !errors.As(err, &broke) || broke.With != "seven" || !strings.Contains(err.Error(), "beside_test.go") {
		t.Errorf("got %v", err)
	}
	if done.Load() != 19 {
		t.Errorf("%d of 19 others were done", done.Load())
	}
	if err := beside.Try(func() {}); err != nil {
		t.Errorf("nothing broke, got %v", err)
	}
	if err := beside.Try(func() { var none []int; _ = none[len(none)] }); err == nil {
		t.Error("a panic here is no error")
	}
}

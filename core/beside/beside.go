// Package beside does work beside other work. A goroutine that panics ends the whole
// program; work that is done here panics where it is waited for instead, where whoever
// asked can be told.
//
//	var work beside.Work
//	work.Go(func() { … })
//	work.Wait()
package beside

import (
	"fmt"
	"runtime/debug"
	"sync"
)

// Work is some of it. The zero value is ready.
type Work struct {
	doing sync.WaitGroup
	once  sync.Once
	broke *Broke
}

// Broke is what Wait panics with: what the work panicked with, and where.
type Broke struct {
	With  any
	Stack []byte
}

func (b *Broke) Error() string { return fmt.Sprintf("%v\n%s", b.With, b.Stack) }

// Go begins f beside the caller.
func (w *Work) Go(f func()) {
	w.doing.Go(func() {
		defer func() {
			if with := recover(); with != nil {
				w.once.Do(func() { w.broke = &Broke{with, debug.Stack()} })
			}
		}()
		f()
	})
}

// Wait waits until all of it is done. Where some of it panicked, so does Wait, with the
// first *Broke.
func (w *Work) Wait() {
	w.doing.Wait()
	if w.broke != nil {
		panic(w.broke)
	}
}

// Try does f here, and gives a panic in it, or in what it waited for, as an error.
func Try(f func()) (err error) {
	defer func() {
		switch with := recover().(type) {
		case nil:
		case *Broke:
			err = with
		default:
			err = &Broke{with, debug.Stack()}
		}
	}()
	f()
	return nil
}

// Package parallel does pieces of work two at a time: any machine this runs on has two cores.
package parallel

import (
	"context"
	"errors"
	"fmt"
	"runtime/debug"
	"sync"

	"golang.org/x/sync/errgroup"
)

const workers = 2

// Each does n pieces of work, until the context ends or one fails: the first error stops the rest, and so does a context
// that is done. progress, if not nil, is told after each piece how many are done. A panic in a piece becomes one in the caller,
// who can recover from it; in a goroutine of its own it would end the program.
func Each(ctx context.Context, n int, work func(i int) error, progress func(done, of int)) error {
	var lock sync.Mutex
	var panicked any
	done := 0
	group, going := errgroup.WithContext(ctx)
	group.SetLimit(workers)
	for i := range n {
		group.Go(func() (err error) {
			defer func() {
				if p := recover(); p != nil {
					lock.Lock()
					defer lock.Unlock()
					panicked = fmt.Sprintf("%v\n%s", p, debug.Stack())
					err = errPanicked
				}
			}()
			if going.Err() != nil {
				return going.Err()
			}
			err = work(i)
			lock.Lock()
			defer lock.Unlock()
			done++
			if progress != nil {
				progress(done, n)
			}
			return err
		})
	}
	err := group.Wait()
	if panicked != nil {
		panic(panicked)
	}
	if err == nil {
		err = ctx.Err()
	}
	return err
}

// errPanicked stops the rest after a panic, which the caller gets instead.
var errPanicked = errors.New("a piece of the work panicked")

// Package parallel does pieces of work two at a time: any machine this runs on has two cores.
package parallel

import (
	"context"
	"fmt"
	"runtime/debug"
	"sync"
)

const workers = 2

// Each does n pieces of work, until the context ends or one fails: the first error stops the rest, and so does a context
// that is done. progress, if not nil, is told after each piece how many are done. A panic in a piece becomes one in the caller,
// who can recover from it; in a goroutine of its own it would end the program.
func Each(ctx context.Context, n int, work func(i int) error, progress func(done, of int)) error {
	var lock sync.Mutex
	var wait sync.WaitGroup
	var first error
	var panicked any
	next, done := 0, 0
	// take is the next piece that is left, or false.
	take := func() (int, bool) {
		lock.Lock()
		defer lock.Unlock()
		i := next
		next++
		return i, i < n && first == nil && panicked == nil && ctx.Err() == nil
	}
	ended := func(err error) {
		lock.Lock()
		defer lock.Unlock()
		if err != nil && first == nil {
			first = err
		}
		done++
		if progress != nil {
			progress(done, n)
		}
	}
	for range min(workers, n) {
		wait.Go(func() {
			defer func() {
				if p := recover(); p != nil {
					lock.Lock()
					panicked = fmt.Sprintf("%v\n%s", p, debug.Stack())
					lock.Unlock()
				}
			}()
			for i, more := take(); more; i, more = take() {
				ended(work(i))
			}
		})
	}
	wait.Wait()
	if panicked != nil {
		panic(panicked)
	}
	if first == nil {
		first = ctx.Err()
	}
	return first
}

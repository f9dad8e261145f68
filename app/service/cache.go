package service

import (
	"context"
	"crypto/sha256"
	"errors"
	"fmt"
	"runtime/debug"
	"sync/atomic"

	lru "github.com/hashicorp/golang-lru/v2"
	"golang.org/x/sync/semaphore"
	"golang.org/x/sync/singleflight"

	"gladember/core/design"
)

// Key names a result by what it was computed from.
type Key [sha256.Size]byte

// everything are all effects of a field.
const everything = ^design.Effect(0)

// KeyOf is the key of the part of a heater that has some effects, and of what else a result depends on.
func KeyOf(h *design.Heater, effects design.Effect, besides ...any) Key {
	hash := sha256.New()
	fmt.Fprint(hash, h.Key(effects))
	for _, x := range besides {
		fmt.Fprintf(hash, "\x00%v", x)
	}
	return Key(hash.Sum(nil))
}

// nothing is for keys that no heater counts in.
var nothing = &design.Heater{}

// KeyOfPage is the key of all of a heater as a person reads it, and of what else a page shows.
func KeyOfPage(h *design.Heater, besides ...any) Key { return KeyOf(h, everything, besides...) }

// Cache remembers the results used last. Several callers who want the same at once wait for one computation.
// What ends with an error or a panic is not remembered, so that the next caller tries again; a panic is the error [*Panicked].
type Cache[T any] struct {
	known  *lru.Cache[Key, T]
	flight singleflight.Group
	turn   *semaphore.Weighted // nil: any number is computed at a time
}

// NewCache returns a cache of n results.
func NewCache[T any](n int) *Cache[T] {
	known, err := lru.New[Key, T](n)
	if err != nil { // n is below one: a mistake of the caller
		panic(err)
	}
	return &Cache[T]{known: known}
}

// AtOnce lets n results be computed at a time, so that pages are answered meanwhile. What a result is computed from must not be of the
// same cache: it would wait for itself.
func (c *Cache[T]) AtOnce(n int64) *Cache[T] {
	c.turn = semaphore.NewWeighted(n)
	return c
}

// Panicked is the error of a computation that panicked: a mistake in the program, which must not close more than what asked for it.
type Panicked struct {
	// Value is what it panicked with, and Stack where, for the log.
	Value any
	Stack []byte
}

// Error says it to a person.
func (*Panicked) Error() string {
	return "the computation failed because of an error in this program"
}

// StackOf is where a computation panicked, for the log; empty for other errors.
func StackOf(err error) string {
	var p *Panicked
	if errors.As(err, &p) {
		return fmt.Sprintf("%v\n%s", p.Value, p.Stack)
	}
	return ""
}

// Guarded is what work returns, or a [*Panicked] where it panics.
func Guarded(work func() error) (err error) {
	defer func() {
		if p := recover(); p != nil {
			err = &Panicked{p, debug.Stack()}
		}
	}()
	return work()
}

// Known returns a result if it has been computed.
func (c *Cache[T]) Known(key Key) (value T, ok bool) { return c.known.Get(key) }

// Whose turn a computation is: nobody's yet, its caller's, or nobody's any more, since the caller left before it began.
const (
	unbegun int32 = iota
	begun
	left
)

// Get returns the result of a key, computing it if need be. A caller whose context ends stops waiting; one who waited
// for a computation that another caller canceled computes it itself.
func (c *Cache[T]) Get(ctx context.Context, key Key, work func() (T, error)) (T, error) {
	for {
		if v, ok := c.known.Get(key); ok {
			return v, nil
		}
		var state atomic.Int32
		done := c.flight.DoChan(string(key[:]), func() (any, error) {
			if !state.CompareAndSwap(unbegun, begun) {
				return nil, context.Canceled
			}
			return c.compute(ctx, key, work)
		})
		var r singleflight.Result
		select {
		case r = <-done:
		case <-ctx.Done():
			var none T
			if state.CompareAndSwap(unbegun, left) {
				return none, ctx.Err()
			}
			r = <-done // the work is the caller's own, and uses what is the caller's
		}
		if canceled(r.Err) && ctx.Err() == nil {
			continue
		}
		v, _ := r.Val.(T)
		return v, r.Err
	}
}

// Trim forgets all but the n results that were used last.
func (c *Cache[T]) Trim(n int) {
	for c.known.Len() > n {
		c.known.RemoveOldest()
	}
}

// compute works when it is its turn, and remembers the result.
func (c *Cache[T]) compute(ctx context.Context, key Key, work func() (T, error)) (value T, err error) {
	if v, ok := c.known.Get(key); ok { // it became known since
		return v, nil
	}
	if c.turn != nil {
		done, err := take(ctx, c.turn)
		if err != nil {
			return value, err
		}
		defer done()
	}
	if err = Guarded(func() (err error) {
		value, err = work()
		return err
	}); err == nil {
		c.known.Add(key, value)
	}
	return value, err
}

// canceled says whether an error is that of a context that ended.
func canceled(err error) bool {
	return errors.Is(err, context.Canceled) || errors.Is(err, context.DeadlineExceeded)
}

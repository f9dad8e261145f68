package service

import (
	"context"
	"crypto/sha256"
	"errors"
	"fmt"
	"runtime/debug"
	"sync"

	"gladember/core/design"
)

// Key names a result by what it was computed from.
type Key [sha256.Size]byte

// KeyOf is the key of a heater's document, and of what else a result depends on.
func KeyOf(h *design.Heater, besides ...any) Key {
	hash := sha256.New()
	if b, err := design.Encode(*h); err == nil {
		hash.Write(b)
	} else { // a document that cannot be written is told apart by its address, so that nothing is mixed up
		fmt.Fprintf(hash, "%p", h)
	}
	for _, x := range besides {
		fmt.Fprintf(hash, "\x00%v", x)
	}
	return Key(hash.Sum(nil))
}

// Cache remembers the results computed last. Several callers who want the same at once wait for one computation.
// What ends with an error or a panic is forgotten, so that the next caller tries again; a panic is the error [*Panicked].
type Cache[T any] struct {
	mu    sync.Mutex
	known map[Key]*result[T]
	ring  []*result[T] // the last ones begun; nil where there were fewer
	next  int
	turn  slots // nil: any number is computed at a time
}

// result is one that is computed, or is being.
type result[T any] struct {
	key   Key
	done  chan struct{} // closed when value and err hold
	value T
	err   error
}

// NewCache returns a cache of the last n results.
func NewCache[T any](n int) *Cache[T] {
	return &Cache[T]{known: map[Key]*result[T]{}, ring: make([]*result[T], n)}
}

// AtOnce lets n results be computed at a time, so that pages are answered meanwhile. What a result is computed from must not be of the
// same cache: it would wait for itself.
func (c *Cache[T]) AtOnce(n int) *Cache[T] {
	c.turn = make(slots, n)
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
func (c *Cache[T]) Known(key Key) (value T, ok bool) {
	c.mu.Lock()
	r := c.known[key]
	c.mu.Unlock()
	if r == nil {
		return value, false
	}
	select {
	case <-r.done:
		return r.value, r.err == nil
	default:
		return value, false
	}
}

// Get returns the result of a key, computing it if need be. A caller whose context ends stops waiting; one who waited
// for a computation that another caller canceled computes it itself.
func (c *Cache[T]) Get(ctx context.Context, key Key, work func() (T, error)) (T, error) {
	for {
		c.mu.Lock()
		r := c.known[key]
		if r == nil {
			r = &result[T]{key: key, done: make(chan struct{})}
			c.forget(c.ring[c.next])
			c.ring[c.next] = r
			c.next = (c.next + 1) % len(c.ring)
			c.known[key] = r
			c.mu.Unlock()
			c.fill(ctx, r, work)
			return r.value, r.err
		}
		c.mu.Unlock()
		select {
		case <-r.done:
		case <-ctx.Done():
			var none T
			return none, ctx.Err()
		}
		if canceled(r.err) && ctx.Err() == nil {
			continue
		}
		return r.value, r.err
	}
}

// Trim forgets all but the last n results that were begun.
func (c *Cache[T]) Trim(n int) {
	c.mu.Lock()
	defer c.mu.Unlock()
	for i := range c.ring {
		age := (c.next - 1 - i + len(c.ring)) % len(c.ring) // 0 for the last one
		if age >= n {
			c.forget(c.ring[i])
			c.ring[i] = nil
		}
	}
}

// forget removes a result, unless another of its key has taken its place; the lock is held.
func (c *Cache[T]) forget(r *result[T]) {
	if r != nil && c.known[r.key] == r {
		delete(c.known, r.key)
	}
}

// fill computes a result and lets those who wait have it.
func (c *Cache[T]) fill(ctx context.Context, r *result[T], work func() (T, error)) {
	defer func() {
		if r.err != nil {
			c.mu.Lock()
			c.forget(r)
			c.mu.Unlock()
		}
		close(r.done)
	}()
	if c.turn != nil {
		done, err := c.turn.take(ctx)
		if err != nil {
			r.err = err
			return
		}
		defer done()
	}
	r.err = Guarded(func() (err error) {
		r.value, err = work()
		return err
	})
}

// canceled says whether an error is that of a context that ended.
func canceled(err error) bool {
	return errors.Is(err, context.Canceled) || errors.Is(err, context.DeadlineExceeded)
}

package parallel

import (
	"context"
	"errors"
	"strings"
	"sync/atomic"
	"testing"
)

// Every piece is done once; an error or an ended context stops the rest; a panic arrives at the caller.
func TestEach(t *testing.T) {
	var sum, told atomic.Int64
	add := func(i int) error { sum.Add(int64(i)); return nil }
	err := Each(context.Background(), 100, add, func(done, of int) { told.Store(int64(done)) })
	if err != nil || sum.Load() != 4950 || told.Load() != 100 {
		t.Errorf("sum %d, told of %d, %v", sum.Load(), told.Load(), err)
	}
	boom := errors.New("boom")
	ran := atomic.Int64{}
	fails := func(int) error { ran.Add(1); return boom }
	if err := Each(context.Background(), 1000, fails, nil); !errors.Is(err, boom) || ran.Load() > workers {
		t.Errorf("after an error %d more ran, %v", ran.Load(), err)
	}
	ctx, cancel := context.WithCancel(context.Background())
	cancel()
	if err := Each(ctx, 3, func(int) error { t.Error("work after the end"); return nil }, nil); !errors.Is(err, context.Canceled) {
		t.Error(err)
	}
	defer func() {
		if p := recover(); p == nil || !strings.Contains(p.(string), "index out of range") {
			t.Errorf("the caller got %v", p)
		}
	}()
	_ = Each(context.Background(), 4, func(i int) error { _ = make([]int, 0)[i]; return nil }, nil)
	t.Error("the panic was lost")
}

package web

import (
	"context"
	"net/http"
	"sync"
	"time"

	"github.com/labstack/echo/v5"

	"gladember/app/store"
	"gladember/app/web/ui"
)

// made are the changes that are being made or were made lately, by the numbers that their pages gave them. The store knows those that
// added something for longer.
type made struct {
	store *store.Store
	lock  sync.Mutex
	known map[string]chan struct{} // closed when it is made or refused
	order []string                 // of those that were made
}

// manyMade is how many are remembered, longestChange how long one may take, and longestNumber how long a number may be.
const (
	manyMade      = 2000
	longestChange = time.Minute
	longestNumber = 64
)

// begin says whether a change is new. If it is, the caller says at the end whether it was made.
func (m *made) begin(ctx context.Context, number string) (end func(made bool), is bool) {
	for ctx.Err() == nil {
		m.lock.Lock()
		other := m.known[number]
		if other == nil {
			done := make(chan struct{})
			m.known[number] = done
			m.lock.Unlock()
			return func(made bool) { m.end(number, made); close(done) }, true
		}
		m.lock.Unlock()
		select {
		case <-other:
		case <-ctx.Done():
		}
		m.lock.Lock()
		same := m.known[number] == other
		m.lock.Unlock()
		if same {
			break
		}
	}
	return nil, false
}

// end remembers a change that was made, forgets one that was not, and the oldest.
func (m *made) end(number string, made bool) {
	m.lock.Lock()
	defer m.lock.Unlock()
	if !made {
		delete(m.known, number)
		return
	}
	if m.order = append(m.order, number); len(m.order) > manyMade {
		delete(m.known, m.order[0])
		m.order = m.order[1:]
	}
}

// once answers a change that was made already without making it again: it waited on a phone whose answer was lost on the way.
func (m *made) once(next echo.HandlerFunc) echo.HandlerFunc {
	return func(c *echo.Context) error {
		number := c.Request().Header.Get(ui.ChangeHeader)
		if c.Request().Method != http.MethodPost || number == "" || len(number) > longestNumber {
			return next(c)
		}
		end, is := m.begin(c.Request().Context(), number)
		if !is {
			return c.NoContent(http.StatusNoContent)
		}
		if before, err := m.store.Made(c.Request().Context(), number); err != nil || before { // before the program started
			end(before)
			if err != nil {
				return err
			}
			return c.NoContent(http.StatusNoContent)
		}
		// It is made whole although its page has gone, or nobody would know whether it was made.
		whole, cancel := context.WithTimeout(store.WithNumber(context.WithoutCancel(c.Request().Context()), number),
			longestChange)
		defer cancel()
		c.SetRequest(c.Request().WithContext(whole))
		is = false // until it returns
		defer func() { end(is) }()
		err := next(c)
		res, _ := echo.UnwrapResponse(c.Response())
		answered := res != nil && res.Committed && res.Status < http.StatusBadRequest // even if nobody was there to take the answer
		is = (err == nil || answered) && c.Response().Header().Get(ui.RefusedHeader) == ""
		return err
	}
}

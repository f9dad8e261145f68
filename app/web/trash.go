package web

import (
	"context"
	"net/http"
	"strconv"
	"time"

	"github.com/labstack/echo/v5"

	"gladember/app/store"
	"gladember/app/web/ui"
)

// TrashRow is a heater in the trash.
type TrashRow struct{ Name, When, URL string }

// trash lists the heaters in the trash.
func (sv *site) trash(ctx context.Context) (rows []TrashRow, err error) {
	list, err := sv.Store.TrashedHeaters(ctx)
	for _, x := range list {
		rows = append(rows, TrashRow{x.Name, time.UnixMilli(x.At).Format("2 January 2006"), ui.HeaterURL(x.ID)})
	}
	return rows, err
}

// homeAfter answers a form of the first page: something is done to the heater of the address, and the page comes again.
func (sv *site) homeAfter(do func(ctx context.Context, heater int64) error) echo.HandlerFunc {
	return func(c *echo.Context) error {
		id, err := strconv.ParseInt(c.Param("id"), 10, 64)
		if err != nil {
			return store.ErrNotFound
		}
		if err := do(c.Request().Context(), id); err != nil {
			return err
		}
		return c.Redirect(http.StatusSeeOther, "/")
	}
}

// homeRoutes are what the first page does to a heater.
func (sv *site) homeRoutes(h *echo.Group) {
	h.POST("/copy", sv.homeAfter(func(ctx context.Context, id int64) error {
		_, err := sv.Store.Copy(ctx, id)
		return err
	}))
	h.POST("/trash", sv.homeAfter(sv.Store.Trash))
	h.POST("/restore", sv.homeAfter(sv.Store.Restore))
	h.POST("/delete", sv.homeAfter(sv.Store.Delete))
}

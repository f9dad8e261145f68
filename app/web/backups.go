package web

import (
	"errors"
	"fmt"
	"net/http"
	"os"
	"path/filepath"
	"strings"
	"time"

	"github.com/labstack/echo/v5"

	"gladember/app/store"
	"gladember/app/web/ui"
	"gladember/core/units"
)

// KeepView is the page of backups and of heaters as files.
type KeepView struct {
	ui.Page
	Error   string
	Damaged bool
	Path    string
	Copies  []CopyRow
	Heaters []HeaterFile
}

// CopyRow is a daily copy.
type CopyRow struct{ When, Path, Size string }

// HeaterFile is a heater that can be saved as a file.
type HeaterFile struct{ Name, URL string }

// keepRoutes registers the page.
func (sv *site) keepRoutes(e *echo.Echo) {
	e.GET("/keep", func(c *echo.Context) error { return sv.keep(c, "") })
	e.POST("/keep/backup", sv.backup)
	e.POST("/keep/heater", sv.importHeater)
	e.POST("/h/:id/file", sv.exportHeater)
}

// keep shows the page, with a word on what was refused.
func (sv *site) keep(c *echo.Context, refused string) error {
	v := KeepView{Page: ui.NewPage(c, "Backups and files"), Error: refused, Damaged: sv.Store.Damaged() != "", Path: sv.Store.Path()}
	for _, x := range sv.Store.DailyCopies() {
		v.Copies = append(v.Copies, CopyRow{x.At.Format("Monday 2 January 2006"), x.Path, megabytes(x.Size, v.Units)})
	}
	heaters, err := sv.Store.Heaters(c.Request().Context())
	if err != nil {
		return err
	}
	for _, h := range heaters {
		v.Heaters = append(v.Heaters, HeaterFile{h.Document.Name, ui.HeaterURL(h.Heater, "file")})
	}
	status := http.StatusOK
	if refused != "" {
		status = http.StatusUnprocessableEntity
	}
	return c.Render(status, "backups.html", v)
}

// megabytes writes the size of a file.
func megabytes(bytes int64, u units.System) string {
	const mega = 1e6
	return units.Decimals(max(0.1, float64(bytes)/mega), 1, u) + " MB"
}

// sent sends what a function writes to a file as a download. It is written whole first, so that what fails is an error page and no half
// a file.
func (sv *site) sent(c *echo.Context, name string, write func(path string) error) error {
	dir, err := os.MkdirTemp(sv.Store.TemporaryFolder(), "gladember-file-*")
	if err != nil {
		return err
	}
	defer os.RemoveAll(dir)
	path := filepath.Join(dir, "file")
	if err := write(path); err != nil {
		return err
	}
	f, err := os.Open(path)
	if err != nil {
		return err
	}
	defer f.Close()
	c.Response().Header().Set("Content-Disposition", fmt.Sprintf("attachment; filename=%q", name))
	return c.Stream(http.StatusOK, "application/octet-stream", f)
}

// backup sends a copy of the workshop.
func (sv *site) backup(c *echo.Context) error {
	done, err := sv.Turn(c.Request().Context())
	if err != nil {
		return err
	}
	defer done()
	return sv.sent(c, "workshop-"+time.Now().Format(time.DateOnly)+".db", func(path string) error {
		return sv.Store.Backup(c.Request().Context(), path)
	})
}

// exportHeater sends a heater as a file.
func (sv *site) exportHeater(c *echo.Context) error {
	st, err := sv.Current(c)
	if err != nil {
		return err
	}
	return sv.sent(c, fileName(st.Document.Name)+".zip", func(path string) error {
		f, err := os.Create(path)
		if err != nil {
			return err
		}
		return errors.Join(sv.Store.ExportHeater(c.Request().Context(), st.Heater, f), f.Close())
	})
}

// fileName is a name of plain letters.
func fileName(name string) string {
	plain := strings.Map(func(r rune) rune {
		switch {
		case r >= 'a' && r <= 'z', r >= '0' && r <= '9':
			return r
		case r >= 'A' && r <= 'Z':
			return r + 'a' - 'A'
		}
		return '-'
	}, name)
	for strings.Contains(plain, "--") {
		plain = strings.ReplaceAll(plain, "--", "-")
	}
	if plain = strings.Trim(plain, "-"); plain == "" {
		return "heater"
	}
	return plain
}

// importHeater adds the heater of a file.
func (sv *site) importHeater(c *echo.Context) error {
	f := ui.FileOf(c, "file")
	if f == nil {
		return sv.keep(c, "No file was sent; choose a heater's file first.")
	}
	done, err := sv.Turn(c.Request().Context())
	if err != nil {
		return err
	}
	defer done()
	st, err := sv.Store.ImportHeater(c.Request().Context(), f, f.Size)
	if errors.Is(err, store.ErrBundle) {
		return sv.keep(c, ui.Capital(err.Error())+".")
	}
	if err != nil {
		return err
	}
	return c.Redirect(http.StatusSeeOther, ui.HeaterURL(st.Heater))
}

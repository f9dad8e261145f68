package ui

import (
	"errors"
	"fmt"
	"io"
	"mime"
	"mime/multipart"
	"net/http"
	"net/url"
	"os"

	"github.com/labstack/echo/v5"
)

// Sent is a file that came with a form. It lies in the workshop's own folder until the request is answered.
type Sent struct {
	*os.File
	// Named is its name where it came from; Size is in bytes.
	Named string
	Size  int64
}

// sentKey is where a request carries the files of its form.
const sentKey = "sent"

// Files are the files of a form under a name, in their order.
func Files(c *echo.Context, name string) []*Sent {
	all, _ := c.Get(sentKey).(map[string][]*Sent)
	return all[name]
}

// FileOf is the one file of a form under a name; nil where none was chosen.
func FileOf(c *echo.Context, name string) *Sent {
	if fs := Files(c, name); len(fs) > 0 {
		return fs[0]
	}
	return nil
}

// Bounds of a form with files: its values in bytes, all together, and its parts.
const (
	maxValues = 1 << 20
	maxParts  = 1000
)

// errForm is returned for a form that did not arrive whole.
var errForm = echo.NewHTTPError(http.StatusBadRequest, "The form did not arrive whole: send it again.")

// Receive reads a form with files before its handler, so that the files wait on the disk. net/http would put them into the system's
// temporary folder, or into memory.
func (sv *Server) Receive(next echo.HandlerFunc) echo.HandlerFunc {
	return func(c *echo.Context) error {
		r := c.Request()
		if kind, _, _ := mime.ParseMediaType(r.Header.Get("Content-Type")); kind != "multipart/form-data" {
			return next(c)
		}
		files := map[string][]*Sent{}
		defer func() {
			for _, fs := range files {
				for _, f := range fs {
					f.Close()
					os.Remove(f.Name())
				}
			}
		}()
		if err := sv.receive(r, files); errors.Is(err, echo.ErrStatusRequestEntityTooLarge) {
			return echo.ErrStatusRequestEntityTooLarge
		} else if err != nil {
			return errForm
		}
		c.Set(sentKey, files)
		return next(c)
	}
}

// receive takes a form apart: its values become those of the request.
func (sv *Server) receive(r *http.Request, files map[string][]*Sent) error {
	parts, err := r.MultipartReader()
	if err != nil {
		return err
	}
	values, left := url.Values{}, int64(maxValues)
	for n := 0; ; n++ {
		p, err := parts.NextPart()
		if err == io.EOF {
			break
		}
		if err != nil {
			return err
		}
		if n == maxParts {
			return fmt.Errorf("a form of over %d parts", maxParts)
		}
		name := p.FormName()
		if p.FileName() != "" { // a field in which no file was chosen has none
			f, err := sv.keepSent(p)
			if f != nil {
				files[name] = append(files[name], f)
			}
			if err != nil {
				return err
			}
			continue
		}
		text, err := io.ReadAll(io.LimitReader(p, left+1))
		if left -= int64(len(text)); left < 0 || err != nil {
			return errors.Join(err, errors.New("its values are too long"))
		}
		values.Add(name, string(text))
	}
	if err := r.ParseForm(); err != nil { // of the address
		return err
	}
	for name, vs := range values {
		r.Form[name] = append(vs, r.Form[name]...)
	}
	r.PostForm, r.MultipartForm = values, &multipart.Form{Value: values}
	return nil
}

// keepSent writes a file of a form to the disk.
func (sv *Server) keepSent(p *multipart.Part) (*Sent, error) {
	f, err := os.CreateTemp(sv.Store.TemporaryFolder(), "sent-*")
	if err != nil {
		return nil, err
	}
	out := &Sent{File: f, Named: p.FileName()}
	if out.Size, err = io.Copy(f, p); err != nil {
		return out, err
	}
	_, err = f.Seek(0, io.SeekStart)
	return out, err
}

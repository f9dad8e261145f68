package main

import (
	"bufio"
	"bytes"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"log"
	"math"
	"math/rand/v2"
	"mime/multipart"
	"net"
	"net/http"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strings"
	"sync"
	"testing"
	"time"

	"gladember/app/store"
	"gladember/app/web/ui"
	"gladember/core/design"
	"gladember/core/layout"
)

// program is the program, built once for all tests, and programs the folder it is in.
var (
	programs string
	program  = sync.OnceValues(func() (string, error) {
		name := filepath.Join(programs, "gladember")
		b, err := exec.Command("go", "build", "-o", name, ".").CombinedOutput()
		if err != nil {
			return "", fmt.Errorf("%w: %s", err, b)
		}
		return name, nil
	})
)

func TestMain(m *testing.M) {
	var err error
	if programs, err = os.MkdirTemp("", "gladember-program-*"); err != nil {
		log.Fatal(err)
	}
	if err := os.Chmod(programs, 0o755); err != nil { // for tests that start it as somebody else
		log.Fatal(err)
	}
	code := m.Run()
	os.RemoveAll(programs)
	os.Exit(code)
}

// built is the program.
func built(t *testing.T) string {
	t.Helper()
	name, err := program()
	if err != nil {
		t.Fatal(err)
	}
	return name
}

// filled is the program with a workshop that fill has put something into.
func filled(t *testing.T, fill func(s *store.Store) error) (program, data string) {
	t.Helper()
	data = filepath.Join(t.TempDir(), "w.db")
	s, err := store.Open(t.Context(), data)
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	if err := fill(s); err != nil {
		t.Fatal(err)
	}
	return built(t), data
}

// workshopOf is the program with a workshop that holds one heater.
func workshopOf(t *testing.T) (program, data string, st store.State) {
	t.Helper()
	program, data = filled(t, func(s *store.Store) (err error) {
		st, err = s.Create(t.Context(), design.New())
		return err
	})
	return program, data, st
}

// process is the program serving a workshop, until it is killed.
type process struct {
	*exec.Cmd
	base   string
	seen   string // what the page shows that sends; empty for a page of no heater
	number string // of the change that is sent; empty for one that is not sent again
}

// started starts the program on a workshop file.
func started(t *testing.T, program, data string, args ...string) *process {
	t.Helper()
	p := &process{Cmd: exec.Command(program, append([]string{"serve", "--data", data, "--address", "127.0.0.1:0"}, args...)...)}
	out, err := p.StdoutPipe()
	if err != nil {
		t.Fatal(err)
	}
	var errs bytes.Buffer
	p.Stderr = &errs
	if err := p.Start(); err != nil {
		t.Fatal(err)
	}
	lines := bufio.NewScanner(out)
	for lines.Scan() {
		if at := regexp.MustCompile(`Open (http://\S+) in`).FindStringSubmatch(lines.Text()); at != nil {
			p.base = at[1]
			go func() { _, _ = io.Copy(io.Discard, out) }()
			return p
		}
	}
	_ = p.Wait()
	t.Fatalf("the program did not start: %s", errs.String())
	return nil
}

// kill ends the program without a word.
func (p *process) kill() {
	_ = p.Process.Kill()
	_ = p.Wait()
}

// post sends a form and returns the status; 0 where the program died first.
func (p *process) post(path, kind string, body io.Reader) int {
	req, err := http.NewRequest(http.MethodPost, p.base+path, body)
	if err != nil {
		return 0
	}
	req.Header.Set("Content-Type", kind)
	req.Header.Set("Sec-Fetch-Site", "same-origin")
	if p.number != "" {
		req.Header.Set(ui.ChangeHeader, p.number)
	}
	if p.seen != "" {
		req.Header.Set("X-Seen", p.seen)
		req.Header.Set("HX-Request", "true")
	}
	c := http.Client{CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }}
	res, err := c.Do(req)
	if err != nil {
		return 0
	}
	defer res.Body.Close()
	return res.StatusCode
}

// asForm is a file as a form sends it.
func asForm(data []byte) (kind string, body []byte) {
	var b bytes.Buffer
	w := multipart.NewWriter(&b)
	f, _ := w.CreateFormFile("file", "log.csv")
	_, _ = f.Write(data)
	w.Close()
	return w.FormDataContentType(), b.Bytes()
}

// loggedRows is a file of readings.
func loggedRows(rows int) []byte {
	var b bytes.Buffer
	fmt.Fprintln(&b, "time,inlet,outlet,outdoor")
	at := time.Date(2026, 1, 1, 0, 0, 0, 0, time.UTC)
	for i := range rows {
		fmt.Fprintf(&b, "%s,%d,%d,%d\n", at.Add(time.Duration(i)*30*time.Second).Format(time.DateTime), 18+i%3, 25+i%31, i%7)
	}
	return b.Bytes()
}

// Killed at any moment of an import, fifty times, the file is wholly in the log or wholly out; what was acknowledged is in; and the same
// file again adds what is missing and no more.
func TestKilledDuringImport(t *testing.T) {
	if testing.Short() {
		t.Skip("it starts the program itself: it runs without the race detector")
	}
	times := 50
	if os.Getenv("GLADEMBER_LONG") == "" {
		times = 5
	}
	const rows = 60_000
	program, data, st := workshopOf(t)
	kind, body := asForm(loggedRows(rows))
	r := rand.New(rand.NewPCG(101, 102))
	in, acknowledged := 0, 0
	long := time.Minute // an import, as the first one shows
	for n := range times {
		p := started(t, program, data)
		if n%5 == 4 { // killed while the file is still on its way
			go func() { time.Sleep(time.Duration(r.IntN(60)) * time.Millisecond); _ = p.Process.Kill() }()
		}
		status := p.post(fmt.Sprintf("/h/%d/log/upload", st.Heater), kind, bytes.NewReader(body))
		if n%5 < 4 {
			if status != http.StatusSeeOther {
				t.Fatalf("the upload answers %d", status)
			}
			done, begun := make(chan int, 1), time.Now()
			go func() {
				done <- p.post(fmt.Sprintf("/h/%d/log/import", st.Heater), "application/x-www-form-urlencoded",
					strings.NewReader(url.Values{"file": {lastUpload(t, data)}}.Encode()))
			}()
			select {
			case status = <-done:
				long = min(long, time.Since(begun))
			case <-time.After(time.Duration(float64(long) * 1.2 * r.Float64())):
				status = 0
			}
		} else {
			status = 0
		}
		p.kill()
		if whole(t, data, st.Logged(), rows) {
			in++
		} else if status == http.StatusSeeOther {
			t.Fatalf("run %d: an acknowledged import is lost", n)
		}
		if status == http.StatusSeeOther {
			acknowledged++
		}
	}
	p := started(t, program, data)
	for range 2 { // whole, and once more
		p.post(fmt.Sprintf("/h/%d/log/upload", st.Heater), kind, bytes.NewReader(body))
		p.post(fmt.Sprintf("/h/%d/log/import", st.Heater), "application/x-www-form-urlencoded",
			strings.NewReader(url.Values{"file": {lastUpload(t,
				data)}}.Encode()))
	}
	p.kill()
	if !whole(t, data, st.Logged(), rows) {
		t.Error("the file is not in the log once after it was sent twice")
	}
	if acknowledged == 0 || in == times {
		t.Errorf("%d imports of %d were whole, %d acknowledged: no kill met one", in, times, acknowledged)
	}
	t.Logf("%d kills: %d imports whole, %d of them acknowledged, the rest out", times, in, acknowledged)
	if left, _ := os.ReadDir(data + ".uploads"); len(left) > times {
		t.Errorf("%d files are left behind", len(left))
	}
}

// lastUpload is the number of the file that waits.
func lastUpload(t *testing.T, data string) string {
	s, err := store.Open(t.Context(), data)
	if err != nil {
		return ""
	}
	defer s.Close()
	id, _ := s.NextUpload(t.Context(), 1)
	return fmt.Sprint(id)
}

// whole says whether a log has its file; it must have all of it or nothing. It is taken out for the next time.
func whole(t *testing.T, data string, of store.Logged, rows int) bool {
	t.Helper()
	s, err := store.Open(t.Context(), data)
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	list, err := s.Imports(t.Context(), of)
	if err != nil {
		t.Fatal(err)
	}
	from := time.Date(2025, 12, 1, 0, 0, 0, 0, time.UTC)
	got, err := s.Readings(t.Context(), of, from, from.AddDate(1, 0, 0))
	if err != nil {
		t.Fatal(err)
	}
	switch {
	case len(list) == 0 && len(got) == 0:
		return false
	case len(list) != 1 || len(got) != rows || list[0].Added != 3*rows:
		t.Fatalf("%d files, %d readings, %+v", len(list), len(got), list)
	}
	for i := range got {
		if got[i].Outlet != float64(25+i%31) {
			t.Fatalf("reading %d: %+v", i, got[i])
		}
	}
	if err := s.RemoveImport(t.Context(), of.Heater, list[0].ID); err != nil {
		t.Fatal(err)
	}
	return true
}

// Killed while somebody types, a hundred times: every change that was acknowledged is there, and the document is one that was sent.
func TestKilledWhileEditing(t *testing.T) {
	if testing.Short() {
		t.Skip("it starts the program itself: it runs without the race detector")
	}
	times := 100
	if os.Getenv("GLADEMBER_LONG") == "" {
		times = 2
	}
	program, data, st := workshopOf(t)
	r := rand.New(rand.NewPCG(103, 104))
	width, all := 500, 0 // mm, of the last change sent
	for n := range times {
		p := started(t, program, data)
		p.seen = fmt.Sprintf("%d.%d.hand", st.Version, st.Revision)
		if res, err := http.Get(fmt.Sprintf("%s/h/%d/box", p.base, st.Heater)); err == nil { // the list of towns is there then
			res.Body.Close()
		}
		go func() { time.Sleep(time.Duration(r.IntN(400)) * time.Millisecond); _ = p.Process.Kill() }()
		acknowledged := 0
		for {
			width++
			form := url.Values{"path": {design.PaneWidth.Path}, "typed": {fmt.Sprintf("%d mm", width)}, "station": {"box"}}
			status := p.post(fmt.Sprintf("/h/%d/edit", st.Heater), "application/x-www-form-urlencoded", strings.NewReader(form.Encode()))
			if status != http.StatusOK && status != 0 {
				t.Fatalf("a change gets %d", status)
			}
			if status == 0 {
				break
			}
			acknowledged = width
			all++
		}
		p.kill()
		s, err := store.Open(t.Context(), data)
		if err != nil {
			t.Fatal(err)
		}
		if st, err = s.Get(t.Context(), st.Heater); err != nil {
			t.Fatal(err)
		}
		s.Close()
		if got := int(math.Round(st.Document.Pane.Width * 1000)); acknowledged > 0 && got != acknowledged && got != width {
			t.Fatalf("run %d: the file has %d mm, %d were acknowledged and %d sent", n, got, acknowledged, width)
		}
		if width > 2800 {
			width = 500
		}
	}
	if all < times {
		t.Errorf("only %d changes were acknowledged in %d runs", all, times)
	}
	t.Logf("%d kills, %d changes acknowledged, none lost", times, all)
}

// A program that is told to stop while somebody sends slowly stops within its patience, and says that all is well.
func TestStopsWhileSomebodySends(t *testing.T) {
	if testing.Short() {
		t.Skip("it starts the program itself: it runs without the race detector")
	}
	p := started(t, built(t), filepath.Join(t.TempDir(), "w.db"))
	defer p.kill()
	for range 3 {
		c, err := net.Dial("tcp", strings.TrimPrefix(p.base, "http://"))
		if err != nil {
			t.Fatal(err)
		}
		defer c.Close()
		fmt.Fprintf(c, "POST /h/1/log/upload HTTP/1.1\r\nHost: %s\r\nSec-Fetch-Site: same-origin\r\nContent-Type: multipart/form-data; "+
			"boundary=x\r\nContent-Length: 9999\r\n\r\n--x\r\n", strings.TrimPrefix(p.base, "http://"))
	}
	time.Sleep(200 * time.Millisecond)
	p.stops(t, os.Interrupt)
}

// What adds something is made once even where the program was killed before its answer came, and it is sent again to the next one.
func TestSentAgainAfterAKill(t *testing.T) {
	if testing.Short() {
		t.Skip("it starts the program itself: it runs without the race detector")
	}
	program, data := demoWorkshop(t)
	changes := []struct {
		path   string
		fields url.Values
	}{
		{"/h/2/journal/add", url.Values{"note": {"The panes came."}}},
		{"/h/2/log/exclude", url.Values{"from": {"2026-02-10T12:00"}, "to": {"2026-02-10T13:00"}, "why": {"a ladder stood before it"}}},
		{"/h/2/cut/tick", url.Values{"part": {firstPart(t, data, 2)}, "by": {"1"}}},
	}
	var counts [3]int
	count := func() (n [3]int) {
		s, err := store.Open(t.Context(), data)
		if err != nil {
			t.Fatal(err)
		}
		defer s.Close()
		notes, err1 := s.Notes(t.Context(), 2)
		excluded, err2 := s.Excluded(t.Context(), 2)
		cut, err3 := s.CutPieces(t.Context(), 2)
		if err := errors.Join(err1, err2, err3); err != nil {
			t.Fatal(err)
		}
		for _, c := range cut {
			n[2] += c.Done
		}
		n[0], n[1] = len(notes), len(excluded)
		return n
	}
	before := count()
	for range 3 {
		p := started(t, program, data)
		p.seen = p.seenOf(t.Context(), t, 2) + ".again"
		for i, x := range changes {
			p.number = fmt.Sprint("change", i)
			if got := p.post(x.path, "application/x-www-form-urlencoded", strings.NewReader(x.fields.Encode())); got >= 400 {
				t.Fatalf("%s: %d", x.path, got)
			}
		}
		p.kill()
		counts = count()
		for i, x := range changes {
			if counts[i] != before[i]+1 {
				t.Errorf("%s: %d were %d", x.path, counts[i], before[i])
			}
		}
	}
}

// firstPart is the name of a part that a heater is cut from.
func firstPart(t *testing.T, data string, heater int64) string {
	t.Helper()
	s, err := store.Open(t.Context(), data)
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	st, err := s.Get(t.Context(), heater)
	if err != nil {
		t.Fatal(err)
	}
	l, err := layout.Build(&st.Document)
	if err != nil {
		t.Fatal(err)
	}
	return l.Cut()[0].Name
}

// What arrived when the program was killed lies beside the workshop's file, and a later start removes it once it belongs to nobody; the
// folder goes with a program that stops.
func TestKilledWhileSomethingArrives(t *testing.T) {
	if testing.Short() {
		t.Skip("it starts the program itself: it runs without the race detector")
	}
	elsewhere := t.TempDir()
	t.Setenv("TMPDIR", elsewhere)
	program, data, st := workshopOf(t)
	temporary := data + ".tmp"
	lies := func(want int) (names []string) {
		t.Helper()
		for range 100 {
			if names, _ = filepath.Glob(filepath.Join(temporary, "*")); len(names) == want {
				return names
			}
			time.Sleep(50 * time.Millisecond)
		}
		t.Fatalf("%d files lie there, not %d", len(names), want)
		return nil
	}
	p := started(t, program, data)
	defer p.kill()
	kind, body := asForm(bytes.Repeat([]byte("1,2,3\n"), 200_000))
	slow, send := io.Pipe()
	go p.post(fmt.Sprintf("/h/%d/log/upload", st.Heater), kind, slow)
	if _, err := send.Write(body[:len(body)/2]); err != nil {
		t.Fatal(err)
	}
	left := lies(1)
	p.kill()
	send.Close()
	p = started(t, program, data)
	defer p.kill()
	time.Sleep(300 * time.Millisecond)
	lies(1) // it may be that of another program
	p.stops(t, os.Interrupt)
	if err := os.Chtimes(left[0], time.Time{}, time.Now().Add(-2*time.Hour)); err != nil {
		t.Fatal(err)
	}
	p = started(t, program, data)
	defer p.kill()
	lies(0)
	p.stops(t, os.Interrupt)
	if _, err := os.Stat(temporary); !errors.Is(err, fs.ErrNotExist) {
		t.Errorf("the folder stays: %v", err)
	}
	if names, _ := os.ReadDir(elsewhere); len(names) > 0 {
		t.Errorf("%v lies elsewhere", names)
	}
}

// stops tells a process to stop, and checks that it does so within its patience and says that all is well.
func (p *process) stops(t *testing.T, by os.Signal) {
	t.Helper()
	begun := time.Now()
	if err := p.Process.Signal(by); err != nil {
		t.Fatal(err)
	}
	if err := p.Wait(); err != nil {
		t.Errorf("it ends with %v", err)
	}
	if d := time.Since(begun); d > 9*time.Second {
		t.Errorf("it took %v to stop", d)
	}
}

// Killed while it copies, thirty times: the copy is whole or not there, the workshop as it was, and the next backup under that name works.
func TestKilledDuringBackup(t *testing.T) {
	if testing.Short() {
		t.Skip("it starts the program itself: it runs without the race detector")
	}
	times := 30
	if os.Getenv("GLADEMBER_LONG") == "" {
		times = 3
	}
	program, data, st := workshopOf(t)
	s, err := store.Open(t.Context(), data)
	if err != nil {
		t.Fatal(err)
	}
	for n := range 40 { // some megabytes
		if _, err := s.AddNote(t.Context(), st.Heater, store.Note{Note: fmt.Sprint(n)}, bytes.Repeat([]byte{byte(n), 3, 1, 4},
			60_000)); err != nil {
			t.Fatal(err)
		}
	}
	s.Close()
	r := rand.New(rand.NewPCG(105, 106))
	long, copies := time.Minute, 0
	for n := range times {
		to := filepath.Join(t.TempDir(), "copy.db")
		c := exec.Command(program, "backup", to, "--data", data)
		begun := time.Now()
		if err := c.Start(); err != nil {
			t.Fatal(err)
		}
		if n > 0 {
			time.Sleep(time.Duration(float64(long) * 1.1 * r.Float64()))
			_ = c.Process.Kill()
		}
		err := c.Wait()
		if err == nil {
			long = min(long, time.Since(begun))
		}
		if _, there := os.Stat(to); there == nil {
			copies++
			if !notesOf(t, to, st.Heater) {
				t.Errorf("run %d: the copy is not whole", n)
			}
			continue
		} else if err == nil {
			t.Errorf("run %d: a backup that ended well is not there", n)
		}
		if b, err := exec.Command(program, "backup", to, "--data", data).CombinedOutput(); err != nil || !notesOf(t, to, st.Heater) {
			t.Errorf("run %d: the next backup: %v %s", n, err, b)
		}
	}
	if !notesOf(t, data, st.Heater) {
		t.Error("the workshop suffered")
	}
	t.Logf("%d backups, %d of them whole before the kill", times, copies)
}

// notesOf says whether a workshop is sound and has its forty notes.
func notesOf(t *testing.T, path string, heater int64) bool {
	t.Helper()
	s, err := store.Open(t.Context(), path)
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	list, err := s.Notes(t.Context(), heater)
	return err == nil && len(list) == 40 && s.Damaged() == ""
}

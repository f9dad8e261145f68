package main

import (
	"archive/zip"
	"bytes"
	"fmt"
	"io"
	"net/http"
	"os"
	"regexp"
	"strconv"
	"strings"
	"sync"
	"testing"
	"time"
)

// mostMemory is the most memory that a process has had, MB; of Linux alone.
func mostMemory(t *testing.T, p *process) float64 {
	t.Helper()
	return memory(t, p, "VmHWM")
}

// memory is a figure of a process's memory, MB.
func memory(t *testing.T, p *process, what string) float64 {
	t.Helper()
	b, err := os.ReadFile(fmt.Sprintf("/proc/%d/status", p.Process.Pid))
	if err != nil {
		t.Skip("SKIPPED: this system does not tell a process's memory")
	}
	m := regexp.MustCompile(what + `:\s+(\d+) kB`).FindStringSubmatch(string(b))
	if m == nil {
		t.Fatalf("%s is missing", what)
	}
	kb, _ := strconv.ParseFloat(m[1], 64)
	return kb / 1000
}

// rowOfCells is a spreadsheet with one row of millions of cells.
func rowOfCells(t *testing.T, cells int) []byte {
	t.Helper()
	var b bytes.Buffer
	z := zip.NewWriter(&b)
	for name, text := range map[string]string{"xl/workbook.xml": "<workbook/>",
		"xl/worksheets/sheet1.xml": `<worksheet><sheetData><row r="1">` +
			strings.Repeat("<c><v>1</v></c>", cells) + "</row></sheetData></worksheet>"} {
		w, err := z.Create(name)
		if err != nil {
			t.Fatal(err)
		}
		_, _ = io.WriteString(w, text)
	}
	z.Close()
	return b.Bytes()
}

// Files that mean harm and six large ones at once take little memory, and pages answer meanwhile. The bounds are those that are promised.
func TestUploadStorm(t *testing.T) {
	if os.Getenv("GLADEMBER_LONG") == "" {
		t.Skip("hundreds of megabytes: ./test long")
	}
	program, data, st := workshopOf(t)
	upload := fmt.Sprintf("/h/%d/log/upload", st.Heater)
	const head = "time,inlet,outlet\n"
	const oneUpload, sixUploads = 300.0, 500.0 // MB
	large := []byte(head + strings.Repeat("2026-02-10 12:00,18,40\n", 2_000_000))
	for name, x := range map[string]struct {
		data   []byte
		status int
	}{
		"short rows":       {[]byte(head + strings.Repeat("1,2\n", 12_500_000)), http.StatusSeeOther},
		"a row of cells":   {[]byte(head + strings.Repeat("1,", 26_000_000) + "\n"), http.StatusUnprocessableEntity},
		"a sheet of cells": {rowOfCells(t, 5_000_000), http.StatusUnprocessableEntity},
		"over the bound":   {make([]byte, 80<<20), 0}, // cut off, or told
		"large":            {large, http.StatusSeeOther},
	} {
		p := started(t, program, data)
		kind, body := asForm(x.data)
		begun := time.Now()
		status := p.post(upload, kind, bytes.NewReader(body))
		if x.status != 0 && status != x.status || x.status == 0 && status != 0 && status != http.StatusRequestEntityTooLarge {
			t.Errorf("%s: %d", name, status)
		}
		if mb := mostMemory(t, p); mb > oneUpload {
			t.Errorf("%s: %.0f MB", name, mb)
		} else {
			t.Logf("%s: status %d in %v, peak %.0f MB", name, status, time.Since(begun).Round(10*time.Millisecond), mb)
		}
		p.kill()
	}
	p := started(t, program, data)
	defer p.kill()
	page := func() time.Duration {
		begun := time.Now()
		res, err := http.Get(fmt.Sprintf("%s/h/%d/box", p.base, st.Heater))
		if err != nil {
			t.Fatal(err)
		}
		_, _ = io.Copy(io.Discard, res.Body)
		res.Body.Close()
		return time.Since(begun)
	}
	page() // the list of towns is there then
	var wg sync.WaitGroup
	kind, body := asForm(large)
	for range 6 {
		wg.Go(func() { p.post(upload, kind, bytes.NewReader(body)) })
	}
	slowest := time.Duration(0)
	for range 12 {
		slowest = max(slowest, page())
		time.Sleep(150 * time.Millisecond)
	}
	wg.Wait()
	if mb := mostMemory(t, p); mb > sixUploads || slowest > time.Second {
		t.Errorf("six at once: %.0f MB, a page took %v", mb, slowest)
	} else {
		t.Logf("six at once: peak %.0f MB, the slowest page %v", mb, slowest.Round(time.Millisecond))
	}
	time.Sleep(40 * time.Second) // it rests
	if mb := memory(t, p, "VmRSS"); mb > 80 {
		t.Errorf("at rest it has %.0f MB", mb)
	} else {
		t.Logf("at rest %.0f MB", mb)
	}
}

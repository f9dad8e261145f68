package main

import (
	"bufio"
	"bytes"
	"context"
	"io"
	"net"
	"net/http"
	"net/http/cookiejar"
	"net/url"
	"path/filepath"
	"regexp"
	"strings"
	"testing"
	"time"
)

// serving starts the program's server and returns what it prints until its address is known, with
// a function that stops it and returns its exit status.
func serving(t *testing.T, args ...string) (string, func() int) {
	t.Helper()
	ctx, cancel := context.WithCancel(t.Context())
	r, w := io.Pipe()
	var errs bytes.Buffer
	done := make(chan int, 1)
	go func() {
		code := run(ctx, append([]string{"serve", "--data", filepath.Join(t.TempDir(), "w.db"), "--address", "127.0.0.1:0"}, args...),
			nil, w, &errs)
		w.Close()
		done <- code
	}()
	var said strings.Builder
	lines := bufio.NewScanner(r)
	for lines.Scan() {
		said.WriteString(lines.Text() + "\n")
		if strings.HasPrefix(lines.Text(), "Open http") {
			return said.String(), func() int {
				cancel()
				select {
				case code := <-done:
					return code
				case <-time.After(10 * time.Second):
					t.Error("the server does not stop")
					return -1
				}
			}
		}
	}
	cancel()
	t.Fatalf("%v: exit %d, %s", args, <-done, errs.String())
	return "", nil
}

// A shared workshop answers at its own address without a code and at the shared address by a code
// that is good once.
func TestServeShared(t *testing.T) {
	said, stop := serving(t, "--share", "--share-at", "127.0.0.2")
	at := regexp.MustCompile(`open http://(\S+) on it and enter (\S+)\.`).FindStringSubmatch(said)
	here := regexp.MustCompile(`Open http://(\S+) in`).FindStringSubmatch(said)
	if at == nil || here == nil {
		t.Fatalf("no address or code in %q", said)
	}
	if host, _, _ := net.SplitHostPort(at[1]); host != "127.0.0.2" {
		t.Errorf("a phone is sent to %s", at[1])
	}
	jar, err := cookiejar.New(nil)
	if err != nil {
		t.Fatal(err)
	}
	phone := &http.Client{Jar: jar, Timeout: 10 * time.Second}
	get := func(c *http.Client, address string) (string, string) {
		res, err := c.Get(address)
		if err != nil {
			t.Fatal(err)
		}
		defer res.Body.Close()
		b, err := io.ReadAll(res.Body)
		if err != nil || res.StatusCode != http.StatusOK {
			t.Fatal(address, res.Status, err)
		}
		return res.Request.URL.Path, string(b)
	}
	if path, _ := get(&http.Client{}, "http://"+here[1]+"/"); path != "/" {
		t.Errorf("this machine's own browser is sent to %s", path)
	}
	path, page := get(phone, "http://"+at[1]+"/")
	token := regexp.MustCompile(`name="csrf" value="([^"]+)"`).FindStringSubmatch(page)
	if path != "/pair" || token == nil {
		t.Fatalf("a stranger is sent to %s", path)
	}
	pair := func(code string) string {
		res, err := phone.PostForm("http://"+at[1]+"/pair", url.Values{"csrf": {token[1]}, "code": {code}, "name": {"phone"}})
		if err != nil {
			t.Fatal(err)
		}
		defer res.Body.Close()
		return res.Request.URL.Path
	}
	if path := pair("WRONG234"); path != "/pair" {
		t.Errorf("a wrong code leads to %s", path)
	}
	if path := pair(at[2]); path != "/" {
		t.Errorf("the code leads to %s", path)
	}
	if path, _ := get(phone, "http://"+at[1]+"/devices"); path != "/devices" {
		t.Errorf("the paired device is sent to %s", path)
	}
	if code := stop(); code != 0 {
		t.Errorf("exit %d", code)
	}
}

// What cannot be shared at is refused with what would be right, and leaves no port open.
func TestServeRefuses(t *testing.T) {
	for want, args := range map[string][]string{
		"is no address of this machine":  {"--share", "--share-at", "shop"},
		"choose another port":            {"--share", "--share-at", "10.255.255.250"},
		"reached from outside the house": {"--share", "--share-at", "198.51.100.7"},
		"reaches beyond this machine":    {"--address", "0.0.0.0:0"},
	} {
		var out, errs bytes.Buffer
		if code := run(t.Context(), append([]string{"serve", "--data", filepath.Join(t.TempDir(), "w.db")},
			append([]string{"--address", "127.0.0.1:0"}, args...)...), nil, &out, &errs); code != badInput ||
			!strings.Contains(errs.String(), want) {
			t.Errorf("%v: exit %d, %s", args, code, errs.String())
		}
	}
}

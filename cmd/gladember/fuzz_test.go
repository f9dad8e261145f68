package main

import (
	"bytes"
	"context"
	"encoding/json"
	"strings"
	"testing"
)

// Whatever a cutting list holds, the command ends with a plan in JSON or with status 2 and one line, and never panics.
func FuzzCut(f *testing.F) {
	for _, seed := range []string{
		`{"kerf_mm":3,"stock":[{"name":"a","length_mm":2400}],"parts":[{"name":"p","length_mm":800,"count":2}]}`,
		`{"sheets":[{"name":"s","width_mm":1220,"height_mm":2440,"price":40}],` +
			`"panels":[{"name":"p","width_mm":600,"height_mm":600,"count":3}]}`,
		`{"trim_mm":500,"stock":[{"name":"a","length_mm":100,"count":0}],"parts":[{"name":"p","length_mm":1e-9,"count":1}]}`,
		`{"stock":null,"parts":null}`, `{`, `[]`, `{"kerf_mm":"x"}`,
	} {
		f.Add(seed)
	}
	f.Fuzz(func(t *testing.T, list string) {
		if len(list) > 2000 {
			t.Skip()
		}
		var out, errs bytes.Buffer
		status := run(context.Background(), []string{"cut", "-", "--seconds", "0.05"}, strings.NewReader(list), &out, &errs)
		switch status {
		case 0:
			var r cutResult
			if err := json.Unmarshal(out.Bytes(), &r); err != nil || r.LowerBound > r.BarsUsed || r.Waste < -1e-9 || r.Waste > 1 {
				t.Errorf("the plan is %.300s (%v)", out.String(), err)
			}
		case badInput:
			if out.Len() > 0 || strings.Count(errs.String(), "\n") != 1 {
				t.Errorf("output %q, message %q", out.String(), errs.String())
			}
		default:
			t.Errorf("status %d", status)
		}
	})
}

package collector

import (
	"encoding/json"
	"os"
	"testing"

	"gladember/core/design"
	"gladember/core/solar"
)

// Two whole networks against SciPy: testdata/network.py writes the equations
// anew, air as a differential equation, single pass by solve_ivp and double
// pass as a boundary-value problem by solve_bvp. Its air properties are a cubic
// through Incropera's table, ours its own fit; eight segments against a
// continuum and properties account for what is left.
func TestNetworkAgainstSciPy(t *testing.T) {
	type solved struct {
		Outlet   float64 `json:"outlet_c"`
		Heat     float64 `json:"heat_w"`
		Cover    float64 `json:"cover_c"` // where the air leaves
		Plate    float64 `json:"plate_c"`
		Back     float64 `json:"back_c"`
		CoverSun float64 `json:"cover_sun_w_m2"`
		PlateSun float64 `json:"plate_sun_w_m2"`
	}
	var ref struct {
		Conditions struct {
			Beam    float64 `json:"beam"`
			SkySun  float64 `json:"sky_sun"`
			Ground  float64 `json:"ground_sun"`
			Ambient float64 `json:"ambient"`
			Inlet   float64 `json:"inlet"`
			Sky     float64 `json:"sky"`
			Wind    float64 `json:"wind"`
			P       float64 `json:"p"`
			Flow    float64 `json:"flow"`
			Tilt    float64 `json:"tilt"`
		} `json:"conditions"`
		BackPass   solved `json:"back_pass"`
		DoublePass solved `json:"double_pass"`
	}
	b, err := os.ReadFile("testdata/network.json")
	if err != nil {
		t.Fatal(err)
	}
	if err := json.Unmarshal(b, &ref); err != nil {
		t.Fatal(err)
	}
	k := ref.Conditions
	c := Conditions{Sun: solar.OnPlane{Beam: k.Beam, Sky: k.SkySun, Ground: k.Ground}, Tilt: k.Tilt, Ambient: k.Ambient, Inlet: k.Inlet,
		Sky: k.Sky, Wind: k.Wind, Pressure: k.P, Flow: k.Flow}
	for name, want := range map[string]solved{"back-pass-plate": ref.BackPass, "double-pass-plate": ref.DoublePass} {
		b, err := os.ReadFile("testdata/" + name + ".json")
		if err != nil {
			t.Fatal(err)
		}
		h, err := design.Decode(b)
		if err != nil {
			t.Fatal(err)
		}
		h.Box.Seam = 0
		d, err := Describe(&h)
		if err != nil {
			t.Fatal(err)
		}
		sun, _, _ := d.lit(c, Tuning{})
		within(t, name+" sun in the cover", sun[0], want.CoverSun, 0.001)
		within(t, name+" sun in the plate", sun[1], want.PlateSun, 0.001)
		r := rate(t, &h, c)
		within(t, name+" heat", r.Heat, want.Heat, 0.005)
		within(t, name+" rise", r.Outlet-k.Inlet, want.Outlet-k.Inlet, 0.005)
		last := len(r.Layers[0].Along) - 1
		for i, w := range []float64{want.Cover, want.Plate, want.Back} {
			// The last segment's middle lies a sixteenth before the end.
			if got := r.Layers[i].Along[last]; got-w > 1 || w-got > 1 {
				t.Errorf("%s: %s at the outlet %.2f C, SciPy %.2f C", name, r.Layers[i].Name, got, w)
			}
		}
		// With more segments the continuum is met more closely.
		d.Cells = 64
		fine, err := d.Rate(c, Tuning{}, nil)
		if err != nil {
			t.Fatal(err)
		}
		within(t, name+" heat by 64 segments", fine.Heat, want.Heat, 0.001)
		t.Logf("%s: %.2f W, by 64 segments %.2f W, SciPy %.2f W; outlet %.3f C, SciPy %.3f C", name, r.Heat, fine.Heat, want.Heat,
			r.Outlet, want.Outlet)
	}
}

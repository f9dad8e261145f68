package collector

import (
	"fmt"
	"math"

	"gladember/core/air"
	"gladember/core/airflow"
	"gladember/core/catalog"
	"gladember/core/design"
	"gladember/core/heattransfer"
	"gladember/core/optics"
)

// Segments is how many pieces the air's way is cut into.
const Segments = 8

// LayerKind says what a layer is, for reading its temperature.
type LayerKind int

// Kinds of layer.
const (
	CoverLayer LayerKind = iota
	AbsorberLayer
	BackLayer
)

// Layer is a solid sheet of the stack behind the covers.
type Layer struct {
	Name     string
	Kind     LayerKind
	Material string // catalogue id
	Service  float64
	Gap      float64 // air in front of it, mean, m
	Infrared optics.Layer
	// Sun gives what the layer does to sunlight at an incidence in degrees.
	Sun func(theta float64) optics.Layer
}

// Flow is what an air network is built for.
type Flow struct {
	Mass    float64 // enters at the inlet, kg/s
	LeakOut float64 // lost on the way, kg/s
	LeakIn  float64 // drawn in from outdoors on the way, kg/s
	Mean    float64 // of the air, C
	P       float64 // Pa
	Tune    Tuning
	First   int // index of the first layer behind the covers
}

// AirNet is the air side of a box for one flow.
type AirNet struct {
	Airs    []Air
	Outlet  []Feed
	LeakOut []Feed
	Along   [][]Feed // by segment: the air on its way to the outlet, by mass
}

// Passages is what makes a family: layers, where air runs between them, and
// the pressure it costs.
type Passages struct {
	Layers   []Layer
	Air      func(Flow) AirNet
	Elements []airflow.Element
}

// Description is a whole box as the solver needs it.
type Description struct {
	Width, Height float64 // aperture, m
	Gross         float64 // m2
	Sheets        []optics.Sheet
	CoverInfrared []optics.Layer
	CoverService  float64
	CoverMaterial string
	Between       float64 // m
	Dirt          float64
	Passages      Passages
	BackU         func(Tuning) float64 // W/m2K
	EdgeUA        func(Tuning) float64 // W/K
	Seam          float64              // m3/s at 1 Pa
	Cold, Hot     []airflow.Element
	Fan           airflow.Fan
	FanAtHot      bool
}

// Aperture is the area that lets sun in, m2.
func (d *Description) Aperture() float64 { return d.Width * d.Height }

// Loss coefficients of the ways in and out, on the velocity pressure in the
// duct. ASHRAE Fundamentals, duct design (recalled from memory); bends and
// flap: common practice, no source.
const (
	lossEntrance = 0.5
	lossExit     = 1.0
	lossBendHard = 0.3
	lossBendFlex = 0.6
	lossFlap     = 1.5
)

// films, m2K/W. Source: ISO 6946, outside surface.
const outsideFilm = 0.04

// Describe turns a valid heater into what the solver needs.
func Describe(h *design.Heater) (Description, error) {
	d := Description{Width: h.ApertureWidth(), Height: h.ApertureHeight(), Gross: h.Gross(), Between: h.Cover.Between, Dirt: h.Cover.Dirt, FanAtHot: h.Air.FanSide == "outlet"}
	cover, err := catalog.FindCover(h.Cover.Material)
	if err != nil {
		return d, err
	}
	for range h.Cover.Layers {
		d.Sheets = append(d.Sheets, optics.Sheet{N: cover.Index, KL: cover.Extinction * h.Cover.Thickness})
		r := 1 - cover.Emittance - cover.Transmit
		d.CoverInfrared = append(d.CoverInfrared, optics.Layer{Transmit: cover.Transmit, ReflectFront: r, ReflectBack: r})
	}
	d.CoverService, d.CoverMaterial = cover.Service, cover.ID
	foam, err := catalog.FindInsulation(h.Box.Foam)
	if err != nil {
		return d, err
	}
	wood, err := catalog.FindWood(h.Box.Frame)
	if err != nil {
		return d, err
	}
	d.BackU = func(t Tuning) float64 {
		return 1 / (h.Box.BackFoam/(foam.Conductivity*(1+t.Foam)) + h.Box.Board/wood.Conductivity + outsideFilm)
	}
	perimeter := 2 * (d.Width + d.Height)
	d.EdgeUA = func(t Tuning) float64 {
		u := 1 / (h.Box.EdgeFoam/(foam.Conductivity*(1+t.Foam)) + h.Box.FrameWidth/wood.Conductivity + outsideFilm)
		// The frame bridges the back foam's edge: its own width of wood from
		// the cavity to the outside, over half its depth.
		bridge := wood.Conductivity * (1 + t.Foam) * h.Box.FrameWidth / math.Max(0.02, h.FrameDepth()/2)
		return perimeter * (u*h.CavityDepth() + bridge)
	}
	d.Seam = 2 * 2 * (h.OuterWidth() + h.OuterHeight()) * h.Box.Seam // glazing bed and frame corners
	duct, err := catalog.FindDuct(h.Air.Duct)
	if err != nil {
		return d, err
	}
	bend := lossBendFlex
	if duct.ID == "smooth" {
		bend = lossBendHard
	}
	run := func(length, fittings float64) []airflow.Element {
		return []airflow.Element{airflow.Duct{Diameter: h.Air.Diameter, Length: length, Roughness: duct.Roughness, Fittings: fittings}}
	}
	flap := 0.0
	if h.Air.Flap {
		flap = lossFlap
	}
	half := bend * float64(h.Air.Bends) / 2
	d.Cold = run(h.Air.ToBox, lossEntrance+lossExit+half)
	d.Hot = run(h.Air.FromBox, lossEntrance+lossExit+half+flap)
	d.Fan = airflow.Fan{FreeAir: h.Air.FanFree, ShutOff: h.Air.FanShut, Power: h.Air.FanPower, Radial: h.Air.FanRadial}
	switch h.Absorber.Family {
	case design.ScreenBox:
		d.Passages, err = screenBox(h, foam)
	case design.BackPassPlate:
		d.Passages, err = backPass(h, foam)
	default:
		err = fmt.Errorf("no way of making is called %q", h.Absorber.Family)
	}
	return d, err
}

func opaque(absorptance, emittance float64) (func(float64) optics.Layer, optics.Layer) {
	sun := optics.Layer{ReflectFront: 1 - absorptance, ReflectBack: 1 - absorptance}
	return func(float64) optics.Layer { return sun }, optics.Layer{ReflectFront: 1 - emittance, ReflectBack: 1 - emittance}
}

// channel is one slot between two plates in which a stream runs.
type channel struct {
	area, wet, length float64 // m2, m of hydraulic diameter, m
	heated            float64 // surface per m2 of aperture on each side
}

// h returns the coefficient of each wall, W/m2K of aperture.
func (c channel) h(mass float64, f Flow) float64 {
	mu, k := air.Viscosity(f.Mean), air.Conductivity(f.Mean)
	re := mass * c.wet / (c.area * mu)
	return heattransfer.Slot(re, air.Prandtl(f.Mean), c.wet, c.length) * k / c.wet * (1 + f.Tune.AirNu) * c.heated
}

// always is a touch whose coefficient does not follow the temperatures.
func always(layer int, h float64) Touch {
	return Touch{Layer: layer, H: func(_, _ float64) float64 { return h }}
}

// along builds the feeds of a stream that takes the inlet's air from segment 0
// to the last and loses or gains its share of the leak in each.
func along(self int, f Flow) (feeds [][]Feed, mass []float64, leak []Feed) {
	m := f.Mass
	for i := range Segments {
		src := Feed{From: self, At: i - 1, Mass: m}
		if i == 0 {
			src = Feed{From: FromInlet, Mass: m}
		}
		fs := []Feed{src}
		if f.LeakIn > 0 {
			fs = append(fs, Feed{From: FromOutdoor, Mass: f.LeakIn / Segments})
			m += f.LeakIn / Segments
		}
		feeds, mass = append(feeds, fs), append(mass, m)
		if f.LeakOut > 0 {
			leak = append(leak, Feed{From: self, At: i, Mass: f.LeakOut / Segments})
			m -= f.LeakOut / Segments
		}
	}
	return feeds, append(mass, m), leak
}

// backPass: a dark plate, the air in a channel between it and the back.
func backPass(h *design.Heater, foam catalog.Insulation) (Passages, error) {
	a := h.Absorber.Plate
	metal, err := catalog.FindSheet(a.Metal)
	if err != nil {
		return Passages{}, err
	}
	paint, err := catalog.FindPaint(h.Absorber.Paint)
	if err != nil {
		return Passages{}, err
	}
	sun, ir := opaque(paint.Absorptance, paint.Emittance)
	w, l := h.ApertureWidth(), h.ApertureHeight()
	passes := float64(a.Baffles + 1)
	c := channel{area: a.Channel * w, wet: 2 * a.Channel, length: l, heated: 1}
	if a.Baffles > 0 { // from side to side, once between two baffles
		side := l / passes
		c = channel{area: a.Channel * side, wet: 2 * a.Channel * side / (a.Channel + side), length: w * passes, heated: 1}
	}
	const lossTurn = 1.5 // a 180 degree turn in a flat channel: common practice, no source
	return Passages{
		Layers: []Layer{
			{Name: "plate", Kind: AbsorberLayer, Material: paint.ID, Service: math.Min(paint.Service, metal.Service), Gap: h.Box.Gap, Infrared: ir, Sun: sun},
			{Name: "back", Kind: BackLayer, Material: foam.ID, Service: foam.Service, Gap: a.Channel, Infrared: ir, Sun: sun},
		},
		Air: func(f Flow) AirNet {
			feeds, mass, leak := along(0, f)
			wall := c.h((mass[0]+mass[Segments])/2, f)
			var way [][]Feed
			for i := range Segments {
				way = append(way, []Feed{{From: 0, At: i, Mass: 1}})
			}
			return AirNet{
				Along:   way,
				Airs:    []Air{{Name: "channel", Feeds: feeds, Touches: []Touch{always(f.First, wall), always(f.First+1, wall)}}},
				Outlet:  []Feed{{From: 0, At: Segments - 1, Mass: mass[Segments]}},
				LeakOut: leak,
			}
		},
		Elements: []airflow.Element{airflow.Duct{Diameter: c.wet, Area: c.area, Length: c.length, Roughness: 0.2e-3, Fittings: lossEntrance + lossExit + lossTurn*float64(a.Baffles), Shape: airflow.Slot}},
	}, nil
}

// screenBox: layers of mesh slanted from the back at the bottom to the glass
// at the top. Air enters in front of them, crosses evenly all the way up, and
// leaves behind them; a share slips around the edges.
func screenBox(h *design.Heater, foam catalog.Insulation) (Passages, error) {
	a := h.Absorber.Screens
	mesh, err := catalog.FindMesh(a.Mesh)
	if err != nil {
		return Passages{}, err
	}
	paint, err := catalog.FindPaint(h.Absorber.Paint)
	if err != nil {
		return Passages{}, err
	}
	w, l := h.ApertureWidth(), h.ApertureHeight()
	share := mesh.WireShare()
	// A beam tilted across one set of wires sees that set closer together.
	open := func(theta float64) float64 {
		c := math.Cos(math.Min(theta, 85) * math.Pi / 180)
		return (1 - share) * math.Max(0, 1-share/c)
	}
	meshLayer := func(o, absorb float64) optics.Layer {
		r := (1 - o) * (1 - absorb)
		return optics.Layer{Transmit: o, ReflectFront: r, ReflectBack: r}
	}
	front, rear := h.Box.Gap+a.Lift/2, a.Rear+a.Lift/2
	var layers []Layer
	for i := range a.Layers {
		gap := a.Spacing
		if i == 0 {
			gap = front
		}
		layers = append(layers, Layer{
			Name: fmt.Sprintf("screen %d", i+1), Kind: AbsorberLayer, Material: mesh.ID, Service: math.Min(mesh.Service, paint.Service), Gap: gap,
			Infrared: meshLayer(open(optics.DiffuseAngle), paint.Emittance),
			Sun:      func(theta float64) optics.Layer { return meshLayer(open(theta), paint.Absorptance) },
		})
	}
	sun, ir := opaque(paint.Absorptance, paint.Emittance)
	layers = append(layers, Layer{Name: "back", Kind: BackLayer, Material: foam.ID, Service: foam.Service, Gap: rear, Infrared: ir, Sun: sun})

	fc := channel{area: front * w, wet: 2 * front, length: l, heated: 1}
	rc := channel{area: rear * w, wet: 2 * rear, length: l, heated: 1}
	openArea := (1 - share) * (1 - share)
	n := a.Layers
	build := func(f Flow) AirNet {
		slip := math.Max(0, math.Min(0.95, a.Bypass+f.Tune.Bypass))
		// In front: air that has not crossed yet. The seam at the glass leaks here.
		fronts := Air{Name: "in front"}
		var leak []Feed
		entering := f.Mass + f.LeakIn - f.LeakOut
		cross := entering * (1 - slip) / Segments
		m := f.Mass
		for i := range Segments {
			fs := []Feed{{From: 0, At: i - 1, Mass: m}}
			if i == 0 {
				fs[0] = Feed{From: FromInlet, Mass: m}
			}
			if f.LeakIn > 0 {
				fs = append(fs, Feed{From: FromOutdoor, Mass: f.LeakIn / Segments})
				m += f.LeakIn / Segments
			}
			fronts.Feeds = append(fronts.Feeds, fs)
			if f.LeakOut > 0 {
				leak = append(leak, Feed{From: 0, At: i, Mass: f.LeakOut / Segments})
				m -= f.LeakOut / Segments
			}
			m -= cross
		}
		hFront := fc.h(f.Mass*(1+slip)/2, f)
		fronts.Touches = []Touch{always(f.First-1, hFront), always(f.First, hFront)}
		airs := []Air{fronts}
		// Through each screen in turn.
		v := cross * Segments / (air.Density(f.Mean, f.P) * w * l) / openArea
		re := air.Density(f.Mean, f.P) * v * mesh.Wire / air.Viscosity(f.Mean)
		hWire := heattransfer.Wire(re) * air.Conductivity(f.Mean) / mesh.Wire * mesh.WireArea() * (1 + f.Tune.AirNu)
		for s := range n {
			x := Air{Name: fmt.Sprintf("through screen %d", s+1), Touches: []Touch{always(f.First+s, hWire)}}
			for i := range Segments {
				x.Feeds = append(x.Feeds, []Feed{{From: s, At: i, Mass: cross}})
			}
			airs = append(airs, x)
		}
		// Behind: what has crossed, on its way up to the outlet.
		behind := Air{Name: "behind"}
		var way [][]Feed
		for i := range Segments {
			fs := []Feed{{From: n, At: i, Mass: cross}}
			if i > 0 {
				fs = append(fs, Feed{From: n + 1, At: i - 1, Mass: cross * float64(i)})
			}
			behind.Feeds = append(behind.Feeds, fs)
			crossed := cross * float64(i+1)
			way = append(way, []Feed{{From: n + 1, At: i, Mass: crossed}, {From: 0, At: i, Mass: entering - crossed}})
		}
		hRear := rc.h(entering*(1-slip)/2, f)
		behind.Touches = []Touch{always(f.First+n-1, hRear), always(f.First+n, hRear)}
		airs = append(airs, behind)
		return AirNet{
			Airs:    airs,
			Outlet:  []Feed{{From: n + 1, At: Segments - 1, Mass: cross * Segments}, {From: 0, At: Segments - 1, Mass: entering * slip}},
			LeakOut: leak,
			Along:   way,
		}
	}
	half := func(c channel) airflow.Element {
		// Flow falls from all to nothing along the way: a third of the friction.
		return airflow.Duct{Diameter: c.wet, Area: c.area, Length: c.length / 3, Roughness: 0.2e-3, Fittings: lossEntrance, Shape: airflow.Slot}
	}
	return Passages{Layers: layers, Air: build, Elements: []airflow.Element{half(fc), crossing{mesh, w * l, n}, half(rc)}}, nil
}

// crossing is the pressure that air loses through layers of mesh.
type crossing struct {
	mesh   catalog.Mesh
	area   float64
	layers int
}

// Loss implements [airflow.Element].
func (c crossing) Loss(m, t, p float64) float64 {
	rho := air.Density(t, p)
	v := m / (rho * c.area)
	re := rho * v * c.mesh.Wire / air.Viscosity(t)
	o := (1 - c.mesh.WireShare()) * (1 - c.mesh.WireShare())
	return float64(c.layers) * heattransfer.WireScreenLoss(re, o) * rho * v * v / 2
}

package season

import (
	"context"
	"errors"
	"math"
	"math/cmplx"
	"math/rand/v2"

	"gonum.org/v1/gonum/mat"

	"gladember/core/climate"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/internal/parallel"
	"gladember/core/solar"
	"gladember/core/thermostat"
)

// How many points a surface is fitted to and checked on; the error over the
// checks, as a share of the heat there, above which more are taken; and how far
// that goes.
const (
	points   = 48
	checks   = 12
	wrongBy  = 0.005
	wrongTop = 0.12 // K, of the standing box's air
	moreOf   = 24
	upTo     = 192
	// From so many ways of the air a balance costs so much, in rows of tubes, that half of the points must do, and from so many
	// more the first ones.
	manyWays, mostWays = 24, 40
)

// fitted is what the surfaces of a box over a year come to, whatever its switch
// and its space make of them.
type fitted struct {
	still *surface
	// night is the air that falls through the box; nil where next to nothing
	// does.
	night *falling
	// run is the box with one, two or three stages of its fan, and watts what
	// they take.
	run   [3]*surface
	watts [3]float64
	// pool are the states that the year may meet, from which the fit's points
	// are taken.
	pool []candidate
}

// newFast fits the surfaces of a heater over a year, or takes those of another
// with the same box, and the lumps.
// lo and hi bound the inlet, C. It returns errDark for a year with too little
// sun to fit anything to.
func newFast(h *design.Heater, s *climate.Series, lo, hi float64, t collector.Tuning, same *fitted) (*fast, error) {
	d, err := collector.Describe(h)
	if err != nil {
		return nil, err
	}
	f := &fast{h: h, d: &d, sw: thermostat.Clocked{Switch: thermostat.New(h)}, tune: t, uptake: d.Uptake(h.Place.Tilt, t),
		pressure: s.Pressure, area: d.Aperture(), natural: d.Natural, onWall: d.WarmedByRoom(h.Place.Tilt), useful: h.Room.Useful}
	stages := 1
	// A second fan is a second stage, with a surface of its own.
	if f.sw.Second > 0 {
		stages = 2
	}
	if same != nil {
		f.fitted = same
		return f, f.findLumps(stages)
	}
	f.fitted = &fitted{pool: f.pooled(s, lo, hi)}
	if len(f.pool) < 2*points {
		return nil, errDark
	}
	// Standing and running are found side by side: any machine this runs on has
	// two cores.
	order := newSpread(f.pool)
	return f, parallel.Each(context.Background(), 2, func(part int) (err error) {
		if part == 0 {
			if f.still, err = f.surfaceOf(0, newSpread(f.atNoFlow(f.pool))); err != nil {
				return err
			}
			return f.findNight()
		}
		for k := 1; k <= stages; k++ {
			if f.run[k], err = f.surfaceOf(k, order); err != nil {
				return err
			}
		}
		return f.findLumps(stages)
	}, nil)
}

// next to nothing falls through a box by night under so many watts, in the
// pool's coldest hour.
const leastFall = 1.0

// findNight fits what air that falls through the standing box takes out of the
// room.
// Fourteen dark quarters, spread as far as can be, are solved backwards; the
// fit is left out where even the coldest takes less than [leastFall].
func (f *fast) findNight() error {
	if f.d.Indoors {
		return nil
	}
	shut := f.h.Air.Flap != "none" && f.tune.Ajar == 0
	falls := func(c *candidate) (float64, error) {
		at := asConditions(f.h, c.q, c.room, f.pressure)
		at.Room = c.room
		r, err := f.d.BackFlow(at, shut)
		return f.d.NightLoss(&r), err
	}
	var dark []candidate
	coldest := -1
	for _, c := range f.pool {
		if c.q.Sun.Total() > darkSun || c.room <= c.q.Ambient {
			continue
		}
		f.conditions(c.q, 0, 0, c.room, &c.x)
		if dark = append(dark, c); coldest < 0 || c.x[inletOver] > dark[coldest].x[inletOver] {
			coldest = len(dark) - 1
		}
	}
	if len(dark) < nightPoints {
		return nil
	}
	if w, err := falls(&dark[coldest]); err != nil || w < leastFall {
		return err
	}
	order := newSpread(dark)
	a, y := mat.NewDense(nightPoints, nightTerms, nil), mat.NewVecDense(nightPoints, nil)
	for i := range nightPoints {
		c := order.at(i)
		w, err := falls(c)
		if err != nil {
			return err
		}
		b := nightBasis(&c.x)
		a.SetRow(i, b[:])
		// See [falling] for the power.
		y.SetVec(i, math.Cbrt(w*w))
	}
	var beta mat.VecDense
	if err := beta.SolveVec(a, y); err != nil {
		var c mat.Condition
		if !errors.As(err, &c) {
			return err
		}
	}
	night := falling(beta.RawVector().Data)
	f.night = &night
	return nil
}

// falling is what falls through the box by night, fitted: to the power 2/3,
// since the pressure that drives it and the heat it takes both grow with the
// difference to outdoors.
type falling []float64

const (
	nightTerms  = 7
	nightPoints = 14
)

// nightBasis are its terms: inlet over outdoors and its square, the sky, the
// two together, the outdoors and the wind.
// x is scaled as for the surfaces.
func nightBasis(x *[dims]float64) [nightTerms]float64 {
	d := x[inletOver]
	return [nightTerms]float64{1, d, d * d, x[4], d * x[4], x[3], x[5]}
}

// at is it at conditions, W.
func (f *falling) at(x *[dims]float64) float64 {
	v := 0.0
	for i, b := range nightBasis(x) {
		v += (*f)[i] * b
	}
	v = max(0, v)
	return v * math.Sqrt(v)
}

// candidate is a quarter with an inlet it may meet.
type candidate struct {
	q *climate.Quarter
	// inlet and the room behind are in C; x is the state as the surfaces take it.
	inlet, room float64
	x           [dims]float64
}

// pooled is the quarters that a surface may be fitted to: the lit ones and some
// of the night, each with an inlet between lo and hi or as warm as outdoors.
// About 1,200 lit quarters and a twelfth of that of dark ones, evenly through
// the year; each gets an inlet by chance within its bounds, with a fixed seed.
func (f *fast) pooled(s *climate.Series, lo, hi float64) (out []candidate) {
	r := rand.New(rand.NewPCG(climate.Seed, 2))
	lit := 0
	for i := range s.Quarters {
		if s.Quarters[i].Sun.Total() > 20 {
			lit++
		}
	}
	every := max(1, lit/1200)
	n := 0
	for i := range s.Quarters {
		q := &s.Quarters[i]
		n++
		dark := q.Sun.Total() <= 20
		if !dark && n%every != 0 || dark && n%(12*every) != 0 {
			continue
		}
		room := lo + (hi-lo)*r.Float64()
		if lo < q.Ambient { // a space that floats is seldom colder than outdoors
			room = max(lo, q.Ambient-3) + (hi-max(lo, q.Ambient-3))*r.Float64()
		}
		inlet := f.inlet(q, room)
		c := candidate{q: q, inlet: inlet, room: room}
		a, cover := f.uptake.Absorbed(q.Sun)
		f.conditions(q, a, cover, inlet, &c.x)
		out = append(out, c)
	}
	return out
}

// atNoFlow is a pool for a standing box, which draws nothing in: candidates
// that differ by their inlets alone are one there.
// Copies, since the pool itself is the running box's.
func (f *fast) atNoFlow(pool []candidate) []candidate {
	out := append([]candidate(nil), pool...)
	for i := range out {
		f.asStanding(&out[i].x)
	}
	return out
}

// asStanding turns conditions into those of the standing box: how hot it gets
// bends with the sun, as a logarithm does, and it draws nothing in; the room
// matters to one that lies on its wall alone.
func (f *fast) asStanding(x *[dims]float64) {
	sun := x[0]
	if f.natural {
		sun = x[0] * x[0] / 4
	}
	x[0] = 2 * math.Log(1+2*sun)
	if !f.onWall {
		x[inletOver] = 0
	}
}

// spread orders candidates so that each is the furthest from all before it, as
// far as they are asked for.
type spread struct {
	pool []candidate
	// far is each candidate's distance from the nearest point taken.
	far []float64
	// order is in which they are taken: the farthest first.
	order []int
}

// newSpread begins an order of candidates in which each next one lies furthest
// from those before it.
// The first is the middle one of the pool.
func newSpread(pool []candidate) *spread {
	s := &spread{pool: pool, far: make([]float64, len(pool)), order: []int{len(pool) / 2}}
	for i := range s.far {
		s.far[i] = math.Inf(1)
	}
	return s
}

// at is the candidate in place i of the order, nil beyond the last.
// Distances are in the units of the conditions, which are scaled alike.
func (s *spread) at(i int) *candidate {
	if i >= len(s.pool) {
		return nil
	}
	for len(s.order) <= i {
		from := &s.pool[s.order[len(s.order)-1]].x
		next, best := 0, -1.0
		for i := range s.pool {
			x := &s.pool[i].x
			d := 0.0
			for k := range x {
				v := x[k] - from[k]
				d += v * v
			}
			s.far[i] = min(s.far[i], d)
			if s.far[i] > best {
				next, best = i, s.far[i]
			}
		}
		s.order = append(s.order, next)
	}
	return &s.pool[s.order[i]]
}

// surfaceOf fits the surface of a number of stages, 0 for the standing box.
// It takes [points] of the order, checks the fit on [checks] others taken by
// chance, and takes more until it holds or the most are taken. It is nil where the air moves in so few of the hours that
// there is nothing to fit: then it counts as never moving.
func (f *fast) surfaceOf(stages int, order *spread) (*surface, error) {
	w := sampler{f: f, d: f.d.Staged(max(1, stages)), stages: stages, order: order}
	if err := w.more(points); err != nil {
		return nil, err
	}
	if stages > 0 && len(w.xs) < fewest {
		return nil, nil
	}
	s, err := fit(w.xs, w.ys)
	if err != nil {
		return nil, err
	}
	// The checks are such hours as the year has, not its furthest ones.
	for _, i := range rand.New(rand.NewPCG(climate.Seed, 3)).Perm(len(order.pool)) {
		if len(w.at) == checks {
			break
		}
		x, y, err := w.work(&order.pool[i])
		if err != nil {
			return nil, err
		}
		if y != nil {
			w.at, w.right = append(w.at, x), append(w.right, y)
		}
	}
	most := upTo
	switch ways := w.d.Ways(); {
	case ways > mostWays:
		most = points
	case ways > manyWays:
		most /= 2
	}
	for n := len(w.xs); len(w.xs) < most && w.wrong(s); n = len(w.xs) {
		if err := w.more(moreOf); err != nil {
			return nil, err
		}
		if len(w.xs) == n {
			break
		}
		if s, err = fit(w.xs, w.ys); err != nil {
			return nil, err
		}
	}
	return s, nil
}

// sampler rates the box at hours of the year: those that a surface is fitted to
// and those it is checked by.
type sampler struct {
	f      *fast
	d      *collector.Description
	stages int
	order  *spread
	// taken is how many of the order have been solved.
	taken int
	// last is the result to begin the next from.
	last *collector.Result

	// xs are the points of the fit, and at those it is tested on; ys and right
	// are their values.
	xs, at    [][dims]float64
	ys, right [][]float64
	room      scratch
}

// work rates the box in one hour; y is nil where nothing moves in it.
// Each point begins from the result of the one before, which is near it.
func (w *sampler) work(c *candidate) (x [dims]float64, y []float64, err error) {
	f, d := w.f, w.d
	x = c.x
	cond := asConditions(f.h, c.q, c.inlet, f.pressure)
	cond.NoFlow = w.stages == 0
	if w.stages > 0 && !f.natural && d.FanSpeed(cond) <= 0 {
		return x, nil, nil
	}
	r, err := d.Rate(cond, f.tune, w.last)
	if err != nil {
		return x, nil, err
	}
	k := d.Held(&r)
	if w.stages == 0 {
		w.last = &r
		return x, append([]float64{d.Top(&r)}, k[:]...), nil
	}
	if r.Mass <= 0 && !d.Indoors {
		return x, nil, nil
	}
	if r.Mass > 0 {
		w.last = &r
	}
	f.watts[w.stages] = r.Bought
	return x, append([]float64{r.ToRoom(), r.Outlet, r.Mass}, k[:]...), nil
}

// more takes n more hours in their order, fewer where the year has no more.
// n points of the order are solved; fewer where it ends.
func (w *sampler) more(n int) error {
	for ; n > 0; w.taken++ {
		c := w.order.at(w.taken)
		if c == nil {
			break
		}
		x, y, err := w.work(c)
		if err != nil {
			return err
		}
		if y != nil {
			w.xs, w.ys = append(w.xs, x), append(w.ys, y)
			n--
		}
	}
	return nil
}

// wrong says whether a surface misses the checks by too much.
// It compares the sum of the misses with a share of the sum of the values: of
// the heat while it runs, and of the top's temperature while it stands, which
// decides when the fan starts.
func (w *sampler) wrong(s *surface) bool {
	off, all := 0.0, 0.0
	for i := range w.at {
		var y [runOutputs]float64
		s.at(&w.at[i], y[:s.outputs], &w.room)
		if w.stages == 0 { // the top of the box decides when the fan starts
			off += math.Abs(y[stillTop] - w.right[i][stillTop])
			all += wrongTop / wrongBy
			continue
		}
		off += math.Abs(y[runHeat] - w.right[i][runHeat])
		all += math.Abs(w.right[i][runHeat])
	}
	return off > wrongBy*all
}

// usual are the suns on the glass, W/m2, in which the lumps are found. A
// standing box loses the more for each kelvin the hotter its rest is, so its
// lump is one for each; and in the weakest its running is left out. Common
// practice, no source.
var usual = []float64{90, 250, 500, 850}

const weakest = 200.0

// Minutes that the full network goes as its own switch has it, from as cold as
// by night, at most: one that does not switch for a while and whose heat hardly
// moves any more, as a share a minute, has nothing more to show. Then it stands
// and runs by turns, so that both are seen.
var (
	asSwitched = 110
	settles    = 20
	hardly     = 2e-4
	byTurns    = []int{6, 12, 5, 3, 8, 2, 4, 1, 15}
)

// ownPattern is how many times a minute of the box's own switching counts in
// the fit against one of the turns.
const ownPattern = 10.0

// findLumps starts and stops the full network by the minute and fits how the
// heat it holds over its rest goes, in either mode, by least squares.
// Four suns, each with the pattern of switching that the box itself would have
// and with set turns besides; below the weakest sun only the standing box is
// found.
func (f *fast) findLumps(stages int) error {
	if f.d.Indoors {
		return nil // a foil stores nothing to speak of
	}
	for k := stages; k >= 1; k-- {
		d := f.d.Staged(k)
		for _, g := range usual {
			q := usualOf(f.pool, g)
			c := asConditions(f.h, q, f.usualInlet(q), f.pressure)
			var runs, stands minutes
			top, mass, err := f.startAndStop(d, c, &runs, &stands)
			if err != nil {
				return err
			}
			if k == 1 {
				l, err := stands.fit()
				if err != nil {
					return err
				}
				f.stands = f.stands.with(top, 2, l, followResting)
			}
			if g < weakest || mass <= 0 {
				continue
			}
			l, err := runs.fit()
			if err != nil {
				return err
			}
			absorbed, _ := f.uptake.Absorbed(c.Sun)
			f.moves[k] = f.moves[k].with(absorbed, 30, l, followMoving)
		}
		if len(f.moves[k]) == 0 && f.run[k] != nil { // in usual weather nothing moves; other runs keep their surfaces
			own := *f.fitted
			own.run[k] = nil
			f.fitted = &own
		}
	}
	return nil
}

// with adds a minute's lump, and what comes of it where a sensor follows by a
// share a minute, if it stands far enough beyond the last.
// They are in rising order of what they stand at.
func (l decays) with(at, apart float64, x decay, follow float64) decays {
	if n := len(l); n > 0 && at < l[n-1].at+apart {
		return l
	}
	next := struct {
		at    float64
		lumps [durations]decay
	}{at: at}
	next.lumps[minute] = x
	next.lumps[longest] = x.over(lasting[longest], follow)
	return append(l, next)
}

// usualInlet is the air a box mostly draws in, C: of a heated space what is
// wanted there, of one that floats a little over the outdoors (common
// practice).
func (f *fast) usualInlet(q *climate.Quarter) float64 {
	const floats = 5.0
	switch {
	case f.h.Air.Source == "outdoors":
		return q.Ambient
	case f.h.Room.Heater == "none":
		return q.Ambient + floats
	}
	return max(f.h.Room.Wanted, q.Ambient)
}

// usualOf is the quarter nearest to a sun, W/m2, in otherwise usual weather.
// It is as near to the mean wind of the pool as may be.
func usualOf(pool []candidate, sun float64) *climate.Quarter {
	wind := 0.0
	for i := range pool {
		wind += pool[i].q.Wind / float64(len(pool))
	}
	at, least := 0, math.Inf(1)
	for i := range pool {
		q := pool[i].q
		if off := math.Abs(q.Sun.Total()-sun)/100 + math.Abs(q.Wind-wind); off < least {
			at, least = i, off
		}
	}
	return pool[at].q
}

// subSteps is how many steps of the network a minute of the lumps takes: one
// implicit step of a minute would keep a box warm too long.
const subSteps = 3

// startAndStop runs the full network by the pattern in steady weather.
// It returns the air at the top of the box at rest, C, and what it moves, kg/s.
// c is the steady weather; run and still collect the minutes with the fan on
// and off.
func (f *fast) startAndStop(d *collector.Description, c collector.Conditions, run, still *minutes) (rests, moves float64, err error) {
	rest, err := d.Still(c, collector.Tuning{}, nil)
	if err != nil {
		return 0, 0, err
	}
	on, err := d.Rate(c, collector.Tuning{}, nil)
	if err != nil {
		return 0, 0, err
	}
	dark := c
	dark.Sun = solar.OnPlane{}
	t, err := d.NewTransient(dark)
	if err != nil {
		return 0, 0, err
	}
	coldest := t.Held().Sum()
	atRun, atRest := d.Held(&on), d.Held(&rest)
	given, top := on.Energy.Air+on.Energy.Room, d.Top(&rest)
	weight := ownPattern
	once := func(mass float64) (collector.Moment, error) {
		before := t.Held()
		var m collector.Moment
		heat, air := 0.0, 0.0 // means of the minute
		for range subSteps {
			var err error
			if m, err = t.Step(c, mass, runSteps/subSteps); err != nil {
				return m, err
			}
			heat += (m.Energy.Air + m.Energy.Room) / subSteps
			air += m.Top / subSteps
		}
		if m.Top = air; mass > 0 {
			run.add(weight, atRun, before, t.Held(), heat-given)
		} else {
			still.add(weight, atRest, before, t.Held(), air-top)
		}
		return m, nil
	}
	sensor, runs, noon, since := c.Ambient, 0, 12.0, 0
	for range asSwitched {
		mass, was, held := 0.0, runs, t.Held().Sum()
		if runs = f.sw.Next(runs, thermostat.Reading{Box: sensor, Room: c.Inlet, Hour: noon, Speed: 1}); runs > 0 {
			mass = on.Mass
		}
		m, err := once(mass)
		if err != nil {
			return 0, 0, err
		}
		sensor += (m.Top - sensor) * thermostat.Follows(mass > 0, runSteps)
		if since++; was != runs {
			since = 0
		}
		if since > settles && math.Abs(t.Held().Sum()-held) < hardly*math.Abs(atRest.Sum()-coldest) {
			break
		}
	}
	weight = 1.0
	for i, n := range byTurns {
		mass := on.Mass
		if i%2 == 0 {
			mass = 0
		} else if mass <= 0 { // warmth, or the panel, does not move the air in so little sun
			continue
		}
		for range n {
			if _, err := once(mass); err != nil {
				return 0, 0, err
			}
		}
	}
	return top, on.Mass, nil
}

// minutes are what a box held before and after each of some minutes, over what
// it holds at rest, and what showed of it, each times the root of how much the
// minute counts.
type minutes struct {
	// before and after are the heat held at the ends of each minute; shows is
	// what the sensor shows.
	before, after []collector.Held
	shows         []float64
}

// add appends the equations of one minute, with a weight, to the least squares
// from which the lumps follow.
// weight counts the minute in the fit, rest is what is held at rest, and shows
// what the sensor shows over its rest.
func (m *minutes) add(weight float64, rest, before, after collector.Held, shows float64) {
	w := math.Sqrt(weight)
	shows *= w
	for i := range rest {
		before[i] = w * (before[i] - rest[i])
		after[i] = w * (after[i] - rest[i])
	}
	m.before, m.after, m.shows = append(m.before, before), append(m.after, after), append(m.shows, shows)
}

// nearlyNone is how weak a direction among the parts may show, as a share of the
// strongest, and still be fitted.
const nearlyNone = 1e-3

// fit finds the lump by least squares, in as many directions as the minutes show
// clearly and as leave a box that comes to rest.
// As many directions of the held heat are fitted as are clear and leave the
// lump stable: no part may grow from minute to minute.
// It returns errFew for a pattern with too few minutes.
func (m *minutes) fit() (l decay, err error) {
	const n = collector.HeldParts
	if len(m.before) < 2*n {
		return l, errFew
	}
	after := make([][]float64, len(m.after))
	shows := make([][]float64, len(m.after))
	for i := range after {
		after[i], shows[i] = m.after[i][:], m.shows[i:i+1]
	}
	for rank := n; rank > 0; rank-- {
		left := leastSquares(m.before, after, rank)
		var e mat.Eigen
		if left == nil || !e.Factorize(left, mat.EigenNone) {
			continue
		}
		most := 0.0
		for _, v := range e.Values(nil) {
			most = max(most, cmplx.Abs(v))
		}
		if most >= 1 {
			continue
		}
		c := leastSquares(m.after, shows, rank)
		if c == nil {
			continue
		}
		for j := range n {
			l.shows[j] = c.At(j, 0)
			for k := range n {
				l.left[j][k] = left.At(k, j)
			}
		}
		return l, nil
	}
	return l, errFew
}

// leastSquares fits each column of y to the parts of x, in the rank strongest
// directions of x; nil if it has fewer that are clear.
// By singular values, of which rank are kept.
func leastSquares(x []collector.Held, y [][]float64, rank int) *mat.Dense {
	const n = collector.HeldParts
	var scale collector.Held
	for i := range x {
		for k, v := range x[i] {
			scale[k] += v * v / float64(len(x))
		}
	}
	a, b := mat.NewDense(len(x), n, nil), mat.NewDense(len(x), len(y[0]), nil)
	for k := range scale {
		scale[k] = max(1e-9, math.Sqrt(scale[k]))
	}
	for i := range x {
		for k, v := range x[i] {
			a.Set(i, k, v/scale[k])
		}
		b.SetRow(i, y[i])
	}
	var svd mat.SVD
	if !svd.Factorize(a, mat.SVDThin) {
		return nil
	}
	if s := svd.Values(nil); s[rank-1] < nearlyNone*s[0] {
		return nil
	}
	var c mat.Dense
	svd.SolveTo(&c, b, rank)
	for k := range n {
		for j := range len(y[0]) {
			c.Set(k, j, c.At(k, j)/scale[k])
		}
	}
	return &c
}

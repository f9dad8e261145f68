package collector

// Tuning moves uncertain inputs away from their best values: shares unless
// said otherwise. The zero value moves nothing.
type Tuning struct {
	// TauAlpha moves the transmittance-absorptance product, as a share.
	TauAlpha float64
	// Emittance moves that of the absorber, absolute.
	Emittance float64
	// Wind is the logarithm of a factor on the wind's film coefficient.
	Wind float64
	// Sky moves the sky temperature, K.
	Sky float64
	// AirNu moves the Nusselt numbers of the moving air, and GapNu those of
	// standing air, as shares.
	AirNu float64
	GapNu float64
	// Foam moves the insulation's conductivity, as a share.
	Foam float64
	// Edge takes insulation off the sides, as a share of its thickness: 1 leaves
	// none, in a box of the same size inside.
	Edge float64
	// Ajar is 1 for a backdraft damper that does not fall shut: its resistance
	// stays, and air falls back through the box by night.
	Ajar float64
	// FanCurve moves the fan's pressure and flow, as a share.
	FanCurve float64
	// ShutOff is the logarithm of a factor on the fan's pressure at no flow, where no table gives it.
	ShutOff float64
	// Fittings is the logarithm of a factor on the loss of fittings.
	Fittings float64
	// Leak is the logarithm of a factor on the leakage of seams.
	Leak float64
	// Bypass moves the share that slips around screens, absolute.
	Bypass float64
	// Jet is the logarithm of a factor on what an inlet without a deflector and
	// a baffle do to the crossing.
	Jet float64
	// Sun moves the sun on the glass, as a share.
	Sun float64
}

// inputs are all that a tuning moves.
func (t *Tuning) inputs() []*float64 {
	return []*float64{&t.TauAlpha, &t.Emittance, &t.Wind, &t.Sky, &t.AirNu, &t.GapNu, &t.Foam, &t.Edge, &t.Ajar, &t.FanCurve, &t.ShutOff,
		&t.Fittings, &t.Leak, &t.Bypass, &t.Jet, &t.Sun}
}

// Plus is one tuning on top of another that is taken so many times, as things that are wrong at once are.
func (t Tuning) Plus(by Tuning, times float64) Tuning {
	moves := by.inputs()
	for i, x := range t.inputs() {
		*x += times * *moves[i]
	}
	return t
}

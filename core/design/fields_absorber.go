package design

import "gladember/core/catalog"

// Fields of any absorber.
var (
	AbsorberFamily = choice(inAbsorber, "family", func(a *Absorber) *Family { return &a.Family }, Field{
		Label: "Kind of absorber", Choices: familyChoices, Default: constant(string(ScreenBox)),
		Help:  "What absorbs the sun, and where the air passes it.",
		Group: OwnControl,
	})
)

// Fields of its finish.
var (
	AbsorberPaint = choice(inFinish, "paint", func(a *Absorber) *string { return &a.Paint }, Field{
		Label: "Absorber paint", Choices: catalog.Paints, Default: constant("high-heat-black"),
		Help:  "How dark it is, and how hot the paint may get.",
		Group: AbsorberGroup,
	})
)

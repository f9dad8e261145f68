package layout

// PartKind is what a part is, declared once: what hangs on it is read from here, and never from its name.
type PartKind struct {
	// ID is what records know it by; it stays.
	ID string
	// Label is what lists call it; empty where that is its ID.
	Label string
	// Joint says how it meets its neighbors and what holds it there. Common practice, no source.
	Joint string
	// Step is the step of building that takes it.
	Step string
	// Fixing counts its screws.
	Fixing Fixing
	// Ink is how drawings show it.
	Ink Ink
}

// Name is what lists call it.
func (k *PartKind) Name() string {
	if k.Label != "" {
		return k.Label
	}
	return k.ID
}

// Fixing is how many screws hold a piece, and which.
type Fixing struct {
	// Every is how far apart they are along it, m; 0 for none.
	Every float64
	// Around says that they go all round, and not along one side.
	Around bool
	// Ends are those that each piece has besides.
	Ends int
	// Long says that they go through a board into another.
	Long bool
}

// Distances between screws, m, and how many there are at a corner of the frame. Common practice, no source.
const (
	backScrew    = 0.15
	stopScrew    = 0.20
	battenScrew  = 0.30
	cornerScrews = 2
)

// Ink is how a drawing shows a part.
type Ink string

// The inks. A part without one is drawn as its group is.
const (
	// InkGlass is a pane.
	InkGlass Ink = "glass"
	// InkBoard is a board across the box: its edge is seen through what lies in front, and it is solid where it is cut.
	InkBoard Ink = "board"
	// InkEdge is seen by its edge only.
	InkEdge Ink = "edge"
	// InkBatten is solid where it is cut.
	InkBatten Ink = "batten"
	// InkTube is hollow and seen from the front.
	InkTube Ink = "tube"
	// InkShell is hollow where it is cut.
	InkShell Ink = "shell"
	// InkWoven is a mesh.
	InkWoven Ink = "woven"
)

// Kinds are all kinds of parts.
var Kinds []*PartKind

// kind declares a kind of part.
func kind(k PartKind) *PartKind {
	Kinds = append(Kinds, &k)
	return &k
}

// The kinds of parts.
var (
	Pane = kind(PartKind{ID: "pane", Ink: InkGlass, Step: "glaze",
		Joint: "bedded in sealant on the frame, held by the stops; last of all"})
	InnerPane = kind(PartKind{ID: "inner pane", Ink: InkGlass, Step: "glaze",
		Joint: "slides between spacer strips, free to move"})
	SpacerStripSide = kind(PartKind{ID: "spacer strip, side", Step: "glaze",
		Joint: "bedded in sealant on the inside of the frame"})
	SpacerStripTopAndBottom = kind(PartKind{ID: "spacer strip, top and bottom", Step: "glaze",
		Joint: "bedded in sealant between the side strips"})
	GlazingStopSide = kind(PartKind{ID: "glazing stop, side", Step: "glaze", Fixing: Fixing{Every: stopScrew},
		Joint: "screwed to the side board through a gasket; corners butt under the top stop"})
	GlazingStopTopAndBottom = kind(PartKind{ID: "glazing stop, top and bottom", Step: "glaze", Fixing: Fixing{Every: stopScrew},
		Joint: "screwed between the side stops through a gasket"})
	PackingStripSide = kind(PartKind{ID: "packing strip, side", Step: "glaze",
		Joint: "glued to the side board's face"})
	PackingStripTopAndBottom = kind(PartKind{ID: "packing strip, top and bottom", Step: "glaze",
		Joint: "glued to the face of the top and the bottom board"})
	GroovedRailSide = kind(PartKind{ID: "grooved rail, side", Step: "glaze", Fixing: Fixing{Every: stopScrew, Long: true},
		Joint: "screwed to the side board over sealant; covers the ends of the other rails"})
	GroovedRailTopAndBottom = kind(PartKind{ID: "grooved rail, top and bottom", Step: "glaze",
		Fixing: Fixing{Every: stopScrew, Long: true},
		Joint:  "screwed to the board behind it, between the side rails; the upper one without glue"})
	SettingBlock = kind(PartKind{ID: "setting block", Step: "glaze",
		Joint: "laid on the lower packing strip, not glued to the pane"})
	EdgeTapeSolid = kind(PartKind{ID: "edge tape, solid", Step: "glaze",
		Joint: "pressed over the edge before the pane is set"})
	EdgeTapeVented = kind(PartKind{ID: "edge tape, vented", Step: "glaze",
		Joint: "pressed over the edge before the pane is set"})
	CorrugatedClosure = kind(PartKind{ID: "corrugated closure", Step: "glaze",
		Joint: "bedded in sealant on the frame, under the sheet"})
	SideBoard = kind(PartKind{ID: "side board", Step: "frame", Fixing: Fixing{Ends: 2 * cornerScrews, Long: true},
		Joint: "covers the ends of the top and bottom boards: glue and two screws at each corner"})
	BottomBoard = kind(PartKind{ID: "bottom board", Step: "frame",
		Joint: "butts between the side boards: glue and two screws at each end"})
	TopBoard = kind(PartKind{ID: "top board", Step: "frame",
		Joint: "butts between the side boards: glue and two screws at each end"})
	Tray = kind(PartKind{ID: "tray, flat before bending", Step: "frame",
		Joint: "corners lapped and riveted, sealed"})
	DripCapBottom = kind(PartKind{ID: "drip cap, bottom", Step: "glaze",
		Joint: "under the tray's walls, riveted at the sides"})
	DripCapTop = kind(PartKind{ID: "drip cap, top", Step: "glaze",
		Joint: "laps over the tray's walls, riveted at the sides"})
	VentFlap = kind(PartKind{ID: "vent flap", Step: "frame",
		Joint: "hinged on the board with a gasket all round"})
	BackBoard = kind(PartKind{ID: "back board", Step: "back", Fixing: Fixing{Every: backScrew, Around: true},
		Joint: "glued and screwed inside the frame every {150 mm|6 in}; caulked all round"})
	BackFoam = kind(PartKind{ID: "back foam", Step: "insulate",
		Joint: "laid in the frame against the back, joints taped"})
	SideFoam = kind(PartKind{ID: "side foam", Step: "insulate",
		Joint: "glued to the side boards"})
	TopAndBottomFoam = kind(PartKind{ID: "top and bottom foam", Step: "insulate",
		Joint: "glued to the boards between the side foam"})
	Screen = kind(PartKind{ID: "screen", Ink: InkWoven, Step: "absorber",
		Joint: "stapled to its battens all round, edges sealed to the lining"})
	BattenBehindScreen = kind(PartKind{ID: "batten behind screen", Ink: InkBatten, Step: "battens",
		Fixing: Fixing{Every: battenScrew},
		Joint:  "screwed to the side lining, cut to the slant"})
	CrossBattenBehindScreen = kind(PartKind{ID: "cross batten behind screen", Ink: InkBatten, Step: "battens",
		Fixing: Fixing{Every: battenScrew},
		Joint:  "screwed between the side battens; the screen is stapled to it"})
	MiddleBattenBehindScreen = kind(PartKind{ID: "middle batten behind screen", Ink: InkBatten, Step: "battens",
		Fixing: Fixing{Every: battenScrew},
		Joint:  "screwed through the back between the cross battens; the screen is stapled to it"})
	ScreenWedge = kind(PartKind{ID: "screen wedge", Step: "battens", Fixing: Fixing{Every: battenScrew, Long: true},
		Joint: "glued and screwed to the side lining, its thin end at the bottom"})
	MiddleWedge = kind(PartKind{ID: "middle wedge", Step: "battens", Fixing: Fixing{Every: battenScrew},
		Joint: "glued and screwed to the back, its thin end at the bottom"})
	HalfWayBaffle = kind(PartKind{ID: "half-way baffle", Step: "battens", Fixing: Fixing{Ends: 4, Long: true},
		Joint: "screwed between the side linings"})
	Deflector = kind(PartKind{ID: "deflector", Step: "absorber", Fixing: Fixing{Ends: 3},
		Joint: "on three legs screwed to the back"})
	Divider = kind(PartKind{ID: "divider", Ink: InkEdge, Step: "battens", Fixing: Fixing{Every: battenScrew, Long: true},
		Joint: "screwed to the back, sealed to what lies in front of it and behind"})
	TurningVane = kind(PartKind{ID: "turning vane", Step: "battens",
		Joint: "screwed to the back by two bent tabs"})
	Plate = kind(PartKind{ID: "plate", Step: "absorber", Fixing: Fixing{Every: 0.4, Around: true},
		Joint: "screwed through slotted holes, so that it can grow"})
	ChannelBatten = kind(PartKind{ID: "channel batten", Ink: InkBatten, Step: "battens",
		Fixing: Fixing{Every: battenScrew, Long: true},
		Joint:  "screwed to the back through the insulation, under the plate's edge"})
	Baffle = kind(PartKind{ID: "baffle", Ink: InkBoard, Step: "battens", Fixing: Fixing{Every: battenScrew, Long: true},
		Joint: "screwed to the back, sealed to the plate"})
	HeaderBoard = kind(PartKind{ID: "header board", Ink: InkBoard, Step: "headers", Fixing: Fixing{Ends: 4},
		Joint: "screwed to battens at its ends; tubes sealed in its holes"})
	SupportRib = kind(PartKind{ID: "support rib", Step: "headers", Fixing: Fixing{Ends: 3},
		Joint: "screwed across the back, loose under the tubes"})
	Can = kind(PartKind{ID: "can", Ink: InkTube, Step: "absorber",
		Joint: "glued end to end with heat-proof silicone, sealed in the headers"})
	Downpipe = kind(PartKind{ID: "downpipe", Ink: InkTube, Step: "absorber",
		Joint: "sealed in the headers"})
	Flashing = kind(PartKind{ID: "flashing", Step: "absorber",
		Joint: "riveted to each pipe"})
	RibbedDuct = kind(PartKind{ID: "ribbed duct, pulled out", Step: "absorber",
		Joint: "clamped to the ports, held by straps that let it move"})
	AbsorberBody = kind(PartKind{ID: "absorber body", Ink: InkShell, Step: "absorber",
		Joint: "screwed through slotted holes, so that it can grow"})
	WindowPane = kind(PartKind{ID: "window pane"})
	SideBar    = kind(PartKind{ID: "side bar", Step: "frame",
		Joint: "half-lapped or dowelled to the other bars"})
	TopAndBottomBar = kind(PartKind{ID: "top and bottom bar", Step: "frame",
		Joint: "half-lapped or dowelled to the side bars"})
	Foil = kind(PartKind{ID: "foil", Step: "absorber",
		Joint: "stretched over the frame and stapled on its edge"})
	HangingCleat = kind(PartKind{ID: "hanging cleat", Step: "cleats",
		Joint: "screwed into studs, and into the box's top board"})
	TopFlashing = kind(PartKind{ID: "top flashing", Step: "flash", Fixing: Fixing{Every: battenScrew},
		Joint: "under the siding above, over the box below: each piece laps over the one under it"})
	FootBracket = kind(PartKind{ID: "foot bracket", Step: "brackets", Fixing: Fixing{Ends: 4, Long: true},
		Joint: "bolted to a stud and to the lower end of the box"})
	BracketBrace = kind(PartKind{ID: "bracket brace", Step: "brackets", Fixing: Fixing{Ends: 4, Long: true},
		Joint: "bolted between wall and foot bracket at 45 degrees"})
	CurbBoardSide = kind(PartKind{ID: "curb board, side", Step: "curb", Fixing: Fixing{Ends: 4, Long: true},
		Joint: "screwed into the rafters over sealant"})
	CurbBoardTopAndBottom = kind(PartKind{ID: "curb board, top and bottom", Step: "curb", Fixing: Fixing{Ends: 4, Long: true},
		Joint: "butts between the side curb boards"})
	CurbFlashingBottom = kind(PartKind{ID: "curb flashing, bottom", Step: "flash", Fixing: Fixing{Every: battenScrew},
		Joint: "first: over the roofing below, up the curb"})
	CurbFlashingSide = kind(PartKind{ID: "curb flashing, side", Step: "flash", Fixing: Fixing{Every: battenScrew},
		Joint: "second: under the roofing beside it, over the lower flashing"})
	CurbFlashingTop = kind(PartKind{ID: "curb flashing, top", Step: "flash", Fixing: Fixing{Every: battenScrew},
		Joint: "last: under the roofing above, over the side flashings"})
	WallSleeve = kind(PartKind{ID: "wall sleeve", Step: "opening", Fixing: Fixing{Ends: 8},
		Joint: "folded ends screwed to both sides of the wall over sealant"})
	WindowInsert = kind(PartKind{ID: "window insert", Step: "insert",
		Joint: "held in the sash by its edge foam; the sash closed on it"})
	EdgeFoamOfInsert = kind(PartKind{ID: "edge foam of the insert", Step: "insert",
		Joint: "glued around the insert, pressed against sash and frame"})
	MeshOverDrainHoles = kind(PartKind{ID: "mesh over the drain holes", Step: "frame",
		Joint: "stapled under the bottom board"})
	MeshOverOutdoorIntake = kind(PartKind{ID: "mesh over the outdoor intake", Step: "ducts",
		Joint: "clamped over the duct's mouth"})
	HeaderDuct = kind(PartKind{ID: "header duct", Step: "ducts",
		Joint: "stubs riveted and sealed in its holes; its end capped"})
	StandLeg = kind(PartKind{ID: "stand leg", Step: "stand", Fixing: Fixing{Ends: 4, Long: true},
		Joint: "bolted to the side boards and to the rails"})
	StandRail = kind(PartKind{ID: "stand rail", Step: "stand", Fixing: Fixing{Ends: 4, Long: true},
		Joint: "bolted to the bottom of the box and to the legs, anchored to the ground"})
	StandBrace = kind(PartKind{ID: "stand brace", Step: "stand", Fixing: Fixing{Ends: 4, Long: true},
		Joint: "screwed across both legs"})
	SummerCover = kind(PartKind{ID: "summer cover", Step: "cover",
		Joint: "hung on two hooks at the top, tied at the bottom"})
	FoamUnderSide = kind(PartKind{ID: "foam under the frame, side", Step: "under",
		Joint: "glued to the back edge of the frame, pressed against the wall"})
	FoamUnderTopAndBottom = kind(PartKind{ID: "foam under the frame, top and bottom", Step: "under",
		Joint: "glued to the back edge of the frame, pressed against the wall"})
)

// Absorbing are the kinds that take up the sun, and Insulating those that keep the heat in.
var (
	Absorbing  = []*PartKind{Screen, Can, Downpipe, RibbedDuct, Plate, AbsorberBody, Foil}
	Insulating = []*PartKind{BackFoam, SideFoam, TopAndBottomFoam, FoamUnderSide, FoamUnderTopAndBottom}
)

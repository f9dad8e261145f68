package design

// Group is a heading under which fields are edited together.
type Group struct {
	// Title is the heading.
	Title string

	fields []*Field
}

// Fields returns the group's fields, in the order in which they are declared.
func (g *Group) Fields() []*Field { return g.fields }

// The groups of fields.
var (
	LocationGroup    = &Group{Title: "Location"}
	OrientationGroup = &Group{Title: "Orientation"}
	WeatherGroup     = &Group{Title: "Weather through the year"}
	NoonGroup        = &Group{Title: "Clear winter noon"}
	ShadeGroup       = &Group{Title: "Shade"}
	WallGroup        = &Group{Title: "Wall"}
	LoadsGroup       = &Group{Title: "Loads and building"}
	NameGroup        = &Group{Title: "Name of this heater"}

	SpaceGroup       = &Group{Title: "Space"}
	WindowsGroup     = &Group{Title: "Windows"}
	HeatingGroup     = &Group{Title: "Temperatures and heating"}
	SecondSpaceGroup = &Group{Title: "Second space"}
	RoomNoonGroup    = &Group{Title: "Room at the clear winter noon"}
	MoneyGroup       = &Group{Title: "Money"}

	GlazingGroup    = &Group{Title: "Glazing"}
	AbsorberGroup   = &Group{Title: "Absorber"}
	InsulationGroup = &Group{Title: "Insulation"}
	GuardGroup      = &Group{Title: "Overheating guard"}
	FrameGroup      = &Group{Title: "Frame"}
	MeasuredGroup   = &Group{Title: "As measured"}

	FanGroup      = &Group{Title: "Fan"}
	AirPathGroup  = &Group{Title: "Air path"}
	RowGroup      = &Group{Title: "Row of boxes"}
	FanPanelGroup = &Group{Title: "Solar panel of the fan"}
	SwitchGroup   = &Group{Title: "Thermostat or switch"}

	CansGroup      = &Group{Title: "Cans"}
	SawGroup       = &Group{Title: "Saw and stock, for all heaters"}
	WorkspaceGroup = &Group{Title: "Workspace, for all heaters"}
	EveningsGroup  = &Group{Title: "Evenings, for all heaters"}
	LogGroup       = &Group{Title: "Airflow used for the heat"}
	LoggerGroup    = &Group{Title: "Logger"}

	// OwnControl has the fields that a page edits by a control of its own: the town by its search, the weather file by its upload, the
	// family by its pictures, units and currency by the settings.
	OwnControl = &Group{}
)

package sheet

import (
	"strings"

	"steptrace/core/circuit"
)

// Column is a column's name in files, its title on screen, what stands in it, and how many
// characters that usually is.
type Column struct {
	Name  string `json:"name"`
	Title string `json:"title"`
	Hint  string `json:"hint"`
	Wide  int    `json:"wide"`
}

// usualWide is how many characters a value and its unit have.
const usualWide = 9

// The tables of a sheet, in the order they are written.
const (
	pathTable     = "path"
	stagesTable   = "stages"
	expectedTable = "expected"
	railsTable    = "rails"
	controlsTable = "controls"
	routesTable   = "routes"

	reservoirsTable = "reservoirs"
	tracksTable     = "tracks"
	hazardsTable    = "hazards"
	weakTable       = "weak"
	complaintsTable = "complaints"
	modifiedTable   = "modifications"
	adjustTable     = "adjustments"
	closingTable    = "closing"
	circuitsTable   = "circuits"
)

// alsoColumn stands in both tables that hold stages.
var alsoColumn = Column{"also", "Also needs", "controls, grounds, an oscillator's point; with ; between", usualWide}

var tableColumns = []struct {
	name, title, empty string
	columns            []Column
}{
	{pathTable, "Points and stages",
		"Type the first point, or paste a table: each row is a point and the stage that leads to it from the row above.", []Column{
			{
				"point",
				"Point",
				"label on the board",
				12,
			}, {"drawing", "Drawing", "label on the drawing", usualWide}, {"note", "What it is", "a few words", 25},
			{"stage", "Stage into it", "block between the point above and this one", 24}, {"kind", "Kind", strings.Join(Kinds, ", "), 15},
			{
				"gain",
				"Gain",
				"28 dB or ×25",
				usualWide,
			}, {"ac", "Signal", "19.1 mV, 300 mVpp", usualWide}, {"tol", "±", "2 dB or 10 %", usualWide},
			{
				"frequency",
				"Frequency",
				"1 kHz",
				usualWide,
			}, {"hztol", "± Frequency", "50 ppm, 1 %, 10 Hz, or what makes it: crystal, ceramic, " +
				"LC, RC", usualWide}, {"dc", "DC", "4.2 V", usualWide}, {"dctol", "± DC", "10 %", usualWide}, {"ohms", "Ohms, off",
				"to ground", usualWide},
			{
				"limit",
				"Limit",
				"7 V, or agc 40 dB",
				usualWide,
			}, {"needs", "Rails", "names, with ; between", 14}, alsoColumn, {"modes", "Modes", "names, with ; between", 16},
			{"from", "From", "only where not the point above", 12}, {"source", "Source", "resistance, 10k", usualWide},
			{
				"minutes",
				"Minutes",
				"to reach it",
				usualWide,
			}, {"hazard", "Beware of", "what can hurt here", 30}, {"peak", "Peak volts", "with pulses: 1.2 kV", usualWide},
			{"twin", "Twin", "the same place in the other channel", usualWide},
			{"was", "Point was", "its names before; with ; between", usualWide},
			{"stagewas", "Stage was", "its names before; with ; between", usualWide}}},
	{stagesTable, "Further stages",
		"Stages that do not fit the first table: where several lead to one point.", []Column{
			{
				"stage",
				"Stage",
				"name",
				24,
			}, {"kind", "Kind", strings.Join(Kinds, ", "), 15}, {"from", "From", "point", 12}, {"to", "To", "point", 12},
			{
				"gain",
				"Gain",
				"28 dB or ×25",
				usualWide,
			}, {"limit", "Limit", "7 V, or agc 40 dB", usualWide}, {"needs", "Rails", "names, with ; between", 14}, alsoColumn,
			{"modes", "Modes", "names, with ; between", 16}, {"note", "Note", "", 25},
			{"stagewas", "Stage was", "its names before; with ; between", usualWide}}},
	{expectedTable, "Further values",
		"Values that hold under other conditions: in one mode only, at another generator level, of another shape.", []Column{
			{
				"at",
				"Point",
				"label on the board",
				12,
			}, {"quantity", "Quantity", QuantityList(), usualWide}, {"value", "Value", "300 mVpp", usualWide},
			{
				"tol",
				"±",
				"2 dB or 10 %",
				usualWide,
			}, {"shape", "Shape", "sine, square, triangle", usualWide}, {"picture", "Picture", "name", usualWide}, {"mode", "Mode", "",
				usualWide},
			{
				"drive",
				"Generator",
				"level, where not the entry's",
				usualWide,
			}, {"drivefrequency", "at", "its frequency", usualWide}, {"settings", "Settings", "how the controls stand", 30}}},
	{railsTable, "Rails",
		"The supply lines that stages need.", []Column{
			{
				"rail",
				"Rail",
				"+24 V",
				usualWide,
			}, {"value", "Volts", "24 V", usualWide}, {"tol", "±", "5 %", usualWide}, {"railpoint", "Measured at", "place", 14},
			{
				"ripple",
				"Ripple",
				"highest, 400 mVpp",
				usualWide,
			}, {"ripplehz", "at", "100 Hz", usualWide}, {"load", "Load", "350 mA", usualWide}, {"railohms", "Ohms, off", "least to ground",
				usualWide},
			{
				"feed",
				"From",
				"winding, or another rail",
				14,
			}, {"fuse", "Fuse", "name", usualWide}, {"rectifier", "Rectifier", "half wave, full wave, switching", 24},
			{
				"regulator",
				"Regulator",
				"name",
				12,
			}, {"up", "Comes up", "mains, or start", usualWide}, {"order", "Order", "1 for the first", usualWide}, {"note", "Note", "",
				25}, {"was", "Was", "its names before; with ; between", usualWide}}},
	{controlsTable, "Controls and grounds",
		"What stages need besides supply: lines that let them pass, mute, tune, select or set the gain, and the grounds they " +
			"stand on.", []Column{
			{
				"control",
				"Control",
				"MUTE",
				usualWide,
			}, {"does", "Does", strings.Join(ControlDoes, ", "), usualWide}, {"value", "Volts", "while the signal passes", usualWide},
			{"tol", "±", "10 %", usualWide},
			{
				"controlpoint",
				"Measured at",
				"place",
				usualWide,
			}, {"worked", "Worked", "volts then", usualWide}, {"by", "Worked by", "MUTE held", usualWide},
			{"driven", "Driven from", "rail, control, or what makes it", usualWide}, {"note", "Note", "", 25},
			{"was", "Was", "its names before; with ; between", usualWide}}},
	{routesTable, "Names of routes",
		"Names for the ways through the set, from an entry to an exit.", []Column{
			{"route", "Route", "name", 24}, {"from", "From", "entry", 12}, {"to", "To", "exit", 12}, {"mode", "Mode", "", usualWide}}},
	{reservoirsTable, "Reservoirs",
		"The capacitors that keep their charge after the set is off: what they hold and how to empty them follows.", []Column{
			{
				"reservoir",
				"Reservoir",
				"C20",
				usualWide,
			}, {"farads", "Capacitance", "4700 µF", 12}, {"onrail", "On rail", "name", 10}, {"volts", "Charged to", "where not the rail's",
				usualWide},
			{"bleeder", "Bleeder", "100k, where there is one", usualWide}, {"note", "Note", "", 25}}},
	{tracksTable, "Copper",
		"Places along a rail’s copper, from the supply outwards, and what hangs there: for finding a short.", []Column{
			{
				"place",
				"Place",
				"on the copper",
				14,
			}, {"onrail", "Rail", "name", 10}, {"after", "After", "place before it", 14}, {"trackohms", "Copper", "4 mΩ from there",
				usualWide},
			{
				"opens",
				"Opens",
				"link or plug before it",
				14,
			}, {"hangs", "Hangs there", "parts, with ; between", 30}, {"minutes", "Minutes", "to lift one", usualWide}}},
	{hazardsTable, "Dangers",
		"What in the set can hurt. Reservoirs and high voltages are found by themselves.", []Column{
			{"danger", "Danger", strings.Join(HazardKinds, ", "), 16}, {"where", "Where", "", 40}, {"note", "Note", "", 25}}},
	{weakTable, "Usual faults",
		"The usual faults of the model. They are offered first where the complaint fits.", []Column{
			{
				"weak",
				"Usual fault",
				"what it is",
				36,
			}, {"in", "In", "stage or rail", 24}, {"symptom", "Told by", "what owners say; several with ; " +
				"between", 40}, {"check", "Cheap check", "", 40}}},
	{complaintsTable, "Complaints",
		"What owners say of such a set, and where it points.", []Column{
			{"says", "Told as", "what owners say; several with ; between", 40},
			{"pointsat", "Points at", "stages, rails, controls; with ; between", 40}}},
	{modifiedTable, "Modifications",
		"What the workshop changes in such sets, and why. The circuit of one stands below, under its name.", []Column{
			{"modified", "What is changed", "a few words", 30},
			{"modifies", "In", "stage, rail or control; empty: none", 24},
			{"reason", "Why", "", 40},
			{"how", "How", "what is cut, fitted and joined", 50},
			{"injob", "First in job", "", usualWide}}},
	{adjustTable, "Adjustments",
		"What is set by hand: what is turned, where that is measured, to what, and how the set stands meanwhile.", []Column{
			{"adjust", "Adjustment", "idle current, left", 24},
			{"sort", "Kind", strings.Join(AdjustmentKinds, ", "), 14},
			{"turn", "Turn", "VR301, T4, menu item", 14},
			{"across", "Measured", "TP7; TP7 to TP8; across R313; picture; sound", 20},
			{"target", "Target", "12 mV; least; most; by eye; by ear", 14},
			{"tol", "±", "2 mV or 10 %", usualWide},
			{"conditions", "With", "how the set stands; with ; between", 40},
			{"warm", "Warm", "minutes on before", usualWide},
			{"after", "After", "adjustments that move it; with ; between", 24},
			{"shunt", "Across ohms", "of the resistor it is read across", usualWide},
			{"heated", "Heats at", "rail or volts across what the current heats", usualWide},
			{"turns", "Turns", "of the control; 0.75 understood", usualWide},
			{"beware", "Beware of", "what may go wrong", 40},
			{"in", "In", "stage whose circuit computes it", 24},
			{"twin", "Twin", "the same in the other channel", 24},
			{"quantity", "Reads", "where the target does not say it", usualWide},
			{"manual", "Manual’s way", "where the workshop has its own", 40},
			{"reason", "Why not", "the reason for the workshop’s own way", 40}}},
	{closingTable, "Closing measurements",
		"What is measured and tried before such a set goes back, and between which limits it is right.", []Column{
			{"closing", "Closing measurement", "hum, left", 24},
			{"checks", "Kind", strings.Join(ClosingKinds, ", "), 14},
			{"readat", "Read at", "exit or point", 14},
			{"beside", "Beside", "the other channel’s exit, for separation", 14},
			{"fedat", "Fed in at", "entry of the signal", 14},
			{"mode", "Mode", "", usualWide},
			{"feed", "Level", "what is fed in; empty: as the sheet has it", usualWide},
			{"hertz", "Frequencies", "50 Hz; 1 kHz; 15 kHz", 20},
			{"into", "Load", "8 Ω", usualWide},
			{"least", "Least", "50 W", usualWide},
			{"most", "Most", "5 mV", usualWide},
			{"conditions", "With", "how the set stands; with ; between", 40},
			{"note", "Note", "", 40}}},
	{circuitsTable, "Circuits",
		"What a stage, a rail’s supply or a modification is made of: its parts, and between which nodes they lie.", []Column{
			{
				"part",
				"Part",
				"R14",
				usualWide,
			}, {"stage", "Of stage", "stage, rail, modification; empty: as above", 24},
			{"kind", "Kind", strings.Join(circuit.Kinds(), "\n"), 15},
			{
				"nodes",
				"Between nodes",
				"in the order of the kind, with ; between; points by their names",
				usualWide,
			}, {"value", "Value", "4k7", usualWide},
			{"also", "Also", "gain 250; rated 0.5 W", usualWide}, {"in", "In", "package with others", 24}}},
}

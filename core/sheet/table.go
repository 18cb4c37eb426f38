package sheet

import (
	"fmt"
	"slices"
	"strings"

	"steptrace/core/circuit"
)

// A sheet can be typed as a few plain tables. The first carries nearly
// everything: each row is a point together with the stage that leads to it
// from the row above (or from the point named in its "from" column). The
// others hold what does not fit one row: stages that join, values for further
// conditions, rails, names of routes, reservoirs, copper, dangers, usual faults.

// Table is one of them: rows of cells, as wide as its columns. Empty says what goes into it.
type Table struct {
	Name    string     `json:"name"`
	Title   string     `json:"title"`
	Empty   string     `json:"empty"`
	Columns []Column   `json:"columns"`
	Rows    [][]string `json:"rows"`

	lines []int // of the file each row was read from
}

// table finds one of the tables; all are there in what EmptyTables gives.
func (t Tables) table(name string) *Table {
	for i := range t.Tables {
		if t.Tables[i].Name == name {
			return &t.Tables[i]
		}
	}
	return nil
}

// Line gives the line of the file that a cell was read from; 0 where the
// tables were not read from one.
func (t Tables) Line(c Cell) int {
	if table := t.table(c.Table); table != nil && c.Row < len(table.lines) {
		return table.lines[c.Row]
	}
	return 0
}

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

// Tables is a whole sheet in tables, with the lines above them.
type Tables struct {
	Maker    string  `json:"maker"`
	Model    string  `json:"model"`
	Kind     string  `json:"kind"`
	Note     string  `json:"note"`
	Settings string  `json:"settings"`
	Tables   []Table `json:"tables"`
}

// Cell is a place in Tables; Row counts from 0.
type Cell struct {
	Table  string `json:"table"`
	Row    int    `json:"row"`
	Column string `json:"column"`
}

// Origin tells which cell each part of a document came from.
type Origin map[string]Cell

// Find gives the cell for a Problem's path, or for the nearest part above it.
func (o Origin) Find(path string) (Cell, bool) {
	for {
		if c, ok := o[path]; ok {
			return c, true
		}
		i := strings.LastIndexByte(path, '/')
		if i < 0 {
			return Cell{}, false
		}
		path = path[:i]
	}
}

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
	{circuitsTable, "Circuits",
		"What a stage, or a rail’s supply, is made of: its parts, and between which nodes they lie.", []Column{
			{
				"part",
				"Part",
				"R14",
				usualWide,
			}, {"stage", "Of stage", "stage or rail; empty: as above", 24}, {"kind", "Kind", strings.Join(circuit.Kinds(), "\n"), 15},
			{
				"nodes",
				"Between nodes",
				"in the order of the kind, with ; between; points by their names",
				usualWide,
			}, {"value", "Value", "4k7", usualWide},
			{"also", "Also", "gain 250; rated 0.5 W", usualWide}, {"in", "In", "package with others", 24}}},
}

// EmptyTables gives the tables of an empty sheet.
func EmptyTables() Tables { return (&Sheet{}).Tables() }

// row builds one row of a table from named cells.
func row(columns []Column, cells map[string]string) []string {
	out := make([]string, len(columns))
	for i, c := range columns {
		out[i] = cells[c.Name]
	}
	return out
}

// simple tells whether an expectation fits the path table's own columns.
func simple(e *Expectation) bool {
	return e.Shape == "" && e.Picture == "" && e.Mode == "" && e.Drive == "" && e.DriveFrequency == "" && e.Settings == "" &&
		(e.Tolerance == "" || e.Quantity != Resistance)
}

// CircuitColumns are those of the circuit of one stage.
func CircuitColumns() []Column {
	all := tableColumns[len(tableColumns)-1].columns
	return slices.DeleteFunc(slices.Clone(all), func(c Column) bool { return c.Name == "stage" })
}

// Tables lays the sheet out in tables. FromTables gives the same sheet back.
//
// Long: a block for each table.
func (s *Sheet) Tables() Tables {
	t := Tables{Maker: s.Maker, Model: s.Model, Kind: s.Kind, Note: s.Note, Settings: s.Settings}
	rows := map[string][][]string{}
	columns := map[string][]Column{}
	for _, tc := range tableColumns {
		columns[tc.name] = tc.columns
		rows[tc.name] = [][]string{}
	}
	add := func(table string, cells map[string]string) {
		rows[table] = append(rows[table], row(columns[table], cells))
	}
	inline := s.inlineStages()
	for i := range s.Points {
		p := &s.Points[i]
		cells := map[string]string{
			"point":   p.Name,
			"drawing": p.Drawing,
			"note":    p.Note,
			"source":  p.Source,
			"minutes": p.Minutes,
			"hazard":  p.Hazard,
			"peak":    p.Peak,
			"twin":    p.Twin,
			"was":     strings.Join(p.Was, "; "),
		}
		rest := p.Expect
		for _, q := range []Quantity{AC, DC, Frequency, Resistance} {
			// Only a leading run in this order fits the columns; the rest keeps
			// its own order in a table of its own.
			if len(rest) == 0 || rest[0].Quantity != q || !simple(&rest[0]) {
				continue
			}
			switch e := rest[0]; q {
			case AC:
				cells["ac"], cells["tol"] = e.Value, e.Tolerance
			case DC:
				cells["dc"], cells["dctol"] = e.Value, e.Tolerance
			case Frequency:
				cells["frequency"], cells["hztol"] = e.Value, e.Tolerance
			case Resistance:
				cells["ohms"] = e.Value
			}
			rest = rest[1:]
		}
		for _, e := range rest {
			add(
				expectedTable,
				map[string]string{"at": p.Name, "quantity": string(e.Quantity), "value": e.Value, "tol": e.Tolerance, "shape": e.Shape,
					"picture": e.Picture, "mode": e.Mode, "drive": e.Drive, "drivefrequency": e.DriveFrequency, "settings": e.Settings},
			)
		}
		if st, ok := inline[i]; ok {
			for name, cell := range stageCells(st) {
				cells[name] = cell
			}
			if i > 0 && st.From == s.Points[i-1].Name && st.Kind != oscillator {
				cells["from"] = ""
			}
		}
		add(pathTable, cells)
	}
	for i := len(inline); i < len(s.Stages); i++ {
		st := &s.Stages[i]
		cells := stageCells(st)
		cells["to"], cells["note"] = st.To, st.Note
		add(stagesTable, cells)
	}
	for _, r := range s.Rails {
		add(
			railsTable,
			map[string]string{
				"rail":      r.Name,
				"value":     r.Value,
				"tol":       r.Tolerance,
				"railpoint": r.Point,
				"ripple":    r.Ripple,
				"ripplehz":  r.RippleFrequency,
				"load":      r.Load,
				"railohms":  r.Ohms,
				"feed":      r.From,
				"fuse":      r.Fuse,
				"rectifier": r.Rectifier,
				"regulator": r.Regulator,
				"up":        string(r.Up),
				"order":     r.Order,
				"note":      r.Note,
				"was":       strings.Join(r.Was, "; "),
			},
		)
	}
	for _, c := range s.Controls {
		add(
			controlsTable,
			map[string]string{
				"control":      c.Name,
				"does":         c.Does,
				"value":        c.Value,
				"tol":          c.Tolerance,
				"controlpoint": c.Point,
				"worked":       c.Worked,
				"by":           c.By,
				"driven":       c.From,
				"note":         c.Note,
				"was":          strings.Join(c.Was, "; "),
			},
		)
	}
	for _, r := range s.Routes {
		add(routesTable, map[string]string{"route": r.Name, "from": r.From, "to": r.To, "mode": r.Mode})
	}
	for _, c := range s.Reservoirs {
		add(
			reservoirsTable,
			map[string]string{
				"reservoir": c.Name,
				"farads":    c.Farads,
				"onrail":    c.Rail,
				"volts":     c.Volts,
				"bleeder":   c.Bleeder,
				"note":      c.Note,
			},
		)
	}
	for _, x := range s.Tracks {
		add(
			tracksTable,
			map[string]string{
				"place":     x.Place,
				"onrail":    x.Rail,
				"after":     x.After,
				"trackohms": x.Ohms,
				"opens":     x.Opens,
				"hangs":     strings.Join(x.Hangs, "; "),
				"minutes":   x.Minutes,
			},
		)
	}
	for _, h := range s.Hazards {
		add(hazardsTable, map[string]string{"danger": h.Kind, "where": h.Where, "note": h.Note})
	}
	for _, w := range s.WeakSpots {
		add(weakTable, map[string]string{"weak": w.What, "in": w.Stage, "symptom": w.Symptom, "check": w.Check})
	}
	for _, c := range s.Complaints {
		add(complaintsTable, map[string]string{"says": c.Says, "pointsat": strings.Join(c.PointsAt, "; ")})
	}
	for _, c := range s.Circuits {
		for i := range c.Parts {
			p := &c.Parts[i]
			stage := ""
			if i == 0 {
				stage = c.Stage
			}
			add(
				circuitsTable,
				map[string]string{
					"part":  p.Name,
					"stage": stage,
					"kind":  string(p.Kind),
					"nodes": p.NodesText(),
					"value": p.Value,
					"also":  p.AlsoText(),
					"in":    p.In,
				},
			)
		}
	}
	for _, tc := range tableColumns {
		t.Tables = append(t.Tables, Table{Name: tc.name, Title: tc.title, Empty: tc.empty, Columns: tc.columns, Rows: rows[tc.name]})
	}
	return t
}

func stageCells(st *Stage) map[string]string {
	return map[string]string{"stage": st.Name, "kind": st.Kind, "from": st.From, "gain": st.Gain, "limit": st.Limit,
		"needs": strings.Join(st.Rails, "; "), "also": strings.Join(st.Needs, "; "), "modes": strings.Join(st.Modes, "; "),
		"stagewas": strings.Join(st.Was, "; ")}
}

// inlineStages picks the stages that can stand in the row of the point they
// lead to, by that point's index: the first ones, as long as the document lists them in the order of the points, so
// that nothing changes place by being written down.
func (s *Sheet) inlineStages() map[int]*Stage {
	position := map[string]int{}
	for i := range s.Points {
		if _, twice := position[s.Points[i].Name]; !twice {
			position[s.Points[i].Name] = i
		}
	}
	inline := map[int]*Stage{}
	last := -1
	for i := range s.Stages {
		st := &s.Stages[i]
		at, ok := position[st.To]
		if !ok || at <= last || st.Note != "" || st.Name == "" || st.From == "" && st.Kind != oscillator {
			break
		}
		inline[at], last = st, at
	}
	return inline
}

// FromTables builds the document. It does not judge: what stands in the cells
// is taken as it is, and Plan reports on it; Origin finds the cell again.
func FromTables(t Tables) (*Sheet, Origin) {
	s := &Sheet{
		Format:   Format,
		Version:  Version,
		Maker:    strings.TrimSpace(t.Maker),
		Model:    strings.TrimSpace(t.Model),
		Kind:     strings.TrimSpace(t.Kind),
		Note:     strings.TrimSpace(t.Note),
		Settings: strings.TrimSpace(t.Settings),
	}
	b := tableReader{sheet: s, origin: Origin{}, at: map[string]int{}}
	for _, tc := range tableColumns {
		if table := t.table(tc.name); table != nil {
			b.read(table)
		}
	}
	s.fill()
	return s, b.origin
}

type tableReader struct {
	sheet   *Sheet
	origin  Origin
	at      map[string]int // point name -> index
	above   string         // the point in the row above
	circuit int            // the one in the row above
}

// cells is one row by column name.
type cells struct {
	table string
	row   int
	text  map[string]string
}

func (c cells) cell(column string) Cell { return Cell{c.table, c.row, column} }

// Long: a block for each table.
func (b *tableReader) read(t *Table) {
	for r, texts := range t.Rows {
		c := cells{t.Name, r, map[string]string{}}
		empty := true
		for i, col := range t.Columns {
			if i < len(texts) {
				c.text[col.Name] = strings.TrimSpace(texts[i])
				empty = empty && c.text[col.Name] == ""
			}
		}
		if empty {
			continue
		}
		switch t.Name {
		case pathTable:
			b.path(c)
		case stagesTable:
			b.stage(c, c.text["from"], c.text["to"])
		case expectedTable:
			b.expected(c)
		case railsTable:
			b.mark(
				fmt.Sprintf("rails/%d", len(b.sheet.Rails)),
				c,
				map[string]string{"name": "rail", "value": "value", "tolerance": "tol", "point": "railpoint", "ripple": "ripple",
					"rippleFrequency": "ripplehz", "load": "load", "ohms": "railohms", "from": "feed", "rectifier": "rectifier", "up": "up",
					"order": "order"},
			)
			b.sheet.Rails = append(
				b.sheet.Rails,
				Rail{
					Name:            c.text["rail"],
					Value:           c.text["value"],
					Tolerance:       c.text["tol"],
					Point:           c.text["railpoint"],
					Ripple:          c.text["ripple"],
					RippleFrequency: c.text["ripplehz"],
					Load:            c.text["load"],
					Ohms:            c.text["railohms"],
					From:            c.text["feed"],
					Fuse:            c.text["fuse"],
					Rectifier:       c.text["rectifier"],
					Regulator:       c.text["regulator"],
					Up:              Arrival(strings.ToLower(c.text["up"])),
					Order:           c.text["order"],
					Note:            c.text["note"],
					Was:             ListOf(c.text["was"]),
				},
			)
		case controlsTable:
			b.mark(
				fmt.Sprintf("controls/%d", len(b.sheet.Controls)),
				c,
				map[string]string{
					"name":      "control",
					"does":      "does",
					"value":     "value",
					"tolerance": "tol",
					"worked":    "worked",
					"by":        "by",
					"from":      "driven",
				},
			)
			b.sheet.Controls = append(
				b.sheet.Controls,
				Control{
					Name:      c.text["control"],
					Does:      usual(controlWords, c.text["does"]),
					Value:     c.text["value"],
					Tolerance: c.text["tol"],
					Point:     c.text["controlpoint"],
					Worked:    c.text["worked"],
					By:        c.text["by"],
					From:      c.text["driven"],
					Note:      c.text["note"],
					Was:       ListOf(c.text["was"]),
				},
			)
		case routesTable:
			b.mark(fmt.Sprintf("routes/%d", len(b.sheet.Routes)), c, map[string]string{"name": "route", "from": "from"})
			b.sheet.Routes = append(
				b.sheet.Routes,
				RouteName{Name: c.text["route"], From: c.text["from"], To: c.text["to"], Mode: c.text["mode"]},
			)
		case reservoirsTable:
			b.mark(
				fmt.Sprintf("reservoirs/%d", len(b.sheet.Reservoirs)),
				c,
				map[string]string{"name": "reservoir", "rail": "onrail", "farads": "farads", "volts": "volts", "bleeder": "bleeder"},
			)
			b.sheet.Reservoirs = append(
				b.sheet.Reservoirs,
				Reservoir{
					Name:    c.text["reservoir"],
					Rail:    c.text["onrail"],
					Farads:  c.text["farads"],
					Volts:   c.text["volts"],
					Bleeder: c.text["bleeder"],
					Note:    c.text["note"],
				},
			)
		case tracksTable:
			b.mark(
				fmt.Sprintf("tracks/%d", len(b.sheet.Tracks)),
				c,
				map[string]string{"place": "place", "rail": "onrail", "after": "after", "ohms": "trackohms", "minutes": "minutes"},
			)
			b.sheet.Tracks = append(
				b.sheet.Tracks,
				Track{
					Rail:    c.text["onrail"],
					Place:   c.text["place"],
					After:   c.text["after"],
					Ohms:    c.text["trackohms"],
					Opens:   c.text["opens"],
					Hangs:   ListOf(c.text["hangs"]),
					Minutes: c.text["minutes"],
				},
			)
		case hazardsTable:
			b.mark(fmt.Sprintf("hazards/%d", len(b.sheet.Hazards)), c, map[string]string{"kind": "danger"})
			b.sheet.Hazards = append(
				b.sheet.Hazards,
				Hazard{Kind: usual(hazardWords, c.text["danger"]), Where: c.text["where"], Note: c.text["note"]},
			)
		case weakTable:
			b.mark(fmt.Sprintf("weakSpots/%d", len(b.sheet.WeakSpots)), c, map[string]string{"stage": "in", "what": "weak"})
			b.sheet.WeakSpots = append(
				b.sheet.WeakSpots,
				WeakSpot{Stage: c.text["in"], What: c.text["weak"], Symptom: c.text["symptom"], Check: c.text["check"]},
			)
		case complaintsTable:
			b.mark(fmt.Sprintf("complaints/%d", len(b.sheet.Complaints)), c, map[string]string{"says": "says", "pointsAt": "pointsat"})
			b.sheet.Complaints = append(b.sheet.Complaints, Complaint{Says: c.text["says"], PointsAt: ListOf(c.text["pointsat"])})
		case circuitsTable:
			b.part(c)
		}
	}
}

// mark notes the cells of a part's fields.
func (b *tableReader) mark(path string, c cells, fields map[string]string) {
	for field, column := range fields {
		b.origin[path+"/"+field] = c.cell(column)
	}
}

// part adds a part to the circuit of its stage, or to the one above.
func (b *tableReader) part(c cells) {
	all := &b.sheet.Circuits
	stage := c.text["stage"]
	k := slices.IndexFunc(*all, func(x Circuit) bool { return x.Stage == stage })
	switch {
	case stage == "" && len(*all) > 0:
		k = b.circuit
	case k < 0:
		k = len(*all)
		*all = append(*all, Circuit{Stage: stage})
		b.mark(fmt.Sprintf("circuits/%d", k), c, map[string]string{"stage": "stage"})
	}
	b.circuit = k
	b.mark(
		fmt.Sprintf("circuits/%d/parts/%d", k, len((*all)[k].Parts)),
		c,
		map[string]string{"name": "part", "kind": "kind", "nodes": "nodes", "value": "value", "also": "also"},
	)
	(*all)[k].Parts = append(
		(*all)[k].Parts,
		circuit.PartOf(c.text["part"], c.text["kind"], c.text["nodes"], c.text["value"], c.text["also"], c.text["in"]),
	)
}

func (b *tableReader) path(c cells) {
	i := len(b.sheet.Points)
	name := c.text["point"]
	path := fmt.Sprintf("points/%d", i)
	b.mark(path, c, map[string]string{"name": "point", "source": "source", "minutes": "minutes", "peak": "peak", "twin": "twin"})
	p := Point{
		Name:    name,
		Drawing: c.text["drawing"],
		Note:    c.text["note"],
		Source:  c.text["source"],
		Minutes: c.text["minutes"],
		Hazard:  c.text["hazard"],
		Peak:    c.text["peak"],
		Twin:    c.text["twin"],
		Was:     ListOf(c.text["was"]),
	}
	for _, x := range []struct {
		q            Quantity
		column, toln string
	}{{AC, "ac", "tol"}, {DC, "dc", "dctol"}, {Frequency, "frequency", "hztol"}, {Resistance, "ohms", ""}} {
		if c.text[x.column] == "" {
			continue
		}
		b.mark(
			fmt.Sprintf("%s/expect/%d", path, len(p.Expect)),
			c,
			map[string]string{"value": x.column, "tolerance": x.toln, "mode": x.column},
		)
		p.Expect = append(p.Expect, Expectation{Quantity: x.q, Value: c.text[x.column], Tolerance: c.text[x.toln]})
	}
	if _, twice := b.at[name]; !twice {
		b.at[name] = i
	}
	b.sheet.Points = append(b.sheet.Points, p)
	from := c.text["from"]
	if c.text["stage"] != "" || c.text["gain"] != "" || from != "" {
		if from == "" && usual(kindWords, c.text["kind"]) != oscillator { // which begins by itself
			from = b.above
		}
		b.stage(c, from, name)
	}
	b.above = name
}

func (b *tableReader) stage(c cells, from, to string) {
	path := fmt.Sprintf("stages/%d", len(b.sheet.Stages))
	fields := map[string]string{
		"name":  "stage",
		"kind":  "kind",
		"from":  "from",
		"to":    "to",
		"gain":  "gain",
		"limit": "limit",
		"rails": "needs",
		"needs": "also",
	}
	if c.table == pathTable {
		fields["to"] = "point"
	}
	b.mark(path, c, fields)
	b.sheet.Stages = append(
		b.sheet.Stages,
		Stage{
			Name:  c.text["stage"],
			Kind:  usual(kindWords, c.text["kind"]),
			From:  from,
			To:    to,
			Gain:  c.text["gain"],
			Limit: c.text["limit"],
			Rails: ListOf(c.text["needs"]),
			Needs: ListOf(c.text["also"]),
			Modes: ListOf(c.text["modes"]),
			Note:  stageNote(c),
			Was:   ListOf(c.text["stagewas"]),
		},
	)
}

// stageNote: in the path table the note column is the point's.
func stageNote(c cells) string {
	if c.table == pathTable {
		return ""
	}
	return c.text["note"]
}

func (b *tableReader) expected(c cells) {
	i, ok := b.at[c.text["at"]]
	if !ok {
		// Kept as a point of its own, so that the check shows the stray name.
		i = len(b.sheet.Points)
		b.at[c.text["at"]] = i
		b.sheet.Points = append(b.sheet.Points, Point{Name: c.text["at"]})
		b.mark(fmt.Sprintf("points/%d", i), c, map[string]string{"name": "at"})
	}
	p := &b.sheet.Points[i]
	b.mark(
		fmt.Sprintf("points/%d/expect/%d", i, len(p.Expect)),
		c,
		map[string]string{"quantity": "quantity", "value": "value", "tolerance": "tol",
			"shape": "shape", "mode": "mode", "drive": "drive", "driveFrequency": "drivefrequency"},
	)
	p.Expect = append(
		p.Expect,
		Expectation{
			Quantity:       usual(quantityWords, c.text["quantity"]),
			Value:          c.text["value"],
			Tolerance:      c.text["tol"],
			Shape:          c.text["shape"],
			Picture:        c.text["picture"],
			Mode:           c.text["mode"],
			Drive:          c.text["drive"],
			DriveFrequency: c.text["drivefrequency"],
			Settings:       c.text["settings"],
		},
	)
}

// ListOf takes a list apart at its semicolons; what is empty goes.
func ListOf(text string) []string {
	var out []string
	for _, n := range strings.Split(text, ";") {
		if n = strings.TrimSpace(n); n != "" {
			out = append(out, n)
		}
	}
	return out
}

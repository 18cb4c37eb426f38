package sheet

import (
	"slices"
	"strings"
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
	for _, m := range s.Modifications {
		add(
			modifiedTable,
			map[string]string{"modified": m.What, "modifies": m.Stage, "reason": m.Why, "how": m.How, "injob": m.Job},
		)
	}
	for i := range s.Adjustments {
		a := &s.Adjustments[i]
		add(
			adjustTable,
			map[string]string{
				"adjust":     a.Name,
				"sort":       a.Kind,
				"turn":       a.Turn,
				"across":     a.Measure,
				"quantity":   string(a.Quantity),
				"target":     a.Target,
				"tol":        a.Tolerance,
				"conditions": strings.Join(a.Conditions, "; "),
				"warm":       a.Warm,
				"after":      strings.Join(a.After, "; "),
				"shunt":      a.Ohms,
				"heated":     a.Volts,
				"turns":      a.Turns,
				"beware":     a.Beware,
				"in":         a.Stage,
				"twin":       a.Twin,
				"manual":     a.Manual,
				"reason":     a.Why,
			},
		)
	}
	for i := range s.Closing {
		c := &s.Closing[i]
		add(
			closingTable,
			map[string]string{
				"closing":    c.Name,
				"checks":     c.Kind,
				"readat":     c.At,
				"beside":     c.Other,
				"fedat":      c.From,
				"mode":       c.Mode,
				"feed":       c.Level,
				"hertz":      strings.Join(c.Frequencies, "; "),
				"into":       c.Load,
				"least":      c.Least,
				"most":       c.Most,
				"conditions": strings.Join(c.Conditions, "; "),
				"note":       c.Note,
			},
		)
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

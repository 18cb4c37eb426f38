package sheet

import (
	"fmt"
	"slices"
	"strings"

	"steptrace/core/circuit"
)

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
		case modifiedTable:
			b.mark(
				fmt.Sprintf("modifications/%d", len(b.sheet.Modifications)),
				c,
				map[string]string{"what": "modified", "stage": "modifies"},
			)
			b.sheet.Modifications = append(
				b.sheet.Modifications,
				Modification{
					What:  c.text["modified"],
					Stage: c.text["modifies"],
					Why:   c.text["reason"],
					How:   c.text["how"],
					Job:   c.text["injob"],
				},
			)
		case adjustTable:
			b.mark(
				fmt.Sprintf("adjustments/%d", len(b.sheet.Adjustments)),
				c,
				map[string]string{"name": "adjust", "kind": "sort", "measure": "across", "target": "target", "tolerance": "tol",
					"warm": "warm", "after": "after", "ohms": "shunt", "volts": "heated", "turns": "turns", "stage": "in",
					"twin": "twin", "quantity": "quantity"},
			)
			b.sheet.Adjustments = append(
				b.sheet.Adjustments,
				Adjustment{
					Name:       c.text["adjust"],
					Kind:       strings.ToLower(c.text["sort"]),
					Turn:       c.text["turn"],
					Measure:    c.text["across"],
					Quantity:   usual(quantityWords, c.text["quantity"]),
					Target:     c.text["target"],
					Tolerance:  c.text["tol"],
					Conditions: ListOf(c.text["conditions"]),
					Warm:       c.text["warm"],
					After:      ListOf(c.text["after"]),
					Ohms:       c.text["shunt"],
					Volts:      c.text["heated"],
					Turns:      c.text["turns"],
					Beware:     c.text["beware"],
					Stage:      c.text["in"],
					Twin:       c.text["twin"],
					Manual:     c.text["manual"],
					Why:        c.text["reason"],
				},
			)
		case closingTable:
			b.mark(
				fmt.Sprintf("closing/%d", len(b.sheet.Closing)),
				c,
				map[string]string{"name": "closing", "kind": "checks", "at": "readat", "other": "beside", "from": "fedat",
					"level": "feed", "frequencies": "hertz", "load": "into", "least": "least", "most": "most"},
			)
			b.sheet.Closing = append(
				b.sheet.Closing,
				Closing{
					Name:        c.text["closing"],
					Kind:        strings.ToLower(c.text["checks"]),
					At:          c.text["readat"],
					Other:       c.text["beside"],
					From:        c.text["fedat"],
					Mode:        c.text["mode"],
					Level:       c.text["feed"],
					Frequencies: ListOf(c.text["hertz"]),
					Load:        c.text["into"],
					Least:       c.text["least"],
					Most:        c.text["most"],
					Conditions:  ListOf(c.text["conditions"]),
					Note:        c.text["note"],
				},
			)
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

package soak

import (
	"bytes"
	"encoding/csv"
	"errors"
	"io"
	"math"
	"slices"
	"strconv"
	"strings"

	"steptrace/core/exchange"
	"steptrace/core/mend"
)

// Value is one that was logged: of which trace of the plan, T seconds after it began.
type Value struct {
	Trace int
	T, V  float64
}

// mostValues is how many a table may bring along.
const mostValues = 2_000_000

// WriteTable writes what was logged as CSV (RFC 4180): seconds since the beginning, then a column a trace, in SI units or °C;
// empty where nothing was read. Values at one time stand in one row.
func WriteTable(p *Plan, values []Value) []byte {
	values = slices.Clone(values)
	slices.SortStableFunc(values, func(a, b Value) int {
		switch {
		case a.T < b.T:
			return -1
		case a.T > b.T:
			return 1
		}
		return a.Trace - b.Trace
	})
	var out bytes.Buffer
	w := csv.NewWriter(&out)
	head := []string{"seconds"}
	for i := range p.Traces {
		name := p.Traces[i].Name
		if unit := string(p.Traces[i].What.Unit()); unit != "" {
			name += " (" + unit + ")"
		}
		head = append(head, exchange.Cell(name))
	}
	_ = w.Write(head) // into memory
	row := make([]string, len(head))
	for i := 0; i < len(values); {
		clear(row)
		t := values[i].T
		row[0] = strconv.FormatFloat(t, 'f', -1, 64)
		for ; i < len(values) && values[i].T == t; i++ {
			if k := values[i].Trace + 1; k < len(row) {
				row[k] = strconv.FormatFloat(values[i].V, 'g', -1, 64)
			}
		}
		_ = w.Write(row)
	}
	w.Flush()
	return out.Bytes()
}

// ReadTable reads what WriteTable wrote, for the traces of a plan. Errors name the line.
func ReadTable(p *Plan, data []byte) ([]Value, error) {
	r := csv.NewReader(bytes.NewReader(data))
	r.ReuseRecord = true
	head, err := r.Read()
	if err != nil || len(head) != len(p.Traces)+1 || head[0] != "seconds" {
		return nil, mend.Errorf("the log of a soak begins with a line of seconds and its %d traces", len(p.Traces))
	}
	var out []Value
	for {
		row, err := r.Read()
		if errors.Is(err, io.EOF) {
			return out, nil
		}
		if err != nil {
			return nil, mend.Errorf("the log of a soak: %w", err)
		}
		line, _ := r.FieldPos(0)
		t, err := strconv.ParseFloat(row[0], 64)
		if err != nil || !times(t) {
			return nil, mend.Errorf("line %d of a soak's log: %q is no time within it", line, row[0])
		}
		for i, text := range row[1:] {
			if strings.TrimSpace(text) == "" {
				continue
			}
			v, err := strconv.ParseFloat(text, 64)
			if err != nil || math.IsNaN(v) || math.IsInf(v, 0) {
				return nil, mend.Errorf("line %d of a soak's log: %q is no value", line, text)
			}
			if len(out) == mostValues {
				return nil, mend.Errorf("more than %d values in the log of a soak", mostValues)
			}
			out = append(out, Value{i, t, v})
		}
	}
}

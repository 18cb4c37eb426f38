// Command schema writes the JSON Schemas of Step Trace: of the API, from which
// the front end's types are generated, and of the open formats.
//
//	schema api      the API's questions and answers
//	schema sheet    the service sheet file
//	schema job      the job file
package main

import (
	"encoding/json"
	"fmt"
	"os"
	"path"
	"reflect"

	"github.com/invopop/jsonschema"

	"steptrace/core/job"
	"steptrace/core/quantity"
	"steptrace/core/repair"
	"steptrace/core/safety"
	"steptrace/core/sheet"
	"steptrace/core/stripdown"
	"steptrace/core/supply"
	"steptrace/core/trace"
	"steptrace/internal/server"
)

// enums gives the words that a string type is limited to.
var enums = map[reflect.Type][]any{
	reflect.TypeFor[trace.Verdict]():   anyOf(trace.Verdicts),
	reflect.TypeFor[trace.State]():     {"", trace.Tracing, trace.Named, trace.Clean, trace.Source, trace.Conflict, trace.Verifying, trace.Repaired, trace.Stuck, trace.Elsewhere, trace.Supply},
	reflect.TypeFor[trace.Standing]():  {trace.Suspect, trace.Cleared, trace.Faulty, trace.Aside, trace.Open},
	reflect.TypeFor[trace.Proof]():     {trace.Shown, trace.Lacking, trace.Against, trace.Waived},
	reflect.TypeFor[trace.Way]():       anyOf(trace.Ways()),
	reflect.TypeFor[trace.Power]():     {"", trace.PowerOff, trace.PowerStandby, trace.PowerOn},
	reflect.TypeFor[sheet.Quantity]():  append(anyOf(sheet.Quantities), "", sheet.TrackVolts, sheet.Provocation),
	reflect.TypeFor[supply.Kind]():     {supply.Mains, supply.Winding, supply.Parent, supply.Fuse, supply.Rectifier, supply.Reservoir, supply.Regulator, supply.Load},
	reflect.TypeFor[supply.Standing](): {supply.Open, supply.Good, supply.Suspect, supply.Faulty},
	reflect.TypeFor[supply.State]():    {supply.Unread, supply.Fine, supply.Waiting, supply.Missing, supply.Low, supply.High, supply.Rippling, supply.Shorted},
	reflect.TypeFor[safety.Kind]():     {safety.SwitchedOn, safety.Standby, safety.Off, safety.Residual, safety.Ticked, safety.Unticked},
	reflect.TypeFor[safety.State]():    {safety.Unsaid, safety.Live, safety.InStandby, safety.OffState, safety.Discharged},
	reflect.TypeFor[stripdown.Kind]():  {stripdown.Screws, stripdown.Plug, stripdown.Wires, stripdown.Clips, stripdown.Board, stripdown.Part, stripdown.Renew},
	reflect.TypeFor[repair.Did]():      anyOf(repair.Dids),
	reflect.TypeFor[repair.Stopgap]():  anyOf(repair.Stopgaps),
	reflect.TypeFor[repair.Found]():    {repair.Bad, repair.Wrong, repair.Precaution},
	reflect.TypeFor[sheet.Severity]():  {sheet.Blocking, sheet.Doubtful},
	reflect.TypeFor[quantity.Form]():   {quantity.Unstated, quantity.DC, quantity.RMS, quantity.Peak, quantity.PeakPeak, quantity.Average},
	reflect.TypeFor[quantity.Word]():   anyOf(quantity.Words),
}

func anyOf[T any](list []T) []any {
	out := make([]any, len(list))
	for i, x := range list {
		out[i] = x
	}
	return out
}

// prefixes keep types of one name in different packages apart.
var prefixes = map[string]string{"supply": "Supply", "safety": "Safety", "stripdown": "Strip", "intake": "Intake", "instrument": "Bench", "standin": "Standin", "circuit": "Circuit", "part": "Part", "inside": "Stage", "repair": "Repair"}

var named = map[string]reflect.Type{}

// name gives a type its name in the schema. Two types of one name would
// silently become one.
func name(t reflect.Type) string {
	if t.Name() == "" {
		return "" // a list or a pointer
	}
	n := prefixes[path.Base(t.PkgPath())]
	if n != t.Name() {
		n += t.Name()
	}
	if other, ok := named[n]; ok && other != t {
		panic(fmt.Sprintf("%s and %s are both called %s in the schema: add a prefix", other, t, n))
	}
	named[n] = t
	return n
}

func main() {
	if len(os.Args) != 2 {
		fmt.Fprintln(os.Stderr, "usage: schema api|sheet|job")
		os.Exit(2)
	}
	r := &jsonschema.Reflector{Anonymous: true, Namer: name, Mapper: func(t reflect.Type) *jsonschema.Schema {
		if words, ok := enums[t]; ok {
			return &jsonschema.Schema{Type: "string", Enum: words}
		}
		return nil
	}}
	var out *jsonschema.Schema
	switch os.Args[1] {
	case "api":
		out = &jsonschema.Schema{Version: jsonschema.Version, Title: "Wire", Definitions: jsonschema.Definitions{}}
		for _, v := range server.WireTypes() {
			for name, d := range r.Reflect(v).Definitions {
				out.Definitions[name] = d
			}
		}
	case "sheet":
		out = r.Reflect(sheet.Sheet{})
	case "job":
		out = r.Reflect(job.File{})
	default:
		fmt.Fprintln(os.Stderr, "usage: schema api|sheet|job")
		os.Exit(2)
	}
	e := json.NewEncoder(os.Stdout)
	e.SetIndent("", "  ")
	if err := e.Encode(out); err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(1)
	}
}

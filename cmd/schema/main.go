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
	"reflect"

	"github.com/invopop/jsonschema"

	"steptrace/core/job"
	"steptrace/core/quantity"
	"steptrace/core/sheet"
	"steptrace/core/trace"
	"steptrace/internal/server"
)

// enums gives the words that a string type is limited to.
var enums = map[reflect.Type][]any{
	reflect.TypeFor[trace.Verdict]():  {"", trace.Unjudged, trace.Within, trace.Low, trace.High, trace.Absent, trace.Distorted, trace.Noisy, trace.Hum, trace.OffFrequency, trace.Intermittent},
	reflect.TypeFor[trace.State]():    {"", trace.Tracing, trace.Named, trace.Clean, trace.Source, trace.Conflict, trace.Stuck},
	reflect.TypeFor[trace.Standing](): {trace.Suspect, trace.Cleared, trace.Faulty, trace.Aside},
	reflect.TypeFor[sheet.Quantity](): {"", sheet.AC, sheet.DC, sheet.Frequency, sheet.Resistance},
	reflect.TypeFor[sheet.Severity](): {sheet.Blocking, sheet.Doubtful},
	reflect.TypeFor[quantity.Form]():  {quantity.Unstated, quantity.DC, quantity.RMS, quantity.Peak, quantity.PeakPeak, quantity.Average},
	reflect.TypeFor[quantity.Word]():  {quantity.NoWord, quantity.OK, quantity.Nothing, quantity.Weak, quantity.Hum, quantity.Noisy, quantity.Crackle, quantity.Distorted, quantity.CutsOut},
}

func main() {
	if len(os.Args) != 2 {
		fmt.Fprintln(os.Stderr, "usage: schema api|sheet|job")
		os.Exit(2)
	}
	r := &jsonschema.Reflector{Anonymous: true, Mapper: func(t reflect.Type) *jsonschema.Schema {
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

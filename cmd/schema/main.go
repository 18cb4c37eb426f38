// Command schema writes what others are generated from: the API's description, from which
// the front end's types and client are made, and the JSON Schemas of the open formats.
//
//	schema api      the API, after OpenAPI
//	schema sheet    the service sheet file
//	schema job      the job file
//	schema experience  what a workshop lends
package main

import (
	"encoding/json"
	"fmt"
	"os"
	"reflect"

	"steptrace/core/job"
	"steptrace/core/past"
	"steptrace/core/sheet"
	"steptrace/internal/server"
)

func main() {
	files := map[string]reflect.Type{"sheet": reflect.TypeFor[sheet.Sheet](), "job": reflect.TypeFor[job.File](),
		"experience": reflect.TypeFor[past.File]()}
	if len(os.Args) != 2 || files[os.Args[1]] == nil && os.Args[1] != "api" {
		fmt.Fprintln(os.Stderr, "usage: schema api|sheet|job|experience")
		os.Exit(2)
	}
	if os.Args[1] == "api" {
		fmt.Println(string(server.OpenAPI()))
		return
	}
	e := json.NewEncoder(os.Stdout)
	e.SetIndent("", "  ")
	if err := e.Encode(server.NewSchemas().Of(files[os.Args[1]])); err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(1)
	}
}

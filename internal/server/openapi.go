package server

import (
	"encoding/json"
	"fmt"
	"net/http"
	"path"
	"reflect"
	"regexp"
	"strings"
	"sync"

	"github.com/invopop/jsonschema"

	"steptrace/core/exchange"
	"steptrace/core/sheet"
)

// prefixes keep types of one name in different packages apart. A package that is not here has
// its own name before its types.
var prefixes = map[string]string{
	"server":     "",
	"trace":      "",
	"reading":    "",
	"planning":   "",
	"sheet":      "",
	"quantity":   "",
	"wave":       "",
	"job":        "",
	"exchange":   "",
	"stripdown":  "Strip",
	"inside":     "Stage",
	"instrument": "Bench",
}

// Schemas describes Go types in JSON Schema.
type Schemas struct {
	reflector *jsonschema.Reflector
	named     map[string]reflect.Type
}

// NewSchemas begins descriptions in which types have names of their own.
func NewSchemas() *Schemas {
	s := &Schemas{named: map[string]reflect.Type{}}
	s.reflector = &jsonschema.Reflector{Anonymous: true, Namer: s.name, Mapper: func(t reflect.Type) *jsonschema.Schema {
		words, ok := reflect.Zero(t).Interface().(exchange.Enumerated)
		if !ok || t.Kind() != reflect.String {
			return nil
		}
		out := &jsonschema.Schema{Type: "string"}
		for _, w := range words.Words() {
			out.Enum = append(out.Enum, w)
		}
		return out
	}}
	return s
}

// name gives a type its name. Two types of one name would silently become one.
func (s *Schemas) name(t reflect.Type) string {
	if t.Name() == "" {
		return "" // a list or a pointer
	}
	pkg := path.Base(t.PkgPath())
	n, ok := prefixes[pkg]
	if !ok {
		n = strings.ToUpper(pkg[:1]) + pkg[1:]
	}
	if t == reflect.TypeFor[sheet.Circuit]() {
		n = "Sheet" // the sheet's own types have their plain names, but for this
	}
	if n != t.Name() {
		n += t.Name()
	}
	if other, ok := s.named[n]; ok && other != t {
		panic(fmt.Sprintf("%s and %s are both called %s in the API: add a prefix", other, t, n))
	}
	s.named[n] = t
	return n
}

// Of describes a type; its definitions are those of all types in it.
func (s *Schemas) Of(t reflect.Type) *jsonschema.Schema { return s.reflector.ReflectFromType(t) }

// object is one of JSON.
type object = map[string]any

var inPath = regexp.MustCompile(`\{(\w+)\}`)

// OpenAPI describes the API after the OpenAPI Specification 3.1, from its routes.
func OpenAPI() []byte {
	s := NewSchemas()
	schemas := jsonschema.Definitions{}
	paths := map[string]object{}
	ref := func(t reflect.Type) object {
		d := s.Of(t)
		for name, x := range d.Definitions {
			schemas[name] = x
		}
		return object{"application/json": object{"schema": object{"$ref": d.Ref}}}
	}
	ref(reflect.TypeFor[Head]()) // what the answers about a job have in common
	problem := ref(reflect.TypeFor[ProblemDetails]())
	refused := object{
		"description": "refused: the detail tells what to do",
		"content":     object{"application/problem+json": problem["application/json"]},
	}
	file := object{"application/octet-stream": object{}}
	for _, r := range Routes {
		op := object{"operationId": r.Name}
		var params []object
		for _, m := range inPath.FindAllStringSubmatch(r.Path, -1) {
			params = append(params, object{"name": m[1], "in": "path", "required": true, "schema": object{"type": "string"}})
		}
		for _, q := range r.Query {
			params = append(
				params,
				object{"name": q, "in": "query", "schema": object{"type": "array", "items": object{"type": "string"}}},
			)
		}
		if params != nil {
			op["parameters"] = params
		}
		switch {
		case r.File:
			op["requestBody"] = object{"required": true, "content": file}
		case r.Body != nil:
			op["requestBody"] = object{"required": true, "content": ref(r.Body)}
		}
		done := object{"description": "done", "content": file}
		if r.Answer != nil {
			done["content"] = ref(r.Answer)
		}
		op["responses"] = object{"200": done, "default": refused}
		at := "/api" + r.Path
		if paths[at] == nil {
			paths[at] = object{}
		}
		paths[at][strings.ToLower(r.Method)] = op
	}
	data, err := json.MarshalIndent(object{"openapi": "3.1.0", "info": object{"title": "Step Trace", "version": "1",
		"description": "Everything the screens do. docs/api.md explains it, with " +
			"examples."}, "paths": paths, "components": object{"schemas": schemas}}, "", " ")
	if err != nil {
		panic(err) // a mistake in the program: nothing here comes from outside
	}
	return []byte(strings.ReplaceAll(string(data), `"#/$defs/`, `"#/components/schemas/`))
}

var described = sync.OnceValue(OpenAPI)

func (s *Server) openapi(w http.ResponseWriter, _ *http.Request) error {
	w.Header().Set("Content-Type", "application/json")
	w.Header().Set("Cache-Control", "no-cache")
	_, _ = w.Write(described()) // the client may be gone
	return nil
}

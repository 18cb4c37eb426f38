package server

import (
	"encoding/json"
	"fmt"
	"net/http/httptest"
	"reflect"
	"strings"
	"testing"
)

// grow gives a value of a type whose pointers lead somewhere and whose lists and maps
// have one element, down to a depth; what lies deeper is nil.
func grow(t reflect.Type, depth int) reflect.Value {
	v := reflect.New(t).Elem()
	if depth == 0 {
		return v
	}
	switch t.Kind() {
	case reflect.Pointer:
		v.Set(reflect.New(t.Elem()))
		v.Elem().Set(grow(t.Elem(), depth-1))
	case reflect.Slice:
		v.Set(reflect.Append(v, grow(t.Elem(), depth-1)))
	case reflect.Map:
		v.Set(reflect.MakeMap(t))
		v.SetMapIndex(reflect.Zero(t.Key()), grow(t.Elem(), depth-1))
	case reflect.Struct:
		for i := range t.NumField() {
			if t.Field(i).IsExported() {
				v.Field(i).Set(grow(t.Field(i).Type, depth-1))
			}
		}
	}
	return v
}

// nulls lists where an answer is null although its type, as the front end has it,
// promises otherwise.
func nulls(t reflect.Type, tag reflect.StructTag, answer any, path string) (out []string) {
	for t.Kind() == reflect.Pointer {
		if answer == nil {
			if strings.Contains(tag.Get("jsonschema"), "nullable") {
				return nil
			}
			return []string{path + " is null and not said to be nullable"}
		}
		t = t.Elem()
	}
	switch x := answer.(type) {
	case nil:
		if t.Kind() == reflect.Slice || t.Kind() == reflect.Map {
			out = append(out, path+" is a list that is null")
		}
	case []any:
		for i, y := range x {
			out = append(out, nulls(t.Elem(), "", y, fmt.Sprintf("%s[%d]", path, i))...)
		}
	case map[string]any:
		if t.Kind() == reflect.Map {
			for k, y := range x {
				out = append(out, nulls(t.Elem(), "", y, path+"."+k)...)
			}
			break
		}
		for _, f := range reflect.VisibleFields(t) {
			name, _, _ := strings.Cut(f.Tag.Get("json"), ",")
			if y, there := x[name]; name != "" && there {
				out = append(out, nulls(f.Type, f.Tag, y, path+"."+name)...)
			}
		}
	}
	return out
}

// No list of any wire type is ever null, whatever was left empty at whatever depth.
func TestNoWireTypeHasANullList(t *testing.T) {
	for _, r := range Routes {
		of := r.Answer
		if of == nil {
			continue
		}
		for depth := range 9 {
			w := httptest.NewRecorder()
			send(w, httptest.NewRequest("GET", "/", nil), grow(of, depth).Interface())
			var answer any
			if err := json.Unmarshal(w.Body.Bytes(), &answer); err != nil || w.Code != 200 {
				t.Fatalf("%s: %d %v: %.200s", of, w.Code, err, w.Body)
			}
			for _, wrong := range nulls(of, "", answer, of.Name()) {
				t.Errorf("depth %d: %s", depth, wrong)
			}
		}
	}
}

package exchange

import (
	"encoding"
	"encoding/json"
	"math"
	"reflect"
	"sync"
)

// Whole gives a value as it is sent: every list and map in it that is nil as an
// empty one, so that whoever reads it can rely on there being a list. The value
// itself stays as it is; only what has to change is copied, since it may be shared.
// What writes its own JSON or text is left alone, and so are bytes, which JSON has
// as text.
func Whole(v any) any {
	if v == nil {
		return nil
	}
	out, _ := whole(reflect.ValueOf(v))
	return out.Interface()
}

// whole gives the value with its lists made, and whether that differs from what came in.
//
// Long: a case for each kind of value.
func whole(v reflect.Value) (reflect.Value, bool) {
	if !holdsLists(v.Type()) {
		return v, false
	}
	switch v.Kind() {
	case reflect.Pointer, reflect.Interface:
		if v.IsNil() {
			return v, false
		}
		inner, changed := whole(v.Elem())
		if !changed {
			return v, false
		}
		if v.Kind() == reflect.Interface {
			return inner, true
		}
		to := reflect.New(v.Type().Elem())
		to.Elem().Set(inner)
		return to, true
	case reflect.Struct:
		out, copied := v, false
		for _, i := range listFields(v.Type()) {
			inner, changed := whole(v.Field(i))
			if !changed {
				continue
			}
			if !copied {
				out, copied = reflect.New(v.Type()).Elem(), true
				out.Set(v)
			}
			out.Field(i).Set(inner)
		}
		return out, copied
	case reflect.Map:
		if v.IsNil() {
			return reflect.MakeMap(v.Type()), true
		}
		out, copied := v, false
		for key, x := range v.Seq2() {
			inner, changed := whole(x)
			if !changed {
				continue
			}
			if !copied {
				out, copied = reflect.MakeMapWithSize(v.Type(), v.Len()), true
				for k, y := range v.Seq2() {
					out.SetMapIndex(k, y)
				}
			}
			out.SetMapIndex(key, inner)
		}
		return out, copied
	case reflect.Slice:
		if v.IsNil() {
			return reflect.MakeSlice(v.Type(), 0, 0), true
		}
		out, copied := v, false
		for i := range v.Len() {
			inner, changed := whole(v.Index(i))
			if !changed {
				continue
			}
			if !copied {
				out, copied = reflect.MakeSlice(v.Type(), v.Len(), v.Len()), true
				reflect.Copy(out, v)
			}
			out.Index(i).Set(inner)
		}
		return out, copied
	}
	return v, false
}

var (
	known       sync.Map // reflect.Type -> bool: it may hold lists
	fieldsOf    sync.Map // reflect.Type -> []int: listFields
	writeItself = []reflect.Type{reflect.TypeFor[json.Marshaler](), reflect.TypeFor[encoding.TextMarshaler]()}
)

// listFields are the fields of a struct that may hold lists.
func listFields(t reflect.Type) []int {
	if fields, ok := fieldsOf.Load(t); ok {
		return fields.([]int)
	}
	var fields []int
	for i := range t.NumField() {
		if f := t.Field(i); f.IsExported() && holdsLists(f.Type) {
			fields = append(fields, i)
		}
	}
	fieldsOf.Store(t, fields)
	return fields
}

// holdsLists tells whether values of a type may hold lists or maps that JSON has as
// such; what a long list of numbers holds need not be looked at.
func holdsLists(t reflect.Type) bool {
	if yes, ok := known.Load(t); ok {
		return yes.(bool)
	}
	yes := looksInto(t, map[reflect.Type]bool{})
	known.Store(t, yes)
	return yes
}

func looksInto(t reflect.Type, within map[reflect.Type]bool) bool {
	if within[t] {
		return false // what it holds itself is being looked at
	}
	within[t] = true
	for _, m := range writeItself {
		if t.Implements(m) || t.Kind() != reflect.Pointer && reflect.PointerTo(t).Implements(m) {
			return false
		}
	}
	switch t.Kind() {
	case reflect.Interface, reflect.Map:
		return true
	case reflect.Slice:
		return t.Elem().Kind() != reflect.Uint8
	case reflect.Pointer:
		return looksInto(t.Elem(), within)
	case reflect.Struct:
		for i := range t.NumField() {
			if f := t.Field(i); f.IsExported() && looksInto(f.Type, within) {
				return true
			}
		}
	}
	return false
}

// Finite gives a number as it goes over the wire, where JSON has no other than finite ones: nil for
// any other.
func Finite(x float64) *float64 {
	if math.IsNaN(x) || math.IsInf(x, 0) {
		return nil
	}
	return &x
}

package server

// WireTypes lists the answers and questions of the API, from which the front
// end's types are generated.
func WireTypes() []any {
	return []any{Shelf{}, JobView{}, NewJob{}, Opened{}, BenchSetting{}, Typed{}, Echo{}, Reason{}, Outcome{}, SheetList{}, SheetView{},
		TablesToCheck{}, SavedSheet{}, Check{}, QuantityText{}, QuantityView{}, ProblemDetails{}}
}

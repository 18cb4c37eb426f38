package server

import (
	"steptrace/core/inside"
	"steptrace/core/part"
	"steptrace/core/repair"
	"steptrace/core/trace"
)

// WireTypes lists the answers and questions of the API, from which the front
// end's types are generated.
func WireTypes() []any {
	return []any{Shelf{}, Head{}, JobView{}, NewJob{}, Opened{}, BenchSetting{}, Typed{}, Echo{}, Reason{}, trace.Waiver{}, Hangs{}, Outcome{}, SheetList{}, SheetView{},
		TablesToCheck{}, SavedSheet{}, Check{}, QuantityText{}, QuantityView{}, ProblemDetails{},
		IntakeView{}, Noted{}, Mark{}, SafetyView{}, Happening{}, StripView{}, Line{}, LineRead{}, Count{}, Kept{}, WaveView{},
		CapturesView{}, Seen{}, GoodCapture{}, Stretch{},
		InstrumentsView{}, ToTake{}, ToMeasure{}, Said{}, PracticeView{}, Connected{}, Practising{}, SoundLevels{}, Calibration{},
		RepairForm{}, repair.Entry{}, InsideView{}, InsideWave{}, inside.Entry{}, StageCircuit{}, KeptCircuit{}, FamilyList{}, CircuitQuestion{}, CircuitAnswer{}, PartQuestion{}, part.Verdict{}}
}

package server

import (
	"errors"
	"net/http"
	"reflect"
	"strings"
	"time"

	"steptrace/core/entry"
	"steptrace/core/exchange"
	"steptrace/core/job"
	"steptrace/core/repair"
	"steptrace/core/replace"
	"steptrace/core/report"
	"steptrace/core/symptom"
	"steptrace/core/wait"
	"steptrace/core/worth"
)

// Route is one of the API's. From these follow the handlers, the API's description
// (openapi.go) and the front end's client and types.
type Route struct {
	Method, Path string
	// Name is that of the client's function, and of the operation in the description.
	Name string
	// Query names what the address may carry.
	Query []string
	// Body and Answer are the types of the JSON that goes in and comes out. Body is nil where
	// nothing is sent, and where File is: the body is then a file as it is. Answer is nil where
	// a file comes out.
	Body, Answer reflect.Type
	File         bool
	// Heavy: it is done in turn.
	Heavy bool
	// Here: at the machine itself alone. Guest: also on a device that was let in for one set alone.
	Here, Guest bool

	handler func(s *Server) http.HandlerFunc
}

// asks is a question.
func asks[A any](path, name string, f func(*Server, *http.Request) (A, error), query ...string) Route {
	return Route{
		Method: http.MethodGet,
		Path:   path,
		Name:   name,
		Query:  query,
		Answer: reflect.TypeFor[A](),
		handler: func(s *Server) http.HandlerFunc {
			return func(w http.ResponseWriter, r *http.Request) {
				a, err := f(s, r)
				answer(w, r, a, err)
			}
		},
	}
}

// sends is a question, or something to be done, with a JSON body.
func sends[B, A any](method, path, name string, f func(*Server, *http.Request, B) (A, error), query ...string) Route {
	out := Route{
		Method: method,
		Path:   path,
		Name:   name,
		Query:  query,
		Answer: reflect.TypeFor[A](),
		handler: func(s *Server) http.HandlerFunc {
			return func(w http.ResponseWriter, r *http.Request) {
				var b B
				data, err := body(w, r, maxBody)
				if err == nil && len(data) > 0 {
					err = exchange.Decode(data, &b)
					var file *exchange.FileError
					if errors.As(err, &file) {
						err = problem(
							http.StatusBadRequest,
							"Request not understood",
							err.Error()+". docs/api.md shows what is expected.",
						)
					}
				}
				if err != nil {
					fail(w, r, err)
					return
				}
				a, err := f(s, r, b)
				answer(w, r, a, err)
			}
		},
	}
	if t := reflect.TypeFor[B](); t != reflect.TypeFor[Nothing]() {
		out.Body = t
	}
	return out
}

// notes takes an entry down as it was sent, checked against the job as it is; view shows
// what came of it.
func notes[E any, P interface {
	*E
	entry.Entry
}, A any](path, name string, view func(*Server, *http.Request) (A, error)) Route {
	return sends(http.MethodPost, path, name, func(s *Server, r *http.Request, e E) (a A, err error) {
		p := P(&e)
		*p.Head().At = time.Now()
		number, err := intParam(r, "number")
		if err == nil {
			err = sent(*p.Head().ID)
		}
		if err == nil {
			err = s.note(r, number, p, nil)
		}
		if err != nil {
			return a, err
		}
		return view(s, r)
	})
}

// strikes strikes the entry in the address out, of a kind whose entries are shown by view.
func strikes[A any](path, name, kind string, view func(*Server, *http.Request) (A, error), query ...string) Route {
	return sends(http.MethodPost, path, name, func(s *Server, r *http.Request, req Reason) (a A, err error) {
		if wrong := job.Text("reason", req.Reason, false); wrong != "" {
			return a, problem(http.StatusUnprocessableEntity, "Reason", wrong)
		}
		number, err := intParam(r, "number")
		if err == nil {
			err = s.store.Strike(r.Context(), number, kind, param(r, "id"), strings.TrimSpace(req.Reason))
		}
		if err != nil {
			return a, err
		}
		return view(s, r)
	}, query...)
}

// uploads takes a file as the body.
func uploads[A any](path, name string, f func(*Server, http.ResponseWriter, *http.Request) (A, error), query ...string) Route {
	return Route{
		Method: http.MethodPost,
		Path:   path,
		Name:   name,
		Query:  query,
		File:   true,
		Heavy:  true,
		Answer: reflect.TypeFor[A](),
		handler: func(s *Server) http.HandlerFunc {
			return func(w http.ResponseWriter, r *http.Request) {
				a, err := f(s, w, r)
				answer(w, r, a, err)
			}
		},
	}
}

// heavy has a route done in turn.
func heavy(r Route) Route {
	r.Heavy = true
	return r
}

// atHome keeps a route to the machine itself.
func atHome(r Route) Route {
	r.Here = true
	return r
}

// guest opens a route to devices that were let in for one set.
func guest(r Route) Route {
	r.Guest = true
	return r
}

// fetches gives a file.
func fetches(path, name string, f func(*Server, http.ResponseWriter, *http.Request) error, query ...string) Route {
	return Route{Method: http.MethodGet, Path: path, Name: name, Query: query, handler: func(s *Server) http.HandlerFunc {
		return func(w http.ResponseWriter, r *http.Request) {
			if err := f(s, w, r); err != nil {
				fail(w, r, err)
			}
		}
	}}
}

func answer(w http.ResponseWriter, r *http.Request, a any, err error) {
	if err != nil {
		fail(w, r, err)
		return
	}
	send(w, r, a)
}

const (
	putIt  = http.MethodPut
	postIt = http.MethodPost
)

// What the addresses of several routes carry.
var (
	ofCapture = []string{"channel", "against", "shape", "level", "frequency", "mains", "pilot", "rail"}
	ofFile    = []string{"interval", "factor", "unit", "decimal", "shape", "level", "frequency", "mains", "pilot", "rail"}
	ofUpload  = append([]string{"id", "name", "point", "settings", "conditions", "channel", "against"}, ofFile...)
	ofSums    = []string{"below", "seconds", "through"}
)

// Routes is the table of contents of the API.
var Routes []Route

func init() { // the description is of the routes, and one of them
	Routes = append(table, fetches("/openapi.json", "openapi", (*Server).openapi))
}

var table = []Route{
	asks("/jobs", "shelf", (*Server).shelf, "q", "after", "place"),
	asks("/begin", "begin", (*Server).begin, "q"),
	sends(postIt, "/jobs", "openJob", (*Server).openJob),
	uploads("/jobs/import", "importJob", (*Server).importJobFile),
	guest(asks("/jobs/{number}", "job", (*Server).job)),
	guest(fetches("/jobs/{number}/changes", "changes", (*Server).changes, "page")),
	sends(putIt, "/jobs/{number}/bench", "setBench", (*Server).setBench),
	guest(sends(postIt, "/jobs/{number}/echo", "echo", (*Server).echo)),
	guest(sends(postIt, "/jobs/{number}/readings", "log", (*Server).logReading)),
	strikes("/jobs/{number}/readings/{id}/strike", "strike", "readings", (*Server).job),
	sends(postIt, "/jobs/{number}/waive", "waive", (*Server).waive),
	sends(postIt, "/jobs/{number}/hangs", "hang", (*Server).hang),
	sends(postIt, "/jobs/{number}/grow", "grow", (*Server).grow, "preview"),
	sends(postIt, "/jobs/{number}/takeback", "takeBack", (*Server).takeBack),
	sends(postIt, "/chart", "readChart", (*Server).readChart),
	sends(postIt, "/jobs/{number}/levels/read", "readLevels", (*Server).readLevels),
	sends(postIt, "/jobs/{number}/chart", "takeChart", (*Server).takeChart),
	asks("/jobs/{number}/repairs", "repairForm", (*Server).repairForm),
	notes[repair.Entry]("/jobs/{number}/repairs", "noteRepair", (*Server).job),
	strikes("/jobs/{number}/repairs/{id}/strike", "strikeRepair", "repairs", (*Server).job),
	asks("/jobs/{number}/symptoms", "symptoms", (*Server).symptoms),
	notes[symptom.Entry]("/jobs/{number}/symptoms", "noteSymptom", (*Server).noteSymptom),
	strikes("/jobs/{number}/symptoms/{id}/strike", "strikeSymptom", "symptoms", (*Server).symptoms),
	asks("/jobs/{number}/replacing", "replacing", (*Server).replacing, "part", "try"),
	notes[replace.Entry]("/jobs/{number}/replacing", "noteReplacing", (*Server).replacing),
	asks("/jobs/{number}/sealed", "sealed", (*Server).packages),
	sends(postIt, "/jobs/{number}/sealed", "openSealed", (*Server).openPackage),
	sends(postIt, "/jobs/{number}/sealed/keep", "keepSealed", (*Server).keepPackage),
	strikes("/jobs/{number}/replacing/{id}/strike", "strikeReplacing", "replacing", (*Server).replacing, "part"),
	fetches("/jobs/{number}/replacing/order.csv", "orderFile", (*Server).orderFile),
	sends(postIt, "/jobs/{number}/replacing/all", "chooseAll", (*Server).chooseAll),
	sends(postIt, "/jobs/{number}/replacing/fitted", "fitted", (*Server).fitted),
	asks("/jobs/{number}/adjusting", "adjusting", (*Server).adjusting),
	sends(postIt, "/jobs/{number}/adjusting", "noteAdjusting", (*Server).noteAdjusting),
	sends(postIt, "/jobs/{number}/adjusting/echo", "echoAdjusting", (*Server).echoAdjusting),
	sends(postIt, "/jobs/{number}/adjusting/watch", "watchAdjusting", (*Server).watchAdjusting),
	sends(postIt, "/jobs/{number}/adjusting/menu", "noteMenu", (*Server).noteMenu),
	strikes("/jobs/{number}/adjusting/{id}/strike", "strikeAdjusting", "adjusting", (*Server).adjusting),
	asks("/jobs/{number}/closing", "closing", (*Server).closing),
	sends(postIt, "/jobs/{number}/closing", "noteClosing", (*Server).noteClosing),
	sends(postIt, "/jobs/{number}/closing/echo", "echoClosing", (*Server).echoClosing),
	sends(postIt, "/jobs/{number}/closing/take", "takeClosing", (*Server).takeClosing),
	strikes("/jobs/{number}/closing/{id}/strike", "strikeClosing", "closing", (*Server).closing),
	asks("/jobs/{number}/soak", "soak", (*Server).soak, "sounding"),
	fetches("/jobs/{number}/soak/sound", "soakSound", (*Server).soakSound, "step", "rate", "device"),
	sends(postIt, "/jobs/{number}/soak", "beginSoak", (*Server).beginSoak),
	sends(postIt, "/jobs/{number}/soak/value", "typeSoak", (*Server).typeSoak),
	sends(postIt, "/jobs/{number}/soak/do", "doSoak", (*Server).doSoak),
	asks("/jobs/{number}/soak/log", "soakLog", (*Server).soakLog, "from", "to"),
	fetches("/jobs/{number}/soak/{id}/log.csv", "soakTable", (*Server).soakTable),
	asks("/jobs/{number}/report", "report", (*Server).report),
	notes[report.Entry]("/jobs/{number}/report", "noteReport", (*Server).report),
	fetches("/jobs/{number}/report.html", "reportFile", (*Server).reportFile),
	fetches("/jobs/{number}/plots/{id}", "plot", (*Server).plot),
	fetches("/jobs/{number}/record.html", "recordFile", (*Server).recordFile),
	fetches("/jobs/{number}/label.html", "labelFile", (*Server).labelFile),
	asks("/jobs/{number}/worth", "worth", (*Server).worth),
	notes[worth.Entry]("/jobs/{number}/worth", "noteWorth", (*Server).worth),
	strikes("/jobs/{number}/worth/{id}/strike", "strikeWorth", "worth", (*Server).worth),
	fetches("/jobs/{number}/estimate.html", "estimateFile", (*Server).estimateFile),
	asks("/jobs/{number}/waits", "waits", (*Server).waits),
	notes[wait.Entry]("/jobs/{number}/waits", "noteWait", (*Server).waits),
	strikes("/jobs/{number}/waits/{id}/strike", "strikeWait", "waits", (*Server).waits),
	sends(postIt, "/jobs/{number}/finish", "finish", (*Server).finish),
	sends(postIt, "/jobs/{number}/reopen", "reopen", (*Server).reopen),
	fetches("/jobs/{number}/file.json", "jobFile", (*Server).jobFile, "owner"),

	// Before the first probe.
	asks("/jobs/{number}/intake", "intake", (*Server).intake, "swap"),
	sends(postIt, "/jobs/{number}/intake", "note", (*Server).noteIntake),
	sends(postIt, "/jobs/{number}/marks", "mark", (*Server).mark, "swap"),
	asks("/jobs/{number}/safety", "safety", (*Server).safety, ofSums...),
	sends(postIt, "/jobs/{number}/safety", "happen", (*Server).happen, ofSums...),
	asks("/jobs/{number}/strip", "strip", (*Server).strip),
	sends(postIt, "/jobs/{number}/strip", "takeApart", (*Server).takeApart),
	strikes("/jobs/{number}/strip/{id}/strike", "strikeStep", "steps", (*Server).strip),
	sends(postIt, "/jobs/{number}/strip/{id}/back", "putBack", (*Server).putBack),
	uploads("/jobs/{number}/pictures", "addPicture", (*Server).addPicture, "id", "step", "work"),
	fetches("/jobs/{number}/pictures/{id}", "picture", (*Server).picture),
	fetches("/jobs/{number}/pictures/{id}/preview", "preview", (*Server).picture),
	strikes("/jobs/{number}/pictures/{id}/strike", "strikePicture", "pictures", (*Server).struckPicture),

	// Inside a stage.
	asks("/jobs/{number}/inside", "inside", (*Server).inside, "stage"),
	asks("/jobs/{number}/inside/wave", "insideWave", (*Server).insideWave, "stage"),
	sends(postIt, "/jobs/{number}/inside", "noteInside", (*Server).noteInside),
	strikes("/jobs/{number}/inside/{id}/strike", "strikeInside", "inside", (*Server).inside, "stage"),

	// Readings taken by instruments.
	sends(postIt, "/jobs/{number}/take", "take", (*Server).takeReading),
	sends(postIt, "/jobs/{number}/feed", "feed", (*Server).feed),
	asks("/jobs/{number}/practice", "practice", (*Server).seePractice),
	sends(postIt, "/jobs/{number}/practice", "practise", (*Server).choosePractice),
	sends(postIt, "/jobs/{number}/hands", "hands", (*Server).connect),

	// Practice, under /practise/api alone.
	asks("/training", "training", (*Server).seeTraining),
	heavy(sends(postIt, "/training", "drawCase", (*Server).draw)),
	asks("/training/quick", "quick", (*Server).quick, "kind", "seed"),
	sends(postIt, "/training/quick", "answerQuick", (*Server).answerQuick),
	asks("/jobs/{number}/training", "drilled", (*Server).seeCase),
	sends(postIt, "/jobs/{number}/training", "drill", (*Server).drill),
	sends(postIt, "/jobs/{number}/training/face", "face", (*Server).face),
	asks("/jobs/{number}/training/readings/{id}", "replay", (*Server).replay),
	uploads("/training/import", "importCase", (*Server).importCase),
	uploads("/training/result", "readResult", (*Server).readResult),
	fetches("/jobs/{number}/training/case.json", "caseFile", (*Server).caseFile),
	fetches("/jobs/{number}/training/result.json", "resultFile", (*Server).resultFile, "who"),
	fetches("/jobs/{number}/training/heard.wav", "heard", (*Server).heard, "mode", "entry", "exit", "signal"),

	// Captured waveforms.
	asks("/jobs/{number}/captures", "captures", (*Server).captures),
	uploads("/jobs/{number}/captures", "keepCapture", (*Server).keepCapture, ofUpload...),
	uploads("/jobs/{number}/captures/read", "readCapture", (*Server).readCapture, ofUpload...),
	asks("/jobs/{number}/captures/{id}", "capture", (*Server).seeCapture, ofCapture...),
	asks("/jobs/{number}/captures/{id}/strip", "cut", (*Server).stripOf, append([]string{"from", "to", "parts"}, ofCapture...)...),
	asks("/jobs/{number}/captures/{id}/stretch", "stretch", (*Server).stretch, append([]string{"a", "b"}, ofCapture...)...),
	fetches("/jobs/{number}/captures/{id}/file", "captureFile", (*Server).captureFile),
	sends(postIt, "/jobs/{number}/captures/{id}/good", "goodCapture", (*Server).markCapture),
	strikes("/jobs/{number}/captures/{id}/strike", "strikeCapture", "captures", (*Server).captures),

	asks("/sheets", "sheets", (*Server).sheets, "q", "after"),
	sends(postIt, "/sheets", "addSheet", (*Server).addSheet),
	asks("/sheets/new", "newSheet", (*Server).newSheet),
	heavy(sends(postIt, "/sheets/check", "checkSheet", (*Server).checkTables)),
	uploads("/sheets/read", "readTable", (*Server).readTable),
	uploads("/sheets/import", "importSheet", (*Server).importSheetFile),
	asks("/sheets/{id}", "sheet", (*Server).sheet),
	sends(putIt, "/sheets/{id}", "changeSheet", (*Server).changeSheet),
	sends(putIt, "/sheets/{id}/circuit", "keepCircuit", (*Server).keepCircuit),
	sends(putIt, "/sheets/{id}/modification", "keepModification", (*Server).keepModification),
	sends(putIt, "/sheets/{id}/adjustment", "keepAdjustment", (*Server).keepAdjustment),
	sends(putIt, "/sheets/{id}/closing", "keepClosing", (*Server).keepClosing),
	fetches("/sheets/{id}/file.json", "sheetFile", (*Server).sheetFile),
	fetches("/sheets/{id}/file.csv", "sheetTable", (*Server).sheetFile),

	// Its pictures, with the pins on them.
	fetches("/sheets/{id}/file.zip", "sheetBundle", (*Server).sheetFile),
	asks("/sheets/{id}/board", "board", (*Server).boardOfSheet, "route"),
	asks("/jobs/{number}/board", "jobBoard", (*Server).boardOfJob),
	uploads("/sheets/{id}/board", "addBoard", (*Server).addBoard, "id", "name", "seen", "route"),
	sends(putIt, "/sheets/{id}/board/{picture}", "lookAtBoard", (*Server).lookAtBoard, "route"),
	uploads("/sheets/{id}/board/{picture}", "replaceBoard", (*Server).replaceBoard, "route"),
	sends(postIt, "/sheets/{id}/board/{picture}/pins", "placePin", (*Server).placePin, "route"),
	fetches("/sheets/{id}/board/{picture}", "boardPicture", (*Server).boardPicture, "changes"),
	fetches("/sheets/{id}/board/{picture}/preview", "boardPreview", (*Server).boardPicture, "changes"),

	// Who is let in from the network.
	guest(asks("/me", "me", (*Server).me)),
	guest(sends(putIt, "/me", "callMe", (*Server).callMe)),
	guest(sends(postIt, "/leave", "leave", (*Server).leave)),
	sends(postIt, "/invite", "invite", (*Server).invite),
	guest(asks("/send", "phoneSet", (*Server).phoneSet)),
	guest(uploads("/send", "phoneSends", (*Server).phoneSends, "id", "name", "seen")),
	atHome(asks("/door", "door", (*Server).seeDoor)),
	atHome(sends(postIt, "/door/words", "newWords", (*Server).newWords)),
	atHome(sends(postIt, "/door/devices/{id}/out", "sendOut", (*Server).sendOut)),

	fetches("/sound", "sound", (*Server).sound, "shape", "frequency", "second", "level", "rate", "device"),
	asks("/sound/levels", "soundLevels", (*Server).soundLevels),
	sends(postIt, "/sound/levels/out", "calibrateOut", (*Server).calibrateOut),
	uploads("/sound/levels/in", "calibrateIn", (*Server).calibrateIn, "device", "known"),
	// Types of parts, and the workshop's drawer.
	sends(postIt, "/substitute", "substitute", (*Server).substitute),
	asks("/types", "types", (*Server).types, "q"),
	sends(putIt, "/types", "putType", (*Server).putType),
	uploads("/types/read", "readTypes", (*Server).readTypes),
	fetches("/types.csv", "typesFile", (*Server).typesFile),
	sends(postIt, "/types/{name}/remove", "removeType", (*Server).removeType),
	asks("/drawer", "drawer", (*Server).drawer),
	sends(putIt, "/drawer", "putDrawer", (*Server).putDrawer),

	// What finished jobs teach.
	asks("/sheets/{id}/past", "model", (*Server).model),
	sends(postIt, "/sheets/{id}/join", "join", (*Server).join),
	sends(postIt, "/sheets/{id}/apart", "apart", (*Server).apart),
	fetches("/sheets/{id}/experience.json", "modelExperience", (*Server).modelExperience, "complaints"),
	fetches("/experience.json", "experience", (*Server).experience, "complaints"),
	uploads("/experience", "borrow", (*Server).borrow),
	sends(postIt, "/experience/remove", "giveBack", (*Server).giveBack),

	asks("/shop", "shop", (*Server).shop),
	sends(putIt, "/shop", "keepShop", (*Server).keepShop),
	fetches("/shop.json", "shopFile", (*Server).shopFile),
	uploads("/shop/read", "readShop", (*Server).readShop),

	fetches("/whole.zip", "wholeFile", (*Server).wholeFile),
	uploads("/whole", "takeWhole", (*Server).takeWhole),
	asks("/copies", "copies", (*Server).seeCopies),
	sends(postIt, "/copies", "makeCopy", (*Server).makeCopy),
	atHome(sends(postIt, "/copies/restore", "restoreCopy", (*Server).restoreCopy)),

	asks("/instruments", "instruments", (*Server).instruments),
	sends(putIt, "/instruments/{id}", "putInstrument", (*Server).putInstrument),
	sends(postIt, "/instruments/{id}/remove", "removeInstrument", (*Server).removeInstrument),
	sends(postIt, "/instruments/{id}/identify", "identify", (*Server).identify),
	sends(postIt, "/instruments/{id}/measure", "measure", (*Server).measure),

	// Computations without a job.
	heavy(sends(postIt, "/trace", "trace", (*Server).trace)),
	heavy(sends(postIt, "/matrix", "matrix", (*Server).matrix)),
	sends(postIt, "/quantity", "quantity", (*Server).quantity),
	sends(postIt, "/discharge", "discharge", (*Server).discharge),
	sends(postIt, "/ripple", "ripple", (*Server).ripple),
	sends(postIt, "/short", "short", (*Server).short),
	sends(postIt, "/strip/read", "readLine", (*Server).readLine),
	uploads("/wave", "waveform", (*Server).waveform, ofFile...),
	asks("/families", "families", (*Server).families),
	heavy(sends(postIt, "/circuit", "solveCircuit", (*Server).circuit)),
	heavy(sends(postIt, "/network", "network", (*Server).network)),
	sends(postIt, "/sum", "sum", (*Server).sum),
	asks("/part", "parts", (*Server).parts),
	sends(postIt, "/part", "checkPart", (*Server).part),
}

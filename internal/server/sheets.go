package server

import (
	"bufio"
	"bytes"
	"context"
	"fmt"
	"io"
	"net/http"
	"strings"
	"time"

	"steptrace/core/job"
	"steptrace/core/quantity"
	"steptrace/core/reading"
	"steptrace/core/sheet"
	"steptrace/core/trace"
	"steptrace/internal/store"
)

// CellProblem is a problem of a sheet with the cell it stands in, where it was
// typed as a table.
type CellProblem struct {
	sheet.Problem
	Cell *sheet.Cell `json:"cell,omitempty"`
	Line int         `json:"line,omitempty"` // of the file it was read from
}

func located(problems []sheet.Problem, origin sheet.Origin, tables *sheet.Tables) []CellProblem {
	out := []CellProblem{}
	for _, p := range problems {
		cp := CellProblem{Problem: p}
		if cell, ok := origin.Find(p.Path); ok {
			cp.Cell = &cell
			if tables != nil {
				cp.Line = tables.Line(cell)
			}
		}
		out = append(out, cp)
	}
	return out
}

// blocked is the refusal of a sheet that cannot be traced by.
func blocked(problems []sheet.Problem, origin sheet.Origin, tables *sheet.Tables) *ProblemDetails {
	p := problem(http.StatusUnprocessableEntity, "Sheet needs mending", "")
	p.Problems = located(problems, origin, tables)
	said := 0
	for _, x := range p.Problems {
		if x.Severity != sheet.Blocking {
			continue
		}
		if said++; said == 1 {
			where := x.Where
			if x.Line > 0 {
				where = fmt.Sprintf("line %d, %s", x.Line, where)
			}
			p.Detail = fmt.Sprintf("%s: %s.", where, strings.TrimSuffix(x.Message, "."))
		}
	}
	if said > 1 {
		p.Detail += fmt.Sprintf(" And %d more.", said-1)
	}
	p.Detail += " Nothing was taken over: mend the sheet first."
	return p
}

// SheetRow is a sheet in the list.
type SheetRow struct {
	ID int64 `json:"id"`
	sheet.Summary
	Jobs  int       `json:"jobs"`
	Saved time.Time `json:"saved"`
}

// SheetList is a page of the sheets, by their names. More is what a question for the next page
// carries as after; empty on the last.
type SheetList struct {
	Sheets []SheetRow `json:"sheets"`
	Total  int        `json:"total"` // that are found
	More   string     `json:"more"`
}

// pageOf reads what a question for a list carries: words to search for, and where to go on.
func pageOf(r *http.Request) (store.Page, error) {
	q := r.URL.Query()
	p := store.Page{Words: q.Get("q"), After: q.Get("after"), Most: pageSize}
	if len(p.Words) > maxSearch || len(p.After) > maxSearch {
		return p, problem(http.StatusUnprocessableEntity, "Too long", fmt.Sprintf("A search has up to %d characters.", maxSearch))
	}
	return p, nil
}

const (
	pageSize  = 50
	maxSearch = 500
)

func (s *Server) sheets(r *http.Request) (SheetList, error) {
	p, err := pageOf(r)
	if err != nil {
		return SheetList{}, err
	}
	list, more, total, err := s.store.SheetList(r.Context(), p)
	out := SheetList{Total: total, More: more}
	for _, x := range list {
		out.Sheets = append(out.Sheets, SheetRow{x.ID, x.Summary, x.Jobs, x.Saved})
	}
	return out, err
}

// Check is what Step Trace makes of a sheet: its problems, its routes, and the
// chosen route drawn.
type Check struct {
	Problems []CellProblem   `json:"problems"`
	Blocked  bool            `json:"blocked"`
	Routes   []RouteChoice   `json:"routes"`
	Drawn    *trace.Findings `json:"drawn" jsonschema:"nullable"`
}

func check(t sheet.Tables, route string) (*sheet.Sheet, Check) {
	document, origin := sheet.FromTables(t)
	plan, problems := document.Plan()
	c := Check{Problems: located(problems, origin, &t), Blocked: sheet.Blocked(problems), Routes: choices(plan)}
	if kase, ok := (&job.Job{Route: route}).Case(plan); ok {
		drawn := kase.Find(nil)
		c.Drawn = &drawn
	}
	return document, c
}

// SheetView is a sheet as it is edited.
type SheetView struct {
	ID       int64        `json:"id"` // 0: not stored yet
	Revision int          `json:"revision"`
	Tables   sheet.Tables `json:"tables"`
	Check    Check        `json:"check"`
}

func sheetView(x store.Sheet) SheetView {
	v := SheetView{ID: x.ID, Revision: x.Revision, Tables: x.Document.Tables()}
	_, v.Check = check(v.Tables, "")
	return v
}

func (s *Server) newSheet(*http.Request) (SheetView, error) {
	return sheetView(store.Sheet{Document: &sheet.Sheet{}}), nil
}

// loadSheet finds the sheet in the address.
func (s *Server) loadSheet(r *http.Request) (store.Sheet, error) {
	id, err := intParam(r, "id")
	if err != nil {
		return store.Sheet{}, err
	}
	x, err := s.store.Sheet(r.Context(), int64(id))
	if err == store.ErrNotFound {
		return x, problem(
			http.StatusNotFound,
			"No such sheet",
			fmt.Sprintf("There is no service sheet number %d. The list of sheets has them all.", id),
		)
	}
	return x, err
}

func (s *Server) sheet(r *http.Request) (SheetView, error) {
	x, err := s.loadSheet(r)
	if err != nil {
		return SheetView{}, err
	}
	return sheetView(x), nil
}

// TablesToCheck are tables as typed so far, and the route to draw.
type TablesToCheck struct {
	Tables sheet.Tables `json:"tables"`
	Route  string       `json:"route"`
}

func (s *Server) checkTables(_ *http.Request, req TablesToCheck) (Check, error) {
	_, c := check(req.Tables, req.Route)
	return c, nil
}

// SavedSheet are tables to be stored. Revision is the one they were made from.
type SavedSheet struct {
	ID       string       `json:"id,omitempty"` // of a new one, made by the sender
	Revision int          `json:"revision"`
	Tables   sheet.Tables `json:"tables"`
}

// document takes the tables as they are: an unfinished sheet may be stored,
// and says so, but nothing is traced by it.
func (x SavedSheet) document() (*sheet.Sheet, error) {
	d, _ := sheet.FromTables(x.Tables)
	if strings.TrimSpace(d.Model) == "" {
		return nil, problem(
			http.StatusUnprocessableEntity,
			"No model",
			"Give the sheet a model name, so that it can be found again. Nothing was stored; what you typed stays on the screen.",
		)
	}
	return d, nil
}

func (s *Server) addSheet(r *http.Request, req SavedSheet) (SheetView, error) {
	d, err := req.document()
	if err != nil {
		return SheetView{}, err
	}
	if len(req.ID) > maxID {
		return SheetView{}, sent(req.ID)
	}
	id, err := s.store.AddSheet(store.Under(r.Context(), req.ID), d)
	if err != nil {
		return SheetView{}, err
	}
	return s.storedSheet(r.Context(), id)
}

func (s *Server) storedSheet(ctx context.Context, id int64) (SheetView, error) {
	x, err := s.store.Sheet(ctx, id)
	if err != nil {
		return SheetView{}, err
	}
	return sheetView(x), nil
}

func (s *Server) changeSheet(r *http.Request, req SavedSheet) (SheetView, error) {
	id, err := intParam(r, "id")
	if err != nil {
		return SheetView{}, err
	}
	d, err := req.document()
	if err != nil {
		return SheetView{}, err
	}
	if err := s.store.SaveSheet(r.Context(), int64(id), req.Revision, d); err != nil {
		return SheetView{}, err
	}
	return s.storedSheet(r.Context(), int64(id))
}

// readSheet is a sheet read from a file: the document, and where it came as a
// table the tables with the cells that its parts came from.
type readSheet struct {
	document *sheet.Sheet
	tables   sheet.Tables
	origin   sheet.Origin
	remarks  []sheet.Problem
}

// decodeSheet reads a sheet file of either kind, JSON or table.
func decodeSheet(data []byte) (readSheet, error) {
	var x readSheet
	var err error
	if t := bytes.TrimLeft(bytes.TrimPrefix(data, []byte("\ufeff")), " \t\r\n"); len(t) > 0 && t[0] == '{' {
		if x.document, err = sheet.ReadJSON(data); err == nil {
			x.tables = x.document.Tables()
		}
		return x, err
	}
	if x.tables, x.remarks, err = sheet.ReadCSV(data); err == nil {
		x.document, x.origin = sheet.FromTables(x.tables)
	}
	return x, err
}

// readTable turns a file or a pasted table into tables to go on with; it
// stores nothing.
func (s *Server) readTable(w http.ResponseWriter, r *http.Request) (SheetView, error) {
	data, err := body(w, r, maxFile)
	if err != nil {
		return SheetView{}, err
	}
	x, err := decodeSheet(data)
	if err != nil {
		return SheetView{}, err
	}
	_, c := check(x.tables, "")
	c.Problems = append(located(x.remarks, nil, nil), c.Problems...)
	return SheetView{Tables: x.tables, Check: c}, nil
}

// readCloser reads what was looked at before, and closes what that is of.
type readCloser struct {
	io.Reader
	io.Closer
}

func (s *Server) importSheetFile(w http.ResponseWriter, r *http.Request) (SheetView, error) {
	// A bundle has pictures in it; what else arrives is text.
	limit := int64(maxFile)
	head := bufio.NewReader(r.Body)
	if first, _ := head.Peek(len(zipped)); isBundle(first) { // what cannot be read will be found below
		limit = maxJobFile
	}
	r.Body = readCloser{head, r.Body}
	data, err := body(w, r, limit)
	if err != nil {
		return SheetView{}, err
	}
	id, err := s.ImportSheet(r.Context(), data)
	if err != nil {
		return SheetView{}, err
	}
	return s.storedSheet(r.Context(), id)
}

// ImportSheet stores a sheet file, JSON or CSV, or a bundle of one with its pictures. One that cannot be
// traced by is refused whole.
func (s *Server) ImportSheet(ctx context.Context, data []byte) (int64, error) {
	var pictures []store.Pictured
	if isBundle(data) {
		b, err := readBundle(data)
		if err != nil {
			return 0, err
		}
		data, pictures = b.sheet, b.pictures
	}
	x, err := decodeSheet(data)
	if err != nil {
		return 0, err
	}
	if _, problems := x.document.Plan(); sheet.Blocked(problems) {
		return 0, blocked(problems, x.origin, &x.tables)
	}
	return s.store.AddSheet(ctx, x.document, pictures...)
}

func (s *Server) sheetFile(w http.ResponseWriter, r *http.Request) error {
	x, err := s.loadSheet(r)
	if err != nil {
		return err
	}
	name := sheetName(x.Document)
	if strings.HasSuffix(r.URL.Path, ".zip") {
		return s.sheetBundle(w, r, &x)
	}
	if strings.HasSuffix(r.URL.Path, ".csv") {
		attach(w, "text/csv; charset=utf-8", name+".csv", x.Document.WriteCSV())
		return nil
	}
	attach(w, "application/json", name+".json", x.Document.WriteJSON())
	return nil
}

// Question is a sheet with readings, without a job. A repair stands between the readings
// before it and those after.
type Question struct {
	Sheet      *sheet.Sheet `json:"sheet" jsonschema:"nullable"`
	Conditions Conditions   `json:"conditions"`
	Readings   []Typed      `json:"readings"`
	Repairs    []Between    `json:"repairs,omitempty"`
}

// Between is a repair made after so many of the readings, and the stages, rails and
// controls it was done to.
type Between struct {
	After  int      `json:"after"`
	Blocks []string `json:"blocks"`
}

// asked works a question out: the case, and its readings as taken.
func asked(req Question) (trace.Case, []reading.Reading, error) {
	if req.Sheet == nil {
		return trace.Case{}, nil, problem(
			http.StatusUnprocessableEntity,
			"No sheet",
			"Send the service sheet as \"sheet\", in the form that docs/formats.md describes.",
		)
	}
	plan, problems := req.Sheet.Plan()
	base, ok := (&job.Job{}).Case(plan)
	if !ok || sheet.Blocked(problems) {
		return base, nil, blocked(problems, nil, nil)
	}
	c, err := req.Conditions.under(base)
	if err != nil {
		return c, nil, err
	}
	for i, b := range req.Repairs {
		if b.After < 0 || b.After > len(req.Readings) || i > 0 && b.After < req.Repairs[i-1].After {
			return c, nil, problem(
				http.StatusUnprocessableEntity,
				"No such repair",
				fmt.Sprintf("Repair %d is made after 0 to %d readings, in order.", i+1, len(req.Readings)),
			)
		}
		c.Repairs = append(c.Repairs, trace.Renewed{Round: i + 1, Blocks: b.Blocks})
	}
	readings := make([]reading.Reading, len(req.Readings))
	for i, t := range req.Readings {
		at, err := c, error(nil)
		c.Round = 0
		for k, b := range req.Repairs {
			if i >= b.After {
				c.Round = k + 1
			}
		}
		if t.Conditions != (Conditions{}) {
			if at, err = t.Conditions.under(base); err != nil {
				return c, nil, err
			}
		}
		if readings[i], err = t.take(at, nil); err != nil {
			return c, nil, fmt.Errorf("reading %d: %w", i+1, err)
		}
		readings[i].ID, readings[i].Round = t.ID, c.Round
	}
	c.Round = len(req.Repairs)
	return c, readings, nil
}

func (s *Server) trace(_ *http.Request, req Question) (trace.Findings, error) {
	c, readings, err := asked(req)
	if err != nil {
		return trace.Findings{}, err
	}
	return c.Find(readings), nil
}

func (s *Server) matrix(_ *http.Request, req Question) (trace.Matrix, error) {
	c, readings, err := asked(req)
	if err != nil {
		return trace.Matrix{}, err
	}
	return c.Matrix(readings, nil), nil
}

// QuantityText is a value as typed, with the unit it has where none is given.
type QuantityText struct {
	Text  string         `json:"text"`
	Unit  quantity.Unit  `json:"unit"`
	Shape quantity.Shape `json:"shape"`
}

// QuantityView is the value, and what it equals.
type QuantityView struct {
	Value  quantity.Value   `json:"value"`
	Text   string           `json:"text"`
	Equals []quantity.Equal `json:"equals"`
}

func (s *Server) quantity(_ *http.Request, req QuantityText) (QuantityView, error) {
	v, err := quantity.Parse(req.Text, req.Unit)
	if err != nil {
		return QuantityView{}, err
	}
	out := QuantityView{Value: v, Text: v.String(), Equals: v.Equals(req.Shape)}
	if out.Equals == nil {
		out.Equals = []quantity.Equal{}
	}
	return out, nil
}

package server

import (
	"context"
	"fmt"
	"net/http"
	"strings"
	"time"

	"steptrace/core/device"
	"steptrace/core/entry"
	"steptrace/core/mend"
	"steptrace/core/repair"
	"steptrace/core/replace"
	"steptrace/core/sheet"
	"steptrace/internal/store"
)

// ReplaceView is how the replacing of parts stands in a job.
type ReplaceView struct {
	Head
	replace.View
	// Asks are the parts' names that can be named: those of the circuits, where there are some.
	Asks []string `json:"asks"`
	// Modifications are those of the model, as the sheet has them at this revision.
	Modifications []Modified `json:"modifications"`
	Revision      int        `json:"revision"`
}

// table is the table of types with the workshop's own.
func (s *Server) table(ctx context.Context) (*device.Table, error) {
	own, err := s.store.Types(ctx)
	if err != nil || len(own) == 0 {
		return device.Shipped(), err
	}
	return device.Shipped().With(own), nil
}

func (s *Server) replacing(r *http.Request) (ReplaceView, error) {
	j, err := load(r, s.store.Job)
	if err != nil {
		return ReplaceView{}, err
	}
	plan := j.Sheet.Plan
	shop, err := s.stock(r.Context())
	if err != nil {
		return ReplaceView{}, err
	}
	q := r.URL.Query()
	const most = 200
	if len(q.Get("try")) > most {
		return ReplaceView{}, problem(
			http.StatusUnprocessableEntity,
			"Not a part",
			"What is tried is a type, or a part in a few words.",
		)
	}
	v := ReplaceView{Head: head(&j), Asks: []string{}, Modifications: modifications(&j), Revision: j.Sheet.Revision}
	v.View = replace.Look(about(&j, shop), q.Get("part"), q.Get("try"))
	for i := range plan.Circuits {
		for k := range plan.Circuits[i].Circuit.Parts {
			if p := &plan.Circuits[i].Circuit.Parts[k]; p.There() {
				v.Asks = append(v.Asks, p.Name)
			}
		}
	}
	return v, nil
}

// orderFile is what has to be ordered, as a table.
func (s *Server) orderFile(w http.ResponseWriter, r *http.Request) error {
	v, err := s.replacing(r)
	if err == nil {
		attach(w, "text/csv; charset=utf-8", fmt.Sprintf("order-%d.csv", v.Number), replace.OrderCSV(v.Orders))
	}
	return err
}

// Wanted is a part without a job: what was there, what it has to do, and something to be judged in its place.
type Wanted struct {
	Was  string `json:"was"`
	Duty string `json:"duty,omitempty"`
	Try  string `json:"try,omitempty"`
}

// Substitutes are what may go in the place of a part.
type Substitutes struct {
	Sort    replace.Sort    `json:"sort"`
	Trouble string          `json:"trouble"`
	Offers  []replace.Offer `json:"offers"`
	Tried   *replace.Offer  `json:"tried,omitempty"`
}

func (s *Server) substitute(r *http.Request, req Wanted) (Substitutes, error) {
	shop, err := s.stock(r.Context())
	if err != nil {
		return Substitutes{}, err
	}
	const part = "it"
	e := replace.Entry{Subject: &replace.Subject{Part: part, Was: req.Was, Duty: req.Duty}}
	if err := replace.Take(&e); err != nil {
		return Substitutes{}, problem(http.StatusUnprocessableEntity, "Not a part", mend.Sentence(err.Error()))
	}
	none := &sheet.Plan{Sheet: &sheet.Sheet{}}
	shop.Plan, shop.Entries = none, []replace.Entry{e}
	v := replace.Look(shop, part, req.Try)
	return Substitutes{v.Parts[0].Sort, v.Trouble, v.Offers, v.Tried}, nil
}

// stock is what the workshop has for replacing: the table of types, what lies in the drawer, what it has chosen and fitted.
func (s *Server) stock(ctx context.Context) (a replace.About, err error) {
	if a.Table, err = s.table(ctx); err != nil {
		return a, err
	}
	if a.Drawer, err = s.store.Drawer(ctx); err != nil {
		return a, err
	}
	if a.Schools, err = s.store.Schools(ctx); err != nil {
		return a, err
	}
	jobs, err := s.store.Replaced(ctx)
	a.Swaps = replace.Swaps(jobs)
	return a, err
}

// TypesView lists types of parts: those that a search finds, and how many there are.
type TypesView struct {
	Types []ListedType `json:"types"`
	Count int          `json:"count"`
	Kinds []string     `json:"kinds"`
}

// ListedType is a type as it stands in the table.
type ListedType struct {
	device.Row
	Own  bool   `json:"own"`
	Sure string `json:"sure"` // where its figures come from, and how sure they are
	Seen string `json:"seen"` // from where its legs are told
}

const mostTypes = 40

func (s *Server) types(r *http.Request) (TypesView, error) {
	table, err := s.table(r.Context())
	if err != nil {
		return TypesView{}, err
	}
	v := TypesView{Types: []ListedType{}, Count: len(table.Types()), Kinds: device.Kind("").Words()}
	add := func(t *device.Type) {
		l := ListedType{Row: t.Row, Own: t.Own, Sure: t.Says()}
		if t.Case != nil {
			l.Seen = t.Case.Seen
		}
		v.Types = append(v.Types, l)
	}
	q := strings.TrimSpace(r.URL.Query().Get("q"))
	if q == "" { // the workshop's own
		for i := range table.Types() {
			if t := &table.Types()[i]; t.Own && len(v.Types) < mostTypes {
				add(t)
			}
		}
		return v, nil
	}
	if t, _, ok := table.Find(q); ok {
		add(t)
	}
	for _, t := range table.Near(q, mostTypes) {
		if len(v.Types) == 0 || t.Name != v.Types[0].Type {
			add(t)
		}
	}
	return v, nil
}

func (s *Server) putType(r *http.Request, row device.Row) (TypesView, error) {
	t, err := row.Read()
	if err != nil {
		return TypesView{}, problem(http.StatusUnprocessableEntity, "Not a type", mend.Sentence(err.Error()))
	}
	if err := s.store.PutTypes(r.Context(), []device.Row{t.Row}); err != nil {
		return TypesView{}, err
	}
	return s.types(r)
}

func (s *Server) removeType(r *http.Request, _ Nothing) (TypesView, error) {
	if err := s.store.RemoveType(r.Context(), param(r, "name")); err != nil {
		return TypesView{}, err
	}
	return s.types(r)
}

// readTypes takes a table of types in: all of it, or nothing.
func (s *Server) readTypes(w http.ResponseWriter, r *http.Request) (TypesView, error) {
	data, err := body(w, r, maxBody)
	if err != nil {
		return TypesView{}, err
	}
	rows, problems := device.ReadRows(string(data))
	if len(problems) > 0 {
		text := problems[0].Error()
		if more := len(problems) - 1; more > 0 {
			text += fmt.Sprintf("; and %d more", more)
		}
		return TypesView{}, problem(http.StatusUnprocessableEntity, "Not a table of types", text+". Nothing of it was taken.")
	}
	if err := s.store.PutTypes(r.Context(), rows); err != nil {
		return TypesView{}, err
	}
	return s.types(r)
}

// typesFile is the table of types with the workshop's own, as a CSV that can be changed and taken in again.
func (s *Server) typesFile(w http.ResponseWriter, r *http.Request) error {
	table, err := s.table(r.Context())
	if err != nil {
		return err
	}
	var rows []device.Row
	for i := range table.Types() {
		rows = append(rows, table.Types()[i].Row)
	}
	attach(w, "text/csv; charset=utf-8", "types.csv", []byte(device.WriteRows(rows)))
	return nil
}

// DrawerView is what lies in the workshop's drawer.
type DrawerView struct {
	Kept []replace.Kept `json:"kept"`
}

func (s *Server) drawer(r *http.Request) (DrawerView, error) {
	kept, err := s.store.Drawer(r.Context())
	if kept == nil {
		kept = []replace.Kept{}
	}
	return DrawerView{kept}, err
}

// Put is what goes into the drawer: as lines that are typed, or counted.
type Put struct {
	Lines string         `json:"lines,omitempty"`
	Kept  []replace.Kept `json:"kept,omitempty"`
}

func (s *Server) putDrawer(r *http.Request, req Put) (DrawerView, error) {
	for i := range req.Kept {
		if err := req.Kept[i].Check(); err != nil {
			return DrawerView{}, problem(http.StatusUnprocessableEntity, "Not for the drawer", mend.Sentence(err.Error()))
		}
	}
	lines, err := replace.DrawerLines(req.Lines)
	if err != nil {
		return DrawerView{}, problem(http.StatusUnprocessableEntity, "Not for the drawer", mend.Sentence(err.Error()))
	}
	if err := s.store.PutDrawer(r.Context(), append(req.Kept, lines...)); err != nil {
		return DrawerView{}, err
	}
	return s.drawer(r)
}

// ImportDrawer puts what is written in lines into the drawer.
func (s *Server) ImportDrawer(ctx context.Context, lines string) error {
	kept, err := replace.DrawerLines(lines)
	if err != nil {
		return err
	}
	return s.store.PutDrawer(ctx, kept)
}

// chooseAll chooses for each part that nothing is chosen for what fits it best, the drawer's before what is to be ordered. A
// part for which nothing fits is left.
func (s *Server) chooseAll(r *http.Request, req Fitted) (ReplaceView, error) {
	v, err := s.replacing(r)
	if err == nil {
		err = sent(req.ID)
	}
	if err != nil {
		return v, err
	}
	shop, err := s.stock(r.Context())
	if err != nil {
		return v, err
	}
	j, err := load(r, s.store.Job)
	if err != nil {
		return v, err
	}
	var entries []entry.Entry
	for i, c := range replace.ChooseAll(about(&j, shop)) {
		entries = append(entries, &replace.Entry{ID: fmt.Sprintf("%s-%d", req.ID, i), At: time.Now(), Chosen: &c})
	}
	if err := s.store.NoteAll(r.Context(), v.Number, entries, nil); err != nil {
		return v, err
	}
	return s.replacing(r)
}

// about is what the replacing of a job goes by.
func about(j *store.Job, shop replace.About) replace.About {
	shop.Plan, shop.Inside, shop.Entries, shop.Repairs = j.Sheet.Plan, j.Inside, j.Replacing, j.Repairs
	shop.Pictures = map[string][]string{}
	for i := range j.Pictures {
		if p := &j.Pictures[i]; p.Work != "" && !p.Struck {
			shop.Pictures[p.Work] = append(shop.Pictures[p.Work], p.ID)
		}
	}
	return shop
}

// Fitted asks for the repair to be noted: every part that something was chosen for.
type Fitted struct {
	ID string `json:"id"`
}

// fitted notes the repair, a stage an entry, and takes what came from the drawer out of it.
func (s *Server) fitted(r *http.Request, req Fitted) (ReplaceView, error) {
	v, err := s.replacing(r)
	if err == nil {
		err = sent(req.ID)
	}
	if err != nil {
		return v, err
	}
	parts := v.Chosen()
	if len(parts) == 0 {
		return v, problem(http.StatusUnprocessableEntity, "Nothing was chosen", "Choose what goes in the place of a part first.")
	}
	var entries []entry.Entry
	for i, done := range replace.Repairs(parts) {
		entries = append(entries, &repair.Entry{ID: fmt.Sprintf("%s-%d", req.ID, i), At: time.Now(), Repair: &done})
	}
	if err := s.store.NoteAll(r.Context(), v.Number, entries, replace.Taken(parts)); err != nil {
		return v, err
	}
	return s.replacing(r)
}

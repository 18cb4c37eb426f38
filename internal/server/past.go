package server

import (
	"cmp"
	"context"
	"fmt"
	"net/http"
	"slices"
	"strings"

	"steptrace/core/intake"
	"steptrace/core/past"
	"steptrace/internal/store"
)

// ModelView is what is known of a model besides its sheet: what its finished jobs taught, here and elsewhere, its usual faults with
// their record, what is changed in every set of it, its pictures; what its kind of set teaches; which sheets may be the same model.
type ModelView struct {
	ID            int64          `json:"id"`
	Set           string         `json:"set"`
	Kind          string         `json:"kind"`
	Page          past.Page      `json:"page"`
	OfKind        past.Page      `json:"ofKind"` // of all sets of its kind
	Usual         []intake.Offer `json:"usual"`
	Modifications []string       `json:"modifications"`
	Pictures      []string       `json:"pictures"`
	Joined        []SheetName    `json:"joined"`
	Alike         []SheetName    `json:"alike"`
	Lenders       []past.Whose   `json:"lenders"` // with all that they lent
}

// SheetName is a sheet by its name.
type SheetName struct {
	ID   int64  `json:"id"`
	Name string `json:"name"`
}

func (s *Server) model(r *http.Request) (v ModelView, err error) {
	sh, err := s.loadSheet(r)
	if err != nil {
		return v, err
	}
	ctx, id := r.Context(), sh.ID
	if _, err := s.freshen(ctx, fresh); err != nil {
		return v, err
	}
	d := sh.Document
	v = ModelView{ID: id, Set: d.Name(), Kind: d.Kind}
	own, err := s.store.PastOf(ctx, id)
	if err != nil {
		return v, err
	}
	lent, err := s.store.Lent(ctx, d.Name())
	if err != nil {
		return v, err
	}
	v.Page = past.Of(own, lent)
	if err := s.ofKind(ctx, &v); err != nil {
		return v, err
	}
	ends, err := s.store.Ends(ctx, id, 0)
	if err != nil {
		return v, err
	}
	ends.Lent, ends.LentOf = past.Ended(lent), len(lent)
	v.Usual = intake.Listed(sh.Plan, ends)
	for _, m := range d.Modifications {
		v.Modifications = append(v.Modifications, strings.TrimSuffix(m.What+": "+m.Why, ": "))
	}
	pictures, err := s.store.Pictures(ctx, id)
	if err != nil {
		return v, err
	}
	for _, p := range pictures {
		if !p.Struck {
			v.Pictures = append(v.Pictures, p.ID)
		}
	}
	return v, s.alike(ctx, &v)
}

// ofKind takes in what sets of the same kind teach, and who lent.
func (s *Server) ofKind(ctx context.Context, v *ModelView) error {
	own, err := s.store.Past(ctx)
	if err != nil {
		return err
	}
	lent, err := s.store.Lent(ctx, "")
	if err != nil {
		return err
	}
	kind := past.Key(v.Kind)
	v.Lenders = past.Lenders(lent)
	other := func(of string) bool { return kind == "" || past.Key(of) != kind }
	own = slices.DeleteFunc(own, func(j past.Own) bool { return other(j.Kind) })
	lent = slices.DeleteFunc(lent, func(j past.Lent) bool { return other(j.Kind) })
	v.OfKind = past.OfKind(own, lent)
	return nil
}

// alike finds the sheets that are of the model, and those that may be.
func (s *Server) alike(ctx context.Context, v *ModelView) error {
	joined, err := s.store.Joined(ctx, v.ID)
	if err != nil {
		return err
	}
	all, err := s.store.SheetNames(ctx)
	if err != nil {
		return err
	}
	for _, x := range joined {
		v.Joined = append(v.Joined, SheetName{x.ID, x.Name})
	}
	for _, x := range all {
		if x.ID != v.ID && !slices.Contains(joined, x) && past.Alike(v.Set, x.Name) {
			v.Alike = append(v.Alike, SheetName{x.ID, x.Name})
		}
	}
	return nil
}

// Other names another sheet.
type Other struct {
	Sheet int64 `json:"sheet"`
}

func (s *Server) join(r *http.Request, req Other) (ModelView, error) {
	sh, err := s.loadSheet(r)
	if err != nil {
		return ModelView{}, err
	}
	if sh.ID == req.Sheet {
		return ModelView{}, problem(http.StatusUnprocessableEntity, "One sheet", "A sheet is joined with another, not with itself.")
	}
	if err := s.store.Join(r.Context(), sh.ID, req.Sheet); err == store.ErrNotFound {
		return ModelView{}, problem(http.StatusNotFound, "No such sheet", "The sheet to join it with is not there any more.")
	} else if err != nil {
		return ModelView{}, err
	}
	return s.model(r)
}

// apart undoes it, for one of the sheets.
func (s *Server) apart(r *http.Request, req Other) (ModelView, error) {
	if err := s.store.Part(r.Context(), req.Sheet); err == store.ErrNotFound {
		return ModelView{}, problem(http.StatusNotFound, "Not joined", "That sheet is a model of its own already.")
	} else if err != nil {
		return ModelView{}, err
	}
	return s.model(r)
}

// taught is what the workshop's own finished jobs teach, as they are now.
func (s *Server) taught(ctx context.Context) ([]past.Own, error) {
	if _, err := s.freshen(ctx, fresh); err != nil {
		return nil, err
	}
	return s.store.Past(ctx)
}

// experience is what the workshop's finished jobs teach, as a file to be lent; without complaints where ?complaints=out.
func (s *Server) experience(w http.ResponseWriter, r *http.Request) error {
	own, err := s.taught(r.Context())
	if err != nil {
		return err
	}
	return s.lend(w, r, "experience", own)
}

// modelExperience is that of one model.
func (s *Server) modelExperience(w http.ResponseWriter, r *http.Request) error {
	sh, err := s.loadSheet(r)
	if err != nil {
		return err
	}
	if _, err := s.freshen(r.Context(), fresh); err != nil {
		return err
	}
	own, err := s.store.PastOf(r.Context(), sh.ID)
	if err != nil {
		return err
	}
	return s.lend(w, r, "experience "+sh.Document.Name(), own)
}

func (s *Server) lend(w http.ResponseWriter, r *http.Request, name string, own []past.Own) error {
	if len(own) == 0 {
		return problem(http.StatusConflict, "Nothing to lend", "No such job is finished yet: there is nothing to lend.")
	}
	settings, err := s.store.Shop(r.Context())
	if err != nil {
		return err
	}
	file := past.Make(cmp.Or(strings.TrimSpace(settings.Name), "a workshop"), past.Jobs(own), r.URL.Query().Get("complaints") != "out")
	attach(w, "application/json", name+".json", file.WriteJSON())
	return nil
}

// Borrowed tells of what was taken in.
type Borrowed struct {
	Whose string `json:"whose"`
	Jobs  int    `json:"jobs"`
	New   int    `json:"new"`
	Says  string `json:"says"`
}

func (s *Server) borrow(w http.ResponseWriter, r *http.Request) (Borrowed, error) {
	data, err := body(w, r, maxFile)
	if err != nil {
		return Borrowed{}, err
	}
	return s.takeLent(r.Context(), data)
}

func (s *Server) takeLent(ctx context.Context, data []byte) (Borrowed, error) {
	file, err := past.Read(data)
	if err != nil {
		return Borrowed{}, err
	}
	settings, err := s.store.Shop(ctx)
	if err != nil {
		return Borrowed{}, err
	}
	if past.Key(file.Workshop) == past.Key(settings.Name) {
		return Borrowed{}, problem(http.StatusUnprocessableEntity, "Its own",
			fmt.Sprintf("These are %s's own jobs: they count already, as its own.", file.Workshop))
	}
	own, err := s.taught(ctx)
	if err != nil {
		return Borrowed{}, err
	}
	out := Borrowed{Whose: file.Workshop, Jobs: len(file.Jobs)}
	file.Jobs = past.Without(file.Jobs, own) // under another name they are its own still
	if out.New, err = s.store.Lend(ctx, file); err != nil {
		return out, err
	}
	out.Says = fmt.Sprintf("%d jobs of %s are taken in, as theirs: each weighs less than one of your own.", out.New, out.Whose)
	if out.New < out.Jobs {
		out.Says = fmt.Sprintf("%d of %d jobs of %s are taken in, as theirs; the others were there.", out.New, out.Jobs, out.Whose)
	}
	return out, nil
}

// ImportExperience takes in what another workshop's jobs teach, from its file.
func (s *Server) ImportExperience(ctx context.Context, data []byte) error {
	_, err := s.takeLent(ctx, data)
	return err
}

// Lender names a workshop that lent.
type Lender struct {
	Whose string `json:"whose"`
}

func (s *Server) giveBack(r *http.Request, req Lender) (Borrowed, error) {
	if err := s.store.GiveBack(r.Context(), req.Whose); err == store.ErrNotFound {
		return Borrowed{}, problem(http.StatusNotFound, "Nothing lent", fmt.Sprintf("Nothing of %q was taken in.", req.Whose))
	} else if err != nil {
		return Borrowed{}, err
	}
	return Borrowed{Whose: req.Whose, Says: "What " + req.Whose + " lent counts no more."}, nil
}

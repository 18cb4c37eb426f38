package server

import (
	"context"
	"fmt"
	"net/http"
	"net/url"
	"slices"
	"strconv"

	"steptrace/core/mend"
	"steptrace/core/reading"
	"steptrace/core/reference"
	"steptrace/core/wave"
	"steptrace/internal/store"
)

// ReferenceChoice is something a channel can be compared with.
type ReferenceChoice struct {
	Key  string `json:"key"`
	Name string `json:"name"`
}

// looking is a channel of a kept capture that is looked at, with a reference.
type looking struct {
	*openCapture
	channel int
	site    wave.Site
	choices []ReferenceChoice
	key     string // of the reference; empty: none
	says    string // what it is, or why there is none
	ref     func() (*wave.Reference, error)
}

// look finds the channel in the address, and its reference.
func (s *Server) look(r *http.Request) (*looking, error) {
	number, err := intParam(r, "number")
	if err != nil {
		return nil, err
	}
	c, err := s.capture(r.Context(), number, param(r, "id"))
	if err != nil {
		return nil, err
	}
	q := r.URL.Query()
	l := &looking{openCapture: c}
	if text := q.Get("channel"); text != "" {
		if l.channel, err = strconv.Atoi(text); err != nil || l.channel < 0 || l.channel >= len(c.Read.Channels) {
			return nil, problem(
				http.StatusUnprocessableEntity,
				"No such channel",
				fmt.Sprintf("The capture has %d channels, numbered from 0.", len(c.Read.Channels)),
			)
		}
	}
	if l.site, err = siteOf(q); err != nil {
		return nil, err
	}
	if err := s.references(r, l, q); err != nil {
		return nil, err
	}
	return l, nil
}

// references lists what a channel can be compared with, and takes the one asked for,
// or the likeliest.
func (s *Server) references(r *http.Request, l *looking, q url.Values) error {
	j, base, err := s.traced(r)
	if err != nil {
		return err
	}
	point := l.Point(l.channel)
	refs := map[string]func() (*wave.Reference, error){}
	add := func(key, name string, ref func() (*wave.Reference, error)) {
		if refs[key] == nil {
			refs[key] = ref
			l.choices = append(l.choices, ReferenceChoice{key, name})
		}
	}
	made := func(d wave.Description) func() (*wave.Reference, error) {
		return func() (*wave.Reference, error) {
			ref, err := d.Reference(l.Read.Rate)
			if err != nil {
				err = problem(http.StatusUnprocessableEntity, "No reference", err.Error())
			}
			return &ref, err
		}
	}
	described, err := describedBy(q)
	if err != nil {
		return err
	}
	if described != nil {
		add("described", inWords(*described), made(*described))
	}
	l.says = "nothing to compare with: say at which point it was taken"
	if point != "" {
		due, why := reference.Due(
			base.Bench,
			reading.Reading{Point: point, Mode: l.Mode, Injected: l.Injected, Instrument: scopeOf(l.Instrument)},
			&l.site,
		)
		if l.says = why; why == "" {
			add("sheet", "the sheet: "+inWords(due), made(due))
		}
		if err := s.captured(r.Context(), &j, l, point, add); err != nil {
			return err
		}
	}
	switch key := q.Get("against"); {
	case key == "none":
		l.says = "compared with nothing"
		return nil
	case key != "" && refs[key] == nil:
		return problem(
			http.StatusUnprocessableEntity,
			"No such reference",
			"What this was to be compared with is not there, or no longer. Reload the page and pick another.",
		)
	case key != "":
		l.key = key
	case len(l.choices) > 0:
		l.key = l.choices[0].Key
	}
	if l.key != "" {
		l.ref = refs[l.key]
		l.says = l.choices[slices.IndexFunc(l.choices, func(c ReferenceChoice) bool { return c.Key == l.key })].Name
	}
	return nil
}

// captured adds the captures that a channel at a point can be compared with: good
// ones of the same point of this model, and the twin's of this job.
func (s *Server) captured(
	ctx context.Context,
	j *store.Job,
	l *looking,
	point string,
	add func(key, name string, ref func() (*wave.Reference, error)),
) error {
	good, err := s.store.GoodCaptures(ctx, j.Sheet.ID)
	if err != nil {
		return err
	}
	own, err := s.store.Captures(ctx, j.Number)
	if err != nil {
		return err
	}
	twin := ""
	plan := j.Sheet.Plan
	if at, ok := plan.PointIndex(point); ok && plan.Points[at].Twin >= 0 {
		twin = plan.Points[plan.Points[at].Twin].Name
	}
	each := func(list []store.Capture, wanted, name string) (added []func() (*wave.Reference, error)) {
		for i := range list {
			c := &list[i]
			if c.Struck || wanted == "" || c.Mode != l.Mode {
				continue
			}
			for k := range c.Read.Channels {
				if c.Point(k) != wanted || c.Job == l.Job && c.ID == l.ID && k == l.channel {
					continue
				}
				from, id := c.Job, c.ID
				where := ""
				if from != l.Job {
					where = fmt.Sprintf(", job %d", from)
				}
				one := func() (*wave.Reference, error) {
					other, err := s.capture(ctx, from, id)
					if err != nil {
						return nil, err
					}
					return other.Read.Reference(k), nil
				}
				added = append(added, one)
				add(
					fmt.Sprintf("%d/%s/%d", from, id, k),
					fmt.Sprintf("%s %s, %s%s", name, wanted, c.Taken.Format("2 Jan 15:04"), where),
					one,
				)
			}
		}
		return added
	}
	alike := each(good, point, "good capture at")
	if len(alike) >= wave.LeastMask {
		newest := good[0] // another makes it another mask
		add(
			fmt.Sprintf("mask/%d/%d/%s", len(alike), newest.Job, newest.ID),
			fmt.Sprintf("mask of %d good captures at %s", len(alike), point),
			func() (*wave.Reference, error) {
				return maskOf(alike, l.site)
			},
		)
	}
	each(own, twin, "twin")
	each(good, twin, "good twin")
	slices.Reverse(own)
	each(own, point, "earlier at")
	return nil
}

// mostMasked are as many of the latest captures as are made a mask.
const mostMasked = 24

// maskOf is the mask of good captures.
func maskOf(alike []func() (*wave.Reference, error), site wave.Site) (*wave.Reference, error) {
	var all []*wave.Reference
	for _, one := range alike[:min(len(alike), mostMasked)] {
		ref, err := one()
		if err != nil {
			return nil, err
		}
		all = append(all, ref)
	}
	mask, err := wave.MaskOf(all, site)
	if err != nil {
		return nil, problem(http.StatusUnprocessableEntity, "No mask", mend.Sentence(err.Error()))
	}
	return &mask.Reference, nil
}

// scopeOf is the instrument where it is a scope, or else the usual one: nothing else
// takes a waveform.
func scopeOf(instrument string) string {
	if in := reading.InstrumentFor(instrument); in.Scope {
		return in.Key
	}
	return reading.Instruments()[0].Key
}

// workKey names what was worked out of a channel.
func (l *looking) workKey() string { return fmt.Sprintf("%d %s %+v", l.channel, l.key, l.site) }

// compare compares the channel with its reference; nil where there is none, or it cannot
// be read, which is said then: the capture itself can be seen all the same.
func (l *looking) compare() *compared {
	if l.ref == nil {
		return nil
	}
	ref, err := l.ref()
	if err != nil {
		l.says = "nothing to compare with: " + asProblem(err).Detail
		return nil
	}
	return l.against(l.channel, ref, l.site, l.workKey()+l.says)
}

package server

import (
	"net/http"
	"slices"
	"time"

	"steptrace/core/wait"
	"steptrace/core/worth"
)

// WaitsView is what a job waits for, and has waited for.
type WaitsView struct {
	Head
	Fors  []wait.For  `json:"fors"`
	Waits []NotedWait `json:"waits"` // as they were noted; what ended them is with each
	Asked string      `json:"asked"` // what is waited for of the owner, as it is noted with the job's worth; empty: nothing
}

// NotedWait is something that is waited for, and how that stands today.
type NotedWait struct {
	wait.Entry
	Says     string     `json:"says"`
	Standing bool       `json:"standing"` // it is waited for still
	Late     bool       `json:"late"`
	Ended    *time.Time `json:"ended" jsonschema:"nullable"`
	How      string     `json:"how"` // it came
}

func (s *Server) waits(r *http.Request) (WaitsView, error) {
	j, err := load(r, s.store.Job)
	if err != nil {
		return WaitsView{}, err
	}
	v := WaitsView{Head: head(&j), Fors: wait.Fors}
	standing, now := wait.Standing(j.Waits), time.Now()
	if e := worth.Waits(j.Worthing); e != nil && j.Finished == nil {
		v.Asked = e.Says(now)
	}
	for _, e := range j.Waits {
		if e.Wait == nil {
			continue
		}
		n := NotedWait{
			Entry:    e,
			Says:     e.Says(now),
			Standing: slices.ContainsFunc(standing, func(x wait.Entry) bool { return x.ID == e.ID }),
		}
		n.Late = n.Standing && e.Wait.Late(now) > 0
		for _, o := range j.Waits {
			if o.Over != nil && !o.Struck && o.Over.Entry == e.ID {
				n.Ended, n.How = &o.At, o.Over.How
			}
		}
		v.Waits = append(v.Waits, n)
	}
	return v, nil
}

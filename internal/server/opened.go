package server

import (
	"context"
	"fmt"
	"net/http"
	"slices"
	"sync"

	"steptrace/core/wave"
	"steptrace/internal/store"
)

// opened are the captures looked at last, with their samples and what was worked out
// of them, so that moving about in one is quick. What a capture holds never changes.
type opened struct {
	mu   sync.Mutex
	list []*openCapture // the one looked at last at the end
}

// mostOpened is how many samples of all captures are held, 200 MB; the last one is
// held whatever its size.
const mostOpened = 25_000_000

// openCapture is one of them.
type openCapture struct {
	store.Capture
	mu          sync.Mutex
	overviews   map[int]*wave.Overview
	figures     map[string]wave.Figures // by channel and site
	comparisons map[string]*compared    // by channel, reference and site
}

// capture gives a capture of a job, from memory where it is there.
func (s *Server) capture(ctx context.Context, number int, id string) (*openCapture, error) {
	o := &s.opened
	o.mu.Lock()
	at := slices.IndexFunc(o.list, func(c *openCapture) bool { return c.Job == number && c.ID == id })
	if at >= 0 {
		c := o.list[at]
		o.list = append(slices.Delete(o.list, at, at+1), c)
		o.mu.Unlock()
		return c, nil
	}
	o.mu.Unlock()
	found, err := s.store.Capture(ctx, number, id)
	if err != nil {
		return nil, err
	}
	if err := found.Read.Check(); err != nil { // kept before that was asked for
		return nil, problem(
			http.StatusUnprocessableEntity,
			"Not to be worked out",
			fmt.Sprintf(
				"The capture %s cannot be worked out: %s. Its file can still be fetched; strike it out to be rid of it.",
				found.Name,
				err,
			),
		)
	}
	c := &openCapture{
		Capture:     found,
		overviews:   map[int]*wave.Overview{},
		figures:     map[string]wave.Figures{},
		comparisons: map[string]*compared{},
	}
	o.mu.Lock()
	defer o.mu.Unlock()
	o.list = append(o.list, c)
	held := 0
	for i := len(o.list) - 1; i >= 0; i-- {
		held += o.list[i].Samples * len(o.list[i].Read.Channels)
		if held > mostOpened && i < len(o.list)-1 {
			o.list = slices.Delete(o.list, 0, i+1)
			break
		}
	}
	return c, nil
}

// overview, measured and against are worked out once.
func (c *openCapture) overview(channel int) *wave.Overview {
	return once(c, c.overviews, channel, func() *wave.Overview { return c.Read.Channels[channel].Overview() })
}

func (c *openCapture) measured(channel int, site wave.Site, key string) wave.Figures {
	return once(c, c.figures, key, func() wave.Figures { return c.Read.Channels[channel].Measure(c.Read.Rate, site) })
}

func (c *openCapture) against(channel int, ref *wave.Reference, site wave.Site, key string) *compared {
	return once(c, c.comparisons, key, func() *compared {
		found, ok := wave.Compare(&c.Read.Channels[channel], c.Read.Rate, ref, site)
		if !ok {
			return nil
		}
		return &compared{found, site}
	})
}

// mostWorked is how much is held that was worked out of one capture: a person compares it
// with a few things.
const mostWorked = 40

func once[K comparable, V any](c *openCapture, kept map[K]V, key K, work func() V) V {
	c.mu.Lock()
	defer c.mu.Unlock()
	v, ok := kept[key]
	if !ok {
		if len(kept) >= mostWorked {
			clear(kept)
		}
		v = work()
		kept[key] = v
	}
	return v
}

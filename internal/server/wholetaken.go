package server

import (
	"context"
	"errors"
	"fmt"
	"io"
	"net/http"
	"os"
	"strings"
	"unicode/utf8"

	"steptrace/core/device"
	"steptrace/core/exchange"
	"steptrace/core/job"
	"steptrace/core/mend"
	"steptrace/core/past"
	"steptrace/core/replace"
	"steptrace/core/sheet"
	"steptrace/internal/instrument"
	"steptrace/internal/store"
)

// WholeTaken is what was taken in of a workshop's files: how many sheets and jobs are new, and how many were here. Refused are those
// that could not be taken, each with why.
type WholeTaken struct {
	Sheets  int      `json:"sheets"`
	Jobs    int      `json:"jobs"`
	Here    int      `json:"here"` // jobs that were here already
	Other   int      `json:"other"`
	Moved   []string `json:"moved"` // jobs that got another number
	Refused []string `json:"refused"`
}

// takeWhole takes in a whole workshop's files. They are kept on disk while they are worked through.
func (s *Server) takeWhole(_ http.ResponseWriter, r *http.Request) (WholeTaken, error) {
	file, err := os.CreateTemp(s.store.Folder(), "taken-in-*.zip") // the system's own place may be in memory
	if err != nil {
		return WholeTaken{}, err
	}
	defer func() {
		_ = file.Close()
		_ = os.Remove(file.Name()) // what stays after a crash is in nobody's way
	}()
	size, err := io.Copy(file, io.LimitReader(r.Body, maxWholeBytes+1))
	switch {
	case errors.Is(err, errSlow):
		return WholeTaken{}, problem(http.StatusRequestTimeout, "Too slow", "It came too slowly, and was left. Nothing was taken over.")
	case err != nil && store.Explain(err) != "":
		return WholeTaken{}, err
	case err != nil:
		return WholeTaken{}, problem(
			http.StatusBadRequest,
			"Cut off",
			"It broke off in the middle. Send it again; nothing was taken over.",
		)
	case size > maxWholeBytes:
		return WholeTaken{}, problem(http.StatusRequestEntityTooLarge, "Too large", "A workshop's files have up to 16 GB.")
	}
	if err := take(r.Context()); err != nil {
		return WholeTaken{}, err
	}
	return s.ImportWhole(r.Context(), file, size)
}

// ImportWhole takes in a whole workshop's files from a zip. Each sheet and each job is taken whole or not at all.
func (s *Server) ImportWhole(ctx context.Context, from io.ReaderAt, size int64) (out WholeTaken, err error) {
	z, err := fold("whole workshop", from, size, maxWholeFiles, maxWhole)
	if err != nil {
		return out, err
	}
	text, err := z.unfold(wholeIndex, maxFile*8)
	if err != nil {
		return out, err
	}
	var index WholeFile
	if err := exchange.Decode(text, &index); err != nil {
		return out, fmt.Errorf("%s: %w", wholeIndex, err)
	}
	if index.Format != wholeFormat || index.Version != wholeVersion {
		return out, mend.Errorf("%s is %s %d, not %s %d", wholeIndex, index.Format, index.Version, wholeFormat, wholeVersion)
	}
	t := &taker{s: s, z: z, out: &out, sheets: map[string]int64{}}
	for i := range index.Sheets {
		if err := t.each(ctx, "sheet "+index.Sheets[i].Folder, func() error { return t.sheet(ctx, &index.Sheets[i]) }); err != nil {
			return out, err
		}
	}
	for i := range index.Jobs {
		x := &index.Jobs[i]
		if err := t.each(ctx, fmt.Sprintf("job No. %d", x.Number), func() error { return t.job(ctx, x) }); err != nil {
			return out, err
		}
	}
	// What is the workshop's and not a job's; what is here already stays as it is.
	for _, x := range []struct {
		what string
		take func() error
	}{
		{"models that were joined", func() error { return t.joined(ctx, index.Joined) }},
		{"types of parts", func() error { return t.types(ctx) }},
		{"the workshop's settings", func() error { return t.settings(ctx) }},
		{"instruments", func() error { return t.instruments(ctx, index.Instruments) }},
		{"levels of sound", func() error { return t.sound(ctx, index.Sound) }},
		{"the drawer", func() error { return t.drawer(ctx, index.Drawer) }},
		{"what was lent", func() error { return t.lent(ctx, index.Lent) }},
	} {
		if err := t.each(ctx, x.what, x.take); err != nil {
			return out, err
		}
	}
	return out, nil
}

// taker takes a workshop's files in.
type taker struct {
	s      *Server
	z      *folded
	out    *WholeTaken
	sheets map[string]int64 // by their keys
}

// each takes one thing; what a person could mend is noted, and the rest goes on.
func (t *taker) each(ctx context.Context, what string, do func() error) error {
	if err := ctx.Err(); err != nil {
		return err // nobody waits for it any more: what was taken stays, and taken in again the rest follows
	}
	err := do()
	if err == nil {
		return nil
	}
	p := asProblem(err)
	if p.err != nil {
		return err // of the disk, or the program
	}
	t.out.Refused = append(t.out.Refused, what+": "+p.Detail)
	if len(t.out.Refused) > maxRefused {
		return mend.Errorf("more than %d things in it cannot be taken: %s. What was taken before stays: %d sheets, %d jobs",
			maxRefused, strings.Join(t.out.Refused[:3], "; "), t.out.Sheets, t.out.Jobs)
	}
	return nil
}

// maxKey is more than any key has.
const maxKey = 200

func keyed(key string) error {
	if key == "" || len(key) > maxKey || !utf8.ValidString(key) {
		return mend.Errorf("its key has to be 1 to %d bytes", maxKey)
	}
	return nil
}

func (t *taker) sheet(ctx context.Context, x *WholeSheet) error {
	if err := keyed(x.Key); err != nil {
		return err
	}
	const most = 10_000
	if len(x.Revisions) == 0 || len(x.Revisions) > most {
		return mend.Errorf("a sheet has 1 to %d revisions", most)
	}
	var all []store.Revision
	for i, save := range x.Revisions {
		text, err := t.z.unfold(fmt.Sprintf("%s%d.json", x.Folder, i+1), maxFile)
		if err != nil {
			return err
		}
		document, err := sheet.ReadJSON(text)
		if err != nil {
			return err
		}
		if save.Back < 0 || save.Back > i {
			return mend.Errorf("revision %d was taken back to %d, which is not before it", i+1, save.Back)
		}
		all = append(all, store.Revision{Document: document, Saved: save.Saved, Back: save.Back})
	}
	pictures, err := t.z.pictures(x.Folder)
	if err != nil {
		return err
	}
	id, fresh, err := t.s.store.TakeSheet(ctx, x.Key, x.Own, all, pictures)
	if err != nil {
		return err
	}
	t.sheets[x.Key] = id
	if fresh {
		t.out.Sheets++
	}
	return nil
}

func (t *taker) job(ctx context.Context, x *WholeJob) error {
	if err := keyed(x.Key); err != nil {
		return err
	}
	if _, err := t.s.store.JobOf(ctx, x.Key); !errors.Is(err, store.ErrNotFound) {
		t.out.Here++
		return err
	}
	id, ok := t.sheets[x.Sheet]
	if !ok {
		return mend.Errorf("its sheet is not among those that came with it")
	}
	text, err := t.z.unfold(x.File, maxJobFile)
	if err != nil {
		return err
	}
	f, err := job.ReadJSON(text)
	if err != nil {
		return err
	}
	of, err := t.s.store.Sheet(ctx, id)
	if err == nil && x.Revision != 0 && f.Finished != nil {
		of, err = t.s.store.SheetAt(ctx, id, x.Revision)
	}
	if errors.Is(err, store.ErrNotFound) {
		return mend.Errorf("it was finished by revision %d of its sheet, which has not so many", x.Revision)
	}
	if err != nil {
		return err
	}
	brought, err := checked(ctx, f, of.Plan, nil) // a sheet that is being mended keeps its jobs
	if err != nil {
		return err
	}
	number, _, err := t.s.store.AddJobAt(store.Under(ctx, x.Key), &f.Job, id, x.Revision, brought)
	if err != nil {
		return err
	}
	t.out.Jobs++
	if number != x.Number {
		t.out.Moved = append(t.out.Moved, fmt.Sprintf("No. %d is No. %d here", x.Number, number))
	}
	return nil
}

func (t *taker) joined(ctx context.Context, pairs [][2]string) error {
	for _, p := range pairs {
		a, b := t.sheets[p[0]], t.sheets[p[1]]
		if a == 0 || b == 0 || a == b {
			continue
		}
		if err := t.s.store.Join(ctx, a, b); err != nil {
			return err
		}
	}
	return nil
}

// mended is an error as one that a person can mend, with where it is.
func mended(err error, where string) error {
	if err == nil {
		return nil
	}
	return mend.Errorf("%s: %v", where, err)
}

func (t *taker) types(ctx context.Context) error {
	text, err := t.z.unfold("types.csv", maxFile)
	if err != nil {
		return err
	}
	rows, problems := device.ReadRows(string(text))
	if len(problems) > 0 {
		return mend.Errorf("types.csv: %v", problems[0])
	}
	had, err := t.s.store.Types(ctx)
	if err != nil {
		return err
	}
	rows = without(rows, had, func(r device.Row) string { return r.Type })
	if err := t.s.store.PutTypes(ctx, rows); err != nil {
		return err
	}
	t.out.Other += len(rows)
	return nil
}

// without leaves out of a list what is had by name, whatever its case.
func without[T any](list, had []T, name func(T) string) (out []T) {
	there := map[string]bool{}
	for _, x := range had {
		there[strings.ToLower(name(x))] = true
	}
	for _, x := range list {
		if n := strings.ToLower(name(x)); !there[n] {
			there[n] = true
			out = append(out, x)
		}
	}
	return out
}

func (t *taker) settings(ctx context.Context) error {
	said, err := t.s.store.HasShop(ctx)
	if _, brings := t.z.files["workshop.json"]; err != nil || said || !brings {
		return err
	}
	text, err := t.z.unfold("workshop.json", maxBody)
	if err == nil {
		err = t.s.ImportShop(ctx, text)
	}
	if err == nil {
		t.out.Other++
	}
	return err
}

func (t *taker) instruments(ctx context.Context, list []instrument.Instrument) error {
	had, err := t.s.store.Instruments(ctx)
	if err != nil {
		return err
	}
	for _, in := range without(list, had, func(in instrument.Instrument) string { return in.ID }) {
		in.StandIn, in.Wide = false, false // what is allowed beyond the network is said at this machine
		err := sent(in.ID)
		if err == nil {
			err = mended(in.Check(), "instrument "+in.Name)
		}
		if err == nil {
			err = t.s.room()
		}
		if err == nil {
			err = t.s.store.PutInstrument(ctx, in)
		}
		if err != nil {
			return err
		}
		t.s.bench.Put(in)
		t.out.Other++
	}
	return nil
}

func (t *taker) sound(ctx context.Context, levels []WholeLevel) error {
	const most = 1e4 // volts peak: beyond what any divider in front of a sound input makes of full scale
	known, err := t.s.store.SoundLevels(ctx)
	if err != nil {
		return err
	}
	for _, l := range levels {
		if _, there := known[[2]string{l.Device, l.Way}]; there {
			continue
		}
		err := deviceNamed(l.Device)
		if err == nil && (l.Way != "out" && l.Way != "in" || !(l.Volts > 0 && l.Volts < most)) {
			err = mend.Errorf("a level is out or in, and above 0 V")
		}
		if err == nil {
			err = t.s.store.SetSoundLevel(ctx, l.Device, l.Way, l.Volts)
		}
		if err != nil {
			return err
		}
		t.out.Other++
	}
	return nil
}

func (t *taker) drawer(ctx context.Context, kept []replace.Kept) error {
	had, err := t.s.store.Drawer(ctx)
	if err != nil {
		return err
	}
	fresh := without(kept, had, func(k replace.Kept) string { return k.What })
	for i := range fresh {
		if err := mended(fresh[i].Check(), "the drawer"); err != nil {
			return err
		}
	}
	if err := t.s.store.PutDrawer(ctx, fresh); err != nil {
		return err
	}
	t.out.Other += len(fresh)
	return nil
}

func (t *taker) lent(ctx context.Context, files []string) error {
	for _, file := range files {
		text, err := t.z.unfold(file, maxFile)
		if err != nil {
			return err
		}
		f, err := past.Read(text)
		if err != nil {
			return err
		}
		n, err := t.s.store.Lend(ctx, f)
		if err != nil {
			return err
		}
		t.out.Other += n
	}
	return nil
}

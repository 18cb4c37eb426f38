package server

import (
	"archive/zip"
	"context"
	"errors"
	"fmt"
	"io"
	"net/http"
	"os"
	"slices"
	"strings"
	"time"
	"unicode/utf8"

	"steptrace/core/device"
	"steptrace/core/exchange"
	"steptrace/core/job"
	"steptrace/core/mend"
	"steptrace/core/past"
	"steptrace/core/replace"
	"steptrace/core/sheet"
	"steptrace/core/shop"
	"steptrace/internal/instrument"
	"steptrace/internal/store"
)

// A whole workshop as open files: a zip with everything in the formats of docs/formats.md, and an index of them. Taken in, what is here
// already is left as it is, by the keys that sheets and jobs have; so it can be broken off and taken in again.

// Format and version of the index.
const (
	wholeFormat  = "steptrace-whole"
	wholeVersion = 1
	wholeIndex   = "index.json"
)

// The most that such a zip holds.
const (
	maxWholeFiles = 200_000
	maxWholeBytes = 16 << 30 // as it comes
	maxWhole      = 1 << 40  // unfolded, one file after another
	maxRefused    = 20       // jobs or sheets that cannot be taken, before it is given up
)

// WholeFile is the index of a workshop's files.
type WholeFile struct {
	Format      string                  `json:"format" jsonschema:"enum=steptrace-whole"`
	Version     int                     `json:"version" jsonschema:"enum=1"`
	Made        time.Time               `json:"made"`
	Sheets      []WholeSheet            `json:"sheets"`
	Jobs        []WholeJob              `json:"jobs"`
	Joined      [][2]string             `json:"joined"` // keys of sheets that are of one model
	Instruments []instrument.Instrument `json:"instruments"`
	Sound       []WholeLevel            `json:"sound"`
	Drawer      []replace.Kept          `json:"drawer"`
	Lent        []string                `json:"lent"` // files of other workshops' experience
}

// WholeSheet is a sheet: its folder holds its revisions (1.json and on) and its pictures. Own: it was made for one job.
type WholeSheet struct {
	Key       string      `json:"key"`
	Own       bool        `json:"own,omitempty"`
	Folder    string      `json:"folder"`
	Revisions []WholeSave `json:"revisions"`
}

// WholeSave is when a revision was saved, and which it was taken back to (0: it was not).
type WholeSave struct {
	Saved time.Time `json:"saved"`
	Back  int       `json:"back,omitempty"`
}

// WholeJob is a job: its file, the key of its sheet, and the revision that it was finished by (0: it is open).
type WholeJob struct {
	Key      string `json:"key"`
	Number   int    `json:"number"`
	File     string `json:"file"`
	Sheet    string `json:"sheet"`
	Revision int    `json:"revision,omitempty"`
}

// WholeLevel is what full scale of a sound device is, volts (peak), out or in.
type WholeLevel struct {
	Device string  `json:"device"`
	Way    string  `json:"way" jsonschema:"enum=out,enum=in"`
	Volts  float64 `json:"volts"`
}

// wholeFile gives the whole workshop, a file after the other: it is never in memory as a whole.
func (s *Server) wholeFile(w http.ResponseWriter, r *http.Request) error {
	sheets, err := s.store.KeptSheets(r.Context())
	if err != nil {
		return err
	}
	jobs, err := s.store.KeptJobs(r.Context())
	if err != nil {
		return err
	}
	attach(w, "application/zip", "workshop-"+time.Now().Format(time.DateOnly)+".zip", nil)
	z := zipping{zip.NewWriter(w)}
	index := WholeFile{Format: wholeFormat, Version: wholeVersion, Made: time.Now().UTC()}
	err = s.putWhole(r.Context(), z, &index, sheets, jobs)
	if err == nil {
		err = z.put(wholeIndex, zip.Deflate, exchange.Encode(index))
	}
	if err == nil {
		err = z.Close()
	}
	if err != nil {
		// Part of it is gone out already: it has to break off, so that nobody takes half of it for the whole.
		fail(discarded{w}, r, err)
		panic(http.ErrAbortHandler)
	}
	return nil
}

// discarded has an error logged whose answer cannot go out any more.
type discarded struct{ http.ResponseWriter }

func (discarded) WriteHeader(int)                {}
func (discarded) Write(data []byte) (int, error) { return len(data), nil }
func (discarded) Header() http.Header            { return http.Header{} }
func keyOf(sheets []store.KeptSheet) map[int64]string {
	out := map[int64]string{}
	for _, x := range sheets {
		out[x.ID] = x.Key
	}
	return out
}

func (s *Server) putWhole(ctx context.Context, z zipping, index *WholeFile, sheets []store.KeptSheet, jobs []store.KeptJob) error {
	for i, x := range sheets {
		one := WholeSheet{Key: x.Key, Own: x.Own, Folder: fmt.Sprintf("sheets/%d/", i+1)}
		all, err := s.store.Revisions(ctx, x.ID)
		if err != nil {
			return err
		}
		for n, rev := range all {
			one.Revisions = append(one.Revisions, WholeSave{rev.Saved, rev.Back})
			if err := z.put(fmt.Sprintf("%s%d.json", one.Folder, n+1), zip.Deflate, rev.Document.WriteJSON()); err != nil {
				return err
			}
		}
		if err := s.putPictures(ctx, z, one.Folder, x.ID); err != nil {
			return err
		}
		index.Sheets = append(index.Sheets, one)
	}
	keys := keyOf(sheets)
	for _, x := range jobs {
		j, err := s.store.Job(ctx, x.Number)
		if err != nil {
			return err
		}
		d := j.Sheet.Document
		f := &job.File{Sheet: job.SheetRef{Maker: d.Maker, Model: d.Model, Own: j.Sheet.Own}, Job: j.Job}
		if err := s.laden(ctx, &f.Job); err != nil {
			return err
		}
		one := WholeJob{x.Key, x.Number, fmt.Sprintf("jobs/%d.json", x.Number), keys[x.Sheet], x.Revision}
		if err := z.put(one.File, zip.Deflate, f.WriteJSON()); err != nil {
			return err
		}
		index.Jobs = append(index.Jobs, one)
	}
	return s.putRest(ctx, z, index, keys)
}

// putRest puts in what is the workshop's and not a job's.
func (s *Server) putRest(ctx context.Context, z zipping, index *WholeFile, keys map[int64]string) (err error) {
	pairs, err := s.store.JoinedPairs(ctx)
	for _, p := range pairs {
		index.Joined = append(index.Joined, [2]string{keys[p[0]], keys[p[1]]})
	}
	if err == nil {
		index.Instruments, err = s.store.Instruments(ctx)
	}
	if err == nil {
		index.Drawer, err = s.store.Drawer(ctx)
	}
	if err != nil {
		return err
	}
	levels, err := s.store.SoundLevels(ctx)
	if err != nil {
		return err
	}
	for of, volts := range levels {
		index.Sound = append(index.Sound, WholeLevel{of[0], of[1], volts})
	}
	slices.SortFunc(index.Sound, func(a, b WholeLevel) int { return strings.Compare(a.Device+"\n"+a.Way, b.Device+"\n"+b.Way) })
	rows, err := s.store.Types(ctx)
	if err == nil {
		err = z.put("types.csv", zip.Deflate, []byte(device.WriteRows(rows)))
	}
	if err != nil {
		return err
	}
	if said, err := s.store.HasShop(ctx); err != nil {
		return err
	} else if said {
		settings, err := s.store.Shop(ctx)
		if err == nil {
			err = z.put("workshop.json", zip.Deflate, exchange.Encode(settings))
		}
		if err != nil {
			return err
		}
	}
	lent, err := s.store.Lent(ctx, "")
	if err != nil {
		return err
	}
	by := map[string][]past.Job{}
	var whose []string
	for _, l := range lent {
		if by[l.Whose] == nil {
			whose = append(whose, l.Whose)
		}
		by[l.Whose] = append(by[l.Whose], l.Job)
	}
	for _, name := range whose {
		for part := range slices.Chunk(by[name], past.MostJobs) {
			file := fmt.Sprintf("lent/%d.json", len(index.Lent)+1)
			if err := z.put(file, zip.Deflate, exchange.Encode(past.Make(name, part, true))); err != nil {
				return err
			}
			index.Lent = append(index.Lent, file)
		}
	}
	return nil
}

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
	if err := t.each(ctx, "what is the workshop's", func() error { return t.rest(ctx, &index) }); err != nil {
		return out, err
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

// rest takes what is the workshop's and not a job's; what is here already stays as it is.
func (t *taker) rest(ctx context.Context, index *WholeFile) error {
	for _, p := range index.Joined {
		a, b := t.sheets[p[0]], t.sheets[p[1]]
		if a == 0 || b == 0 || a == b {
			continue
		}
		if err := t.s.store.Join(ctx, a, b); err != nil {
			return err
		}
	}
	return errors.Join(t.types(ctx), t.settings(ctx), t.tools(ctx, index), t.drawer(ctx, index.Drawer), t.lent(ctx, index.Lent))
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
	t.out.Other += len(rows)
	return t.s.store.PutTypes(ctx, rows)
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
	if err != nil {
		return err
	}
	settings := shop.Usual()
	if err := exchange.Decode(text, &settings); err != nil {
		return err
	}
	t.out.Other++
	return t.s.ImportShop(ctx, text)
}

func (t *taker) tools(ctx context.Context, index *WholeFile) error {
	had, err := t.s.store.Instruments(ctx)
	if err != nil {
		return err
	}
	for _, in := range without(index.Instruments, had, func(in instrument.Instrument) string { return in.ID }) {
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
	known, err := t.s.store.SoundLevels(ctx)
	for _, l := range index.Sound {
		if _, there := known[[2]string{l.Device, l.Way}]; err != nil || there {
			continue
		}
		if l.Device == "" || len(l.Device) > maxKey || l.Way != "out" && l.Way != "in" || !(l.Volts > 0 && l.Volts < 1e4) {
			return mend.Errorf("a level of sound has a device, out or in, and volts above zero")
		}
		err = t.s.store.SetSoundLevel(ctx, l.Device, l.Way, l.Volts)
		t.out.Other++
	}
	return err
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
	t.out.Other += len(fresh)
	return t.s.store.PutDrawer(ctx, fresh)
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

// Command steptrace serves Step Trace to a browser on this machine.
//
//	steptrace                      the workshop's own data
//	steptrace -demo                the demo workshop, filled in when empty
//	steptrace -listen :4780        also for a phone in the same network
//	steptrace backup FILE          a whole copy of the data, also while it runs
//	steptrace restore FILE         puts a copy back; what it replaces is kept beside it
package main

import (
	"cmp"
	"context"
	"errors"
	"flag"
	"fmt"
	"io/fs"
	"log/slog"
	"net"
	"net/http"
	"os"
	"os/signal"
	"path/filepath"
	"runtime/debug"
	"strings"
	"syscall"
	"time"

	"steptrace/core/beside"
	"steptrace/demo"
	"steptrace/internal/desk"
	"steptrace/internal/server"
	"steptrace/internal/store"
	"steptrace/web"
)

// copiesKept is how many daily copies are kept, and as many of those before an upgrade.
const copiesKept = 14

const usualAddress = "127.0.0.1:4780"

// usualMemory is from how much on memory is given back rather than kept for later, in bytes: a
// workshop's computer has other things to do. Long captures take more while they are measured.
const usualMemory = 200 << 20

func main() {
	var o options
	flag.StringVar(
		&o.listen,
		"listen",
		"",
		"address and port to answer on (usually "+usualAddress+", or a free port where that is taken)",
	)
	flag.StringVar(&o.data, "data", "", "the file that keeps everything (usually steptrace.db in your data folder)")
	flag.BoolVar(&o.demo, "demo", false, "where there is no such file yet, make one with the demo workshop in it")
	flag.BoolVar(&o.practice, "practice", false, "with simulated instruments on this machine; -demo has them too")
	flag.StringVar(&o.copies, "copies", "", "the folder for the daily copies of the data (usually copies, beside the data)")
	flag.Parse()
	do, ok := commandOf(flag.Args())
	if !ok {
		fmt.Fprintf(os.Stderr, "steptrace: %q is not understood. See steptrace -help.\n", strings.Join(flag.Args(), " "))
		os.Exit(2)
	}
	if os.Getenv("GOMEMLIMIT") == "" {
		debug.SetMemoryLimit(usualMemory)
	}
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	if err := do(ctx, o); err != nil {
		fmt.Fprintln(os.Stderr, "steptrace:", err)
		os.Exit(1)
	}
}

type options struct {
	listen, data, copies string
	demo, practice       bool
}

// commandOf is what the words behind the flags ask for: nothing, backup or restore with a file.
func commandOf(words []string) (do func(ctx context.Context, o options) error, ok bool) {
	const withFile = 2
	switch {
	case len(words) == 0:
		return serve, true
	case len(words) == withFile && words[0] == "backup":
		return func(ctx context.Context, o options) error { return backup(ctx, o, words[1]) }, true
	case len(words) == withFile && words[0] == "restore":
		return func(ctx context.Context, o options) error { return restore(ctx, o, words[1]) }, true
	}
	return nil, false
}

func backup(ctx context.Context, o options, to string) error {
	path, err := dataFile(o)
	if err != nil {
		return err
	}
	size, err := store.CopyOf(ctx, path, to)
	if err == nil {
		fmt.Printf("%s is a whole copy of %s, %d bytes, looked through.\n", to, path, size)
	}
	return told(err)
}

func restore(ctx context.Context, o options, from string) error {
	path, err := dataFile(o)
	if err != nil {
		return err
	}
	kept, err := store.Restore(ctx, path, from)
	if err == nil {
		fmt.Printf("%s is back at %s.\n", from, path)
		if kept != "" {
			fmt.Printf("What it replaces is kept as %s.\n", kept)
		}
	}
	return told(err)
}

// told puts what to do to an error of the disk.
func told(err error) error {
	if text := store.Explain(err); text != "" {
		return fmt.Errorf("%w. %s", err, text)
	}
	return err
}

// serve answers until it is told to stop; where a copy is to be put back it does that in between, on the same address.
func serve(ctx context.Context, o options) error {
	for {
		from, err := run(ctx, &o)
		if err != nil || from == "" {
			return told(err)
		}
		kept, err := store.Restore(ctx, o.data, from)
		if err != nil {
			// What was there is there still: it goes on with that, and the reason is in the log.
			slog.Error("the copy was not put back", "copy", from, "error", err)
			continue
		}
		slog.Info("a copy was put back", "copy", from, "replaced", kept)
	}
}

// run answers until the context ends, or a copy is to be put back, whose path it gives.
//
// Long: what has to be closed again stands beside what opened it, in that order.
func run(ctx context.Context, o *options) (from string, err error) {
	path, err := dataFile(*o)
	if err != nil {
		return "", err
	}
	o.data = path
	copies := &store.Copies{Folder: cmp.Or(o.copies, filepath.Join(filepath.Dir(path), "copies")), Keep: copiesKept}
	if o.demo {
		if err := makeDemo(ctx, path); err != nil {
			return "", err
		}
	}
	db, err := store.Open(ctx, path, copies)
	if err != nil {
		return "", err
	}
	defer func() { err = errors.Join(err, db.Close()) }()

	pages, err := web.Pages()
	if err != nil {
		return "", err
	}
	listener, err := listen(o.listen)
	if err != nil {
		return "", fmt.Errorf("cannot answer on %s: %w. Choose another with -listen", o.listen, err)
	}
	address := listener.Addr().(*net.TCPAddr)
	o.listen = address.String()
	s := server.New(db, pages, address.IP.IsLoopback())

	defer s.Close()
	s.KeepCopies(copies)
	if err := s.Instruments(ctx); err != nil {
		return "", err
	}
	if o.demo || o.practice {
		d, list, failed := desk.Start()
		if failed != nil {
			return "", fmt.Errorf("the simulated instruments do not start: %w", failed)
		}
		defer func() { err = errors.Join(err, d.Close()) }()
		faults := demo.Faults
		if !o.demo {
			faults = nil
		}
		s.Practise(d, list, faults)
	}
	if err := s.Soak(ctx); err != nil {
		return "", err
	}

	ctx, cancelled := context.WithCancel(ctx)
	var beyond beside.Work // what goes on beside the answers, and ends with them
	defer beyond.Wait()
	defer cancelled()
	beyond.Go(func() { quietly("copies are not made any more", func() error { s.Copy(ctx); return nil }) })
	// The shelf after an upgrade; what is looked at meanwhile is brought up to date then.
	beyond.Go(func() { quietly("the shelf is not up to date", func() error { return s.Freshen(ctx) }) })

	httpServer := s.HTTPServer()
	done := make(chan error, 1)
	go func() { done <- httpServer.Serve(listener) }()
	host := address.IP.String()
	if address.IP.IsUnspecified() {
		host = "localhost"
	}
	fmt.Printf("Step Trace is at http://%s  (data in %s, stop with Ctrl+C)\n", net.JoinHostPort(host, fmt.Sprint(address.Port)), path)
	if !address.IP.IsLoopback() {
		slog.Warn("Anyone in this network can read and change everything here.")
	}

	select {
	case err := <-done:
		return "", err
	case from = <-s.Restoring():
	case <-ctx.Done():
	}
	finish, cancel := context.WithTimeout(context.Background(), 5*time.Second)
	defer cancel()
	err = httpServer.Shutdown(finish)
	if errors.Is(err, context.DeadlineExceeded) {
		// Whoever still holds a connection open has nothing under way that
		// would be lost: what was answered is on disk.
		err = httpServer.Close()
	}
	if err != nil {
		return "", err
	}
	if err := <-done; !errors.Is(err, http.ErrServerClosed) {
		return "", err
	}
	return from, nil
}

// quietly does something beside the answers; what goes wrong with it is in the log.
func quietly(trouble string, do func() error) {
	var failed error
	if broke := beside.Try(func() { failed = do() }); broke != nil {
		failed = broke
	}
	if failed != nil && !errors.Is(failed, context.Canceled) {
		slog.Error(trouble, "error", failed)
	}
}

// makeDemo makes the data file with the demo workshop in it, unless there is a
// file already. It comes into place whole, or not at all: it is filled under
// another name.
func makeDemo(ctx context.Context, path string) error {
	if _, err := os.Stat(path); !errors.Is(err, fs.ErrNotExist) {
		return err
	}
	filling := path + ".filling"
	for _, left := range []string{"", "-wal", "-shm"} {
		if err := os.Remove(filling + left); err != nil && !errors.Is(err, fs.ErrNotExist) {
			return err
		}
	}
	db, err := store.Open(ctx, filling)
	if err != nil {
		return err
	}
	err = demo.Fill(ctx, server.New(db, nil, true))
	if err = errors.Join(err, db.Close()); err != nil {
		return err
	}
	return errors.Join(os.Rename(filling, path), os.Remove(filling+".lock"))
}

// listen takes the address asked for. Without one it takes the usual address,
// or a free port where something else is there already.
func listen(address string) (net.Listener, error) {
	if address != "" {
		return net.Listen("tcp", address)
	}
	l, err := net.Listen("tcp", usualAddress)
	if err == nil {
		return l, nil
	}
	return net.Listen("tcp", "127.0.0.1:0")
}

// dataFile gives the path of the data, with its folder made.
func dataFile(o options) (string, error) {
	path := o.data
	if path == "" {
		folder, err := os.UserConfigDir()
		if err != nil {
			return "", fmt.Errorf("%w. Say where to keep the data with -data", err)
		}
		name := "steptrace.db"
		if o.demo {
			name = "demo.db"
		}
		path = filepath.Join(folder, "steptrace", name)
	}
	if err := os.MkdirAll(filepath.Dir(path), 0o750); err != nil {
		return "", fmt.Errorf("%w. Say where to keep the data with -data", err)
	}
	return path, nil
}

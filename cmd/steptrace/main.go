// Command steptrace serves Step Trace to a browser on this machine.
//
//	steptrace                      the workshop's own data
//	steptrace -demo                the demo workshop, filled in when empty
//	steptrace -listen :4780        also for a phone in the same network
package main

import (
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
	"syscall"
	"time"

	"steptrace/core/beside"
	"steptrace/demo"
	"steptrace/internal/desk"
	"steptrace/internal/server"
	"steptrace/internal/store"
	"steptrace/web"
)

const usualAddress = "127.0.0.1:4780"

// usualMemory is from how much on memory is given back rather than kept for later, in bytes: a
// workshop's computer has other things to do. Long captures take more while they are measured.
const usualMemory = 200 << 20

func main() {
	var o options
	flag.StringVar(&o.listen, "listen", "", "address and port to answer on (usually "+usualAddress+", or a free port where that is taken)")
	flag.StringVar(&o.data, "data", "", "the file that keeps everything (usually steptrace.db in your data folder)")
	flag.BoolVar(&o.demo, "demo", false, "where there is no such file yet, make one with the demo workshop in it")
	flag.BoolVar(&o.practice, "practice", false, "with simulated instruments on this machine; -demo has them too")
	flag.Parse()
	if flag.NArg() > 0 {
		fmt.Fprintf(os.Stderr, "steptrace: %q is not understood. See steptrace -help.\n", flag.Arg(0))
		os.Exit(2)
	}
	if os.Getenv("GOMEMLIMIT") == "" {
		debug.SetMemoryLimit(usualMemory)
	}
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	if err := run(ctx, o); err != nil {
		fmt.Fprintln(os.Stderr, "steptrace:", err)
		os.Exit(1)
	}
}

type options struct {
	listen, data   string
	demo, practice bool
}

// Long: what has to be closed again stands beside what opened it, in that order.
func run(ctx context.Context, o options) (err error) {
	path, err := dataFile(o)
	if err != nil {
		return err
	}
	if o.demo {
		if err := makeDemo(ctx, path); err != nil {
			return err
		}
	}
	db, err := store.Open(ctx, path)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, db.Close()) }()

	pages, err := web.Pages()
	if err != nil {
		return err
	}
	listener, err := listen(o.listen)
	if err != nil {
		return fmt.Errorf("cannot answer on %s: %w. Choose another with -listen", o.listen, err)
	}
	address := listener.Addr().(*net.TCPAddr)
	s := server.New(db, pages, address.IP.IsLoopback())

	defer s.Close()
	if err := s.Instruments(ctx); err != nil {
		return err
	}
	if o.demo || o.practice {
		d, list, failed := desk.Start()
		if failed != nil {
			return fmt.Errorf("the simulated instruments do not start: %w", failed)
		}
		defer func() { err = errors.Join(err, d.Close()) }()
		faults := demo.Faults
		if !o.demo {
			faults = nil
		}
		s.Practise(d, list, faults)
	}
	if err := s.Soak(ctx); err != nil {
		return err
	}

	go func() { // the shelf after an upgrade; what is looked at meanwhile is brought up to date then
		if err := beside.Try(func() {
			if err := s.Freshen(ctx); err != nil && ctx.Err() == nil {
				slog.Error("the shelf is not up to date", "error", err)
			}
		}); err != nil {
			slog.Error("the shelf is not up to date", "error", err)
		}
	}()

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
		return err
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
		return err
	}
	if err := <-done; !errors.Is(err, http.ErrServerClosed) {
		return err
	}
	return nil
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
	return os.Rename(filling, path)
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

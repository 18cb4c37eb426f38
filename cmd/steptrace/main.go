// Command steptrace serves Step Trace to a browser on this machine.
//
//	steptrace                      the workshop's own data
//	steptrace -demo                the demo workshop, filled in when empty
//	steptrace -listen :4780        also for devices in the same network that were let in
//	steptrace words                makes other words to let devices in; all have to ask anew
//	steptrace backup FILE          a whole copy of the data, also while it runs
//	steptrace restore FILE         puts a copy back; what it replaces is kept beside it
package main

import (
	"cmp"
	"context"
	"crypto/tls"
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
	"runtime"
	"runtime/debug"
	"strings"
	"syscall"
	"time"

	"steptrace/core/beside"
	"steptrace/demo"
	"steptrace/internal/desk"
	"steptrace/internal/door"
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

// version is set when the program is built.
var version = "unknown"

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
	flag.StringVar(&o.names, "name", "", "names by which others in the network reach this machine, with commas between")
	flag.StringVar(&o.cert, "cert", "", "a certificate of your own, in PEM, for others in the network (usually one is made)")
	flag.StringVar(&o.key, "key", "", "the key of that certificate, in PEM")
	flag.BoolVar(&o.plainly, "plain", false, "nothing is encrypted in the network: whoever is in it can read along")
	flag.StringVar(&o.copies, "copies", "", "the folder for the daily copies of the data (usually copies, beside the data)")
	flag.BoolVar(&o.version, "version", false, "say which program this is, and which version of the tables it makes")
	flag.Parse()
	if o.version {
		fmt.Printf("Step Trace %s, tables of version %d, %s\n", version, store.Version(), runtime.Version())
		return
	}
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
	listen, data, copies    string
	names, cert, key        string
	demo, practice, plainly bool
	version                 bool
}

// commandOf is what the words behind the flags ask for: nothing, other words, or backup or restore with a file.
func commandOf(words []string) (do func(ctx context.Context, o options) error, ok bool) {
	const withFile = 2
	switch {
	case len(words) == 0:
		return serve, true
	case len(words) == 1 && words[0] == "words":
		return otherWords, true
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

// otherWords makes other words to let devices in, where no program is running on the data.
func otherWords(ctx context.Context, o options) (err error) {
	path, err := dataFile(o)
	if err != nil {
		return err
	}
	db, err := store.Open(ctx, path)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, db.Close()) }()
	words, err := server.New(db, nil, nil).NewWords(ctx)
	if err == nil {
		fmt.Printf(
			"The words that let devices in: %s\nThey are kept so that nobody can read them again. "+
				"Whoever was let in before has to ask anew.\n",
			words,
		)
	}
	return err
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
	listener, beyond, err := doorOf(o, listener, path)
	if err != nil {
		return "", errors.Join(err, listener.Close())
	}
	s := server.New(db, pages, beyond)

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
	practice, closed, err := train(ctx, s, path, copies)
	if err != nil {
		return "", err
	}
	defer func() { err = errors.Join(err, closed()) }()
	words := ""
	if beyond != nil {
		if words, err = s.Words(ctx); err != nil {
			return "", err
		}
	}

	ctx, cancelled := context.WithCancel(ctx)
	var aside beside.Work // what goes on beside the answers, and ends with them
	defer aside.Wait()
	defer cancelled()
	aside.Go(func() { quietly("copies are not made any more", func() error { s.Copy(ctx); return nil }) })
	aside.Go(func() {
		quietly("copies of the practice are not made any more", func() error { practice.Copy(ctx); return nil })
	})
	if o.demo {
		aside.Go(func() { quietly("the demo has not practised", func() error { return practice.Rehearse(ctx) }) })
	}
	// The shelf after an upgrade; what is looked at meanwhile is brought up to date then.
	aside.Go(func() { quietly("the shelf is not up to date", func() error { return s.Freshen(ctx) }) })

	httpServer := s.HTTPServer()
	done := make(chan error, 1)
	go func() { done <- httpServer.Serve(listener) }()
	greet(beyond, words, address, path)

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

// train opens what is practised, in a file of its own beside the data, on a desk of simulated instruments of its own.
func train(ctx context.Context, s *server.Server, data string, copies *store.Copies) (*server.Server, func() error, error) {
	of := &store.Copies{Folder: filepath.Join(copies.Folder, "practice"), Keep: copies.Keep}
	db, err := store.Open(ctx, strings.TrimSuffix(data, filepath.Ext(data))+"-practice"+filepath.Ext(data), of)
	if err != nil {
		return nil, nil, err
	}
	d, list, err := desk.Start()
	if err != nil {
		return nil, nil, errors.Join(fmt.Errorf("the simulated instruments do not start: %w", err), db.Close())
	}
	out := s.Train(db, d, list)
	out.KeepCopies(of)
	return out, func() error {
		out.Close()
		return errors.Join(d.Close(), db.Close())
	}, out.Soak(ctx)
}

// doorOf makes what is needed to be reached from the network, where the address says so: names, and a certificate.
func doorOf(o *options, l net.Listener, data string) (net.Listener, *door.Door, error) {
	at := l.Addr().(*net.TCPAddr)
	if at.IP.IsLoopback() {
		return l, nil, nil
	}
	d := &door.Door{Port: fmt.Sprint(at.Port), Encrypted: !o.plainly}
	for name := range strings.SplitSeq(o.names, ",") {
		if name = strings.ToLower(strings.TrimSpace(name)); name != "" {
			d.Names = append(d.Names, name)
		}
	}
	if o.plainly {
		return l, d, nil
	}
	var c tls.Certificate
	var err error
	if o.cert != "" || o.key != "" {
		c, err = tls.LoadX509KeyPair(o.cert, cmp.Or(o.key, o.cert))
	} else {
		c, err = d.Certificate(data + ".pem")
	}
	if err != nil {
		return l, nil, fmt.Errorf("no certificate: %w", err)
	}
	d.Fingerprint = door.Fingerprint(&c)
	return door.Both(l, &tls.Config{Certificates: []tls.Certificate{c}, MinVersion: tls.VersionTLS12}), d, nil
}

// greet says where it is, who can come, and how.
func greet(d *door.Door, words string, at *net.TCPAddr, data string) {
	host := at.IP.String()
	if at.IP.IsUnspecified() {
		host = "localhost"
	}
	if d == nil || at.IP.IsUnspecified() {
		fmt.Printf("Step Trace is at http://%s  (data in %s, stop with Ctrl+C)\n", net.JoinHostPort(host, fmt.Sprint(at.Port)), data)
	}
	if d == nil {
		return
	}
	for _, way := range d.Ways("") {
		fmt.Printf("In the network: %s\n", way)
	}
	fmt.Println(d.Says())
	if d.Fingerprint != "" {
		fmt.Printf("Fingerprint of the certificate (SHA-256): %s\n", d.Fingerprint)
	}
	if words != "" {
		fmt.Printf("Devices are let in by these words; they are kept so that nobody can read them again: %s\n", words)
	}
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
	err = demo.Fill(ctx, server.New(db, nil, nil))
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

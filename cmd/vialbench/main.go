// Command vialbench serves the application, migrates its database, loads the
// sample records, and computes on the command line.
package main

import (
	"bufio"
	"cmp"
	"context"
	"crypto/rand"
	"errors"
	"flag"
	"fmt"
	"io"
	"log/slog"
	"net"
	"net/http"
	"net/netip"
	"os"
	"os/signal"
	"strings"
	"syscall"
	"time"

	"vialbench/demo"
	"vialbench/frontend"
	"vialbench/internal/httpapi"
	"vialbench/internal/instrument"
	"vialbench/internal/lab"
	"vialbench/internal/standin"
	"vialbench/internal/store"
)

const usage = `Usage: vialbench COMMAND

  serve      migrate the database, then serve the application
  demo       migrate, load the sample records, then serve, with simulated instruments
  migrate    bring the database up to date and stop
  export > records.json
             all records, in the format that restore and the lab setup take in
  restore < records.json
             records into an empty database, with their numbers, people and history
  password LOGIN < file
             a new password for an account, from the first line
  standin [balance|meter|photometer] [host:port]
             a simulated instrument that speaks the line protocol of a real one
  compute OPERATION < in.json
             a computation with the same body as the API takes; without an operation it
             lists them

Environment:
  VIALBENCH_DATABASE_URL    the PostgreSQL database, postgres://…
  VIALBENCH_MIGRATE_URL     the same database as its owner, when the user above may not
                            change its tables
  VIALBENCH_ADDR            where to listen (127.0.0.1:8484)
  VIALBENCH_SECURE_COOKIES  1 when browsers come over HTTPS
  VIALBENCH_PROXIES         networks of the proxies in front, like 10.0.0.2/32, whose word
                            on where a request comes from is taken
  VIALBENCH_INSTRUMENT_NETWORKS
                            networks in which instruments stand, like 192.168.1.0/24;
                            those on this machine are always reached
  VIALBENCH_WATCH_ADDR      an address of this machine, like 127.0.0.1:8488, for Prometheus
                            (/metrics) and pprof (/debug/pprof/); none when it is empty
  VIALBENCH_LOG             json for a log that programs read
  VIALBENCH_DEBUG           1 logs every request
`

// Where the application and a simulated instrument listen unless told otherwise.
const (
	defaultAddress        = "127.0.0.1:8484"
	defaultStandinAddress = "127.0.0.1:8486"
)

func main() {
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	err := run(ctx, os.Args[1:], os.Stdin, os.Stdout)
	stop()
	if err != nil {
		fmt.Fprintln(os.Stderr, "vialbench:", err)
		os.Exit(1)
	}
}

func run(ctx context.Context, args []string, in io.Reader, out io.Writer) error {
	flags := flag.NewFlagSet("vialbench", flag.ContinueOnError)
	flags.Usage = func() { _, _ = io.WriteString(flags.Output(), usage) }
	if err := flags.Parse(args); err != nil {
		return err
	}
	level := slog.LevelInfo
	if os.Getenv("VIALBENCH_DEBUG") != "" {
		level = slog.LevelDebug
	}
	options := &slog.HandlerOptions{Level: level}
	var log slog.Handler = slog.NewTextHandler(os.Stderr, options)
	if os.Getenv("VIALBENCH_LOG") == "json" {
		log = slog.NewJSONHandler(os.Stderr, options)
	}
	slog.SetDefault(slog.New(httpapi.LogHandler(log)))
	switch flags.Arg(0) {
	case "serve", "demo", "migrate", "export", "restore", "password":
		return withLab(ctx, flags.Args(), in, out)
	case "standin":
		return serveStandin(ctx, flags.Args()[1:], out)
	case "compute":
		body, err := io.ReadAll(io.LimitReader(in, 1<<20))
		if err != nil {
			return err
		}
		answer, err := httpapi.Compute(ctx, flags.Arg(1), body)
		if err != nil {
			return err
		}
		_, err = fmt.Fprintln(out, string(answer))
		return err
	}
	flags.Usage()
	return errors.New("name a command")
}

// serveStandin answers for one of the simulated instruments.
func serveStandin(ctx context.Context, args []string, out io.Writer) error {
	makers := map[string]func() standin.Instrument{
		"balance":    func() standin.Instrument { return standin.NewBalance(220, 0.0001, 1) },
		"meter":      func() standin.Instrument { return standin.NewMeter(0.985, 3, 2, 1) },
		"photometer": func() standin.Instrument { return standin.NewPhotometer(5, 2e-4, 1) },
	}
	which := "balance"
	if len(args) > 0 && makers[args[0]] != nil {
		which, args = args[0], args[1:]
	}
	listener, err := (&net.ListenConfig{}).Listen(ctx, "tcp", cmp.Or(append(args, "")[0], defaultStandinAddress))
	if err != nil {
		return err
	}
	_, _ = fmt.Fprintf(out, "A simulated %s is at %s\n", which, listener.Addr())
	standin.Serve(ctx, listener, makers[which]())
	return nil
}

func withLab(ctx context.Context, args []string, in io.Reader, out io.Writer) error {
	command := args[0]
	reach, err := instrument.ParseReach(os.Getenv("VIALBENCH_INSTRUMENT_NETWORKS"))
	if err != nil {
		return fmt.Errorf("VIALBENCH_INSTRUMENT_NETWORKS: %w", err)
	}
	url := os.Getenv("VIALBENCH_DATABASE_URL")
	if url == "" {
		return errors.New("VIALBENCH_DATABASE_URL is not set: name the database, like postgres://user@127.0.0.1:5432/vialbench")
	}
	db, err := openUpToDate(ctx, url)
	if err != nil {
		return err
	}
	defer db.Close() //nolint:errcheck // the process ends
	l := lab.New(db, lab.Options{Reach: reach})
	if err := l.Rebuild(ctx); err != nil {
		return fmt.Errorf("the records cannot be computed again: %w", err)
	}
	switch command {
	case "migrate":
		return nil
	case "export":
		return l.Export(ctx, out)
	case "restore":
		report, err := l.Restore(ctx, in)
		if err != nil {
			return err
		}
		_, err = fmt.Fprintf(out, "%d runs with %d facts are restored. Nobody has a password yet: vialbench password LOGIN sets one.\n",
			report.Runs, report.Facts)
		return err
	case "password":
		if len(args) != 2 {
			return errors.New("name the account: vialbench password LOGIN, with the password on the first line of the input")
		}
		line, err := bufio.NewReader(io.LimitReader(in, 1000)).ReadString('\n')
		if err != nil && !errors.Is(err, io.EOF) {
			return err
		}
		return l.SetPassword(ctx, args[1], strings.TrimRight(line, "\r\n"))
	}
	signIn := ""
	if command == "demo" {
		if signIn, err = demo.Load(ctx, l); err != nil {
			return fmt.Errorf("the sample records cannot be loaded: %w", err)
		}
		if err := demo.Class(ctx, l); err != nil {
			return fmt.Errorf("the sample class cannot be loaded: %w", err)
		}
		for _, s := range demo.Standins() {
			listener, err := (&net.ListenConfig{}).Listen(ctx, "tcp", "127.0.0.1:0")
			if err != nil {
				return fmt.Errorf("the simulated instruments cannot listen: %w", err)
			}
			go standin.Serve(ctx, listener, s.Instrument)
			if err := demo.ConnectStandin(ctx, l, s.Name, listener.Addr().String()); err != nil {
				return err
			}
		}
	}
	watch, err := watched(ctx, db)
	if err != nil {
		return err
	}
	return serve(ctx, l, watch, signIn, out)
}

// watched measures the process and serves what it finds on VIALBENCH_WATCH_ADDR, an address of this machine,
// until the context ends; nil where nobody asked for it.
func watched(ctx context.Context, db *store.Store) (*httpapi.Watch, error) {
	address := os.Getenv("VIALBENCH_WATCH_ADDR")
	if address == "" {
		return nil, nil
	}
	host, _, err := net.SplitHostPort(address)
	if ip, notIP := netip.ParseAddr(host); err != nil || host != "localhost" && (notIP != nil || !ip.IsLoopback()) {
		return nil, fmt.Errorf("VIALBENCH_WATCH_ADDR: %s is no address of this machine alone, like 127.0.0.1:8488: nobody signs in there", address)
	}
	pool, err := db.Pool()
	if err != nil {
		return nil, err
	}
	listener, err := (&net.ListenConfig{}).Listen(ctx, "tcp", address)
	if err != nil {
		return nil, fmt.Errorf("VIALBENCH_WATCH_ADDR: %w", err)
	}
	watch := httpapi.NewWatch(pool)
	server := &http.Server{Handler: watch.Handler(), ReadHeaderTimeout: 10 * time.Second}
	go func() { _ = server.Serve(listener) }()
	context.AfterFunc(ctx, func() { _ = server.Close() })
	slog.Info("measured", "at", "http://"+listener.Addr().String()+"/metrics")
	return watch, nil
}

// openUpToDate migrates a database as its owner, then opens it in the role that can
// neither change nor remove facts.
func openUpToDate(ctx context.Context, url string) (*store.Store, error) {
	owner, err := store.Open(cmp.Or(os.Getenv("VIALBENCH_MIGRATE_URL"), url))
	if err != nil {
		return nil, err
	}
	defer owner.Close() //nolint:errcheck // it is done with
	if err := owner.Migrate(ctx); err != nil {
		return nil, fmt.Errorf("the database cannot be brought up to date: %w", err)
	}
	db, err := store.OpenConfined(url)
	if errors.Is(err, store.ErrNoRole) {
		slog.Warn("the program works with all rights of the owner of the database; the README says how to take them away", "reason", err)
		return store.Open(url)
	}
	return db, err
}

// setupWord is what whoever makes the first instructor has to know; empty when that has been done.
// Several processes that start together share one by VIALBENCH_SETUP_WORD.
func setupWord(ctx context.Context, l *lab.Lab) (string, error) {
	needed, err := l.NeedsSetup(ctx)
	if err != nil || !needed {
		return "", err
	}
	return cmp.Or(os.Getenv("VIALBENCH_SETUP_WORD"), strings.ToLower(rand.Text()[:8])), nil
}

// serve answers requests until the context ends, then lets running ones finish.
func serve(ctx context.Context, l *lab.Lab, watch *httpapi.Watch, signIn string, out io.Writer) error {
	address := os.Getenv("VIALBENCH_ADDR")
	if address == "" {
		address = defaultAddress
	}
	listener, err := (&net.ListenConfig{}).Listen(ctx, "tcp", address)
	if err != nil {
		if errors.Is(err, syscall.EADDRINUSE) {
			return fmt.Errorf("another program listens on %s: choose another address, like VIALBENCH_ADDR=127.0.0.1:8485", address)
		}
		return fmt.Errorf("cannot listen on %s: %w", address, err)
	}
	streams, endStreams := context.WithCancel(context.WithoutCancel(ctx))
	defer endStreams()
	proxies, err := instrument.ParseReach(os.Getenv("VIALBENCH_PROXIES"))
	if err != nil {
		return fmt.Errorf("VIALBENCH_PROXIES: %w", err)
	}
	word, err := setupWord(ctx, l)
	if err != nil {
		return err
	}
	handler, err := httpapi.New(streams, l, frontend.Site(),
		httpapi.Options{SecureCookies: os.Getenv("VIALBENCH_SECURE_COOKIES") != "", Proxies: proxies, SetupWord: word, Watch: watch})
	if err != nil {
		return err
	}
	if word != "" {
		signIn += "  Nobody has an account yet. The first instructor is made with the set-up word " + word + "\n"
	}
	server := &http.Server{Handler: handler, ReadHeaderTimeout: 10 * time.Second, IdleTimeout: 2 * time.Minute}
	stopped := make(chan error, 1)
	go func() { stopped <- server.Serve(listener) }()
	_, _ = fmt.Fprintf(
		out,
		"\n  Vial Bench is at http://%s\n%s  Ctrl-C stops it.\n\n",
		strings.Replace(listener.Addr().String(), "[::]", "localhost", 1),
		signIn,
	)
	select {
	case err := <-stopped:
		return err
	case <-ctx.Done():
	}
	endStreams()
	last, cancel := context.WithTimeout(context.WithoutCancel(ctx), 10*time.Second)
	defer cancel()
	return server.Shutdown(last)
}

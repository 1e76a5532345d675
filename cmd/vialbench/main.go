// Command vialbench serves the application, migrates its database, loads the
// sample records, and computes on the command line.
package main

import (
	"cmp"
	"context"
	"errors"
	"flag"
	"fmt"
	"io"
	"log/slog"
	"net"
	"net/http"
	"os"
	"os/signal"
	"strings"
	"syscall"
	"time"

	"vialbench/demo"
	"vialbench/frontend"
	"vialbench/internal/httpapi"
	"vialbench/internal/lab"
	"vialbench/internal/standin"
	"vialbench/internal/store"
)

const usage = `Usage: vialbench COMMAND

  serve      migrate the database, then serve the application
  demo       migrate, load the sample records, then serve, with a simulated balance
  migrate    bring the database up to date and stop
  standin [host:port]
             a simulated balance that speaks the line protocol of a real one
  compute OPERATION < in.json
             a computation with the same body as the API takes; without an operation it
             lists them

Environment:
  VIALBENCH_DATABASE_URL    the PostgreSQL database, postgres://…
  VIALBENCH_ADDR            where to listen (127.0.0.1:8484)
  VIALBENCH_SECURE_COOKIES  1 when browsers come over HTTPS
`

// Where the application and the simulated balance listen unless told otherwise.
const (
	defaultAddress        = "127.0.0.1:8484"
	defaultStandinAddress = "127.0.0.1:8486"
)

// sampleBalance is the simulated counterpart of the analytical balance of the
// sample records.
func sampleBalance() *standin.Balance { return standin.NewBalance(220, 0.0001, 1) }

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
	slog.SetDefault(slog.New(slog.NewTextHandler(os.Stderr, &slog.HandlerOptions{Level: level})))
	switch flags.Arg(0) {
	case "serve", "demo", "migrate":
		return withLab(ctx, flags.Arg(0), out)
	case "standin":
		listener, err := (&net.ListenConfig{}).Listen(ctx, "tcp", cmp.Or(flags.Arg(1), defaultStandinAddress))
		if err != nil {
			return err
		}
		_, _ = fmt.Fprintf(out, "A simulated balance is at %s\n", listener.Addr())
		standin.Serve(ctx, listener, sampleBalance())
		return nil
	case "compute":
		body, err := io.ReadAll(io.LimitReader(in, 1<<20))
		if err != nil {
			return err
		}
		answer, err := httpapi.Compute(flags.Arg(1), body)
		if err != nil {
			return err
		}
		_, err = fmt.Fprintln(out, string(answer))
		return err
	}
	flags.Usage()
	return errors.New("name a command")
}

func withLab(ctx context.Context, command string, out io.Writer) error {
	url := os.Getenv("VIALBENCH_DATABASE_URL")
	if url == "" {
		return errors.New("VIALBENCH_DATABASE_URL is not set: name the database, like postgres://user@127.0.0.1:5432/vialbench")
	}
	db, err := store.Open(url)
	if err != nil {
		return err
	}
	defer db.Close() //nolint:errcheck // the process ends
	if err := db.Migrate(ctx); err != nil {
		return fmt.Errorf("the database cannot be brought up to date: %w", err)
	}
	l := lab.New(db)
	if err := l.Rebuild(ctx); err != nil {
		return fmt.Errorf("the records cannot be computed anew: %w", err)
	}
	if command == "migrate" {
		return nil
	}
	signIn := ""
	if command == "demo" {
		if signIn, err = demo.Load(ctx, l); err != nil {
			return fmt.Errorf("the sample records cannot be loaded: %w", err)
		}
		listener, err := (&net.ListenConfig{}).Listen(ctx, "tcp", "127.0.0.1:0")
		if err != nil {
			return fmt.Errorf("the simulated balance cannot listen: %w", err)
		}
		go standin.Serve(ctx, listener, sampleBalance())
		if err := demo.ConnectStandin(ctx, l, listener.Addr().String()); err != nil {
			return err
		}
	}
	return serve(ctx, l, signIn, out)
}

// serve answers requests until the context ends, then lets running ones finish.
func serve(ctx context.Context, l *lab.Lab, signIn string, out io.Writer) error {
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
	handler, err := httpapi.New(streams, l, frontend.Site(), os.Getenv("VIALBENCH_SECURE_COOKIES") != "")
	if err != nil {
		return err
	}
	server := &http.Server{Handler: handler, ReadHeaderTimeout: 10 * time.Second, ReadTimeout: 60 * time.Second, IdleTimeout: 2 * time.Minute}
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

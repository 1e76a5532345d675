// Load measures how long people wait when a class is at work: a server with the sample records in a
// database of its own, people with a page open each, who reload what the pages reload. Everything
// stays on loopback, bounded in people and time. It prints a table in Markdown.
package main

import (
	"cmp"
	"context"
	"errors"
	"flag"
	"fmt"
	"log"
	"net"
	"net/http"
	"os"
	"os/exec"
	"slices"
	"strings"
	"sync"
	"syscall"
	"time"

	"github.com/jackc/pgx/v5"
)

var (
	program = flag.String("program", "bin/vialbench", "the program that is measured")
	people  = flag.Int("people", 50, "people with a page open, at most 500")
	onToday = flag.Float64("today", 0.15, "part of them who look at Today; the others have a run open")
	seconds = flag.Int("seconds", 20, "how long, at most 1800")
	soak    = flag.Bool("soak", false, "says every minute how much memory the server has")
	strip   = flag.String("strip", "bench,setup,calibration,readings", "topics that the bench strip listens to")
	apart   = flag.Duration("apart", time.Second, "Today is looked up at most once in this time")
)

// How often people do something (common practice: a reading each 10 s, a key each 2 s of typing).
const (
	betweenFacts    = 10 * time.Second
	betweenComputes = 2 * time.Second
	warmUp          = 5 * time.Second
)

func main() {
	flag.Parse()
	if *people < 1 || *people > 500 || *seconds < 1 || *seconds > 1800 {
		log.Fatal("1 to 500 people, 1 to 1800 seconds")
	}
	if err := measure(); err != nil {
		log.Fatal(err)
	}
}

func measure() error {
	address, drop, err := database(os.Getenv("VIALBENCH_TEST_DATABASE_URL"))
	if err != nil {
		return err
	}
	defer drop()
	base, server, err := start(address)
	if err != nil {
		return err
	}
	defer stop(server)
	found := &waits{list: map[string][]time.Duration{}}
	session, err := signIn(base)
	if err != nil {
		return err
	}
	plan, err := planOf(session)
	if err != nil {
		return err
	}
	question, err := questionOf(session)
	if err != nil {
		return err
	}
	all := make([]*person, *people)
	for i := range all {
		p := &person{
			client: session.client, base: base, waits: found, question: question, plan: plan,
			today: float64(i) < *onToday*float64(*people),
		}
		if err := p.begin(context.Background()); err != nil {
			return err
		}
		all[i] = p
	}
	ctx, cancel := context.WithTimeout(context.Background(), warmUp+time.Duration(*seconds)*time.Second)
	defer cancel()
	var wg sync.WaitGroup
	found.from = time.Now().Add(warmUp)
	for _, p := range all {
		wg.Go(func() { p.listen(ctx) })
		wg.Go(func() { p.work(ctx) })
	}
	if *soak {
		wg.Go(func() { eachMinute(ctx, server.Process.Pid) })
	}
	wg.Wait()
	found.print(server.Process.Pid)
	return nil
}

// waits are how long people waited, by what for.
type waits struct {
	mu     sync.Mutex
	list   map[string][]time.Duration
	failed int
	// from is when the connections are up and counting begins.
	from time.Time
}

func (w *waits) add(what string, d time.Duration, err error) {
	w.mu.Lock()
	defer w.mu.Unlock()
	switch {
	case time.Now().Before(w.from):
	case err == nil:
		w.list[what] = append(w.list[what], d)
	case !errors.Is(err, context.DeadlineExceeded):
		w.failed++
	}
}

func (w *waits) print(pid int) {
	fmt.Printf("%d people, %g %% of them on Today, %d s; %s MB of memory; %d requests failed\n\n",
		*people, 100**onToday, *seconds, memory(pid), w.failed)
	fmt.Println("| what | how often | p50, ms | p99, ms | longest |\n|---|---|---|---|---|")
	for _, what := range []string{"fact", "compute", "today", "bench", "run"} {
		list := w.list[what]
		if len(list) == 0 {
			continue
		}
		slices.Sort(list)
		at := func(part float64) float64 { return float64(list[int(part*float64(len(list)-1))].Microseconds()) / 1000 }
		fmt.Printf("| %s | %d | %.1f | %.1f | %.0f |\n", what, len(list), at(0.5), at(0.99), at(1))
	}
}

// eachMinute tells how much memory a process has, so that growth is seen.
func eachMinute(ctx context.Context, pid int) {
	minute := time.NewTicker(time.Minute)
	defer minute.Stop()
	for n := 1; ; n++ {
		select {
		case <-ctx.Done():
			return
		case <-minute.C:
			fmt.Printf("minute %d: %s MB\n", n, memory(pid))
		}
	}
}

// memory is what a process has in memory, in MB.
func memory(pid int) string {
	text, err := os.ReadFile(fmt.Sprintf("/proc/%d/status", pid))
	if err != nil {
		return "unknown"
	}
	for line := range strings.Lines(string(text)) {
		if rest, ok := strings.CutPrefix(line, "VmRSS:"); ok {
			var kB int
			if _, err := fmt.Sscan(rest, &kB); err == nil {
				return fmt.Sprint(kB / 1024)
			}
		}
	}
	return "unknown"
}

// database makes one for this measurement.
func database(admin string) (address string, drop func(), err error) {
	ctx := context.Background()
	c, err := pgx.Connect(ctx, admin)
	if err != nil {
		return "", nil, fmt.Errorf("the database named in VIALBENCH_TEST_DATABASE_URL: %w", err)
	}
	name := fmt.Sprintf("vialbench_load_%d", time.Now().UnixNano())
	if _, err := c.Exec(ctx, "CREATE DATABASE "+name); err != nil {
		return "", nil, err
	}
	drop = func() {
		_, err := c.Exec(ctx, "DROP DATABASE "+name+" WITH (FORCE)")
		if err := errors.Join(err, c.Close(ctx)); err != nil {
			log.Print(err)
		}
	}
	config := c.Config()
	return fmt.Sprintf("postgres://%s:%s@%s:%d/%s?sslmode=disable", config.User, config.Password, config.Host, config.Port, name), drop, nil
}

// start starts the program and waits until it serves.
func start(address string) (base string, server *exec.Cmd, err error) {
	listener, err := (&net.ListenConfig{}).Listen(context.Background(), "tcp", "127.0.0.1:0")
	if err != nil {
		return "", nil, err
	}
	at := listener.Addr().String()
	if err := listener.Close(); err != nil {
		return "", nil, err
	}
	server = exec.Command(*program, "demo") //nolint:gosec,noctx // the program that is to be measured; stopped at the end
	server.Env = append(os.Environ(), "VIALBENCH_DATABASE_URL="+address, "VIALBENCH_ADDR="+at)
	server.Stderr = os.Stderr
	if err := server.Start(); err != nil {
		return "", nil, err
	}
	base = "http://" + at
	for range 600 {
		r, err := http.Get(base + "/readyz") //nolint:noctx // it answers at once or not at all
		if err == nil {
			err = r.Body.Close()
		}
		if err == nil && r.StatusCode == http.StatusOK {
			return base, server, nil
		}
		time.Sleep(100 * time.Millisecond)
	}
	stop(server)
	return "", nil, cmp.Or(err, errors.New("the server does not begin to serve"))
}

func stop(server *exec.Cmd) {
	if err := errors.Join(server.Process.Signal(syscall.SIGTERM), server.Wait()); err != nil {
		log.Print(err)
	}
}

package faults_test

import (
	"bufio"
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"flag"
	"fmt"
	"io"
	"math/rand/v2"
	"net"
	"net/http"
	"net/http/cookiejar"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/google/uuid"

	"vialbench/internal/faults"
	"vialbench/internal/store/storetest"
)

var (
	long = flag.Duration("faults.for", 12*time.Second, "how long to break things")
	seed = flag.Uint64("faults.seed", 1, "what to break when")
)

// crash is the environment variable with a command that kills the database server and
// starts it again; without one, only the wire to it breaks.
const crash = "VIALBENCH_FAULTS_CRASH"

// program is the server as it is installed, killed and started again at will.
type program struct {
	t        testing.TB
	binary   string
	address  string
	database string
	mu       sync.Mutex
	process  *exec.Cmd
	ended    chan struct{}
}

func (p *program) start() {
	p.mu.Lock()
	defer p.mu.Unlock()
	for try := 0; ; try++ {
		// It may not take more memory than a small machine has, whatever it is sent.
		c := exec.Command("sh", "-c", "ulimit -v 8000000; exec "+p.binary+" demo")
		c.Env = append(os.Environ(), "VIALBENCH_DATABASE_URL="+p.database, "VIALBENCH_ADDR="+p.address, "GOMEMLIMIT=512MiB")
		out, err := c.StdoutPipe()
		if err != nil {
			p.t.Fatal(err)
		}
		if err := c.Start(); err != nil {
			p.t.Fatal(err)
		}
		up := make(chan bool, 1)
		p.process, p.ended = c, make(chan struct{})
		go func(ended chan struct{}) {
			lines := bufio.NewScanner(out)
			for lines.Scan() {
				if regexp.MustCompile(`http://\S+`).MatchString(lines.Text()) {
					up <- true
				}
			}
			_ = c.Wait()
			close(ended)
			up <- false
		}(p.ended)
		if <-up {
			return
		}
		if try > 200 { // the database has been away for all that time
			p.t.Fatal("the server does not start")
		}
		time.Sleep(100 * time.Millisecond)
	}
}

func (p *program) kill() {
	p.mu.Lock()
	_ = p.process.Process.Kill()
	ended := p.ended
	p.mu.Unlock()
	<-ended
}

// device is a browser that states facts: it keeps each until it is answered, sends those
// of a run in order, and the same one again when nobody can tell what became of it. It is
// what frontend/src/api/outbox.ts does.
type device struct {
	base   string
	client *http.Client
	skew   time.Duration // of its clock
	ahead  atomic.Int64  // as it has learnt from the server
	run    string

	mu      sync.Mutex
	queue   []letter // on the device: it outlives tabs
	acked   []string
	refused []string
}

type letter struct {
	id, text string
	at       time.Time
}

func (d *device) clock() time.Time { return time.Now().Add(d.skew) }

func (d *device) do(ctx context.Context, method, path string, body any) (int, []byte, error) {
	text, err := json.Marshal(body)
	if err != nil {
		return 0, nil, err
	}
	ctx, cancel := context.WithTimeout(ctx, 2*time.Second)
	defer cancel()
	r, err := http.NewRequestWithContext(ctx, method, d.base+"/api/v1"+path, bytes.NewReader(text))
	if err != nil {
		return 0, nil, err
	}
	r.Header.Set("Content-Type", "application/json")
	answer, err := d.client.Do(r)
	if err != nil {
		return 0, nil, err
	}
	defer answer.Body.Close() //nolint:errcheck // read to the end
	if told, err := http.ParseTime(answer.Header.Get("Date")); err == nil {
		ahead := d.clock().Sub(told.Add(500 * time.Millisecond))
		if ahead.Abs() < 3*time.Second {
			ahead = 0
		}
		d.ahead.Store(int64(ahead))
	}
	out, err := io.ReadAll(answer.Body)
	return answer.StatusCode, out, err
}

// must does something until it is answered as wanted.
func (d *device) must(t testing.TB, want int, method, path string, body any) []byte {
	t.Helper()
	for deadline := time.Now().Add(60 * time.Second); ; time.Sleep(200 * time.Millisecond) {
		status, out, err := d.do(t.Context(), method, path, body)
		if err == nil && status == want {
			return out
		}
		if time.Now().After(deadline) {
			t.Fatalf("%s %s: %d %s %v", method, path, status, out, err)
		}
	}
}

// state puts a fact into the queue.
func (d *device) state(text string) {
	d.mu.Lock()
	defer d.mu.Unlock()
	d.queue = append(d.queue, letter{uuid.NewString(), text, d.clock().Add(-time.Duration(d.ahead.Load()))})
}

// send sends the first letter, and reports whether it was answered. A tab that dies in
// between leaves it where it was.
func (d *device) send(ctx context.Context) bool {
	d.mu.Lock()
	if len(d.queue) == 0 {
		d.mu.Unlock()
		return false
	}
	first := d.queue[0]
	d.mu.Unlock()
	status, out, err := d.do(
		ctx,
		http.MethodPost,
		"/runs/"+d.run+"/facts?since=1000000", // what it sent itself it need not be told
		map[string]any{"id": first.id, "kind": "note", "text": first.text, "at": first.at},
	)
	refusal := slices.Contains([]int{400, 403, 404, 409, 413, 422}, status)
	if err != nil || status != http.StatusOK && !refusal {
		return false
	}
	d.mu.Lock()
	defer d.mu.Unlock()
	if len(d.queue) == 0 || d.queue[0].id != first.id { // the other tab was told first
		return true
	}
	d.queue = d.queue[1:]
	if refusal {
		d.refused = append(d.refused, fmt.Sprintf("%s: %d %.200s", first.text, status, out))
	} else {
		d.acked = append(d.acked, first.text)
	}
	return true
}

// Nothing that was acknowledged is lost, nothing is there twice or out of order, and
// nothing is refused that should not be: while the server is killed, the database is away,
// hangs, or is cut off after a commit, while clocks are wrong and two tabs send at once.
func TestNothingIsLost(t *testing.T) {
	if testing.Short() {
		t.Skip("it takes a while")
	}
	random := rand.New(rand.NewPCG(*seed, 26))
	binary := filepath.Join(t.TempDir(), "vialbench")
	if out, err := exec.Command("go", "build", "-o", binary, "vialbench/cmd/vialbench").CombinedOutput(); err != nil {
		t.Fatalf("%v %s", err, out)
	}
	database := storetest.Empty(t)
	wire, near := faults.NewWire(t, database)
	free, err := net.Listen("tcp", "127.0.0.1:0") //nolint:noctx // closed at once
	if err != nil {
		t.Fatal(err)
	}
	p := &program{t: t, binary: binary, address: free.Addr().String(), database: near}
	_ = free.Close()
	p.start()
	t.Cleanup(func() { p.kill() })

	var devices []*device
	for i, skew := range []time.Duration{0, 3 * time.Hour, -26 * time.Hour, 90 * time.Second} {
		jar, _ := cookiejar.New(nil) // never fails without options
		d := &device{base: "http://" + p.address, client: &http.Client{Jar: jar}, skew: skew, run: uuid.NewString()}
		d.must(t, 200, http.MethodPost, "/session", map[string]string{"login": []string{"ashdown", "thorne"}[i%2], "password": "pond-water-week"})
		var page struct{ Items []struct{ ID string } }
		if err := json.Unmarshal(d.must(t, 200, http.MethodGet, "/plans", nil), &page); err != nil || len(page.Items) == 0 {
			t.Fatal(err)
		}
		d.must(t, 201, http.MethodPost, "/runs", map[string]any{"id": d.run, "planId": page.Items[len(page.Items)-1].ID})
		devices = append(devices, d)
	}

	ctx, stop := context.WithTimeout(t.Context(), *long)
	defer stop()
	var wg sync.WaitGroup
	for i, d := range devices {
		wg.Go(func() {
			for n := 0; ctx.Err() == nil; n++ {
				d.state(fmt.Sprintf("device %d, note %d", i, n))
				time.Sleep(time.Duration(80+(n*37)%100) * time.Millisecond)
			}
		})
		for range 2 { // tabs, which do not know of each other here: the worst case
			wg.Go(func() {
				for ctx.Err() == nil {
					if !d.send(ctx) {
						time.Sleep(50 * time.Millisecond)
					}
				}
			})
		}
	}
	broken := map[string]int{}
	for ctx.Err() == nil {
		time.Sleep(time.Duration(100+random.IntN(500)) * time.Millisecond)
		switch pick := random.IntN(6); {
		case pick < 2:
			broken["server killed"]++
			p.kill()
			p.start()
		case pick == 2 && os.Getenv(crash) != "":
			broken["database killed"]++
			if out, err := exec.Command("sh", "-c", os.Getenv(crash)).CombinedOutput(); err != nil {
				t.Fatalf("the database does not come back: %v %s", err, out)
			}
		default:
			fault := []faults.Fault{faults.Away, faults.Hanging, faults.CutAfterCommit}[random.IntN(3)]
			broken[map[faults.Fault]string{faults.Away: "database away", faults.Hanging: "database hanging", faults.CutAfterCommit: "cut after a commit"}[fault]]++
			wire.Set(fault)
			time.Sleep(time.Duration(100+random.IntN(700)) * time.Millisecond)
			wire.Set(faults.Whole)
		}
	}
	wg.Wait()
	for _, d := range devices { // everything is whole again: what waits goes out
		for deadline := time.Now().Add(60 * time.Second); len(d.queue) > 0 && time.Now().Before(deadline); {
			if !d.send(t.Context()) {
				time.Sleep(50 * time.Millisecond)
			}
		}
	}

	var acked, lost, twice, disorder, waiting int
	var refused []string
	for i, d := range devices {
		var view struct {
			Facts []struct{ Fact struct{ Text string } }
		}
		if err := json.Unmarshal(d.must(t, 200, http.MethodGet, "/runs/"+d.run, nil), &view); err != nil {
			t.Fatal(err)
		}
		times, last := map[string]int{}, -1
		for _, line := range view.Facts {
			times[line.Fact.Text]++
			var n int
			if _, err := fmt.Sscanf(line.Fact.Text, fmt.Sprintf("device %d, note %%d", i), &n); err != nil || n < last {
				disorder++
			}
			last = n
		}
		for _, text := range d.acked {
			switch times[text] {
			case 0:
				lost++
			case 1:
			default:
				twice++
			}
		}
		acked, waiting, refused = acked+len(d.acked), waiting+len(d.queue), append(refused, d.refused...)
		if len(view.Facts) != len(d.acked) {
			t.Errorf("device %d: %d on record, %d acknowledged", i, len(view.Facts), len(d.acked))
		}
	}
	var what []string
	for name, n := range broken {
		what = append(what, fmt.Sprintf("%s %d times", name, n))
	}
	slices.Sort(what)
	fmt.Printf("%d acknowledged, %d lost, %d duplicated, %d out of order, %d wrongly refused, %d never answered; %s\n",
		acked, lost, twice, disorder, len(refused), waiting, strings.Join(what, ", "))
	if lost+twice+disorder+len(refused)+waiting > 0 {
		t.Error(errors.New(strings.Join(append(refused, "facts were lost, doubled, disordered, refused or left"), "\n")))
	}
	if acked < 50 {
		t.Errorf("only %d were acknowledged: this tests little", acked)
	}
}

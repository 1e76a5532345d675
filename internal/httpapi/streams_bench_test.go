package httpapi_test

import (
	"bufio"
	"context"
	"encoding/json"
	"fmt"
	"net"
	"net/http"
	"runtime"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"vialbench/internal/standin"
	"vialbench/internal/store/storetest"
)

// ticking is a meter whose potential is the time, in ms: what arrives tells how late it is.
type ticking struct{ begun time.Time }

func (m ticking) Do(line string) (string, bool) {
	if line == "*IDN?" {
		return standin.MeterModel + ",1,1", true
	}
	return fmt.Sprintf("%+.3f,mV,25.0,°C,stable", float64(time.Since(m.begun).Microseconds())/1000), true
}

// Fifty browsers watch five meters at 5 Hz for five seconds, server and browsers on one
// core: how late a reading is from the meter to the browser.
func BenchmarkFiftyStreams(b *testing.B) {
	const streams, meters = 50, 5
	defer runtime.GOMAXPROCS(runtime.GOMAXPROCS(1))
	base := newServer(b, storetest.Open(b))
	ra, _ := begin(b, base)
	begun := time.Now()
	var ids []string
	for i := range meters {
		listener, err := (&net.ListenConfig{}).Listen(b.Context(), "tcp", "127.0.0.1:0")
		if err != nil {
			b.Fatal(err)
		}
		go standin.Serve(b.Context(), listener, ticking{begun})
		id := ra.must(201, "POST", "/meters", object{"name": fmt.Sprint("Meter ", i), "probe": "", "resolution": 0.1, "repeatability": 0.3, "thermometer": 0.5})["id"].(string)
		ra.must(204, "PUT", "/meters/"+id, object{"address": listener.Addr().String(), "probe": ""})
		ids = append(ids, id)
	}
	for b.Loop() {
		ctx, stop := context.WithTimeout(b.Context(), 5*time.Second)
		var mu sync.Mutex
		var late []float64
		var wg sync.WaitGroup
		for i := range streams {
			wg.Go(func() {
				request, err := http.NewRequestWithContext(ctx, http.MethodGet, base+"/api/v1/meters/"+ids[i%meters]+"/live", http.NoBody)
				if err != nil {
					b.Error(err)
					return
				}
				response, err := ra.client.Do(request)
				if err != nil {
					b.Error(err)
					return
				}
				defer response.Body.Close() //nolint:errcheck // the benchmark is over
				scanner := bufio.NewScanner(response.Body)
				for scanner.Scan() {
					text, ok := strings.CutPrefix(scanner.Text(), "data:")
					if !ok {
						continue
					}
					now := float64(time.Since(begun).Microseconds()) / 1000
					var live struct{ Readings []struct{ Value float64 } }
					if err := json.Unmarshal([]byte(text), &live); err != nil || len(live.Readings) == 0 {
						b.Errorf("%s: %v", text, err)
						return
					}
					mu.Lock()
					late = append(late, now-live.Readings[0].Value)
					mu.Unlock()
				}
			})
		}
		wg.Wait()
		stop()
		slices.Sort(late)
		b.ReportMetric(float64(len(late))/5, "readings/s")
		b.ReportMetric(late[len(late)/2], "median-ms")
		b.ReportMetric(late[len(late)*99/100], "p99-ms")
	}
}

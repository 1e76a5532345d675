package httpapi_test

import (
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"runtime"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"vialbench/internal/store/storetest"
)

// download reads an answer to its end and tells how long it is and what the server held in
// memory at most.
func download(b *testing.B, p *person, method, path string, body io.Reader) (size int64, peak uint64) {
	b.Helper()
	done := make(chan struct{})
	go func() {
		var m runtime.MemStats
		for {
			select {
			case <-done:
				return
			case <-time.After(20 * time.Millisecond):
				runtime.ReadMemStats(&m)
				peak = max(peak, m.HeapInuse)
			}
		}
	}()
	r, err := http.NewRequestWithContext(b.Context(), method, p.base+"/api/v1"+path, body)
	if err != nil {
		b.Fatal(err)
	}
	r.Header.Set("Content-Type", "application/json")
	answer, err := p.client.Do(r)
	if err != nil {
		b.Fatal(err)
	}
	defer answer.Body.Close() //nolint:errcheck // read to the end
	size, err = io.Copy(io.Discard, answer.Body)
	if err != nil || answer.StatusCode != http.StatusOK {
		b.Fatalf("%d after %d bytes, %v", answer.StatusCode, size, err)
	}
	close(done)
	return size, peak
}

// largeLab is a lab with many facts and plans, which were put in by hand.
func largeLab(b *testing.B, facts, plans int) *person {
	b.Helper()
	s, address := storetest.OpenWithURL(b)
	ra, run := begin(b, newServer(b, s))
	ra.unchecked = true
	ra.must(200, "POST", "/runs/"+run+"/facts", object{"id": uuid.NewString(), "kind": "note", "text": "the first of many"})
	c, err := pgx.Connect(b.Context(), address)
	if err != nil {
		b.Fatal(err)
	}
	defer c.Close(b.Context()) //nolint:errcheck // the benchmark goes on
	for _, sql := range []string{
		fmt.Sprintf(`INSERT INTO facts (id, run_id, kind, body, sentence, made_by, made_at, recorded_at)
			SELECT gen_random_uuid(), run_id, kind, body, sentence || ' ' || n, made_by, made_at, recorded_at FROM facts, generate_series(1, %d) n`, facts),
		fmt.Sprintf(`INSERT INTO plans (id, kind, title, request, batches, created_by, created_at)
			SELECT gen_random_uuid(), kind, title, request, batches, created_by, created_at FROM plans, generate_series(1, %d) n`, plans),
	} {
		if _, err := c.Exec(b.Context(), sql); err != nil {
			b.Fatal(err)
		}
	}
	return ra
}

func BenchmarkLargeTables(b *testing.B) {
	ra := largeLab(b, 25_000, 20_000)
	for name, path := range map[string]string{"logbook of 25000": "/logbook.csv", "plans of 20000": "/tables/plans", "export": "/export"} {
		b.Run(name, func(b *testing.B) {
			for b.Loop() {
				size, peak := download(b, ra, http.MethodGet, path, nil)
				b.ReportMetric(float64(size)/1e6, "MB")
				b.ReportMetric(float64(peak)/1e6, "MB-heap")
			}
		})
	}
}

func BenchmarkLargeLabels(b *testing.B) {
	ra, run := begin(b, newServer(b, storetest.Open(b)))
	ra.unchecked = true
	query := strings.Repeat("&bottle="+finished(b, ra, run), 60)[1:]
	for b.Loop() {
		size, peak := download(b, ra, http.MethodGet, "/labels?"+query+"&copies=65&paper=vials", nil)
		b.ReportMetric(float64(size)/1e6, "MB")
		b.ReportMetric(float64(peak)/1e6, "MB-heap")
	}
}

// An import of 8000 facts in 800 runs.
func BenchmarkLargeImport(b *testing.B) {
	ra, run := begin(b, newServer(b, storetest.Open(b)))
	ra.unchecked = true
	finished(b, ra, run)
	_, answer := ra.do("GET", "/export", nil)
	var records map[string]any
	if err := json.Unmarshal([]byte(answer["text"].(string)), &records); err != nil {
		b.Fatal(err)
	}
	for _, section := range []string{"bottles", "takings", "changes", "history", "plans"} {
		delete(records, section)
	}
	first, _ := json.Marshal(records["runs"].([]any)[0])
	delete(records, "runs")
	head, _ := json.Marshal(records)
	for b.Loop() {
		b.StopTimer()
		var file strings.Builder
		file.WriteString(strings.TrimSuffix(string(head), "}") + `,"runs":[`)
		facts := 0
		for i := range 800 {
			var r map[string]any
			_ = json.Unmarshal(first, &r)
			r["id"], r["number"] = uuid.NewString(), 0
			for _, f := range r["facts"].([]any) {
				f.(map[string]any)["id"] = uuid.NewString()
				facts++
			}
			text, _ := json.Marshal(r)
			if i > 0 {
				file.WriteString(",")
			}
			file.Write(text)
		}
		file.WriteString("]}")
		b.StartTimer()
		_, peak := download(b, ra, http.MethodPost, "/import", strings.NewReader(file.String()))
		b.ReportMetric(float64(facts), "facts")
		b.ReportMetric(float64(file.Len())/1e6, "MB")
		b.ReportMetric(float64(peak)/1e6, "MB-heap")
	}
}

// A table of 20 000 plans taken in.
func BenchmarkLargePlanTable(b *testing.B) {
	ra, _ := begin(b, newServer(b, storetest.Open(b)))
	ra.unchecked = true
	for b.Loop() {
		table := strings.Repeat("Sodium chloride,0.1 mol/L,250 mL\r\n", 20_000)
		r, err := http.NewRequestWithContext(
			b.Context(),
			http.MethodPost,
			ra.base+"/api/v1/tables/plans",
			strings.NewReader("substance,concentration,volume\r\n"+table),
		)
		if err != nil {
			b.Fatal(err)
		}
		r.Header.Set("Content-Type", "text/plain")
		answer, err := ra.client.Do(r)
		if err != nil {
			b.Fatal(err)
		}
		text, _ := io.ReadAll(answer.Body)
		_ = answer.Body.Close()
		if answer.StatusCode != http.StatusOK {
			b.Fatalf("%d %.300s", answer.StatusCode, text)
		}
	}
}

// college is a lab with the records of years: runs of twelve facts each, one of a hundred says
// something rare, and a bottle of every fourth run. They were put in by hand.
func college(b *testing.B, runs int) *person {
	b.Helper()
	s, address := storetest.OpenWithURL(b)
	ra, run := begin(b, newServer(b, s))
	ra.unchecked = true
	finished(b, ra, run)
	c, err := pgx.Connect(b.Context(), address)
	if err != nil {
		b.Fatal(err)
	}
	defer c.Close(b.Context()) //nolint:errcheck // the benchmark goes on
	for _, sql := range []string{
		"ALTER TABLE runs ADD COLUMN copy_of integer",
		fmt.Sprintf(`INSERT INTO plans (id, kind, title, request, batches, created_by, created_at)
			SELECT gen_random_uuid(), kind, 'Batch ' || n || ' of ' || title, request, batches, created_by, created_at FROM plans, generate_series(1, %d) n`, runs/10),
		fmt.Sprintf(`INSERT INTO runs (id, plan_id, batch, status, step, reason, begun_by, begun_at, changed_at, copy_of)
			SELECT gen_random_uuid(), p.id, r.batch, r.status, r.step, r.reason, r.begun_by, r.begun_at, r.changed_at, n
			FROM runs r, generate_series(1, %d) n JOIN plans p ON p.title LIKE 'Batch ' || (n %% %d + 1) || ' of %%'`, runs, runs/10),
		`INSERT INTO facts (id, run_id, kind, body, sentence, made_by, made_at, recorded_at)
			SELECT gen_random_uuid(), r.id, f.kind, f.body, f.sentence || CASE WHEN copy_of % 100 = 1 THEN ', of the turquoise batch' ELSE '' END,
				f.made_by, f.made_at, f.recorded_at
			FROM runs r, generate_series(1, 12) n, LATERAL (SELECT * FROM facts WHERE facts.run_id <> r.id ORDER BY seq LIMIT 1) f WHERE copy_of > 0`,
		`INSERT INTO bottles (id, run_id, part, plan_id, title, product, computed, volume, taken, made_by, made_at, expires_on, state, reason)
			SELECT gen_random_uuid(), r.id, b.part, b.plan_id, b.title || ' ' || copy_of, b.product, true, b.volume, 0, b.made_by, b.made_at, b.expires_on, b.state, b.reason
			FROM runs r, LATERAL (SELECT * FROM bottles WHERE bottles.run_id <> r.id ORDER BY number LIMIT 1) b WHERE copy_of % 4 = 1`,
		"VACUUM ANALYZE", // as the database does by itself
	} {
		if _, err := c.Exec(b.Context(), sql); err != nil {
			b.Fatal(err)
		}
	}
	return ra
}

// A hundred thousand facts in 8400 runs, and 2100 bottles: what people look up there.
func BenchmarkCollege(b *testing.B) {
	ra := college(b, 8400)
	for _, x := range [][2]string{
		{"logbook, a rare word", "/logbook?q=turquoise"},
		{"logbook, a common word", "/logbook?q=tared"},
		{"logbook, an absent word", "/logbook?q=zirconium"},
		{"shelf, by a word", "/bottles?q=8397"},
		{"bottles", "/bottles"},
		{"today", "/today"},
		{"runs", "/runs"},
		{"bench", "/bench"},
		{"logbook as CSV", "/logbook.csv"},
		{"export", "/export"},
	} {
		b.Run(x[0], func(b *testing.B) {
			for b.Loop() {
				size, _ := download(b, ra, http.MethodGet, x[1], nil)
				b.ReportMetric(float64(size)/1e3, "kB")
			}
		})
	}
}

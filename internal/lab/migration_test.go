package lab_test

import (
	"compress/gzip"
	"context"
	"encoding/json"
	"io"
	"math"
	"os"
	"strings"
	"testing"

	"github.com/jackc/pgx/v5"

	"vialbench/core/quantity"
	"vialbench/internal/lab"
	"vialbench/internal/store"
	"vialbench/internal/store/storetest"
)

func unzipped(t *testing.T, name string) []byte {
	t.Helper()
	file, err := os.Open(name)
	if err != nil {
		t.Fatal(err)
	}
	defer file.Close() //nolint:errcheck // only read
	zip, err := gzip.NewReader(file)
	if err != nil {
		t.Fatal(err)
	}
	text, err := io.ReadAll(zip)
	if err != nil {
		t.Fatal(err)
	}
	return text
}

// was is what the version before said of its records, through its API: sample records
// with batches poured together, a ladder from that, a series from a tube of the ladder, a
// weighed dilution of an acid, corrections, a mixed standard that was discarded.
type was struct {
	Bottles []struct {
		Number                     int64
		Title, State, Reason, Unit string
		Expires, Doubt, By         string
		Volume, Left               float64
		Exact, Labelled            bool
		Value, Expanded            float64
	}
	Runs []struct {
		Number              int64
		Title, Status, Step string
		Facts               []struct{ Sentence, By string }
		Figures             []struct {
			ID, Unit        string
			Value, Expanded float64
		}
	}
}

// migrated is a lab on the database of the version before, and the address of that.
func migrated(t *testing.T) (l *lab.Lab, address string) {
	t.Helper()
	address = storetest.Empty(t)
	ctx := context.Background()
	c, err := pgx.Connect(ctx, address)
	if err != nil {
		t.Fatal(err)
	}
	dump := string(unzipped(t, "testdata/version3.sql.gz"))
	if _, err := c.Exec(ctx, dump); err != nil {
		t.Fatal(err)
	}
	if err := c.Close(ctx); err != nil {
		t.Fatal(err)
	}
	s, err := store.Open(address)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { _ = s.Close() })
	if err := s.Migrate(ctx); err != nil {
		t.Fatal(err)
	}
	l = lab.New(s, lab.Options{})
	for range 2 { // the second time there is nothing to do
		if err := l.Rebuild(ctx); err != nil {
			t.Fatal(err)
		}
	}
	return l, address
}

// A figure that an earlier version got wrong is computed again, once, and its bottle says so; the
// others say nothing.
func TestFiguresThatWereWrongAreComputedAgain(t *testing.T) {
	ctx := context.Background()
	l, address := migrated(t)
	c, err := pgx.Connect(ctx, address)
	if err != nil {
		t.Fatal(err)
	}
	defer c.Close(ctx) //nolint:errcheck // the test is over
	for _, sql := range []string{
		`UPDATE bottles SET product = jsonb_set(jsonb_set(product, '{figures,0,value}', '9.9'), '{figures,0,text}', '"9.9"')
			WHERE number = (SELECT min(number) FROM bottles WHERE state = 'shelf' AND run_id IS NOT NULL)`,
		"UPDATE computed_by SET version = 1",
	} {
		if _, err := c.Exec(ctx, sql); err != nil {
			t.Fatal(err)
		}
	}
	for range 2 {
		if err := l.Rebuild(ctx); err != nil {
			t.Fatal(err)
		}
	}
	page, err := l.Bottles(ctx, lab.Shelf{}, 0)
	if err != nil {
		t.Fatal(err)
	}
	said := 0
	for _, b := range page.Items {
		if b.Product.Figures[0].Text == "9.9" {
			t.Errorf("bottle %d is as wrong as before", b.Number)
		}
		full, err := l.Bottle(ctx, b.ID)
		if err != nil {
			t.Fatal(err)
		}
		for _, change := range full.Changes {
			said++
			if !strings.HasPrefix(change.Moved, "9.9") || change.Cause != "computed again by a newer version of the program" {
				t.Errorf("bottle %d: %+v", b.Number, change)
			}
		}
	}
	if said != 1 {
		t.Errorf("%d bottles say that they moved, want the one that was wrong", said)
	}
}

// The database of the version before migrates with all its records and the same figures.
// Its dump was made by pg_dump of a PostgreSQL that it had filled, before the change.
func TestTheVersionBeforeMigrates(t *testing.T) {
	ctx := context.Background()
	l, _ := migrated(t)
	var want was
	if err := json.Unmarshal(unzipped(t, "testdata/version3.json.gz"), &want); err != nil {
		t.Fatal(err)
	}
	page, err := l.Bottles(ctx, lab.Shelf{}, 0)
	if err != nil || len(page.Items) != len(want.Bottles) || len(want.Bottles) < 30 {
		t.Fatalf("%d bottles, want %d; %v", len(page.Items), len(want.Bottles), err)
	}
	// What chains took from one tube for the next, and what a curve used of its acid, did not count.
	uncounted := map[int64]float64{4: 30, 5: 15, 13: 10, 26: 10, 11: 0.01, 24: 0.01}
	for i, b := range page.Items {
		w := want.Bottles[i]
		c := b.Product.Figures[0]
		if b.Number != w.Number || b.State != w.State || b.Reason != w.Reason || b.Maker.Initials != w.By || math.Abs(b.Left()-w.Left+uncounted[b.Number]) > 1e-9 ||
			math.Abs(b.Volume-w.Volume) > 1e-9*w.Volume ||
			b.Product.Exact != w.Exact ||
			b.ExpiresOn.Format("2006-01-02") != w.Expires ||
			(b.Doubt != "") != (w.Doubt != "") {
			t.Errorf(
				"bottle %d: %s %s, %g of %g mL, exact %v, %s; was %+v",
				b.Number,
				b.State,
				b.Reason,
				b.Left(),
				b.Volume,
				b.Product.Exact,
				b.ExpiresOn,
				w,
			)
		}
		sameFigure(t, b.Title, c.Value, c.Expanded, c.Unit, w.Value, w.Expanded, w.Unit)
		if len(b.Changes) > 0 {
			t.Errorf("bottle %d: %+v", b.Number, b.Changes)
		}
	}
	runs, err := l.Runs(ctx, "", "", 0)
	if err != nil || len(runs.Items) != len(want.Runs) {
		t.Fatalf("%d runs, want %d; %v", len(runs.Items), len(want.Runs), err)
	}
	for i, r := range runs.Items {
		w := want.Runs[i]
		view, err := l.Run(ctx, r.ID)
		if err != nil {
			t.Fatal(err)
		}
		if r.Number != w.Number || !strings.EqualFold(r.Plan.Title, w.Title) || r.Status != w.Status || len(view.Facts) != len(w.Facts) ||
			len(view.Outcome.Figures) != len(w.Figures) {
			t.Errorf(
				"run %d: %s, %s, %d facts, %d figures; was %+v",
				r.Number,
				r.Plan.Title,
				r.Status,
				len(view.Facts),
				len(view.Outcome.Figures),
				w,
			)
			continue
		}
		for k, f := range view.Facts {
			if f.Sentence != w.Facts[k].Sentence || f.Maker.Initials != w.Facts[k].By {
				t.Errorf("run %d, fact %d: %s, was %s", r.Number, k, f.Sentence, w.Facts[k].Sentence)
			}
		}
		for k, f := range view.Outcome.Figures {
			sameFigure(t, r.Plan.Title+" "+f.ID, f.Value, f.Expanded, f.Unit, w.Figures[k].Value, w.Figures[k].Expanded, w.Figures[k].Unit)
		}
	}
	family, err := l.Family(ctx, page.Items[0].ID)
	if err != nil || len(family) < 2 {
		t.Errorf("family of %d, %v", len(family), err)
	}
}

// sameFigure compares two figures, whatever power of ten their units have. Series by two
// burettes are known a little better than they were: the two no longer count as one.
func sameFigure(t *testing.T, what string, value, expanded float64, unit string, was, wasExpanded float64, wasUnit string) {
	t.Helper()
	is, err1 := quantity.UnitOf(unit)
	before, err2 := quantity.UnitOf(wasUnit)
	if err1 != nil || err2 != nil {
		t.Errorf("%s: %v %v", what, err1, err2)
		return
	}
	value, expanded, was, wasExpanded = value*is.Factor, expanded*is.Factor, was*before.Factor, wasExpanded*before.Factor
	if math.Abs(value-was) > 1e-9*math.Abs(was) ||
		expanded < wasExpanded*(1-1e-9) && !strings.Contains(what, "diluted") && !strings.Contains(what, "tube") ||
		expanded > wasExpanded*3 {
		t.Errorf("%s: %g ± %g, was %g ± %g", what, value, expanded, was, wasExpanded)
	}
}

// Records that the version before wrote are still read.
func TestRecordsOfTheVersionBeforeAreRead(t *testing.T) {
	l, ra, _ := newLab(t)
	var records lab.Records
	if err := json.Unmarshal(unzipped(t, "testdata/records1.json.gz"), &records); err != nil {
		t.Fatal(err)
	}
	report, err := l.Import(t.Context(), ra, records, false)
	if err != nil || report.Runs != len(records.Runs) || report.Runs < 20 || report.Plans != 2 {
		t.Fatalf("%+v %v", report, err)
	}
	var want was
	if err := json.Unmarshal(unzipped(t, "testdata/version3.json.gz"), &want); err != nil {
		t.Fatal(err)
	}
	page, err := l.Bottles(t.Context(), lab.Shelf{}, 0)
	if err != nil {
		t.Fatal(err)
	}
	made := map[string]float64{}
	for _, b := range page.Items {
		made[b.Title] = b.Product.Figures[0].Value
	}
	for _, w := range want.Bottles {
		if value, ok := made[w.Title]; ok && w.Reason == "" && math.Abs(value-w.Value) > 1e-9*w.Value && !strings.Contains(w.Title, "bottle") {
			t.Errorf("%s: %g, was %g", w.Title, value, w.Value)
		}
	}
}

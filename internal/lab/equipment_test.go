package lab_test

import (
	"context"
	"encoding/json"
	"errors"
	"math"
	"net"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"

	"vialbench/core/fact"
	"vialbench/core/glassware"
	"vialbench/core/quantity"
	"vialbench/core/solution"
	"vialbench/core/substance"
	"vialbench/core/verdict"
	"vialbench/internal/lab"
	"vialbench/internal/standin"
	"vialbench/internal/store"
)

// problems gives the places of verdict.Problems, each with its reason.
func problems(t *testing.T, err error) map[string]string {
	t.Helper()
	var p verdict.Problems
	if !errors.As(err, &p) {
		t.Fatalf("no problems but %v", err)
	}
	list := map[string]string{}
	for _, problem := range p {
		list[problem.Field] = problem.Reason
	}
	return list
}

func library(key string) substance.Substance {
	for _, s := range substance.Library() {
		if s.Key == key {
			return s
		}
	}
	panic(key)
}

// plan keeps a plan of potassium chloride.
func plan(t *testing.T, l *lab.Lab, by lab.Actor, volume string) (planID string, batches int) {
	t.Helper()
	p, err := l.CreatePlan(t.Context(), by, uuid.NewString(), solution.Kind, chloride(t, volume))
	if err != nil {
		t.Fatal(err)
	}
	return p.ID, p.Batches
}

// chloride asks for a volume of potassium chloride.
func chloride(t *testing.T, volume string) json.RawMessage {
	t.Helper()
	question, err := json.Marshal(
		solution.Question{SoluteQuestion: solution.SoluteQuestion{
			Substance: library("potassium-chloride"), AssayPercent: 100,
			Concentration: quantity.Typed("0.1 mol/L"),
		}, Volume: quantity.Typed(volume), FlaskClass: glassware.ClassA, BandPercent: 5},
	)
	if err != nil {
		t.Fatal(err)
	}
	return question
}

// finish makes one batch of a plan from a mass, to the label.
func finish(t *testing.T, l *lab.Lab, by lab.Actor, planID string, batch int, grams float64) lab.RunView {
	t.Helper()
	view, err := l.BeginRun(t.Context(), by, uuid.NewString(), planID, batch)
	if err != nil {
		t.Fatal(err)
	}
	return goThrough(t, l, by, view.ID, grams)
}

// goThrough states all facts of a run of a solid, to the label.
func goThrough(t *testing.T, l *lab.Lab, by lab.Actor, run string, grams float64) (view lab.RunView) {
	t.Helper()
	var err error
	n := func(n int) *int { return &n }
	q := func(x float64, unit string) *quantity.Quantity { v := quantity.Of(x, unit); return &v }
	for _, f := range []fact.Fact{
		{Kind: "tared", Quantity: q(0, "g")},
		{Kind: "weighed", Quantity: q(grams, "g")},
		{Kind: "decided", Choice: "keep-mass"},
		{Kind: "transferred", Count: n(3)},
		{Kind: "dissolved", Choice: "clear"},
		{Kind: "temperature", Quantity: q(20, "°C")},
		{Kind: "mark", Choice: "reached"},
		{Kind: "mixed", Count: n(20)},
		{Kind: "labelled", Date: "2030-01-31"},
	} {
		f.ID = uuid.NewString()
		if view, err = l.StateFact(t.Context(), by, run, stated(f)); err != nil {
			t.Fatalf("%s: %v", f.Kind, err)
		}
	}
	return view
}

// 1.5 L from flasks of 500 mL: three batches, poured together; a later correction of
// one of them moves the pooled bottle, and a void one voids it.
func TestBatchesArePooled(t *testing.T) {
	l, ra, it := newLab(t)
	records := sample(t)
	records.Runs = nil
	records.Glass = []lab.GlassRecord{
		{Item: glassware.Item{Kind: glassware.VolumetricFlask, Volume: 500, Class: "A", Count: 2}},
		{Item: glassware.Item{Kind: glassware.VolumetricFlask, Volume: 100, Class: "A", Count: 2}},
	}
	if _, err := l.Import(t.Context(), ra, records, false); err != nil {
		t.Fatal(err)
	}
	planID, batches := plan(t, l, it, "1.5 L")
	if batches != 3 {
		t.Fatalf("%d batches, want 3", batches)
	}
	var runs []lab.RunView
	var ids []string
	for i, grams := range []float64{3.7274, 3.7300, 3.7250} {
		runs = append(runs, finish(t, l, it, planID, i, grams))
		ids = append(ids, runs[i].Bottles[0])
	}
	view, err := l.Run(t.Context(), runs[2].ID)
	if err != nil || len(view.Batches) != 3 || view.Batches[0].BottleID != ids[0] {
		t.Fatalf("%+v %v", view.Batches, err)
	}
	other := finish(t, l, it, planID, 0, 3.7)
	planID2, _ := plan(t, l, it, "100 mL")
	stranger := finish(t, l, it, planID2, 0, 0.7455)
	if _, err := l.Pool(t.Context(), it, uuid.NewString(), []string{ids[0], stranger.Bottles[0]}); problems(t, err)["/bottles"] == "" {
		t.Error("bottles of two plans are poured together")
	}
	if _, err := l.TakeFrom(t.Context(), it, ids[1], uuid.NewString(), 250, "group 1"); err != nil { // half of it is gone
		t.Fatal(err)
	}
	id := uuid.NewString()
	pool, err := l.Pool(t.Context(), it, id, ids)
	if err != nil {
		t.Fatal(err)
	}
	want := (3.7274 + 3.7300/2 + 3.7250) / 74.5483 / 1.25
	if math.Abs(pool.Product.Figures[0].Value-want) > 2e-6 || math.Abs(pool.Volume-1250) > 0.5 || len(pool.Parents) != 3 || pool.RunID != nil {
		t.Errorf("pooled %.6f mol/L in %g mL, want %.6f in 1250; parents %d", pool.Product.Figures[0].Value, pool.Volume, want, len(pool.Parents))
	}
	if again, err := l.Pool(t.Context(), it, id, ids); err != nil || again.Number != pool.Number {
		t.Errorf("sent twice: %v", err)
	}
	var conflict lab.Conflict
	if _, err := l.Pool(t.Context(), it, uuid.NewString(), []string{ids[0], other.Bottles[0]}); !errors.As(err, &conflict) {
		t.Errorf("poured twice: %v", err)
	}
	correct := func(kind string, change func(*fact.Fact)) lab.BottleView {
		t.Helper()
		f := fact.Fact{ID: uuid.NewString(), Kind: kind, Reason: "misread"}
		for _, line := range runs[0].Facts {
			if line.Kind == kind {
				f.Replaces = line.ID
			}
		}
		change(&f)
		if runs[0], err = l.StateFact(t.Context(), it, runs[0].ID, stated(f)); err != nil {
			t.Fatal(err)
		}
		bottle, err := l.Bottle(t.Context(), id)
		if err != nil {
			t.Fatal(err)
		}
		return bottle
	}
	if b := correct("weighed", func(f *fact.Fact) { q := quantity.Of(3.7474, "g"); f.Quantity = &q }); math.Abs(
		b.Product.Figures[0].Value-want-0.02/74.5483/1.25,
	) > 2e-6 {
		t.Errorf("after the correction %.6f mol/L", b.Product.Figures[0].Value)
	}
	if b := correct("mark", func(f *fact.Fact) { f.Choice = "past" }); b.State != "void" {
		t.Errorf("past the mark in one batch: the pool is %s", b.State)
	}
	if b := correct("mark", func(f *fact.Fact) { f.Choice = "reached" }); b.State != "shelf" {
		t.Errorf("and back: the pool is %s (%s)", b.State, b.Reason)
	}
}

func TestTakingsAndFilters(t *testing.T) {
	l, ra, it := newLab(t)
	if _, err := l.Import(t.Context(), ra, lab.Records{Format: lab.RecordsFormat, Balances: sample(t).Balances}, false); err != nil {
		t.Fatal(err)
	}
	planID, _ := plan(t, l, it, "100 mL")
	id := finish(t, l, it, planID, 0, 0.7455).Bottles[0]
	take := func(taking string, mL float64, purpose string) (lab.BottleView, error) {
		return l.TakeFrom(t.Context(), it, id, taking, mL, purpose)
	}
	first := uuid.NewString()
	for range 2 { // a double tap takes once
		if b, err := take(first, 85, "class"); err != nil || math.Abs(b.Left()-15) > 0.1 || len(b.Takings) != 1 {
			t.Fatalf("%g mL left, %v", b.Left(), err)
		}
	}
	if _, err := take(uuid.NewString(), 20, "class"); !strings.Contains(problems(t, err)["/volume"], "only 15.0 mL are left") {
		t.Errorf("more than is left: %v", err)
	}
	if _, err := take(uuid.NewString(), -90, ""); len(problems(t, err)) != 2 {
		t.Errorf("more put back than taken, for nothing: %v", err)
	}
	listed := func(only string) int {
		t.Helper()
		page, err := l.Bottles(t.Context(), lab.Shelf{Only: only}, 0)
		if err != nil {
			t.Fatal(err)
		}
		return len(page.Items)
	}
	if listed(lab.OnlyLow) != 1 || listed(lab.OnlyUnlabelled) != 1 || listed(lab.OnlyExpiring) != 0 || listed(lab.OnlyStandardise) != 0 {
		t.Errorf(
			"low %d, unlabelled %d, expiring %d, to standardise %d",
			listed(lab.OnlyLow),
			listed(lab.OnlyUnlabelled),
			listed(lab.OnlyExpiring),
			listed(lab.OnlyStandardise),
		)
	}
	if err := l.LabelsPrinted(t.Context(), it, []string{id}); err != nil || listed(lab.OnlyUnlabelled) != 0 {
		t.Errorf("printed: %d unlabelled, %v", listed(lab.OnlyUnlabelled), err)
	}
	if b, err := take(uuid.NewString(), -60, "misread: 25 mL, not 85"); err != nil || listed(lab.OnlyLow) != 0 {
		t.Errorf("put right: %g mL left, %v", b.Left(), err)
	}
}

// A run that draws more than a bottle holds by its record empties it: what was taken is on record,
// what is left is never below nothing, and the run goes on.
func TestARunThatDrawsMoreThanIsLeft(t *testing.T) {
	l, ra, it := newLab(t)
	if _, err := l.Import(t.Context(), ra, sample(t), false); err != nil {
		t.Fatal(err)
	}
	planID, _ := plan(t, l, it, "100 mL")
	stock := finish(t, l, it, planID, 0, 0.7455).Bottles[0]
	b, err := l.TakeFrom(t.Context(), it, stock, uuid.NewString(), 95, "class")
	if err != nil {
		t.Fatal(err)
	}
	left := b.Left()
	thin := dilutedTenTimes(t, l, it, stock) // 10 mL
	b, err = l.Bottle(t.Context(), stock)
	if err != nil {
		t.Fatal(err)
	}
	if left > 6 || b.Left() < 0 || b.Left() > 1e-9 || len(b.Takings) != 2 || b.Takings[1].Volume != 10 {
		t.Errorf("%g mL before, %g mL after, %+v", left, b.Left(), b.Takings)
	}
	if thin.State != "shelf" || math.Abs(molar(t, thin)/molar(t, b)-0.1) > 1e-3 {
		t.Errorf("%s, %g of %g mol/L", thin.State, molar(t, thin), molar(t, b))
	}
}

// The logbook of a day holds what was made at its first moment, and not what was made at the first
// moment of the next one.
func TestTheLogbookOfADayEndsWithIt(t *testing.T) {
	l, ra, _ := newLab(t)
	if _, err := l.Import(t.Context(), ra, sample(t), false); err != nil {
		t.Fatal(err)
	}
	page, err := l.Logbook(t.Context(), store.LogFilter{}, 0)
	if err != nil || len(page.Items) < 5 {
		t.Fatal(len(page.Items), err)
	}
	at := page.Items[2].MadeAt
	has := func(f store.LogFilter) bool {
		t.Helper()
		page, err := l.Logbook(t.Context(), f, 0)
		if err != nil {
			t.Fatal(err)
		}
		return slices.ContainsFunc(page.Items, func(e lab.Entry) bool { return e.MadeAt.Equal(at) })
	}
	if !has(store.LogFilter{From: at}) || has(store.LogFilter{From: at.Add(time.Microsecond)}) ||
		has(store.LogFilter{To: at}) || !has(store.LogFilter{To: at.Add(time.Microsecond)}) {
		t.Error("a fact at the edge of a search is on the wrong side of it")
	}
}

// A balance that speaks: it settles, wanders in a draught with a verdict, is lost and
// comes back, all seen by one who watches.
func TestWatchingABalance(t *testing.T) {
	l, ra, it := newLab(t)
	if _, err := l.Import(t.Context(), ra, lab.Records{Format: lab.RecordsFormat, Balances: sample(t).Balances[:1]}, false); err != nil {
		t.Fatal(err)
	}
	balances, _ := l.Balances(t.Context())
	id := balances[0].ID
	var conflict lab.Conflict
	if err := l.WatchBalance(t.Context(), id, nil); !errors.As(err, &conflict) {
		t.Errorf("not connected: %v", err)
	}
	if err := l.ConnectBalance(t.Context(), ra, id, "nowhere"); problems(t, err)["/address"] == "" {
		t.Error("an address without a port passes")
	}
	var forbidden lab.Forbidden
	if err := l.ConnectBalance(t.Context(), it, id, ""); !errors.As(err, &forbidden) {
		t.Errorf("an assistant connects: %v", err)
	}
	listener, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	ctx, stop := context.WithCancel(t.Context())
	defer stop()
	go standin.Serve(ctx, listener, standin.NewBalance(220, 0.0001, 3))
	if err := l.ConnectBalance(t.Context(), ra, id, listener.Addr().String()); err != nil {
		t.Fatal(err)
	}
	seen := make(chan lab.Live, 100)
	go func() {
		_ = l.WatchBalance(ctx, id, func(live lab.Live) error {
			select {
			case seen <- live:
			default:
			}
			return nil
		})
	}()
	wait := func(what string, want func(lab.Live) bool) lab.Live {
		t.Helper()
		timeout := time.After(time.Minute)
		for {
			select {
			case live := <-seen:
				if want(live) {
					return live
				}
			case <-timeout:
				t.Fatal(what + " was never seen")
			}
		}
	}
	hand := func(command string) {
		t.Helper()
		if _, err := l.HandStandin(t.Context(), id, command); err != nil {
			t.Fatal(err)
		}
	}
	hand("PAN 5.1056")
	if live := wait(
		"a settled reading",
		func(live lab.Live) bool { return live.Still && live.Readings[0].Value > 5 },
	); live.Text != "5.1056 g" ||
		!live.Standin {
		t.Errorf("%+v", live)
	}
	hand("DRAUGHT ON")
	if live := wait(
		"a draught",
		func(live lab.Live) bool { return !live.Still && live.Spread.Base() > 0.0005 },
	); live.Verdict == nil ||
		len(live.Verdict.Choices) != 2 {
		t.Errorf("%+v", live)
	}
	hand("LINK OFF")
	if live := wait("the loss", func(live lab.Live) bool { return live.State == "lost" }); live.Text != "" || live.Says == "" {
		t.Errorf("%+v", live)
	}
	if err := l.TareBalance(t.Context(), id); !errors.As(err, &conflict) {
		t.Errorf("tared without a cable: %v", err)
	}
	hand("LINK ON")
	wait("the return", func(live lab.Live) bool { return live.Text != "" })
}

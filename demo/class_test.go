package demo_test

import (
	"testing"

	"vialbench/demo"
	"vialbench/internal/lab"
	"vialbench/internal/store/storetest"
)

// Tuesday's class: twelve pairs handed in, three slips among them are named and nobody else is blamed, and the shelf of the
// lab stays as it was.
func TestTheClassHasThreeSlips(t *testing.T) {
	l := lab.New(storetest.Open(t), lab.Options{Hashing: lab.Hashing{MemoryKiB: 64, Passes: 1}})
	if _, err := demo.Load(t.Context(), l); err != nil {
		t.Fatal(err)
	}
	before, err := l.Bottles(t.Context(), lab.Shelf{}, 0)
	if err != nil {
		t.Fatal(err)
	}
	for range 2 { // a second start changes nothing
		if err := demo.Class(t.Context(), l); err != nil {
			t.Fatal(err)
		}
	}
	results, err := l.ClassResultsOf(t.Context(), "019a0000-0000-7000-8000-000000007002")
	if err != nil || len(results.Results) != 12 || results.Compared == nil {
		t.Fatalf("%+v %v", results, err)
	}
	want := map[int]string{4: "factor left out", 7: "start left out", 11: "pipette taken for another"}
	for _, r := range results.Results {
		named := ""
		switch {
		case r.Traced.WorkingNamed:
			named = r.Traced.Working[0].Slips[0]
		case r.Traced.HandsNamed:
			named = r.Traced.Hands[0].Slips[0]
		}
		if named != want[r.Group.Number] {
			t.Errorf("%s, %s: %q is named, want %q: %+v", r.Group.Name, r.HandIn.Stated, named, want[r.Group.Number], r.Traced)
		}
	}
	after, err := l.Bottles(t.Context(), lab.Shelf{}, 0)
	if err != nil || len(after.Items) != len(before.Items) {
		t.Fatalf("%d bottles, then %d: %v", len(before.Items), len(after.Items), err)
	}
	for i := range before.Items {
		if before.Items[i].Taken != after.Items[i].Taken {
			t.Errorf("%s: %g mL were taken before, %g after", before.Items[i].Title, before.Items[i].Taken, after.Items[i].Taken)
		}
	}
}

// The grid of the class and its results, with twelve groups handed in.
func BenchmarkClass(b *testing.B) {
	l := lab.New(storetest.Open(b), lab.Options{Hashing: lab.Hashing{MemoryKiB: 64, Passes: 1}})
	if _, err := demo.Load(b.Context(), l); err != nil {
		b.Fatal(err)
	}
	if err := demo.Class(b.Context(), l); err != nil {
		b.Fatal(err)
	}
	b.Run("grid", func(b *testing.B) {
		for b.Loop() {
			if _, err := l.Class(b.Context(), "019a0000-0000-7000-8000-000000007000"); err != nil {
				b.Fatal(err)
			}
		}
	})
	b.Run("results", func(b *testing.B) {
		for b.Loop() {
			if _, err := l.ClassResultsOf(b.Context(), "019a0000-0000-7000-8000-000000007002"); err != nil {
				b.Fatal(err)
			}
		}
	})
}

package fact_test

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"vialbench/core/fact"
	"vialbench/core/quantity"
	"vialbench/core/verdict"
)

func TestStandingKeepsTheOrderOfTheBench(t *testing.T) {
	standing := fact.Standing([]fact.Fact{
		{ID: "a", Kind: "tared"},
		{ID: "b", Kind: "weighed"},
		{ID: "c", Kind: "mixed"},
		{ID: "d", Kind: "weighed", Replaces: "b"},
		{ID: "e", Kind: fact.Withdrawn, Replaces: "c"},
		{ID: "f", Kind: "weighed", Replaces: "d"},
	})
	got := ""
	for _, f := range standing {
		got += f.ID
	}
	if got != "af" {
		t.Errorf("standing facts %q, want a, then f in the place of b", got)
	}
}

// A circle cannot be stored, but must not hang the reader either.
func TestStandingEndsOnACircle(t *testing.T) {
	if n := len(fact.Standing([]fact.Fact{{ID: "a"}, {ID: "b", Replaces: "a"}, {ID: "a", Replaces: "b"}})); n > 1 {
		t.Errorf("%d facts stand", n)
	}
}

func ExampleStanding() {
	facts := []fact.Fact{
		{ID: "1", Kind: "weighed", Text: "1.8979 g"},
		{ID: "2", Kind: "weighed", Text: "1.8797 g", Replaces: "1", Reason: "digits swapped"},
	}
	for _, f := range fact.Standing(facts) {
		fmt.Println(f.Text)
	}
	// Output: 1.8797 g
}

// A fact carries so much, and not one character more.
func TestFactsAreBounded(t *testing.T) {
	text := func(n int) string { return strings.Repeat("µ", n) }
	for _, c := range []struct {
		f     fact.Fact
		field string
	}{
		{fact.Fact{
			Text: text(fact.MaxText), Reason: text(fact.MaxReason), Choice: text(fact.MaxChoice), Name: text(fact.MaxWord), Kind: text(fact.MaxWord), Instrument: text(fact.MaxWord),
			Date: "2027-03-31", Beside: make([]quantity.Quantity, fact.MaxBeside),
		}, ""},
		{fact.Fact{Text: text(fact.MaxText + 1)}, "/text"},
		{fact.Fact{Reason: text(fact.MaxReason + 1)}, "/reason"},
		{fact.Fact{Choice: text(fact.MaxChoice + 1)}, "/choice"},
		{fact.Fact{Name: text(fact.MaxWord + 1)}, "/name"},
		{fact.Fact{Kind: text(fact.MaxWord + 1)}, "/kind"},
		{fact.Fact{Instrument: text(fact.MaxWord + 1)}, "/instrument"},
		{fact.Fact{Date: "2027-03-310"}, "/date"},
		{fact.Fact{Beside: make([]quantity.Quantity, fact.MaxBeside+1)}, "/beside"},
		{fact.Fact{Text: "a\x00b"}, "/text"},
		{fact.Fact{Reason: "\xff"}, "/reason"},
	} {
		var p verdict.Problems
		c.f.Bounded(&p)
		if c.field == "" && len(p) > 0 || c.field != "" && (len(p) != 1 || p[0].Field != c.field) {
			t.Errorf("%v, want a problem at %q", p, c.field)
		}
	}
}

// A correction counts from when the reading was made, not from when somebody looked again.
func TestCorrectionsKeepTheTime(t *testing.T) {
	read := time.Date(2026, 5, 11, 8, 0, 0, 0, time.UTC)
	standing := fact.Standing([]fact.Fact{
		{ID: "1", Kind: "read", At: read},
		{ID: "2", Kind: "read", Replaces: "1", At: read.Add(time.Hour)},
		{ID: "3", Kind: "read", Replaces: "2", At: read.Add(2 * time.Hour)},
	})
	if len(standing) != 1 || standing[0].ID != "3" || !standing[0].At.Equal(read) {
		t.Errorf("%+v", standing)
	}
}

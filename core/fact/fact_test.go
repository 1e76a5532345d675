package fact_test

import (
	"fmt"
	"testing"

	"vialbench/core/fact"
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

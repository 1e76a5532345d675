package verdict_test

import (
	"errors"
	"fmt"
	"testing"

	"vialbench/core/verdict"
)

func ExampleThresholds() {
	inversions := verdict.Rule{ID: "M-7", Title: "Mix thoroughly", Why: "Layers.", Threshold: 20, Unit: "inversions"}
	fmt.Println(verdict.Thresholds(nil).Of(inversions), verdict.Thresholds{"M-7": 10}.Of(inversions))
	v := inversions.Says(verdict.Look, nil, "%d so far.", 12)
	fmt.Println(v.Rule, v.Level, v.Sentence, v.Reason)
	// Output:
	// 20 10
	// M-7 look 12 so far. Layers.
}

func TestProblemsAreAnErrorOnlyWhenThereAreSome(t *testing.T) {
	var p verdict.Problems
	if err := p.OrNil(); err != nil {
		t.Errorf("no problems: %v", err)
	}
	p.Add("/mass", "a mass is above %d", 0)
	p.Add("/volume", "a volume too")
	var got verdict.Problems
	if err := p.OrNil(); !errors.As(err, &got) || len(got) != 2 || err.Error() != "a mass is above 0" {
		t.Errorf("%v", err)
	}
}

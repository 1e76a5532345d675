package unknowns_test

import (
	"fmt"
	"math"
	"testing"

	"vialbench/core/uncertain"
	"vialbench/core/unknowns"
)

func ExampleLevel_Known() {
	level := unknowns.Level{Letter: "A", Pipette: 25, Times: 1, Flask: 250}
	stock := uncertain.New(0.1, 0.0001, uncertain.Source{ID: "stock", Label: "the stock"})
	known := level.Known(stock)
	fmt.Printf("%.4f, u %.1e\n", known.Value, known.U())
	// Output: 0.0100, u 1.2e-05
}

// By hand: 25 mL ± 0.03 mL and 250 mL ± 0.15 mL, both triangular (ISO 648 and ISO 1042, class A), setting the pipette a third of its tolerance
// each time, filling the flask 0.15 mm of its neck. Two deliveries share the error of the pipette, and not that of setting it.
func TestKnown(t *testing.T) {
	filling := 0.0
	for _, c := range (unknowns.Level{Letter: "x", Pipette: 25, Times: 1, Flask: 250}).Known(uncertain.Exact(1)).Contributions {
		if c.Label == "filling to the mark" {
			filling = math.Abs(c.U) / 0.1 // as a part
		}
	}
	if !(filling > 0 && filling < 2e-4) {
		t.Errorf("filling %g", filling)
	}
	for times, want := range map[int]float64{1: 1, 2: math.Sqrt2} {
		level := unknowns.Level{Letter: "B", Pipette: 25, Times: times, Flask: 250}
		known := level.Known(uncertain.Exact(0.5))
		pipette := 0.03 / math.Sqrt(6) / 25
		setting := 0.01 / 25 / want
		flask := 0.15 / math.Sqrt(6) / 250
		part := math.Sqrt(pipette*pipette + setting*setting + flask*flask + filling*filling)
		if math.Abs(known.Value-0.05*float64(times)) > 1e-12 || math.Abs(known.Relative()/part-1) > 1e-9 {
			t.Errorf("%d times: %g, u %g of it, want %g", times, known.Value, known.Relative(), part)
		}
	}
}

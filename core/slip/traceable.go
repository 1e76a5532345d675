package slip

import "vialbench/core/fact"

// Traceable is a plan whose result people work out themselves from what they read.
type Traceable interface {
	// Trace gives what a result is worked out from, by the facts of a run; ok is false before there is one, and of a run
	// whose working is not laid out for tracing.
	Trace(facts []fact.Fact) (w Worked, ok bool)
}

// Worked is a result with what it is worked out from.
type Worked struct {
	Figures Figures
	Unit    string
	// Value is what the program computes, with U (k = 2); Runs are the single values of which it is the mean.
	Value, U float64
	Runs     []float64
	// Density of what is sought, g/mL; 0 where it is not known.
	Density float64
	// Per is how many of Unit the figures give for each of their own; 0 for 1.
	Per float64
}

// Scale tells it in another unit, of which each of its own is so many.
func (w *Worked) Scale(factor float64, unit string) {
	w.Unit, w.Value, w.U, w.Per = unit, w.Value*factor, w.U*factor, factor
	for i := range w.Runs {
		w.Runs[i] *= factor
	}
}

package titration

import (
	"errors"
	"math"
	"testing"

	"vialbench/core/uncertain"
	"vialbench/core/verdict"
)

func asked() Question {
	v := number("v", 25, 0.01)
	return Question{Reaction: "permanganate-iron", C: number("c", 0.02, 0.00004), Trials: []AskedTrial{
		{
			Titre:  number("a", 19.6, 0.02),
			Sample: v,
			Rough:  true,
		},
		{Titre: number("b", 19.05, 0.02), Sample: v},
		{Titre: number("d", 19.09, 0.02), Sample: v},
	}}
}

func TestSolve(t *testing.T) {
	a, err := Solve(asked())
	if err != nil || math.Abs(a.C.Value-5*0.02*19.07/25) > 1e-12 || a.Text != "0.07628 ± 0.00034 mol/L" || !a.Agreed || len(a.Used) != 2 ||
		a.Ratio != "5 mol of Fe^2+ for 1 mol of MnO4-" || len(a.Budget) == 0 || len(a.Verdicts) != 0 {
		t.Errorf("%+v %v", a, err)
	}
	q := asked()
	q.Trials[2].Titre.Value = 19.5
	if a, err := Solve(q); err != nil || a.Agreed || says(a.Verdicts, "T-6") != "look: No two agree within 0.10 mL yet: another trial." {
		t.Errorf("%+v %v", a.Verdicts, err)
	}
	q.Concordant = 0.5
	if a, err := Solve(q); err != nil || !a.Agreed {
		t.Errorf("%+v %v", a, err)
	}
	// EURACHEM/CITAC CG 4, A2, as it is asked: the end point lies in the repeatability given.
	a2 := Question{
		Equation: "KHC8H4O4 + NaOH -> KNaC8H4O4 + H2O", Titrant: "NaOH", Analyte: "KHC8H4O4", Standardise: true, Weighed: true,
		MolarMass: number("M", 204.2212, 0.0038), Purity: number("P", 1, uncertain.Rectangular(0.0005)), EndPoint: -1,
		Trials: []AskedTrial{{Sample: number("m", 0.3888, 0.00013), Titre: number("V", 18.64, math.Hypot(0.01368, 18.64*0.0005))}},
	}
	if a, err = Solve(a2); err != nil || math.Abs(a.C.Value-0.10214) > 5e-6 || math.Abs(a.C.U()-0.00010) > 2e-6 {
		t.Errorf("%.6f ± %.6f %v", a.C.Value, a.C.U(), err)
	}
	a2.Standardise, a2.C = false, a.C
	if back, err := Solve(a2); err != nil || back.Unit != "mol/g" || math.Abs(1/back.C.Value-204.2212) > 1e-6 {
		t.Errorf("%+v %v", back, err)
	}
}

func TestBadQuestions(t *testing.T) {
	for field, change := range map[string]func(*Question){
		"/reaction":        func(q *Question) { q.Reaction = "nothing" },
		"/equation":        func(q *Question) { q.Reaction, q.Equation = "", "H2" },
		"/c":               func(q *Question) { q.C.Value = 0 },
		"/trials":          func(q *Question) { q.Trials = nil },
		"/trials/1/titre":  func(q *Question) { q.Trials[1].Titre.Value = -1 },
		"/trials/1/sample": func(q *Question) { q.Trials[1].Sample.Value = 0 },
		"/molarMass":       func(q *Question) { q.Standardise, q.Weighed = true, true },
		"/concordant":      func(q *Question) { q.Concordant = -1 },
	} {
		q := asked()
		change(&q)
		var p verdict.Problems
		if _, err := Solve(q); !errors.As(err, &p) || p[0].Field != field {
			t.Errorf("%s: %v", field, err)
		}
	}
}

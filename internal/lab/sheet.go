package lab

import (
	"time"

	"vialbench/core/dilution"
	"vialbench/core/fact"
	"vialbench/core/run"
	"vialbench/core/solution"
	"vialbench/core/working"
	"vialbench/internal/store"
)

// sheet is what a kind of run has to know: the core package of the kind behind one
// face.
type sheet interface {
	Make(facts []fact.Fact, now time.Time) (run.Outcome, error)
	Admit(facts []fact.Fact, f fact.Fact, now time.Time) error
	Sentence(f fact.Fact) string
	Explain(facts []fact.Fact, figure string) ([]working.Line, error)
}

// sheetOf returns the sheet of a run.
func sheetOf(r store.Run) sheet {
	if r.Plan.Kind == store.DilutionKind {
		return dilutionSheet{r.Plan.Dilution}
	}
	wanted := r.Plan.Request
	wanted.Batch = r.Batch
	return standardSheet{wanted}
}

type standardSheet struct{ solution.Request }

func (s standardSheet) Make(facts []fact.Fact, now time.Time) (run.Outcome, error) {
	return solution.Make(s.Request, facts, now)
}

func (s standardSheet) Admit(facts []fact.Fact, f fact.Fact, now time.Time) error {
	return solution.Admit(s.Request, facts, f, now)
}

func (standardSheet) Sentence(f fact.Fact) string { return solution.Sentence(f) }

// Explain adds, for the concentration, what draws say of its uncertainty.
func (s standardSheet) Explain(facts []fact.Fact, figure string) ([]working.Line, error) {
	lines, err := solution.ExplainRun(s.Request, facts, figure)
	if err != nil || figure != "concentration" {
		return lines, err
	}
	_, check, ok, err := solution.Confirm(s.Request, facts)
	if ok {
		lines = append(lines, check)
	}
	return lines, err
}

type dilutionSheet struct{ dilution.Request }

func (s dilutionSheet) Make(facts []fact.Fact, now time.Time) (run.Outcome, error) {
	return dilution.Make(s.Request, facts, now)
}

func (s dilutionSheet) Admit(facts []fact.Fact, f fact.Fact, now time.Time) error {
	return dilution.Admit(s.Request, facts, f, now)
}

func (dilutionSheet) Sentence(f fact.Fact) string { return dilution.Sentence(f) }

func (s dilutionSheet) Explain(facts []fact.Fact, figure string) ([]working.Line, error) {
	return dilution.ExplainRun(s.Request, facts, figure)
}

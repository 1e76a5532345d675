// Package work knows the kinds of work by their names: it reads a plan of any kind, and carries an open
// run on where no server is at hand.
package work

import (
	"encoding/json"
	"slices"
	"time"

	"vialbench/core/absorbance"
	"vialbench/core/benchtop"
	"vialbench/core/buffer"
	"vialbench/core/calibration"
	"vialbench/core/capacity"
	"vialbench/core/curve"
	"vialbench/core/dilution"
	"vialbench/core/droptip"
	"vialbench/core/fact"
	"vialbench/core/mixture"
	"vialbench/core/readings"
	"vialbench/core/run"
	"vialbench/core/scan"
	"vialbench/core/solution"
	"vialbench/core/titration"
	"vialbench/core/verdict"
)

var decoders = map[string]func(json.RawMessage) (run.Plan, error){
	solution.Kind:    solution.Decode,
	dilution.Kind:    dilution.Decode,
	buffer.Kind:      buffer.Decode,
	calibration.Kind: calibration.Decode,
	readings.Kind:    readings.Decode,
	capacity.Kind:    capacity.Decode,
	droptip.Kind:     droptip.Decode,
	titration.Kind:   titration.Decode,
	curve.Kind:       curve.Decode,
	absorbance.Kind:  absorbance.Decode,
	scan.Kind:        scan.Decode,
	mixture.Kind:     mixture.Decode,
}

// Decode reads a plan that was kept. An error is a verdict.Problems where there is no such kind.
func Decode(kind string, request json.RawMessage) (run.Plan, error) {
	decode, ok := decoders[kind]
	if !ok {
		var p verdict.Problems
		p.Add("/kind", "there is no work of the kind “%s” here", kind)
		return nil, p
	}
	return decode(request)
}

// Plan is what a run is carried out by, as it is kept.
type Plan struct {
	Kind    string          `json:"kind"`
	Request json.RawMessage `json:"request"`
	// Batch tells which of the flasks of a plan the run fills.
	Batch int `json:"batch"`
	// Bench is where it is carried out; nil of the one that it was made for.
	Bench *benchtop.Bench `json:"bench,omitempty"`
}

// Read reads the plan, that of its batch.
func (p Plan) Read() (run.Plan, error) {
	plan, err := Decode(p.Kind, p.Request)
	if err != nil {
		return nil, err
	}
	if batched, ok := plan.(run.Batched); ok {
		plan = batched.Nth(p.Batch)
	}
	if p.Bench != nil {
		plan = benchtop.At(plan, *p.Bench)
	}
	return plan, nil
}

// Question asks where a run would stand with facts that are not on record yet.
type Question struct {
	Plan  Plan      `json:"plan"`
	Begun time.Time `json:"begun"`
	// Facts are those on record, Stated those that are not, in their order, by whoever has these
	// initials.
	Facts  []fact.Fact  `json:"facts"`
	Stated []run.Stated `json:"stated"`
	By     string       `json:"by"`
	// Asked is the ID of a fact whose field is asked for, to correct it in; empty of none.
	Asked string `json:"asked"`
	// Hides is what is kept from who looks.
	Hides run.Hidden `json:"hides"`
	// Now is the time as the lab has it: a device may go wrong.
	Now time.Time `json:"now"`
}

// Line is a fact with its sentence.
type Line struct {
	Fact     fact.Fact `json:"fact"`
	Sentence string    `json:"sentence"`
}

// Answer is the run with them.
type Answer struct {
	Outcome run.Outcome `json:"outcome"`
	Lines   []Line      `json:"lines"` // of those that were stated
	// Step is the field that took the fact that was asked for.
	Step *run.Step `json:"step,omitempty"`
}

// Ahead answers it by the rules by which a fact goes on record: the same plan, the same gate. What only a
// server knows is left out: what others state meanwhile, and the shelf. An error is a verdict.Problems
// with JSON pointers into the last fact that was stated.
func Ahead(q Question) (Answer, error) {
	plan, err := q.Plan.Read()
	if err != nil {
		return Answer{}, err
	}
	a := Answer{Lines: []Line{}}
	facts := slices.Clone(q.Facts)
	for _, s := range q.Stated {
		f, err := s.Read(plan)
		if err != nil {
			return a, err
		}
		f.By = q.By
		if f.At, err = run.MadeAt(f.At, q.Begun, q.Now); err != nil {
			return a, err
		}
		if err := run.Admit(plan, facts, f, q.Now); err != nil {
			return a, err
		}
		facts = append(facts, f)
		a.Lines = append(a.Lines, Line{f, plan.Sentence(f)})
	}
	if q.Asked != "" {
		step, err := run.AskedBy(plan, facts, q.Asked, q.Now)
		if err != nil {
			return a, err
		}
		a.Step = &step
	}
	if a.Outcome, err = plan.Make(facts, q.Now); err != nil {
		return a, err
	}
	a.Outcome, err = q.Hides.From(a.Outcome, plan, facts, q.Now)
	return a, err
}

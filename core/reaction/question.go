package reaction

import (
	"fmt"

	"vialbench/core/verdict"
)

// Question asks for an equation to be balanced.
type Question struct {
	Equation string `json:"equation"`
	// Half is the other half-equation, when Equation is one.
	Half string `json:"half"`
	// Of and By are the two species of interest; empty when none are.
	Of string `json:"of"`
	By string `json:"by"`
}

// Answer is a balanced equation.
type Answer struct {
	Equation
	Text  string `json:"text"`
	LaTeX string `json:"latex"`
	// Ratio is how many moles of Of go with one of By, in words too.
	Ratio    *Ratio `json:"ratio,omitempty"`
	Sentence string `json:"sentence,omitempty"`
}

// Solve answers it. An error is a verdict.Problems.
func Solve(q Question) (Answer, error) {
	e, err := Parse(q.Equation)
	if err != nil {
		return Answer{}, err
	}
	if q.Half == "" {
		e, err = e.Balance()
	} else {
		var half Equation
		if half, err = Parse(q.Half); err != nil {
			return Answer{}, atHalf(err)
		}
		e, err = Combine(e, half)
	}
	if err != nil {
		return Answer{}, err
	}
	a := Answer{Equation: e, Text: e.String(), LaTeX: e.LaTeX()}
	if q.Of == "" && q.By == "" {
		return a, nil
	}
	r, err := e.RatioOf(q.Of, q.By)
	if err != nil {
		return Answer{}, err
	}
	a.Ratio, a.Sentence = &r, fmt.Sprintf("%d mol of %s for %d mol of %s", r.Of, q.Of, r.By, q.By)
	return a, nil
}

func atHalf(err error) error {
	list, _ := err.(verdict.Problems) //nolint:errorlint // made here, never wrapped
	var p verdict.Problems
	for _, x := range list {
		p.Add("/half", "%s", x.Reason)
	}
	return p
}
